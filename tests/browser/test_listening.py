"""Measuring by voice: a microphone that plays a recording, the real recogniser behind it."""

import json
import re
import sys
import wave

import httpx2
import numpy as np
import pytest
from playwright.sync_api import expect

from tests.browser.started import METRIC, started
from tests.spoken import in_noise, pause, said

pytestmark = pytest.mark.browser
VIEW = {"width": 1280, "height": 800}


@pytest.fixture
def hearing(playwright, browser_type_launch_args, tmp_path):
    """Opens a page whose microphone hears what is given, again and again, in a workshop's noise."""
    opened = []

    def open_page(*phrases: str):
        parts = [part for phrase in phrases for part in (pause(3), said(f"feeler gauge, {phrase}"))]
        sound = in_noise(np.concatenate([*parts, pause(4)]), np.random.default_rng(3))
        with wave.open(str(tmp_path / "said.wav"), "wb") as file:
            file.setnchannels(1)
            file.setsampwidth(2)
            file.setframerate(16_000)
            file.writeframes(sound.tobytes())
        browser = playwright.chromium.launch(
            **{
                **browser_type_launch_args,
                "args": [
                    *browser_type_launch_args["args"],
                    "--use-fake-device-for-media-stream",
                    "--use-fake-ui-for-media-stream",
                    f"--use-file-for-fake-audio-capture={tmp_path / 'said.wav'}",
                ],
            }
        )
        opened.append(browser)
        return browser.new_page(viewport=VIEW, service_workers="block")

    yield open_page
    for browser in opened:
        browser.close()


def test_an_answer_is_heard_shown_and_stored(hearing, server):
    page = hearing("it drags")
    page.goto(f"{started(server, 'single, two valves', METRIC)}/measure/1E")
    page.get_by_role("button", name="Listen to me").click()
    expect(page.get_by_text(re.compile(r"1 exhaust: try \d"))).to_be_visible()
    expect(page.get_by_text("“it drags”", exact=True)).to_be_visible()
    expect(page.get_by_label("Answers so far").get_by_text(re.compile("drags")).first).to_be_visible()
    page.keyboard.press("v")
    expect(page.get_by_role("button", name="Listen to me")).to_be_visible()


# Stands in for the recogniser: each time the page has said what comes next, it hears the next command.
TOLD = """
import sys, json, struct
said = iter(json.loads(sys.argv[1]))
sys.stdin.buffer.readline()
print(json.dumps({"kind": "ready"}), flush=True)
while len(head := sys.stdin.buffer.read(5)) == 5:
    kind, length = struct.unpack(">cI", head)
    sys.stdin.buffer.read(length)
    if kind == b"p" and (one := next(said, None)):
        name, text, blade = one
        print(json.dumps({"kind": "command", "name": name, "text": text, "blade_mm": blade}), flush=True)
"""


def test_a_valve_is_measured_without_a_hand_and_the_unlikely_is_asked_back(hearing, server, monkeypatch):
    said = [
        ("no-go", "will not go", None),
        ("blade", "blade point two eight", 0.28),
        # The same blade that would not go: nothing is stored until it is said again.
        ("free", "slides freely", None),
        ("free", "slides freely", None),
        ("undo", "take that off", None),
        ("repeat", "say again", None),
        ("next", "next valve", None),
        ("skip", "skip this valve", None),
        ("stop", "stop listening", None),
    ]
    monkeypatch.setattr("pronostico.voice.hearing.COMMAND", (sys.executable, "-c", TOLD, json.dumps(said)))
    page = hearing("nothing of it")
    page.goto(f"{started(server, 'single, two valves', METRIC)}/measure/1E")
    with page.expect_websocket() as opened:
        page.get_by_role("button", name="Listen to me").click()
    if not opened.value.is_closed():
        opened.value.wait_for_event("close")
    expect(page.get_by_role("button", name="Listen to me")).to_be_visible()
    visit = httpx2.get(f"{server.address}/api/engines/single-two-valves/visits/v1").json()
    exhaust, intake = (
        next(one for one in visit["valves"] if one["valve"] == valve)["found"] for valve in ("1E", "1I")
    )
    assert [(one["blades_mm"], one["felt"]) for one in exhaust["tries"]] == [([0.28], "no-go")]
    assert intake["skipped"] == "skipped by voice, no reason given"


def test_a_microphone_that_is_not_there_is_said_with_what_to_do(watched, server):
    page = watched
    page.add_init_script(
        "navigator.mediaDevices.getUserMedia = () =>"
        " Promise.reject(new DOMException('Requested device not found', 'NotFoundError'))"
    )
    page.goto(f"{started(server, 'single, two valves', METRIC)}/measure/1E")
    expect(page.get_by_role("button", name="Listen to me")).to_be_visible()
    page.keyboard.press("v")
    expect(page.get_by_role("alert")).to_contain_text("Not listening: no microphone is connected")
    # Measuring goes on as before.
    page.keyboard.press("k")
    expect(page.get_by_label("Answers so far").get_by_role("listitem")).to_have_count(1)


def test_a_machine_that_cannot_hear_says_what_it_lacks(watched, server, monkeypatch):
    monkeypatch.setattr("pronostico.voice.hearing.missing_package", lambda: "pocketsphinx")
    page = watched
    page.goto(f"{started(server, 'single, two valves', METRIC)}/measure/1E")
    page.get_by_role("button", name="Listen to me").click()
    expect(page.get_by_role("alert")).to_contain_text("'pocketsphinx' is not installed")
