"""Parts changed valve by valve, a valve's whole life, and two states side by side."""

import re

from playwright.sync_api import Route, expect

ENGINE = "/engines/resurfacer-1"


# Ticks boxes one after the other, as fast as a device that was busy hands on what was pressed meanwhile.
TICK = """async (boxes) => {
  for (const box of boxes) {
    box.click()
    for (let turn = 0; turn < 50; turn += 1) await Promise.resolve()
  }
}"""


def test_changed_parts_begin_a_new_chapter_of_a_valve(page, server):
    page.goto(f"{server.address}{ENGINE}/visits/v8/adjust")
    page.get_by_label("Valve that got new parts").select_option("3E")
    parts = page.get_by_role("group", name="Parts changed at 3E")
    # The server is slow; the others are ticked off before it has answered for the first.
    held: list[Route] = []
    # A method of a list itself cannot be handed over.
    page.route("**/parts-changed/*", lambda route: held.insert(0, route), times=1)
    with page.expect_request("**/parts-changed/*"):
        parts.get_by_label("seat", exact=True).press("Space")
    parts.get_by_label(re.compile("^(valve|spring)$")).evaluate_all(TICK)
    parts.get_by_label("spring", exact=True).press("Space")
    expect(parts.get_by_label("seat", exact=True)).to_be_checked()
    held[0].continue_()
    page.get_by_label("Valve that got new parts").select_option("1I")
    expect(page.get_by_text("Also: 3E (seat, valve).")).to_be_visible()
    expect(page.get_by_text("adjusted, not re-measured: 3E")).to_be_visible()
    page.reload()
    expect(parts.get_by_label("seat", exact=True)).to_be_checked()
    expect(parts.get_by_label("valve", exact=True)).to_be_checked()
    expect(parts.get_by_label("spring", exact=True)).not_to_be_checked()

    page.goto(f"{server.address}{ENGINE}/valves/3E")
    page.get_by_role("link", name="The whole life of this valve").press("Enter")
    expect(page.get_by_role("heading", name="Valve 3E of Ice resurfacer 1")).to_be_visible()
    heading = page.get_by_role("heading", name="With new parts (seat, valve)")
    new = page.locator("section").filter(has=heading)
    expect(new.get_by_role("row")).to_have_count(2)
    page.get_by_label("Valve", exact=True).select_option("3I")
    expect(page.get_by_role("heading", name="Valve 3I of Ice resurfacer 1")).to_be_visible()


def test_two_visits_and_two_sisters_stand_side_by_side(page, server):
    page.goto(f"{server.address}{ENGINE}/drift")
    page.get_by_role("link", name="Compare").press("Enter")
    table = page.get_by_role("table")
    expect(table.get_by_role("row").filter(has_text="2E")).to_contain_text("tighter")
    expect(page.get_by_role("group", name="Plan of Ice resurfacer 1, visit v7")).to_be_visible()
    page.get_by_role("button", name="Before and after the work of v8").press("Enter")
    expect(page.get_by_role("heading", name="Ice resurfacer 1: after v8")).to_be_visible()

    second = page.get_by_role("group", name="Second")
    second.get_by_label("Engine").select_option("Ice resurfacer 2")
    expect(page.get_by_role("heading", name="Ice resurfacer 2: after v4")).to_be_visible()
    second.get_by_label("Visit").select_option(index=0)
    expect(page.get_by_role("heading", name="Ice resurfacer 2: after v1")).to_be_visible()
    page.reload()
    expect(page.get_by_role("heading", name="Ice resurfacer 2: after v1")).to_be_visible()


def test_an_engine_without_a_visit_and_a_wrong_address_are_answered(page, server):
    query = "visit=v99&when=found&with_engine=resurfacer-1&with_visit=v8"
    page.goto(f"{server.address}{ENGINE}/compare?{query}")
    expect(page.get_by_role("alert")).to_contain_text("there is no visit 'v99'")
    # By its value: the days of the demonstration move with today.
    page.get_by_role("group", name="First").get_by_label("Visit").select_option("v7")
    expect(page.get_by_role("table")).to_be_visible()
