"""Forecasts: the clearance at a usage, when it leaves its spec, and when to check next. F-15."""

from collections.abc import Sequence
from dataclasses import dataclass
from typing import Literal

import numpy as np
from scipy.special import ndtr

from pronostico.core.arrays import FloatArray
from pronostico.core.constants import DEFAULT, Constants
from pronostico.core.drift.mixture import Mixture, given_shared
from pronostico.core.drift.model import Drifts, ValveDrift
from pronostico.core.drift.posterior import Posterior
from pronostico.core.engine import Spec

Trend = Literal["tightening", "loosening", "steady", "unclear"]

_STEPS_PER_INTERVAL = 20
_SAMPLES = 256
_SEED = 5


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


def ahead(state: Mixture, intervals: float, constants: Constants = DEFAULT) -> Mixture:
    """The clearance some check intervals after the last visit, if nothing is adjusted."""
    later = state.of(1.0, intervals)
    wander = constants.drift_wander**2 * intervals**3 / 3.0
    return Mixture(later.weight, later.mean, later.cov + wander)


def drift_ahead(state: Mixture, intervals: float, constants: Constants = DEFAULT) -> Mixture:
    """Predictive distribution of the drift some check intervals after the last visit, mm per interval."""
    later = state.of(0.0, 1.0)
    return Mixture(later.weight, later.mean, later.cov + constants.drift_wander**2 * intervals)


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
    state: Mixture, spec: Spec, intervals: FloatArray, constants: Constants
) -> tuple[FloatArray, FloatArray]:
    """Probability that it is tight, and loose, at each of the intervals ahead; both shape (k,)."""
    mean = state.mean[:, :1] + state.mean[:, 1:] * intervals
    variance = (
        state.cov[:, 0, 0, None]
        + 2.0 * state.cov[:, 0, 1, None] * intervals
        + state.cov[:, 1, 1, None] * intervals**2
        + constants.drift_wander**2 * intervals**3 / 3.0
    )
    sd = np.sqrt(variance)
    tight = state.weight @ ndtr((spec.min_mm - mean) / sd)
    loose = state.weight @ ndtr((mean - spec.max_mm) / sd)
    return np.asarray(tight), np.asarray(loose)


def _lighter(state: Mixture, least: float = 1e-5) -> Mixture:
    """The mixture without components of negligible weight."""
    keep = state.weight > least
    weight = state.weight[keep]
    return Mixture(weight / weight.sum(), state.mean[keep], state.cov[keep])


def crossings(
    state: Mixture, spec: Spec, constants: Constants = DEFAULT
) -> tuple[Crossing | None, Crossing | None]:
    """When a valve leaves its spec on the tight side, and on the loose side; None: beyond the horizon."""
    most = constants.crossing_most_intervals
    intervals = np.linspace(0.0, most, round(most * _STEPS_PER_INTERVAL) + 1)
    found = []
    for probability in _out(_lighter(state), spec, intervals, constants):
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

    `any_out`: at least one of them; `out`: each by itself.
    """

    intervals: FloatArray
    any_out: FloatArray
    out: dict[str, FloatArray]

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
        return {name: float(np.interp(intervals, self.intervals, own)) for name, own in self.out.items()}

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
    posterior: Posterior,
    chain: int,
    valve: ValveDrift,
    spec: Spec,
    shared: Sequence[FloatArray],
    intervals: FloatArray,
    constants: Constants,
) -> FloatArray:
    """Probability that a valve is out given draws of what valves share; shape (draws of all taus, k)."""
    last = [valve.chain.left[-1], valve.chain.drift[-1]]
    rows = []
    for t, draws in enumerate(shared):
        out = np.zeros((len(draws), len(intervals)))
        for weight, mean, cov in given_shared(posterior, t, chain, last, draws):
            at = mean[:, :1] + mean[:, 1:] * intervals
            variance = cov[0, 0] + 2.0 * cov[0, 1] * intervals + cov[1, 1] * intervals**2
            sd = np.sqrt(variance + constants.drift_wander**2 * intervals**3 / 3.0)
            out += weight * (ndtr((spec.min_mm - at) / sd) + ndtr((at - spec.max_mm) / sd))
        rows.append(out)
    return np.concatenate(rows)


def risk_ahead(
    drifts: Drifts, *, margin_mm: float, most: float | None = None, constants: Constants = DEFAULT
) -> RiskAhead | None:
    """How likely a valve is out by more than the margin, along the next check intervals.

    Valves share a visit's shift and a side's drift: their chances are multiplied given those, and averaged
    over draws of them. None without any valve.

    Args:
        most: how many intervals to look ahead; None: as far as a next check is looked for.
    """
    posterior = drifts.posterior
    if posterior is None:
        return None
    most = constants.next_check_most_intervals if most is None else most
    intervals = np.linspace(0.0, most, round(most * _STEPS_PER_INTERVAL) + 1)
    rng = np.random.default_rng(_SEED)
    half = rng.standard_normal((_SAMPLES // 2, posterior.all_mean.shape[1]))
    normal = np.concatenate([half, -half])
    kept = [t for t, weight in enumerate(posterior.tau_weight) if weight > 1e-3]
    shared = [
        posterior.all_mean[t] + normal @ np.linalg.cholesky(posterior.all_cov[t]).T
        if t in kept
        else np.empty((0, normal.shape[1]))
        for t in range(len(posterior.tau_weight))
    ]
    weight = np.concatenate(
        [np.full(len(draws), posterior.tau_weight[t] / _SAMPLES) for t, draws in enumerate(shared)]
    )
    weight = weight / weight.sum()
    none_out = np.ones((len(weight), len(intervals)))
    alone = {}
    for chain, (name, valve) in enumerate(drifts.valves.items()):
        spec = _spec_of(valve, margin_mm)
        own = np.sum(_out(_lighter(valve.state), spec, intervals, constants), axis=0)
        given = _out_given(posterior, chain, valve, spec, shared, intervals, constants)
        # The valve's own chance is known better than by normals: the draws are brought to it.
        average = weight @ given
        given = np.clip(given * (own / np.maximum(average, 1e-12)), 0.0, 1.0)
        none_out *= 1.0 - given
        alone[name] = own
    return RiskAhead(intervals, 1.0 - weight @ none_out, alone)


def as_set(state: Mixture, target_mm: float, sd_mm: float) -> Mixture:
    """A valve set to a target now and measured, its drift as it was.

    Args:
        sd_mm: how near the setting comes.
    """
    mean = np.column_stack([np.full(len(state.weight), target_mm), state.mean[:, 1]])
    cov = np.zeros_like(state.cov)
    cov[:, 0, 0] = sd_mm**2
    cov[:, 1, 1] = state.cov[:, 1, 1]
    return Mixture(state.weight, mean, cov)
