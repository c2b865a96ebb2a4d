"""Each reading beside its neighbours, last time, and what all share."""

from dataclasses import replace

import pytest

from pronostico.core.assessment import turn_change_of
from pronostico.core.constants import DEFAULT
from pronostico.core.visits import Reading
from tests.builders import around, engine, found, judgement_of, left, tries, visit

FOUR = engine(4)


def assessed(visit_now, *before, of=FOUR):
    return {one.valve.id: one for one in judgement_of(of, before, visit_now).valves}


def bracketed(clearances_mm):
    """A finely bracketed reading of each clearance."""
    return [
        found(valve, (round(mm - 0.004, 3), "drag"), (round(mm + 0.02, 3), "no-go"))
        for valve, mm in clearances_mm.items()
    ]


def test_in_spec_is_left_out_of_spec_is_set_and_unread_is_previewed_again():
    now = visit(1, 100.0, found("1I", (0.18, "drag"), (0.15, "free")), found("1E", (0.20, "no-go")))
    valves = assessed(now)
    advised = {id: (one.advised, one.because) for id, one in valves.items()}
    assert advised["1I"] == ("leave", "in-spec")
    assert advised["1E"] == ("set", "out-of-spec")
    assert advised["2I"] == ("look-again", "not-read")


def test_one_that_stands_apart_from_its_neighbours_is_odd_and_they_are_not():
    now = visit(1, 100.0, *bracketed({"1E": 0.27, "2E": 0.275, "3E": 0.13, "4E": 0.272}))
    valves = assessed(now)
    assert valves["3E"].neighbours.odd and valves["3E"].neighbours.by_mm == pytest.approx(-0.142, abs=0.01)
    assert not valves["1E"].neighbours.odd
    # With one other there is no telling which of the two is odd.
    assert assessed(visit(1, 1.0, *bracketed({"1E": 0.27, "2E": 0.1})))["1E"].neighbours is None


def test_last_time_is_how_it_was_left_and_how_far_it_moved_since():
    first = visit(1, 100.0, found("1E", (0.20, "no-go")), left("1E", (0.28, "drag"), (0.30, "no-go")))
    second = visit(2, 300.0)
    third = visit(3, 500.0, around("1E", 0.24))
    last = assessed(third, first, second)["1E"].last_time
    assert (last.visit, last.phase) == ("v1", "left")
    assert last.moved_mm == pytest.approx(-0.04, abs=0.012)


def test_answers_that_contradict_are_measured_again():
    now = visit(1, 100.0, found("1E", (0.20, "no-go"), (0.40, "free")))
    assert assessed(now)["1E"].because == "contradiction"


def test_what_differs_from_one_turn_of_the_crank_to_the_next_turn_changes():
    def turned(second_mm):
        first = found("1E", (0.25, "free"), (0.30, "no-go"))
        again = Reading("1E", "found", tries((second_mm, "free"), (round(second_mm + 0.05, 3), "no-go")))
        return assessed(visit(1, 100.0, first, again))["1E"]

    assert turned(0.10).swing.swings and turned(0.10).because == "swings"
    assert not turned(0.25).swing.swings
    # A reading without a lower end is vague in its mean, and yet surely far below the other.
    vague = found("1E", (0.28, "no-go"), (0.23, "no-go"))
    swing = assessed(visit(1, 100.0, around("1E", 0.27), vague))["1E"].swing
    assert swing.swings and 0.02 < swing.at_least_mm < 0.06 < swing.by_mm
    assert assessed(visit(1, 100.0, around("1E", 0.27)))["1E"].swing is None


def warm_history(shift_mm):
    """Three even visits, then one at which all have moved together."""
    clearances = {f"{n}{side}": mm for n in range(1, 5) for side, mm in (("I", 0.175), ("E", 0.275))}
    before = [visit(n, 250.0 * n, *bracketed(clearances)) for n in range(1, 4)]
    moved = {valve: mm + shift_mm for valve, mm in clearances.items()}
    return judgement_of(FOUR, tuple(before), visit(4, 1000.0, *bracketed(moved)))


def test_all_moving_at_once_is_a_suspected_shift_of_the_checking():
    suspected = warm_history(-0.06)
    assert suspected.shift.suspect and suspected.shift.readings == 8
    assert suspected.shift.mean_mm < -0.005
    # What looks out of spec is measured again before anything is set.
    assert {one.because for one in suspected.valves} <= {"shift", "open"}
    assert not warm_history(0.0).shift.suspect


def test_few_readings_suspect_nothing_and_a_first_visit_has_nothing_predicted():
    few = {f"{n}E": 0.275 for n in range(1, 5)}
    before = [visit(n, 250.0 * n, *bracketed(few)) for n in range(1, 4)]
    moved = visit(4, 1000.0, *bracketed({valve: mm - 0.04 for valve, mm in few.items()}))
    shift = judgement_of(FOUR, tuple(before), moved).shift
    assert shift.readings == 4 and shift.mean_mm < -0.003 and not shift.suspect
    assert judgement_of(FOUR, (), before[0]).shift is None


def test_without_a_spec_nothing_is_assessed():
    hydraulic = engine(4, intake_spec=None, exhaust_spec=None, adjustment="hydraulic")
    one = assessed(visit(1, 100.0, around("1E", 0.27)), of=hydraulic)["1E"]
    assert one.neighbours is one.swing is None and one.because == "not-read"


def test_the_temperature_is_reported_for_each_side():
    warm = engine(1, head_material="aluminium", valve_length_mm=100.0)
    assessment = judgement_of(warm, (), replace(visit(1, 100.0), temperature_c=40.0))
    # (22 - 12) and (22 - 17) millionths, 100 mm, 20 K.
    assert assessment.corrections["intake"].correction_mm == pytest.approx(0.020)
    assert assessment.corrections["exhaust"].correction_mm == pytest.approx(0.010)


def test_two_turns_differ_from_the_threshold_on():
    # Two brackets a little apart: no gap lies between their ranges, so that z alone decides.
    now = visit(1, 100.0, around("1E", 0.270), around("1E", 0.255))
    valve = FOUR.valve("1E")
    z = turn_change_of(FOUR, valve, now).z
    assert 1.0 < z < DEFAULT.swing_z
    for times, swings in ((0.99, True), (1.01, False)):
        found_here = turn_change_of(FOUR, valve, now, replace(DEFAULT, swing_z=z * times))
        assert found_here.at_least_mm < 2.0 * DEFAULT.reading_sd_mm and found_here.swings is swings


def test_an_inconclusive_valve_is_measured_again_for_that_even_where_all_moved_at_once():
    clearances = {f"{n}{side}": mm for n in range(1, 5) for side, mm in (("I", 0.175), ("E", 0.275))}
    before = tuple(visit(n, 250.0 * n, *bracketed(clearances)) for n in range(1, 4))
    moved = {valve: mm - 0.06 for valve, mm in clearances.items() if valve != "1E"}
    wide = found("1E", (0.20, "free"), (0.40, "no-go"))
    judged = judgement_of(FOUR, before, visit(4, 1000.0, *bracketed(moved), wide))
    because = {one.valve.id: one.because for one in judged.valves}
    assert judged.shift.suspect
    assert (because["1E"], because["2E"]) == ("open", "shift")
