"""Parts changed valve by valve, a valve's whole life, and two states side by side."""

import time

from playwright.sync_api import expect

ENGINE = "/engines/resurfacer-1"


def _late(route):
    time.sleep(0.5)
    route.continue_()


def test_changed_parts_begin_a_new_chapter_of_a_valve(page, server):
    page.goto(f"{server.address}{ENGINE}/visits/v8/adjust")
    page.get_by_label("Valve that got new parts").select_option("3E")
    parts = page.get_by_role("group", name="Parts changed at 3E")
    # The server is slow; the second part is ticked off before it has answered for the first.
    page.route("**/parts-changed/*", _late)
    parts.get_by_label("seat", exact=True).press("Space")
    parts.get_by_label("valve", exact=True).press("Space")
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
