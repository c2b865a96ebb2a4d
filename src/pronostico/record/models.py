"""The record as Pydantic models, field by field as the format states it.

Fields that this version does not compute with are kept.
"""

from typing import Annotated, Literal

from pydantic import Field

from pronostico.core.engine import Side
from pronostico.record.base import (
    BladeMm,
    Count,
    CylinderNumber,
    Day,
    DiameterMm,
    Entered,
    Identifier,
    ListOf,
    RecordModel,
    ShimMm,
)
from pronostico.record.engine import EngineModel
from pronostico.record.visit import FindingModel, VisitModel

FORMAT: Literal["pronostico/record"] = "pronostico/record"


class GaugeSet(Entered):
    """The blades available, mm."""

    id: Identifier
    name: str | None = None
    blades_mm: Annotated[list[BladeMm], Field(min_length=1)]


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
