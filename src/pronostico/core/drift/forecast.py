"""Forecasts: the clearance at a usage, when it leaves its spec, and when to check next. F-15."""

from collections.abc import Sequence
from dataclasses import dataclass
from typing import Literal

import numpy as np

from pronostico.core.arrays import FloatArray
from pronostico.core.constants import DEFAULT, Constants
from pronostico.core.drift.mixture import given_shared
from pronostico.core.drift.moving import LONGEST_GROWTH_INTERVALS, MovingMixture, loads_ahead
from pronostico.core.drift.normal_mixture import Mixture
from pronostico.core.drift.results import Component, Drifts, ValveDrift
from pronostico.core.drift.standard_normal import below
from pronostico.core.engine import Spec

Trend = Literal["tightening", "loosening", "steady", "unclear"]

_STEPS_PER_INTERVAL = 20
_SAMPLES = 256
_SEED = 5
_LEAST_TAU = 1e-3  # a spread of the valves' drifts less likely than this is not drawn for
_LEAST_CASE = 1e-9  # and a case of entry errors less likely than this is left out


def trend_of(drift: Mixture, spec: Spec, constants: Constants = DEFAULT) -> Trend:
    """The trend in words: the one whose probability is high enough, else "unclear"."""
    floor = constants.trend_floor_mm_per_interval
    if drift.below(-floor) >= constants.trend_probability:
        return "tightening"
    if 1.0 - drift.below(floor) >= constants.trend_probability:
        return "loosening"
    small = constants.steady_share_of_width * spec.width_mm
    steady = drift.below(small) - drift.below(-small) >= constants.steady_probability
    return "steady" if steady else "unclear"


def _combined(state: Mixture, loads: FloatArray, variance: float) -> Mixture:
    """A linear combination, with loadings of each component, (N, m), and independent noise."""
    mean = np.einsum("ni,ni->n", state.mean, loads)
    own = np.einsum("ni,nij,nj->n", loads, state.cov, loads)
    return Mixture(state.weight, mean[:, None], own[:, None, None] + variance)


def ahead(state: MovingMixture, intervals: float, constants: Constants = DEFAULT) -> Mixture:
    """The clearance some check intervals after the last visit, if nothing is adjusted."""
    return _combined(state, state.loads(intervals), constants.drift_wander**2 * intervals**3 / 3.0)


def drift_ahead(state: MovingMixture, intervals: float, constants: Constants = DEFAULT) -> Mixture:
    """Predictive distribution of the drift some check intervals after the last visit, mm per interval."""
    drifting = np.isfinite(state.growth)
    growing = min(intervals, LONGEST_GROWTH_INTERVALS)
    grown = np.where(drifting, np.expm1(np.where(drifting, state.growth, 0.0) * growing), 0.0)
    loads = np.column_stack([np.zeros(len(grown)), np.ones(len(grown)), grown])
    return _combined(state, loads, constants.drift_wander**2 * intervals)


@dataclass(frozen=True, slots=True)
class Crossing:
    """Intervals after the last visit at which it is out on a side with probability 0.1, 0.5 and 0.9."""

    q10: float
    q50: float | None
    q90: float | None


def _first(intervals: FloatArray, probability: FloatArray, level: float) -> float | None:
    """Where a probability first reaches a level, by linear interpolation; None: nowhere."""
    reached = np.flatnonzero(probability >= level)
    if len(reached) == 0:
        return None
    at = int(reached[0])
    if at == 0:
        return float(intervals[0])
    low, high = probability[at - 1], probability[at]
    share = (level - low) / (high - low)
    return float(intervals[at - 1] + share * (intervals[at] - intervals[at - 1]))


def _out(
    state: MovingMixture, spec: Spec, intervals: FloatArray, constants: Constants
) -> tuple[FloatArray, FloatArray]:
    """Probability that it is tight, and loose, at each of the intervals ahead; both shape (k,)."""
    growths, which = np.unique(state.growth, return_inverse=True)
    loads = loads_ahead(growths, intervals)[which]
    mean = (loads @ state.mean[..., None])[..., 0]
    variance = ((loads @ state.cov) * loads).sum(axis=-1)
    variance += constants.drift_wander**2 * intervals**3 / 3.0
    sd = np.sqrt(variance)
    tight = state.weight @ below((spec.min_mm - mean) / sd)
    loose = state.weight @ below((mean - spec.max_mm) / sd)
    return np.asarray(tight), np.asarray(loose)


def crossings(
    state: MovingMixture, spec: Spec, constants: Constants = DEFAULT
) -> tuple[Crossing | None, Crossing | None]:
    """When a valve leaves its spec on the tight side, and on the loose side; None: beyond the horizon."""
    most = constants.crossing_most_intervals
    intervals = np.linspace(0.0, most, round(most * _STEPS_PER_INTERVAL) + 1)
    found = []
    for probability in _out(state.lighter(), spec, intervals, constants):
        q10, q50, q90 = (_first(intervals, probability, level) for level in (0.1, 0.5, 0.9))
        found.append(None if q10 is None else Crossing(q10, q50, q90))
    return found[0], found[1]


@dataclass(frozen=True, slots=True)
class NextCheck:
    """Intervals after the last visit at which to check next, and the valve most likely out there."""

    intervals: float
    limiting_valve: str


@dataclass(frozen=True, slots=True)
class RiskAhead:
    """How likely a valve is out, at each of so many check intervals after the last visit; shapes (k,).

    `any_out`: at least one of them; `valves`: the state of each, and the spec that it is held against.
    """

    intervals: FloatArray
    any_out: FloatArray
    valves: dict[str, tuple[MovingMixture, Spec]]
    constants: Constants

    def reaches(self, risk: float) -> float | None:
        """The first interval at which the probability of any exceeds a risk; None: beyond the horizon."""
        return _first(self.intervals, self.any_out, risk)

    def reaches_since(self, risk: float) -> float | None:
        """The first interval at which the probability that any went out since the last visit exceeds a risk.

        What the check itself left in doubt, an entry error above all, another check at once would not take
        away: given that none was out then, it is what is added that counts. None: not within reach.
        """
        at_first = float(self.any_out[0])
        added = (self.any_out - at_first) / max(1.0 - at_first, 1e-9)
        return _first(self.intervals, added, risk)

    def at(self, intervals: float) -> float:
        """Probability of any, some intervals ahead; beyond the horizon that at the horizon."""
        return float(np.interp(intervals, self.intervals, self.any_out))

    def each_at(self, intervals: float) -> dict[str, float]:
        """Probability of each valve, some intervals ahead."""
        # Between two of the intervals on a line, as the probability of any.
        after = max(1, int(np.searchsorted(self.intervals, intervals)))
        near = self.intervals[after - 1 : after + 1]
        if not len(near):
            near = self.intervals[-1:]
        out = {
            name: np.sum(_out(state, spec, near, self.constants), axis=0)
            for name, (state, spec) in self.valves.items()
        }
        return {name: float(np.interp(intervals, near, own)) for name, own in out.items()}

    def next_check(self, risk: float) -> NextCheck:
        """When to check next at a risk; where it is never reached, the last of the intervals."""
        reached = self.reaches(risk)
        at = float(self.intervals[-1]) if reached is None else reached
        each = self.each_at(at)
        return NextCheck(at, max(each, key=lambda name: each[name]))


def _spec_of(valve: ValveDrift, margin_mm: float) -> Spec:
    spec = valve.chain.specs[-1]
    assert spec is not None  # a chain has a spec at every visit
    return Spec(spec.min_mm - margin_mm, spec.max_mm + margin_mm)


def _out_given(
    part: Component,
    chain: int,
    spec: Spec,
    shared: Sequence[FloatArray],
    intervals: FloatArray,
    constants: Constants,
) -> FloatArray:
    """Probability that a valve is out given draws of what valves share; shape (draws of all taus, k)."""
    known = part.chains[chain]
    last = [known.left[-1], known.drift[-1], known.passing]
    loads = loads_ahead(np.array([part.regime.growth_of(known)]), intervals)[0]
    wander = constants.drift_wander**2 * intervals**3 / 3.0
    out = [np.zeros((len(draws), len(intervals))) for draws in shared]
    for t, weight, mean, cov in given_shared(part.posterior, chain, last, shared):
        if weight < _LEAST_CASE:
            continue
        sd = np.sqrt(((loads @ cov) * loads).sum(axis=-1) + wander)
        in_sds = mean @ (loads / sd[:, None]).T
        both = below(spec.min_mm / sd - in_sds)
        both += below(in_sds - spec.max_mm / sd)
        both *= weight
        out[t] += both
    return np.concatenate(out)


def _none_out(
    part: Component, drifts: Drifts, margin_mm: float, intervals: FloatArray, constants: Constants
) -> FloatArray:
    """Probability under one regime that no valve is out, along the intervals; (k,).

    Valves share a visit's shift and a side's drift: their chances are multiplied given those, and averaged
    over draws of them.
    """
    posterior = part.posterior
    rng = np.random.default_rng(_SEED)
    half = rng.standard_normal((_SAMPLES // 2, posterior.all_mean.shape[1]))
    normal = np.concatenate([half, -half])
    shared = [
        posterior.all_mean[t] + normal @ np.linalg.cholesky(posterior.all_cov[t]).T
        if weight > _LEAST_TAU
        else np.empty((0, normal.shape[1]))
        for t, weight in enumerate(posterior.tau_weight)
    ]
    weight = np.concatenate(
        [np.full(len(draws), posterior.tau_weight[t] / _SAMPLES) for t, draws in enumerate(shared)]
    )
    weight = weight / weight.sum()
    none_out = np.ones((len(weight), len(intervals)))
    for chain, (name, valve) in enumerate(drifts.valves.items()):
        spec = _spec_of(valve, margin_mm)
        own = np.sum(_out(part.states[name].lighter(), spec, intervals, constants), axis=0)
        given = _out_given(part, chain, spec, shared, intervals, constants)
        # The valve's own chance is known better than by normals: the draws are brought to it.
        average = weight @ given
        none_out *= 1.0 - np.clip(given * (own / np.maximum(average, 1e-12)), 0.0, 1.0)
    return np.asarray(weight @ none_out)


def risk_ahead(
    drifts: Drifts, *, margin_mm: float, most: float | None = None, constants: Constants = DEFAULT
) -> RiskAhead | None:
    """How likely a valve is out by more than the margin, along the next check intervals.

    Over the regimes of the drift, each by its probability. None without any valve.

    Args:
        most: how many intervals to look ahead; None: as far as a next check is looked for.
    """
    if not drifts.components:
        return None
    most = constants.next_check_most_intervals if most is None else most
    intervals = np.linspace(0.0, most, round(most * _STEPS_PER_INTERVAL) + 1)
    none_out = np.zeros(len(intervals))
    for part in drifts.components:
        none_out += part.weight * _none_out(part, drifts, margin_mm, intervals, constants)
    valves = {
        name: (valve.state.lighter(), _spec_of(valve, margin_mm)) for name, valve in drifts.valves.items()
    }
    return RiskAhead(intervals, 1.0 - none_out, valves, constants)


def as_set(state: MovingMixture, target_mm: float, sd_mm: float) -> MovingMixture:
    """A valve set to a target now and measured, its drift as it was.

    Args:
        sd_mm: how near the setting comes.
    """
    mean, cov = state.mean.copy(), state.cov.copy()
    mean[:, 0] = target_mm
    cov[:, 0, :] = cov[:, :, 0] = 0.0
    cov[:, 0, 0] = sd_mm**2
    return MovingMixture(state.weight, mean, cov, state.growth)
