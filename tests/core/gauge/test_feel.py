import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st
from scipy.stats import norm

from pronostico.core.errors import ImpossibleValue
from pronostico.core.gauge.feel import (
    feel_sd_mm,
    log_likelihood_of_try,
    log_likelihood_with_entry_error,
    log_probability,
)
from pronostico.core.visits import Try

gaps = st.floats(-0.3, 3.0)
blades = st.floats(0.02, 1.5)
accesses = st.sampled_from(["straight", "awkward"])


def probability(felt, gap, blade, sd):
    return float(np.exp(log_probability(felt, np.array([gap]), blade, sd_mm=sd))[0])


@given(gap=gaps, blade=blades, sd=st.sampled_from([0.006, 0.012]))
def test_the_three_answers_share_all_probability_and_go_is_two_of_them(gap, blade, sd):
    no_go, drag, free, went = (probability(felt, gap, blade, sd) for felt in ("no-go", "drag", "free", "go"))
    assert no_go + drag + free == pytest.approx(1.0, abs=1e-12)
    assert went == pytest.approx(drag + free, abs=1e-12)


@pytest.mark.parametrize(
    ("felt", "low", "high"),
    # The table of answers, with d0 = 0.003 and d1 = 0.015, straight from the normal distribution.
    [("no-go", -np.inf, -0.003), ("drag", -0.003, 0.015), ("free", 0.015, np.inf), ("go", -0.003, np.inf)],
)
def test_matches_the_table_of_answers(felt, low, high):
    for gap in (0.17, 0.197, 0.2, 0.21, 0.26):
        margin = norm(gap - 0.2, 0.006)
        assert probability(felt, gap, 0.2, 0.006) == pytest.approx(
            margin.cdf(high) - margin.cdf(low), abs=1e-12
        )


def test_far_tails_stay_finite_and_ordered():
    gap = np.array([-2.0, 0.0, 2.0])
    for felt in ("no-go", "drag", "free", "go"):
        log_p = log_probability(felt, gap, 0.5, sd_mm=0.006)
        assert np.all(np.isfinite(log_p))
        assert np.all(log_p <= 0.0)


def test_scatter_grows_with_blades_and_with_awkward_access():
    assert feel_sd_mm(1, "straight") == pytest.approx(0.006)
    assert feel_sd_mm(1, "awkward") == pytest.approx(0.012)
    # sqrt(0.006^2 + 2 * 0.003^2) by hand
    assert feel_sd_mm(3, "straight") == pytest.approx(0.0073485, abs=1e-7)


@given(gap=gaps, blade=blades, access=accesses)
def test_an_entry_error_leaves_every_answer_possible(gap, blade, access):
    grid = np.array([gap])
    for felt, floor in (("no-go", 1.0), ("drag", 1.0), ("free", 1.0), ("go", 2.0)):
        one = Try((blade,), felt)
        plain = np.exp(log_likelihood_of_try(one, grid, access))[0]
        mixed = np.exp(log_likelihood_with_entry_error(one, grid, access))[0]
        assert mixed == pytest.approx(0.995 * plain + 0.005 * floor / 3.0, rel=1e-9)


@pytest.mark.parametrize("blades_mm", [(), (0.0,), (-0.1,), (3.1,), (0.1, float("nan"))])
def test_a_blade_that_cannot_be_is_refused(blades_mm):
    with pytest.raises(ImpossibleValue, match="blade"):
        Try(blades_mm, "drag")
