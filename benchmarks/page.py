"""How long the page takes, in the browser, over a demonstration of its own."""

import shutil
import socket
import statistics
import subprocess
import sys
import time
from collections.abc import Iterator

from playwright.sync_api import Browser, Page, sync_playwright

_ARGS = ["--no-sandbox", "--disable-gpu", "--disable-background-networking", "--disable-component-update"]
# Watches the page from within: from the key going down until what it changes is painted, or two seconds.
_WATCH = """
([key, selector]) => new Promise((resolve) => {
  const read = () => [...document.querySelectorAll(selector)].map((node) => node.innerText).join()
  const before = read()
  const started = performance.now()
  const observer = new MutationObserver(() => {
    if (read() === before) return
    observer.disconnect()
    requestAnimationFrame(() => resolve(performance.now() - started))
  })
  observer.observe(document.body, { subtree: true, childList: true, characterData: true })
  setTimeout(() => resolve(2000), 2000)
  window.dispatchEvent(new KeyboardEvent('keydown', { key, bubbles: true }))
})
"""
# Answers and takes back by itself, and keeps how long each took to be shown; begun in every page at once.
_DRIVE = f"""
([rounds, selector]) => {{
  const watch = {_WATCH}
  const pause = () => new Promise((resolve) => setTimeout(resolve, 400))
  const all = async () => {{
    const took = []
    for (let round = 0; round < rounds; round++) {{
      for (const key of ['j', 'Backspace']) {{
        took.push(await watch([key, selector]))
        await pause()
      }}
    }}
    return took
  }}
  window.took = all()
}}
"""
_ANSWERS = 'ol[aria-label="Answers so far"] li'
_VERDICT = "section [role=status]"


def _start() -> tuple[subprocess.Popen[str], str, float]:
    with socket.socket() as probe:
        probe.bind(("127.0.0.1", 0))
        port = probe.getsockname()[1]
    started = time.perf_counter()
    server = subprocess.Popen(
        [sys.executable, "-u", "-m", "pronostico.cli", "demo", "--port", str(port)],
        stdout=subprocess.PIPE,
        text=True,
    )
    assert server.stdout is not None
    while "Pronostico is at" not in server.stdout.readline():
        pass
    return server, f"http://127.0.0.1:{port}", (time.perf_counter() - started) * 1000.0


def _usable_ms(page: Page, address: str) -> float:
    started = time.perf_counter()
    page.goto(address)
    page.get_by_role("link", name="Ice resurfacer 1").wait_for()
    return (time.perf_counter() - started) * 1000.0


def _together(browser: Browser, address: str, valves: list[str], rounds: int = 25) -> tuple[float, float]:
    """Devices at a valve each of one visit: ms until what was pressed is shown, median and 95 of 100."""
    pages = []
    for valve in valves:
        page = browser.new_context(viewport={"width": 390, "height": 844}).new_page()
        page.goto(f"{address}/engines/resurfacer-1/visits/v8/measure/{valve}")
        page.get_by_role("heading", name=valve).wait_for()
        # The others are heard of by then.
        page.wait_for_timeout(3_000)
        pages.append(page)
    for page in pages:
        page.evaluate(_DRIVE, [rounds, _ANSWERS])
    took = [ms for page in pages for ms in page.evaluate("window.took")]
    for page in pages:
        page.context.close()
    return statistics.median(took), statistics.quantiles(took, n=20)[-1]


def figures() -> Iterator[tuple[str, float]]:
    """What was measured and its milliseconds."""
    server, address, started_ms = _start()
    try:
        yield "the demonstration seeded and served, from the command on", started_ms
        with sync_playwright() as playwright:
            browser = playwright.chromium.launch(executable_path=shutil.which("chromium"), args=_ARGS)
            page = browser.new_page(viewport={"width": 1280, "height": 800})
            yield "start page usable, first visit of a new browser", _usable_ms(page, address)
            page.goto(f"{address}/engines/resurfacer-1/visits/v8/measure")
            page.get_by_role("heading", name="4E").wait_for()
            shown, assessed = [], []
            for _ in range(10):
                # Answered and taken back, so that every round begins alike.
                shown.append(page.evaluate(_WATCH, ["j", _ANSWERS]))
                page.wait_for_timeout(200)
                page.evaluate(_WATCH, ["Backspace", _ANSWERS])
                page.wait_for_timeout(200)
                assessed.append(page.evaluate(_WATCH, ["j", _VERDICT]))
                page.wait_for_timeout(200)
                page.evaluate(_WATCH, ["Backspace", _VERDICT])
                page.wait_for_timeout(200)
            yield "key press to the answer on the page, median of 10", statistics.median(shown)
            yield "key press to the answer on the page, slowest of 10", max(shown)
            yield "key press to the new verdict, stored on disk, median of 10", statistics.median(assessed)
            for devices in (["4E"], ["4E", "3E", "2E"]):
                median, p95 = _together(browser, address, devices)
                yield f"{len(devices)} measuring at one visit: key press to page, median", median
                yield f"{len(devices)} measuring at one visit: key press to page, 95 of 100", p95
            browser.close()
    finally:
        server.terminate()
        server.wait(timeout=20)
