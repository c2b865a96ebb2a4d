"""The engine as the computation sees it: its valves, their specs, and what heat does to it."""

from dataclasses import dataclass, replace
from datetime import date
from math import isfinite
from typing import Literal

from pronostico.core.constants import DEFAULT, Constants
from pronostico.core.errors import ImpossibleValue, UnknownValve

Side = Literal["intake", "exhaust"]
SIDES: tuple[Side, Side] = ("intake", "exhaust")
Starting = Literal["electric", "rope", "kick", "hand-crank"]
Adjustment = Literal[
    "screw-rocker", "screw-pushrod", "pivot-nut", "shim-under-bucket", "shim-over-bucket", "hydraulic"
]
SHIMMED: frozenset[Adjustment] = frozenset({"shim-under-bucket", "shim-over-bucket"})
"""Adjusted by exchanging a shim: by an amount that has to be computed from a clearance that is known."""
UsageUnit = Literal["h", "km", "mi"]
Material = Literal["aluminium", "cast-iron"]


@dataclass(frozen=True, slots=True)
class Spec:
    """The clearance that the maker asks for, mm: a range, never empty.

    The lower end may lie below zero where a small single figure stands for a range.
    """

    min_mm: float
    max_mm: float

    def __post_init__(self) -> None:
        shown = f"{self.min_mm} to {self.max_mm} mm"
        if not (isfinite(self.min_mm) and isfinite(self.max_mm)):
            raise ImpossibleValue("spec", shown, "finite")
        if not self.min_mm < self.max_mm:
            raise ImpossibleValue("spec", shown, "a range, min_mm below max_mm")

    @classmethod
    def from_figure(cls, figure_mm: float, constants: Constants = DEFAULT) -> "Spec":
        """The range taken for a single figure."""
        half = constants.figure_half_width_mm
        return cls(figure_mm - half, figure_mm + half)

    @property
    def middle_mm(self) -> float:
        """Middle of the range, mm."""
        return 0.5 * (self.min_mm + self.max_mm)

    @property
    def width_mm(self) -> float:
        """Width of the range, mm."""
        return self.max_mm - self.min_mm


@dataclass(frozen=True, slots=True)
class SpecChange:
    """Another spec of a side, in force from a date on."""

    since: date
    side: Side
    spec: Spec | None


@dataclass(frozen=True, slots=True)
class Valve:
    """One valve: where it sits and, where the manual gives it one, a spec of its own."""

    id: str
    cylinder: int
    side: Side
    own_spec: Spec | None = None


@dataclass(frozen=True, slots=True)
class DriftPrior:
    """The prior of the drift that the valves of a side share, mm per check interval."""

    mean_mm: float
    sd_mm: float


SidePriors = tuple[tuple[Side, DriftPrior], ...]
"""Priors of some sides, in the last era; the others have that of any engine."""


@dataclass(frozen=True, slots=True)
class Engine:
    """What the computation has to know of an engine; None is 'not known'.

    A side's spec of None says that there is no clearance to judge there (hydraulic adjustment).
    `check_interval` is in the engine's own usage unit and is also the unit of drift. `decompression_side`:
    the valve that the bump of the compression release holds open; where it is not said, the exhaust.
    `side_priors`: what sister engines make expected of its drift.
    """

    id: str
    usage_unit: UsageUnit
    check_interval: float
    adjustment: Adjustment
    valves: tuple[Valve, ...]
    intake_spec: Spec | None
    exhaust_spec: Spec | None
    spec_changes: tuple[SpecChange, ...] = ()
    reference_temperature_c: float | None = None
    head_material: Material | None = None
    block_material: Material | None = None
    rocker_ratio: float | None = None
    valve_length_mm: float | None = None
    pushrod_length_mm: float | None = None
    fuel: str | None = None
    duty: str | None = None
    decompression_lift_mm: float | None = None
    decompression_side: Side | None = None
    starting: Starting | None = None
    side_priors: SidePriors = ()

    def __post_init__(self) -> None:
        if not 0.0 < self.check_interval < float("inf"):
            raise ImpossibleValue("check_interval", self.check_interval, "positive and finite")
        ids = [valve.id for valve in self.valves]
        if not ids or len(set(ids)) != len(ids):
            raise ImpossibleValue("valves", ids, "at least one, each named once")

    def valve(self, valve_id: str) -> Valve:
        """The valve of that name.

        Raises:
            UnknownValve: the engine has none of that name.
        """
        for valve in self.valves:
            if valve.id == valve_id:
                return valve
        raise UnknownValve(valve_id, tuple(valve.id for valve in self.valves))

    def spec_of(self, valve: Valve, on: date) -> Spec | None:
        """The spec of a valve in force on a day: its own, else its side's latest up to that day."""
        if valve.own_spec is not None:
            return valve.own_spec
        spec = self.intake_spec if valve.side == "intake" else self.exhaust_spec
        for change in sorted(self.spec_changes, key=lambda change: change.since):
            if change.side == valve.side and change.since <= on:
                spec = change.spec
        return spec

    def latest_spec_of(self, valve: Valve) -> Spec | None:
        """The spec of a valve after every change that is known."""
        return self.spec_of(valve, date.max)

    @property
    def alone(self) -> "Engine":
        """The same without what its sister engines do."""
        return replace(self, side_priors=()) if self.side_priors else self

    @property
    def cylinders(self) -> tuple[int, ...]:
        """The cylinders that have valves, ascending."""
        return tuple(sorted({valve.cylinder for valve in self.valves}))
