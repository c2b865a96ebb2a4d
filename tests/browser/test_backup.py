"""The whole workshop as one file, saved and imported on the page."""

import json
import re
import zipfile

from playwright.sync_api import expect

from tests.api.test_backup import changed, files_of, packed


def test_a_saved_workshop_is_previewed_and_imported(watched, server, tmp_path):
    page = watched
    page.goto(server.address + "/bench")
    with page.expect_download() as saving:
        page.get_by_role("link", name="Save a backup").click()
    saved = tmp_path / "saved.zip"
    saving.value.save_as(saved)
    with zipfile.ZipFile(saved) as archive:
        assert json.loads(archive.read("manifest.json"))["format"] == "pronostico/shop"
    # Its own workshop knows all of it already.
    page.get_by_label("Backup file").set_input_files(saved)
    expect(page.get_by_text("8 engines are identical here.")).to_be_visible()
    # One renamed, one with a visit that differs: the second blocks all until it is left out.
    files = files_of(saved.read_bytes())
    files = changed(files, "quad", lambda one: one["visits"][0].update(notes="another hand"))
    files = changed(files, "thrower", lambda one: one["engine"].update(name="Thrower of the north"))
    saved.write_bytes(packed(files))
    page.get_by_label("Backup file").set_input_files(saved)
    expect(page.get_by_role("row").filter(has_text="Piste quad")).to_contain_text("visit v1 differs")
    take = page.get_by_role("button", name="Import", exact=True)
    expect(take).to_be_disabled()
    page.get_by_label("Leave out Piste quad").check()
    take.click()
    expect(page.get_by_text("Imported; new or changed: 1, unchanged: 6.")).to_be_visible()
    page.get_by_role("link", name="Workshop", exact=True).click()
    expect(page.get_by_text("Thrower of the north").first).to_be_visible()


def test_a_file_that_is_no_workshop_is_reported(page, server, tmp_path):
    page.goto(server.address + "/bench")
    letter = tmp_path / "letter.zip"
    letter.write_text("Dear customer")
    page.get_by_label("Backup file").set_input_files(letter)
    expect(page.get_by_role("alert")).to_contain_text("is not a zip file")
    expect(page.get_by_role("button", name="Import", exact=True)).to_have_count(0)


def test_the_calendars_address_is_made_renewed_and_ended(watched, server):
    page = watched
    page.goto(server.address + "/bench")
    page.get_by_role("button", name="Create a calendar link").click()
    address = page.get_by_label("Calendar link")
    expect(address).to_have_value(re.compile(rf"^{re.escape(server.address)}/api/calendar/[\w-]{{32}}\.ics$"))
    first = address.input_value()
    page.get_by_role("button", name="Replace the link").click()
    expect(address).not_to_have_value(first)
    with page.expect_download() as saving:
        page.get_by_role("link", name="Save as file").click()
    assert saving.value.suggested_filename == "next-checks.ics"
    page.get_by_role("button", name="Remove the link").click()
    expect(address).to_have_count(0)


def test_a_copy_of_every_day_is_set_corrected_and_ended(page, server, tmp_path):
    page.goto(server.address + "/bench")
    expect(page.get_by_text("No full copy has been made yet.")).to_be_visible()
    folder = page.get_by_label("Full copy every day, into the folder")
    folder.fill("copies")
    folder.press("Enter")
    expect(page.get_by_text("must be a whole path")).to_be_visible()
    folder.fill(str(tmp_path / "copies"))
    folder.press("Enter")
    expect(page.get_by_text("One will be made within a minute or two.")).to_be_visible()
    page.reload()
    expect(folder).to_have_value(str(tmp_path / "copies"))
    page.get_by_role("button", name="No daily copies").click()
    expect(folder).to_have_value("")
