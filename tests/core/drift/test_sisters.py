"""The prior from sister engines: by hand, against a plain integral, and what it does to an engine."""

from dataclasses import replace

import numpy as np
import pytest
from benchmarks.truth import engine_with_drifts
from hypothesis import given
from hypothesis import strategies as st
from scipy.stats import norm

from pronostico.core.constants import DEFAULT
from pronostico.core.drift.forecast import ahead
from pronostico.core.drift.model import drifts
from pronostico.core.drift.sisters import (
    SideSummary,
    in_intervals_of,
    probability_of_difference,
    side_prior,
    side_priors,
    summaries_of,
)
from pronostico.core.engine import DriftPrior

SD = DEFAULT.side_drift_sd_mm


def summary_of(observed, noise_sd):
    """What a record says that measures a side's drift so, after the prior is put in."""
    precision = 1.0 / SD**2 + 1.0 / noise_sd**2
    return SideSummary(observed / noise_sd**2 / precision, precision**-0.5)


def by_integral(observations):
    """Mean and sd of the drift of one more engine: over the kind's mean on a grid, and the four sds."""
    kind = np.linspace(-6.0 * SD, 6.0 * SD, 20001)
    weight, mean, square = [], [], []
    for between in DEFAULT.sister_sds_mm:
        density = norm.pdf(kind, 0.0, SD)
        for y, sd in observations:
            density = density * norm.pdf(y, kind, np.hypot(between, sd))
        total = density.sum()
        centre = float((density * kind).sum() / total)
        spread = float((density * (kind - centre) ** 2).sum() / total)
        weight.append(total)
        mean.append(centre)
        square.append(min(spread + between**2, SD**2))
    share = np.array(weight) / sum(weight)
    whole = float(share @ mean)
    return whole, float(np.sqrt(share @ (np.array(square) + (np.array(mean) - whole) ** 2)))


@pytest.mark.parametrize(
    "observations",
    [
        [(-0.02, 0.006)],
        [(-0.02, 0.006), (-0.018, 0.004), (-0.021, 0.01)],
        [(-0.03, 0.004), (0.02, 0.004)],
    ],
)
def test_the_prior_is_the_random_effects_models(observations):
    prior = side_prior([summary_of(*one) for one in observations], DEFAULT)
    mean, sd = by_integral(observations)
    assert prior.exact_mean_mm == pytest.approx(mean, abs=1e-6)
    assert prior.exact_sd_mm == pytest.approx(sd, rel=1e-4)
    assert prior.count == len(observations)


def test_an_engine_that_says_nothing_is_no_sister():
    assert side_prior([SideSummary(0.0, SD)], DEFAULT) is None
    assert side_prior([], DEFAULT) is None
    assert side_priors([{"exhaust": SideSummary(0.0, SD)}, {}], DEFAULT) == {}


@given(st.lists(st.tuples(st.floats(-0.06, 0.06), st.floats(0.002, 0.02)), min_size=1, max_size=8))
def test_what_is_computed_with_is_rounded_and_within_bounds(observations):
    prior = side_prior([summary_of(*one) for one in observations], DEFAULT)
    assert DEFAULT.sister_least_sd_mm <= prior.sd_mm <= SD
    assert prior.mean_mm / DEFAULT.sister_mean_step_mm == pytest.approx(
        round(prior.mean_mm / DEFAULT.sister_mean_step_mm), abs=1e-9
    )
    assert abs(prior.mean_mm - prior.exact_mean_mm) <= DEFAULT.sister_mean_step_mm / 2 + 1e-12
    steps = np.log(prior.sd_mm / DEFAULT.sister_least_sd_mm) / np.log(DEFAULT.sister_sd_ratio)
    assert steps == pytest.approx(round(steps)) or prior.sd_mm == SD


def test_a_summary_turns_into_the_intervals_of_another_engine():
    turned = in_intervals_of(SideSummary(-0.01, 0.004), own_interval=250.0, other_interval=500.0)
    assert (turned.mean_mm, turned.sd_mm) == (-0.02, 0.008)


def test_whether_an_engine_differs_by_hand():
    prior = side_prior([summary_of(-0.02, 0.003)] * 5, DEFAULT)
    # Its own record: 0.0 +- 0.004, five sisters at -0.02.
    own = summary_of(0.0, 0.004)
    sd = max(prior.exact_sd_mm, 0.004)
    alike = 0.9 * norm.pdf(0.0, prior.exact_mean_mm, np.hypot(sd, 0.004))
    apart = 0.1 * norm.pdf(0.0, 0.0, np.hypot(SD, 0.004))
    expected = apart / (apart + alike)
    assert probability_of_difference(own, prior, DEFAULT) == pytest.approx(expected, rel=1e-6)
    same = probability_of_difference(summary_of(-0.02, 0.004), prior, DEFAULT)
    assert same < 0.1 < expected
    assert probability_of_difference(SideSummary(0.0, SD), prior, DEFAULT) is None


def engines(*drifts_of_exhausts):
    return [
        engine_with_drifts(np.random.default_rng(seed), {"intake": 0.0, "exhaust": drift})
        for seed, drift in enumerate(drifts_of_exhausts)
    ]


def test_a_first_visit_knows_from_its_sisters_which_way_it_goes():
    own, *sisters = engines(-0.02, -0.021, -0.019, -0.02)
    found = side_priors([summaries_of(drifts(one.engine, one.visits[:5])) for one in sisters], DEFAULT)
    assert found["exhaust"].count == 3 and found["exhaust"].mean_mm == pytest.approx(-0.02, abs=0.005)
    priors = tuple((side, DriftPrior(one.mean_mm, one.sd_mm)) for side, one in found.items())
    alone, pooled = (drifts(replace(own.engine, side_priors=given), own.visits[:1]) for given in ((), priors))
    for name, valve in pooled.valves.items():
        if valve.chain.valve.side == "exhaust":
            drift = valve.state.of(0.0, 1.0)
            assert drift.average == pytest.approx(found["exhaust"].mean_mm, abs=1e-3)
            assert valve.side_drift.mean == pytest.approx(found["exhaust"].mean_mm, abs=1e-3)
            assert ahead(valve.state, 1.0).sd < ahead(alone.valves[name].state, 1.0).sd
    # With a record of its own, that counts.
    later = drifts(replace(own.engine, side_priors=priors), own.visits[:7]).valves["1E"].side_drift
    assert later.sd < found["exhaust"].sd_mm
