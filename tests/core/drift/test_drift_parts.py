"""The parts of the drift model: tables of readings, mixtures, chains, and data that make no sense."""

from dataclasses import replace
from datetime import date, timedelta

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from scipy.stats import norm

from pronostico.core.constants import DEFAULT
from pronostico.core.drift.chain import shared_of, valve_chain
from pronostico.core.drift.forecast import crossings, risk_ahead
from pronostico.core.drift.gap_prior import Config, GapSite
from pronostico.core.drift.inference import Inference
from pronostico.core.drift.likelihood_tables import Tables, entry_error_table_of, table_of, weigh
from pronostico.core.drift.mixture import mixture_of, spread_of_each
from pronostico.core.drift.model import drifts
from pronostico.core.drift.normal_mixture import Mixture
from pronostico.core.engine import Engine, Spec, Valve
from pronostico.core.gauge.feel import log_likelihood_of_try, log_likelihood_with_entry_error
from pronostico.core.visits import Reading, Setting, Try, Visit

READING = Reading("1E", "found", (Try((0.25,), "free"), Try((0.28,), "drag"), Try((0.30,), "no-go")))
ENGINE = Engine(
    "e",
    "h",
    250.0,
    "screw-rocker",
    (Valve("1E", 1, "exhaust"), Valve("1I", 1, "intake")),
    Spec(0.15, 0.20),
    Spec(0.25, 0.30),
    reference_temperature_c=20.0,
    head_material="aluminium",
    valve_length_mm=100.0,
)


def by_integral(reading, mean, sd, likelihood):
    """Mean, variance and evidence of a gap by a plain fine sum."""
    gap = np.arange(mean - 9 * sd, mean + 9 * sd, 1e-4)
    density = norm.pdf(gap, mean, sd)
    for one in reading.tries:
        density = density * np.exp(likelihood(one, gap, reading.access))
    total = density.sum()
    middle = (density * gap).sum() / total
    return middle, (density * (gap - middle) ** 2).sum() / total, total * 1e-4


@pytest.mark.parametrize(("mean", "sd"), [(0.28, 0.02), (0.22, 0.05), (0.30, 0.15)])
def test_a_table_weighs_a_gap_as_a_fine_sum_does(mean, sd):
    table = table_of(READING, frozenset(), DEFAULT)
    middle, variance, evidence = by_integral(READING, mean, sd, log_likelihood_of_try)
    weight, log_evidence = weigh(table, mean, sd**2)
    # Every try is at its word with probability 0.995.
    assert np.exp(log_evidence) == pytest.approx(evidence * 0.995**3, rel=1e-4)
    assert weight @ table.gap_mm == pytest.approx(middle, abs=1e-5)
    joined = Tables.join([table, table])
    means, variances, logs = joined.moments(np.array([mean, mean]), np.array([sd**2, sd**2]))
    assert means == pytest.approx([middle, middle], abs=1e-5)
    assert variances == pytest.approx([variance, variance], rel=1e-3)
    assert logs == pytest.approx([log_evidence, log_evidence])


def test_with_entry_errors_the_table_is_that_of_the_model():
    table, chances = entry_error_table_of(READING, DEFAULT)
    expected = sum(log_likelihood_with_entry_error(one, table.gap_mm, "straight") for one in READING.tries)
    assert table.log_likelihood == pytest.approx(expected, abs=1e-9)
    # Far above the blades the one that was refused must have been an entry error, near them none need be.
    far, near = np.argmin(abs(table.gap_mm - 0.5)), np.argmin(abs(table.gap_mm - 0.288))
    assert chances[2, far] > 0.999 and chances[:, near].max() < 0.01


def test_an_entry_error_says_nothing_of_the_gap():
    alone = Reading("1E", "found", (Try((0.25,), "drag"),))
    table = table_of(alone, frozenset({0}), DEFAULT)
    assert np.ptp(table.log_likelihood) == 0.0
    assert np.exp(table.log_likelihood[0]) == pytest.approx(0.005 / 3.0)


@given(st.floats(-0.2, 0.5), st.floats(0.001, 0.2), st.floats(0.01, 0.99))
def test_a_mixture_of_one_normal_is_that_normal(mean, sd, probability):
    one = Mixture(np.ones(1), np.array([[mean]]), np.array([[[sd**2]]]))
    assert one.average == pytest.approx(mean) and one.sd == pytest.approx(sd)
    assert one.quantile(probability) == pytest.approx(norm.ppf(probability, mean, sd), abs=1e-7)


def test_a_mixture_is_wider_than_its_parts():
    two = Mixture(np.array([0.5, 0.5]), np.array([[0.1], [0.3]]), np.full((2, 1, 1), 0.01**2))
    assert two.average == pytest.approx(0.2)
    assert two.sd == pytest.approx(np.hypot(0.1, 0.01))
    assert two.below(0.2) == pytest.approx(0.5)
    # A sum of two quantities that move together.
    pair = Mixture(np.ones(1), np.array([[1.0, 2.0]]), np.array([[[4.0, 2.0], [2.0, 9.0]]]))
    assert (pair.of(1.0, 2.0).average, pair.of(1.0, 2.0).sd) == (5.0, pytest.approx(48**0.5))


def visit(index, usage, *, settings=(), work="check", temperature_c=20.0, readings=()):
    day = date(2025, 1, 1) + timedelta(days=90 * index)
    return Visit(f"v{index}", day, usage, temperature_c, work, tuple(readings), tuple(settings))


def spread_of(chain, latent, tau):
    own = latent.own[: len(chain.variance)]
    return float(own**2 @ (chain.variance + tau**2 * chain.by_tau))


def test_a_chain_spreads_as_the_model_says():
    visits = (visit(0, 0.0), visit(1, 250.0), visit(2, 750.0, settings=[Setting("1E", None, 2.5, 2.4)]))
    shared = shared_of(ENGINE, visits, DEFAULT)
    chain = valve_chain(ENGINE, ENGINE.valves[0], visits, shared, constants=DEFAULT)
    tau = 0.016
    # 0.15^2 at first; an interval on tau^2 and q^2 / 3 more.
    assert spread_of(chain, chain.found[0], tau) == pytest.approx(0.15**2)
    assert spread_of(chain, chain.found[1], tau) == pytest.approx(0.15**2 + tau**2 + 0.006**2 / 3)
    # Two intervals further: the drift has wandered by q^2 by then, and wanders on.
    later = 0.15**2 + 9 * tau**2 + 0.006**2 * (3**3 / 3)
    assert spread_of(chain, chain.found[2], tau) == pytest.approx(later)
    assert chain.found[2].shared[shared.side_drift(0, "exhaust")] == pytest.approx(3.0)
    # A shim moves it by the step, and a little doubt.
    assert chain.left[2].mean - chain.found[2].mean == pytest.approx(0.1)
    assert spread_of(chain, chain.left[2], tau) == pytest.approx(later + 0.008**2)


def test_screws_win_over_shims_and_the_last_target_counts():
    both = [Setting("1E", None, 2.5, 2.4), Setting("1E", 0.27), Setting("1E", 0.29), Setting("1E")]
    visits = (visit(0, 0.0, settings=both), visit(1, 250.0))
    shared = shared_of(ENGINE, visits, DEFAULT)
    chain = valve_chain(ENGINE, ENGINE.valves[0], visits, shared, constants=DEFAULT)
    assert chain.left[0].mean == 0.29
    assert spread_of(chain, chain.left[0], 0.01) == pytest.approx(0.03**2)
    bare = valve_chain(
        ENGINE, ENGINE.valves[0], (visit(0, 0.0, settings=[Setting("1E")]),), shared, constants=DEFAULT
    )
    assert bare.left[0].mean == pytest.approx(0.275)
    assert spread_of(bare, bare.left[0], 0.01) == pytest.approx(0.05**2)


def test_at_head_work_shims_say_nothing_and_the_drift_is_new():
    for first in (0, 1):
        visits = tuple(
            visit(
                index,
                100.0 * index,
                work="head-work" if index == first else "check",
                settings=[Setting("1E", None, 2.5, 2.4)] if index == first else (),
            )
            for index in range(3)
        )
        shared = shared_of(ENGINE, visits, DEFAULT)
        chain = valve_chain(ENGINE, ENGINE.valves[0], visits, shared, constants=DEFAULT)
        assert chain.era_start == first
        assert spread_of(chain, chain.left[first], 0.01) == pytest.approx(0.15**2)
        # Two eras have drifts of their own; the one that began there is the last visit's.
        assert len(shared.eras) == 2
        era = [int(np.flatnonzero(drift.shared)[0]) for drift in chain.drift]
        assert era[first] == era[2] and len(set(era)) == first + 1
        assert spread_of(chain, chain.drift[first], 0.01) == pytest.approx(0.01**2)


def doubtful_history():
    """Two valves; the second reading of one has a try that contradicts all that came before."""
    history = []
    for number in range(3):
        off = 0.01 * number
        odd = Try((0.245,), "no-go") if number == 1 else Try((0.25 - off,), "free")
        history.append(
            visit(
                number,
                250.0 * number,
                readings=(
                    Reading("1E", "found", (odd, Try((0.28 - off,), "drag"), Try((0.30 - off,), "no-go"))),
                    Reading("1I", "found", (Try((0.15,), "free"), Try((0.18,), "drag"))),
                ),
            )
        )
    return history


def test_all_chains_at_once_are_reported_as_each_alone():
    known = drifts(ENGINE, doubtful_history())
    posterior = known.components[0].posterior
    assert len(posterior.configs) > 2  # the odd try is a case of its own
    chains = posterior.base.chains
    for latents in ([one.left[-1] for one in chains], [one.drift[0] for one in chains]):
        means, sds = spread_of_each(posterior, latents)
        for at, latent in enumerate(latents):
            alone = mixture_of(posterior, at, [latent], least_sd=np.inf)
            assert (means[at], sds[at]) == pytest.approx((alone.average, alone.sd), abs=1e-6)


def test_shifts_of_visits_to_come_stay_as_they_were():
    visits = doubtful_history()
    shared = shared_of(ENGINE, visits, DEFAULT)
    chains = [valve_chain(ENGINE, valve, visits, shared, constants=DEFAULT) for valve in ENGINE.valves]
    base = GapSite(chains, shared, DEFAULT)
    inference = Inference(base, (Config(0), Config(1)), 1)
    posterior = inference.settle(inference.start())
    for t in range(len(base.taus)):
        assert np.diagonal(posterior.all_cov[t])[1:3] == pytest.approx(base.shared.variance[1:3])
        assert posterior.all_mean[t, 1:3] == pytest.approx([0.0, 0.0])
    assert (np.diagonal(posterior.all_cov, axis1=-2, axis2=-1)[:, 0] < base.shared.variance[0]).all()


def test_equal_usage_moves_nothing():
    visits = (visit(0, 100.0), visit(1, 100.0))
    shared = shared_of(ENGINE, visits, DEFAULT)
    chain = valve_chain(ENGINE, ENGINE.valves[0], visits, shared, constants=DEFAULT)
    assert spread_of(chain, chain.found[1], 0.03) == pytest.approx(0.15**2)


def test_a_warm_visit_shares_more():
    shared = shared_of(ENGINE, (visit(0, 0.0), visit(1, 1.0, temperature_c=60.0)), DEFAULT)
    assert shared.variance[0] == pytest.approx(0.004**2)
    # Exhaust: (22 - 17)e-6 * 100 mm * 40 K = 0.02 mm; intake (22 - 12)e-6: 0.04 mm, half of it in doubt.
    assert shared.variance[1] == pytest.approx(0.004**2 + 0.02**2)


FELT = st.sampled_from(["no-go", "drag", "free", "go"])
BLADE = st.sampled_from([0.04, 0.10, 0.15, 0.20, 0.25, 0.28, 0.30, 0.40, 1.0])
TRIES = st.lists(st.builds(lambda mm, felt: Try((mm,), felt), BLADE, FELT), min_size=1, max_size=3)


@settings(max_examples=12)
@given(st.lists(st.tuples(TRIES, TRIES, st.booleans(), st.sampled_from([0.0, 90.0, 600.0])), max_size=4))
def test_whatever_is_noted_there_is_an_answer(noted):
    usage, visits = 0.0, []
    for index, (exhaust, intake, is_set, used) in enumerate(noted):
        usage += used
        readings = [Reading("1E", "found", tuple(exhaust)), Reading("1I", "left", tuple(intake))]
        sets = [Setting("1E", 0.28)] if is_set else ()
        visits.append(visit(index, usage, readings=readings, settings=sets))
    known = drifts(ENGINE, visits)
    assert known.converged
    for valve in known.valves.values():
        state = valve.state
        assert np.isfinite([state.average, state.sd]).all() and state.sd > 0.0
        assert state.weight.sum() == pytest.approx(1.0)
        for side in crossings(state, valve.chain.specs[-1]):
            assert side is None or 0.0 <= side.q10 <= 10.0
    risk = risk_ahead(known, margin_mm=0.03)
    check = None if risk is None else risk.next_check(0.1)
    assert (check is None) == (not noted)
    assert check is None or 0.0 <= check.intervals <= 3.0


def test_a_valve_without_a_spec_stands_out_of_it():
    none = replace(ENGINE, intake_spec=None)
    readings = [Reading("1E", "found", (Try((0.28,), "drag"),))]
    assert list(drifts(none, (visit(0, 0.0, readings=readings),)).valves) == ["1E"]
