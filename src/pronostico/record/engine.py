"""An engine in the record: its data, its spec and its valves."""

from typing import Annotated, Literal

from pydantic import Field, PrivateAttr

from pronostico.core.engine import Adjustment, Material, Side, SidePriors, Starting, UsageUnit
from pronostico.record.base import (
    AngleDeg,
    CheckInterval,
    ClearanceMm,
    CylinderNumber,
    Day,
    DiameterMm,
    Entered,
    FiringDeg,
    Fraction,
    Identifier,
    LiftMm,
    ListOf,
    Minutes,
    PartLengthMm,
    PitchMm,
    RecordModel,
    RockerRatio,
    ShimMm,
    SpecKpa,
    StepMm,
    TargetMm,
    TemperatureC,
    TorqueNm,
    TravelMm,
    Turns,
    UsageTotal,
)
from pronostico.record.work import KitItem


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


class UsageReading(RecordModel):
    """The meter was read between visits; `usage` is the running total."""

    date: Day
    usage: UsageTotal


class SpecChangeModel(RecordModel):
    """The spec of both sides from a date on; until the first change `engine.spec` holds."""

    date: Day
    spec: SidesSpec


Named = Annotated[str, Field(max_length=80)]


class EngineModel(RecordModel):
    """The engine: its data, its spec and its valves.

    `kind`: a name that sister engines share, where it is another than make and model; `left_out_of_kind`: it
    is neither compared with them nor they with it. `plate`: number plate or fleet number. `archived`: since
    when it is not looked after any more. `kit`: what to have ready before it is opened.
    """

    id: Identifier
    name: str | None = None
    kind: Annotated[str, Field(max_length=200)] | None = None
    make: Named | None = None
    model: Named | None = None
    variant: Named | None = None
    serial_number: Named | None = None
    plate: Named | None = None
    year: Annotated[int, Field(ge=1850, le=2200)] | None = None
    displacement_cc: Annotated[float, Field(gt=0, le=1e7)] | None = None
    left_out_of_kind: bool | None = None
    archived: Day | None = None
    kit: ListOf[KitItem] = []
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
    usage_readings: ListOf[UsageReading] = []
    spec_changes: ListOf[SpecChangeModel] = []
    # Derived from other records: no part of this one.
    _side_priors: SidePriors = PrivateAttr(default=())

    @property
    def known_kind(self) -> str | None:
        """The kind by name, else make and model where both are known."""
        if self.kind is not None and self.kind.strip():
            return self.kind
        return f"{self.make} {self.model}" if self.make and self.model else None

    @property
    def identity(self) -> str | None:
        """Which engine it is, in words: 'Make Model variant, 2014, 998 cc, plate 12, serial number 4711'."""
        parts = (
            " ".join(filter(None, (self.make, self.model, self.variant))),
            None if self.year is None else str(self.year),
            None if self.displacement_cc is None else f"{self.displacement_cc:.6g} cc",
            None if not self.plate else f"plate {self.plate}",
            None if not self.serial_number else f"serial number {self.serial_number}",
        )
        return ", ".join(filter(None, parts)) or None

    @property
    def side_priors(self) -> SidePriors:
        """What sister engines make expected of its drift."""
        return self._side_priors

    def with_side_priors(self, priors: SidePriors) -> "EngineModel":
        """The same engine with what its sisters make expected of it."""
        other = self.model_copy()
        other._side_priors = priors
        return other
