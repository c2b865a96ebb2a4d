"""The week at a glance: what is due, by day or by customer, and a meter that is read between visits."""

from playwright.sync_api import expect


def test_from_what_is_due_to_a_meter_that_was_asked_for(page, server):
    page.goto(server.address)
    page.get_by_role("link", name="The week").press("Enter")
    due = page.get_by_role("list", name="Checks: Due now")
    expect(due.get_by_role("link", name="Ice resurfacer 1")).to_be_visible()
    page.get_by_label("Checks by").select_option("customer")
    expect(page.get_by_role("list", name="Checks: nobody named")).to_be_visible()
    page.reload()
    expect(page.get_by_label("Checks by")).to_have_value("customer")

    asked = page.get_by_role("heading", name="Ask what the meter shows")
    meters = page.locator("section").filter(has=asked)
    form = meters.get_by_role("form").first
    name = form.get_attribute("aria-label")
    assert name is not None
    mail = meters.get_by_role("link", name="Ask by mail").first.get_attribute("href")
    assert mail is not None and "subject=Meter%20reading" in mail
    form = page.get_by_role("form", name=name)
    form.get_by_label("The meter shows").fill("many")
    page.keyboard.press("Enter")
    expect(form.get_by_label("The meter shows")).to_have_accessible_description("must be a number")
    form.get_by_label("The meter shows").fill("1")
    page.keyboard.press("Enter")
    expect(form).to_contain_text("less than the")
    # Far more than ever is asked about, and stored once it is said again.
    form.get_by_label("The meter shows").fill("999999")
    page.keyboard.press("Enter")
    form.get_by_role("button", name="Confirm value").press("Enter")
    expect(form).to_have_count(0)
