"""Nothing half-done is lost: a new engine is kept by the browser, an edited one asks before it is left."""

from playwright.sync_api import expect


def test_a_half_described_engine_is_kept_and_offered_again(page, server):
    page.goto(f"{server.address}/new-engine")
    expect(page.get_by_role("heading", name="New engine")).to_be_visible()
    expect(page.get_by_role("list", name="Not finished")).to_have_count(0)
    page.get_by_label("Name", exact=True).fill("Chain hoist drive")
    page.get_by_label("Serial number").fill("CH-77")
    page.goto(f"{server.address}/")
    page.goto(f"{server.address}/new-engine")
    offered = page.get_by_role("list", name="Not finished")
    expect(offered).to_contain_text("Chain hoist drive")
    offered.get_by_role("button", name="Continue").press("Enter")
    expect(page.get_by_label("Name", exact=True)).to_have_value("Chain hoist drive")
    expect(page.get_by_label("Serial number")).to_have_value("CH-77")
    expect(offered).to_have_count(0)
    page.reload()
    offered.get_by_role("button", name="Discard").press("Enter")
    expect(offered).to_have_count(0)
    page.reload()
    expect(page.get_by_role("heading", name="New engine")).to_be_visible()
    expect(offered).to_have_count(0)


def test_unsaved_changes_of_an_engine_are_not_left_behind_unasked(page, server):
    page.goto(f"{server.address}/engines/thrower/data")
    page.get_by_label("Serial number").fill("ST-9")
    page.get_by_role("link", name="Bench").click()
    dialog = page.get_by_role("dialog", name="Leave without saving?")
    dialog.get_by_role("button", name="Stay").press("Enter")
    expect(page.get_by_label("Serial number")).to_have_value("ST-9")
    page.get_by_role("link", name="Bench").click()
    dialog.get_by_role("button", name="Leave").press("Enter")
    expect(page.get_by_role("heading", name="Bench")).to_be_visible()
    # What was saved is left without a question.
    page.goto(f"{server.address}/engines/thrower/data")
    page.get_by_label("Serial number").fill("ST-10")
    page.get_by_role("button", name="Save", exact=True).click()
    page.wait_for_url("**/engines/thrower")
    expect(page.get_by_text("serial number ST-10")).to_be_visible()
