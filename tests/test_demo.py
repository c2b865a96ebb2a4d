"""The demonstration: made from a stated truth, the same every time, and shipped with that truth."""

import json
import os
import signal
import subprocess
import sys
from datetime import UTC, date, datetime
from itertools import pairwise
from pathlib import Path

import pytest

from pronostico.analysis.engine_report import analyse_ahead, analyse_record
from pronostico.demo.scenario import demo_machines
from pronostico.demo.seed import seed_demo
from pronostico.record.reading_in import read_record

DAYS = [date(2026, 11, 25), date(2028, 2, 29)]


@pytest.mark.parametrize("today", DAYS)
def test_records_are_valid_on_any_day_and_differ_by_their_dates_alone(today):
    for machine, same in zip(demo_machines(today), demo_machines(DAYS[0]), strict=True):
        read_record(machine.record.model_dump_json(), today=today)
        assert machine.true_clearances == same.true_clearances
        readings = [visit.readings for visit in machine.record.visits]
        assert readings == [visit.readings for visit in same.record.visits]


def test_the_truth_is_shipped_beside_each_record(tmp_path):
    seed_demo(tmp_path, today=DAYS[0], now=datetime.now(UTC))
    for name in ("resurfacer-1", "resurfacer-2"):
        record = read_record((tmp_path / f"{name}.record.json").read_text("utf-8"), today=DAYS[0])
        truth = json.loads((tmp_path / f"{name}.truth.json").read_text("utf-8"))
        true = {(one["visit"], one["valve"]): one["found_mm"] for one in truth["clearances"]}
        assert len(true) == len(record.visits) * len(record.engine.valves)
        for valve in analyse_record(record).valves:
            for state in valve.history:
                if state.found and state.found.bracket.went_mm is not None and not state.found.contradiction:
                    # Within four of all that stands between a truth and its reading.
                    near = 4 * (state.found.sd_mm**2 + 0.005**2 + 0.004**2) ** 0.5
                    assert state.found.mean_mm == pytest.approx(true[state.visit, valve.valve], abs=near)


def test_sunk_seats_are_what_the_truth_says():
    first = demo_machines(DAYS[0])[0]
    for valve in analyse_ahead(first.record, risk=0.1, margin_mm=0.03).valves:
        own = [one for one in first.true_clearances if one.valve == valve.valve]
        read = [state.visit for state in valve.history if state.found]
        own = [one for one in own if one.visit in read]
        sunk = sum(before.left_mm - after.found_mm for before, after in pairwise(own))
        got = valve.sink
        # The valve whose last reading is only 'under 0.04' is known less well than its sd of a prior says.
        assert got.mean_mm == pytest.approx(sunk, abs=3.0 * got.sd_mm + 0.005)


@pytest.fixture(scope="module")
def told():
    """What the drift model says of every machine."""
    machines = demo_machines(DAYS[0])
    return {one.record.engine.id: analyse_ahead(one.record, risk=0.1, margin_mm=0.03) for one in machines}


def change_points_of(report):
    return {valve.valve: valve.break_.visit for valve in report.valves if valve.break_ is not None}


def test_every_machine_of_the_workshop_is_there(told):
    assert len(told) == 8
    assert {report.usage_unit for report in told.values()} == {"h", "km"}


def test_the_groomer_has_one_valve_that_let_go(told):
    groomer = told["groomer"]
    assert change_points_of(groomer) == {"4I": "v5"}
    loose = [valve.valve for valve in groomer.valves if valve.standing.verdict == "loose"]
    assert loose == ["4I"]


def test_the_thrower_has_worn_loose_and_is_read_in_thou(told):
    assert {valve.standing.verdict for valve in told["thrower"].valves} == {"loose"}
    assert any(valve.drift.trend == "loosening" for valve in told["thrower"].valves)
    thrower = next(one for one in demo_machines(DAYS[0]) if one.record.engine.id == "thrower")
    assert thrower.record.gauge_set.blades_mm[0] == pytest.approx(0.0381)


def test_the_bent_rod_of_the_pump_looks_right_again_and_is_remembered(told):
    assert change_points_of(told["gun-pump"]) == {"2I": "v4"}
    assert all(valve.standing.leaning == "in" for valve in told["gun-pump"].valves)


def test_the_quads_warm_visit_is_the_checking_and_not_the_valves(told):
    assert [one.visit for one in told["quad"].visits if one.shift.suspect] == ["v4"]
    assert change_points_of(told["quad"]) == {}


@pytest.mark.parametrize("how", [signal.SIGINT, signal.SIGTERM])
def test_one_command_serves_it_and_says_where(tmp_path, how):
    with subprocess.Popen(
        [sys.executable, "-m", "pronostico.cli", "demo", "--port", "8700"],
        stdout=subprocess.PIPE,
        text=True,
        env={**os.environ, "PYTHONUNBUFFERED": "1", "TMPDIR": str(tmp_path)},
    ) as server:
        assert server.stdout is not None
        lines = [server.stdout.readline(), server.stdout.readline()]
        folder = Path(lines[0].split()[-1])
        assert (folder / "resurfacer-1.truth.json").is_file()
        assert "http://127.0.0.1:87" in lines[1]
        server.send_signal(how)
        assert server.wait(timeout=20) == 0
    # Throw-away: nothing of it is left.
    assert not folder.exists()
