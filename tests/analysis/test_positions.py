"""The wrong position of the crank, from a record: found, said, and kept out of what follows from it."""

import json

import pytest

from pronostico.analysis.adjustment_plan import plan_adjustment
from pronostico.analysis.crank_plan import crank_stations, usual_school
from pronostico.analysis.diagnosis import diagnose_record
from pronostico.analysis.engine_report import analyse_with_drift
from pronostico.analysis.evidence import evidence_of
from pronostico.analysis.positions import suggested_school
from pronostico.record.reading_in import read_record
from tests.builders import TODAY, record_document

AT_FIRST = ("1I", "1E", "2I", "3E")
ALL = tuple(f"{n}{side}" for n in (1, 2, 3, 4) for side in "IE")


def bracketed(valve):
    blade = 0.16 if valve.endswith("I") else 0.26
    return {
        "valve": valve,
        "phase": "found",
        "tries": [{"blades_mm": [blade], "felt": "drag"}, {"blades_mm": [blade + 0.03], "felt": "no-go"}],
    }


def refused(valve):
    return {"valve": valve, "phase": "found", "tries": [{"blades_mm": [0.05], "felt": "no-go"}]}


def four(*visits, engine=None):
    """An in-line four with the readings of some visits, 250 hours apart."""
    document = record_document()
    document["engine"].update(
        {
            "firing_order": [1, 3, 4, 2],
            "adjuster_pitch_mm": 0.75,
            "valves": [
                {"id": name, "cylinder": int(name[0]), "side": "intake" if name[1] == "I" else "exhaust"}
                for name in ALL
            ],
            **(engine or {}),
        }
    )
    document["visits"] = [
        {
            "id": f"v{at + 1}",
            "date": f"2025-0{at + 1}-05",
            "usage": 250 * at,
            "temperature_c": 20,
            **(readings if isinstance(readings, dict) else {"readings": readings}),
        }
        for at, readings in enumerate(visits)
    ]
    document["cases"] = []
    return read_record(json.dumps(document), today=TODAY)


SOUND = [bracketed(name) for name in ALL]
OFF = [refused(name) if name in AT_FIRST else bracketed(name) for name in ALL]


def test_four_valves_of_one_position_without_clearance_are_a_wrong_position():
    report = analyse_with_drift(four(SOUND, OFF))
    first, second = report.positions
    assert (first.visit, first.crank_deg, tuple(first.valves)) == ("v2", 0.0, AT_FIRST)
    assert first.suspect and first.p_one_turn_off > 0.99
    assert second.crank_deg == 360.0 and not second.suspect and second.p_one_turn_off < 0.01


def test_its_valves_take_no_part_in_change_points_and_trends():
    untouched = {valve.valve: valve for valve in analyse_with_drift(four(SOUND, SOUND)).valves}
    for valve in analyse_with_drift(four(SOUND, OFF)).valves:
        assert valve.break_ is None
        assert valve.drift.trend != "tightening"
        assert valve.now.mean_mm == pytest.approx(untouched[valve.valve].now.mean_mm, abs=0.02)


def test_it_speaks_for_a_measurement_error_and_for_nothing_else():
    of = four(SOUND, OFF)
    found = {one.finding for one in evidence_of(of, None)}
    assert "wrong-position" in found
    assert not [one for one in evidence_of(of, None) if one.place.valve in AT_FIRST]
    assert diagnose_record(of).causes[0].cause == "checked-wrong"


def test_the_plan_leaves_its_valves_alone():
    plan = plan_adjustment(four(SOUND, OFF), "v2")
    assert not any(one.touch for one in plan.valves)


def test_confirmed_as_they_are_its_readings_count():
    confirmed = {"readings": OFF, "positions_confirmed": list(AT_FIRST)}
    report = analyse_with_drift(four(SOUND, confirmed))
    assert not any(one.suspect for one in report.positions)
    assert report.positions[0].p_one_turn_off > 0.99
    tight = {one.place.valve for one in evidence_of(four(SOUND, confirmed), None) if one.presence > 0.9}
    assert tight >= set(AT_FIRST)
    plan = plan_adjustment(four(SOUND, confirmed), "v2")
    assert {one.valve for one in plan.valves if one.touch} == set(AT_FIRST)


def test_the_method_that_was_chosen_decides_what_belongs_together():
    by_cylinder = {"readings": OFF, "school": "each-cylinder"}
    report = analyse_with_drift(four(SOUND, by_cylinder))
    assert [tuple(one.valves) for one in report.positions] == [
        ("1I", "1E"),
        ("3I", "3E"),
        ("4I", "4E"),
        ("2I", "2E"),
    ]
    assert report.positions[0].suspect and report.positions[2].p_one_turn_off < 0.05


def test_without_a_firing_order_it_goes_by_cylinder():
    report = analyse_with_drift(four(SOUND, OFF, engine={"firing_order": None}))
    assert [one.crank_deg for one in report.positions] == [None] * 4
    assert report.positions[0].suspect and not report.positions[3].suspect


def test_one_sudden_tight_valve_among_sound_ones_is_not_taken_for_a_wrong_position():
    one_off = [refused(name) if name == "1E" else bracketed(name) for name in ALL]
    report = analyse_with_drift(four(SOUND, SOUND, SOUND, one_off))
    assert not any(one.suspect for one in report.positions)
    assert next(valve for valve in report.valves if valve.valve == "1E").break_.direction == "tight"


def test_cylinder_by_cylinder_needs_no_firing_order():
    engine = four(SOUND, engine={"firing_order": None}).engine
    plan = crank_stations(engine, "each-cylinder")
    assert [(one.crank_deg, one.valves) for one in plan.stations][:2] == [
        (None, ["1I", "1E"]),
        (None, ["2I", "2E"]),
    ]
    assert plan.turns_between_deg == [] and plan.stations[3].mark == "cylinder 4 at TDC on compression"


@pytest.mark.parametrize(
    ("engine", "school"),
    [
        ({}, "two-turn"),
        ({"firing_order": None}, "each-cylinder"),
        ({"firing_intervals_deg": [180, 90, 180, 270]}, "each-cylinder"),
        ({"adjustment": "shim-under-bucket"}, "lobe-away"),
    ],
)
def test_the_kind_of_the_engine_suggests_a_method_until_one_was_chosen(engine, school):
    of = four(SOUND, engine=engine)
    assert usual_school(of.engine) == suggested_school(of) == school
    chosen = four({"readings": SOUND, "school": "two-turn"}, engine=engine)
    assert suggested_school(chosen) == "two-turn"
