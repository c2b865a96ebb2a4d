"""What engines of one kind do: a prior for the drift of a side, from the drifts of its sisters.

Each engine is computed alone first; the posterior of its side's drift, its prior taken out, counts as one
normal observation. How much engines of a kind differ is one of a few sds, weighed by evidence (a normal
random-effects model: Gelman and others, Bayesian Data Analysis, 3rd ed., section 5.4). F-28 in
docs/formulas.md.
"""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass

import numpy as np

from pronostico.core.constants import Constants
from pronostico.core.drift.results import Drifts
from pronostico.core.engine import SIDES, Side


@dataclass(frozen=True, slots=True)
class SideSummary:
    """What an engine's own record says of the drift of a side, mm per its check interval."""

    mean_mm: float
    sd_mm: float


@dataclass(frozen=True, slots=True)
class SidePrior:
    """The prior of a side's drift from sister engines, mm per check interval.

    `mean_mm`, `sd_mm`: rounded, as it is computed with; `exact_mean_mm`, `exact_sd_mm`: before rounding.
    `count`: the summaries that it rests on.
    """

    mean_mm: float
    sd_mm: float
    exact_mean_mm: float
    exact_sd_mm: float
    count: int


_DIGITS = 5  # of a summary, mm: what differs by less changes nothing that anybody sees
_LEAST_EXACT_SD_MM = 0.004  # how closely engines of a kind can agree, where one is compared with them


def summaries_of(known: Drifts) -> dict[Side, SideSummary]:
    """The summary of each side of an engine that was computed alone."""
    found: dict[Side, SideSummary] = {}
    for valve in known.valves.values():
        side = valve.side_drift
        found[valve.chain.valve.side] = SideSummary(round(side.mean, _DIGITS), round(side.sd, _DIGITS))
    return found


def in_intervals_of(summary: SideSummary, own_interval: float, other_interval: float) -> SideSummary:
    """A summary in mm per check interval of another engine, both intervals in one unit of usage."""
    times = other_interval / own_interval
    return SideSummary(summary.mean_mm * times, summary.sd_mm * times)


def _observation(summary: SideSummary, constants: Constants) -> tuple[float, float] | None:
    """Mean and variance of what the record adds to the prior; None where that is next to nothing."""
    prior = 1.0 / constants.side_drift_sd_mm**2
    own = 1.0 / summary.sd_mm**2
    gained = own - prior
    if gained < constants.sister_least_information * prior:
        return None
    return own * summary.mean_mm / gained, 1.0 / gained


def _pooled(observations: Sequence[tuple[float, float]], constants: Constants) -> tuple[float, float]:
    """Mean and sd of the drift of one more engine of the kind, over the sds between engines."""
    y, v = np.array(observations).T
    prior = constants.side_drift_sd_mm**2
    logs, means, variances = [], [], []
    for between in constants.sister_sds_mm:
        u = 1.0 / (between**2 + v)
        precision = 1.0 / prior + u.sum()
        mean = float((u * y).sum() / precision)
        logs.append(
            0.5 * np.log(u).sum()
            - 0.5 * np.log(prior * precision)
            - 0.5 * ((u * y * y).sum() - precision * mean**2)
        )
        means.append(mean)
        variances.append(min(1.0 / precision + between**2, prior))
    weight = np.exp(np.array(logs) - max(logs))
    weight /= weight.sum()
    whole = float(weight @ means)
    return whole, float(np.sqrt(weight @ (np.array(variances) + (np.array(means) - whole) ** 2)))


def _rounded_sd(sd_mm: float, constants: Constants) -> float:
    """The nearest of a geometric row of sds from the least one on, at most that of the prior."""
    least, most, ratio = constants.sister_least_sd_mm, constants.side_drift_sd_mm, constants.sister_sd_ratio
    clipped = min(max(sd_mm, least), most)
    return float(min(least * ratio ** round(np.log(clipped / least) / np.log(ratio)), most))


def side_prior(summaries: Sequence[SideSummary], constants: Constants) -> SidePrior | None:
    """The prior of a side's drift from the summaries of its sisters; None where none says anything."""
    known = [_observation(one, constants) for one in summaries]
    observations = [one for one in known if one is not None]
    if not observations:
        return None
    mean, sd = _pooled(observations, constants)
    step = constants.sister_mean_step_mm
    return SidePrior(round(mean / step) * step, _rounded_sd(sd, constants), mean, sd, len(observations))


def side_priors(sisters: Sequence[Mapping[Side, SideSummary]], constants: Constants) -> dict[Side, SidePrior]:
    """The priors of both sides from the sisters' summaries; a side without any is left out."""
    found = ((side, side_prior([one[side] for one in sisters if side in one], constants)) for side in SIDES)
    return {side: prior for side, prior in found if prior is not None}


def probability_of_difference(own: SideSummary, prior: SidePrior, constants: Constants) -> float | None:
    """Probability that an engine drifts otherwise than its sisters; None where it says nothing itself."""
    observed = _observation(own, constants)
    if observed is None:
        return None
    y, v = observed

    def density(mean: float, variance: float) -> float:
        return float(np.exp(-((y - mean) ** 2) / (2.0 * variance)) / np.sqrt(variance))

    sd = max(prior.exact_sd_mm, _LEAST_EXACT_SD_MM)
    apart = constants.sister_differs_prior * density(0.0, constants.side_drift_sd_mm**2 + v)
    alike = (1.0 - constants.sister_differs_prior) * density(prior.exact_mean_mm, sd**2 + v)
    return apart / (apart + alike)
