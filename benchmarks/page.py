"""How long the page takes, in the browser, over a demonstration of its own."""

import shutil
import socket
import statistics
import subprocess
import sys
import time
from collections.abc import Iterator

from playwright.sync_api import Page, sync_playwright

_ARGS = ["--no-sandbox", "--disable-gpu", "--disable-background-networking", "--disable-component-update"]
# Watches the page from within: from the key going down to the mark of the answer on its leaf, painted.
_WATCH = """
() => new Promise((resolve) => {
  const before = document.querySelectorAll('ol[aria-label="Answers so far"] li').length
  const started = performance.now()
  const observer = new MutationObserver(() => {
    const now = document.querySelectorAll('ol[aria-label="Answers so far"] li').length
    if (now === before) return
    observer.disconnect()
    requestAnimationFrame(() => resolve(performance.now() - started))
  })
  observer.observe(document.body, { subtree: true, childList: true, attributes: true })
  window.dispatchEvent(new KeyboardEvent('keydown', { key: 'j', bubbles: true }))
})
"""
_WATCH_VERDICT = _WATCH.replace(
    "document.querySelectorAll('ol[aria-label=\"Answers so far\"] li').length",
    "document.querySelector('section [role=status]').innerText",
)


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
            shown = []
            for _ in range(15):
                shown.append(page.evaluate(_WATCH))
                page.wait_for_timeout(150)
            yield "key press to the answer on the page, median of 15", statistics.median(shown)
            yield "key press to the answer on the page, slowest of 15", max(shown)
            page.goto(f"{address}/engines/resurfacer-1/visits/v8/measure/4I")
            page.get_by_role("heading", name="4I").wait_for()
            page.wait_for_timeout(300)
            judged = []
            for _ in range(5):
                judged.append(page.evaluate(_WATCH_VERDICT))
                page.wait_for_timeout(150)
            yield "key press to the new verdict, stored on disk, median of 5", statistics.median(judged)
            browser.close()
    finally:
        server.terminate()
        server.wait(timeout=20)
