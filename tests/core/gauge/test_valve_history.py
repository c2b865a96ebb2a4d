from datetime import date

import pytest

from pronostico.core.engine import Spec, SpecChange
from pronostico.core.errors import UnknownValve
from pronostico.core.gauge.engine_readings import analyse
from pronostico.core.visits import Setting
from tests.builders import around, engine, found, left, visit


def test_found_and_left_speak_of_the_last_visit_only():
    visits = (visit(1, 100.0, around("1E", 0.25), around("1I", 0.15)), visit(2, 200.0, around("1I", 0.15)))
    result = analyse(engine(), visits)
    assert result.of("1E").found is None
    assert result.of("1I").found is not None
    assert result.of("1I").left is None
    assert result.as_of_usage == 200.0


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


def test_an_engine_never_previewed_has_an_analysis_without_figures():
    result = analyse(engine(), ())
    assert result.as_of_usage is None
    assert all(valve.found is None and valve.standing is None for valve in result.valves)


def test_a_reading_of_an_unknown_valve_is_refused_by_name():
    with pytest.raises(UnknownValve, match="'9X'"):
        analyse(engine(), (visit(1, 1.0, around("9X", 0.2)),))
