"""No page scrolls sideways on a phone, a tablet or at twice the size, and the top line folds."""

from playwright.sync_api import expect

ENGINE = "/engines/resurfacer-1"
VISIT = f"{ENGINE}/visits/v8"
STEPS = (
    "complaint",
    "prepare",
    "inspect",
    "position",
    "measure",
    "assess",
    "adjust",
    "verify",
    "tests",
    "card",
    "instruments",
)
PAGES = (
    "/",
    "/bench",
    "/bench/forecasts",
    "/bench/practice",
    "/handbook",
    "/handbook/method",
    "/new-engine",
    ENGINE,
    f"{ENGINE}/data",
    f"{ENGINE}/drift",
    f"{ENGINE}/drift/3E",
    f"{ENGINE}/valves/3E",
    f"{ENGINE}/tables",
    f"{ENGINE}/sheet",
    f"{VISIT}/check-sheet",
    f"{ENGINE}/cases/c1",
    "/engines/snowmobile",
    "/engines/snowmobile/visits/v4/adjust",
    *(f"{VISIT}/{step}" for step in STEPS),
)
# A phone, a tablet, and 1280 pixels at twice the size.
SCREENS = ((390, 844), (820, 1180), (640, 400))


def test_no_page_scrolls_sideways(page, reading_server):
    wide = {}
    for path in PAGES:
        page.set_viewport_size({"width": SCREENS[0][0], "height": SCREENS[0][1]})
        page.goto(reading_server.address + path)
        expect(page.get_by_role("heading").first).to_be_visible()
        page.wait_for_load_state("networkidle")
        for width, height in SCREENS:
            page.set_viewport_size({"width": width, "height": height})
            wide[path, width] = page.evaluate("document.documentElement.scrollWidth")
    assert {one: found for one, found in wide.items() if found > one[1]} == {}


def test_the_top_line_folds_on_a_phone_and_closes_at_the_next_place(page, reading_server):
    page.set_viewport_size({"width": 390, "height": 844})
    page.goto(reading_server.address + "/")
    bench = page.get_by_role("link", name="Bench", exact=True)
    expect(bench).to_be_hidden()
    page.get_by_role("button", name="Menu").click()
    expect(page.get_by_role("button", name="Help for this page")).to_be_visible()
    bench.click()
    expect(page.get_by_role("heading", name="Bench", exact=True)).to_be_visible()
    expect(bench).to_be_hidden()
    page.get_by_role("button", name="Menu").press("Enter")
    expect(bench).to_be_visible()
    page.keyboard.press("Escape")
    expect(bench).to_be_hidden()
