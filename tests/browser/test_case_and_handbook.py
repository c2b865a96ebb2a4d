"""A case with its next test, and the handbook, driven in the real page."""

import re

from PIL import Image
from playwright.sync_api import expect

GROOMER = "/engines/groomer/cases/c1"


def test_the_next_test_says_what_it_would_do_and_doing_it_changes_the_picture(watched, server):
    page = watched
    page.goto(server.address + GROOMER)
    first = page.get_by_role("listitem").filter(has_text="look at the threads")
    expect(first).to_contain_text("2 min")
    expect(first).to_contain_text(re.compile(r"lock nut loose, 4I \(\d+\s%\): then lock nut let go, 4I"))
    # What was seen is found by typing, and the causes follow.
    page.get_by_label("Find what was seen or heard").fill("copper")
    flakes = page.get_by_role("group", name="copper")
    flakes.get_by_role("radio", name="yes", exact=True).press("Space")
    page.get_by_label("Find what was seen or heard").fill("deep knock")
    knock = page.get_by_role("group", name="deep")
    knock.get_by_role("radio", name="yes", exact=True).press("Space")
    page.get_by_role("button", name=re.compile("^bearing failing")).click()
    expect(page.get_by_text("Do not run or crank the engine", exact=False)).to_be_visible()
    expect(page.get_by_text("watch the cranking speed")).to_have_count(0)


def test_a_cause_leads_to_its_page_of_the_handbook(watched, server):
    page = watched
    page.goto(server.address + GROOMER)
    page.get_by_role("link", name="In the handbook").click()
    expect(page).to_have_url(re.compile("/handbook#adjuster-backed-off$"))
    expect(page.get_by_role("heading", name="Handbook", exact=True)).to_be_visible()
    page.get_by_label("Find in it").fill("lock nut")
    expect(page.get_by_role("heading", name=re.compile("^lock nut let go"))).to_be_visible()
    expect(page.get_by_role("heading", name=re.compile("^head gasket leaking"))).to_have_count(0)
    page.get_by_text("What speaks for it and against it").first.click()
    expect(page.get_by_text("One screw turns, the others hold.").first).to_be_visible()
    page.reload()
    expect(page.get_by_label("Find in it")).to_have_value("lock nut")


RESURFACER = "/engines/resurfacer-1/cases/c1"


def test_threads_run_from_findings_through_valves_to_the_chosen_cause(watched, server):
    page = watched
    page.goto(server.address + RESURFACER)
    threads = page.locator("svg[aria-hidden=true] path[fill=none]")
    expect(threads.first).to_be_attached()
    every = threads.count()
    page.get_by_role("button", name=re.compile("^held open, face still good, 3E")).click()
    expect(page.get_by_role("heading", name="What speaks of it")).to_be_visible()
    row = page.get_by_role("listitem").filter(has_text="thinnest blade refused, 3E")
    expect(row).to_contain_text("+")
    assert 0 < threads.count() < every
    # The thread goes through the middle of the valve where it was measured.
    valve = page.locator('[data-valve="3E"]').bounding_box()
    frame = page.locator("div:has(> svg[aria-hidden=true])").last.bounding_box()
    x, y = valve["x"] + valve["width"] / 2 - frame["x"], valve["y"] + valve["height"] / 2 - frame["y"]
    ends = [
        tuple(map(float, found))
        for path in threads.evaluate_all("all => all.map(one => one.getAttribute('d'))")
        for found in re.findall(r", ([\d.]+) ([\d.]+) C", path)
    ]
    assert any(abs(px - x) < 3 and abs(py - y) < 3 for px, py in ends)
    page.get_by_role("button", name="All threads").click()
    expect(threads).to_have_count(every)


def test_a_finding_is_noted_at_the_valve_picked_on_the_plan_or_only_tried_out(watched, server):
    page = watched
    page.goto(server.address + RESURFACER)
    page.get_by_role("button", name=re.compile("^cylinder 3, exhaust")).click()
    expect(page.get_by_role("radio", name="3E", exact=True)).to_be_checked()
    held = page.get_by_role("button", name=re.compile("^held open, face still good, 3E"))
    page.get_by_label("Only try it out").check()
    page.get_by_label("Find what was seen or heard at 3E").fill("rocker dead")
    dead = page.get_by_role("group", name="rocker dead when waggled")
    dead.get_by_role("radio", name="yes", exact=True).press("Space")
    expect(held).to_contain_text("without:")
    expect(page.get_by_text("1 tried out, not noted.")).to_be_visible()
    page.get_by_role("button", name="Forget it").click()
    expect(held).not_to_contain_text("without:")
    expect(dead.get_by_role("radio", name="not asked")).to_be_checked()
    dead.get_by_role("radio", name="no", exact=True).press("Space")
    page.get_by_role("button", name=re.compile("more that say less$")).click()
    expect(page.get_by_text("not: rocker dead when waggled, 3E").first).to_be_attached()
    page.reload()
    page.get_by_role("button", name=re.compile("^cylinder 3, exhaust")).click()
    page.get_by_label("Find what was seen or heard at 3E").fill("rocker dead")
    expect(dead.get_by_role("radio", name="no", exact=True)).to_be_checked()


def test_findings_that_cannot_both_be_are_kept_and_told(watched, server):
    page = watched
    page.goto(server.address + RESURFACER)
    for word, name in (("ticks", "ticks"), ("used to tick", "used to tick, went quiet")):
        page.get_by_label("Find what was seen or heard").fill(word)
        group = page.get_by_role("group", name=name, exact=True)
        group.get_by_role("radio", name="yes", exact=True).press("Space")
        expect(group.get_by_role("radio", name="yes", exact=True)).to_be_checked()
    told = page.get_by_text("These cannot both be so; look again").locator("..")
    expect(told).to_contain_text("ticks (noted) and used to tick, went quiet (noted)")


def test_a_case_is_closed_and_what_it_taught_is_shown_and_taken_back(watched, server, tmp_path):
    page = watched
    page.goto(server.address + RESURFACER)
    photograph = tmp_path / "seat.png"
    Image.new("RGB", (400, 300), "sienna").save(photograph)
    page.get_by_label("A note, or what stands under a photograph").fill("seat of 3E, a millimetre deep")
    page.get_by_label("Photograph", exact=True).set_input_files(photograph)
    picture = page.get_by_role("img", name="seat of 3E, a millimetre deep")
    expect(picture).to_be_visible()
    # It comes once it is near what is seen.
    picture.scroll_into_view_if_needed()
    expect(picture).to_have_js_property("naturalWidth", 400)
    page.get_by_label("What was found").select_option(label="seats sinking, exhaust")
    page.get_by_label("In words").fill("head is off")
    page.get_by_role("button", name="Close the case").click()
    expect(page.get_by_role("heading", name=re.compile("^Closed on"))).to_be_visible()
    expect(page.get_by_text("open it again to note more")).to_be_visible()
    page.get_by_role("link", name="Handbook", exact=True).click()
    taught = page.get_by_role("row").filter(has_text="seats sinking")
    expect(taught).to_contain_text(re.compile(r"seats sinking\s*1\s*3\s%\s*4\s%"))
    page.go_back()
    page.get_by_role("button", name="Open it again").click()
    expect(page.get_by_role("button", name="Close the case")).to_be_visible()
    page.get_by_role("link", name="Handbook", exact=True).click()
    expect(page.get_by_text("No case was closed yet")).to_be_visible()


def test_what_is_no_photograph_is_told_and_nothing_is_kept(page, server, tmp_path):
    page.goto(server.address + RESURFACER)
    letter = tmp_path / "letter.png"
    letter.write_text("Dear customer")
    page.get_by_label("Photograph", exact=True).set_input_files(letter)
    expect(page.get_by_role("alert")).to_contain_text("must be a photograph as JPEG, PNG or WebP")
    large = tmp_path / "large.jpg"
    large.write_bytes(bytes(21_000_000))
    page.get_by_label("Photograph", exact=True).set_input_files(large)
    expect(page.get_by_role("alert")).to_contain_text("large.jpg has 21 MB")


def test_compression_in_the_wrong_unit_is_asked_about_and_judged(page, server):
    page.goto(server.address + "/engines/resurfacer-1/visits/v8/tests")
    for cylinder, typed in ((1, "1010"), (2, "1000"), (3, "130"), (4, "990")):
        page.get_by_label(f"dry, cylinder {cylinder}", exact=True).fill(typed)
        page.keyboard.press("Enter")
    asked = page.get_by_role("alert")
    expect(asked).to_contain_text("130 psi is 896 kPa")
    asked.get_by_role("button", name="Take 896 kPa").click()
    expect(page.get_by_label("dry, cylinder 3", exact=True)).to_have_value("896")
    third = page.get_by_role("listitem").filter(has=page.get_by_label("dry, cylinder 3", exact=True))
    expect(third).to_contain_text(re.compile(r"compression low \(\d+\s%\)"))
    # Low dry: oil is called for there, and there alone.
    expect(page.get_by_label("with oil, cylinder 3", exact=True)).to_be_visible()
    expect(page.get_by_label("with oil, cylinder 1", exact=True)).to_have_count(0)
    page.get_by_label("Pressures in").select_option("psi")
    expect(page.get_by_label("dry, cylinder 3", exact=True)).to_have_value("130")
    page.get_by_label("battery at rest").fill("11.8")
    page.keyboard.press("Enter")
    expect(page.get_by_text(re.compile(r"^battery weak \(over 99\s%\)"))).to_be_visible()
    page.get_by_role("link", name="What it says of case c1").click()
    weak = page.get_by_role("listitem").filter(has_text=re.compile("^battery weak"))
    page.get_by_role("button", name=re.compile("^battery, starter or cables weak")).click()
    expect(weak.first).to_be_visible()


def test_the_engine_page_says_what_is_building_up(watched, server):
    page = watched
    page.goto(server.address + "/engines/resurfacer-1")
    sheet = page.locator("section").filter(has=page.get_by_role("heading", name="Building up"))
    expect(sheet).to_contain_text("seats sinking")
    expect(sheet.get_by_role("row").filter(has_text="3E").first).to_contain_text(re.compile(r"\+0\.\d+ mm ±"))
    expect(sheet).to_contain_text("Out of spec one check interval on")


def test_proving_closes_the_loop_to_the_case(watched, server):
    page = watched
    page.goto(server.address + "/engines/resurfacer-1/visits/v8/prove")
    page.get_by_role("group", name="stalls at idle").get_by_label("gone").click()
    page.get_by_role("group", name="misses when cold").get_by_label("same").click()
    page.get_by_role("link", name="see in case c1 whether it is the valves at all").click()
    expect(page.get_by_text("stalls at idle gone, misses when cold same.")).to_be_visible()
    page.get_by_role("link", name="visit v8").last.click()
    page.get_by_role("group", name="misses when cold").get_by_label("gone").click()
    page.get_by_role("link", name="close case c1 with what was found").click()
    page.get_by_label("What was found").select_option(label="fuel stale or starved, engine")
    page.get_by_role("button", name="Close the case").click()
    expect(page.get_by_text("It was not the valves.")).to_be_visible()


def test_the_help_of_a_page_and_the_method_are_read_without_a_network(watched, server):
    page = watched
    page.goto(server.address + "/engines/resurfacer-1/visits/v8/measure")
    expect(page.get_by_role("heading", name="4E")).to_be_visible()
    page.keyboard.press("?")
    dialog = page.get_by_role("dialog")
    expect(dialog.get_by_role("heading", name="Measure")).to_be_visible()
    expect(dialog.get_by_role("row", name="it drags")).to_contain_text("K")
    # The keys of the page under it do nothing meanwhile.
    page.keyboard.press("k")
    page.keyboard.press("Escape")
    expect(dialog).to_have_count(0)
    expect(page.get_by_role("button", name="Take back")).to_be_disabled()
    page.get_by_role("button", name="Help of this page").click()
    dialog.get_by_role("link", name="The method").click()
    expect(page.get_by_role("heading", name="A blade says an interval, and not for certain")).to_be_visible()
    page.get_by_role("link", name="Formulas").click()
    expect(page.get_by_role("heading", name="F-01 The feel of a blade")).to_be_visible()
    page.get_by_role("link", name="Every screen").click()
    expect(page.get_by_role("heading", name="Practice engine", exact=True)).to_be_visible()


def test_a_question_mark_that_is_typed_is_only_typed(watched, server):
    page = watched
    page.goto(server.address + "/handbook")
    page.get_by_label("Find in it").press_sequentially("tick?")
    expect(page.get_by_label("Find in it")).to_have_value("tick?")
    expect(page.get_by_role("dialog")).to_have_count(0)
