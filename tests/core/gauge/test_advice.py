"""The advice against plain enumeration, and its rules."""

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st
from scipy.stats import norm

from pronostico.core.engine import Spec
from pronostico.core.gauge.advice import (
    available_stacks,
    expected_variance_share,
    next_blade,
    number_advice,
    prior_for_advice,
)
from pronostico.core.gauge.reading import Prior, estimate, posterior_of
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
    new = set(SET) - {one.thickness_mm for one in reading.tries}
    best = max(gain_by_hand(blade, 0.006, reading.tries, EXHAUST, prior) for blade in new)
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


def test_a_past_that_leaves_no_uncertainty_still_gives_a_first_blade():
    sure = Prior(0.10, 0.025)
    assert advise(found("1E"), prior=sure).blades_mm is not None


def test_warmth_moves_the_advice_with_the_gap():
    cold, warm = (advise(found("1E"), correction=Correction(mm, 0.0)).blades_mm for mm in (-0.05, 0.05))
    assert sum(cold) < sum(warm)


def test_stacks_are_each_blade_and_each_pair_once():
    assert available_stacks((0.10, 0.05, 0.10)) == [(0.05,), (0.10,), (0.05, 0.10)]


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


def test_a_thickness_is_only_repeated_where_it_tells_a_quarter_more_than_the_best_new_one():
    # Two blades alone: after 0.25 dragged, offering it again tells more than 0.40 ever could.
    reading = found("1E", (0.25, "drag"))
    assert advise(reading, blades=(0.25, 0.40)).blades_mm == (0.25,)
    # With 0.24 in the set a new blade comes near, and goes first.
    assert advise(reading, blades=(0.24, 0.25)).blades_mm == (0.24,)


# The clearance itself, to choose a shim by


WIDE = Spec(0.16, 0.22)


def test_a_tight_valve_is_read_on_until_there_is_a_number():
    reading = found("1I", (0.20, "no-go"), (0.15, "no-go"))
    assert advise(reading, spec=WIDE).end == "settled"
    advice = next_blade(reading, SET, WIDE, NONE, prior_for_advice(WIDE, None), by_amount=True)
    assert advice.for_number and advice.end is None
    assert 0.08 <= sum(advice.blades_mm) <= 0.14
    known = found("1I", (0.20, "no-go"), (0.15, "no-go"), (0.13, "free"))
    done = next_blade(known, SET, WIDE, NONE, prior_for_advice(WIDE, None), by_amount=True)
    assert (done.end, done.blades_mm) == ("settled", None)


def test_a_valve_in_spec_needs_no_number():
    reading = found("1I", (0.18, "free"), (0.20, "no-go"))
    assert next_blade(reading, SET, WIDE, NONE, prior_for_advice(WIDE, None), by_amount=True).end == "settled"


def test_the_share_of_the_variance_is_that_of_a_plain_sum():
    prior = prior_for_advice(WIDE, None)
    reading = found("1I", (0.15, "no-go"))
    posterior = posterior_of(reading.tries, "straight", prior, NONE)
    gap = 0.5 * (posterior.low_mm + posterior.high_mm)
    share = expected_variance_share(posterior, gap, thickness_mm=np.array([0.10]), sd_mm=np.array([0.006]))
    c = np.arange(-1.0, 1.2, 0.0005)
    density = norm.pdf(c, prior.mean_mm, prior.sd_mm) * norm.cdf((0.147 - c) / 0.006)
    density /= density.sum()
    whole = density @ (c - density @ c) ** 2
    left = 0.0
    below, above = norm.cdf((0.097 - c) / 0.006), norm.cdf((0.115 - c) / 0.006)
    for answer in (below, above - below, 1.0 - above):
        mass = density * answer
        middle = mass @ c / mass.sum()
        left += mass @ (c - middle) ** 2
    assert share[0] == pytest.approx(1.0 - left / whole, abs=2e-3)


@pytest.mark.parametrize("set_mm", [(0.15, 0.20, 0.25), (0.05, 0.15, 0.20)])
def test_where_no_blade_gives_a_number_it_ends_and_says_so(set_mm):
    reading = found("1I", (0.20, "no-go"), (min(set_mm), "no-go"))
    done = next_blade(reading, set_mm, WIDE, NONE, prior_for_advice(WIDE, None), by_amount=True)
    assert (done.end, done.blades_mm, done.for_number) == ("no-number", None, True)


def test_after_eight_more_tries_it_gives_up():
    many = found("1I", (0.15, "no-go"), *[(0.14, "no-go")] * 8)
    assert number_advice(many, SET, WIDE, NONE, prior_for_advice(WIDE, None)).end == "no-number"
