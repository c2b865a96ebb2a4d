from datetime import date

import pytest

from pronostico.core.analysis import analyse
from pronostico.core.engine import Spec, SpecChange
from pronostico.core.errors import UnknownValve
from pronostico.core.visits import Setting
from tests.builders import around, engine, found, left, visit


def test_found_and_left_speak_of_the_last_visit_only():
    visits = (visit(1, 100.0, around("1E", 0.25), around("1I", 0.15)), visit(2, 200.0, around("1I", 0.15)))
    result = analyse(engine(), visits)
    assert result.of("1E").found is None
    assert result.of("1I").found is not None
    assert result.of("1I").left is None
    assert result.as_of_usage == 200.0


def test_the_line_starts_anew_at_a_setting():
    visits = (
        visit(1, 100.0, around("1E", 0.29)),
        visit(2, 200.0, around("1E", 0.23), left("1E", (0.28, "drag")), settings=(Setting("1E", 0.28),)),
        visit(3, 300.0, around("1E", 0.25)),
    )
    line = analyse(engine(), visits).of("1E").line
    assert [point.usage for point in line.points] == [200.0, 300.0]
    # From about 0.285 to about 0.258 in a hundred hours, a check interval being 250.
    assert line.slope_mm_per_interval == pytest.approx(-0.07, abs=0.01)


def test_sink_adds_up_what_settings_gave_back():
    visits = (
        visit(1, 100.0, left("1E", (0.28, "drag")), settings=(Setting("1E", 0.28),)),
        visit(2, 200.0, around("1E", 0.23), left("1E", (0.28, "drag")), settings=(Setting("1E", 0.28),)),
        visit(3, 300.0, around("1E", 0.23)),
    )
    sink = analyse(engine(), visits).of("1E").sink
    one_step = 0.286 - 0.237
    assert sink.mean_mm == pytest.approx(2 * one_step, abs=0.006)


def test_sink_of_an_untouched_valve_is_first_less_last_whatever_lies_between():
    between = (visit(2, 150.0, around("1E", 0.30)),)
    ends = (visit(1, 100.0, around("1E", 0.28)), visit(3, 300.0, around("1E", 0.23)))
    with_more = analyse(engine(), (ends[0], *between, ends[1])).of("1E").sink
    alone = analyse(engine(), ends).of("1E").sink
    assert with_more.mean_mm == pytest.approx(alone.mean_mm)
    assert with_more.sd_mm == pytest.approx(alone.sd_mm)


def test_head_work_begins_a_new_era():
    visits = (
        visit(1, 100.0, around("1E", 0.28)),
        visit(2, 200.0, around("1E", 0.23), left("1E", (0.28, "drag")), work="head-work"),
        visit(3, 300.0, around("1E", 0.25)),
    )
    valve = analyse(engine(), visits).of("1E")
    assert len(valve.line.points) == 2
    assert valve.sink.mean_mm == pytest.approx(0.286 - 0.258, abs=0.005)


def test_a_shim_step_carries_the_found_clearance_over():
    shimmed = Setting("1E", shim_from_mm=2.50, shim_to_mm=2.45)
    visits = (visit(1, 100.0, around("1E", 0.23), settings=(shimmed,)), visit(2, 200.0, around("1E", 0.28)))
    sink = analyse(engine(adjustment="shim-under-bucket"), visits).of("1E").sink
    assert sink.mean_mm == pytest.approx(0.0, abs=0.002)


def test_how_a_valve_stands_is_as_left_or_as_found_where_untouched():
    read, touched = around("1E", 0.23), (Setting("1E", 0.28),)
    assert analyse(engine(), (visit(1, 1.0, read),)).of("1E").standing.verdict == "tight"
    # Set but not measured again: what it stands at is not known from a reading.
    assert analyse(engine(), (visit(1, 1.0, read, settings=touched),)).of("1E").standing is None
    both = visit(1, 1.0, read, left("1E", (0.28, "drag"), (0.30, "no-go")), settings=touched)
    assert analyse(engine(), (both,)).of("1E").standing.verdict == "in"


def test_the_last_of_two_readings_counts_and_an_empty_one_does_not():
    readings = (around("1E", 0.20), around("1E", 0.28), found("1E"))
    got = analyse(engine(), (visit(1, 1.0, *readings),)).of("1E").found
    assert got.bracket.went_mm == 0.28


def test_a_changed_spec_judges_only_visits_from_its_day_on():
    change = SpecChange(date(2022, 1, 1), "exhaust", Spec(0.20, 0.25))
    visits = tuple(visit(n, 100.0 * n, found("1E", (0.20, "drag"), (0.25, "no-go"))) for n in (1, 2))
    states = analyse(engine(spec_changes=(change,)), visits).of("1E").states
    assert [state.found.leaning for state in states] == ["tight", "in"]


def test_an_engine_never_looked_at_has_an_analysis_without_figures():
    result = analyse(engine(), ())
    assert result.as_of_usage is None
    assert all(valve.found is None and valve.line is None and valve.sink is None for valve in result.valves)


def test_a_reading_of_an_unknown_valve_is_refused_by_name():
    with pytest.raises(UnknownValve, match="'9X'"):
        analyse(engine(), (visit(1, 1.0, around("9X", 0.2)),))
