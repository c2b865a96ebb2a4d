"""Preload of hydraulic lifters: turns of the nut, and the plunger travel they make. F-13."""

from dataclasses import dataclass

from pronostico.core.adjust.screws import AdjusterPlace
from pronostico.core.constants import DEFAULT, Constants


@dataclass(frozen=True, slots=True)
class Preload:
    """Hydraulic lifters: turns past zero lash, where the plunger then stands, and whether that is sound."""

    turns: float
    plunger_travel_mm: float | None
    share_of_stroke: float | None
    sound: bool | None


def plunger_travel_mm(
    turns: float, *, pitch_mm: float, at: AdjusterPlace, rocker_ratio: float | None
) -> float | None:
    """How far the preload of a hydraulic lifter moves its plunger, mm.

    From zero lash the valve tip stands still, held by its spring, and the pushrod end of the rocker goes
    down: with d = turns times pitch by d (1 + R) / R for a nut on the stud or pivot, d for a screw at the
    pushrod end, d / R for one at the valve end. Levers of the rocker, as in `lash_per_turn_mm`. None where
    the ratio R is needed and not known.

    >>> round(plunger_travel_mm(0.75, pitch_mm=1.06, at="pivot", rocker_ratio=1.6), 2)
    1.29
    """
    moved_mm = turns * pitch_mm
    if at == "pushrod":
        return moved_mm
    if rocker_ratio is None:
        return None
    return moved_mm * (1.0 + rocker_ratio if at == "pivot" else 1.0) / rocker_ratio


def preload(
    turns: float, travel_mm: float | None, stroke_mm: float | None, constants: Constants = DEFAULT
) -> Preload:
    """Where the plunger stands after the turns of preload; sound in the middle of its stroke."""
    least, most = constants.preload_least_share, constants.preload_most_share
    share = None if travel_mm is None or stroke_mm is None else travel_mm / stroke_mm
    return Preload(turns, travel_mm, share, None if share is None else least <= share <= most)
