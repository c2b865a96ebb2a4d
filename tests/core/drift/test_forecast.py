"""The forecast: the register's example, and how it widens and is monotone."""

from math import erf, sqrt

import numpy as np
import pytest

from pronostico.core.drift.forecast import ahead, crossings, drift_ahead
from pronostico.core.drift.mixture import Mixture
from pronostico.core.engine import Spec

# Level 0.275 mm known to 0.01 mm, no drift and none to come but the process noise.
CERTAIN = Mixture(np.array([1.0]), np.array([[0.275, 0.0]]), np.array([[[1e-4, 0.0], [0.0, 0.0]]]))
SPEC = Spec(0.25, 0.30)


def p_out_by(state: Mixture, margin_mm: float) -> float:
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
    closing = Mixture(np.array([1.0]), np.array([[0.275, -0.02]]), np.array([[[1e-4, 0.0], [0.0, 1e-4]]]))
    assert [ahead(closing, x).average for x in (0.0, 1.0, 2.5)] == pytest.approx([0.275, 0.255, 0.225])


def test_when_it_reaches_a_limit_by_hand():
    # 0.025 mm from the limit that is 1.2816 sd: 0.01^2 + 0.006^2 x^3 / 3 = 0.0195^2, x = 2.86.
    tight, loose = crossings(CERTAIN, SPEC)
    assert tight.q10 == pytest.approx(2.86, abs=0.01) and loose.q10 == pytest.approx(2.86, abs=0.01)
    assert tight.q50 is None
