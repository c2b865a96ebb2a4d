"""Where to turn the crank, and which valves may be measured there.

Cylinder i fires at angle f_i; at crank angle a its own angle is p = a - f_i (mod 720), zero at top on
compression. A valve is at rest where p lies outside its open span widened by a margin either side. The
crank angle is counted from cylinder 1 at top on compression, and the crank is only ever turned the way
that it runs. F-08 in docs/formulas.md.
"""

from collections.abc import Sequence
from dataclasses import dataclass
from itertools import combinations
from math import acos, degrees, isclose
from typing import Literal

from pronostico.core.constants import DEFAULT
from pronostico.core.crank.events import WHOLE_TURN_DEG, Events, Firing
from pronostico.core.engine import Side, Valve
from pronostico.core.errors import ImpossibleValue
from pronostico.core.units import CYCLE_DEG, cycle_angle_deg

School = Literal["two-turn", "each-cylinder", "lobe-away"]
SCHOOLS: tuple[School, School, School] = ("two-turn", "each-cylinder", "lobe-away")

# Two positions of the crank closer than this are one: it is set by eye and by hand.
_SAME_DEG = 1e-6


@dataclass(frozen=True, slots=True)
class Station:
    """One crank position and the valves to measure there, in the engine's order."""

    crank_deg: float
    mark: str
    valves: tuple[str, ...]


@dataclass(frozen=True, slots=True)
class CrankTask:
    """What a plan of stations needs to know of an engine."""

    valves: tuple[Valve, ...]
    firing: Firing
    events: dict[Side, Events]

    def __post_init__(self) -> None:
        for valve in self.valves:
            if valve.cylinder not in self.firing.angle_deg:
                known = sorted(self.firing.angle_deg)
                raise ImpossibleValue(f"cylinder of valve {valve.id}", valve.cylinder, f"one of {known}")

    def at_rest(self, valve: Valve, crank_deg: float) -> bool:
        """Whether a valve may be measured at a crank angle."""
        own = crank_deg - self.firing.angle_deg[valve.cylinder]
        return self.events[valve.side].at_rest(own)

    def mark(self, crank_deg: float) -> str:
        """A crank angle in words: which cylinder is at top on compression, or how far past one that was."""
        past, cylinder = min(
            (cycle_angle_deg(crank_deg - angle + _SAME_DEG), cylinder)
            for cylinder, angle in self.firing.angle_deg.items()
        )
        top = f"cylinder {cylinder} at TDC on compression"
        return top if past < 2.0 * _SAME_DEG else f"{round(past, 1):g} degrees after {top}"

    def station(self, crank_deg: float, valves: Sequence[Valve]) -> Station:
        """A station at an angle for some valves."""
        return Station(crank_deg, self.mark(crank_deg), tuple(valve.id for valve in valves))


def _listed_once(task: CrankTask, angles: Sequence[float]) -> list[Station]:
    """Stations at the angles, each with the valves at rest there and not listed before."""
    waiting = list(task.valves)
    stations = []
    for angle in angles:
        here = [valve for valve in waiting if task.at_rest(valve, angle)]
        waiting = [valve for valve in waiting if valve not in here]
        stations.append(task.station(angle, here))
    return stations


def _covers(task: CrankTask, angles: Sequence[float]) -> bool:
    return all(any(task.at_rest(valve, angle) for angle in angles) for valve in task.valves)


def two_turn(task: CrankTask) -> list[Station]:
    """The fewest of the cylinders' own tops, cylinder 1's first, at which every valve comes to rest.

    Among equals the ones with a station a whole turn after the first, then the earliest.

    Raises:
        ImpossibleValue: with these events some valve is at rest at none of them.
    """
    candidates = sorted(set(task.firing.angle_deg.values()))
    first, others = candidates[0], candidates[1:]
    for count in range(len(others) + 1):
        plans = [(first, *more) for more in combinations(others, count)]
        covering = [plan for plan in plans if _covers(task, plan)]
        if covering:
            best = min(
                covering,
                key=lambda plan: (not any(isclose(a - first, WHOLE_TURN_DEG) for a in plan), plan),
            )
            return _listed_once(task, best)
    stuck = [v.id for v in task.valves if not any(task.at_rest(v, angle) for angle in candidates)]
    raise ImpossibleValue(
        "valve events", f"never at rest: {', '.join(stuck)}", "at rest at some cylinder's top"
    )


def each_cylinder(task: CrankTask) -> list[Station]:
    """One station a cylinder in firing order, with that cylinder's valves."""
    in_order = sorted(task.firing.angle_deg.items(), key=lambda item: item[1])
    return [
        task.station(angle, [valve for valve in task.valves if valve.cylinder == cylinder])
        for cylinder, angle in in_order
        if any(valve.cylinder == cylinder for valve in task.valves)
    ]


def _groups_from(away: list[tuple[float, Valve]], start: int) -> list[list[tuple[float, Valve]]]:
    """Neighbours on the circle gathered, from one of them on, while a single angle serves them all."""
    turned = [
        (angle + (CYCLE_DEG if index < start else 0.0), valve) for index, (angle, valve) in enumerate(away)
    ]
    groups: list[list[tuple[float, Valve]]] = []
    for angle, valve in turned[start:] + turned[:start]:
        if groups and angle - groups[-1][0][0] <= 2.0 * DEFAULT.lobe_tolerance_deg + _SAME_DEG:
            groups[-1].append((angle, valve))
        else:
            groups.append([(angle, valve)])
    return groups


def lobe_away(task: CrankTask) -> list[Station]:
    """Each valve with its lobe pointing away, stations merged where one angle serves several."""
    away = sorted(
        (
            (
                cycle_angle_deg(
                    task.firing.angle_deg[valve.cylinder] + task.events[valve.side].middle_of_rest_deg
                ),
                valve,
            )
            for valve in task.valves
        ),
        key=lambda pair: pair[0],
    )
    # Where on the circle the gathering begins can cost a station, so every beginning is tried.
    groups = min((_groups_from(away, start) for start in range(len(away))), key=len)
    order = {valve.id: index for index, valve in enumerate(task.valves)}
    stations = []
    for group in groups:
        angle = cycle_angle_deg(0.5 * (group[0][0] + group[-1][0]))
        valves = sorted((valve for _, valve in group), key=lambda valve: order[valve.id])
        stations.append(task.station(angle, valves))
    return sorted(stations, key=lambda station: station.crank_deg)


_PLANS = {"two-turn": two_turn, "each-cylinder": each_cylinder, "lobe-away": lobe_away}


def crank_plan(task: CrankTask, school: School) -> list[Station]:
    """The stations of a school, in the order in which the crank comes to them.

    Raises:
        ImpossibleValue: no plan brings every valve to rest.
    """
    return _PLANS[school](task)


def past_top_deg(travel_mm: float, *, stroke_mm: float, rod_length_mm: float) -> float:
    """Crank angle past top at which the piston has gone down by a travel.

    For engines whose decompression cam still holds a valve at top. Slider-crank: with r the throw and l the
    rod, the pin stands y = r + l - travel above the crank, and cos(angle) = (y^2 + r^2 - l^2) / (2 r y).

    >>> round(past_top_deg(50.0, stroke_mm=50.0, rod_length_mm=90.0), 6)
    180.0

    Raises:
        ImpossibleValue: the travel is not within the stroke, or the rod is too short to turn.
    """
    throw = 0.5 * stroke_mm
    if not 0.0 < throw < rod_length_mm:
        raise ImpossibleValue("rod length", f"{rod_length_mm} mm", f"over half the stroke ({throw:g} mm)")
    if not 0.0 <= travel_mm <= stroke_mm:
        raise ImpossibleValue("piston travel", f"{travel_mm} mm", f"0 to the stroke, {stroke_mm:g} mm")
    pin = throw + rod_length_mm - travel_mm
    cosine = (pin**2 + throw**2 - rod_length_mm**2) / (2.0 * throw * pin)
    return degrees(acos(max(-1.0, min(1.0, cosine))))
