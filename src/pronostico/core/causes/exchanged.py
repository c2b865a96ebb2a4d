"""What looks exchanged: the sides of an engine, or the shims of two valves. F-31 in docs/formulas.md.

Both weigh two hypotheses about the same readings: each valve reads what was expected of it, or what was
expected of the other.
"""

from collections.abc import Iterator, Sequence
from dataclasses import dataclass
from itertools import combinations

import numpy as np
from scipy.special import expit, logit, logsumexp

from pronostico.core.arrays import FloatArray
from pronostico.core.causes.model import Evidence
from pronostico.core.causes.places import Place
from pronostico.core.constants import DEFAULT, Constants
from pronostico.core.densities import log_density_moving_together, normal_density
from pronostico.core.drift.results import Drifts, Predicted
from pronostico.core.engine import Side
from pronostico.core.gauge.engine_readings import Analysis, ValveAnalysis
from pronostico.core.gauge.valve_history import ValveAtVisit
from pronostico.core.visits import Visit

# From which probability on it is said at all.
_LIKELY = 0.5


def _probability(prior: float, log_ratio: float) -> float:
    """Posterior probability of a hypothesis from its prior and the log of its likelihood ratio."""
    return float(expit(logit(prior) + log_ratio))


def _evidence(finding: str, place: Place, prior: float, log_ratio: float) -> Iterator[Evidence]:
    """The finding where it is likely; its presence without the prior, for the causes have theirs."""
    if _probability(prior, log_ratio) >= _LIKELY:
        yield Evidence(finding, place, _probability(0.5, log_ratio))


@dataclass(frozen=True, slots=True)
class _Read:
    """A valve as it was read and as it was expected: mm, and variances."""

    valve: str
    cylinder: int
    side: Side
    read_mm: float
    read_variance: float
    expected_mm: float
    expected_variance: float


def _predicted_at(drifting: Drifts, valve: str, visit: int) -> Predicted | None:
    known = drifting.valves.get(valve)
    return None if known is None else next((one for one in known.predicted if one.visit == visit), None)


def _reads(
    pairs: Sequence[tuple[ValveAnalysis, ValveAtVisit]], drifting: Drifts, constants: Constants
) -> Iterator[_Read]:
    for valve, at in pairs:
        if at.found is None or at.spec is None or not at.found.gives_number:
            continue
        one = valve.valve
        predicted = _predicted_at(drifting, one.id, len(valve.states) - 1)
        expected = (
            (at.spec.middle_mm, constants.in_use_sd_mm)
            if predicted is None
            else (predicted.mean_mm, predicted.sd_mm)
        )
        yield _Read(
            one.id,
            one.cylinder,
            one.side,
            at.found.mean_mm,
            at.found.sd_mm**2 + constants.reading_sd_mm**2,
            expected[0],
            expected[1] ** 2,
        )


def _expected_of_other_side(one: _Read, reads: Sequence[_Read]) -> tuple[float, float] | None:
    """Mean and variance of what was expected of the other valves of its cylinder; None without any."""
    others = [other for other in reads if other.cylinder == one.cylinder and other.side != one.side]
    if not others:
        return None
    means = np.array([other.expected_mm for other in others])
    variance = np.mean([other.expected_variance for other in others]) + means.var()
    return float(means.mean()), float(variance)


def _log_density(off: FloatArray, variance: FloatArray, sides: FloatArray, constants: Constants) -> float:
    """Of readings less what was expected; (n,) each.

    The valves of a side move together as well, mostly little, now and then far.
    """
    total = 0.0
    for side in np.unique(sides):
        here = sides == side
        each = [
            np.log(share) + log_density_moving_together(off[here], variance[here], together)
            for together, share in constants.side_moves_together
        ]
        total += float(logsumexp(each))
    return total


def sides_swapped(
    pairs: Sequence[tuple[ValveAnalysis, ValveAtVisit]], drifting: Drifts, constants: Constants = DEFAULT
) -> float:
    """Log likelihood ratio of intakes read as exhausts and exhausts as intakes, or their specs exchanged.

    Only cylinders count of which both sides were read; minus infinity where there is none.
    """
    known = list(_reads(pairs, drifting, constants))
    both = [(one, other) for one in known if (other := _expected_of_other_side(one, known)) is not None]
    if not both:
        return -np.inf
    read = np.array([one.read_mm for one, _ in both])
    noise = np.array([one.read_variance for one, _ in both])
    sides = np.array([float(one.side == "intake") for one, _ in both])
    as_named = _log_density(
        read - [one.expected_mm for one, _ in both],
        noise + [one.expected_variance for one, _ in both],
        sides,
        constants,
    )
    exchanged = _log_density(
        read - [mean for _, (mean, _) in both],
        noise + [variance for _, (_, variance) in both],
        sides,
        constants,
    )
    return exchanged - as_named


@dataclass(frozen=True, slots=True)
class _Moved:
    """A valve whose shim was changed at the visit before: how far off it is now, and what went in, mm."""

    valve: str
    off_mm: float
    sd_mm: float
    shim_mm: float | None


def _moved(drifting: Drifts, visits: Sequence[Visit]) -> Iterator[_Moved]:
    last = len(visits) - 1
    for name in drifting.valves:
        settings = visits[last - 1].settings_of(name)
        predicted = _predicted_at(drifting, name, last)
        if not settings or predicted is None or predicted.z is None:
            continue
        off = predicted.own_mm - predicted.mean_mm
        sd = predicted.sd_mm if predicted.z == 0.0 else off / predicted.z
        yield _Moved(name, off, sd, settings[-1].shim_to_mm)


def _likelihood_of_exchange(one: _Moved, other: _Moved, constants: Constants) -> float:
    """Density of two valves' errors where each has the other's shim: what the one gains the other loses."""
    sds = np.hypot(one.sd_mm, other.sd_mm)
    together = normal_density(one.off_mm + other.off_mm, 0.0, sds)
    half_apart = (one.off_mm - other.off_mm) / 2.0
    if one.shim_mm is not None and other.shim_mm is not None:
        # The valve with the thinner shim of the other is looser by the difference.
        between = one.shim_mm - other.shim_mm
        return together * normal_density(half_apart, between, sds / 2.0)
    return float(together * normal_density(half_apart, 0.0, np.hypot(constants.jump_sd_mm, sds / 2.0)))


def exchanged_shims(
    drifting: Drifts, visits: Sequence[Visit], constants: Constants = DEFAULT
) -> dict[str, float]:
    """Log likelihood ratio, by valve, of its having another one's shim since the visit before.

    Against it stand that both are as predicted, and that one or both changed suddenly for themselves.
    """
    if len(visits) < 2:
        return {}
    moved = list(_moved(drifting, visits))
    pairs = list(combinations(moved, 2))
    found: dict[str, float] = {}
    jump = constants.jump_probability
    for one, other in pairs:
        each = [
            (1.0 - jump) * normal_density(m.off_mm, 0.0, m.sd_mm)
            + jump * normal_density(m.off_mm, 0.0, np.hypot(m.sd_mm, constants.jump_sd_mm))
            for m in (one, other)
        ]
        # So unlikely either way that it says nothing.
        least = np.finfo(np.float64).tiny
        exchange = _likelihood_of_exchange(one, other, constants) / len(pairs)
        log_ratio = float(np.log(exchange + least) - np.log(each[0] * each[1] + least))
        for m in (one, other):
            found[m.valve] = max(found.get(m.valve, -np.inf), log_ratio)
    return found


def exchanged(
    analysis: Analysis, drifting: Drifts, visits: Sequence[Visit], constants: Constants = DEFAULT
) -> Iterator[Evidence]:
    """Evidence of what looks exchanged; none where it does not, for that says little against it."""
    pairs = [(valve, valve.states[-1]) for valve in analysis.valves] if visits else []
    swapped = sides_swapped(pairs, drifting, constants)
    yield from _evidence("sides-swapped", Place(), constants.sides_swapped_prior, swapped)
    if analysis.engine.adjustment.startswith("shim"):
        for valve, log_ratio in exchanged_shims(drifting, visits, constants).items():
            prior = constants.shims_exchanged_prior
            yield from _evidence("shims-exchanged", Place(valve=valve), prior, log_ratio)
