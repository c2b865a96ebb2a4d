"""Judging a visit: each reading beside its neighbours, last time, and what all readings share.

The shift of a visit is estimated from how far its readings lie from what the visits before predicted, until
the drift model does so with everything else. F-11 in docs/formulas.md.
"""

from collections.abc import Sequence
from dataclasses import dataclass
from math import sqrt
from typing import Literal

import numpy as np

from pronostico.core.constants import DEFAULT, Constants
from pronostico.core.drift.results import Drifts
from pronostico.core.engine import SIDES, Engine, Side, Valve
from pronostico.core.gauge.reading import Estimate, estimate
from pronostico.core.gauge.valve_history import ValveAtVisit, at_visit
from pronostico.core.thermal import Correction, correction_at
from pronostico.core.visits import Visit

Decision = Literal["leave", "set", "look-again"]
Because = Literal[
    "in-spec", "out-of-spec", "contradiction", "swings", "shift", "open", "not-read", "position"
]


@dataclass(frozen=True, slots=True)
class Apart:
    """A reading against others: how far from them, mm, in sd of the difference, and whether that is odd."""

    by_mm: float
    z: float
    odd: bool


@dataclass(frozen=True, slots=True)
class TurnChange:
    """Between two turns of the crank: largest difference of the means, mm, in sd, and whether it is real.

    `at_least_mm`: what lies between the 90 % ranges, 0 where they overlap; all that is sure where one of the
    readings has no other end.
    """

    by_mm: float
    at_least_mm: float
    z: float
    swings: bool


@dataclass(frozen=True, slots=True)
class LastTime:
    """How the valve stood after the last visit that read it, and how far it moved since, mm."""

    visit: str
    usage: float
    phase: Literal["found", "left"]
    estimate: Estimate
    moved_mm: float | None


@dataclass(frozen=True, slots=True)
class Shift:
    """What all readings of the visit share beyond what was predicted, mm."""

    mean_mm: float
    sd_mm: float
    readings: int
    suspect: bool


@dataclass(frozen=True, slots=True)
class Assessed:
    """One valve at the visit, judged."""

    valve: Valve
    at: ValveAtVisit
    neighbours: Apart | None
    last_time: LastTime | None
    swing: TurnChange | None
    advised: Decision
    because: Because


@dataclass(frozen=True, slots=True)
class Assessment:
    """A visit judged; the temperature's effect is that on the figures of each side."""

    valves: tuple[Assessed, ...]
    corrections: dict[Side, Correction]
    shift: Shift | None


def neighbours_of(own: Estimate, others: Sequence[Estimate], constants: Constants = DEFAULT) -> Apart | None:
    """A reading against the others of its side at the same visit; None with fewer than two others.

    The spread of the others is estimated from them, and is never less than one reading's own sd.
    """
    if len(others) < constants.fewest_neighbours:
        return None
    means = np.array([one.mean_mm for one in others])
    spread = float(means.var(ddof=1)) + float(np.mean([one.sd_mm**2 for one in others])) / len(others)
    by = own.mean_mm - float(np.median(means))
    z = by / sqrt(own.sd_mm**2 + spread + constants.reading_sd_mm**2)
    return Apart(by, z, abs(z) > constants.odd_valve_z)


def turn_change_of(
    engine: Engine, valve: Valve, visit: Visit, constants: Constants = DEFAULT
) -> TurnChange | None:
    """Whether the readings as found differ between turns of the crank; None with fewer than two.

    Only readings of whoever read it last are compared: two people differ by their feel.
    """
    spec = engine.spec_of(valve, visit.day)
    if spec is None:
        return None
    correction = correction_at(engine, valve.side, visit.temperature_c, constants)
    last = visit.reading_of(valve.id, "found")
    estimates = [
        one
        for reading in visit.readings
        if reading.valve == valve.id and reading.phase == "found"
        if last is not None and reading.technician == last.technician
        if (one := estimate(reading, spec, correction, constants)) is not None
    ]
    if len(estimates) < 2:
        return None
    low = min(estimates, key=lambda one: one.mean_mm)
    high = max(estimates, key=lambda one: one.mean_mm)
    by = high.mean_mm - low.mean_mm
    z = by / sqrt(low.sd_mm**2 + high.sd_mm**2 + 2.0 * constants.reading_sd_mm**2)
    at_least = max(0.0, high.q05_mm - low.q95_mm)
    return TurnChange(by, at_least, z, z > constants.swing_z or at_least > 2.0 * constants.reading_sd_mm)


def _last_time(before: Sequence[ValveAtVisit], now: ValveAtVisit) -> LastTime | None:
    for at in reversed(before):
        known = at.left or at.found
        if known is not None:
            moved = None if now.found is None else now.found.mean_mm - known.mean_mm
            return LastTime(at.visit, at.usage, "left" if at.left else "found", known, moved)
    return None


def _shift(states: dict[str, ValveAtVisit], drifting: Drifts) -> Shift | None:
    """The visit's shift as the drift model has it; None where nothing was predicted for it."""
    predicted = [
        valve
        for valve, known in drifting.valves.items()
        if len({one.visit for one in known.chain.readings}) > 1 and states[valve].found is not None
    ]
    if not predicted:
        return None
    last = drifting.shifts[-1]
    return Shift(last.mean_mm, last.sd_mm, len(predicted), last.suspect)


def _advised(
    standing: Estimate | None, swing: TurnChange | None, shift: Shift | None, *, at_suspect_position: bool
) -> tuple[Decision, Because]:
    """What to do with a valve as a rule: the technician decides."""
    if standing is None:
        return "look-again", "not-read"
    if at_suspect_position:
        return "look-again", "position"
    if standing.contradiction:
        return "look-again", "contradiction"
    if swing is not None and swing.swings:
        return "look-again", "swings"
    if standing.verdict == "open":
        return "look-again", "open"
    if shift is not None and shift.suspect:
        return "look-again", "shift"
    return ("leave", "in-spec") if standing.verdict == "in" else ("set", "out-of-spec")


def assess(
    engine: Engine,
    before: tuple[Visit, ...],
    visit: Visit,
    drifting: Drifts,
    *,
    suspect: frozenset[str] = frozenset(),
    constants: Constants = DEFAULT,
) -> Assessment:
    """Judge a visit, given the visits before it.

    Args:
        drifting: the drifts of all these visits, as the last one found the valves.
        suspect: valves that were read where the crank seems to have stood one turn off.
    """
    corrections = {side: correction_at(engine, side, visit.temperature_c, constants) for side in SIDES}
    states = {valve.id: at_visit(engine, valve, visit, constants) for valve in engine.valves}
    shift = _shift(states, drifting)
    assessed = []
    for valve in engine.valves:
        at = states[valve.id]
        others = [
            found
            for other in engine.valves
            if other.side == valve.side and other.id != valve.id
            if (found := states[other.id].found) is not None
        ]
        history = [at_visit(engine, valve, one, constants) for one in before]
        swing = turn_change_of(engine, valve, visit, constants)
        as_found = at.standing is not None and at.standing is at.found
        off = as_found and valve.id in suspect
        advised, because = _advised(at.standing, swing, shift, at_suspect_position=off)
        neighbours = None if at.found is None else neighbours_of(at.found, others, constants)
        assessed.append(Assessed(valve, at, neighbours, _last_time(history, at), swing, advised, because))
    return Assessment(tuple(assessed), corrections, shift)
