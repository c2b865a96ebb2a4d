import json
import zipfile
from datetime import date

import numpy as np
import pytest
from benchmarks.forecast_study import record_of
from benchmarks.truth import engine_with_drifts
from typer.testing import CliRunner

from pronostico.cli import app
from pronostico.demo.scenario import demo_machines
from tests.builders import record_document, record_text


def run(*arguments):
    # Wide, so that no figure is broken over two lines of a table.
    return CliRunner(env={"COLUMNS": "140"}).invoke(app, [str(argument) for argument in arguments])


@pytest.fixture
def record_file(tmp_path):
    path = tmp_path / "mule.json"
    path.write_text(record_text(), "utf-8")
    return path


@pytest.fixture
def demo_file(tmp_path):
    path = tmp_path / "demo.json"
    path.write_text(demo_machines(date.today())[0].record.model_dump_json(), "utf-8")
    return path


def test_check_says_what_it_read(record_file):
    result = run("check", record_file)
    assert result.exit_code == 0
    assert "valid record of Test mule: 4 valves, 2 visits, 1 cases" in result.output


def test_check_names_every_fault_with_its_place(tmp_path):
    document = record_document()
    document["visits"][1]["usage"] = 3
    document["visits"][1]["readings"][0]["valve"] = "9X"
    document["engine"]["firing_order"] = [1, 1]
    path = tmp_path / "faulty.json"
    path.write_text(json.dumps(document), "utf-8")
    result = run("check", path)
    assert result.exit_code == 1
    assert f"{path}: 3 faults" in result.stderr
    for place in ("$.visits[1].usage", "$.visits[1].readings[0].valve", "$.engine.firing_order"):
        assert place in result.stderr
    assert result.stdout == ""


@pytest.mark.parametrize("command", ["check", "analyse", "diagnose"])
def test_a_file_that_is_not_there_is_named(command, tmp_path):
    result = run(command, tmp_path / "gone.json")
    assert result.exit_code == 1
    assert "gone.json" in result.stderr


@pytest.mark.parametrize("arguments", [["analyse"], ["nonsense"], ["analyse", "x", "--risk", "3"]])
def test_wrong_usage_is_status_2(arguments):
    assert run(*arguments).exit_code == 2


def test_analyse_prints_one_json_document_of_the_agreed_shape(record_file):
    result = run("analyse", record_file, "--json")
    assert result.exit_code == 0
    report = json.loads(result.stdout)
    assert (report["engine"], report["usage_unit"], report["as_of_usage"]) == ("mule", "h", 180.5)
    by_name = {valve["valve"]: valve for valve in report["valves"]}
    assert list(by_name) == ["1I", "1E", "2I", "2E"]
    for valve in by_name.values():
        assert {"found", "left", "now", "drift", "sink", "break", "crossing", "forecast"} <= set(valve)
    found = by_name["1E"]["found"]
    assert found["verdict"] == "tight"
    assert {
        "mean_mm",
        "sd_mm",
        "q05_mm",
        "q95_mm",
        "leaning",
        "p_tight",
        "p_in",
        "p_loose",
        "contradiction",
    } <= set(found)
    # The last visit read one valve, as found only.
    assert by_name["1E"]["left"] is None and by_name["1I"]["found"] is None
    assert [visit["visit"] for visit in report["visits"]] == ["v1", "v2"]


def test_analyse_looks_ahead_to_the_usages_asked_for(record_file):
    report = json.loads(run("analyse", record_file, "--at", "200", "--at", "300", "--json").stdout)
    valve = next(valve for valve in report["valves"] if valve["valve"] == "1E")
    assert [ahead["usage"] for ahead in valve["forecast"]] == [200.0, 300.0]


def test_analyse_for_people_says_none_rather_than_a_negative_gap(demo_file):
    result = run("analyse", demo_file)
    assert result.exit_code == 0
    assert "under 0.04 mm" in result.output
    columns = [line.split("│") for line in result.output.splitlines()]
    found = [cells[2] for cells in columns if len(cells) > 3]
    assert any("tight" in cell for cell in found)
    assert not any("-" in cell for cell in found)


def test_diagnose_names_the_cause_and_its_reasons(demo_file):
    report = json.loads(run("diagnose", demo_file, "--json").stdout)
    assert report["case"] == "c1"
    first = report["causes"][0]
    assert (first["cause"], first["where"], first["cylinders"]) == ("seat-recession", "exhaust", [1, 2, 3, 4])
    assert first["for"][0]["decibans"] > first["for"][-1]["decibans"] > 0
    assert "valve seat recession" in run("diagnose", demo_file).output


def test_diagnose_of_a_case_that_is_not_there(record_file):
    result = run("diagnose", record_file, "--case", "c9")
    assert result.exit_code == 1
    assert "there is no case 'c9'" in result.stderr


def crank_of(tmp_path, *arguments, **engine):
    document = record_document()
    document["engine"].update(engine)
    path = tmp_path / "crank.json"
    path.write_text(json.dumps(document), "utf-8")
    return run("crank", path, *arguments)


def test_crank_prints_the_agreed_shape(demo_file):
    report = json.loads(run("crank", demo_file, "--json").stdout)
    assert report["school"] == "two-turn"
    assert report["stations"] == [
        {"crank_deg": 0.0, "mark": "cylinder 1 at TDC on compression", "valves": ["1I", "1E", "2I", "3E"]},
        {"crank_deg": 360.0, "mark": "cylinder 4 at TDC on compression", "valves": ["2E", "3I", "4I", "4E"]},
    ]
    assert report["turns_between_deg"] == [360.0]


def test_crank_follows_the_method_asked_for(demo_file):
    report = json.loads(run("crank", demo_file, "--school", "each-cylinder", "--json").stdout)
    assert [station["valves"][0] for station in report["stations"]] == ["1I", "3I", "4I", "2I"]
    assert run("crank", demo_file, "--school", "by-ear").exit_code == 2


def test_the_manuals_own_table_overrides_every_method(tmp_path):
    own = [
        {"crank_deg": 75, "mark": "V mark", "valves": ["1I", "1E"]},
        {"crank_deg": 435, "valves": ["2I", "2E"]},
    ]
    report = json.loads(crank_of(tmp_path, "--json", stations=own, lobe_position="lobes up").stdout)
    assert report["school"] == "manual"
    assert [(s["crank_deg"], s["mark"]) for s in report["stations"]] == [
        (75.0, "V mark"),
        (435.0, "as in the manual"),
    ]
    assert report["turns_between_deg"] == [360.0]
    assert report["lobe_position"] == "lobes up"


def test_a_decompression_bump_is_passed_by_piston_travel(tmp_path):
    bump = {"bump_release_travel_mm": 6.35, "stroke_mm": 60, "rod_length_mm": 100}
    report = json.loads(crank_of(tmp_path, "--json", **bump).stdout)
    assert 30 < report["past_top"]["crank_deg"] < 40
    assert "past the compression release" in crank_of(tmp_path, **bump).output


def test_an_engine_without_its_firing_order_is_reported_what_is_missing(tmp_path):
    result = crank_of(tmp_path, firing_order=None)
    assert result.exit_code == 1
    assert "firing order is not entered" in result.stderr


def test_an_engine_with_its_own_events_is_planned_by_them(tmp_path):
    events = {"intake": [330, 620], "exhaust": [110, 390]}
    report = json.loads(crank_of(tmp_path, "--school", "lobe-away", "--json", events_deg=events).stdout)
    # By hand: half way round from the middle of the intake's opening, 475.
    assert report["stations"][0]["crank_deg"] == 115.0


def test_analyse_says_where_it_goes_and_when_to_check_next(tmp_path):
    path = tmp_path / "one.json"
    path.write_text(demo_machines(date(2026, 11, 25))[0].record.model_dump_json(), "utf-8")
    report = json.loads(run("analyse", path, "--json", "--at", "2200", "--at", "2413").stdout)
    by_name = {valve["valve"]: valve for valve in report["valves"]}
    assert {by_name[f"{n}E"]["drift"]["trend"] for n in (1, 2, 3, 4)} == {"tightening"}
    assert by_name["3E"]["break"]["visit"] == "v8" and by_name["3E"]["break"]["direction"] == "tight"
    assert by_name["1E"]["sink"]["mean_mm"] == pytest.approx(0.25, abs=0.08)
    assert [one["usage"] for one in by_name["1I"]["forecast"]] == [2200.0, 2413.0]
    chances = by_name["1I"]["forecast"][1]
    assert chances["p_tight"] + chances["p_in"] + chances["p_loose"] == pytest.approx(1.0, abs=1e-6)
    assert set(by_name["1E"]["crossing"]["tight"]) == {"q10", "q50", "q90"}
    check = report["next_check"]
    assert (check["usage"], check["risk"], check["margin_mm"]) == (2163.0, 0.1, 0.03)
    assert check["limiting_valve"] == "3E" and "4E" not in check["due_now"]
    assert all(set(one["shift"]) == {"mean_mm", "sd_mm", "suspect"} for one in report["visits"])
    shown = run("analyse", path).stdout
    assert "tightening" in shown and "Next check now: 1E, 2E, 3E are out of spec" in shown
    # Nobody looks ahead into the past.
    past = run("analyse", path, "--at", "5")
    assert past.exit_code == 1 and "2163 or more, the last visit's" in past.stderr


def test_analyse_of_lifters_has_nothing_to_foretell(tmp_path):
    path = tmp_path / "v8.json"
    path.write_text(demo_machines(date(2026, 11, 25))[2].record.model_dump_json(), "utf-8")
    report = json.loads(run("analyse", path, "--json").stdout)
    assert report["next_check"] is None
    assert all(valve["now"] is None and valve["crossing"] is None for valve in report["valves"])


def test_the_tables_of_a_record_are_written_with_their_descriptor(record_file, tmp_path):
    made = tmp_path / "mule.zip"
    done = run("tables", record_file, made)
    assert done.exit_code == 0, done.output
    with zipfile.ZipFile(made) as archive:
        described = json.loads(archive.read("datapackage.json"))
        assert {one["path"] for one in described["resources"]} < set(archive.namelist())
        assert archive.read("visits.csv").decode().count("\r\n") == 3
    nowhere = run("tables", record_file, tmp_path / "no" / "where.zip")
    assert nowhere.exit_code == 1 and "No such file" in nowhere.output


def test_analyse_names_the_regimes_of_the_drift_unless_told_to_take_it_as_steady(tmp_path):
    path = tmp_path / "quad.json"
    quad = next(one for one in demo_machines(date.today()) if one.record.engine.id == "quad")
    path.write_text(quad.record.model_dump_json(), "utf-8")
    on, off = (
        json.loads(run("analyse", path, *more, "--json").stdout) for more in ((), ("--regimes", "off"))
    )
    assert sum(one["probability"] for one in on["regimes"]) == pytest.approx(1.0)
    assert {"kind": "warm-visit", "visit": "v4"}.items() <= on["regimes"][1].items()
    assert [one["kind"] for one in off["regimes"]] == ["steady"]
    wider = [
        one["forecast"][0]["sd_mm"] > other["forecast"][0]["sd_mm"]
        for one, other in zip(on["valves"], off["valves"], strict=True)
    ]
    assert any(wider)
    assert run("analyse", path, "--regimes", "perhaps").exit_code == 2


def fleet(folder, drifts_of_exhausts, visits):
    """Records of engines of one kind, each with so many visits."""
    for number, drift in enumerate(drifts_of_exhausts):
        made = engine_with_drifts(np.random.default_rng(number), {"intake": 0.0, "exhaust": drift})
        record = record_of(made, visits)
        record = record.model_copy(
            update={"engine": record.engine.model_copy(update={"id": f"sister-{number}"})}
        )
        (folder / f"sister-{number}.json").write_text(record.model_dump_json(), "utf-8")


def test_analyse_with_sister_engines_says_what_it_expects_and_from_how_many(tmp_path):
    fleet(tmp_path, (-0.02, -0.021, -0.019, -0.02), visits=4)
    path = tmp_path / "sister-0.json"
    # The engine itself lies in the folder too, and does not count.
    pooled = json.loads(run("analyse", path, "--sisters", tmp_path, "--json").stdout)
    exhaust = next(one for one in pooled["expected"] if one["side"] == "exhaust")
    assert exhaust["sisters"] == 3 and not exhaust["differs"]
    assert exhaust["mean_mm_per_interval"] == pytest.approx(-0.02, abs=0.006)
    assert (
        "Expected from 3 sister engines: exhaust -0.0" in run("analyse", path, "--sisters", tmp_path).output
    )
    alone = json.loads(run("analyse", path, "--json").stdout)
    assert alone["expected"] == []
    assert [one["found"] for one in alone["valves"]] == [one["found"] for one in pooled["valves"]]
    assert alone["valves"][1]["drift"] != pooled["valves"][1]["drift"]


def test_an_engine_unlike_its_sisters_is_remarked_on(tmp_path):
    fleet(tmp_path, (0.012, -0.03, -0.03, -0.031, -0.029, -0.03), visits=6)
    shown = run("analyse", tmp_path / "sister-0.json", "--sisters", tmp_path).output
    assert "this engine drifts differently" in shown


def test_one_visit_has_no_trend_whatever_its_sisters_do(tmp_path):
    fleet(tmp_path, (-0.03, -0.03, -0.03, -0.03), visits=6)
    path = tmp_path / "one.json"
    single = json.loads((tmp_path / "sister-0.json").read_text("utf-8"))
    path.write_text(json.dumps({**single, "visits": single["visits"][:1]}), "utf-8")
    alone, pooled = (
        json.loads(run("analyse", path, *more, "--json").stdout) for more in ((), ("--sisters", tmp_path))
    )
    trends = [[valve["drift"]["trend"] for valve in one["valves"]] for one in (alone, pooled)]
    assert trends[0] == trends[1] and "tightening" not in trends[1]
    drifts = [one["valves"][1]["drift"]["mean_mm_per_interval"] for one in (alone, pooled)]
    assert drifts[1] < drifts[0] - 0.01


@pytest.mark.parametrize("what", ["gone", "empty", "faulty", "other unit"])
def test_a_folder_of_sisters_that_cannot_be_used_is_said(record_file, tmp_path, what):
    folder = tmp_path / "sisters"
    if what != "gone":
        folder.mkdir()
    if what == "faulty":
        (folder / "bad.json").write_text("{", "utf-8")
    if what == "other unit":
        other = record_document()
        other["engine"].update(id="other", usage_unit="km")
        (folder / "other.json").write_text(json.dumps(other), "utf-8")
    result = run("analyse", record_file, "--sisters", folder)
    expected = {
        "gone": "no such folder",
        "empty": "no record in it",
        "faulty": "bad.json",
        "other unit": "km",
    }
    assert result.exit_code == 1 and expected[what] in result.stderr
