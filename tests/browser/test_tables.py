"""An engine's tables on the page: saved, and readings of a spreadsheet imported after a preview only."""

import csv
import io
from datetime import date, timedelta

from openpyxl import Workbook
from PIL import Image
from playwright.sync_api import expect

from tests.browser.asking import post


def test_a_spreadsheet_is_asked_about_fixed_by_choice_and_imported(watched, server, tmp_path):
    page = watched
    engine = page.request.get(server.address + "/api/engines/resurfacer-1").json()["engine"]
    bare = {"engine": {**engine, "id": "bare", "name": "Bare"}, "confirmed": []}
    assert post(server.address + "/api/engines", json=bare).status_code == 201
    page.goto(server.address + "/engines/bare")
    page.get_by_role("link", name="Export and import").click()
    day = date.today() - timedelta(days=400)
    sheet = tmp_path / "shed.csv"
    rows = ["1E;250;0,25;0,28", "1I;250;6;7", "2E;250;0,28;0,25"]
    lines = [f"{row.split(';')[0]};{day};{';'.join(row.split(';')[1:])}" for row in rows]
    sheet.write_text("\n".join(["spot;day;hours;went;would not go", *lines]))
    page.get_by_label("Spreadsheet file").set_input_files(sheet)
    expect(page.get_by_role("alert").filter(has_text="No column gives")).to_contain_text("which valve")
    page.get_by_label("Column spot is").select_option("valve")
    page.get_by_role("button", name="Use by the size of each figure").click()
    faults = page.get_by_role("region", name="Rows with errors")
    expect(faults).to_contain_text("0,28 went in although 0,25 would not")
    expect(page.get_by_role("region", name="Visits to be imported")).to_contain_text("2 new readings")
    take = page.get_by_role("button", name="Import 2 readings")
    expect(take).to_be_disabled()
    page.get_by_label("leave out the rows with errors: 1").check()
    take.click()
    expect(page.get_by_text("Imported. Readings: 2, visits: 1")).to_be_visible()
    with page.expect_download() as saving:
        page.get_by_role("link", name="readings.csv").click()
    saved = tmp_path / "readings.csv"
    saving.value.save_as(saved)
    kept = {row["valve"]: row for row in csv.DictReader(io.StringIO(saved.read_text()))}
    assert set(kept) == {"1E", "1I"} and kept["1I"]["went_mm"] == "0.1524"


def test_a_notebook_is_corrected_on_the_page_and_its_photo_kept(page, server, tmp_path):
    engine = page.request.get(server.address + "/api/engines/resurfacer-1").json()["engine"]
    bare = {"engine": {**engine, "id": "bare", "name": "Bare"}, "confirmed": []}
    assert post(server.address + "/api/engines", json=bare).status_code == 201
    book = Workbook()
    book.active.title = "shed"
    days = [date.today() - timedelta(days=back) for back in (400, 100)]
    for row in (["Datum", "Stunden", "1E", "X", "1E dopo"], [days[0], 250, "0.20-0.23", "0.15", 0.28]):
        book.active.append(row)
    book.active.append([days[1], 500, "0.25", "O.15", None])
    notebook = tmp_path / "notebook.xlsx"
    book.save(notebook)
    page.goto(server.address + "/engines/bare/tables")
    page.get_by_label("Spreadsheet file").set_input_files(notebook)
    page.get_by_label("Column X is").select_option("1I: clearance as found")
    faults = page.get_by_role("region", name="Rows with errors")
    cell = faults.get_by_label("line 3, X")
    expect(cell).to_have_value("O.15")
    cell.fill("0.15")
    cell.press("Enter")
    expect(faults).to_contain_text("1 cell corrected here")
    page.get_by_role("button", name="Import 5 readings").press("Enter")
    expect(page.get_by_text("settings: 1.")).to_be_visible()
    picture = tmp_path / "sheet.png"
    Image.new("RGB", (40, 30), "white").save(picture)
    page.get_by_label("Photo of the old sheet").set_input_files(picture)
    expect(page.get_by_text("The photo is kept with visit")).to_be_visible()
    # The next sheet with these heads is read as this one was.
    page.get_by_label("Spreadsheet file").set_input_files(notebook)
    expect(page.get_by_text("as they were when a sheet with these heads was imported last")).to_be_visible()
    expect(page.get_by_label("Column X is")).to_have_value("clearance of 1I")
