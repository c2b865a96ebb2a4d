"""Past forecasts: what is compared with what, and that right forecasts are found to be right."""

from dataclasses import replace

import numpy as np
import pytest
from benchmarks.truth import simulated

from pronostico.core.constants import DEFAULT
from pronostico.core.drift.forecast import ahead
from pronostico.core.drift.model import drifts
from pronostico.core.drift.past_forecasts import CheckedForecast, checked_forecasts, tally
from tests.builders import around, engine, found, visit


def two_visits(last):
    first = [around(name, 0.17) for name in ("1I", "1E")]
    return (visit(1, 0.0, *first), visit(2, 250.0, *last))


def test_each_visit_is_held_against_those_before_it_alone():
    visits = two_visits([around("1I", 0.17), around("1E", 0.13)])
    (one,) = checked_forecasts(engine(1), visits)
    assert one.visit == 1 and one.bounded == 0
    by_valve = {check.valve: check for check in one.forecasts}
    state = drifts(engine(1), visits[:1]).valves["1E"].state
    forecast = ahead(state, 1.0)
    # The blade drags and the next thicker does not go: found between the two, nearer to the first.
    assert by_valve["1E"].error_mm + forecast.average == pytest.approx(0.138, abs=0.004)
    width = forecast.quantile(0.95) - forecast.quantile(0.05)
    assert by_valve["1E"].half_width_mm == pytest.approx(width / 2.0)
    assert by_valve["1E"].share < 0.25 < by_valve["1I"].share < 0.75


def test_what_only_bounds_a_clearance_is_counted_apart():
    (one,) = checked_forecasts(engine(1), two_visits([found("1I", (0.10, "no-go")), around("1E", 0.17)]))
    assert [check.valve for check in one.forecasts] == ["1E"] and one.bounded == 1


def test_a_valve_that_was_never_read_before_has_no_forecast_to_hold():
    visits = (visit(1, 0.0, around("1I", 0.17)), visit(2, 250.0, around("1I", 0.17), around("1E", 0.27)))
    (one,) = checked_forecasts(engine(1), visits)
    assert [check.valve for check in one.forecasts] == ["1I"]


def test_the_offset_of_a_visit_is_what_its_readings_say_without_the_prior():
    names = [f"{n}{side}" for n in (1, 2, 3, 4) for side in "IE"]
    visits = tuple(
        visit(k, 250.0 * k, *(around(name, 0.17 if k < 4 else 0.15) for name in names)) for k in range(1, 5)
    )
    *_, last = checked_forecasts(engine(4), visits)
    # All eight came out 0.02 mm tighter at once: as much as the prior of an offset would hardly have.
    assert last.offset.mean_mm == pytest.approx(-0.02, abs=0.006)
    steady = drifts(engine(4), visits, replace(DEFAULT, drift_regimes=False)).shifts[-1]
    assert last.offset.mean_mm < steady.mean_mm < 0.0


def test_what_is_known_already_is_not_computed_again():
    made = simulated("recession", 1)
    whole = checked_forecasts(made.engine, made.visits[:4])
    assert checked_forecasts(made.engine, made.visits[:4], since=3) == whole[2:]
    assert checked_forecasts(made.engine, made.visits[:1]) == []


def test_forecasts_of_healthy_engines_hold():
    checks = [
        check
        for number in range(6)
        for made in [simulated("healthy", number)]
        for one in checked_forecasts(made.engine, made.visits[:5])
        for check in one.forecasts
    ]
    found_ = tally(checks)
    assert found_.count > 60
    assert found_.in_most >= found_.chance_of_most.least
    assert found_.in_half >= found_.chance_of_half.least
    assert sum(found_.tenths) == found_.count


def test_a_tally_counts_by_hand():
    shares = (0.04, 0.06, 0.2, 0.5, 0.74, 0.96, 1.0)
    errors = np.arange(7) - 3.0
    checks = [CheckedForecast("1E", share, of, 0.02) for share, of in zip(shares, errors, strict=True)]
    one = tally(checks)
    assert (one.count, one.in_half, one.in_most) == (7, 2, 4)
    assert one.tenths == (2, 0, 1, 0, 0, 1, 0, 1, 0, 2)
    assert one.error_mm == 2.0 and one.half_width_mm == 0.02
    # Of a hundred right forecasts 85 to 95 are within the 90 % interval nine times in ten.
    many = tally([CheckedForecast("1E", 0.5, 0.0, 0.02)] * 100)
    assert (many.chance_of_most.least, many.chance_of_most.most) == (85, 95)
    assert tally([]) is None
