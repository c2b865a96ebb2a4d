"""The reading against quadrature written apart from the code, and its laws."""

import numpy as np
import pytest
from hypothesis import assume, given, settings
from hypothesis import strategies as st
from scipy.integrate import quad
from scipy.stats import norm

from pronostico.core.engine import Spec
from pronostico.core.gauge.reading import ClearancePosterior, Prior, bracket, estimate, posterior_of
from pronostico.core.thermal import Correction
from pronostico.core.visits import Reading, Try
from tests.builders import EXHAUST, INTAKE, found, tries

NONE = Correction(0.0, 0.0)
LIMITS = {
    "no-go": (-np.inf, -0.003),
    "drag": (-0.003, 0.015),
    "free": (0.015, np.inf),
    "go": (-0.003, np.inf),
}


def likelihood(gap, one, access="straight"):
    sd = np.hypot(0.006 if access == "straight" else 0.012, np.sqrt(len(one.blades_mm) - 1) * 0.003)
    low, high = LIMITS[one.felt]
    margin = gap - sum(one.blades_mm)
    return norm.cdf((high - margin) / sd) - norm.cdf((low - margin) / sd)


def by_double_grid(reading, spec, correction):
    """The joint posterior of clearance and correction on a plain grid of both, summed up."""
    step = 0.0002
    clearance = np.arange(spec.middle_mm - 1.0, spec.middle_mm + 1.0, step) + step / 2
    off, weight_off = np.zeros(1), np.ones(1)
    if correction.uncertainty_mm > 0:
        off = np.linspace(-6.0, 6.0, 241) * correction.uncertainty_mm
        weight_off = norm.pdf(off, 0.0, correction.uncertainty_mm)
    weight = np.zeros_like(clearance)
    for delta, share in zip(off, weight_off, strict=True):
        gap = clearance + correction.correction_mm + delta
        weight += share * np.prod([likelihood(gap, one, reading.access) for one in reading.tries], axis=0)
    weight *= norm.pdf(clearance, spec.middle_mm, 0.15)
    weight /= weight.sum()
    cumulative = np.cumsum(weight)
    mean = weight @ clearance
    return {
        "mean_mm": mean,
        "sd_mm": np.sqrt(weight @ (clearance - mean) ** 2),
        "q05_mm": np.interp(0.05, cumulative, clearance + step / 2),
        "q95_mm": np.interp(0.95, cumulative, clearance + step / 2),
        "p_tight": weight[clearance < spec.min_mm].sum(),
        "p_loose": weight[clearance > spec.max_mm].sum(),
    }


CASES = {
    "bracketed": (found("1I", (0.15, "free"), (0.18, "drag")), INTAKE, NONE),
    "thinnest refused": (found("1E", (0.04, "no-go")), EXHAUST, NONE),
    "thickest free": (found("1E", (0.40, "free")), EXHAUST, NONE),
    "felt not noted": (found("1I", (0.15, "go"), (0.20, "no-go")), INTAKE, NONE),
    "awkward, warm": (
        Reading("1E", "found", tries((0.20, "drag"), (0.25, "no-go")), "awkward"),
        EXHAUST,
        Correction(0.012, 0.006),
    ),
    "a stack": (Reading("1I", "found", (Try((0.10, 0.05), "drag"), Try((0.20,), "no-go"))), INTAKE, NONE),
    "very unsure correction": (
        found("1E", (0.25, "drag"), (0.30, "no-go")),
        EXHAUST,
        Correction(-0.03, 0.05),
    ),
}


@pytest.mark.parametrize("name", CASES)
def test_agrees_with_a_double_grid(name):
    reading, spec, correction = CASES[name]
    got = estimate(reading, spec, correction)
    want = by_double_grid(reading, spec, correction)
    for field in ("mean_mm", "sd_mm", "q05_mm", "q95_mm"):
        assert getattr(got, field) == pytest.approx(want[field], abs=2e-5), field
    assert got.p_tight == pytest.approx(want["p_tight"], abs=5e-4)
    assert got.p_loose == pytest.approx(want["p_loose"], abs=5e-4)


def test_agrees_with_quadrature_to_many_digits():
    reading = found("1I", (0.15, "free"), (0.18, "drag"))

    def density(c):
        return norm.pdf(c, 0.175, 0.15) * np.prod([likelihood(c, one) for one in reading.tries])

    mass = quad(density, 0.1, 0.3, epsabs=1e-13)[0]
    mean = quad(lambda c: c * density(c), 0.1, 0.3, epsabs=1e-13)[0] / mass
    loose = quad(density, 0.2, 0.3, epsabs=1e-13)[0] / mass
    got = estimate(reading, INTAKE, NONE)
    assert got.mean_mm == pytest.approx(mean, abs=1e-6)
    assert got.p_loose == pytest.approx(loose, abs=3e-4)


answers = st.tuples(
    st.sampled_from([0.05, 0.10, 0.15, 0.18, 0.20, 0.25, 0.30]), st.sampled_from(list(LIMITS))
)


@given(answered=st.lists(answers, min_size=1, max_size=4), off=st.floats(0.0, 0.03))
@settings(max_examples=60)
def test_probabilities_share_one_and_quantiles_are_in_order(answered, off):
    got = estimate(found("1I", *answered), INTAKE, Correction(0.002, off))
    assert got.p_tight + got.p_in + got.p_loose == pytest.approx(1.0, abs=1e-9)
    assert min(got.p_tight, got.p_in, got.p_loose) >= 0.0
    assert got.q05_mm < got.q95_mm
    assert got.sd_mm > 0.0


@given(answered=st.lists(answers, min_size=2, max_size=4))
@settings(max_examples=40)
def test_the_order_of_tries_does_not_matter(answered):
    forward, backward = (estimate(found("1I", *some), INTAKE, NONE) for some in (answered, answered[::-1]))
    assert forward.mean_mm == pytest.approx(backward.mean_mm, abs=1e-9)
    assert forward.verdict == backward.verdict


@given(gap=st.floats(0.06, 0.28), more=st.sampled_from([0.05, 0.10, 0.15, 0.18, 0.20, 0.25]))
@settings(max_examples=40)
def test_one_more_true_answer_never_widens(gap, more):
    def truly(blade):
        margin = gap - blade
        return "no-go" if margin < -0.003 else "drag" if margin < 0.015 else "free"

    # Where a blade sits on the edge of an answer either answer is as true; only clear ones are a law.
    assume(min(abs(gap - more + 0.003), abs(gap - more - 0.015)) > 0.012)
    first = [(0.05, truly(0.05)), (0.30, truly(0.30))]
    before = estimate(found("1I", *first), INTAKE, NONE)
    after = estimate(found("1I", *first, (more, truly(more))), INTAKE, NONE)
    assert after.sd_mm <= before.sd_mm + 1e-9


def test_the_mirror_of_a_reading_is_its_mirror_in_probability():
    spec = Spec(0.40, 0.50)
    under = estimate(found("1I", (0.30, "no-go")), spec, NONE)
    # A refusal ends at t - d0 and a fall at t + d1, so the mirror of 0.30 about 0.45 is 0.588.
    over = estimate(found("1I", (0.588, "free")), spec, NONE)
    assert over.p_loose == pytest.approx(under.p_tight, abs=1e-9)
    assert over.mean_mm - 0.45 == pytest.approx(0.45 - under.mean_mm, abs=1e-6)


@pytest.mark.parametrize(
    ("answered", "spec", "verdict", "leaning"),
    [
        ([(0.15, "free"), (0.18, "drag")], INTAKE, "in", "in"),
        ([(0.20, "no-go")], EXHAUST, "tight", "tight"),
        ([(0.35, "free")], EXHAUST, "loose", "loose"),
        # At its limit neither class explains the answers 0.3 times as well as the other: open.
        ([(0.25, "drag"), (0.28, "no-go")], EXHAUST, "open", "in"),
    ],
)
def test_verdicts(answered, spec, verdict, leaning):
    got = estimate(found("x", *answered), spec, NONE)
    assert (got.verdict, got.leaning) == (verdict, leaning)


def test_a_lucky_first_answer_does_not_decide_while_a_rival_explains_it_as_well():
    # No-go at 0.27 makes 'tight' much likelier than 'in' a priori, but 0.26 explains it nearly as well.
    got = estimate(found("1E", (0.265, "no-go")), EXHAUST, NONE)
    assert got.p_tight >= 0.90
    assert got.verdict == "open"


def test_a_reading_without_tries_is_not_read():
    assert estimate(Reading("1I", "found", ()), INTAKE, NONE) is None


def test_contradiction_is_called_only_where_answers_cannot_be_true_together():
    assert estimate(found("1I", (0.15, "no-go"), (0.20, "free")), INTAKE, NONE).contradiction
    assert not estimate(found("1I", (0.15, "drag"), (0.18, "no-go")), INTAKE, NONE).contradiction
    # A blade that once dragged and once did not go is the hand's scatter, not a contradiction.
    assert not estimate(found("1I", (0.15, "drag"), (0.15, "no-go")), INTAKE, NONE).contradiction


def test_a_correction_moves_the_clearance_and_its_uncertainty_widens_it():
    reading = found("1E", (0.25, "drag"), (0.28, "no-go"))
    plain = estimate(reading, EXHAUST, NONE)
    warm = estimate(reading, EXHAUST, Correction(0.02, 0.01))
    assert warm.mean_mm == pytest.approx(plain.mean_mm - 0.02, abs=1e-3)
    assert warm.sd_mm > plain.sd_mm


def test_bracket_is_what_went_and_what_did_not():
    reading = found("1E", (0.20, "free"), (0.25, "drag"), (0.30, "no-go"), (0.35, "no-go"))
    assert bracket(reading.tries).went_mm == 0.25
    assert bracket(reading.tries).refused_mm == 0.30


def test_without_tries_the_posterior_is_the_prior():
    prior = posterior_of((), "straight", Prior(0.175, 0.15), NONE)
    assert prior.mean_mm == pytest.approx(0.175, abs=1e-6)
    assert prior.sd_mm == pytest.approx(0.15, abs=1e-4)
    assert prior.below(0.175) == pytest.approx(0.5, abs=1e-6)


@pytest.mark.parametrize("spread_mm", [0.0, 1e-4, 0.02])
@pytest.mark.parametrize("probability", [1e-6, 0.05, 0.5, 0.95, 1.0 - 1e-6])
def test_below_a_quantile_lies_its_probability(spread_mm, probability):
    # Two heaps with nothing between them: there the distribution function is flat.
    low_mm = np.array([0.10, 0.101, 0.150, 0.299, 0.300])
    mass = np.array([0.2, 0.25, 0.0, 0.3, 0.25])
    known = ClearancePosterior(low_mm, low_mm + 0.001, mass, spread_mm)
    at_mm = known.quantile_mm(probability)
    assert known.below(at_mm - 2e-7) <= probability + 1e-9
    assert known.below(at_mm + 2e-7) >= probability - 1e-9
