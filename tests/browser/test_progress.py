"""The state of the work: said at the visit, seen on the workshop page, ended at Verify."""

import re

from playwright.sync_api import expect

VISIT = "/engines/resurfacer-1/visits/v8"


def test_work_waits_for_a_part_comes_back_and_is_done(page, server):
    page.goto(f"{server.address}{VISIT}/verify")
    page.get_by_role("button", name="State of the work: work open").press("Enter")
    dialog = page.get_by_role("dialog", name="State of the work")
    dialog.get_by_label("waiting for parts").press("Space")
    dialog.get_by_role("button", name="Save").click()
    expect(dialog.get_by_role("alert")).to_contain_text("name the part that is waited for")
    dialog.get_by_label("Part", exact=True).fill("valve seat, cylinder 3")
    dialog.get_by_label("Ordered from").fill("Valley Engine Parts")
    page.keyboard.press("Enter")
    expect(page.get_by_role("button", name="State of the work: waiting for parts")).to_be_visible()

    page.goto(server.address)
    work = page.get_by_role("region", name="Work under way")
    line = work.get_by_role("listitem").filter(has_text="Ice resurfacer 1")
    expect(line).to_contain_text("waiting for parts: valve seat, cylinder 3, ordered")
    expect(line).to_contain_text("promised for")
    line.get_by_role("link", name="open visit v8").click()

    page.get_by_role("button", name="State of the work").click()
    dialog.get_by_label("Arrived on").fill(page.evaluate("new Date().toLocaleDateString('sv')"))
    dialog.get_by_role("button", name="Save").click()
    expect(page.get_by_role("button", name="State of the work: ready to continue")).to_be_visible()
    page.goto(f"{server.address}{VISIT}/verify")
    page.get_by_role("button", name="Mark work as done").press("Enter")
    expect(page.get_by_role("button", name="State of the work: work done")).to_be_visible()
    # It is for the technician to say so; what was left out is not hidden.
    expect(page.get_by_text(re.compile(r"marked as done; \d+ items are not ticked off"))).to_be_visible()
    page.goto(server.address)
    expect(work.get_by_role("listitem")).to_have_count(1)
    work.get_by_role("link", name="checks are due").click()
    expect(page.get_by_label("Show")).to_have_value("due")
