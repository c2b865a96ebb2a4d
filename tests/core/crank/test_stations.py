"""Crank plans: known tables, laws over all engines, and the slider-crank by stepping."""

from math import cos, radians, sin, sqrt

import pytest
from hypothesis import given
from hypothesis import strategies as st

from pronostico.core.constants import DEFAULT
from pronostico.core.crank.events import DEFAULT_EVENTS, Events, Firing
from pronostico.core.crank.stations import SCHOOLS, CrankTask, crank_plan, past_top_deg
from pronostico.core.engine import Valve
from pronostico.core.errors import ImpossibleValue


def task(order, intervals=None, events=None):
    valves = tuple(
        valve for n in sorted(order) for valve in (Valve(f"{n}I", n, "intake"), Valve(f"{n}E", n, "exhaust"))
    )
    return CrankTask(valves, Firing.from_order(order, intervals), events or DEFAULT_EVENTS)


def table(order, school="two-turn", **more):
    return [(s.crank_deg, " ".join(s.valves)) for s in crank_plan(task(order, **more), school)]


def test_the_well_known_table_of_an_in_line_four():
    assert table([1, 3, 4, 2]) == [(0.0, "1I 1E 2I 3E"), (360.0, "2E 3I 4I 4E")]


def test_the_well_known_table_of_an_in_line_six():
    # At top of cylinder 1: both of 1, intakes of 2 and 4, exhausts of 3 and 5; then the others.
    assert table([1, 5, 3, 6, 2, 4]) == [(0.0, "1I 1E 2I 3E 4I 5E"), (360.0, "2E 3I 4E 5I 6I 6E")]


def test_a_single_needs_one_station():
    assert table([1]) == [(0.0, "1I 1E")]


def test_marks_say_which_cylinder_is_at_top():
    stations = crank_plan(task([1, 3, 4, 2]), "two-turn")
    assert [s.mark for s in stations] == [
        "cylinder 1 at TDC on compression",
        "cylinder 4 at TDC on compression",
    ]
    lobes = crank_plan(task([1]), "lobe-away")
    assert [s.mark for s in lobes] == [
        "107.5 degrees after cylinder 1 at TDC on compression",
        "612.5 degrees after cylinder 1 at TDC on compression",
    ]


def test_one_cylinder_at_a_time_follows_the_firing_order():
    assert table([1, 3, 4, 2], "each-cylinder") == [
        (0.0, "1I 1E"),
        (180.0, "3I 3E"),
        (360.0, "4I 4E"),
        (540.0, "2I 2E"),
    ]


def test_an_uneven_twin_keeps_its_intervals():
    stations = table([1, 2], "each-cylinder", intervals=[270.0, 450.0])
    assert stations == [(0.0, "1I 1E"), (270.0, "2I 2E")]


def test_angles_count_from_cylinder_one_wherever_the_order_begins():
    assert table([4, 2, 1, 3]) == table([1, 3, 4, 2])
    turned = Firing.from_order([2, 1], [450.0, 270.0]).angle_deg
    assert turned == {2: 270.0, 1: 0.0}


def test_lobes_that_point_away_together_share_a_station():
    # Intake of one and exhaust of another, 505 degrees apart by default, meet where events are symmetric.
    events = {"intake": Events(340.0, 580.0), "exhaust": Events(140.0, 380.0)}
    stations = table([1, 2], "lobe-away", intervals=[205.0, 515.0], events=events)
    assert len(stations) == 3
    assert "1I 2E" in [valves for _, valves in stations]


@given(st.integers(1, 12).flatmap(lambda n: st.permutations(range(1, n + 1))), st.sampled_from(SCHOOLS))
def test_every_plan_lists_every_valve_once_at_rest_and_turns_one_way(order, school):
    one = task(order)
    stations = crank_plan(one, school)
    listed = [valve for station in stations for valve in station.valves]
    assert sorted(listed) == sorted(valve.id for valve in one.valves)
    by_id = {valve.id: valve for valve in one.valves}
    for station in stations:
        assert all(one.at_rest(by_id[valve], station.crank_deg) for valve in station.valves)
    angles = [station.crank_deg for station in stations]
    assert angles == sorted(angles) and angles[0] >= 0.0 and angles[-1] < 720.0


@given(st.integers(2, 8).flatmap(lambda n: st.permutations(range(1, n + 1))))
def test_two_to_eight_cylinders_need_two_stations(order):
    assert len(crank_plan(task(order), "two-turn")) == 2


@given(
    st.integers(2, 8).flatmap(lambda n: st.lists(st.integers(60, 200), min_size=n, max_size=n)),
)
def test_uneven_firing_is_covered_too(raw):
    intervals = [720.0 * part / sum(raw) for part in raw]
    order = list(range(1, len(raw) + 1))
    for school in SCHOOLS:
        stations = crank_plan(task(order, intervals), school)
        assert sum(len(station.valves) for station in stations) == 2 * len(order)


@given(st.integers(1, 8).flatmap(lambda n: st.permutations(range(1, n + 1))))
def test_lobes_point_away_within_the_tolerance(order):
    one = task(order)
    middle = {"intake": 107.5, "exhaust": 612.5}  # by hand: half way round from 467.5 and from 252.5
    by_id = {valve.id: valve for valve in one.valves}
    for station in crank_plan(one, "lobe-away"):
        for name in station.valves:
            valve = by_id[name]
            own = station.crank_deg - one.firing.angle_deg[valve.cylinder]
            away = (own - middle[valve.side] + 360.0) % 720.0 - 360.0
            assert abs(away) <= DEFAULT.lobe_tolerance_deg + 1e-6


def test_rest_ends_a_margin_before_the_valve_opens():
    intake = DEFAULT_EVENTS["intake"]
    assert intake.at_rest(324.0) and not intake.at_rest(326.0)
    assert intake.at_rest(611.0) and not intake.at_rest(609.0)


@pytest.mark.parametrize(
    ("order", "intervals", "says"),
    [
        ([], None, "firing order"),
        ([1, 1], None, "firing order"),
        ([1, 2], [360.0], "firing intervals"),
        ([1, 2], [300.0, 300.0], "firing intervals"),
        ([1, 2], [720.0, 0.0], "firing intervals"),
    ],
)
def test_firing_that_cannot_be_is_refused(order, intervals, says):
    with pytest.raises(ImpossibleValue, match=says):
        Firing.from_order(order, intervals)


def test_a_valve_of_a_cylinder_that_never_fires_is_refused():
    with pytest.raises(ImpossibleValue, match="cylinder of valve 3I"):
        CrankTask((Valve("3I", 3, "intake"),), Firing.from_order([1, 2]), DEFAULT_EVENTS)


def test_events_that_never_rest_at_a_top_are_reported():
    always_open = {"intake": Events(0.0, 715.0), "exhaust": Events(130.0, 375.0)}
    with pytest.raises(ImpossibleValue, match="never at rest: 1I"):
        crank_plan(task([1], events=always_open), "two-turn")


@given(travel=st.floats(0.1, 59.9), rod=st.floats(40.0, 200.0))
def test_past_top_is_where_the_piston_has_gone_down_by_that_much(travel, rod):
    angle = radians(past_top_deg(travel, stroke_mm=60.0, rod_length_mm=rod))
    gone_down = 30.0 * (1.0 - cos(angle)) + rod - sqrt(rod**2 - (30.0 * sin(angle)) ** 2)
    assert gone_down == pytest.approx(travel, abs=1e-6)


@pytest.mark.parametrize(
    ("travel", "stroke", "rod", "says"),
    [(-1.0, 60.0, 100.0, "travel"), (61.0, 60.0, 100.0, "travel"), (6.0, 60.0, 30.0, "rod length")],
)
def test_a_travel_that_cannot_be_is_refused(travel, stroke, rod, says):
    with pytest.raises(ImpossibleValue, match=says):
        past_top_deg(travel, stroke_mm=stroke, rod_length_mm=rod)
