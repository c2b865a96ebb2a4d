"""What a technician's hands do on the page: tab on, press, and answer what a blade feels like."""

import re

from playwright.sync_api import Locator, Page, expect


def press_to(page: Page, name: str | re.Pattern[str], role: str = "link", most: int = 60) -> None:
    """Tab on until something of that name has the focus, then press Enter."""
    wanted = page.get_by_role(role, name=name).first
    expect(wanted).to_be_visible()
    for _ in range(most):
        page.keyboard.press("Tab")
        if wanted.evaluate("element => element === document.activeElement"):
            page.keyboard.press("Enter")
            return
    raise AssertionError(f"Tab never reached {name}")


def choose(box: Locator) -> None:
    """Click a box or a choice that shows what is stored, and wait until it does."""
    box.click()
    expect(box).to_be_checked()


def open_hand_line(page: Page, most: int = 5) -> None:
    """Press the key for typing a blade until the page takes keys, and its field has the focus."""
    field = page.get_by_label(re.compile(r"^Blade or reading, (mm|thou)$"))
    for _ in range(most):
        page.keyboard.press("b")
        try:
            expect(field).to_be_focused(timeout=2_000)
        except AssertionError:
            continue
        return
    raise AssertionError("the key for typing a blade does nothing")


def follow_advice(
    page: Page, *, gap_mm: float, before: int = 0, most: int = 8, wait_for: str | None = None
) -> int:
    """Answer the advised blades truly for a gap, by key, until the verdict is settled; the answers given.

    `before`: how many answers are there already. `wait_for`: the valve, where the page goes on by itself.
    """
    section = page.get_by_role("region", name=f"Measuring valve {wait_for or ''}".strip())
    advised, settled = section.get_by_text(", recommended"), section.get_by_text(re.compile(r"Decided\."))
    # A page that goes on by itself may have done so before the verdict was looked at.
    elsewhere = rf"^Measuring valve (?!{re.escape(wait_for)}$)" if wait_for else "^never$"
    gone_on = page.get_by_role("region", name=re.compile(elsewhere))
    for given in range(most):
        # Until an answer is stored and judged the page shows neither.
        expect(advised.or_(settled).or_(gone_on).first).to_be_visible()
        if settled.is_visible() or gone_on.is_visible():
            return given
        thickness = float(section.locator("p strong").first.inner_text().removesuffix(" mm"))
        margin = gap_mm - thickness
        page.keyboard.press("j" if margin < -0.003 else "k" if margin < 0.015 else "l")
        expect(section.get_by_role("listitem").nth(given + before).or_(gone_on).first).to_be_visible()
    raise AssertionError("the advice did not settle it")
