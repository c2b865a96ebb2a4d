"""New engine described in the form, its data changed, and what the bench keeps."""

import re

import pytest
from playwright.sync_api import Page, expect

pytestmark = pytest.mark.browser


def plan(page: Page):
    return page.get_by_role("group", name="Plan of the head as entered").get_by_role("button")


def spec(page: Page, side: str, low: str, high: str) -> None:
    group = page.get_by_role("group", name=f"{side}, cold")
    group.get_by_label("from").fill(low)
    group.get_by_label("to").fill(high)


def test_an_engine_is_described_from_nothing_and_its_plan_follows(page, server):
    page.goto(f"{server.address}/")
    page.get_by_role("link", name="Add engine").click()
    expect(page.get_by_label("Name", exact=True)).to_be_focused()
    # What is missing is told by its field, before anything is sent.
    page.get_by_role("button", name="Save engine").click()
    expect(page.get_by_role("alert")).to_contain_text("4 fields are still to be fixed")
    expect(page.get_by_text("enter a name for this engine").first).to_be_visible()

    page.get_by_label("Name", exact=True).fill("Sawmill twin")
    page.get_by_label("Make", exact=True).fill("Hollam")
    page.get_by_label("Plate or fleet number").fill("fleet 7")
    page.get_by_label("Year").fill("2014")
    page.get_by_label("Check every").fill("400")
    page.get_by_label("Layout").select_option("V")
    page.get_by_label("Cylinders", exact=True).select_option("4")
    page.get_by_label("Intake valves per cylinder").select_option("2")
    expect(plan(page)).to_have_count(12)
    page.get_by_label("Intake valves on").select_option("in line with the exhaust valves")
    order = page.get_by_label("Valve order, bank 1, front to rear")
    order.fill("I E I I I E X")
    expect(page.get_by_role("alert").filter(has_text="I and E alone, not 'X'")).to_be_visible()
    order.fill("E I I I I E")
    expect(page.get_by_role("alert").filter(has_text="I and E alone")).to_have_count(0)
    expect(plan(page).first).to_have_attribute("aria-label", "cylinder 1, exhaust, valve 1E")
    page.get_by_role("button", name=re.compile("^1-3-2-4, 180")).click()

    # Thou typed as mm are asked about; nothing is lost, and one press reads them as thou.
    spec(page, "Intake", "6", "8")
    spec(page, "Exhaust", "10", "12")
    page.get_by_label("Manual or plate").fill("Works manual")
    page.get_by_role("button", name="Save engine").click()
    expect(page.get_by_role("alert")).to_contain_text("12: 12 thou = 0.305 mm, or 12 mm?")
    spec(page, "Exhaust", "8", "10")
    page.get_by_role("button", name="Save engine").click()
    expect(page.get_by_role("alert")).to_contain_text("6: 6 thou = 0.152 mm")
    page.get_by_role("button", name="Use thou").first.click()
    page.get_by_role("button", name="Save engine").click()

    expect(page.get_by_role("heading", name="Sawmill twin")).to_be_visible()
    expect(page.get_by_text("0.15 to 0.20 mm")).to_be_visible()
    expect(page.get_by_text("1-3-2-4")).to_be_visible()
    expect(page).to_have_url(re.compile("/engines/sawmill-twin$"))
    # It is found by what stands on it, too.
    expect(page.get_by_text("Hollam, 2014, plate fleet 7")).to_be_visible()
    page.get_by_label("Find an engine or a case").fill("fleet 7")
    expect(page.get_by_role("option", name=re.compile("^Sawmill twin"))).to_be_visible()
    page.keyboard.press("Escape")
    # As it was typed, in thou, when its data are opened again.
    page.get_by_role("link", name="Edit engine").click()
    group = page.get_by_role("group", name="Intake, cold")
    expect(group.get_by_label("from (thou)")).to_have_value("6")


def test_faults_of_a_description_are_reported_where_they_are(page, server):
    page.goto(f"{server.address}/engines/resurfacer-2/data")
    page.get_by_label("Firing order").fill("1-3-2")
    spec(page, "Exhaust", "0.30", "0.25")
    page.get_by_role("button", name="Save", exact=True).click()
    # From the top of the page down.
    expect(page.get_by_role("alert").get_by_role("listitem")).to_contain_text(
        ["Exhaust, cold: must be more than the figure before it", "Firing order: must name each cylinder"]
    )
    expect(page.get_by_label("Firing order")).to_have_value("1-3-2")
    page.get_by_label("Firing order").fill("1-3-4-2")
    spec(page, "Exhaust", "0.25", "0.30")
    # What the form cannot know is the server's to say.
    page.get_by_label("Firing intervals").fill("180 180 180 220")
    page.get_by_role("button", name="Save", exact=True).click()
    expect(page.get_by_role("alert")).to_contain_text("firing intervals: add up to 760 degrees")
    expect(page.get_by_label("Firing intervals")).to_have_accessible_description(re.compile("720 together"))
    spec(page, "Exhaust", "0.25", "0.3x")
    page.get_by_role("button", name="Save", exact=True).click()
    expect(page.get_by_text("‘0.3x’ is not a length").first).to_be_visible()


def test_a_copy_begins_with_the_others_figures_and_a_valve_may_have_its_own(watched, server):
    page = watched
    page.goto(f"{server.address}/new-engine")
    page.get_by_label("Template").select_option(index=7)
    expect(page.get_by_text("check every figure", exact=False)).to_be_visible()
    page.get_by_label("Copy of").select_option("Ice resurfacer 2")
    expect(plan(page)).to_have_count(8)
    page.get_by_label("Name", exact=True).fill("Ice resurfacer 3")
    plan(page).nth(1).click()
    panel = page.get_by_role("group", name=re.compile("^Valve "))
    panel.get_by_label("own spec for this valve").check()
    panel.get_by_role("textbox", name="from").fill("0.20")
    panel.get_by_role("textbox", name="to").fill("0.25")
    page.get_by_label("Manual or plate").fill("")
    expect(page.get_by_text("No source given", exact=False)).to_be_visible()
    page.get_by_role("button", name="Save engine").click()
    expect(page.get_by_role("heading", name="Ice resurfacer 3")).to_be_visible()
    expect(page.get_by_text("0.15 to 0.20 mm, source not given")).to_be_visible()


def test_an_edit_that_another_overtook_is_reported_and_can_be_meant(page, server, context):
    other = context.new_page()
    for one in (page, other):
        one.goto(f"{server.address}/engines/resurfacer-2/data")
        expect(one.get_by_role("button", name="Save", exact=True)).to_be_visible()
    other.get_by_label("Duty").fill("night shifts")
    other.get_by_role("button", name="Save", exact=True).click()
    expect(other.get_by_role("heading", name="Ice resurfacer 2")).to_be_visible()
    page.get_by_label("Duty").fill("weekends")
    page.get_by_role("button", name="Save", exact=True).click()
    expect(page.get_by_role("alert")).to_contain_text("duty: has been changed by somebody else")
    expect(page.get_by_label("Duty")).to_have_value("weekends")
    page.get_by_role("button", name="Overwrite with mine").click()
    page.get_by_role("button", name="Save", exact=True).click()
    expect(page.get_by_role("heading", name="Ice resurfacer 2", exact=True)).to_be_visible()


def test_the_bench_keeps_sets_and_the_workshops_rate(watched, server):
    page = watched
    page.goto(f"{server.address}/bench")
    page.get_by_label("gaps for").select_option("Ice resurfacer 1")
    expect(
        page.get_by_text("no blade between 0.25 and 0.28 mm, filled by 0.04 + 0.23", exact=False)
    ).to_be_visible()
    page.get_by_label("The set, thinnest to thickest").fill("0.05 to 0.50 by 0.05")
    page.get_by_label("Name", exact=True).fill("Coarse set")
    page.keyboard.press("Enter")
    expect(page.get_by_text("10 blades, 0.05 to 0.50 mm, printed in mm")).to_be_visible()
    page.get_by_role("button", name="Edit Coarse set").click()
    page.get_by_label("The set, thinnest to thickest").first.fill("0.05 to 0.60 by 0.05")
    page.keyboard.press("Enter")
    expect(page.get_by_text("12 blades, 0.05 to 0.60 mm, printed in mm")).to_be_visible()
    page.get_by_role("button", name="Archive Coarse set").click()
    expect(page.get_by_text("12 blades")).to_have_count(0)
    page.get_by_role("button", name="Restore").click()
    expect(page.get_by_text("12 blades")).to_be_visible()
    page.get_by_label("Rate").fill("60")
    page.get_by_label("Currency").fill("EUR")
    page.get_by_role("button", name="Save", exact=True).click()
    expect(page.get_by_text("saved")).to_be_visible()
    page.goto(f"{server.address}/engines/resurfacer-1")
    expect(page.get_by_text(re.compile(r"55 min, 55 EUR"))).to_be_visible()


def test_torques_are_typed_a_line_a_part_in_either_unit_and_stand_where_it_is_closed_up(page, server):
    page.goto(f"{server.address}/engines/resurfacer-2/data")
    page.get_by_role("button", name=re.compile("Torque: cover")).click()
    lines = page.get_by_label(re.compile("From the manual"))
    expect(lines).to_have_value("locknut | 14\ncover | 4 9 | from the middle outwards\nplug | 20")
    lines.fill("cover | 44 89 in-lb | crosswise\nplug | tight")
    page.get_by_role("button", name="Save", exact=True).click()
    expect(page.get_by_text(re.compile("‘plug | tight’ must be part"))).to_have_count(2)
    lines.fill("cover | 44 89 in-lb | crosswise")
    page.get_by_role("button", name="Save", exact=True).click()
    expect(page).to_have_url(re.compile("/engines/resurfacer-2$"))
    page.goto(f"{server.address}/engines/resurfacer-2/visits/v4/verify")
    expect(page.get_by_text("cover: 4.97, then 10.06 N m (44, then 89 in-lb), crosswise")).to_be_visible()
    # As the manual prints it, when the data are opened again.
    page.goto(f"{server.address}/engines/resurfacer-2/data")
    expect(lines).to_have_value("cover | 44 89 in-lb | crosswise")
