"""The place of a cause or a finding: a valve, a cylinder, a side, the whole engine."""

from dataclasses import dataclass
from typing import Literal

from pronostico.core.engine import SIDES, Engine, Side

PlaceKind = Literal["valve", "cylinder", "side", "engine"]


@dataclass(frozen=True, slots=True)
class Place:
    """Where on the engine: a valve, a cylinder, a side, a side of a cylinder, or (all None) all of it."""

    valve: str | None = None
    cylinder: int | None = None
    side: Side | None = None

    @property
    def name(self) -> str:
        """As it is written in results: '1E', 'cylinder 3', 'exhaust', 'cylinder 3, exhaust' or 'engine'."""
        if self.valve is not None:
            return self.valve
        cylinder = None if self.cylinder is None else f"cylinder {self.cylinder}"
        return ", ".join(part for part in (cylinder, self.side) if part is not None) or "engine"


ENGINE_WIDE = Place()


def valves_at(engine: Engine, place: Place) -> frozenset[str]:
    """The valves that a place takes in; all of them for the engine as a whole.

    Raises:
        UnknownValve: the place names a valve that the engine does not have.
    """
    if place.valve is not None:
        return frozenset({engine.valve(place.valve).id})
    return frozenset(
        valve.id
        for valve in engine.valves
        if place.side in (None, valve.side) and place.cylinder in (None, valve.cylinder)
    )


def place_at(engine: Engine, cylinder: int | None, side: Side | None) -> Place:
    """A cylinder, a side or both as a place; a side of a cylinder with one valve there is that valve."""
    place = Place(cylinder=cylinder, side=side)
    if cylinder is not None and side is not None:
        valves = valves_at(engine, place)
        if len(valves) == 1:
            return Place(valve=next(iter(valves)))
    return place


def includes(engine: Engine, outer: Place, inner: Place) -> bool:
    """Whether a cause at `outer` can show itself in a finding at `inner`.

    A finding without a place answers to causes anywhere; one at a valve or a cylinder to causes that reach
    it. One valve or one cylinder does not speak for a whole side.
    """
    shown, reached = valves_at(engine, inner), valves_at(engine, outer)
    if inner == ENGINE_WIDE:
        return True
    if inner == Place(side=inner.side):
        return shown <= reached
    return bool(shown & reached)


def places_of(engine: Engine, kind: PlaceKind) -> tuple[Place, ...]:
    """All places of a kind that the engine has."""
    match kind:
        case "valve":
            return tuple(Place(valve=valve.id) for valve in engine.valves)
        case "cylinder":
            return tuple(Place(cylinder=cylinder) for cylinder in engine.cylinders)
        case "side":
            return tuple(Place(side=side) for side in SIDES if any(v.side == side for v in engine.valves))
        case "engine":
            return (ENGINE_WIDE,)


def side_at(engine: Engine, place: Place) -> Side | None:
    """The side that a place is on; None where it takes in both."""
    return engine.valve(place.valve).side if place.valve is not None else place.side
