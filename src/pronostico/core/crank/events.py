"""When valves open and close, and in which order and at which angles cylinders fire."""

from collections.abc import Sequence
from dataclasses import dataclass
from math import isclose

from pronostico.core.constants import DEFAULT, Constants
from pronostico.core.engine import Side
from pronostico.core.errors import ImpossibleValue
from pronostico.core.units import CYCLE_DEG, cycle_angle_deg

WHOLE_TURN_DEG = 360.0


@dataclass(frozen=True, slots=True)
class Events:
    """When a valve opens and closes, crankshaft degrees of its cylinder's own angle."""

    opens_deg: float
    closes_deg: float

    @property
    def open_for_deg(self) -> float:
        """How long the valve is open, degrees."""
        return cycle_angle_deg(self.closes_deg - self.opens_deg)

    @property
    def middle_of_rest_deg(self) -> float:
        """Where the lobe points straight away."""
        return cycle_angle_deg(self.opens_deg + 0.5 * self.open_for_deg + WHOLE_TURN_DEG)

    def at_rest(self, own_deg: float, constants: Constants = DEFAULT) -> bool:
        """Whether the valve is surely closed at its cylinder's own angle."""
        margin_deg = constants.rest_margin_deg
        into = cycle_angle_deg(own_deg - (self.opens_deg - margin_deg))
        return into > self.open_for_deg + 2.0 * margin_deg


DEFAULT_EVENTS: dict[Side, Events] = {
    "intake": Events(DEFAULT.intake_opens_deg, DEFAULT.intake_closes_deg),
    "exhaust": Events(DEFAULT.exhaust_opens_deg, DEFAULT.exhaust_closes_deg),
}
"""Where the engine's data do not say."""


@dataclass(frozen=True, slots=True)
class Firing:
    """When each cylinder fires, degrees after cylinder 1 (or the lowest number there is)."""

    angle_deg: dict[int, float]

    @classmethod
    def from_order(cls, order: Sequence[int], intervals_deg: Sequence[float] | None = None) -> "Firing":
        """Firing angles from the firing order; intervals follow each step of it, even where None.

        Raises:
            ImpossibleValue: a cylinder twice, none at all, or intervals that do not go with the order.
        """
        if not order or len(set(order)) != len(order):
            raise ImpossibleValue("firing order", list(order), "each cylinder once")
        steps = list(intervals_deg) if intervals_deg is not None else [CYCLE_DEG / len(order)] * len(order)
        if len(steps) != len(order) or not isclose(sum(steps), CYCLE_DEG, abs_tol=0.5) or min(steps) <= 0.0:
            raise ImpossibleValue(
                "firing intervals", steps, f"{len(order)} angles over 0 that add up to {CYCLE_DEG:g}"
            )
        fired, angles = 0.0, {}
        for cylinder, step in zip(order, steps, strict=True):
            angles[cylinder] = fired
            fired += step
        first = angles[min(order)]
        return cls({cylinder: cycle_angle_deg(angle - first) for cylinder, angle in angles.items()})
