"""Findings that nobody has to tick: what the readings themselves show, with their probability.

A valve that was not read at the visit says nothing. F-07 in docs/formulas.md.
"""

from collections.abc import Iterator, Sequence

import numpy as np
from scipy.special import ndtr

from pronostico.core.analysis import Analysis, ValveAnalysis
from pronostico.core.causes import Evidence, Place
from pronostico.core.constants import DEFAULT, Constants
from pronostico.core.engine import SIDES, Side
from pronostico.core.history import ValveAtVisit, as_found, line_ahead, sink_of
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


def _trend(valve: ValveAnalysis, check_interval: float, constants: Constants) -> tuple[float, float] | None:
    """Probabilities that the clearance as found was tightening and that it was loosening."""
    line = line_ahead(as_found(valve.states), check_interval=check_interval, constants=constants)
    if line is None:
        return None
    floor = constants.trend_floor_mm_per_interval
    return line.slope_below(-floor), 1.0 - line.slope_below(floor)


def _high_sink(valve: ValveAnalysis, at: ValveAtVisit, constants: Constants) -> float | None:
    """Probability that the valve has sunk by more than the whole width of its spec."""
    sink = sink_of(as_found(valve.states), constants)
    if sink is None or at.spec is None:
        return None
    return float(ndtr((sink.mean_mm - at.spec.width_mm) / max(sink.sd_mm, 1e-6)))


def _of_valve(
    valve: ValveAnalysis, at: ValveAtVisit, check_interval: float, constants: Constants
) -> Iterator[Evidence]:
    place = Place(valve=valve.valve.id)
    yield from _clearance_level(valve, at)
    trend = _trend(valve, check_interval, constants)
    if trend is not None:
        yield Evidence("tightening", place, trend[0])
        yield Evidence("loosening", place, trend[1])
    sunk = _high_sink(valve, at, constants)
    if sunk is not None:
        yield Evidence("high-sink", place, sunk)


def _of_side(
    side: Side,
    valves: Sequence[tuple[ValveAnalysis, ValveAtVisit]],
    check_interval: float,
    constants: Constants,
) -> Iterator[Evidence]:
    place = Place(side=side)
    read = [at.found for _, at in valves if at.found is not None]
    # One valve is no majority: a single says nothing of its side that the valve itself does not.
    if len(read) >= 2:
        yield Evidence("side-tight", place, probability_of_most([found.p_tight for found in read]))
        yield Evidence("side-loose", place, probability_of_most([found.p_loose for found in read]))
    both_ways = (_trend(valve, check_interval, constants) for valve, _ in valves)
    trends = [trend[0] for trend in both_ways if trend is not None]
    if len(trends) >= 2:
        yield Evidence("side-tightening", place, probability_of_most(trends))


def computed_findings(analysis: Analysis, constants: Constants = DEFAULT) -> tuple[Evidence, ...]:
    """What the last visit of an analysis shows as found, valve by valve and side by side."""
    if analysis.as_of_usage is None:
        return ()
    interval = analysis.engine.check_interval
    pairs = [(valve, valve.states[-1]) for valve in analysis.valves]
    evidence = [one for valve, at in pairs for one in _of_valve(valve, at, interval, constants)]
    for side in SIDES:
        of_side = [pair for pair in pairs if pair[0].valve.side == side]
        evidence.extend(_of_side(side, of_side, interval, constants))
    return tuple(evidence)
