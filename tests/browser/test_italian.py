"""The pages in Italian: nothing of them stays English, figures have a comma, and one choice goes back."""

import re

import pytest
from playwright.sync_api import expect

ENGINE = "/engines/resurfacer-1"
VISIT = f"{ENGINE}/visits/v8"
# Words that no Italian sentence has.
ENGLISH = re.compile(
    r"\b(the|of|and|is|are|not|with|from|was|were|this|that|which|under|valves?|yet|should|has"
    r"|already|tighter|looser|cylinder|wear|shown)\b"
)
# What people of the made-up workshop wrote, and what is said to the recogniser.
WRITTEN = re.compile(
    r"valve cover|pump engine|garage opens|four cylinders|come to a stop|middle outwards|feeler gauge"
)
TEXTS = """() => {
    const found = []
    const walker = document.createTreeWalker(document.body, NodeFilter.SHOW_TEXT)
    while (walker.nextNode()) found.push(walker.currentNode.textContent.trim())
    for (const one of document.querySelectorAll('[aria-label], [title], [placeholder]'))
        for (const name of ['aria-label', 'title', 'placeholder']) found.push(one.getAttribute(name) ?? '')
    return found
}"""


@pytest.fixture(scope="session")
def browser_context_args(browser_context_args):
    return {**browser_context_args, "locale": "it-IT"}


def english_on(page):
    return [one for one in page.evaluate(TEXTS) if ENGLISH.search(one) and not WRITTEN.search(one)]


@pytest.mark.parametrize(
    ("path", "heading"),
    [
        ("/", "Officina"),
        ("/week", "La settimana"),
        ("/bench", "Banco"),
        ("/bench/practice", "Motore di esercizio"),
        ("/handbook", "Manuale"),
        (ENGINE, "Ice resurfacer 1"),
        (f"{ENGINE}/drift", "Foglio di deriva: Ice resurfacer 1"),
        (f"{ENGINE}/compare", "Confrontare"),
        (f"{ENGINE}/valves/3E/life", "Valvola 3E"),
        (f"{ENGINE}/cases/c1", "Si spegne al minimo"),
        (f"{VISIT}/complaint", "Difetto"),
        (f"{VISIT}/prepare", "Preparazione"),
        (f"{VISIT}/inspect", "Ispezione"),
        (f"{VISIT}/position", "Posizione"),
        (f"{VISIT}/assess", "Valutazione"),
        (f"{VISIT}/adjust", "Registrazione"),
        (f"{VISIT}/verify", "Verifica"),
        (f"{VISIT}/tests", "Misure e prove"),
        (f"{VISIT}/instruments", "Strumenti"),
        (f"{VISIT}/sound", "Suono"),
    ],
)
def test_nothing_of_a_page_stays_english(page, server, path, heading):
    page.goto(f"{server.address}{path}")
    expect(page.get_by_role("heading", name=heading, exact=False, level=1).first).to_be_visible()
    page.wait_for_load_state("networkidle")
    assert page.evaluate("document.documentElement.lang") == "it"
    assert english_on(page) == []


def test_a_valve_is_measured_in_italian_on_one_screen(page, server):
    page.goto(f"{server.address}{VISIT}/measure?valve=4E")
    page.get_by_role("button", name="non entra").click()
    expect(page.get_by_text("0,23 mm").first).to_be_visible()
    assert english_on(page) == []
    height = page.evaluate("document.documentElement.scrollHeight")
    assert height <= 800
    # A comma is taken as it is shown.
    page.keyboard.press("b")
    page.keyboard.type("0,13-0,15")
    page.keyboard.press("Enter")
    expect(page.get_by_text(re.compile("0,1[345]")).first).to_be_visible()


def test_the_language_is_chosen_at_the_bench_and_stays(page, server):
    page.goto(f"{server.address}/bench")
    page.get_by_label("Lingua").select_option("English")
    expect(page.get_by_role("heading", name="Bench", level=1)).to_be_visible()
    page.goto(f"{server.address}{VISIT}/complaint")
    expect(page.get_by_role("heading", name="Complaint", level=1)).to_be_visible()
    expect(page.get_by_text("ticking", exact=True).first).to_be_visible()
    page.goto(f"{server.address}/bench")
    page.get_by_label("Language").select_option("Italiano")
    expect(page.get_by_role("heading", name="Banco", level=1)).to_be_visible()
