"""A case with its next test, and the handbook, driven in the real page."""

import re

from PIL import Image
from playwright.sync_api import expect

GROOMER = "/engines/groomer/cases/c1"


def test_the_next_test_says_what_it_would_do_and_doing_it_changes_the_picture(watched, server):
    page = watched
    page.goto(server.address + GROOMER)
    first = page.get_by_role("listitem").filter(has_text="inspect nuts, studs and adjuster height")
    expect(first).to_contain_text("2 min")
    expect(first).to_contain_text(re.compile(r"locknut loose, 4I \(\d+\s%\): then adjuster backed off, 4I"))
    # What was seen is found by typing, and the causes follow.
    page.get_by_label("Find a finding").fill("copper")
    flakes = page.get_by_role("group", name="copper")
    flakes.get_by_role("radio", name="yes", exact=True).press("Space")
    page.get_by_label("Find a finding").fill("deep knock")
    knock = page.get_by_role("group", name="deep")
    knock.get_by_role("radio", name="yes", exact=True).press("Space")
    page.get_by_role("button", name=re.compile("^bottom-end bearing failing")).click()
    expect(page.get_by_text("Do not run or crank the engine", exact=False)).to_be_visible()
    expect(page.get_by_text("measure the cranking speed")).to_have_count(0)


def test_a_cause_leads_to_its_page_of_the_handbook(watched, server):
    page = watched
    page.goto(server.address + GROOMER)
    page.get_by_role("link", name="In the handbook").click()
    expect(page).to_have_url(re.compile("/handbook#adjuster-backed-off$"))
    expect(page.get_by_role("heading", name="Handbook", exact=True)).to_be_visible()
    page.get_by_label("Search").fill("locknut")
    expect(page.get_by_role("heading", name=re.compile("^adjuster backed off"))).to_be_visible()
    expect(page.get_by_role("heading", name=re.compile("^leaking head gasket"))).to_have_count(0)
    page.get_by_text("Evidence for and against").first.click()
    expect(page.get_by_text("One screw turns, the others hold.").first).to_be_visible()
    page.reload()
    expect(page.get_by_label("Search")).to_have_value("locknut")


RESURFACER = "/engines/resurfacer-1/cases/c1"


def test_threads_run_from_findings_through_valves_to_the_chosen_cause(watched, server):
    page = watched
    page.goto(server.address + RESURFACER)
    threads = page.locator("svg[aria-hidden=true] path[fill=none]")
    expect(threads.first).to_be_attached()
    every = threads.count()
    page.get_by_role("button", name=re.compile("^valve held open .no clearance., 3E")).click()
    expect(page.get_by_role("heading", name="Evidence", exact=True)).to_be_visible()
    row = page.get_by_role("listitem").filter(has_text="no clearance (thinnest blade won't go), 3E")
    expect(row).to_contain_text("×")
    assert 0 < threads.count() < every
    # The thread goes through the middle of the valve where it was measured.
    valve = page.locator('[data-valve="3E"]').bounding_box()
    frame = page.locator("div:has(> svg[aria-hidden=true])").last.bounding_box()
    x, y = valve["x"] + valve["width"] / 2 - frame["x"], valve["y"] + valve["height"] / 2 - frame["y"]
    ends = [
        tuple(map(float, found))
        for path in threads.evaluate_all("all => all.map(one => one.getAttribute('d'))")
        for found in re.findall(r"C(?:[\d.-]+,){4}([\d.-]+),([\d.-]+)C", path)
    ]
    assert any(abs(px - x) < 3 and abs(py - y) < 3 for px, py in ends)
    page.get_by_role("button", name="Show all").click()
    expect(threads).to_have_count(every)


def test_a_finding_is_noted_at_the_valve_picked_on_the_plan_or_only_tried_out(watched, server):
    page = watched
    page.goto(server.address + RESURFACER)
    page.get_by_role("button", name=re.compile("^cylinder 3, exhaust")).click()
    expect(page.get_by_role("radio", name="3E", exact=True)).to_be_checked()
    held = page.get_by_role("button", name=re.compile("^valve held open .no clearance., 3E"))
    page.get_by_label("What if: try a finding").check()
    page.get_by_label("Find a finding at 3E").fill("no play at the rocker")
    dead = page.get_by_role("group", name="no play at the rocker")
    dead.get_by_role("radio", name="yes", exact=True).press("Space")
    expect(held).to_contain_text("without:")
    expect(page.get_by_text("1 tried, not saved.")).to_be_visible()
    page.get_by_role("button", name="Discard it").click()
    expect(held).not_to_contain_text("without:")
    expect(dead.get_by_role("radio", name="not asked")).to_be_checked()
    with page.expect_response(lambda one: one.request.method == "PUT") as saved:
        dead.get_by_role("radio", name="yes", exact=True).press("Space")
    assert saved.value.ok
    page.get_by_role("button", name=re.compile("more, weaker$")).click()
    expect(page.get_by_role("listitem").filter(has_text="no play at the rocker, 3E").first).to_be_attached()
    page.reload()
    page.get_by_role("button", name=re.compile("^cylinder 3, exhaust")).click()
    page.get_by_label("Find a finding at 3E").fill("no play at the rocker")
    expect(dead.get_by_role("radio", name="yes", exact=True)).to_be_checked()


def test_findings_that_cannot_both_be_are_kept_and_reported(watched, server):
    page = watched
    page.goto(server.address + RESURFACER)
    for word, name in (("ticking", "ticking"), ("ticking stopped", "ticking stopped by itself")):
        page.get_by_label("Find a finding").fill(word)
        group = page.get_by_role("group", name=name, exact=True)
        group.get_by_role("radio", name="yes", exact=True).press("Space")
        expect(group.get_by_role("radio", name="yes", exact=True)).to_be_checked()
    told = page.get_by_text("These findings contradict each other").locator("..")
    expect(told).to_contain_text("ticking (entered) and ticking stopped by itself (entered)")


def test_a_case_is_closed_and_what_it_taught_is_shown_and_taken_back(watched, server, tmp_path):
    page = watched
    page.goto(server.address + RESURFACER)
    photograph = tmp_path / "seat.png"
    Image.new("RGB", (400, 300), "sienna").save(photograph)
    page.get_by_label("A note, or a caption for a photo").fill("seat of 3E, a millimetre deep")
    page.get_by_label("Photograph", exact=True).set_input_files(photograph)
    picture = page.get_by_role("img", name="seat of 3E, a millimetre deep")
    expect(picture).to_be_visible()
    # It comes once it is near what is seen.
    picture.scroll_into_view_if_needed()
    expect(picture).to_have_js_property("naturalWidth", 400)
    page.get_by_label("What was found").select_option(label="valve seat recession, exhaust")
    page.get_by_label("Description").fill("head is off")
    page.get_by_role("button", name="Close case").click()
    expect(page.get_by_role("heading", name=re.compile("^Closed on"))).to_be_visible()
    expect(page.get_by_text("reopen it to add findings")).to_be_visible()
    page.get_by_role("link", name="Handbook", exact=True).click()
    taught = page.get_by_role("row").filter(has_text="valve seat recession")
    expect(taught).to_contain_text(re.compile(r"valve seat recession\s*1\s*3\s%\s*4\s%"))
    page.go_back()
    page.get_by_role("button", name="Reopen case").click()
    expect(page.get_by_role("button", name="Close case")).to_be_visible()
    page.get_by_role("link", name="Handbook", exact=True).click()
    expect(page.get_by_text("No case has been closed")).to_be_visible()


def test_what_is_no_photograph_is_reported_and_nothing_is_kept(page, server, tmp_path):
    page.goto(server.address + RESURFACER)
    letter = tmp_path / "letter.png"
    letter.write_text("Dear customer")
    page.get_by_label("Photograph", exact=True).set_input_files(letter)
    expect(page.get_by_role("alert")).to_contain_text("must be a photograph as JPEG, PNG or WebP")
    large = tmp_path / "large.jpg"
    large.write_bytes(bytes(21_000_000))
    page.get_by_label("Photograph", exact=True).set_input_files(large)
    expect(page.get_by_role("alert")).to_contain_text("large.jpg has 21 MB")


def test_compression_in_the_wrong_unit_is_asked_about_and_assessed(page, server):
    page.goto(server.address + "/engines/resurfacer-1/visits/v8/tests")
    for cylinder, typed in ((1, "1010"), (2, "1000"), (3, "130"), (4, "990")):
        page.get_by_label(f"dry, cylinder {cylinder}", exact=True).fill(typed)
        page.keyboard.press("Enter")
    asked = page.get_by_role("alert")
    expect(asked).to_contain_text("130 psi is 896 kPa")
    asked.get_by_role("button", name="Use 896 kPa").click()
    expect(page.get_by_label("dry, cylinder 3", exact=True)).to_have_value("896")
    third = page.get_by_role("listitem").filter(has=page.get_by_label("dry, cylinder 3", exact=True))
    expect(third).to_contain_text(re.compile(r"compression low \(\d+\s%\)"))
    # Low dry: oil is called for there, and there alone.
    expect(page.get_by_label("wet, cylinder 3", exact=True)).to_be_visible()
    expect(page.get_by_label("wet, cylinder 1", exact=True)).to_have_count(0)
    page.get_by_label("Pressures in").select_option("psi")
    expect(page.get_by_label("dry, cylinder 3", exact=True)).to_have_value("130")
    page.get_by_label("battery at rest").fill("11.8")
    page.keyboard.press("Enter")
    expect(page.get_by_text(re.compile(r"^battery weak \(over 99\s%\)"))).to_be_visible()
    page.get_by_role("link", name="Effect on case c1").click()
    weak = page.get_by_role("listitem").filter(has_text=re.compile("^battery weak"))
    page.get_by_role("button", name=re.compile("^weak battery, starter or cables")).click()
    expect(weak.first).to_be_visible()


def test_the_engine_page_says_developing_faults(watched, server):
    page = watched
    page.goto(server.address + "/engines/resurfacer-1")
    sheet = page.locator("section").filter(has=page.get_by_role("heading", name="Developing"))
    expect(sheet).to_contain_text("valve seat recession")
    expect(sheet.get_by_role("row").filter(has_text="3E").first).to_contain_text(
        re.compile(r"sink 0\.\d+ mm ±")
    )
    expect(sheet).to_contain_text("Chance of being out of spec one check interval from now")


def test_proving_closes_the_loop_to_the_case(watched, server):
    page = watched
    page.goto(server.address + "/engines/resurfacer-1/visits/v8/verify")
    page.get_by_role("group", name="stalling at idle").get_by_label("gone").click()
    page.get_by_role("group", name="cold misfire").get_by_label("same").click()
    page.get_by_role("link", name="review the causes in case c1").click()
    expect(page.get_by_text("stalling at idle gone, cold misfire same.")).to_be_visible()
    page.get_by_role("link", name="visit v8").last.click()
    page.get_by_role("group", name="cold misfire").get_by_label("gone").click()
    page.get_by_role("link", name="close case c1").click()
    page.get_by_label("What was found").select_option(label="stale fuel or fuel starvation, engine")
    page.get_by_role("button", name="Close case").click()
    expect(page.get_by_text("It was not the valves.")).to_be_visible()


def test_the_help_of_a_page_and_the_method_are_read_without_a_network(watched, server):
    page = watched
    page.goto(server.address + "/engines/resurfacer-1/visits/v8/measure")
    expect(page.get_by_role("heading", name="4E")).to_be_visible()
    page.keyboard.press("?")
    dialog = page.get_by_role("dialog")
    expect(dialog.get_by_role("heading", name="Measure")).to_be_visible()
    expect(dialog.get_by_role("row", name="drags")).to_contain_text("K")
    # The keys of the page under it do nothing meanwhile.
    page.keyboard.press("k")
    page.keyboard.press("Escape")
    expect(dialog).to_have_count(0)
    expect(page.get_by_role("button", name="Undo")).to_be_disabled()
    page.get_by_role("button", name="Help for this page").click()
    dialog.get_by_role("link", name="Method").click()
    expect(
        page.get_by_role("heading", name="A feeler blade gives an interval, with uncertainty")
    ).to_be_visible()
    page.get_by_role("link", name="Formulas").click()
    expect(page.get_by_role("heading", name="F-01 The feel of a blade")).to_be_visible()
    page.get_by_role("link", name="Screen help").click()
    expect(page.get_by_role("heading", name="Practice engine", exact=True)).to_be_visible()


def test_a_question_mark_that_is_typed_is_only_typed(watched, server):
    page = watched
    page.goto(server.address + "/handbook")
    page.get_by_label("Search").press_sequentially("tick?")
    expect(page.get_by_label("Search")).to_have_value("tick?")
    expect(page.get_by_role("dialog")).to_have_count(0)
