"""Measuring by voice: a microphone that plays a recording, the real recogniser behind it."""

import base64
import json
import re
import sys

import numpy as np
import pytest
from playwright.sync_api import expect

from tests.browser.started import METRIC, started
from tests.spoken import in_noise, pause, said

pytestmark = pytest.mark.browser
VIEW = {"width": 1280, "height": 800}


# The sound that a microphone gives, again and again; Chromium's own stand-in for one loses some of it where
# the machine is busy.
GIVES = """AudioContext.prototype.createMediaStreamSource = function () {
  const samples = new Int16Array(Uint8Array.from(atob('%s'), (c) => c.charCodeAt(0)).buffer)
  const source = this.createBufferSource()
  source.buffer = this.createBuffer(1, samples.length, 16_000)
  source.buffer.copyToChannel(Float32Array.from(samples, (one) => one / 32768), 0)
  source.loop = true
  source.start()
  return source
}"""


@pytest.fixture
def hearing(playwright, browser_type_launch_args):
    """Opens a page whose microphone hears what is given, again and again, in a workshop's noise."""
    opened = []

    def open_page(*phrases: str):
        parts = [part for phrase in phrases for part in (pause(3), said(f"feeler gauge, {phrase}"))]
        sound = in_noise(np.concatenate([*parts, pause(6)]), np.random.default_rng(3))
        browser = playwright.chromium.launch(
            **{
                **browser_type_launch_args,
                "args": [
                    *browser_type_launch_args["args"],
                    "--use-fake-device-for-media-stream",
                    "--use-fake-ui-for-media-stream",
                ],
            }
        )
        opened.append(browser)
        page = browser.new_page(viewport=VIEW, service_workers="block")
        page.add_init_script(GIVES % base64.b64encode(sound.astype("<i2").tobytes()).decode())
        return page

    yield open_page
    for browser in opened:
        browser.close()


def test_an_answer_is_heard_shown_and_stored(hearing, server):
    page = hearing("it drags")
    page.goto(f"{started(server, 'single, two valves', METRIC)}/measure/1E")
    page.get_by_role("button", name="Listen to me").click()
    expect(page.get_by_text(re.compile(r"1 exhaust: try \d"))).to_be_visible()
    # Said once in ten seconds; a machine that is busy may be late for the first.
    expect(page.get_by_text("“it drags”", exact=True)).to_be_visible(timeout=60_000)
    expect(page.get_by_label("Answers so far").get_by_text(re.compile("drags")).first).to_be_visible()
    page.keyboard.press("v")
    expect(page.get_by_role("button", name="Listen to me")).to_be_visible()


# Stands in for the recogniser: hears whatever lines come into a file, until its own input ends.
TOLD = """
import json, pathlib, sys, threading, time
sys.stdin.buffer.readline()
ended = threading.Event()
threading.Thread(target=lambda: (sys.stdin.buffer.read(), ended.set()), daemon=True).start()
print(json.dumps({"kind": "ready"}), flush=True)
told = 0
while not ended.is_set():
    lines = pathlib.Path(sys.argv[1]).read_text().splitlines()
    for line in lines[told:]:
        print(line, flush=True)
    told = len(lines)
    time.sleep(0.05)
"""


def test_a_valve_is_measured_without_a_hand_and_the_unlikely_is_asked_back(
    hearing, server, monkeypatch, tmp_path
):
    heard = tmp_path / "heard"
    heard.touch()
    monkeypatch.setattr("pronostico.voice.hearing.COMMAND", (sys.executable, "-c", TOLD, str(heard)))

    def say(name: str, text: str, blade_mm: float | None = None) -> None:
        command = {"kind": "command", "name": name, "text": text, "blade_mm": blade_mm}
        with heard.open("a") as file:
            file.write(json.dumps(command) + "\n")

    page = hearing("nothing of it")
    page.goto(f"{started(server, 'single, two valves', METRIC)}/measure/1E")
    page.get_by_role("button", name="Listen to me").click()
    expect(page.get_by_text("1 exhaust: try 0.28.")).to_be_visible()
    answers = page.get_by_label("Answers so far").get_by_role("listitem")
    say("no-go", "will not go")
    expect(
        page.get_by_text("Try 0.25.", exact=True).or_(page.get_by_text("try 0.25.", exact=True))
    ).to_be_visible()
    say("blade", "blade point two eight", 0.28)
    expect(page.get_by_role("radio", name=re.compile("^0.28 mm"))).to_be_checked()
    # The same blade that would not go: nothing is stored until it is said again.
    say("free", "slides freely")
    expect(page.get_by_text(re.compile("very unlikely by the answers so far"))).to_be_visible()
    expect(answers).to_have_count(1)
    say("free", "slides freely")
    expect(answers).to_have_count(2)
    say("undo", "take that off")
    expect(answers).to_have_count(1)
    say("next", "next valve")
    expect(page.get_by_role("region", name="Measuring valve 1I")).to_be_visible()
    say("skip", "skip this valve")
    say("stop", "stop listening")
    expect(page.get_by_role("button", name="Listen to me")).to_be_visible()
    page.goto(page.url.rsplit("/", 1)[0] + "/1I")
    expect(page.get_by_text("Skipped: skipped by voice, no reason given")).to_be_visible()


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
