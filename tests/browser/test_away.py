"""Away from the server: the application opens, a visit goes on, and all of it arrives once, in order."""

import re
import time

import httpx2
import pytest
from PIL import Image
from playwright.sync_api import Page, expect

from tests.browser.asking import get
from tests.browser.conftest import LIMIT_MS
from tests.browser.hands import choose
from tests.browser.wire import Wire

pytestmark = pytest.mark.browser

ENGINE = "/engines/resurfacer-1"
VISIT = f"{ENGINE}/visits/v8"
AWAY = "The server does not answer."

KEPT = """new Promise((resolve) => {
    const opening = indexedDB.open('pronostico.outbox');
    opening.onsuccess = () => {
        const counting = opening.result.transaction('waiting').objectStore('waiting').count();
        counting.onsuccess = () => { opening.result.close(); resolve(counting.result); };
    };
})"""
SEEN = "caches.open('seen').then((seen) => seen.keys()).then((all) => all.map(({ url }) => url))"


def until(is_so, most_s: float = LIMIT_MS / 1000) -> None:
    """Wait until something is so."""
    end = time.monotonic() + most_s
    while not is_so():
        assert time.monotonic() < end, "it never came to be"
        time.sleep(0.2)


@pytest.fixture
def wire(server):
    made = Wire(server.port)
    yield made
    made.cut()


@pytest.fixture
def phone(browser, browser_context_args, wire):
    """A telephone of its own, on which the application is installed: its pages and a visit were seen once."""
    context = browser.new_context(**{**browser_context_args, "service_workers": "allow"})
    context.set_default_timeout(LIMIT_MS)
    page = context.new_page()
    page.goto(wire.address + VISIT + "/measure/4E")
    page.evaluate("navigator.serviceWorker.ready")
    # From now on what the page asks for passes through the worker.
    page.reload()
    # What the steps need is fetched after a while, the notebook of the case last.
    until(lambda: any(url.endswith("/notebook") for url in page.evaluate(SEEN)))
    yield context
    context.close()


def opened(phone, wire, path: str) -> Page:
    page = phone.new_page()
    page.goto(wire.address + path)
    return page


def visit_of(server) -> dict:
    return get(f"{server.address}/api{VISIT}").json()


def all_sent(page: Page) -> None:
    # Nothing is kept any more, on this page or for the next.
    until(lambda: page.evaluate(KEPT) == 0)
    expect(page.get_by_role("button", name=re.compile("not sent$"))).to_have_count(0)
    expect(page.get_by_text(AWAY)).to_have_count(0)


def test_it_opens_without_the_server_and_shows_what_was_last_seen(phone, wire):
    wire.cut()
    page = opened(phone, wire, VISIT + "/measure/4E")
    expect(page.get_by_text(AWAY)).to_be_visible()
    expect(page.get_by_text("Shown is what this device last saw")).to_be_visible()
    expect(page.get_by_role("heading", name="4E")).to_be_visible()
    page.get_by_role("link", name="Workshop").click()
    expect(page.get_by_role("link", name=re.compile("Ice resurfacer 1")).first).to_be_visible()
    wire.reconnect()
    expect(page.get_by_text(AWAY)).to_have_count(0)


def test_a_visit_goes_on_through_its_steps_and_all_arrives_once(phone, wire, server, tmp_path):
    seat = tmp_path / "seat.jpg"
    Image.new("RGB", (300, 200), "sienna").save(seat)
    page = opened(phone, wire, VISIT + "/complaint")
    expect(page.get_by_role("heading", name="Complaint", exact=True)).to_be_visible()
    wire.cut()
    # A finding, an answer, a note of the visit, an item ticked off, a photograph.
    row = (
        page.get_by_role("group").filter(has=page.get_by_role("radio", name="not asked", checked=True)).first
    )
    finding = row.locator("legend").inner_text()
    # A radio of its own size cannot be pressed; its label is.
    row.get_by_text("yes", exact=True).click()
    expect(page.get_by_role("button", name="1 change not sent")).to_be_visible()
    page.get_by_role("link", name="Measure").click()
    page.get_by_role("radio", name=re.compile(r"^0\.25 mm")).click()
    page.keyboard.press("j")
    expect(page.get_by_role("button", name="2 changes not sent")).to_be_visible()
    page.get_by_role("link", name="Verify").click()
    # Measure, which is still shown on a busy machine, has a box too.
    expect(page.get_by_role("heading", name="Close up and verify")).to_be_visible()
    choose(page.get_by_role("checkbox").first)
    page.get_by_role("button", name="Add a photo").click()
    box = page.get_by_role("dialog")
    box.get_by_label("Caption", exact=True).fill("seat of 4E")
    box.get_by_label("Photo from a file").set_input_files(seat)
    # It is there to be looked at, from this device.
    expect(box.get_by_role("img", name="seat of 4E")).to_have_attribute("src", re.compile("^blob:"))
    page.keyboard.press("Escape")
    expect(page.get_by_role("button", name="4 changes not sent")).to_be_visible()
    # The browser is closed, and opened again while there is still no server: all of it is there and shown.
    page.close()
    page = opened(phone, wire, VISIT + "/verify")
    expect(page.get_by_role("checkbox").first).to_be_checked()
    page.get_by_role("button", name="4 changes not sent").click()
    lines = page.get_by_role("dialog").get_by_role("listitem")
    expect(lines).to_have_count(4)
    expect(lines.nth(1)).to_contain_text("4E: 0.25 mm won't go")
    expect(lines.nth(3)).to_contain_text("photo: seat of 4E")
    page.keyboard.press("Escape")
    page.get_by_role("link", name="Complaint").click()
    expect(
        page.get_by_role("group", name=finding, exact=True).get_by_role("radio", name="yes")
    ).to_be_checked()
    before = visit_of(server)
    wire.reconnect()
    all_sent(page)
    after = visit_of(server)
    assert len(after["findings"]) == len(before["findings"]) + 1
    (tried,) = next(one for one in after["valves"] if one["valve"] == "4E")["found"]["tries"]
    assert (tried["blades_mm"], tried["felt"]) == ([0.25], "no-go")
    (photo,) = get(f"{server.address}/api{VISIT}/photographs").json()
    assert photo["text"] == "seat of 4E"
    ticks = get(f"{server.address}/api{VISIT}/verification").json()["ticks"]
    assert ticks[0]["done"]


def test_a_note_and_an_adjustment_wait_and_are_offered_no_second_time(phone, wire, server):
    page = opened(phone, wire, ENGINE + "/cases/c1")
    expect(page.get_by_label(re.compile("A note, or a caption"))).to_be_visible()
    wire.cut()
    page.get_by_label(re.compile("A note, or a caption")).fill("seat looks sunk")
    page.get_by_role("button", name="Add note").click()
    expect(page.get_by_role("listitem").filter(has_text="seat looks sunk")).to_be_visible()
    page.close()
    page = opened(phone, wire, VISIT + "/adjust")
    row = page.get_by_role("listitem").filter(has=page.get_by_text("2E", exact=True)).first
    row.get_by_role("button", name="Mark as adjusted").click()
    expect(row.get_by_text("kept on this device, not sent yet")).to_be_visible()
    page.reload()
    expect(row.get_by_text("kept on this device, not sent yet")).to_be_visible()
    expect(row.get_by_role("button", name="Mark as adjusted")).to_have_count(0)
    wire.reconnect()
    all_sent(page)
    expect(row.get_by_text(re.compile("Done: adjusted to"))).to_be_visible()
    notes = get(f"{server.address}/api{ENGINE}/cases/c1/notebook").json()
    assert [one["text"] for one in notes] == ["seat looks sunk"]
    settings = get(f"{server.address}/api{VISIT}/setting").json()["settings"]
    assert [one["valve"] for one in settings].count("2E") == 1


def test_what_a_second_device_changed_meanwhile_is_not_overwritten(phone, wire, server):
    page = opened(phone, wire, VISIT + "/tests")
    dry = page.get_by_label("dry, cylinder 2")
    expect(dry).to_be_visible()
    wire.cut()
    dry.fill("990")
    dry.press("Enter")
    expect(page.get_by_role("button", name="1 change not sent")).to_be_visible()
    # Another device reaches the server, and enters another figure.
    path = f"{server.address}/api{VISIT}/tests/cylinders/2"
    stored = get(f"{server.address}/api{VISIT}/tests").json()
    fields = next(one for one in stored["cylinders"] if one["cylinder"] == 2)
    body = {key: fields[key] for key in ("dry_kpa", "wet_kpa", "leak_percent") if key in fields}
    answer = httpx2.put(
        path,
        json={**body, "dry_kpa": 1050, "was": body, "confirmed": []},
        headers={"Origin": server.address},
    )
    assert answer.status_code == 200, answer.text
    wire.reconnect()
    page.get_by_role("button", name="1 change not sent").click()
    expect(page.get_by_role("dialog")).to_contain_text("Refused")
    expect(page.get_by_role("dialog")).to_contain_text("has been changed to 1050")
    page.get_by_role("button", name=re.compile("^Discard")).click()
    page.get_by_role("button", name=re.compile("^Confirm: discard")).click()
    expect(page.get_by_role("button", name=re.compile("not sent$"))).to_have_count(0)
    page.reload()
    expect(page.get_by_label("dry, cylinder 2")).to_have_value("1050")


def test_the_application_is_installable_and_small(server):
    manifest = get(f"{server.address}/manifest.webmanifest")
    assert manifest.headers["content-type"].startswith("application/manifest+json")
    for icon in manifest.json()["icons"]:
        assert get(server.address + icon["src"]).headers["content-type"] == "image/png"
    worker = get(f"{server.address}/sw.js")
    assert worker.headers["cache-control"] == "no-cache"
    kept = set(re.findall(r'"?url"?:"([^"]+)"', worker.text))
    assert "index.html" in kept and len(kept) > 20
    sizes = [len(get(f"{server.address}/{url.lstrip('/')}").content) for url in kept]
    assert sum(sizes) < 3_000_000
