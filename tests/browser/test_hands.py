"""Measuring without looking and without a clean finger: tones, vibration, and keys of a foot switch."""

import re

import pytest
from playwright.sync_api import expect

from tests.browser.hands import follow_advice
from tests.browser.started import METRIC, started

pytestmark = pytest.mark.browser

# What the device would sound and how it would shake, in order.
NOTED = """
    window.told = [];
    const start = OscillatorNode.prototype.start;
    OscillatorNode.prototype.start = function (when) {
        told.push(this.frequency.value);
        start.call(this, when);
    };
    navigator.vibrate = (pattern) => { told.push(pattern.length); return true; };
"""


@pytest.fixture
def noting(watched):
    watched.add_init_script(NOTED)
    return watched


def told(page) -> list[float]:
    return page.evaluate("window.told")


@pytest.mark.parametrize(("gap_mm", "signal"), [(0.27, [660, 990, 1]), (0.08, [880, 440, 3])])
def test_a_decided_valve_is_heard_and_felt_once(noting, server, gap_mm, signal):
    page = noting
    page.goto(f"{started(server, 'single, two valves', METRIC)}/measure/1E")
    follow_advice(page, gap_mm=gap_mm)
    page.wait_for_function("told.length > 0")
    assert told(page) == pytest.approx(signal)
    # Come to again, it says nothing.
    page.reload()
    expect(page.get_by_text(re.compile(r"Decided\."))).to_be_visible()
    assert told(page) == []


def test_the_bench_turns_them_off_and_puts_the_answers_on_other_keys(noting, server):
    page = noting
    page.goto(f"{server.address}/bench")
    page.get_by_label("Tones").uncheck()
    page.get_by_label("Vibration").uncheck()
    for name, key in [("won't go", "PageUp"), ("slides freely", "PageDown"), ("next valve", " ")]:
        page.get_by_role("button", name=f"{name}: choose a key").click()
        page.keyboard.press(key)
    expect(page.get_by_role("button", name="next valve: Space")).to_be_visible()
    page.get_by_role("button", name="drags: choose a key").click()
    page.keyboard.press("Shift")
    expect(page.get_by_text("Shift is needed by the browser")).to_be_visible()
    page.keyboard.press("Escape")
    page.goto(f"{started(server, 'single, two valves', METRIC)}/measure")
    section = page.get_by_role("region", name="Measuring valve")
    valve = section.get_by_role("heading").inner_text()
    page.keyboard.press("PageUp")
    expect(section.get_by_role("listitem").first).to_contain_text("won't go")
    page.keyboard.press("PageDown")
    expect(section.get_by_role("listitem").nth(1)).to_contain_text("slides freely")
    page.keyboard.press(" ")
    expect(section.get_by_role("heading")).not_to_have_text(valve)
    assert told(page) == []
