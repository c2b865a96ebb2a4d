"""The record as Pydantic models, field by field as the format states it.

Lengths in mm, temperatures in deg C, pressures in kPa (gauge), torque in N m, angles in crankshaft
degrees. None and absent both mean 'not known'. Fields that this version does not compute with are kept.
"""

import re
from datetime import date
from typing import Annotated, Literal, TypeVar

from pydantic import BaseModel, BeforeValidator, ConfigDict, Field, JsonValue

from pronostico.core.engine import Adjustment, Material, Side, Starting, UsageUnit
from pronostico.core.visits import THICKEST_BLADE_MM, Access, Felt, Phase, Work

FORMAT: Literal["pronostico/record"] = "pronostico/record"
# No slash: identifiers stand in addresses. No control characters: they stand on pages.
Identifier = Annotated[str, Field(min_length=1, max_length=80, pattern=r"^[^/\x00-\x1f\x7f]+$")]
# Bounds far beyond any engine: what lies outside is a mistake in the unit or the decimal point, and figures
# without a bound would overflow what is computed from them.
UsageTotal = Annotated[float, Field(ge=0, le=1e9)]
CheckInterval = Annotated[float, Field(ge=0.001, le=1e8)]
ShimMm = Annotated[float, Field(gt=0, le=20)]
StepMm = Annotated[float, Field(ge=0.001, le=5)]
DiameterMm = Annotated[float, Field(gt=0, le=200)]
PitchMm = Annotated[float, Field(gt=0, le=20)]
TargetMm = Annotated[float, Field(ge=0, le=20)]
LiftMm = Annotated[float, Field(ge=0, le=50)]
SpecKpa = Annotated[float, Field(ge=1, le=1e5)]
PressureKpa = Annotated[float, Field(ge=0, le=1e5)]
TorqueNm = Annotated[float, Field(gt=0, le=1e5)]
AngleDeg = Annotated[float, Field(ge=-7200, le=7200)]
FiringDeg = Annotated[float, Field(gt=0, le=720)]
TravelMm = Annotated[float, Field(ge=0, le=2000)]
TurnDeg = Annotated[float, Field(ge=-36_000, le=36_000)]
Turns = Annotated[float, Field(gt=0, le=20)]
Minutes = Annotated[float, Field(ge=0, le=1e5)]
Hours = Annotated[float, Field(ge=0, le=1e6)]
AltitudeM = Annotated[float, Field(ge=-500, le=9000)]
AnyFigure = Annotated[float, Field(ge=-1e9, le=1e9)]
Count = Annotated[int, Field(ge=0, le=1_000_000)]
PartLengthMm = Annotated[float, Field(gt=0, le=2000)]
RockerRatio = Annotated[float, Field(gt=0, le=10)]
ClearanceMm = Annotated[float, Field(gt=0, le=10)]
TemperatureC = Annotated[float, Field(ge=-90, le=250)]
Fraction = Annotated[float, Field(ge=0, le=1)]
BladeMm = Annotated[float, Field(gt=0, le=THICKEST_BLADE_MM)]
CylinderNumber = Annotated[int, Field(ge=1, le=64)]


def _iso_day(value: object) -> object:
    # Left to itself a date would also be taken from a number or from a time of day.
    if isinstance(value, date) or (isinstance(value, str) and re.fullmatch(r"\d{4}-\d\d-\d\d", value)):
        return value
    raise ValueError("must be a date such as 2026-01-31")


Day = Annotated[date, Field(strict=False), BeforeValidator(_iso_day, json_schema_input_type=date)]
State = Literal["present", "absent", "unknown"]
When = Literal["cold", "warm", "idle", "load", "always", "comes-and-goes"]
Onset = Literal["sudden", "gradual", "after-work"]


class RecordModel(BaseModel):
    """What all parts share: unknown fields are faults, numbers are finite, types are not guessed."""

    model_config = ConfigDict(extra="forbid", strict=True, allow_inf_nan=False)


class Entered(RecordModel):
    """A part with figures, beside which stands what was typed, in its own unit."""

    entered: JsonValue | None = None


Item = TypeVar("Item")
# A list that is null is one of which nothing is known: the same as none at all.
ListOf = Annotated[
    list[Item],
    BeforeValidator(lambda value: [] if value is None else value, json_schema_input_type=list[Item] | None),
]


class SpecModel(Entered):
    """A clearance spec: a range, or a single figure with min and max null."""

    min_mm: TargetMm | None = None
    max_mm: ClearanceMm | None = None
    figure_mm: ClearanceMm | None = None


class SidesSpec(RecordModel):
    """The spec of each side."""

    intake: SpecModel
    exhaust: SpecModel


class ValveModel(RecordModel):
    """One valve; `place` is its place along the head, from the front."""

    id: Identifier
    cylinder: CylinderNumber
    side: Side
    place: Annotated[int, Field(ge=1, le=1000)] | None = None
    shim_mm: ShimMm | None = None
    shares_rocker_with: ListOf[Identifier] = []
    spec: SpecModel | None = None


class CompressionSpec(Entered):
    """What compression should read, kPa gauge."""

    min: SpecKpa | None = None
    max: SpecKpa | None = None
    wet_only_below_min: bool | None = None
    max_spread_fraction: Fraction | None = None


class Source(RecordModel):
    """Where the figures come from: a manual or plate, and the page."""

    title: str
    page: str | None = None


class Layout(RecordModel):
    """How the head is drawn; no computation rests on it."""

    kind: Literal["in-line", "v", "flat"] = "in-line"
    banks: list[list[CylinderNumber]] | None = None
    front: Literal["left", "right"] | None = None
    intake_side: str | None = None


Span = Annotated[list[AngleDeg], Field(min_length=2, max_length=2)]


class Events(RecordModel):
    """When valves open and close, crankshaft degrees after top on compression."""

    intake: Span
    exhaust: Span


class ManualStation(RecordModel):
    """One crank position of the manual's own table."""

    crank_deg: AngleDeg
    mark: str | None = None
    valves: list[Identifier]


class Thread(RecordModel):
    """Which way the adjuster turns and which part of it locks."""

    hand: Literal["right", "left"] = "right"
    locks: Literal["outer", "inner"] = "outer"


class Hydraulic(RecordModel):
    """Preload of hydraulic lifters."""

    preload_turns: Turns | None = None
    plunger_stroke_mm: DiameterMm | None = None


class ShimSeries(RecordModel):
    """Shims that can be ordered."""

    from_mm: ShimMm
    to_mm: ShimMm
    step_mm: StepMm
    diameter_mm: DiameterMm | None = None


class Torque(Entered):
    """Tightening torque of one part, N m, in stages where it has them."""

    part: str
    nm: TorqueNm
    stages: list[TorqueNm] | None = None
    sequence: str | None = None


class MeterChange(Entered):
    """The usage meter was replaced or rolled over; visits carry the running total."""

    date: Day
    old: UsageTotal
    new: UsageTotal


class SpecChangeModel(RecordModel):
    """The spec of both sides from a date on; until the first change `engine.spec` holds."""

    date: Day
    spec: SidesSpec


class EngineModel(RecordModel):
    """The engine: its data, its spec and its valves."""

    id: Identifier
    name: str | None = None
    usage_unit: UsageUnit
    check_interval: CheckInterval
    fuel: str | None = None
    duty: str | None = None
    head_material: Material | None = None
    block_material: Material | None = None
    adjustment: Adjustment
    rocker_ratio: RockerRatio | None = None
    adjuster_pitch_mm: PitchMm | None = None
    adjuster_at: Literal["valve", "pushrod", "pivot"] | None = None
    firing_order: list[CylinderNumber] | None = None
    firing_intervals_deg: list[FiringDeg] | None = None
    stroke_mm: PartLengthMm | None = None
    rod_length_mm: PartLengthMm | None = None
    reference_temperature_c: TemperatureC | None = None
    check_below_temperature_c: TemperatureC | None = None
    valve_length_mm: PartLengthMm | None = None
    pushrod_length_mm: PartLengthMm | None = None
    decompression_lift_mm: LiftMm | None = None
    compression_spec_kpa: CompressionSpec | None = None
    spec: SidesSpec
    valves: Annotated[list[ValveModel], Field(min_length=1)]
    source: Source | None = None
    layout: Layout | None = None
    events_deg: Events | None = None
    stations: list[ManualStation] | None = None
    lobe_position: str | None = None
    thread: Thread | None = None
    hydraulic: Hydraulic | None = None
    shim_series: ShimSeries | None = None
    torque: list[Torque] | None = None
    access_minutes: Minutes | None = None
    bump_release_travel_mm: TravelMm | None = None
    decompression_side: Side | None = None
    starting: Starting | None = None
    meter_changes: ListOf[MeterChange] = []
    spec_changes: ListOf[SpecChangeModel] = []


class GaugeSet(Entered):
    """The blades available, mm."""

    id: Identifier
    name: str | None = None
    blades_mm: Annotated[list[BladeMm], Field(min_length=1)]


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


class Lockup(RecordModel):
    """Tries before and after the nut was locked."""

    before: ListOf[TryModel] = []
    after: ListOf[TryModel] = []


class SettingModel(Entered):
    """A valve was set; `turn_deg` is positive clockwise seen on the adjuster."""

    valve: Identifier
    target_mm: TargetMm | None = None
    shim_from_mm: ShimMm | None = None
    shim_to_mm: ShimMm | None = None
    turn_deg: TurnDeg | None = None
    lockup: list[Lockup] | None = None


class Compression(Entered):
    """Compression of one cylinder, kPa gauge."""

    cylinder: CylinderNumber
    dry_kpa: PressureKpa | None = None
    wet_kpa: PressureKpa | None = None
    throttle_open: bool | None = None


class Leakdown(Entered):
    """Air lost at top on compression, percent, and where it is heard."""

    cylinder: CylinderNumber
    percent: Annotated[float, Field(ge=0, le=100)]
    heard: ListOf[Literal["intake", "exhaust", "crankcase", "coolant", "neighbour"]] = []


class Number(Entered):
    """Any other figure taken at a visit."""

    id: Identifier
    value: AnyFigure
    unit: str | None = None
    cylinder: CylinderNumber | None = None
    phase: Literal["before", "after"] | None = None


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
    """One visit; `usage` is the running total."""

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


class Confirmed(RecordModel):
    """What was really found to be wrong."""

    cause: Identifier
    cylinder: CylinderNumber | None = None
    side: Side | None = None
    note: str | None = None


class CaseModel(RecordModel):
    """A complaint followed to its cause; `confirmed` null: not known yet, empty: nothing found."""

    id: Identifier
    opened: Day
    closed: Day | None = None
    visit: Identifier | None = None
    findings: ListOf[FindingModel] = []
    confirmed: list[Confirmed] | None = None


class BoxedShim(Entered):
    """Shims of one thickness in the workshop's box."""

    shim_mm: ShimMm
    count: Count
    diameter_mm: DiameterMm | None = None


class Record(RecordModel):
    """Everything that is known of one engine."""

    format: Literal["pronostico/record"]
    version: Literal[1]
    engine: EngineModel
    gauge_set: GaugeSet | None = None
    visits: ListOf[VisitModel] = []
    cases: ListOf[CaseModel] = []
    shim_box: list[BoxedShim] | None = None
