"""Takes the pictures in docs/screenshots from the demonstration, one for each main view."""

import shutil
import tempfile
import threading
from datetime import UTC, date, datetime
from pathlib import Path

import uvicorn
from playwright.sync_api import Page, sync_playwright

from pronostico.api.app import create_app
from pronostico.demo.seed import seed_demo
from pronostico.serving import WebServer, bind
from pronostico.settings import Settings
from pronostico.store.database import Database

FOLDER = Path(__file__).parents[1] / "docs" / "screenshots"
ENGINE = "/engines/resurfacer-1"


def _measured(page: Page) -> None:
    for key in "jjk":
        page.keyboard.press(key)
        page.wait_for_timeout(400)


def _computed(page: Page) -> None:
    page.get_by_text("Basis of these figures").wait_for()


def _described(page: Page) -> None:
    page.get_by_label("Template").select_option(index=7)
    page.get_by_label("Name", exact=True).fill("Sawmill engine")
    page.get_by_role("button", name="cylinder 3, exhaust").first.click()
    page.wait_for_timeout(300)


def _seen(page: Page) -> None:
    plan = page.get_by_role("group", name="Plan of the head, what was found")
    plan.get_by_role("button", name="valve 3E").click()
    group = page.get_by_role("group", name="no play at the rocker")
    group.get_by_role("radio", name="yes", exact=True).press("Space")
    page.wait_for_timeout(300)
    page.evaluate("document.activeElement.blur()")


def _against(page: Page) -> None:
    page.get_by_label("gaps for").select_option("Ice resurfacer 1")
    page.wait_for_timeout(400)


def _locked(page: Page) -> None:
    for name in ("Mark as adjusted", "won't go", "drags"):
        page.get_by_role("button", name=name).first.click()
        page.wait_for_timeout(500)
    page.evaluate("window.scrollTo(0, 0)")


def _verified(page: Page) -> None:
    for name in ("locknut", "Turned two full turns", "Nothing left inside"):
        page.get_by_role("checkbox", name=name).first.click()
    page.get_by_role("group", name="stalling at idle").get_by_label("gone").click()
    page.get_by_role("group", name="cold misfire").get_by_label("same").click()
    page.wait_for_timeout(500)
    page.evaluate("document.activeElement.blur(); window.scrollTo(0, 0)")


def _timelines(page: Page) -> None:
    page.get_by_text("1E, 2E, 3E are out of spec").wait_for(timeout=90_000)
    page.get_by_role("progressbar").wait_for(state="detached", timeout=90_000)


def _cylinder_tests(page: Page) -> None:
    for cylinder, kpa in ((1, "1010"), (2, "985"), (3, "480"), (4, "1000")):
        page.get_by_label(f"dry, cylinder {cylinder}", exact=True).fill(kpa)
        page.keyboard.press("Enter")
        page.wait_for_timeout(300)
    for label, figure in (("wet, cylinder 3", "490"), ("leak-down, cylinder 3", "60")):
        page.get_by_label(label, exact=True).fill(figure)
        page.keyboard.press("Enter")
        page.wait_for_timeout(400)
    page.get_by_label("exhaust", exact=True).click()
    page.wait_for_timeout(500)
    page.evaluate("document.activeElement.blur()")


def _chosen(page: Page) -> None:
    page.get_by_role("button", name="valve held open (no clearance), 3E").click()
    page.wait_for_timeout(400)
    page.evaluate("document.activeElement.blur()")


def _traced(page: Page) -> None:
    page.get_by_label("instrument", exact=True).select_option("compression")
    for cylinder in ("2", "3"):
        page.get_by_label("cylinder", exact=True).select_option(cylinder)
        page.get_by_role("button", name="Start").click()
        page.get_by_text("samples, to the end").wait_for(timeout=20_000)
    page.get_by_role("button", name="Import into the record").first.click()
    page.wait_for_timeout(500)


def _recorded(page: Page) -> None:
    page.get_by_role("button", name="Simulated microphone").click()
    page.get_by_role("link", name="before adjusting").click()
    page.get_by_role("slider").wait_for()
    page.wait_for_timeout(500)


def _practised(page: Page) -> None:
    page.get_by_role("button", name="Start lesson 7").click()
    page.get_by_role("tab", name="Log").wait_for()
    crank = page.get_by_role("img", name="cylinder 1 ")
    while "cylinder 1 at top, no valve open" not in (crank.get_attribute("aria-label") or ""):
        page.keyboard.press("t")
        page.wait_for_timeout(150)
    page.keyboard.press("w")
    for key in ("h", "Enter") * 3:
        page.wait_for_timeout(400)
        page.keyboard.press(key)
    page.wait_for_timeout(1500)


# In the order of the work: what is entered at one step shows at the next.
VIEWS = {
    "workshop": ("/", _timelines),
    "engine": (f"{ENGINE}/valves/2E", _computed),
    "drift-sheet": (f"{ENGINE}/drift", None),
    "engine-form": ("/new-engine", _described),
    "bench": ("/bench", _against),
    "complaint": (f"{ENGINE}/visits/v8/complaint", None),
    "inspect": (f"{ENGINE}/visits/v8/inspect", _seen),
    "position": (f"{ENGINE}/visits/v8/position", None),
    "measure": (f"{ENGINE}/visits/v8/measure", _measured),
    "assess": (f"{ENGINE}/visits/v8/assess", None),
    "adjust": (f"{ENGINE}/visits/v8/adjust", _locked),
    "verify": (f"{ENGINE}/visits/v8/verify", _verified),
    "job-card": (f"{ENGINE}/visits/v7/card", None),
    "tests": (f"{ENGINE}/visits/v8/tests", _cylinder_tests),
    "instruments": (f"{ENGINE}/visits/v8/instruments", _traced),
    "sound": ("/engines/thrower/visits/v4/sound", _recorded),
    "case": (f"{ENGINE}/cases/c1", _chosen),
    "handbook": ("/handbook?find=tick", None),
    "practice": ("/bench/practice", _practised),
}


def main() -> None:
    """Serve a demonstration and take each view at 1280 by 800."""
    with tempfile.TemporaryDirectory() as folder:
        database = Database(seed_demo(Path(folder), today=date.today(), now=datetime.now(UTC)))
        listener = bind(8400)
        address = f"http://127.0.0.1:{listener.getsockname()[1]}"
        server = WebServer(uvicorn.Config(create_app(database, Settings().static), log_level="warning"))
        threading.Thread(target=server.run, kwargs={"sockets": [listener]}, daemon=True).start()
        with sync_playwright() as playwright:
            browser = playwright.chromium.launch(
                executable_path=shutil.which("chromium"), args=["--no-sandbox", "--disable-gpu"]
            )
            page = browser.new_page(viewport={"width": 1280, "height": 800})
            for name, (path, prepare) in VIEWS.items():
                page.goto(address + path)
                page.wait_for_load_state("networkidle")
                if prepare:
                    prepare(page)
                page.evaluate("scrollTo(0, 0)")
                page.screenshot(path=FOLDER / f"{name}.png")
                print(f"docs/screenshots/{name}.png")
            browser.close()
        server.should_exit = True


if __name__ == "__main__":
    main()
