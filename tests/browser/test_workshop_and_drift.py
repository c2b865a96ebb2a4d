"""The workshop page along time, the drift sheet, and what-if, driven in the real page."""

import csv
import io
import re

from playwright.sync_api import expect

ONE = "/engines/resurfacer-1"
TWO = "/engines/resurfacer-2"


def names(page):
    return page.get_by_role("list", name="Engines").get_by_role("link").filter(has_text=re.compile("^[A-Z]"))


def test_the_workshop_says_what_to_do_today_and_finds_by_typing(watched, server):
    page = watched
    page.goto(server.address)
    timeline = (
        page.get_by_role("list", name="Engines").get_by_role("listitem").filter(has_text="Ice resurfacer 1")
    )
    expect(timeline).to_contain_text("1E, 2E, 3E are out of spec")
    expect(timeline).to_contain_text("3E changed suddenly")
    expect(timeline.get_by_role("img").first).to_have_attribute(
        "aria-label", re.compile("8 visits, last on .* next check due now")
    )
    # What is due stands before what is not, by whatever name.
    expect(names(page).first).to_have_text("Ice resurfacer 1")
    expect(names(page).nth(1)).to_have_text("Snow groomer")
    page.get_by_label("sort by").select_option("name")
    expect(names(page).nth(1)).to_have_text("Ice resurfacer 2")

    page.get_by_label("Show").select_option("with an open case")
    expect(page.get_by_text("5 of 8 engines")).to_be_visible()
    page.get_by_label("Search engines").press_sequentially("kickback crank")
    expect(page.get_by_text("1 of 8 engines")).to_be_visible()
    expect(names(page).first).to_have_text("Snow thrower")
    # The choice is in the address.
    page.reload()
    expect(page.get_by_label("Search engines")).to_have_value("kickback crank")
    expect(page.get_by_text("1 of 8 engines")).to_be_visible()
    page.get_by_label("Search engines").fill("nothing of the kind")
    expect(page.get_by_text("No engine matches", exact=False)).to_be_visible()


def test_a_workshop_that_is_not_computed_yet_says_so_and_fills_in(page, server):
    with server.writing() as session:
        server.forget_results(session)
    page.goto(server.address)
    timeline = (
        page.get_by_role("list", name="Engines").get_by_role("listitem").filter(has_text="Ice resurfacer 1")
    )
    expect(timeline.get_by_text("calculating")).to_be_visible()
    expect(page.get_by_text(re.compile(r"Calculating \d of 8 engines"))).to_be_visible()
    expect(timeline).to_contain_text("1E, 2E, 3E are out of spec", timeout=60_000)
    expect(page.get_by_role("progressbar")).to_have_count(0, timeout=60_000)


def test_the_drift_sheet_opens_a_valve_large_and_says_what_it_rests_on(watched, server):
    page = watched
    page.goto(server.address + ONE)
    page.get_by_role("link", name="Drift sheet").click()
    expect(page.get_by_role("heading", name="Drift sheet: Ice resurfacer 1")).to_be_visible()
    charts = page.get_by_role("link", name=re.compile("valve .. large"))
    # In the places of the plan: exhausts above, front at the left.
    assert [chart.get_attribute("aria-label") for chart in charts.all()] == [
        *(f"valve {n}E large" for n in (1, 2, 3, 4)),
        *(f"valve {n}I large" for n in (1, 2, 3, 4)),
    ]
    row = page.get_by_role("row", name=re.compile("^3E "))
    expect(row).to_contain_text("tightening")
    expect(row).to_contain_text("v8, tighter")

    page.get_by_role("link", name="valve 3E large").press("Enter")
    large = page.get_by_role("dialog")
    expect(large.get_by_role("heading", name="Valve 3E: cylinder 3, exhaust")).to_be_visible()
    large.get_by_text("Basis of these figures").click()
    expect(large.get_by_text("15 readings at 8 visits", exact=False)).to_be_visible()
    told = large.get_by_role("row").filter(has_text="v8").filter(has_text="tighter")
    expect(told).to_have_count(1)
    expect(page).to_have_url(re.compile("/drift/3E$"))
    page.keyboard.press("Escape")
    expect(large).to_have_count(0)
    expect(page).to_have_url(re.compile("/drift$"))


def test_the_truth_of_the_demonstration_is_drawn_where_it_is_asked_for(watched, server):
    page = watched
    page.goto(f"{server.address}{TWO}/drift")
    truth = page.locator("title", has_text="simulated truth of the demonstration")
    expect(page.get_by_role("link", name="valve 1E large")).to_be_visible()
    expect(truth).to_have_count(0)
    page.get_by_label("show the simulated truth").click()
    expect(truth).to_have_count(8)


def test_both_tables_are_fetched_as_csv(watched, server):
    page = watched
    page.goto(f"{server.address}{TWO}/drift")
    for link, lines in (("Table (CSV)", 8), ("Readings (CSV)", 30)):
        with page.expect_download() as fetched:
            page.get_by_role("link", name=link).click()
        text = fetched.value.path().read_text("utf-8")
        assert len(list(csv.DictReader(io.StringIO(text)))) == lines


def test_what_if_is_answered_as_it_is_typed(page, server):
    page.goto(f"{server.address}{TWO}/valves/2E")
    page.get_by_label("2E adjusted to").fill("0,27")
    expect(page.get_by_text("At 0.27 mm: in spec", exact=False)).to_be_visible()
    page.get_by_label("The next check at").fill("1900")
    expect(page.get_by_text(re.compile(r"\d+\s% that a valve is out of spec by then"))).to_be_visible()
    page.get_by_label("A check every").fill("200")
    expect(page.get_by_text(re.compile(r"at 1\s690\sh: "))).to_be_visible()
    # What cannot be is said, and what was typed stays.
    page.get_by_label("The next check at").fill("12")
    expect(page.get_by_text("the last visit's", exact=False)).to_be_visible()
    expect(page.get_by_label("The next check at")).to_have_value("12")
    page.get_by_label("2E adjusted to").fill("a bit")
    expect(page.get_by_text("must be a number")).to_be_visible()


def test_a_new_meter_is_noted_and_taken_back(page, server):
    page.goto(f"{server.address}{TWO}/data")
    page.get_by_label("Last reading of the old meter").fill("1200")
    page.get_by_role("button", name="Save the change").click()
    expect(page.get_by_text("at the last visit it showed 1490")).to_be_visible()
    page.get_by_label("Last reading of the old meter").fill("1500")
    page.get_by_role("button", name="Save the change").click()
    expect(page.get_by_text("showed 1500 h, went on from 0", exact=False)).to_be_visible()
    page.get_by_role("button", name="undo").click()
    expect(page.get_by_text("showed 1500 h, went on from 0", exact=False)).to_have_count(0)


def test_an_engine_without_a_visit_says_what_to_do(page, server):
    with server.writing() as session:
        server.forget_visits(session, "quad")
    page.goto(f"{server.address}/engines/quad/drift")
    expect(page.get_by_text("No visits yet", exact=False)).to_be_visible()
    page.goto(server.address)
    timeline = page.get_by_role("list", name="Engines").get_by_role("listitem").filter(has_text="Piste quad")
    expect(timeline).to_contain_text("No visits yet: start with a first visit", timeout=60_000)
