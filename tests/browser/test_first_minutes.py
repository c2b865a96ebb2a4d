"""The first five minutes: an empty workshop's four ways, the first engine by keyboard, the first visit."""

import re

import pytest
from playwright.sync_api import expect

from pronostico.record.models import GaugeSet
from pronostico.services.demonstration import MadeUp
from pronostico.store.blade_sets import shelve_blades
from pronostico.store.database import Database
from tests.browser.conftest import Server

# The keystroke-level model (Card, Moran and Newell, 1980): an average typist's key, and the thought before a
# field is filled in.
KEY_S, THOUGHT_S = 0.28, 1.35


@pytest.fixture
def empty_server(tmp_path):
    path = tmp_path / "empty.sqlite"
    Database(path).close()
    started = Server(path)
    yield started
    started.stop()


class Hands:
    """Works with the keyboard alone, and counts how long that takes."""

    def __init__(self, page):
        self.page, self.seconds = page, 0.0

    def press(self, key):
        self.page.keyboard.press(key)
        self.seconds += KEY_S

    def type(self, text):
        self.page.keyboard.type(text)
        self.seconds += KEY_S * len(text)

    def to(self, locator):
        """Tab on until something has the focus; decide what to do with it."""
        for _ in range(60):
            if locator.evaluate("one => one === document.activeElement"):
                self.seconds += THOUGHT_S
                return
            self.press("Tab")
        raise AssertionError(f"{locator} is not reached by the keyboard")


def test_an_empty_workshop_offers_four_ways(page, empty_server):
    page.goto(empty_server.address)
    ways = page.get_by_role("region", name="Four ways to begin")
    expect(ways.get_by_role("listitem")).to_have_count(4)
    expect(ways.get_by_role("button", name="Look around")).to_be_enabled()
    ways.get_by_role("link", name="Practise").press("Enter")
    expect(page.get_by_role("heading", level=1)).to_contain_text("Practice")
    page.go_back()
    # A notebook is of an engine: described first, its sheet is asked for next.
    ways.get_by_role("link", name="Import a notebook").press("Enter")
    page.get_by_label("Name", exact=True).fill("Old pump")
    page.get_by_label("Template").select_option(index=1)
    for side in ("Intake", "Exhaust"):
        group = page.get_by_role("group", name=f"{side}, cold")
        group.get_by_label("from").fill("0.15")
        group.get_by_label("to").fill("0.20")
    page.get_by_label("Check every").fill("200")
    page.get_by_label("Check every").press("Enter")
    expect(page).to_have_url(re.compile("/engines/old-pump/tables$"))


def test_the_first_engine_takes_under_two_minutes_by_keyboard(page, empty_server):
    page.goto(empty_server.address)
    hands = Hands(page)
    hands.to(page.get_by_role("link", name="Add engine").last)
    hands.press("Enter")
    expect(page.get_by_label("Name", exact=True)).to_be_focused()
    hands.type("Ice resurfacer 3")
    template = page.get_by_label("Template")
    # What stands before the name is one step back.
    before = template.evaluate(
        "one => one.compareDocumentPosition(document.activeElement) & Node.DOCUMENT_POSITION_FOLLOWING"
    )
    if before:
        for _ in range(10):
            if template.evaluate("one => one === document.activeElement"):
                break
            hands.press("Shift+Tab")
    hands.to(template)
    hands.press("ArrowDown")
    for side, figures in (("Intake", ("0.15", "0.20")), ("Exhaust", ("0.25", "0.30"))):
        group = page.get_by_role("group", name=f"{side}, cold")
        for label, figure in zip(("from", "to"), figures, strict=True):
            field = group.get_by_label(label)
            hands.to(field)
            hands.press("Control+a")
            hands.type(figure)
    hands.press("Enter")
    expect(page.get_by_role("heading", name="Ice resurfacer 3")).to_be_visible()
    assert hands.seconds < 120.0


def test_the_first_visit_points_at_what_matters_once(page, empty_server):
    with empty_server.writing() as session:
        shelve_blades(
            session, GaugeSet(id="bench", name="Bench set", blades_mm=[0.10, 0.15, 0.18, 0.20, 0.25])
        )
        session.commit()
    page.goto(f"{empty_server.address}/new-engine")
    page.get_by_label("Name", exact=True).fill("First")
    page.get_by_label("Template").select_option(index=1)
    for side in ("Intake", "Exhaust"):
        group = page.get_by_role("group", name=f"{side}, cold")
        group.get_by_label("from").fill("0.15")
        group.get_by_label("to").fill("0.20")
    page.get_by_label("Check every").fill("200")
    page.get_by_role("button", name="Save engine").press("Enter")
    page.get_by_role("button", name="New visit").press("Enter")
    dialog = page.get_by_role("dialog", name="New visit")
    dialog.get_by_label("Usage").or_(dialog.get_by_label("meter")).first.fill("100")
    dialog.get_by_role("button", name=re.compile("Start|Begin")).press("Enter")
    page.wait_for_url(re.compile("/visits/[^/]+/complaint"))
    # Where somebody goes by keyboard, the page is next, not the line above it.
    expect(page.get_by_role("main")).to_be_focused()
    expect(page.get_by_role("heading", name="Complaint", exact=True)).to_be_visible()
    page.keyboard.press("Tab")
    expect(page.get_by_role("link", name="Prepare", exact=True)).to_be_focused()
    page.goto(page.url.removesuffix("complaint") + "measure")
    page.get_by_role("button", name="Measure with Bench set").press("Enter")

    pointers = page.get_by_role("complementary", name="For your first visit")
    expect(pointers).to_contain_text("as found, before anything is touched")
    expect(page.locator(".pointed-at")).to_have_count(1)
    pointers.get_by_role("button", name="Go on").press("Enter")
    expect(pointers).to_contain_text("Three answers")
    # They are in nobody's way: answers are taken meanwhile.
    page.keyboard.press("2")
    page.reload()
    expect(pointers).to_contain_text("1 of 3")
    pointers.get_by_role("button", name="Skip").press("Enter")
    expect(pointers).to_have_count(0)
    page.reload()
    expect(page.get_by_role("group", name=re.compile("^Plan"))).to_be_visible()
    expect(pointers).to_have_count(0)


def test_the_made_up_workshop_says_so_on_every_page(page, server):
    server.app.state.made_up = MadeUp("http://127.0.0.1:9/")
    try:
        for address in ("/", "/bench", "/engines/resurfacer-1/visits/v8/measure"):
            page.goto(server.address + address)
            expect(page.get_by_text("made-up workshop")).to_be_visible()
            expect(page.get_by_role("link", name="Back to mine")).to_have_attribute(
                "href", "http://127.0.0.1:9/"
            )
    finally:
        server.app.state.made_up = None
