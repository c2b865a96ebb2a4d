"""Measuring to the end, figures typed as manuals print them, and pages that stay within their width."""

import re

import pytest
from playwright.sync_api import expect

from tests.browser.asking import get
from tests.browser.started import METRIC, started

pytestmark = pytest.mark.browser


def test_after_the_last_valve_enter_goes_on_to_judge(watched, server):
    page = watched
    page.goto(f"{started(server, 'single, two valves', METRIC)}/measure")
    expect(page.get_by_role("radio")).to_have_count(len(METRIC))
    for valve in range(2):
        # One blade in spec drags: that settles it.
        page.keyboard.press("k")
        expect(page.get_by_role("list", name="Answers so far").get_by_role("listitem")).to_have_count(1)
        if valve == 0:
            page.keyboard.press("Enter")
            expect(page.get_by_role("list", name="Answers so far").get_by_role("listitem")).to_have_count(0)
    follow_on = page.get_by_text(re.compile(r"^All 2 valves are measured.* Enter: next step, Assess"))
    expect(follow_on).to_be_visible()
    page.keyboard.press("Enter")
    expect(page).to_have_url(re.compile("/assess$"))
    expect(page.get_by_role("heading", level=1, name="Assess")).to_be_visible()


@pytest.mark.parametrize("address", ["/", "/bench", "/engines/snowmobile", "/engines/groomer/drift"])
def test_no_page_scrolls_sideways_at_the_width_of_a_small_laptop(page, server, address):
    page.set_viewport_size({"width": 1280, "height": 800})
    page.goto(server.address + address)
    expect(page.get_by_role("heading", level=1)).to_be_visible()
    page.wait_for_load_state("networkidle")
    assert page.evaluate("document.documentElement.scrollWidth <= innerWidth")


def test_a_spec_is_typed_as_the_manual_prints_it_and_another_unit_converts_nothing(page, server):
    page.goto(f"{server.address}/engines/resurfacer-2/data")
    intake = page.get_by_role("group", name="Intake, cold")
    low, high = intake.get_by_label("from"), intake.get_by_label("to", exact=False).last
    low.fill('0.006"')
    high.fill("8 thou")
    page.get_by_role("button", name="Save", exact=True).click()
    # The form is left only when the server has it.
    expect(page).to_have_url(re.compile("/engines/resurfacer-2$"))
    spec = get(f"{server.address}/api/engines/resurfacer-2").json()["engine"]["spec"]["intake"]
    assert (spec["min_mm"], spec["max_mm"]) == pytest.approx((0.1524, 0.2032))
    page.goto(f"{server.address}/engines/resurfacer-2/data")
    # What could be either is asked about, with both readings.
    low.fill(".010")
    page.get_by_role("button", name="Save", exact=True).click()
    expect(page.get_by_role("alert").first).to_contain_text("0.254 mm")
    low.fill("0.16")
    exhaust = page.get_by_role("group", name="Exhaust, cold")
    before = exhaust.get_by_label("from").input_value()
    page.get_by_label("The manual gives the clearance in").select_option("thou")
    expect(low).to_have_value("0.16 mm")
    expect(exhaust.get_by_label("from")).to_have_value(re.compile(rf"^{re.escape(before)}"))


def test_a_whole_position_of_lifters_is_marked_in_one_action(page, server):
    page.goto(f"{server.address}/engines/standby-drive")
    page.get_by_role("button", name="New visit").click()
    expect(page.get_by_label("The meter shows")).to_be_focused()
    page.get_by_label("The meter shows").fill("1100")
    page.get_by_role("button", name="Start visit").click()
    expect(page.get_by_role("heading", level=1, name="Complaint")).to_be_visible()
    # No blades: there is nothing to measure with them.
    expect(page.get_by_role("link", name="Measure", exact=False)).to_have_count(0)
    page.get_by_role("link", name="Adjust", exact=True).click()
    at_once = page.get_by_role("button", name=re.compile(r"^All \d+ here are preloaded")).first
    here = int(re.search(r"\d+", at_once.inner_text()).group())
    at_once.click()
    expect(page.get_by_role("button", name="Undo the preload of")).to_have_count(here)
