"""Served on the network: the first owner, a paired phone, and two people at one engine."""

import os
import re
import subprocess
import sys
from contextlib import contextmanager

import pytest
from playwright.sync_api import expect

from tests.browser.conftest import LIMIT_MS
from tests.served import free_port

pytestmark = pytest.mark.file_only
MEASURE = "/engines/resurfacer-1/visits/v8/measure/4E"


@pytest.fixture
def served_on_network(demo_path):
    """The address, and the code for the first owner."""
    port = free_port()
    server = subprocess.Popen(
        [
            *(sys.executable, "-m", "pronostico.cli", "serve", "--lan"),
            *("--port", str(port), "--database", str(demo_path)),
        ],
        stdout=subprocess.PIPE,
        text=True,
        env={**os.environ, "PYTHONUNBUFFERED": "1"},
    )
    assert server.stdout is not None
    code = None
    while code is None:
        line = server.stdout.readline()
        assert line
        code = line.split()[-1] if "with the code" in line else None
    yield f"https://localhost:{port}", code
    server.kill()
    server.wait()
    server.stdout.close()


@contextmanager
def device(browser, address, **how):
    """Another device's browser; that it knows the certificate's authority is not what is tried here."""
    context = browser.new_context(base_url=address, ignore_https_errors=True, reduced_motion="reduce", **how)
    context.set_default_timeout(LIMIT_MS)
    yield context.new_page()
    context.close()


def become_owner(page, code):
    page.get_by_label("Code").fill("WRONG-CODE")
    page.get_by_label("Name", exact=True).fill("Mira Sand")
    page.get_by_label("Password").fill("gasket blue winter")
    page.keyboard.press("Enter")
    expect(page.get_by_role("alert")).to_contain_text("the code is not the one")
    page.get_by_label("Code").fill(code)
    page.keyboard.press("Enter")


def at_work(page):
    return page.get_by_role("button", name=re.compile("^(At work|Who is at work)"))


def sign_out(page):
    at_work(page).click()
    page.get_by_role("menuitem", name=re.compile("^Sign out")).click()


def pair_for(page, name):
    """Add somebody without a password, and make a link for a device of theirs; what stands after 'pair'."""
    adding = page.locator("form").filter(has=page.get_by_role("button", name="Add person"))
    adding.get_by_label("Name").fill(name)
    adding.get_by_label("Password").fill("1234567890")
    page.keyboard.press("Enter")
    expect(adding.get_by_role("alert")).to_contain_text("first to be guessed")
    adding.get_by_label("Password").fill("")
    page.keyboard.press("Enter")
    expect(page.get_by_label(f"Role of {name}")).to_be_visible()
    page.get_by_label("For", exact=True).select_option(label=name)
    page.get_by_role("button", name="Pair a device").click()
    expect(page.get_by_alt_text("QR code of the pairing link")).to_be_visible()
    return page.get_by_text("/pair#").inner_text().split("/pair")[1]


def test_an_owner_begins_pairs_a_phone_and_sees_what_it_measures(browser, served_on_network):
    address, code = served_on_network
    with (
        device(browser, address, viewport={"width": 1280, "height": 800}) as desk,
        device(browser, address, viewport={"width": 390, "height": 844}, has_touch=True) as phone,
    ):
        desk.goto(MEASURE)
        become_owner(desk, code)
        # Where it was wanted to.
        expect(desk.get_by_role("button", name=re.compile("drags")).first).to_be_visible()
        desk.goto("/bench")
        link = pair_for(desk, "Ole Brand")

        phone.goto("/bench")
        expect(phone.get_by_role("heading", name="Sign in")).to_be_visible()
        phone.goto(f"/pair{link}")
        phone.get_by_label("Name of this device").fill("Ole's phone")
        phone.get_by_role("button", name="Pair").tap()
        expect(phone.get_by_role("heading", name="Workshop")).to_be_visible()

        with desk.expect_response(re.compile("/live")):
            desk.goto(MEASURE)
        phone.goto(MEASURE)
        phone.get_by_role("button", name=re.compile("won't go")).first.tap()
        expect(desk.get_by_text("(Ole's phone): feeler answer")).to_be_visible()
        desk.goto("/engines/resurfacer-1/changes")
        expect(desk.get_by_role("row").nth(1)).to_contain_text("Ole Brand")
        expect(desk.get_by_role("row").nth(1)).to_contain_text("felt no-go")

        # What is an owner's is not on a technician's Bench; a device that is signed out is out at once.
        phone.goto("/bench")
        expect(phone.get_by_role("heading", name="Phones and tablets")).to_be_visible()
        expect(phone.get_by_role("heading", name="People")).to_have_count(0)
        desk.goto("/bench")
        line = desk.get_by_role("listitem").filter(has_text="Ole's phone")
        line.get_by_role("button", name="Sign out").click()
        expect(line).to_have_count(0)
        phone.goto(MEASURE)
        expect(phone.get_by_role("heading", name="Sign in")).to_be_visible()
        # The same link leads nowhere any more, and says what to do.
        phone.goto(f"/pair{link}")
        phone.get_by_role("button", name="Pair").tap()
        expect(phone.get_by_role("alert")).to_contain_text("this link has been used")

        # Who could not be signed out is told so.
        desk.goto("/")
        expect(at_work(desk)).to_be_visible()
        desk.route(
            "**/api/session",
            lambda route: route.abort() if route.request.method == "DELETE" else route.continue_(),
        )
        sign_out(desk)
        expect(desk.get_by_role("alert")).to_contain_text("Not signed out: try again")
        desk.unroute("**/api/session")
        sign_out(desk)
        expect(desk.get_by_role("heading", name="Sign in")).to_be_visible()


def test_a_name_typed_while_the_last_one_is_being_stored_stays_and_is_the_next(page, server):
    page.goto(f"{server.address}/bench")
    held: list = []
    page.route("**/api/people/*", lambda route: held.append(route))  # noqa: PLW0108  Playwright wants a function
    name = page.get_by_label("Full name")
    name.fill("Mira Sand")
    with page.expect_request("**/api/people/*"):
        page.keyboard.press("Enter")
    name.fill("Ole Brand")
    with page.expect_request("**/api/people/*"):
        page.keyboard.press("Enter")
    for route in held:
        route.continue_()
    for stored in ("Mira Sand", "Ole Brand"):
        expect(page.get_by_label(f"Role of {stored}")).to_be_visible()
    expect(name).to_have_value("")


def test_on_this_machine_alone_a_shared_tablet_is_handed_on_with_one_tap(page, server):
    page.goto(f"{server.address}/bench")
    adding = page.locator("form").filter(has=page.get_by_role("button", name="Add person"))
    expect(adding.get_by_label("Password")).to_have_count(0)
    for name in ("Mira Sand", "Ole Brand"):
        adding.get_by_label("Name").fill(name)
        page.keyboard.press("Enter")
        expect(page.get_by_label(f"Role of {name}")).to_be_visible()
    page.get_by_role("button", name="Who is at work?").click()
    page.get_by_role("menuitem", name="Ole Brand").click()
    expect(page.get_by_role("button", name="At work: Ole Brand")).to_be_visible()
    page.goto(f"{server.address}{MEASURE}")
    page.get_by_role("button", name=re.compile("drags")).first.click()
    page.goto(f"{server.address}/engines/resurfacer-1/changes")
    expect(page.get_by_role("row").nth(1)).to_contain_text("Ole Brand")
    expect(page.get_by_role("row").nth(1)).to_contain_text("this machine")
