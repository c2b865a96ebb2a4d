"""Tables out, each as its schema says, and readings in from a spreadsheet of any make."""

import csv
import io
import json
import random
import zipfile
from datetime import date

import pytest
from hypothesis import given
from hypothesis import strategies as st

from pronostico.services.exchange.spreadsheet.cells import CellFault, blades_of, plain_number, usage_of
from pronostico.services.exchange.spreadsheet.columns import recognised

ONE = "/api/engines/resurfacer-1"
SHEET = f"{ONE}/readings-sheet"
TYPES = {
    "string": str,
    "number": float,
    "integer": int,
    "date": date.fromisoformat,
    "boolean": {"true": True, "false": False}.__getitem__,
}


def package(client, engine=ONE):
    answer = client.get(f"{engine}/tables.zip")
    assert answer.status_code == 200 and answer.headers["content-type"] == "application/zip"
    with zipfile.ZipFile(io.BytesIO(answer.content)) as archive:
        return {name: archive.read(name) for name in archive.namelist()}


def rows_of(content):
    return list(csv.DictReader(io.StringIO(content.decode())))


@pytest.mark.parametrize("engine", ["resurfacer-1", "resurfacer-2"])
def test_every_cell_is_what_the_descriptor_says(client, engine):
    files = package(client, f"/api/engines/{engine}")
    described = json.loads(files["datapackage.json"])
    resources = {one["name"]: one for one in described["resources"]}
    assert set(files) == {"datapackage.json", *(one["path"] for one in resources.values())}
    for resource in resources.values():
        content = files[resource["path"]]
        rows, schema = rows_of(content), resource["schema"]
        assert resource["bytes"] == len(content)
        assert content.decode().split("\r\n")[0].split(",") == [one["name"] for one in schema["fields"]]
        for field in schema["fields"]:
            cells = [row[field["name"]] for row in rows]
            for cell in cells:
                assert cell == "" or TYPES[field["type"]](cell) is not None
            assert all(cells) or not field.get("constraints", {}).get("required")
        keys = [tuple(row[name] for name in schema["primaryKey"]) for row in rows]
        assert len(set(keys)) == len(keys)
        for link in schema.get("foreignKeys", []):
            parent = link["reference"]
            known = {row[parent["fields"]] for row in rows_of(files[f"{parent['resource']}.csv"])}
            assert {row[link["fields"]] for row in rows if row[link["fields"]]} <= known


def test_visits_readings_and_cases_hold_what_the_record_holds(client):
    record, files = client.get(f"{ONE}/record").json(), package(client)
    assert [row["visit"] for row in rows_of(files["visits.csv"])] == [one["id"] for one in record["visits"]]
    assert [row["case"] for row in rows_of(files["cases.csv"])] == [one["id"] for one in record["cases"]]
    felt = {(row["visit"], row["valve"], row["phase"]): row["felt"] for row in rows_of(files["readings.csv"])}
    for visit in record["visits"]:
        for reading in visit["readings"]:
            told = felt[visit["id"], reading["valve"], reading["phase"]]
            assert told.count(";") + 1 == len(reading["tries"])
            assert told.split("; ")[0].endswith(reading["tries"][0]["felt"])
    present = [one["id"] for one in record["cases"][0]["findings"] if one["state"] == "present"]
    assert present and all(one in rows_of(files["cases.csv"])[0]["findings_present"] for one in present)


# Readings in


@pytest.fixture
def bare(client):
    """The first engine without visits, so that a sheet has it to itself."""
    engine = {**client.get(ONE).json()["engine"], "id": "bare", "name": "Bare"}
    client.post("/api/engines", json={"engine": engine, "confirmed": []})
    return client


BARE = "/api/engines/bare/readings-sheet"


def look(client, text, to=BARE, **choices):
    content = text if isinstance(text, bytes) else text.encode()
    answer = client.post(f"{to}/preview", content=content, params=choices)
    assert answer.status_code == 200, answer.text
    return answer.json()


def take(client, text, to=BARE, **choices):
    content = text if isinstance(text, bytes) else text.encode()
    return client.post(to, content=content, params=choices)


def visits_of(client):
    return client.get("/api/engines/bare/record").json()["visits"]


PLAIN = """valve,date,usage (h),went (mm),would not go (mm),felt
1E,2024-01-31,250,0.25,0.28,drag
1I,2024-01-31,250,0.15,0.18,free
1E,2025-01-31,500,0.23,0.25,
"""


def test_a_plain_sheet_is_understood_shown_and_stored(bare):
    seen = look(bare, PLAIN)
    assert (seen["unit"], seen["delimiter"], seen["missing"], seen["faults"]) == ("mm", "comma", [], [])
    assert [one["role"] for one in seen["columns"]] == ["valve", "date", "usage", "went", "refused", "felt"]
    assert [(one["date"], one["state"], one["readings"]) for one in seen["visits"]] == [
        ("2024-01-31", "new", 2),
        ("2025-01-31", "new", 1),
    ]
    assert visits_of(bare) == []
    assert take(bare, PLAIN).status_code == 200
    first, second = visits_of(bare)
    assert first["readings"][0]["tries"] == [
        {"blades_mm": [0.25], "felt": "drag", "entered": "0.25"},
        {"blades_mm": [0.28], "felt": "no-go", "entered": "0.28"},
    ]
    assert second["readings"][0]["tries"][0]["felt"] == "go"
    again = look(bare, PLAIN)
    assert {one["state"] for one in again["visits"]} == {"same"} and again["readings_same"] == 3
    take(bare, PLAIN)
    assert visits_of(bare) == [first, second]


def test_another_make_of_the_same_sheet_says_the_same(bare):
    """Semicolons, decimal commas, days first, an old encoding, thou, cylinder and side, one figure."""
    sheet = (
        "Zylinder Nr;Cyl;Side;Day;Hours;Clearance (thou);Bemerkung\r\n"
        ";1;Ex;31/01/2024;250;10;gr\xfcn\r\n"
        ";1;Inlet;31/01/2024;250;<6;\r\n"
        ";1;ex;31/01/2025;1.500,5;9,5;\r\n"
    ).encode("cp1252")
    seen = look(bare, sheet)
    assert (seen["encoding"], seen["not_utf_8"], seen["delimiter"]) == ("windows-1252", 2, "semicolon")
    assert (seen["unit"], seen["dates"], seen["decimal_comma"]) == ("thou", "day-first", True)
    assert take(bare, sheet).status_code == 200
    first, second = visits_of(bare)
    assert [(one["valve"], one["tries"][0]["felt"]) for one in first["readings"]] == [
        ("1E", "drag"),
        ("1I", "no-go"),
    ]
    assert first["readings"][0]["tries"][0] == {"blades_mm": [0.254], "felt": "drag", "entered": "10"}
    assert second["usage"] == 1500.5 and second["readings"][0]["tries"][0]["blades_mm"] == [0.2413]


def test_thou_and_mm_in_one_sheet_are_asked_about_by_size(bare):
    mixed = PLAIN.replace("0.25,0.28", "10,11")
    seen = look(bare, mixed)
    (doubt,) = seen["ambiguities"]
    assert (doubt["setting"], doubt["suggestion"], seen["visits"]) == ("unit", "by-size", [])
    assert (
        "4 look like mm" in doubt["message"] and "2 look like thou (the first on line 2)" in doubt["message"]
    )
    refused = take(bare, mixed)
    assert refused.status_code == 422 and "by-size" not in refused.text
    one_unit = look(bare, mixed, unit="mm")
    assert one_unit["faults"] == [
        {
            "place": "line 2",
            "line": 2,
            "column": "went (mm)",
            "message": "10 mm would be 10 mm; as thou it is 0.254 mm",
            "index": 3,
            "text": "10",
        }
    ]
    assert take(bare, mixed, unit="by-size").status_code == 200
    assert visits_of(bare)[0]["readings"][0]["tries"][0]["blades_mm"] == [0.254]


def test_days_that_could_be_read_either_way_are_asked_about(bare):
    either = PLAIN.replace("2024-01-31", "03/01/2024").replace("2025-01-31", "02/04/2024")
    seen = look(bare, either)
    (doubt,) = seen["ambiguities"]
    # Read with the month first the first visit would be in March, the second with more hours in February.
    assert (doubt["setting"], doubt["suggestion"]) == ("dates", "day-first")
    assert look(bare, either, dates="day-first")["visits"][1]["date"] == "2024-04-02"
    wrong = look(bare, either, dates="month-first")
    assert "cannot go back" in wrong["faults"][0]["message"]
    other = PLAIN.replace("2025-01-31", "01/31/2025")
    assert look(bare, other)["dates"] == "month-first"
    assert "is not a date with the day first" in look(bare, other, dates="day-first")["faults"][0]["message"]


@pytest.mark.parametrize(
    ("row", "column", "said"),
    [
        ("9X,2024-02-01,260,0.2,0.23,", "valve", "there is no valve '9X'; the engine has 1I, 1E"),
        ("1E,31.02.2024,260,0.2,0.23,", "date", "is not a date"),
        ("1E,2999-01-01,260,0.2,0.23,", "date", "lies in the future"),
        ("1E,2024-02-01,lots,0.2,0.23,", "usage (h)", "not a running total"),
        ("1E,2024-02-01,,0.2,0.23,", "usage (h)", "is empty"),
        ("1E,2024-02-01,260,0.25,0.2,", "would not go (mm)", "should be thicker"),
        ("1E,2024-02-01,260,0.2,x,", "would not go (mm)", "'x' is not a clearance"),
        ("1E,2024-02-01,260,0,0.23,", "went (mm)", "write '<' and the thinnest"),
        ('"1E,2024-02-01,260,0.2,0.23,', "the whole row", "quotation mark not closed"),
        ("1E,2024-02-01,260,0.2,0.23,mushy", "felt", "'mushy' is not a feel"),
        ("1E,2024-02-01,260,0.2,0.23,,,7", "the whole row", "8 cells under 6 heads"),
        ("1E,2024-02-01,100,0.2,0.23,", "usage (h)", "cannot go back"),
        ("1E,2024-01-31,250,0.2,0.23,", "valve", "is on line 2 already"),
    ],
)
def test_a_fault_is_reported_by_line_and_column_and_nothing_is_stored(bare, row, column, said):
    head, first, *_ = PLAIN.splitlines()
    sheet = "\n".join([head, first, row, "1I,2024-01-31,250,-,,"])
    (fault,) = look(bare, sheet)["faults"]
    assert (fault["line"], fault["column"]) == (3, column) and said in fault["message"]
    refused = take(bare, sheet)
    assert refused.status_code == 422 and f"line 3, {column}" in refused.text
    assert visits_of(bare) == []
    assert take(bare, sheet, leave_out_faulty=True).json()["readings_new"] >= 1
    assert len(visits_of(bare)) >= 1


@pytest.mark.parametrize(
    ("content", "said"),
    [
        (b"", "is empty"),
        (b"PK\x03\x04\x00\x00", "cannot be read as a workbook"),
        (b"valve\xff\xfe\x81", "is not windows-1252"),
    ],
)
def test_what_is_no_table_is_refused_plainly(bare, content, said):
    answer = bare.post(f"{BARE}/preview", content=content)
    assert answer.status_code == 422 and said in answer.text


def test_columns_are_chosen_where_their_heads_tell_nothing(bare):
    sheet = PLAIN.replace(PLAIN.splitlines()[0], "a,b,c,d,e,f")
    seen = look(bare, sheet)
    assert len(seen["missing"]) == 4 and take(bare, sheet).status_code == 422
    chosen = ["valve:0", "date:1", "usage:2", "went:3", "refused:4", "felt:5"]
    assert look(bare, sheet, column=chosen)["readings_new"] == 3


def test_what_differs_from_the_workshop_is_a_fault_and_the_workshop_stays(bare):
    take(bare, PLAIN)
    kept = visits_of(bare)
    sheet = PLAIN.replace("0.15,0.18", "0.13,0.15") + "2E,2024-01-31,250,0.25,0.28,drag\n"
    seen = look(bare, sheet)
    assert [(one["line"], "differs from yours" in one["message"]) for one in seen["faults"]] == [(3, True)]
    assert seen["visits"][0]["state"] == "added to"
    take(bare, sheet, leave_out_faulty=True)
    first, _ = visits_of(bare)
    assert first["readings"][:2] == kept[0]["readings"] and first["readings"][2]["valve"] == "2E"


def test_the_example_can_be_imported_as_it_is(bare):
    example = bare.get("/api/engines/bare/readings-sheet/example.csv").text
    seen = look(bare, example)
    assert seen["faults"] == [] and seen["ambiguities"] == [] and seen["readings_new"] == 8


def test_a_hundred_thousand_rows_with_one_in_a_hundred_wrong(bare):
    """Every fault is counted, nothing is stored, and the server goes on."""
    head, valves, chance = PLAIN.splitlines()[0], ["1I", "1E", "2I", "2E"], random.Random(5)
    days = [date.fromordinal(700_000 + n).isoformat() for n in range(25_000)]
    lines = [f"{valve},{day},{n},0.20,0.23,drag" for n, day in enumerate(days) for valve in valves]
    wrong = set(chance.sample(range(len(lines)), 1000))
    sheet = "\n".join(
        [head, *(line.replace("0.20", "none") if n in wrong else line for n, line in enumerate(lines))]
    )
    seen = look(bare, sheet)
    assert (seen["rows"], seen["fault_count"], seen["rows_good"]) == (100_000, 1000, 99_000)
    assert {one["line"] - 2 for one in seen["faults"]} == wrong
    assert take(bare, sheet).status_code == 422
    assert visits_of(bare) == []


@given(st.integers(1, 60), st.integers(0, 9), st.sampled_from([".", ","]))
def test_a_thickness_reads_the_same_with_either_decimal_mark(thou, tenth, mark):
    text = f"{thou}{mark}{tenth}"
    number = plain_number(text)
    assert number == pytest.approx(thou + tenth / 10)
    try:
        (blade_mm,) = blades_of(f"{text} thou", "mm")
    except CellFault:
        assert number * 0.0254 > 1.3
    else:
        assert blade_mm == pytest.approx(number * 0.0254, abs=1e-4)


@given(st.integers(0, 9_999_999), st.booleans())
def test_a_running_total_reads_the_same_with_thousands_parted(total, comma):
    parted = f"{total:,}".replace(",", "." if comma else ",")
    assert usage_of(parted, decimal_comma=comma) == total
    assert usage_of(f"{total} h", decimal_comma=comma) == total


def test_no_column_is_two_things_and_no_head_is_taken_for_the_other_blade():
    heads = ("Valve", "Date", "Hours", "Goes", "No-go", "Feel", "Temp (F)", "Found/left", "Machine")
    assert recognised(heads) == {
        "valve": 0,
        "date": 1,
        "usage": 2,
        "went": 3,
        "refused": 4,
        "felt": 5,
        "temperature": 6,
        "phase": 7,
        "engine": 8,
    }
