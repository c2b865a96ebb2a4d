"""A visit in the record: what was measured, found, set and decided."""

from datetime import datetime
from typing import Annotated, Literal

from pydantic import Field

from pronostico.core.crank.stations import School
from pronostico.core.engine import Side
from pronostico.core.visits import Access, Felt, InstrumentKind, Phase, Work
from pronostico.record.base import (
    AltitudeM,
    AnyFigure,
    BladeMm,
    CylinderNumber,
    Day,
    Entered,
    Hours,
    Identifier,
    ListOf,
    MapOf,
    Minutes,
    PressureKpa,
    RecordModel,
    ShimMm,
    TargetMm,
    TemperatureC,
    TurnDeg,
    Turns,
    UsageTotal,
)
from pronostico.record.sound import SoundRecording
from pronostico.record.work import (
    AdjustmentChoice,
    ChangedPart,
    Decided,
    Part,
    Progress,
    QuickCheck,
    Recheck,
    ShimSeen,
    ShimSource,
    UsedPart,
    Verified,
)

State = Literal["present", "absent", "unknown"]
When = Literal["cold", "warm", "idle", "load", "always", "comes-and-goes"]
Onset = Literal["sudden", "gradual", "after-work"]


class TryModel(Entered):
    """One blade, or a stack, and what was felt."""

    blades_mm: Annotated[list[BladeMm], Field(min_length=1)]
    felt: Felt


class ReadingModel(Entered):
    """All tries at one valve in one phase."""

    valve: Identifier
    phase: Phase
    tries: ListOf[TryModel] = []
    access: Access | None = None
    skipped: str | None = None
    instrument: str | None = None
    crank_turn: Annotated[int, Field(ge=1, le=10_000)] | None = None
    technician: str | None = None
    """Who felt it, where that is known and several may: each has a reading of their own."""


class Lockup(RecordModel):
    """Tries before and after the nut was locked."""

    before: ListOf[TryModel] = []
    after: ListOf[TryModel] = []


class SettingModel(Entered):
    """A valve was set; `turn_deg` is positive clockwise seen on the adjuster.

    Of a shim: where it came from, and the valve from which it was moved. Of a hydraulic lifter: by how many
    turns it was preloaded.
    """

    valve: Identifier
    target_mm: TargetMm | None = None
    shim_from_mm: ShimMm | None = None
    shim_to_mm: ShimMm | None = None
    turn_deg: TurnDeg | None = None
    lockup: list[Lockup] | None = None
    id: Identifier | None = None
    shim_source: ShimSource | None = None
    moved_from: Identifier | None = None
    preload_turns: Turns | None = None
    reason: str | None = None


class Compression(Entered):
    """Compression of one cylinder, kPa gauge."""

    cylinder: CylinderNumber
    dry_kpa: PressureKpa | None = None
    wet_kpa: PressureKpa | None = None
    throttle_open: bool | None = None


Heard = Literal["intake", "exhaust", "crankcase", "coolant", "neighbour"]


class Leakdown(Entered):
    """Air lost at top on compression, percent, and where it is heard."""

    cylinder: CylinderNumber
    percent: Annotated[float, Field(ge=0, le=100)]
    heard: ListOf[Heard] = []


class Number(Entered):
    """Any other figure taken at a visit."""

    id: Identifier
    value: AnyFigure
    unit: str | None = None
    cylinder: CylinderNumber | None = None
    phase: Literal["before", "after"] | None = None


Sample = list[float | None]


class Replaced(RecordModel):
    """What stood in the record where a trace's figures went, so that they can be taken back."""

    compression: ListOf[Compression] = []
    leakdown: ListOf[Leakdown] = []
    numbers: ListOf[Number] = []
    temperature_c: TemperatureC | None = None


class Trace(RecordModel):
    """A trace of an instrument: what it was held to, how it ended, whether its figures were taken over.

    `samples`: seconds, then a value for each channel; null where nothing came.
    """

    id: Identifier
    kind: InstrumentKind
    instrument: Annotated[str, Field(max_length=120)]
    at: Annotated[datetime, Field(strict=False)]
    valve: Identifier | None = None
    cylinder: CylinderNumber | None = None
    oiled: bool = False
    phase: Phase = "found"
    heard: ListOf[str] = []
    channels: list[str]
    samples: list[Sample]
    ended: Literal["whole", "stopped", "lost"]
    taken: bool = False
    replaced: Replaced | None = None


class FindingModel(RecordModel):
    """A finding, looked for and there, not there, or not known; at one valve: its cylinder and its side."""

    id: Identifier
    state: State
    cylinder: CylinderNumber | None = None
    side: Side | None = None
    note: str | None = None
    when: list[When] | None = None
    onset: Onset | None = None
    words: str | None = None


def place_of(finding: FindingModel) -> tuple[str, int | None, Side | None]:
    """What tells one noted finding from another: its kind and where it is."""
    return finding.id, finding.cylinder, finding.side


class VisitModel(Entered):
    """One visit; `usage` is the running total.

    `decisions`, `shims_seen` by valve, `outcomes` by finding, `quick_checks` by check. `positions_confirmed`:
    valves whose readings stand although the crank seemed to be one turn off.
    """

    id: Identifier
    date: Day
    usage: UsageTotal
    temperature_c: TemperatureC | None = None
    access: Access | None = None
    work: Work | None = None
    readings: ListOf[ReadingModel] = []
    settings: ListOf[SettingModel] = []
    compression: ListOf[Compression] = []
    findings: ListOf[FindingModel] = []
    last_run_hours_ago: Hours | None = None
    duty: str | None = None
    technician: str | None = None
    notes: str | None = None
    altitude_m: AltitudeM | None = None
    leakdown: ListOf[Leakdown] = []
    numbers: ListOf[Number] = []
    parts: ListOf[Part] = []
    decisions: MapOf[Decided] = {}
    adjustment_choice: AdjustmentChoice | None = None
    shims_seen: MapOf[ShimSeen] = {}
    ticks: ListOf[str] = []
    outcomes: MapOf[Verified] = {}
    recheck: Recheck | None = None
    progress: Progress | None = None
    parts_used: ListOf[UsedPart] = []
    parts_changed: ListOf[ChangedPart] = []
    quick_checks: MapOf[QuickCheck] = {}
    minutes: Minutes | None = None
    traces: ListOf[Trace] = []
    recordings: ListOf[SoundRecording] = []
    school: School | None = None
    positions_confirmed: ListOf[Identifier] = []
    cover_off: bool | None = None
