"""Findings computed from the readings, with their probability.

A valve that was not read at the visit says nothing. F-07 in docs/formulas.md.
"""

from collections.abc import Iterator, Sequence
from dataclasses import dataclass

import numpy as np
from scipy.special import ndtr

from pronostico.core.arrays import FloatArray
from pronostico.core.assessment import neighbours_of
from pronostico.core.causes.model import Evidence
from pronostico.core.causes.places import Place
from pronostico.core.constants import DEFAULT, Constants
from pronostico.core.drift.forecast import ahead, drift_ahead
from pronostico.core.drift.results import Drifts, ValveDrift
from pronostico.core.engine import SIDES, Engine, Side
from pronostico.core.gauge.engine_readings import Analysis, ValveAnalysis
from pronostico.core.gauge.reading import Estimate
from pronostico.core.gauge.valve_history import ValveAtVisit


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


def none_left(found: Estimate, constants: Constants = DEFAULT) -> float | None:
    """Probability that the valve has no clearance a blade would enter; None where no thin blade was tried."""
    if found.bracket.went_mm is not None:
        return 0.0
    refused = found.bracket.refused_mm
    if refused is None or refused > constants.thin_blade_mm:
        return None
    return 1.0


def _over(found: Estimate, limit_mm: float) -> float | None:
    """Probability that a clearance is over a limit; None where a bound is known that leaves it open."""
    if found.gives_number:
        return float(ndtr((found.mean_mm - limit_mm) / found.sd_mm))
    went, refused = found.bracket.went_mm, found.bracket.refused_mm
    if refused is not None and refused <= limit_mm:
        return 0.0
    return 1.0 if went is not None and went >= limit_mm else None


def _levels(at: ValveAtVisit, known: ValveDrift | None, suspect: bool) -> tuple[float, float] | None:
    """Probabilities that a clearance is tight and that it is loose; None where it was not read.

    A visit at which everything moved at once is believed less: there the visits before it are counted in.
    """
    if at.found is None or at.spec is None:
        return None
    if suspect and known is not None:
        return known.state.below(at.spec.min_mm), 1.0 - known.state.below(at.spec.max_mm)
    return at.found.p_tight, at.found.p_loose


def _clearance_level(
    valve: ValveAnalysis, at: ValveAtVisit, known: ValveDrift | None, suspect: bool, constants: Constants
) -> Iterator[Evidence]:
    found, spec = at.found, at.spec
    levels = _levels(at, known, suspect)
    if found is None or spec is None or levels is None:
        return
    place = Place(valve=valve.valve.id)
    yield Evidence("clearance-tight", place, levels[0])
    yield Evidence("clearance-loose", place, levels[1])
    very = _over(found, constants.very_loose_times * spec.max_mm)
    if very is not None:
        yield Evidence("clearance-very-loose", place, very)
    none = none_left(found, constants)
    if none is not None:
        yield Evidence("clearance-none", place, none)


def _was_followed(known: ValveDrift) -> bool:
    """Whether a valve was read at two visits of its era or more; with fewer its drift is only the prior."""
    start = known.chain.era_start
    return len({one.visit for one in known.chain.readings if one.visit >= start}) >= 2


@dataclass(frozen=True, slots=True)
class _Trend:
    """Probabilities that a clearance is tightening and that it is loosening; (regimes,) each."""

    weight: FloatArray
    tightening: FloatArray
    loosening: FloatArray

    @property
    def tight(self) -> float:
        """That it is tightening, over all regimes."""
        return float(self.weight @ self.tightening)

    @property
    def loose(self) -> float:
        """That it is loosening."""
        return float(self.weight @ self.loosening)


def _trend(name: str, drifting: Drifts, constants: Constants) -> _Trend | None:
    """Which way a valve's drift goes for good; None where it was not followed.

    What bedding in still adds to it is left out: that comes to an end by itself.
    """
    known = drifting.valves.get(name)
    if known is None or not _was_followed(known):
        return None
    floor = constants.trend_floor_mm_per_interval
    each = [
        part.states[name].of(0.0, 1.0, -1.0 if part.regime.kind == "bedding-in" else 0.0)
        for part in drifting.components
    ]
    return _Trend(
        np.array([part.weight for part in drifting.components]),
        np.array([one.below(-floor) for one in each]),
        np.array([1.0 - one.below(floor) for one in each]),
    )


def _most_tightening(trends: Sequence[_Trend]) -> float:
    """Probability that most valves are tightening: they share the regime, and are apart given it."""
    weight = trends[0].weight
    return sum(
        float(share) * probability_of_most([float(one.tightening[at]) for one in trends])
        for at, share in enumerate(weight)
    )


def _high_sink(known: ValveDrift | None, at: ValveAtVisit) -> float | None:
    """Probability that the valve has sunk for good by more than the whole width of its spec."""
    if known is None or known.lasting_sink is None or at.spec is None or not _was_followed(known):
        return None
    return 1.0 - known.lasting_sink.below(at.spec.width_mm)


def _change_point(
    valve: ValveAnalysis, known: ValveDrift | None, at: ValveAtVisit, suspect: bool, constants: Constants
) -> Iterator[Evidence]:
    """Whether the reading lies far from what was predicted; nothing where the checking itself is suspect."""
    last = len(valve.states) - 1
    predicted = (
        next((one for one in known.predicted if one.visit == last), None) if known is not None else None
    )
    if predicted is None or at.found is None or suspect:
        return
    z = 0.0 if predicted.z is None else predicted.z
    place = Place(valve=valve.valve.id)
    yield Evidence("break-tight", place, float(ndtr(-z - constants.change_point_z)))
    yield Evidence("break-loose", place, float(ndtr(z - constants.change_point_z)))


def _of_visit(drifting: Drifts, constants: Constants) -> Iterator[Evidence]:
    """Whether everything moved at once: the probability that the shift is as large as a suspect one."""
    visits = len(drifting.shifts)
    # A first visit has nothing that it could have moved from.
    if not drifting.components or visits < 2:
        return
    last = drifting.shifts[-1]
    shared = drifting.components[0].posterior.base.shared
    limit = constants.shift_share * float(np.sqrt(shared.variance[shared.shift(visits - 1)]))
    within = ndtr((limit - last.mean_mm) / last.sd_mm) - ndtr((-limit - last.mean_mm) / last.sd_mm)
    moved = 1.0 - float(within)
    least, most = constants.suspect_shift_presence, constants.other_shift_presence
    presence = max(least, moved) if last.suspect else min(most, moved)
    yield Evidence("visit-shift", Place(), presence)


def _regimes(drifting: Drifts) -> Iterator[Evidence]:
    """Whether the drift slows down or speeds up; nothing where the readings could not tell."""
    eras = [valve.chain.era_start for valve in drifting.valves.values()]
    if len(drifting.shifts) - min(eras, default=0) < 2:
        return
    yield Evidence("drift-slowing", Place(), drifting.probability("bedding-in"))
    # A drift that does not speed up yet says nothing against a fault: most wear is steady for long.
    of_places = [
        *((Place(side=side), drifting.probability("speeding-up", side=side)) for side in SIDES),
        *((Place(valve=name), drifting.probability("speeding-up", valve=name)) for name in drifting.valves),
    ]
    for place, p in of_places:
        if p >= 0.5:
            yield Evidence("drift-speeding-up", place, p)


def _of_valve(
    valve: ValveAnalysis, at: ValveAtVisit, drifting: Drifts, suspect: bool, constants: Constants
) -> Iterator[Evidence]:
    place = Place(valve=valve.valve.id)
    known = drifting.valves.get(valve.valve.id)
    yield from _clearance_level(valve, at, known, suspect, constants)
    trend = _trend(valve.valve.id, drifting, constants)
    if trend is not None:
        yield Evidence("tightening", place, trend.tight)
        yield Evidence("loosening", place, trend.loose)
    yield from _change_point(valve, known, at, suspect, constants)
    sunk = _high_sink(known, at)
    if sunk is not None:
        yield Evidence("high-sink", place, sunk)


def _release(
    engine: Engine, pairs: Sequence[tuple[ValveAnalysis, ValveAtVisit]], constants: Constants
) -> Iterator[Evidence]:
    """Whether hardly anything is left of the compression release's lift, cylinder by cylinder."""
    lift = engine.decompression_lift_mm
    if not lift:
        return
    for valve, at in pairs:
        if valve.valve.side == (engine.decompression_side or "exhaust") and at.found is not None:
            presence = _over(at.found, lift - constants.least_release_mm)
            if presence is None:
                continue
            yield Evidence("release-swallowed", Place(cylinder=valve.valve.cylinder), presence)


def _of_side(
    side: Side,
    valves: Sequence[tuple[ValveAnalysis, ValveAtVisit]],
    drifting: Drifts,
    suspect: bool,
    constants: Constants,
) -> Iterator[Evidence]:
    place = Place(side=side)
    each = (_levels(at, drifting.valves.get(valve.valve.id), suspect) for valve, at in valves)
    read = [levels for levels in each if levels is not None]
    # One valve is no majority: a single says nothing of its side that the valve itself does not.
    if len(read) >= 2:
        yield Evidence("side-tight", place, probability_of_most([tight for tight, _ in read]))
        yield Evidence("side-loose", place, probability_of_most([loose for _, loose in read]))
    for valve, at in valves:
        others = [one.found for other, one in valves if other is not valve and one.found is not None]
        apart = None if at.found is None else neighbours_of(at.found, others, constants)
        if apart is not None and at.found is not None:
            presence = float(ndtr(abs(apart.z) - constants.odd_valve_z))
            if presence < 0.5 and not at.found.gives_number:
                # Known only as a bound it may stand apart after all.
                continue
            yield Evidence("one-odd-valve", Place(valve=valve.valve.id), presence)
    known = (_trend(valve.valve.id, drifting, constants) for valve, _ in valves)
    trends = [trend for trend in known if trend is not None]
    if len(trends) >= 2:
        yield Evidence("side-tightening", place, _most_tightening(trends))


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
    suspect = bool(drifting.shifts) and drifting.shifts[-1].suspect
    evidence = [one for valve, at in pairs for one in _of_valve(valve, at, drifting, suspect, constants)]
    for side in SIDES:
        of_side = [pair for pair in pairs if pair[0].valve.side == side]
        evidence.extend(_of_side(side, of_side, drifting, suspect, constants))
    evidence.extend(_release(analysis.engine, pairs, constants))
    evidence.extend(_of_visit(drifting, constants))
    if constants.drift_regimes:
        evidence.extend(_regimes(drifting))
    return tuple(evidence)


def _is_clear(p: float, constants: Constants) -> bool:
    clear = constants.carried_trend_probability
    return p >= clear or p <= 1.0 - clear


def carried_findings(
    analysis: Analysis, drifting: Drifts, intervals: float, constants: Constants = DEFAULT
) -> tuple[Evidence, ...]:
    """Findings predicted for an engine some check intervals after its last visit.

    The forecast there counts, not the reading: it names what wear has brought by then, and says nothing
    against a fault that came since, for nobody has looked.
    """
    evidence: list[Evidence] = []
    levels: dict[str, tuple[float, float]] = {}
    closing: dict[str, float] = {}
    for valve in analysis.valves:
        known, spec = drifting.valves.get(valve.valve.id), valve.spec
        if known is None or spec is None or not known.chain.readings:
            continue
        place = Place(valve=valve.valve.id)
        later = ahead(known.state, intervals, constants)
        tight, loose = later.below(spec.min_mm), 1.0 - later.below(spec.max_mm)
        levels[valve.valve.id] = (tight, loose)
        found = [
            ("clearance-tight", tight),
            ("clearance-loose", loose),
            ("clearance-very-loose", 1.0 - later.below(constants.very_loose_times * spec.max_mm)),
        ]
        found = [one for one in found if one[1] >= constants.carried_probability]
        if _was_followed(known):
            drift = drift_ahead(known.state, intervals, constants)
            floor = constants.trend_floor_mm_per_interval
            closing[valve.valve.id] = drift.below(-floor)
            moves = [
                ("tightening", closing[valve.valve.id]),
                ("loosening", 1.0 - drift.below(floor)),
            ]
            if known.lasting_sink is not None:
                moves.append(("high-sink", 1.0 - known.lasting_sink.below(spec.width_mm)))
            found += [one for one in moves if _is_clear(one[1], constants)]
        evidence += [Evidence(finding, place, p) for finding, p in found]
    for side in SIDES:
        names = [valve.valve.id for valve in analysis.valves if valve.valve.side == side]
        read = [levels[name] for name in names if name in levels]
        moving = [closing[name] for name in names if name in closing]
        of_side: list[tuple[str, float]] = []
        if len(read) >= 2:
            levels_of_side = (
                ("side-tight", probability_of_most([one for one, _ in read])),
                ("side-loose", probability_of_most([one for _, one in read])),
            )
            of_side += [one for one in levels_of_side if one[1] >= constants.carried_probability]
        if len(moving) >= 2 and _is_clear(most := probability_of_most(moving), constants):
            of_side.append(("side-tightening", most))
        evidence += [Evidence(finding, Place(side=side), p) for finding, p in of_side]
    return tuple(evidence)
