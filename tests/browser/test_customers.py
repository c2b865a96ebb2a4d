"""Whose engine it is: found or added by typing, reached from the engine and the job card."""

from io import BytesIO

from PIL import Image
from playwright.sync_api import expect


def test_a_customer_is_added_by_typing_with_the_keyboard_and_found_everywhere(page, server):
    page.goto(f"{server.address}/engines/thrower")
    page.get_by_role("button", name="Whose engine?").press("Enter")
    page.get_by_label("Find or add a customer").fill("Stone Yard")
    expect(page.get_by_role("option", name="Add “Stone Yard”")).to_be_visible()
    page.keyboard.press("ArrowDown")
    page.keyboard.press("Enter")
    dialog = page.get_by_role("dialog", name="Customer")
    expect(dialog.get_by_label("Name")).to_have_value("Stone Yard")
    dialog.get_by_label("Name").fill("  ")
    dialog.get_by_label("Telephone").fill("555 0155")
    page.keyboard.press("Enter")
    expect(dialog.get_by_role("alert")).to_be_visible()
    expect(dialog.get_by_label("Telephone")).to_have_value("555 0155")
    dialog.get_by_label("Name").fill("Stone Yard")
    page.keyboard.press("Enter")
    expect(page.get_by_role("link", name="555 0155")).to_be_visible()
    page.keyboard.press("/")
    page.get_by_role("combobox", name="Find an engine or a case").fill("stone")
    expect(page.get_by_role("option", name="Snow thrower")).to_be_visible()
    page.keyboard.press("Escape")
    page.goto(f"{server.address}/customers")
    page.get_by_label("Search customers").fill("0155")
    expect(page.get_by_role("listitem")).to_have_count(1)
    page.get_by_role("link", name="Snow thrower").click()
    # Another one is chosen for it; who has no engine left can be removed.
    page.get_by_role("button", name="Edit customer").click()
    page.get_by_label("Find or add a customer").fill("kettle")
    page.get_by_role("option", name="Kettle Pass lifts").click()
    expect(page.get_by_role("link", name="garage@kettle-pass.example")).to_be_visible()
    page.goto(f"{server.address}/customers")
    page.get_by_role("button", name="Remove Stone Yard").click()
    expect(page.get_by_text("Stone Yard")).to_have_count(0)


def test_the_plate_is_photographed_shown_large_and_replaced(page, server):
    made = BytesIO()
    Image.new("RGB", (300, 200), "grey").save(made, "PNG")
    page.goto(f"{server.address}/engines/thrower")
    page.get_by_role("button", name="Photo of the plate").click()
    picture = {"name": "plate.png", "mimeType": "image/png", "buffer": made.getvalue()}
    page.get_by_label("Plate, from a file").set_input_files(picture)
    expect(page.get_by_role("img", name="Plate of Snow thrower, large")).to_be_visible()
    page.get_by_label("Plate, from a file").set_input_files({**picture, "buffer": b"no picture"})
    expect(page.get_by_role("alert")).to_contain_text("must be a photograph")
    page.keyboard.press("Escape")
    expect(page.get_by_role("img", name="Plate of Snow thrower")).to_be_visible()
