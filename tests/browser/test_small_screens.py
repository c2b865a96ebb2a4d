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
    "sound",
)
PAGES = (
    "/",
    "/bench",
    "/bench/forecasts",
    "/bench/practice",
    "/bench/bin",
    "/bench/orders",
    "/customers",
    "/handbook",
    "/handbook/method",
    "/new-engine",
    ENGINE,
    f"{ENGINE}/data",
    f"{ENGINE}/cost-estimate",
    "/week",
    f"{ENGINE}/compare",
    f"{ENGINE}/valves/3E/life",
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
# Whose tables have a form of their own on a phone: a card a row, nothing beyond the edge.
CARDS = (ENGINE, f"{ENGINE}/drift", f"{VISIT}/assess")
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


def test_tables_become_cards_on_a_phone(page, reading_server):
    page.set_viewport_size({"width": 390, "height": 844})
    for path in CARDS:
        page.goto(reading_server.address + path)
        table = page.locator("table.cards-when-narrow").first
        expect(table).to_be_visible()
        beyond = page.evaluate(
            "[...document.querySelectorAll('.cards-when-narrow td')]"
            ".filter((cell) => cell.getBoundingClientRect().right > innerWidth).length"
        )
        assert beyond == 0, path
    # A figure stands beside what it is called.
    page.goto(f"{reading_server.address}{ENGINE}/drift")
    trend = page.locator("td[data-label='trend']").first
    expect(trend).to_have_text("steady")
    label = trend.evaluate("(cell) => getComputedStyle(cell, '::before').content")
    assert label == '"trend"'
    page.set_viewport_size({"width": 1280, "height": 800})
    assert trend.evaluate("(cell) => getComputedStyle(cell, '::before').content") == "none"


def within_reach(page, name):
    """A button that is on the screen as it is, without scrolling."""
    button = page.get_by_role("button", name=name, exact=True)
    box = button.bounding_box()
    assert box["y"] > 844 / 2 and box["y"] + box["height"] <= 844
    return button, box


def test_measuring_with_one_thumb(page, server):
    page.set_viewport_size({"width": 390, "height": 844})
    page.goto(f"{server.address}{VISIT}/measure")
    expect(page.get_by_text("recommended", exact=False).first).to_be_in_viewport()
    for answer in ("won't go", "drags", "slides freely"):
        _, box = within_reach(page, answer)
        assert min(box["height"], box["width"]) >= 64
    undo, _ = within_reach(page, "Undo")
    expect(undo).to_be_disabled()
    within_reach(page, "drags")[0].click()
    expect(undo).to_be_enabled()
    within_reach(page, "Next valve")
    undo.click()
    expect(undo).to_be_disabled()
    # Keys that nobody has there are not spoken of.
    expect(page.get_by_text("J or 1")).to_be_hidden()


def test_deciding_on_a_phone(page, server):
    page.set_viewport_size({"width": 390, "height": 844})
    page.goto(f"{server.address}{VISIT}/assess")
    decision = page.get_by_role("group", name="Decision for 1E")
    for one in decision.get_by_role("button").all():
        box = one.bounding_box()
        assert box["height"] >= 56 and box["x"] >= 0 and box["x"] + box["width"] <= 390
    decision.get_by_role("button", name="adjust").click()
    expect(decision.get_by_role("button", name="adjust")).to_have_attribute("aria-pressed", "true")
