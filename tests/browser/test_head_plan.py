"""Plan of the head for every kind of layout: each valve once, none over another, all within reach."""

import json
from itertools import combinations

import pytest
from playwright.sync_api import expect

from tests.browser.asking import post
from tests.browser.layouts import SHAPES, shaped_record

pytestmark = pytest.mark.browser
NEAR_ENOUGH_PX = 1.0


def import_learned(server, record):
    address, text = f"{server.address}/api/records", json.dumps(record)
    answer = post(address, content=text, headers={"content-type": "application/json"})
    assert answer.status_code == 201, answer.text


def apart(a, b):
    return (
        a["x"] + a["width"] <= b["x"] + NEAR_ENOUGH_PX
        or b["x"] + b["width"] <= a["x"] + NEAR_ENOUGH_PX
        or a["y"] + a["height"] <= b["y"] + NEAR_ENOUGH_PX
        or b["y"] + b["height"] <= a["y"] + NEAR_ENOUGH_PX
    )


@pytest.mark.parametrize("name", SHAPES)
def test_each_valve_is_drawn_once_and_can_be_reached_by_arrows(watched, server, name):
    page, record = watched, shaped_record(name)
    import_learned(server, record)
    page.goto(f"{server.address}/engines/{record['engine']['id']}")
    plan = page.get_by_role("group", name=f"Plan of the head of {name}")
    expect(plan).to_be_visible()
    buttons = plan.get_by_role("button")
    names = {valve["id"] for valve in record["engine"]["valves"]}
    expect(buttons).to_have_count(len(names))

    outer = plan.bounding_box()
    boxes = [buttons.nth(i).bounding_box() for i in range(len(names))]
    for box in boxes:
        assert box["x"] >= outer["x"] - 1 and box["x"] + box["width"] <= outer["x"] + outer["width"] + 1
        assert box["y"] >= outer["y"] - 1 and box["y"] + box["height"] <= outer["y"] + outer["height"] + 1
    assert all(apart(a, b) for a, b in combinations(boxes, 2))

    # A walk with the arrows alone, trying every way at every valve, comes to all of them.
    buttons.first.focus()
    reached, waiting = set(), [buttons.first.get_attribute("data-valve")]
    while waiting:
        here = waiting.pop()
        if here in reached:
            continue
        reached.add(here)
        for key in ("ArrowLeft", "ArrowRight", "ArrowUp", "ArrowDown"):
            plan.locator(f'[data-valve="{here}"]').focus()
            page.keyboard.press(key)
            waiting.append(page.evaluate("document.activeElement.dataset.valve"))
    assert reached == names


def test_intake_and_exhaust_stand_on_their_named_sides(watched, server):
    record = shaped_record("in-line three, twin cam")
    import_learned(server, record)
    watched.goto(f"{server.address}/engines/{record['engine']['id']}")
    box = {
        name: watched.locator(f'[data-valve="{name}"]').bounding_box()
        for name in ("1I1", "1I2", "1E1", "2I1")
    }
    # Front at the left of the drawing, so the right-hand side of the engine is at its top.
    assert box["1I1"]["y"] < box["1E1"]["y"]
    assert box["1I1"]["x"] < box["1I2"]["x"] < box["2I1"]["x"]


def test_an_engine_of_any_name_has_working_addresses(watched, server):
    record = shaped_record("single, two valves")
    record["engine"].update(id="Früh 50% #1?", name="Odd name")
    import_learned(server, record)
    watched.goto(server.address)
    watched.get_by_role("link", name="Odd name").click()
    expect(watched.get_by_role("heading", name="Odd name")).to_be_visible()
    watched.get_by_role("button", name="valve 1E").click()
    expect(watched.get_by_role("heading", name="Valve 1E")).to_be_visible()
    watched.reload()
    expect(watched.get_by_role("heading", name="Valve 1E")).to_be_visible()
    watched.get_by_role("button", name="New case").click()
    expect(watched.get_by_role("heading", name="New case")).to_be_visible()
