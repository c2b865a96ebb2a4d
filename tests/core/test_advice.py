"""The advice against plain enumeration, and its rules."""

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st
from scipy.stats import norm

from pronostico.core.advice import next_blade, prior_for_advice, stacks_at_hand
from pronostico.core.reading import Prior, estimate
from pronostico.core.thermal import Correction
from pronostico.core.visits import Reading, Try
from tests.builders import EXHAUST, INTAKE, found

NONE = Correction(0.0, 0.0)
SET = (0.04, 0.05, 0.08, 0.10, 0.13, 0.15, 0.18, 0.20, 0.23, 0.25, 0.28, 0.30, 0.35, 0.40)


def advise(reading, spec=EXHAUST, blades=SET, prior=None, correction=NONE):
    return next_blade(reading, blades, spec, correction, prior or prior_for_advice(spec, None))


def entropy(p):
    p = np.array([x for x in p if x > 0])
    return float(-(p * np.log2(p)).sum())


def gain_by_hand(thickness, scatter, tries, spec, prior):
    """Expected fall in entropy on a plain fine grid, one product after another."""
    # Half a step aside, so that no point of the grid sits on a limit.
    c = np.arange(prior.mean_mm - 1.2, prior.mean_mm + 1.2, 0.0002) + 0.0001
    density = norm.pdf(c, prior.mean_mm, prior.sd_mm)

    def answer(felt, t, sd):
        below, above = norm.cdf((-0.003 - (c - t)) / sd), norm.cdf((0.015 - (c - t)) / sd)
        return {"no-go": below, "drag": above - below, "free": 1.0 - above}[felt]

    for one in tries:
        density = density * answer(one.felt, one.thickness_mm, 0.006)
    density /= density.sum()

    def classes(mass):
        return [mass[c < spec.min_mm].sum(), mass[(c >= spec.min_mm) & (c <= spec.max_mm)].sum(),
                mass[c > spec.max_mm].sum()]  # fmt: skip

    left = 0.0
    for felt in ("no-go", "drag", "free"):
        mass = density * answer(felt, thickness, scatter)
        left += mass.sum() * entropy(np.array(classes(mass)) / mass.sum())
    return entropy(classes(density)) - left


@pytest.mark.parametrize("answered", [[], [(0.28, "no-go")], [(0.28, "no-go"), (0.23, "free")]])
def test_the_gain_is_the_expected_fall_in_entropy(answered):
    reading = found("1E", *answered)
    advice = advise(reading)
    by_hand = gain_by_hand(
        sum(advice.blades_mm),
        float(np.hypot(0.006, 0.003 * np.sqrt(len(advice.blades_mm) - 1))),
        reading.tries,
        EXHAUST,
        prior_for_advice(EXHAUST, None),
    )
    assert advice.gain_bits == pytest.approx(by_hand, abs=2e-3)


@pytest.mark.parametrize("answered", [[], [(0.28, "no-go")], [(0.25, "drag")]])
def test_no_single_blade_is_expected_to_tell_more_than_a_near_tie(answered):
    reading = found("1E", *answered)
    advice, prior = advise(reading), prior_for_advice(EXHAUST, None)
    best = max(gain_by_hand(blade, 0.006, reading.tries, EXHAUST, prior) for blade in SET)
    assert advice.gain_bits >= 0.95 * best - 2e-3


def test_near_ties_go_to_the_single_blade():
    # 0.25 and the stack 0.20 + 0.05 feel nearly alike; nobody stacks for nothing.
    assert len(advise(found("1E"), blades=(0.05, 0.20, 0.25)).blades_mm) == 1


def test_a_stack_fills_a_gap_in_the_set():
    # Nothing between 0.10 and 0.40 but by stacking.
    advice = advise(found("1E"), blades=(0.05, 0.10, 0.18, 0.40))
    assert len(advice.blades_mm) == 2
    assert 0.22 <= sum(advice.blades_mm) <= 0.30


def test_the_same_blade_is_advised_twice_at_most():
    # 0.25 drags now and then does not go: at the limit, and no other blade near.
    twice = found("1E", (0.25, "drag"), (0.25, "no-go"))
    advice = advise(twice, blades=(0.25, 0.60))
    assert advice.blades_mm is None
    assert advice.end == "no-gain"
    assert advice.would_settle_mm == pytest.approx(0.25, abs=0.03)


def test_it_ends_when_the_verdict_is_settled():
    assert advise(found("1I", (0.15, "free"), (0.18, "drag")), INTAKE).end == "settled"


def test_it_ends_after_eight_answers():
    wavering = found("1E", *[(0.25, "drag"), (0.25, "no-go")] * 4)
    assert estimate(wavering, EXHAUST, NONE).verdict == "open"
    assert advise(wavering).end == "enough-tries"


def test_a_set_that_cannot_settle_it_names_the_thickness_that_would():
    advice = advise(found("1E"), blades=(0.04, 0.05))
    assert advice.blades_mm is None and advice.end == "no-gain"
    assert 0.23 <= advice.would_settle_mm <= 0.32


def test_history_moves_the_first_blade():
    near_low = Prior(0.245, 0.01)
    prior = prior_for_advice(EXHAUST, near_low)
    assert (prior.mean_mm, prior.sd_mm) == pytest.approx((0.245, 0.025))
    assert sum(advise(found("1E"), prior=prior).blades_mm) <= sum(advise(found("1E")).blades_mm)
    wide = Prior(0.245, 0.08)
    assert prior_for_advice(EXHAUST, wide).sd_mm == 0.08


def test_a_past_that_leaves_no_doubt_still_gives_a_first_blade():
    sure = Prior(0.10, 0.025)
    assert advise(found("1E"), prior=sure).blades_mm is not None


def test_warmth_moves_the_advice_with_the_gap():
    cold, warm = (advise(found("1E"), correction=Correction(mm, 0.0)).blades_mm for mm in (-0.05, 0.05))
    assert sum(cold) < sum(warm)


def test_stacks_are_each_blade_and_each_pair_once():
    assert stacks_at_hand((0.10, 0.05, 0.10)) == [(0.05,), (0.10,), (0.05, 0.10)]


@given(
    answered=st.lists(
        st.tuples(st.sampled_from(SET), st.sampled_from(["no-go", "drag", "free", "go"])), max_size=9
    ),
    awkward=st.booleans(),
)
def test_whatever_was_answered_there_is_an_advice_or_a_reason(answered, awkward):
    tries = tuple(Try((blade,), felt) for blade, felt in answered)
    advice = advise(Reading("1E", "found", tries, "awkward" if awkward else "straight"))
    assert (advice.blades_mm is None) == (advice.end is not None)
    if advice.blades_mm is not None:
        assert set(advice.blades_mm) <= set(SET)
        assert 0.02 <= advice.gain_bits <= 1.6
