"""Adjust and Verify in the real page: tightened until it holds, shims from the box, closed up, on paper."""

import re

import httpx2
from playwright.sync_api import expect

from tests.browser.hands import choose

VISIT = "/engines/resurfacer-1/visits/v8"
SNOWMOBILE = "/engines/snowmobile/visits/v4"


def row(page, valve):
    return page.get_by_role("listitem").filter(has=page.get_by_text(valve, exact=True)).first


def test_a_valve_is_set_locked_and_tried_until_it_holds_by_keyboard(watched, server):
    page = watched
    page.goto(f"{server.address}{VISIT}/adjust")
    here = row(page, "2E")
    expect(here.get_by_text(re.compile(r"anticlockwise, about"))).to_be_visible()
    expect(here.get_by_text(re.compile(r"so that .* drags, then tighten the locknut"))).to_be_visible()
    page.get_by_label("2E adjusted to").focus()
    page.keyboard.press("Tab")
    page.keyboard.press("Enter")
    expect(here.get_by_text("Not re-measured: tightening the locknut moves it")).to_be_visible()
    here.get_by_role("button", name="won't go").press("Enter")
    expect(here.get_by_text("closed on tightening")).to_be_visible()
    # It has moved: what is left to turn is told anew.
    expect(here.get_by_role("button", name="Adjusted again")).to_be_visible()
    expect(here.get_by_text(re.compile(r"anticlockwise"))).to_have_count(1)
    here.get_by_role("button", name="drags").press("Enter")
    expect(here.get_by_text("holds")).to_be_visible()
    expect(here.get_by_text("re-measured as left")).to_be_visible()
    expect(
        page.get_by_text(
            re.compile(r"Tightening the locknut closes it by about .* learned from 2 tightenings by J. K.")
        )
    ).to_be_visible()
    page.get_by_role("button", name="Undo the last tightening of 2E").click()
    expect(here.get_by_text("holds")).to_have_count(0)
    page.reload()
    expect(row(page, "2E").get_by_text("closed on tightening")).to_be_visible()


def test_a_target_outside_the_spec_is_kept_with_the_reason_that_was_typed(page, server):
    page.goto(f"{server.address}{VISIT}/adjust")
    page.get_by_label("2E adjusted to").fill("0.33")
    here = row(page, "2E")
    here.get_by_role("button", name="Mark as adjusted").click()
    expect(here.get_by_text(re.compile("outside the spec"))).to_be_visible()
    page.get_by_label("Reason for 2E").fill("for the bench")
    here.get_by_role("button", name="Confirm value").click()
    expect(here.get_by_text(re.compile(r"Done: adjusted to 0.33 mm; for the bench"))).to_be_visible()


def test_the_last_shim_of_the_box_is_fitted_by_one_and_the_other_is_reported(page, server, context):
    other = context.new_page()
    # What the other does is not heard of in time.
    page.route(re.compile("/live"), lambda route: route.abort())
    for one in (page, other):
        one.goto(f"{server.address}{SNOWMOBILE}/adjust")
        expect(row(one, "2Ia").get_by_text("1.600 mm in, from the box")).to_be_visible()
    # Somebody else fits it to another valve first.
    other.get_by_label("1Ia shim").fill("1.60")
    row(other, "1Ia").get_by_role("button", name="Mark as fitted").click()
    expect(row(other, "1Ia").get_by_text(re.compile("1.600 mm in from the box"))).to_be_visible()
    row(page, "2Ia").get_by_role("button", name="Mark as fitted").click()
    expect(page.get_by_text(re.compile("somebody took the last one")).first).to_be_visible()
    page.goto(f"{server.address}/bench")
    expect(page.get_by_role("listitem").filter(has_text="1.600 mm")).to_contain_text("none left")


def test_the_box_is_counted_on_the_bench(watched, server):
    page = watched
    page.goto(f"{server.address}/bench")
    line = page.get_by_role("listitem").filter(has_text="1.700 mm")
    page.get_by_role("button", name="One 1.700 mm more").press("Enter")
    expect(line).to_contain_text("3")
    page.get_by_role("textbox", name="Thickness").fill("thick")
    page.get_by_role("button", name="Add", exact=True).click()
    expect(page.get_by_text("from 0.1 to 10 mm")).to_be_visible()
    page.get_by_label("Thickness").fill("1,75")
    page.get_by_role("textbox", name="Diameter").fill("8.9")
    page.get_by_label("Quantity").fill("2")
    page.get_by_role("button", name="Add", exact=True).click()
    expect(page.get_by_role("listitem").filter(has_text="1.750 mm")).to_contain_text("2")
    # What is in the box now need not be ordered.
    page.goto(f"{server.address}{SNOWMOBILE}/adjust")
    expect(row(page, "2Ib").get_by_text("1.750 mm in, from the box")).to_be_visible()


def test_a_worn_shim_is_noted_and_counts(watched, server):
    page = watched
    page.goto(f"{server.address}{SNOWMOBILE}/adjust")
    page.get_by_label("Shim fitted in 2Ia, print").fill("1.65")
    page.get_by_label("Shim fitted in 2Ia, measures").fill("1.62")
    page.keyboard.press("Enter")
    expect(row(page, "2Ia").get_by_text("worn by 0.030 mm")).to_be_visible()
    expect(row(page, "2Ia").get_by_text(re.compile("1.620 out"))).to_be_visible()


def test_lifters_are_preloaded_position_by_position(watched, server):
    page = watched
    page.goto(f"{server.address}/engines/standby-drive/visits/v2/adjust")
    expect(page.get_by_text("Pump the lifters up first")).to_be_visible()
    first = page.get_by_role("region", name="cylinder 1 at TDC on compression")
    expect(first.get_by_role("listitem")).to_have_count(10)
    page.get_by_role("button", name="1E is preloaded").press("Enter")
    expect(first.get_by_text("preloaded, 0.75 turns")).to_be_visible()
    page.get_by_role("button", name="Undo the preload of 1E").click()
    expect(first.get_by_text("preloaded, 0.75 turns")).to_have_count(0)


def test_closed_up_verified_and_put_on_paper(watched, server):
    page = watched
    page.goto(f"{server.address}{VISIT}/verify")
    gasket = page.get_by_role("checkbox", name=re.compile("Cover gasket whole"))
    choose(gasket)
    expect(page.get_by_text("1 of 13 done")).to_be_visible()
    expect(
        page.get_by_text("cover: 4, then 9 N m (35, then 80 in-lb), from the middle outwards")
    ).to_be_visible()
    stalls = page.get_by_role("group", name="stalling at idle")
    choose(stalls.get_by_label("same"))
    expect(
        page.get_by_text(re.compile("The valves are not the cause, or not the only one. Air leaks"))
    ).to_be_visible()
    page.get_by_label("stalling at idle: now").fill("a little later")
    choose(page.get_by_role("group", name="cold misfire").get_by_label("gone"))
    page.get_by_label("fuel trim, long term, before").fill("-16")
    page.get_by_label("fuel trim, long term, after").fill("-3")
    page.keyboard.press("Enter")
    page.get_by_label("Check at instead").fill("2300")
    page.get_by_label("Reason", exact=True).fill("owner away in spring")
    page.get_by_role("button", name="Save", exact=True).click()
    expect(page.get_by_text(re.compile(r"2\s300\sh.*: owner away in spring"))).to_be_visible()
    page.get_by_role("link", name="Job card").click()
    expect(page.get_by_role("heading", name="Job card: Ice resurfacer 1")).to_be_visible()
    expect(page.get_by_text("stalling at idle: same, a little later")).to_be_visible()
    expect(page.get_by_text("fuel trim, long term: -16 before, -3 after (percent)")).to_be_visible()
    # How many boxes were ticked says nothing of the work.
    expect(page.get_by_text("ticked off")).to_have_count(0)
    expect(page.get_by_text(re.compile(r"Next check at 2\s300\sh"))).to_be_visible()
    address = page.get_by_role("link", name="PDF").get_attribute("href")
    answer = httpx2.get(server.address + address, timeout=60)
    assert answer.status_code == 200 and answer.content.startswith(b"%PDF-")
    # On paper without the frame, and on one page.
    printed = page.pdf(format="A4", prefer_css_page_size=True)
    assert len(re.findall(rb"/Type\s*/Page\b", printed)) == 1


def test_a_compression_in_the_wrong_unit_is_asked_about_at_its_line(page, server):
    page.goto(f"{server.address}{VISIT}/verify")
    expect(page.get_by_text(re.compile("Found without clearance: 3E"))).to_be_visible()
    box = page.get_by_label("compression of cylinder 3, dry, after")
    box.fill("150")
    box.press("Enter")
    page.get_by_role("button", name="Use 1034 kPa").click()
    expect(page.get_by_label("compression of cylinder 3, dry, after")).to_have_value("1034")


def test_what_is_stored_is_not_hidden_by_an_older_answer_that_comes_late(page, server):
    page.goto(f"{server.address}{VISIT}/verify")
    box = page.get_by_label("compression of cylinder 3, dry, after")
    expect(box).to_be_visible()
    late: list = []
    # What is fetched after the refusal is as it was before the figure was stored, and comes after it.
    page.route(
        "**/visits/v8/verification",
        lambda route: late.append((route, route.fetch())) if not late else route.continue_(),
    )
    box.fill("150")
    box.press("Enter")
    page.get_by_role("button", name="Use 1034 kPa").click()
    expect(box).to_have_value("1034")
    assert late
    for route, answer in late:
        route.fulfill(response=answer)
    page.wait_for_timeout(300)
    expect(box).to_have_value("1034")
