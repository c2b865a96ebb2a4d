"""How far to turn an adjusting screw for a change of clearance. F-12 in docs/formulas.md."""

from math import isfinite
from typing import Literal

from pronostico.core.engine import Adjustment
from pronostico.core.errors import ImpossibleValue

AdjusterPlace = Literal["valve", "pushrod", "pivot"]


def usual_place(adjustment: Adjustment) -> AdjusterPlace:
    """Where the screw of an adjustment stands, unless the engine's data say otherwise."""
    places: dict[Adjustment, AdjusterPlace] = {
        "screw-pushrod": "pushrod",
        "pivot-nut": "pivot",
        "hydraulic": "pivot",
    }
    return places.get(adjustment, "valve")


def lash_per_turn_mm(*, pitch_mm: float, at: AdjusterPlace, rocker_ratio: float | None) -> float | None:
    """How far one turn of the adjuster moves the clearance at the valve, mm.

    Levers of the rocker (any textbook of mechanics): the pitch at the valve end, times the rocker ratio R at
    the pushrod end, times 1 + R at the pivot. None where the ratio is needed and not known.

    Raises:
        ImpossibleValue: the pitch or the ratio is not over 0.

    >>> lash_per_turn_mm(pitch_mm=0.75, at="pivot", rocker_ratio=1.5)
    1.875
    """
    for name, value in (("adjuster pitch", pitch_mm), ("rocker ratio", rocker_ratio)):
        if value is not None and not (isfinite(value) and value > 0.0):
            raise ImpossibleValue(name, value, "over 0")
    if at == "valve":
        return pitch_mm
    if rocker_ratio is None:
        return None
    return pitch_mm * (rocker_ratio if at == "pushrod" else 1.0 + rocker_ratio)


def turn_deg(change_mm: float, lash_per_turn: float, *, left_hand: bool = False) -> float:
    """How far to turn the adjuster, degrees, positive clockwise seen on it.

    Clockwise a right-hand thread closes the gap: to open it by 0.255 mm with 0.75 mm a turn, turn back.

    >>> round(turn_deg(0.255, 0.75), 1)
    -122.4
    """
    turn = -360.0 * change_mm / lash_per_turn
    return -turn if left_hand else turn
