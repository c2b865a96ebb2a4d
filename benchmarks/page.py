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
            browser.close()
    finally:
        server.terminate()
        server.wait(timeout=20)
