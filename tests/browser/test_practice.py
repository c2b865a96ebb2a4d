"""The practice engine by keyboard: turned, waggled, measured, set, locked and looked back on."""

import re

import pytest
from axe_playwright_python.sync_playwright import Axe
from playwright.sync_api import Page, expect

from pronostico.api.practice import new_seed
from tests.browser.hands import press_to


@pytest.fixture
def practising(watched, server) -> Page:
    """The lessons, each run drawn from the same seed."""
    server.override(new_seed, lambda: 7)
    watched.goto(server.address + "/bench")
    return watched


def steps(page):
    return int(re.search(r"\d+", page.get_by_role("tab", name="Log").inner_text()).group())


def do(page, key):
    """Press a key and wait until what it did is told."""
    before = steps(page)
    page.keyboard.press(key)
    expect(page.get_by_role("tab", name=f"Log ({before + 1})")).to_be_visible()


def turn_until_at_rest(page, cylinder):
    """Turn ten degrees at a time until the piston is at top and no valve of it is pressed."""
    crank = page.get_by_role("img", name=re.compile("^cylinder 1 "))
    for _ in range(80):
        if re.search(rf"cylinder {cylinder} at top, no valve open", crank.get_attribute("aria-label")):
            return
        do(page, "t")
    raise AssertionError("the crank never came to top on compression")


def known(page, phase):
    """What the answers of a phase come to."""
    return page.get_by_role("paragraph").filter(has_text=f"{phase}:").inner_text()


def measure(page):
    """Follow the hints until no blade would tell more."""
    for _ in range(12):
        page.keyboard.press("h")
        page.wait_for_timeout(150)
        if page.get_by_text("No blade would tell you more.").is_visible():
            return
        do(page, "Enter")
    raise AssertionError("the hints never came to an end")


def test_a_lesson_is_worked_through_with_the_keyboard_and_looked_back_on(practising):
    page = practising
    press_to(page, "Practice engine")
    press_to(page, "Start lesson 6", role="button")
    expect(page.get_by_role("heading", level=1)).to_have_text("6. The nut moves it")
    page.locator("body").press("Shift")
    turn_until_at_rest(page, 1)
    do(page, "w")
    expect(page.get_by_text("A small click: there is play.")).to_be_visible()
    loose = ""
    for _ in range(2):
        measure(page)
        said = known(page, "as found")
        if "loose" in said:
            loose = page.get_by_role("tab").first.inner_text()
        page.keyboard.press("n")
    assert loose
    while page.get_by_role("tab").first.inner_text() != loose:
        page.keyboard.press("n")
    for _ in range(4):
        do(page, "s")
        expect(page.get_by_text("the locknut is slack")).to_be_visible()
        do(page, "l")
        measure(page)
        if re.search(r"in: ", known(page, "as left")):
            break
    assert Axe().run(page).violations_count == 0
    page.get_by_role("tab", name="Diagnosis").click()
    page.get_by_role("combobox", name="cause", exact=True).select_option("adjuster-backed-off")
    page.get_by_role("button", name="Submit").click()
    expect(page.get_by_text(re.compile("^Your answer: "))).to_be_visible()
    # What was done is there after a reload.
    done = steps(page)
    page.reload()
    expect(page.get_by_role("tab", name=f"Log ({done})")).to_be_visible()
    page.get_by_role("button", name="Finish and see the true values").click()
    expect(page.get_by_role("heading", name="Passed")).to_be_visible()
    assert Axe().run(page).violations_count == 0
    page.get_by_role("link", name="The lessons").click()
    expect(page.get_by_text("Apprentice: 1 of 10 passed")).to_be_visible()


def test_free_practice_tells_what_was_done_out_of_order(practising):
    page = practising
    page.get_by_role("link", name="Practice engine").click()
    page.get_by_label("learner").fill("Bo")
    page.get_by_role("button", name="OK").click()
    expect(page.get_by_text("Bo: 0 of 10 passed")).to_be_visible()
    page.get_by_label("fault").select_option("none")
    page.get_by_role("button", name="Start", exact=True).click()
    page.get_by_role("button", name="slacken and adjust").click()
    page.get_by_role("tab", name="Instruments").click()
    page.get_by_label("instrument", exact=True).select_option("thermometer")
    page.get_by_role("button", name="Start", exact=True).click()
    expect(page.get_by_role("tab", name="Log (2)")).to_be_visible(timeout=20_000)
    page.get_by_role("button", name="Finish and see the true values").click()
    expect(page.get_by_text("nothing is wrong", exact=True)).to_be_visible()
    expect(page.get_by_text("1E: adjusted before it was measured")).to_be_visible()
    expect(page.get_by_text("1E: left with a slack locknut")).to_be_visible()
