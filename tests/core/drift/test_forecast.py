"""The forecast: the register's example, and how it widens and is monotone."""

from math import erf, sqrt

import numpy as np
import pytest

from pronostico.core.drift.forecast import ahead, as_set, crossings, drift_ahead
from pronostico.core.drift.moving import MovingMixture
from pronostico.core.engine import Spec

# Level 0.275 mm known to 0.01 mm, no drift and none to come but the process noise.
CERTAIN = MovingMixture(
    np.ones(1), np.array([[0.275, 0.0, 0.0]]), np.diag([1e-4, 0.0, 0.0])[None], np.zeros(1)
)
SPEC = Spec(0.25, 0.30)


def p_out_by(state: MovingMixture, margin_mm: float) -> float:
    return state.below(SPEC.min_mm - margin_mm) + 1.0 - state.below(SPEC.max_mm + margin_mm)


def test_the_registers_worked_example():
    # F-15: out by more than 0.03 mm is 5.5 sd either way, 2 Phi(-5.5).
    expected = 1.0 - erf(5.5 / sqrt(2.0))
    assert p_out_by(ahead(CERTAIN, 0.0), 0.03) == pytest.approx(expected, rel=1e-6)
    assert expected < 1e-7
    # After three intervals the process noise alone: 0.006 sqrt(27 / 3) = 0.018 mm.
    assert ahead(CERTAIN, 3.0).sd == pytest.approx(sqrt(0.01**2 + 0.018**2), rel=1e-9)


@pytest.mark.parametrize(("intervals", "cubed"), [(1.0, 1.0), (2.0, 8.0), (4.0, 64.0)])
def test_the_process_noise_grows_with_the_cube_of_the_distance(intervals, cubed):
    assert ahead(CERTAIN, intervals).sd ** 2 - 1e-4 == pytest.approx(0.006**2 * cubed / 3.0, rel=1e-9)
    assert drift_ahead(CERTAIN, intervals).sd ** 2 == pytest.approx(0.006**2 * intervals, rel=1e-9)


def test_a_drift_moves_the_mean_in_a_straight_line():
    closing = MovingMixture(
        np.ones(1), np.array([[0.275, -0.02, 0.0]]), np.diag([1e-4, 1e-4, 0.0])[None], np.zeros(1)
    )
    assert [ahead(closing, x).average for x in (0.0, 1.0, 2.5)] == pytest.approx([0.275, 0.255, 0.225])


def test_when_it_reaches_a_limit_by_hand():
    # 0.025 mm from the limit that is 1.2816 sd: 0.01^2 + 0.006^2 x^3 / 3 = 0.0195^2, x = 2.86.
    tight, loose = crossings(CERTAIN, SPEC)
    assert tight.q10 == pytest.approx(2.86, abs=0.01) and loose.q10 == pytest.approx(2.86, abs=0.01)
    assert tight.q50 is None


def test_what_grows_is_summed_up_over_the_way_ahead():
    # A drift of -0.03 mm an interval, 0.02 of it growing by e^0.5 an interval: its integral is
    # 0.02 (e^0.5 - 1) / 0.5 = 0.02594, and the steady 0.01 is on top.
    state = MovingMixture(
        np.ones(1), np.array([[0.275, -0.03, -0.02]]), np.diag([1e-4, 0.0, 0.0])[None], np.array([0.5])
    )
    assert ahead(state, 1.0).average == pytest.approx(0.275 - 0.01 - 0.025949, abs=1e-6)
    assert drift_ahead(state, 1.0).average == pytest.approx(-0.01 - 0.02 * np.exp(0.5))
    # What decays comes to an end: -0.02 at a rate of 2 adds up to 0.01.
    passing = MovingMixture(
        np.ones(1), np.array([[0.275, -0.02, -0.02]]), np.diag([1e-4, 0.0, 0.0])[None], np.array([-2.0])
    )
    assert ahead(passing, 50.0).average == pytest.approx(0.265, abs=1e-6)


def test_a_valve_that_is_set_keeps_the_way_it_moves():
    state = MovingMixture(
        np.ones(1),
        np.array([[0.2, -0.03, -0.02]]),
        np.array([[[1e-4, 1e-5, 1e-5], [1e-5, 1e-4, 5e-5], [1e-5, 5e-5, 1e-4]]]),
        np.array([0.5]),
    )
    anew = as_set(state, 0.28, 0.01)
    assert ahead(anew, 1.0).average - 0.28 == pytest.approx(ahead(state, 1.0).average - 0.2)
    assert anew.of(1.0).sd == pytest.approx(0.01)
    assert anew.cov[0, 0, 1:] == pytest.approx([0.0, 0.0]) and anew.cov[0, 1, 2] == 5e-5


@pytest.mark.parametrize("growth", [0.6, -2.0, 0.0, -np.inf, np.inf])
def test_however_far_ahead_a_forecast_stays_a_number(growth):
    state = MovingMixture(
        np.ones(1), np.array([[0.275, -0.03, -0.02]]), np.diag([1e-4, 1e-4, 1e-4])[None], np.array([growth])
    )
    for intervals in (0.0, 10.0, 1e3, 1e6):
        assert np.isfinite([ahead(state, intervals).average, ahead(state, intervals).sd]).all()
        assert np.isfinite(drift_ahead(state, intervals).sd)
    if growth == 0.6:
        # Past ten intervals it goes on as fast as it was then.
        steps = [ahead(state, x).average for x in (10.0, 11.0, 12.0)]
        assert steps[2] - steps[1] == pytest.approx(steps[1] - steps[0])
