"""Photographs from the step where they are taken to the plan and the job card."""

import re

import pytest
from axe_playwright_python.sync_playwright import Axe
from PIL import Image
from playwright.sync_api import expect

from tests.browser.hands import choose

pytestmark = pytest.mark.browser

VISIT = "/engines/resurfacer-1/visits/v8"


@pytest.fixture
def seat(tmp_path):
    path = tmp_path / "seat.jpg"
    Image.new("RGB", (800, 600), "sienna").save(path)
    return path


def test_a_photograph_of_a_valve_stands_on_the_plan_and_on_the_job_card(watched, server, seat):
    page = watched
    page.goto(f"{server.address}{VISIT}/measure/4E")
    page.get_by_role("button", name="Add a photo").click()
    box = page.get_by_role("dialog")
    expect(box.get_by_role("combobox", name="Valve", exact=True)).to_have_value("4E")
    box.get_by_label("Caption", exact=True).fill("seat sunk")
    # Straight from the camera, where there is one.
    expect(box.get_by_label("Photo from the camera")).to_have_attribute("capture", "environment")
    box.get_by_label("Photo from the camera").set_input_files(seat)
    expect(box.get_by_role("img", name="seat sunk")).to_be_visible()
    expect(box.get_by_label("Caption", exact=True)).to_have_value("")
    choose(box.get_by_label("on the job card"))
    box.get_by_label("Caption of: seat sunk").fill("seat sunk 0.1 mm")
    page.keyboard.press("Tab")
    expect(box.get_by_role("img", name="seat sunk 0.1 mm")).to_be_visible()
    assert Axe().run(page).violations_count == 0
    page.keyboard.press("Escape")
    expect(page.get_by_role("button", name="valve 4E", exact=False)).to_have_attribute(
        "aria-label", re.compile("with a photo$")
    )
    expect(page.get_by_role("button", name="Photos (1)")).to_be_visible()
    page.goto(f"{server.address}{VISIT}/card")
    expect(page.get_by_text("4E · seat sunk 0.1 mm")).to_be_visible()
    page.get_by_role("img", name="seat sunk 0.1 mm").wait_for()


def test_a_wrong_file_is_named_and_the_caption_stays(page, server, tmp_path):
    page.goto(f"{server.address}{VISIT}/inspect")
    page.get_by_role("button", name="Add a photo").click()
    box = page.get_by_role("dialog")
    box.get_by_label("Caption", exact=True).fill("lobe of 2I")
    wrong = tmp_path / "sheet.jpg"
    wrong.write_text("no picture")
    box.get_by_label("Photo from a file").set_input_files(wrong)
    expect(box.get_by_role("alert")).to_contain_text("must be a photograph as JPEG, PNG or WebP")
    expect(box.get_by_label("Caption", exact=True)).to_have_value("lobe of 2I")
    with wrong.open("wb") as file:
        file.truncate(20_000_001)
    box.get_by_label("Photo from a file").set_input_files(wrong)
    expect(box.get_by_role("alert")).to_contain_text("the limit is 20 MB")


def test_one_is_removed_only_when_that_is_confirmed(page, server, seat):
    page.goto(f"{server.address}{VISIT}/verify")
    page.get_by_role("button", name="Add a photo").click()
    box = page.get_by_role("dialog")
    box.get_by_label("Photo from a file").set_input_files(seat)
    box.get_by_role("button", name="Remove photo").click()
    box.get_by_role("button", name="Confirm: remove photo").click()
    expect(box.get_by_text("None yet.")).to_be_visible()
