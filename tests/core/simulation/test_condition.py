"""A made-up engine's true state: what a technician would find follows from it, and only where it should."""

from dataclasses import replace

import pytest
from hypothesis import given
from hypothesis import strategies as st

from pronostico.core.crank.events import DEFAULT_EVENTS, Firing
from pronostico.core.crank.stations import CrankTask, crank_plan
from pronostico.core.simulation.condition import sound
from tests.builders import engine

FIRING = Firing.from_order([1, 3, 4, 2])


def four():
    return sound(engine(4), FIRING, DEFAULT_EVENTS)


def test_a_sound_engine_shows_sound_figures():
    condition = four()
    for cylinder in (1, 2, 3, 4):
        assert condition.compression_kpa(cylinder) == pytest.approx(1100.0)
        # A 0.25 mm2 leak behind an orifice 1 mm across: 0.0625 / (0.0625 + 0.6169).
        assert condition.leak_percent(cylinder) == pytest.approx(9.2, abs=0.05)
        assert condition.heard(cylinder) == ()
        assert condition.misfire_share(cylinder) < 0.001


@given(st.floats(0.0, 0.2), st.floats(0.0, 0.1))
def test_the_further_a_valve_is_held_open_the_lower_its_cylinder_and_no_other(held, more):
    less = replace(four(), clearance_mm={**four().clearance_mm, "2E": -held})
    worse = replace(less, clearance_mm={**less.clearance_mm, "2E": -held - more})
    assert worse.compression_kpa(2) <= less.compression_kpa(2) <= 1100.0 + 1e-9
    assert worse.leak_percent(2) >= less.leak_percent(2)
    assert worse.compression_kpa(1) == pytest.approx(1100.0)


def test_oil_raises_worn_rings_and_not_a_burnt_valve():
    rings = replace(four(), ring_leak_mm2={1: 1.4})
    burnt = replace(four(), face_leak_mm2={"1E": 1.2})
    assert rings.compression_kpa(1, oiled=True) > 1.2 * rings.compression_kpa(1)
    assert burnt.compression_kpa(1, oiled=True) < 1.1 * burnt.compression_kpa(1)
    assert rings.heard(1) == ("crankcase",) and burnt.heard(1) == ("exhaust",)


@pytest.mark.parametrize("school", ["two-turn", "each-cylinder", "lobe-away"])
def test_every_valve_of_a_station_has_its_play_there_and_the_other_stroke_has_not_both(school):
    condition = four()
    task = CrankTask(condition.engine.valves, FIRING, DEFAULT_EVENTS)
    for station in crank_plan(task, school):
        for name in station.valves:
            valve = condition.engine.valve(name)
            assert condition.play_mm(valve, station.crank_deg) == condition.clearance_mm[name]
            assert condition.has_play(valve, station.crank_deg)
    for valve in condition.engine.valves:
        overlap = FIRING.angle_deg[valve.cylinder] + 360.0
        # Where the exhaust is just closing the intake opens: neither has its play.
        assert condition.play_mm(valve, overlap) < condition.clearance_mm[valve.id]


def test_a_bent_rod_shows_one_way_and_then_the_other():
    condition = replace(four(), swing_mm={"1I": 0.06})
    valve = condition.engine.valve("1I")
    first, second, third = (condition.play_mm(valve, 720.0 * turn) for turn in range(3))
    assert first == third and second - first == pytest.approx(0.06)


def test_lift_is_the_lobes_less_the_clearance():
    condition = replace(four(), lift_lost={"3E": 0.25})
    lifts = {
        valve.id: max(condition.valve_lift_mm(valve, deg) for deg in range(720))
        for valve in condition.engine.valves
    }
    # The lobe lifts 8 mm, less the middle of the spec: 0.275 and 0.175 mm.
    assert lifts["1E"] == pytest.approx(7.725, abs=0.01) and lifts["1I"] == pytest.approx(7.825, abs=0.01)
    assert lifts["3E"] == pytest.approx(6.0 - 0.275, abs=0.01)


def test_the_registers_worked_example_of_worn_rings():
    # F-23 in docs/formulas.md: (1 + 0.35 * 0.25) / (1 + 0.35 * 1.4); with oil a fifth of 1.4 is left.
    worn = replace(four(), ring_leak_mm2={1: 1.4})
    assert worn.compression_kpa(1) / 1100.0 == pytest.approx(1.0875 / 1.49)
    assert worn.compression_kpa(1) / 1100.0 == pytest.approx(0.73, abs=0.005)
    assert worn.compression_kpa(1, oiled=True) / 1100.0 == pytest.approx(1.0875 / 1.098)


def test_a_valve_that_its_cam_holds_open_leaks_and_is_heard_where_the_crank_stands():
    condition = four()
    # Cylinder 1 at 250 degrees after its top: the exhaust valve is wide open, the intake shut.
    leaks = condition.leaks_mm2(1, crank_deg=250.0)
    assert leaks["exhaust"] > 50.0 and leaks["intake"] == 0.0
    assert condition.heard(1, crank_deg=250.0) == ("exhaust",)
    assert condition.leaks_mm2(1, crank_deg=0.0) == condition.leaks_mm2(1)
