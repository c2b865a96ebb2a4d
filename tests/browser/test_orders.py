"""A shim that the box has not got: put on order at Adjust, ticked off when it comes, then in the box."""

from playwright.sync_api import expect


def test_a_missing_shim_is_ordered_comes_and_is_in_the_box(page, server):
    page.goto(f"{server.address}/engines/snowmobile/visits/v4/adjust")
    page.get_by_role("button", name="Put on order").press("Enter")
    page.get_by_role("link", name="on order", exact=True).click()
    row = page.get_by_role("row").filter(has_text="shim 1.750 mm")
    expect(row).to_contain_text("Rescue snowmobile, visit v4")
    expect(page.get_by_role("link", name="PDF")).to_be_visible()
    row.get_by_role("button", name="shim 1.750 mm for Rescue snowmobile arrived").press("Enter")
    expect(row).to_have_count(0)
    page.get_by_role("link", name="Bench", exact=True).last.click()
    expect(page.get_by_role("listitem").filter(has_text="1.750 mm")).to_contain_text("1")
    page.goto(f"{server.address}/engines/snowmobile/visits/v4/adjust")
    expect(page.get_by_role("button", name="State of the work: ready to continue")).to_be_visible()
    expect(page.get_by_role("button", name="Put on order")).to_have_count(0)
