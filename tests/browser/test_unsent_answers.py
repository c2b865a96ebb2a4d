"""Answers that could not be sent: each stays, is shown with its number, and is stored in the end."""

import re

import pytest
from playwright.sync_api import Page, Route, expect

from tests.browser.asking import get

pytestmark = pytest.mark.browser

PLACE = "/engines/resurfacer-1/visits/v8/measure/4E"
TRIES = "**/tries/**"


def opened(page: Page, server, valve: str = "4E") -> Page:
    page.goto(server.address + PLACE.replace("4E", valve))
    expect(page.get_by_role("heading", name=valve)).to_be_visible()
    return page


def stored(server, valve: str = "4E") -> list[str]:
    visit = get(f"{server.address}/api/engines/resurfacer-1/visits/v8").json()
    found = next(one for one in visit["valves"] if one["valve"] == valve)["found"]
    return [f"{one['blades_mm'][0]:.2f} {one['felt']}" for one in found["tries"]]


def answers(page: Page):
    return page.get_by_role("list", name="Answers so far").get_by_role("listitem")


def hold_blade(page: Page, figure: str) -> None:
    page.get_by_role("radio", name=re.compile(f"^{re.escape(figure)} mm")).click()


def all_sent(page: Page) -> None:
    expect(page.get_by_text("not sent yet", exact=False)).to_have_count(0)
    expect(page.get_by_role("button", name=re.compile("not sent$"))).to_have_count(0)


def test_one_request_refused_by_the_network_is_not_lost_when_the_next_one_arrives(page, server):
    """The first answer fails, the second goes through at once: both are stored, in their order."""
    opened(page, server)
    failed: list[str] = []

    def once(route: Route) -> None:
        if not failed:
            failed.append(route.request.url)
            route.abort("connectionreset")
        else:
            route.continue_()

    page.route(TRIES, once)
    hold_blade(page, "0.25")
    page.keyboard.press("j")
    hold_blade(page, "0.20")
    page.keyboard.press("j")
    expect(answers(page)).to_have_text(["0.25 mm won't go", "0.20 mm won't go"])
    all_sent(page)
    assert stored(server) == ["0.25 no-go", "0.20 no-go"]


def test_a_500_is_tried_again_until_it_is_stored(page, server):
    opened(page, server)
    count: list[int] = []

    def broken_twice(route: Route) -> None:
        count.append(1)
        if len(count) <= 2:
            route.fulfill(status=500, content_type="text/plain", body="damaged")
        else:
            route.continue_()

    page.route(TRIES, broken_twice)
    hold_blade(page, "0.25")
    page.keyboard.press("j")
    expect(page.get_by_text("One answer is kept here, not sent yet", exact=False)).to_be_visible()
    # On every page, not on this one alone.
    page.get_by_role("link", name="Prepare").click()
    expect(page.get_by_role("button", name="1 answer not sent")).to_be_visible()
    all_sent(page)
    assert stored(server) == ["0.25 no-go"] and len(count) >= 3


def test_two_tabs_keep_each_its_own(page, server, context):
    other = context.new_page()
    opened(page, server)
    opened(other, server, "1E")
    before = stored(server, "1E")
    context.route(TRIES, lambda route: route.abort())
    hold_blade(page, "0.25")
    page.keyboard.press("j")
    expect(page.get_by_text("One answer is kept here", exact=False)).to_be_visible()
    hold_blade(other, "0.35")
    other.keyboard.press("j")
    expect(other.get_by_text("2 answers are kept here", exact=False)).to_be_visible()
    context.unroute(TRIES)
    all_sent(page)
    all_sent(other)
    assert stored(server) == ["0.25 no-go"]
    assert stored(server, "1E") == [*before, "0.35 no-go"]


def test_closed_and_opened_again_what_waits_is_sent_from_any_page(page, server, context):
    opened(page, server)
    context.route(TRIES, lambda route: route.abort())
    hold_blade(page, "0.25")
    page.keyboard.press("j")
    expect(page.get_by_text("One answer is kept here", exact=False)).to_be_visible()
    page.close()
    context.unroute(TRIES)
    again = context.new_page()
    again.goto(server.address + "/bench")
    expect(again.get_by_role("heading", name="Bench")).to_be_visible()
    all_sent(again)
    opened(again, server)
    expect(answers(again)).to_have_text(["0.25 mm won't go"])
    assert stored(server) == ["0.25 no-go"]


def test_what_the_server_refuses_is_shown_with_its_reason_and_can_be_let_go(page, server):
    opened(page, server)
    problem = {
        "type": "urn:pronostico:problem:faulty-input",
        "title": "No such blade",
        "status": 422,
        "detail": "No such blade",
        "faults": [],
    }
    page.route(TRIES, lambda route: route.fulfill(status=422, json=problem))
    hold_blade(page, "0.25")
    page.keyboard.press("j")
    expect(page.get_by_text("but the server refused: No such blade", exact=False)).to_be_visible()
    page.unroute(TRIES)
    # The next answer is stored, and the refused one does not hold it up.
    hold_blade(page, "0.20")
    page.keyboard.press("j")
    expect(page.get_by_text("One answer is kept here", exact=False)).to_be_visible()
    page.get_by_role("button", name="Discard").click()
    expect(page.get_by_role("alert")).to_have_count(0)
    expect(answers(page)).to_have_text(["0.20 mm won't go"])
    assert stored(server) == ["0.20 no-go"]
