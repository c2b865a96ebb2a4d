"""Sister engines on the engine's page, and how the forecasts did, by keyboard."""

import re

import pytest
from playwright.sync_api import expect

pytestmark = pytest.mark.browser
EXPECTED = re.compile(r"Expected from 1 sister engine: .*exhaust [+−]0\.\d{3} mm ± 0\.\d{3} mm")


def sisters_on(page):
    return page.locator("section").filter(has=page.get_by_role("heading", name="Sister engines"))


def test_an_engine_is_left_out_of_its_kind_and_compared_again(page, server):
    page.goto(f"{server.address}/engines/resurfacer-2")
    sheet = sisters_on(page)
    expect(sheet).to_contain_text(EXPECTED)
    expect(sheet.get_by_role("link", name="Ice resurfacer 1")).to_be_visible()
    sheet.get_by_role("button", name="Leave this engine out").press("Enter")
    expect(sheet).not_to_contain_text("Expected from")
    expect(sheet).to_contain_text("This engine is left out")
    again = sheet.get_by_role("button", name="Compare this engine again")
    expect(again).to_be_enabled()
    again.press("Enter")
    expect(sheet).to_contain_text("Expected from 1 sister engine")


def test_a_kind_is_noted_with_the_engine_and_makes_sisters(page, server):
    page.goto(f"{server.address}/engines/quad/data")
    page.get_by_label("Kind of engine").fill("Resurfacer  engine, FOUR cylinders")
    page.get_by_role("button", name="Save", exact=True).press("Enter")
    expect(page.get_by_role("heading", level=1)).to_have_text("Piste quad")
    sheet = sisters_on(page)
    expect(sheet.get_by_role("row")).to_have_count(3)
    # The quad counts in kilometres: it is named, and compared with neither.
    expect(sheet.get_by_text("(counts in h)")).to_have_count(2)


def test_past_forecasts_are_looked_back_on_from_the_bench(page, server):
    page.goto(f"{server.address}/bench")
    page.get_by_role("link", name="How our forecasts did").press("Enter")
    expect(page.get_by_role("heading", level=1)).to_have_text("How our forecasts did")
    # Every visit of the workshop is predicted from those before it: that takes its time.
    whole = page.get_by_text(re.compile(r"\d+ clearances at \d+ visits of 7 engines"))
    expect(whole).to_be_visible(timeout=120_000)
    expect(
        page.get_by_text(re.compile(r"\d+ of \d+ \(\d\d\s%\) lay within the 90\s% interval"))
    ).to_be_visible()
    expect(page.get_by_role("row", name=re.compile("J. K."))).to_be_visible()
    expect(page.get_by_role("img", name=re.compile("Readings by where they fell"))).to_be_visible()
