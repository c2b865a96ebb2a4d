"""Findings that nobody has to tick: what the readings themselves show, with their probability.

A valve that was not read at the visit says nothing. F-07 in docs/formulas.md.
"""

from collections.abc import Iterator, Sequence

import numpy as np

from pronostico.core.analysis import Analysis, ValveAnalysis
from pronostico.core.causes import Evidence, Place
from pronostico.core.constants import DEFAULT, Constants
from pronostico.core.drift import Drifts, ValveDrift
from pronostico.core.engine import SIDES, Side
from pronostico.core.history import ValveAtVisit
from pronostico.core.reading import Estimate

# "The thinnest blade did not go" needs a thin blade: a refusal of a thick one shows nothing of the kind.
THIN_BLADE_MM = 0.06


def probability_of_most(probabilities: Sequence[float]) -> float:
    """Probability that more than half of independent events come true (Poisson-binomial).

    >>> round(probability_of_most([0.5, 0.5, 0.5]), 3)
    0.5
    """
    counts = np.ones(1)
    for p in probabilities:
        counts = np.convolve(counts, [1.0 - p, p])
    needed = len(probabilities) // 2 + 1
    return float(np.clip(counts[needed:].sum(), 0.0, 1.0))


def none_left(found: Estimate) -> float | None:
    """Probability that the valve has no clearance a blade would enter; None where no thin blade was tried."""
    if found.bracket.went_mm is not None:
        return 0.0
    refused = found.bracket.refused_mm
    if refused is None or refused > THIN_BLADE_MM:
        return None
    return 1.0


def _clearance_level(valve: ValveAnalysis, at: ValveAtVisit) -> Iterator[Evidence]:
    found, spec = at.found, at.spec
    if found is None or spec is None:
        return
    place = Place(valve=valve.valve.id)
    yield Evidence("clearance-tight", place, found.p_tight)
    yield Evidence("clearance-loose", place, found.p_loose)
    none = none_left(found)
    if none is not None:
        yield Evidence("clearance-none", place, none)


def _was_followed(known: ValveDrift) -> bool:
    """Whether a valve was read at two visits of its era or more: before, what is said of it is all prior."""
    start = known.chain.era_start
    return len({one.visit for one in known.chain.readings if one.visit >= start}) >= 2


def _trend(known: ValveDrift | None, constants: Constants) -> tuple[float, float] | None:
    """Probabilities that a clearance is tightening and that it is loosening."""
    if known is None or not _was_followed(known):
        return None
    drift = known.state.of(0.0, 1.0)
    floor = constants.trend_floor_mm_per_interval
    return drift.below(-floor), 1.0 - drift.below(floor)


def _high_sink(known: ValveDrift | None, at: ValveAtVisit) -> float | None:
    """Probability that the valve has sunk by more than the whole width of its spec."""
    if known is None or known.sink is None or at.spec is None or not _was_followed(known):
        return None
    return 1.0 - known.sink.below(at.spec.width_mm)


def _of_valve(
    valve: ValveAnalysis, at: ValveAtVisit, known: ValveDrift | None, constants: Constants
) -> Iterator[Evidence]:
    place = Place(valve=valve.valve.id)
    yield from _clearance_level(valve, at)
    trend = _trend(known, constants)
    if trend is not None:
        yield Evidence("tightening", place, trend[0])
        yield Evidence("loosening", place, trend[1])
    sunk = _high_sink(known, at)
    if sunk is not None:
        yield Evidence("high-sink", place, sunk)


def _of_side(
    side: Side,
    valves: Sequence[tuple[ValveAnalysis, ValveAtVisit]],
    drifting: Drifts,
    constants: Constants,
) -> Iterator[Evidence]:
    place = Place(side=side)
    read = [at.found for _, at in valves if at.found is not None]
    # One valve is no majority: a single says nothing of its side that the valve itself does not.
    if len(read) >= 2:
        yield Evidence("side-tight", place, probability_of_most([found.p_tight for found in read]))
        yield Evidence("side-loose", place, probability_of_most([found.p_loose for found in read]))
    both_ways = (_trend(drifting.valves.get(valve.valve.id), constants) for valve, _ in valves)
    trends = [trend[0] for trend in both_ways if trend is not None]
    if len(trends) >= 2:
        yield Evidence("side-tightening", place, probability_of_most(trends))


def computed_findings(
    analysis: Analysis, drifting: Drifts, constants: Constants = DEFAULT
) -> tuple[Evidence, ...]:
    """What the last visit of an analysis shows as found, valve by valve and side by side.

    Args:
        drifting: the drifts of the same visits as the last one found them, whatever was set there since.
    """
    if analysis.as_of_usage is None:
        return ()
    pairs = [(valve, valve.states[-1]) for valve in analysis.valves]
    evidence = [
        one
        for valve, at in pairs
        for one in _of_valve(valve, at, drifting.valves.get(valve.valve.id), constants)
    ]
    for side in SIDES:
        of_side = [pair for pair in pairs if pair[0].valve.side == side]
        evidence.extend(_of_side(side, of_side, drifting, constants))
    return tuple(evidence)
