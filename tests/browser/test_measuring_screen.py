"""The measuring screen with many valves, many blades, several people and wrong keys."""

import re

import pytest
from axe_playwright_python.sync_playwright import Axe
from playwright.sync_api import Route, expect

from tests.browser.asking import get
from tests.browser.hands import follow_advice, open_hand_line
from tests.browser.started import METRIC, started

pytestmark = pytest.mark.browser

FINE = [round(0.05 + 0.01 * n, 2) for n in range(46)]
DEMO = "/engines/resurfacer-1/visits/v8/measure/4E"


def hold(page, figure: str) -> None:
    """Take a blade by typing it."""
    open_hand_line(page)
    page.keyboard.type(figure)
    page.keyboard.press("Enter")


@pytest.mark.parametrize(("width", "height"), [(1280, 800), (820, 1180)])
@pytest.mark.parametrize("shape", ["in-line four, four valves", "V eight"])
def test_sixteen_valves_and_many_blades_fit_without_scrolling(watched, server, shape, width, height):
    page = watched
    page.set_viewport_size({"width": width, "height": height})
    page.goto(f"{started(server, shape, FINE)}/measure")
    expect(page.get_by_role("radio")).to_have_count(len(FINE))
    # The worst case: two answers that contradict each other, with their buttons.
    hold(page, "0.20")
    page.keyboard.press("j")
    hold(page, "0.30")
    page.keyboard.press("l")
    entry_error = page.get_by_role("button", name=re.compile("entry error")).first
    expect(entry_error).to_be_visible()
    assert entry_error.bounding_box()["height"] >= 48
    # Once the typeface is there and the last answer is drawn.
    page.evaluate("document.fonts.ready")
    page.wait_for_function(
        "document.documentElement.scrollHeight <= innerHeight && "
        "document.documentElement.scrollWidth <= innerWidth"
    )


def test_advice_that_comes_late_does_not_take_a_blade_out_of_the_hand(watched, server):
    page = watched
    page.goto(server.address + DEMO)
    expect(page.get_by_role("heading", name="4E")).to_be_visible()
    # The answer to the first blade is judged only after another was taken.
    held_back: list[Route] = []

    def hold_back(route: Route) -> None:
        held_back.append(route)

    page.route("**/tries/**", hold_back)
    page.keyboard.press("j")
    hold(page, "0.10")
    expect(page.get_by_role("radio", name=re.compile(r"^0\.10 mm"), checked=True)).to_be_visible()
    # A busy machine sends it a moment later.
    while not held_back:
        page.wait_for_timeout(50)
    for route in held_back:
        route.continue_()
    expect(page.get_by_text("8 of 8 measured")).to_be_visible()
    expect(page.get_by_role("radio", name=re.compile(r"^0\.10 mm"), checked=True)).to_be_visible()


def test_axe_finds_nothing_where_something_is_opened(watched, server):
    page = watched
    page.goto(server.address + DEMO)
    page.get_by_role("button", name="Skip valve").click()
    expect(page.get_by_text("Why is 4E not measured?")).to_be_visible()
    assert Axe().run(page).violations_count == 0
    page.keyboard.press("Escape")
    open_hand_line(page)
    expect(page.get_by_label("Blade or reading, mm")).to_be_focused()
    assert Axe().run(page).violations_count == 0
    page.goto(f"{server.address}/engines/resurfacer-1")
    page.get_by_role("button", name="New visit").click()
    expect(page.get_by_label("The meter shows")).to_be_focused()
    page.get_by_label("The meter shows").fill("5")
    page.get_by_label("The meter was replaced, or rolled over").check()
    results = Axe().run(page)
    assert results.violations_count == 0, results.generate_report()


def test_going_on_by_itself_waits_for_an_answer_of_this_valve(watched, server):
    page = watched
    page.goto(server.address + DEMO)
    follow_advice(page, gap_mm=0.275)
    # It is settled already when the switch is thrown: nobody is carried away.
    page.get_by_label("advance when decided").check()
    page.wait_for_timeout(1200)
    expect(page.get_by_role("heading", name="4E")).to_be_visible()
    page.keyboard.press("k")
    expect(page.get_by_role("heading", name="4E")).to_have_count(0)
    # Back at the settled valve it stays, and the switch is remembered.
    page.get_by_role("button", name=re.compile("valve 4E")).click()
    page.wait_for_timeout(1200)
    expect(page.get_by_role("heading", name="4E")).to_be_visible()
    page.reload()
    expect(page.get_by_label("advance when decided")).to_be_checked()


def test_a_visit_is_left_and_taken_up_on_another_device(watched, server, browser):
    page = watched
    page.goto(server.address + DEMO)
    expect(page.get_by_role("heading", name="4E")).to_be_visible()
    page.keyboard.press("j")
    expect(page.get_by_text("8 of 8 measured")).to_be_visible()
    tablet = browser.new_context(viewport={"width": 820, "height": 1180}).new_page()
    tablet.goto(server.address + DEMO)
    answers = tablet.get_by_role("list", name="Answers so far").get_by_role("listitem")
    expect(answers).to_have_text(["0.23 mm won't go"])
    tablet.get_by_role("button", name="drags").click()
    expect(answers).to_have_count(2)
    # The first page sees it too, without a reload.
    here = page.get_by_role("list", name="Answers so far").get_by_role("listitem")
    expect(here).to_have_count(2)
    tablet.context.close()


def test_two_who_measure_different_valves_at_once_disturb_nobody(watched, server, context):
    page, other = watched, context.new_page()
    page.goto(server.address + DEMO)
    expect(page.get_by_role("heading", name="4E")).to_be_visible()
    other.goto(server.address + DEMO.replace("4E", "1I"))
    expect(other.get_by_role("heading", name="1I")).to_be_visible()
    before = other.get_by_role("list", name="Answers so far").get_by_role("listitem").count()
    page.keyboard.press("j")
    other.keyboard.press("k")
    expect(page.get_by_text("8 of 8 measured")).to_be_visible()
    answers = other.get_by_role("list", name="Answers so far").get_by_role("listitem")
    expect(answers).to_have_count(before + 1)
    expect(page.get_by_role("heading", name="4E")).to_be_visible()
    expect(other.get_by_text("8 of 8 measured")).to_be_visible()


def test_valves_that_share_a_rocker_are_read_one_after_the_other(watched, server):
    page = watched
    base = started(server, "in-line four, four valves", METRIC, shares={"1E1": "4I1"})
    page.goto(f"{base}/measure/1E1")
    expect(page.get_by_text("1E1 shares a rocker with 4I1")).to_be_visible()
    page.keyboard.press("Enter")
    expect(page.get_by_role("heading", name="4I1")).to_be_visible()
    expect(page.get_by_text("4I1 shares a rocker with 1E1")).to_be_visible()


def test_as_left_is_read_apart_from_as_found(watched, server):
    page = watched
    page.goto(server.address + DEMO)
    follow_advice(page, gap_mm=0.21)
    page.keyboard.press("g")
    expect(page.get_by_text("4E is not measured yet as left", exact=False)).to_be_visible()
    follow_advice(page, gap_mm=0.275)
    expect(page.get_by_role("button", name=re.compile("valve 4E, in spec,"))).to_be_visible()
    page.keyboard.press("f")
    expect(page.get_by_role("button", name=re.compile("valve 4E, tight,"))).to_be_visible()
    # Judged by how it stands now.
    page.get_by_role("link", name="Assess").click()
    row = page.get_by_role("row", name=re.compile("^Measure 4E"))
    expect(row).to_contain_text("as left")
    expect(row).to_contain_text("leave: in spec")


@pytest.mark.parametrize(
    ("typed", "blades_mm", "felt"),
    [
        ("0.15", [0.15], "go"),
        ("0,15 D", [0.15], "drag"),
        (".15f", [0.15], "free"),
        ("0.08+0.05 mm d", [0.08, 0.05], "drag"),
        ("6 thou", [0.1524], "go"),
        ("0.006 in", [0.1524], "go"),
        ('.006"', [0.1524], "go"),
    ],
)
def test_what_stands_on_paper_is_understood_as_it_was_written(page, server, typed, blades_mm, felt):
    base = started(server, "single, two valves")
    page.goto(f"{base}/check-sheet")
    page.get_by_label("1I went in").fill(typed)
    page.get_by_role("button", name="Save 1 valve").click()
    question = page.get_by_role("button", name="Confirm value")
    assessed = page.get_by_role("heading", name="Assess", exact=True)
    expect(question.or_(assessed)).to_be_visible()
    if question.is_visible():
        question.click()
    expect(assessed).to_be_visible()
    engine = re.search(r"/engines/([^/]+)/", base)[1]
    record = get(f"{server.address}/api/engines/{engine}/record").json()
    reading = record["visits"][-1]["readings"][0]
    assert [(one["blades_mm"], one["felt"]) for one in reading["tries"]] == [(blades_mm, felt)]
    # As it was written stands beside the figure.
    plain = re.sub(r"\s*[dDfF]$", "", typed)
    assert reading["tries"][0]["entered"].startswith(plain)
