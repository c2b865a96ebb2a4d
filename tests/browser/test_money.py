"""What to have ready, the estimate before the work and the account after it."""

from playwright.sync_api import Route, expect

ENGINE = "/engines/snowmobile"
VISIT = f"{ENGINE}/visits/v4"


def test_from_the_parts_list_to_the_estimate_and_the_account(page, server):
    page.goto(f"{server.address}/bench")
    page.get_by_label("Rate").fill("60")
    page.get_by_label("Currency").fill("EUR")
    page.get_by_label("Tax").fill("much")
    page.keyboard.press("Enter")
    expect(page.get_by_label("Tax")).to_have_accessible_description("must be a number")
    page.get_by_label("Tax").fill("20")
    page.keyboard.press("Enter")
    expect(page.get_by_text("saved", exact=True)).to_be_visible()

    page.goto(f"{server.address}{VISIT}/prepare")
    page.get_by_label("Gasket, seal or washer", exact=True).fill("cover gasket")
    page.get_by_label("Gasket, seal or washer: price each").fill("cheap")
    page.keyboard.press("Enter")
    expect(page.get_by_role("alert")).to_contain_text("The price must be a number")
    page.get_by_label("Gasket, seal or washer: price each").fill("18.5")
    page.keyboard.press("Enter")
    expect(page.get_by_text("18.50 each")).to_be_visible()
    # The server is slow; the second is added before it has answered for the first.
    held: list[Route] = []
    # A method of a list itself cannot be handed over.
    page.route("**/kit", lambda route: held.insert(0, route), times=1)
    page.get_by_label("Socket, key or special tool").fill("bucket tool")
    with page.expect_request("**/kit"):
        page.keyboard.press("Enter")
    page.keyboard.type("pin spanner")
    page.keyboard.press("Enter")
    held[0].continue_()
    expect(page.get_by_role("button", name="Remove bucket tool from the list")).to_be_visible()
    expect(page.get_by_role("button", name="Remove pin spanner from the list")).to_be_visible()

    page.goto(f"{server.address}{ENGINE}")
    page.get_by_role("link", name="Estimate for the customer").press("Enter")
    check = page.get_by_role("table").first
    expect(check.get_by_role("row").filter(has_text="cover gasket")).to_contain_text("18.50")
    expect(check).to_contain_text("tax 20 %")
    expect(page.get_by_role("table").nth(1)).to_contain_text("shims, about")
    expect(page.get_by_text("That adjusting will be needed is")).to_be_visible()
    mail = page.get_by_role("link", name="Write a mail").get_attribute("href")
    assert mail is not None and mail.startswith("mailto:?subject=Estimate%3A%20Rescue%20snowmobile")

    page.goto(f"{server.address}{VISIT}/verify")
    page.get_by_role("button", name="Add this engine’s usual parts").press("Enter")
    expect(page.get_by_role("button", name="Remove cover gasket from the list")).to_be_visible()
    page.get_by_role("link", name="Job card").click()
    expect(page.get_by_role("row").filter(has_text="cover gasket")).to_contain_text("18.50")
    expect(page.get_by_role("row").filter(has_text="total")).to_contain_text("EUR")
