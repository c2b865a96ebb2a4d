"""What was noted in the wrong place: moved, deleted, restored; an engine that is archived."""

import re

from playwright.sync_api import expect

ENGINE = "/engines/resurfacer-1"


def test_an_engine_is_deleted_with_the_keyboard_and_restored_whole(page, server):
    page.goto(f"{server.address}{ENGINE}")
    page.get_by_role("button", name="Delete engine").focus()
    page.keyboard.press("Enter")
    dialog = page.get_by_role("dialog", name="Delete engine")
    expect(dialog).to_contain_text("8 visits")
    expect(dialog).to_contain_text("can be restored whole")
    page.keyboard.press("Escape")
    expect(page.get_by_role("heading", name="Ice resurfacer 1")).to_be_visible()
    page.get_by_role("button", name="Delete engine").press("Enter")
    dialog.get_by_role("button", name="Delete", exact=True).press("Enter")
    expect(page.get_by_role("heading", name="Workshop")).to_be_visible()
    expect(page.get_by_role("link", name="Ice resurfacer 2")).to_be_visible()
    expect(page.get_by_role("link", name="Ice resurfacer 1")).to_have_count(0)
    page.goto(f"{server.address}{ENGINE}")
    expect(page.get_by_role("alert")).to_contain_text("no engine 'resurfacer-1'")
    page.goto(f"{server.address}/bench")
    page.get_by_role("link", name="Bin").click()
    page.get_by_role("button", name="Restore Ice resurfacer 1").press("Enter")
    expect(page.get_by_text("Nothing was deleted in the last 30 days.")).to_be_visible()
    page.goto(f"{server.address}{ENGINE}")
    expect(page.get_by_role("button", name="Move or delete visit v1")).to_be_visible()


def test_a_visit_of_the_wrong_engine_is_moved_and_measured_on(page, server):
    page.goto(f"{server.address}{ENGINE}/visits/v8/prepare")
    page.get_by_role("button", name="Move or delete visit v8").click()
    dialog = page.get_by_role("dialog", name="Visit v8")
    expect(dialog).to_contain_text("Case c1 was opened at this visit. It stays")
    dialog.get_by_label("To engine").select_option("Snow thrower")
    dialog.get_by_role("button", name="Move the visit").click()
    expect(dialog.get_by_role("alert")).to_contain_text("does not fit Snow thrower")
    dialog.get_by_label("To engine").select_option("Ice resurfacer 2")
    dialog.get_by_role("button", name="Move the visit").click()
    page.wait_for_url("**/engines/resurfacer-2/visits/v8/**")
    expect(page.get_by_text("2 163 h")).to_be_visible()
    page.get_by_role("button", name=re.compile("drags")).first.click()
    expect(page.get_by_role("button", name=re.compile("undo", re.I)).first).to_be_enabled()
    page.goto(f"{server.address}{ENGINE}")
    expect(page.get_by_role("button", name="Move or delete visit v7")).to_be_visible()
    expect(page.get_by_role("button", name="Move or delete visit v8")).to_have_count(0)


def test_a_case_is_deleted_and_for_good_only_when_that_is_confirmed(page, server):
    page.goto(f"{server.address}/engines/thrower/cases/c1")
    page.get_by_role("button", name="Delete case").click()
    page.get_by_role("button", name="Delete", exact=True).click()
    page.wait_for_url("**/engines/thrower")
    page.goto(f"{server.address}/bench/bin")
    forever = page.get_by_role("button", name="Delete case c1 of Snow thrower for good")
    forever.click()
    expect(forever).to_have_text("Confirm: never to be restored")
    forever.click()
    expect(page.get_by_text("Nothing was deleted in the last 30 days.")).to_be_visible()


def test_an_archived_engine_leaves_the_workshop_page_and_comes_back(page, server):
    page.goto(f"{server.address}{ENGINE}")
    page.get_by_role("button", name="Archive engine").press("Enter")
    expect(page.get_by_text("Archived since")).to_be_visible()
    page.goto(server.address)
    expect(page.get_by_role("link", name="Ice resurfacer 2")).to_be_visible()
    expect(page.get_by_role("link", name="Ice resurfacer 1")).to_have_count(0)
    expect(page.get_by_text("1 archived")).to_be_visible()
    page.get_by_label("Show").select_option("archived")
    page.get_by_role("link", name="Ice resurfacer 1").click()
    page.get_by_role("button", name="Bring back").click()
    expect(page.get_by_text("Archived since")).to_have_count(0)
