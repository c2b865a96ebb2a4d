"""Notebooks as they are: a column a valve, several sheets, other languages, shims, settings, corrections."""

import io
import zipfile
from datetime import date

import pytest
from openpyxl import Workbook

from pronostico.limits import UNPACKED_SHEET_BYTES
from pronostico.services.exchange.spreadsheet.cells import CellFault, range_of, shim_of
from pronostico.services.exchange.spreadsheet.columns import in_hundredths, recognised, usage_unit_of
from tests.api.test_tables import look, take

BARE = "/api/engines/bare/readings-sheet"
WIDE = """Date;km;1E;1I;1E left
2024-01-31;250;0.20-0.23;0.15-0.18;0.28
2025-01-31;500;0.25;<0.13;
"""


@pytest.fixture
def bare(client):
    """An engine without visits that counts kilometres, so that a sheet has it to itself."""
    engine = {**client.get("/api/engines/resurfacer-1").json()["engine"], "id": "bare", "name": "Bare"}
    engine |= {"usage_unit": "km"}
    assert client.post("/api/engines", json={"engine": engine, "confirmed": []}).status_code == 201
    return client


def visits_of(client):
    return client.get("/api/engines/bare/record").json()["visits"]


def workbook(**sheets):
    book = Workbook()
    book.remove(book.active)
    for name, rows in sheets.items():
        sheet = book.create_sheet(name)
        for row in rows:
            sheet.append(row)
    stream = io.BytesIO()
    book.save(stream)
    return stream.getvalue()


class TestAColumnAValve:
    def test_one_row_a_visit_gives_all_its_readings(self, bare):
        seen = look(bare, WIDE)
        assert seen["faults"] == [] and seen["missing"] == []
        assert [(one["role"], one["valve"]) for one in seen["columns"]] == [
            ("date", None),
            ("usage", None),
            ("clearance", "1E"),
            ("clearance", "1I"),
            ("left", "1E"),
        ]
        assert (seen["readings_new"], seen["settings_new"], seen["visit_count"]) == (5, 1, 2)
        assert take(bare, WIDE).status_code == 200
        first, second = visits_of(bare)
        answers = {
            (one["valve"], one["phase"]): [(each["blades_mm"], each["felt"]) for each in one["tries"]]
            for one in first["readings"]
        }
        assert answers["1E", "found"] == [([0.20], "go"), ([0.23], "no-go")]
        assert answers["1E", "left"] == [([0.28], "drag")]
        # What was left otherwise than found was set, though no target was noted.
        assert [one["valve"] for one in first["settings"]] == ["1E"] and first["work"] == "check-and-set"
        assert second["work"] == "check" and second["readings"][1]["tries"][0]["felt"] == "no-go"

    def test_a_fault_is_at_its_own_cell_and_corrected_there(self, bare):
        sheet = WIDE.replace("0.15-0.18", "0.18-0.15").replace("250;", "2 5O;")
        seen = look(bare, sheet)
        # What is wrong with the whole row is said once, not for every valve.
        assert (seen["fault_count"], seen["rows"]) == (2, 2)
        places = {(one["place"], one["column"], one["index"], one["text"]) for one in seen["faults"]}
        assert places == {("line 2", "1I", 3, "0.18-0.15"), ("line 2", "km", 1, "2 5O")}
        refused = take(bare, sheet)
        assert refused.status_code == 422 and "line 2, km" in refused.text
        corrections = ["2:3:0.15-0.18", "2:1:250"]
        assert look(bare, sheet, correction=corrections)["faults"] == []
        assert take(bare, sheet, correction=corrections).json()["readings_new"] == 5
        assert [one["usage"] for one in visits_of(bare)] == [250, 500]

    def test_columns_of_valves_are_chosen_where_nothing_tells(self, bare):
        sheet = WIDE.replace("1E;1I;1E left", "a;b;c")
        assert look(bare, sheet)["missing"] != []
        chosen = {
            "column": ["date:0", "usage:1"],
            "valve_column": ["2:clearance:1E", "3:clearance:1I", "4:left:1E"],
        }
        assert look(bare, sheet, **chosen)["readings_new"] == 5
        assert take(bare, sheet, **chosen).status_code == 200
        # The next with the same heads is taken as this one was.
        again = look(bare, sheet.replace("2025-01-31", "2025-06-30"))
        assert again["remembered"] is True and again["missing"] == []
        assert again["columns"][4]["valve"] == "1E" and again["columns"][4]["role"] == "left"
        assert look(bare, WIDE)["remembered"] is False


class TestShimsAndSettings:
    def test_a_shim_that_is_another_than_before_was_changed(self, bare):
        sheet = (
            "date;km;1E;1E shim;1I;1I set to\n"
            "2023-01-31;250;0.20;265;0.15;0.18\n"
            "2024-01-31;500;0.22;265;0.15;\n"
            "2025-01-31;750;0.18;2,55;0.15;\n"
        )
        assert take(bare, sheet).json()["settings_new"] == 2
        first, second, third = visits_of(bare)
        assert [(one["valve"], one["target_mm"]) for one in first["settings"]] == [("1I", 0.18)]
        assert second["settings"] == []
        (changed,) = third["settings"]
        assert (changed["shim_from_mm"], changed["shim_to_mm"]) == (2.65, 2.55)
        assert third["shims_seen"]["1E"]["printed_mm"] == 2.55

    def test_a_shim_found_and_one_fitted_stand_in_columns_of_a_long_sheet(self, bare):
        sheet = (
            "valve,date,km,clearance,as left,shim found,shim fitted\n1E,2025-01-31,250,0.20,0.28,2.65,2.57\n"
        )
        assert take(bare, sheet).status_code == 200
        (visit,) = visits_of(bare)
        (setting,) = visit["settings"]
        assert (setting["shim_from_mm"], setting["shim_to_mm"]) == (2.65, 2.57)
        assert {one["phase"] for one in visit["readings"]} == {"found", "left"}

    def test_a_figure_that_is_no_shim_is_a_fault(self, bare):
        seen = look(bare, "valve,date,km,clearance,shim\n1E,2025-01-31,250,0.20,blue\n")
        assert "not a shim such as 2.65" in seen["faults"][0]["message"]
        with pytest.raises(CellFault):
            shim_of("9.5")


class TestWorkbooks:
    def test_sheets_with_the_same_heads_are_read_together(self, bare):
        head = ["Datum", "km-Stand", "1E", "1I"]
        content = workbook(
            **{
                "2023": [
                    head,
                    [date(2023, 1, 31), 250, 0.2, 0.15],
                    [date(2023, 6, 30), 300, "0.20-0.23", None],
                ],
                "2024": [head, [date(2024, 1, 31), 500, 0.2, "blue"]],
                "Notes": [["what", "when"], ["oil", "May"]],
            }
        )
        seen = look(bare, content)
        assert (seen["sheets"], seen["sheets_read"]) == (["2023", "2024", "Notes"], ["2023", "2024"])
        (fault,) = seen["faults"]
        assert (fault["place"], fault["column"]) == ("2024, line 2", "1I")
        assert (seen["encoding"], seen["delimiter"], seen["visit_count"]) == (None, None, 3)
        corrected = f"{fault['line']}:{fault['index']}:0.15"
        assert take(bare, content, correction=[corrected]).json()["readings_new"] == 5
        assert [one["usage"] for one in visits_of(bare)] == [250, 300, 500]
        assert look(bare, content, sheet="2023")["sheets_read"] == ["2023"]

    def test_what_is_no_workbook_or_a_bomb_is_refused(self, bare):
        assert bare.post(f"{BARE}/preview", content=b"PK\x03\x04nothing").status_code == 422
        refused = bare.post(f"{BARE}/preview", content=workbook(a=[["date"]]), params={"sheet": "b"})
        assert "has no sheet 'b'; it has a" in refused.text
        assert "is empty" in bare.post(f"{BARE}/preview", content=workbook(a=[])).text
        stream = io.BytesIO()
        with zipfile.ZipFile(stream, "w", zipfile.ZIP_DEFLATED) as archive:
            archive.writestr("[Content_Types].xml", b"0" * (UNPACKED_SHEET_BYTES + 1))
        assert "unpacks to over" in bare.post(f"{BARE}/preview", content=stream.getvalue()).text


class TestWords:
    @pytest.mark.parametrize(
        ("heads", "roles"),
        [
            ("Datum;Betriebsstunden;Ventil;Spiel [mm]", "date usage valve clearance"),
            ("Data;Ore;Cilindro;Lato;Gioco (mm)", "date usage cylinder side clearance"),
            ("Fecha;Horas;Válvula;Juego", "date usage valve clearance"),
            ("Day;Odometer;Valve;Gap [mm];Temp", "date usage valve clearance temperature"),
            ("Datum;km-Stand;Ventil;Scheibe", "date usage valve shim"),
            ("Jour;Compteur;Soupape;Jeu", "date usage valve clearance"),
        ],
    )
    def test_heads_in_other_words_and_languages(self, heads, roles):
        found = recognised(tuple(heads.split(";")))
        assert [role for role, _ in sorted(found.items(), key=lambda pair: pair[1])] == roles.split()

    def test_hundredths_in_the_head(self, bare):
        assert in_hundredths("Spalt (0.01 mm)") and in_hundredths("Spiel [1/100]")
        assert not in_hundredths("Gap [mm]")
        take(bare, "Ventil;Datum;km-Stand;Spalt (0.01 mm)\n1E;31.01.2025;250;20\n1I;31.01.2025;250;15-18\n")
        (visit,) = visits_of(bare)
        assert [one["tries"][0]["blades_mm"] for one in visit["readings"]] == [[0.2], [0.15]]

    def test_miles_become_kilometres_and_hours_do_not(self, bare):
        take(bare, "valve,date,miles,clearance\n1E,2025-01-31,100,0.20\n")
        assert visits_of(bare)[0]["usage"] == 160.9
        seen = look(bare, "valve,date,hours,clearance\n1E,2025-01-31,100,0.20\n")
        assert seen["missing"] == ["the running total in km: 'hours' says h"]
        assert usage_unit_of("km or miles") is None

    @pytest.mark.parametrize(
        ("text", "both"),
        [
            ("0.13-0.15", ("0.13", "0.15")),
            ("0,13 – 0,15", ("0,13", "0,15")),
            ("5/6 thou", ("5thou", "6thou")),
            ("0.13", None),
            ("<0.04", None),
        ],
    )
    def test_two_figures_are_what_went_and_what_would_not(self, text, both):
        assert range_of(text) == both
