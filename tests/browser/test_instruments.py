"""Instruments on the page: drawn as they come, stopped, lost, replayed, and taken into the record."""

import re

from playwright.sync_api import expect

from tests.browser.asking import post

PAGE = "/engines/resurfacer-1/visits/v8/instruments"


def test_a_trace_is_stopped_questioned_taken_and_seen_by_the_tests(watched, server):
    page = watched
    page.goto(server.address + "/engines/resurfacer-1/visits/v8/tests")
    page.get_by_role("link", name="Instruments").click()
    page.get_by_label("instrument", exact=True).select_option("compression")
    page.get_by_label("cylinder", exact=True).select_option("2")
    page.get_by_role("button", name="Start", exact=True).click()
    chart = page.get_by_role("img", name=re.compile(r"^pressure, \d{2} samples"))
    expect(chart).to_be_visible()
    page.get_by_role("button", name="Stop").click()
    expect(page.get_by_role("status")).to_contain_text("stopped after")
    expect(page.get_by_text(re.compile(r"Incomplete: only \d strokes"))).to_be_visible()
    page.get_by_role("button", name="Start", exact=True).click()
    expect(page.get_by_role("status")).to_contain_text("96 samples, to the end")
    page.get_by_role("button", name="Import into the record", exact=True).click()
    expect(page.get_by_text("Imported, marked as simulated.")).to_be_visible()
    # What is kept is there after a reload.
    page.reload()
    expect(page.get_by_text("Imported, marked as simulated.")).to_be_visible()
    page.get_by_role("link", name="Measurements and tests").click()
    expect(page.get_by_label("dry, cylinder 2")).to_have_value(re.compile(r"^\d{3,4}$"))


def test_a_lost_instrument_is_said_and_a_file_replayed(page, server, tmp_path):
    page.goto(server.address + PAGE)
    page.get_by_label("instrument", exact=True).select_option("leakdown")
    page.get_by_label("simulator").select_option("lost")
    page.get_by_role("button", name="Start", exact=True).click()
    expect(page.get_by_role("status")).to_contain_text("What came so far is kept: 15")
    expect(page.get_by_text(", signal lost")).to_be_visible()
    recorded = tmp_path / "leak.csv"
    recorded.write_text("at_s,lost_percent\n" + "".join(f"{n / 10},{12 + n % 2}\n" for n in range(40)))
    page.get_by_label("A recorded trace").set_input_files(recorded)
    expect(page.get_by_text("leak.csv: 40 samples, to the end.")).to_be_visible()
    wrong = tmp_path / "wrong.csv"
    wrong.write_text("time,pressure\n0,1\n")
    page.get_by_label("A recorded trace").set_input_files(wrong)
    expect(page.get_by_role("alert")).to_contain_text("no column at_s, lost_percent")


def test_an_instrument_that_cannot_begin_says_why(page, server):
    record = page.request.get(server.address + "/api/engines/resurfacer-1/record").json()
    record["engine"].update(id="no-order", name="No order", firing_order=None)
    assert post(server.address + "/api/records", json=record).status_code == 201
    page.goto(server.address + "/engines/no-order/visits/v8/instruments")
    page.get_by_role("button", name="Start", exact=True).click()
    expect(page.get_by_role("status")).to_contain_text("firing order")
