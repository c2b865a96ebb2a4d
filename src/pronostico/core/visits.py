"""What was done at a visit: tries with blades, readings, settings."""

from dataclasses import dataclass
from datetime import date
from math import inf
from typing import Literal

from pronostico.core.errors import ImpossibleValue

Felt = Literal["no-go", "drag", "free", "go"]
Access = Literal["straight", "awkward"]
Phase = Literal["found", "left"]
Work = Literal["check", "check-and-set", "head-work"]
InstrumentKind = Literal["dial-clearance", "dial-lift", "compression", "leakdown", "reader", "thermometer"]

THICKEST_BLADE_MM = 3.0
"""No feeler blade is thicker; a figure beyond it is a misplaced decimal point."""


@dataclass(frozen=True, slots=True)
class Try:
    """One blade, or several stacked, offered to a gap, and what the hand felt."""

    blades_mm: tuple[float, ...]
    felt: Felt

    def __post_init__(self) -> None:
        if not self.blades_mm:
            raise ImpossibleValue("blades_mm", "empty", "at least one blade")
        for blade_mm in self.blades_mm:
            if not 0.0 < blade_mm <= THICKEST_BLADE_MM:
                raise ImpossibleValue(
                    "blade thickness", f"{blade_mm} mm", f"over 0 and at most {THICKEST_BLADE_MM:g} mm"
                )

    @property
    def thickness_mm(self) -> float:
        """Thickness of the blade or of the whole stack, mm."""
        return sum(self.blades_mm)


@dataclass(frozen=True, slots=True)
class Reading:
    """All tries at one valve in one state. Without tries it was not read."""

    valve: str
    phase: Phase
    tries: tuple[Try, ...]
    access: Access = "straight"
    technician: str | None = None


@dataclass(frozen=True, slots=True)
class Setting:
    """A valve was set: by screw towards a target, or by exchanging a shim; lengths in mm."""

    valve: str
    target_mm: float | None = None
    shim_from_mm: float | None = None
    shim_to_mm: float | None = None


@dataclass(frozen=True, slots=True)
class Visit:
    """One look at an engine. `usage` is the running total in the engine's unit.

    `renewed`: the valves of which a part was changed at this visit, after they were measured as found.
    """

    id: str
    day: date
    usage: float
    temperature_c: float | None = None
    work: Work = "check"
    readings: tuple[Reading, ...] = ()
    settings: tuple[Setting, ...] = ()
    renewed: frozenset[str] = frozenset()

    def __post_init__(self) -> None:
        if not 0.0 <= self.usage < inf:
            raise ImpossibleValue("usage", self.usage, "0 or more, and finite")

    def reading_of(self, valve: str, phase: Phase) -> Reading | None:
        """The last reading of a valve in a phase that has tries; None where there is none."""
        for reading in reversed(self.readings):
            if reading.valve == valve and reading.phase == phase and reading.tries:
                return reading
        return None

    def begins_era_of(self, valve: str) -> bool:
        """Whether the clearance of a valve as left owes nothing to that as found: its parts are others."""
        return self.work == "head-work" or valve in self.renewed

    def settings_of(self, valve: str) -> tuple[Setting, ...]:
        """The settings of a valve at this visit, in order."""
        return tuple(setting for setting in self.settings if setting.valve == valve)
