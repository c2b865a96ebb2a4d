"""What requests carry and what the routes answer with, beside the reports."""

from datetime import date
from typing import Annotated, Literal

from pydantic import BaseModel, BeforeValidator, ConfigDict, Field

from pronostico.core.advice import End
from pronostico.core.blades import BladeUnit
from pronostico.core.reading import Class, Verdict
from pronostico.core.visits import THICKEST_BLADE_MM, Access, Felt, Phase
from pronostico.record.models import EngineModel, FindingModel, GaugeSet, Identifier, Onset, State, When
from pronostico.services.analysis_report import EstimateOut, ReportModel


def _no_guessing(value: object) -> object:
    # A number is a number: "0.15" and true are slips of the sender that lax parsing would let pass.
    if isinstance(value, bool | str):
        raise ValueError("must be a number")  # noqa: TRY004 - Pydantic turns only ValueError into a fault
    return value


# Made by the page, so plain: what every address and file name can carry.
NewIdentifier = Annotated[str, Field(min_length=1, max_length=80, pattern=r"^[A-Za-z0-9._~-]+$")]
# The refusal stands last, outside the bounds, so that the bounds stay in the published description.
NoGuessing = BeforeValidator(_no_guessing)
Blade = Annotated[float, Field(gt=0, le=THICKEST_BLADE_MM), NoGuessing]


class RequestModel(BaseModel):
    """Base of request bodies: unknown fields are faults, numbers are finite."""

    model_config = ConfigDict(extra="forbid", allow_inf_nan=False)


class TryIn(RequestModel):
    """One answer at a valve."""

    valve: Identifier
    phase: Phase
    blades_mm: Annotated[list[Blade], Field(min_length=1, max_length=6)]
    felt: Felt


class VisitIn(RequestModel):
    """A visit to begin, under the identifier that the page gave it."""

    id: NewIdentifier
    date: date
    usage: Annotated[float, Field(ge=0), NoGuessing]
    temperature_c: Annotated[float, Field(ge=-90, le=250), NoGuessing] | None = None
    access: Access = "straight"
    technician: Annotated[str, Field(max_length=80)] | None = None


class CaseIn(RequestModel):
    """A case to open, under the identifier that the page gave it."""

    id: NewIdentifier
    opened: date
    visit: Identifier | None = None


class FindingIn(RequestModel):
    """The state of a finding."""

    state: State
    cylinder: Annotated[int, Field(ge=1, le=64), NoGuessing] | None = None
    side: Literal["intake", "exhaust"] | None = None
    when: list[When] | None = None
    onset: Onset | None = None
    words: Annotated[str, Field(max_length=500)] | None = None


class BladesIn(RequestModel):
    """The blades at hand as they are said: '0.05 0.10', or '0.05 to 0.50 by 0.05'."""

    name: Annotated[str, Field(min_length=1, max_length=80)] = "Blades at hand"
    text: Annotated[str, Field(max_length=2000)]
    unit: BladeUnit


class WorstOut(ReportModel):
    """The valve that most wants attention."""

    valve: str
    verdict: Verdict
    leaning: Class
    probability: float


class OpenCaseOut(ReportModel):
    """A case that is not closed; complaints by the id of their finding."""

    id: str
    opened: date
    complaints: list[str]


class EngineSummaryOut(ReportModel):
    """One line of the shop."""

    id: str
    name: str
    usage_unit: str
    last_visit: str | None
    last_date: date | None
    last_usage: float | None
    visits: int
    valves: int
    read_at_last_visit: int
    worst: WorstOut | None
    open_cases: list[OpenCaseOut]


class CaseOut(ReportModel):
    """A case."""

    id: str
    opened: date
    closed: date | None
    visit: str | None
    findings: list[FindingModel]


class EngineOut(ReportModel):
    """An engine's data, the blades at hand and its cases."""

    engine: EngineModel
    gauge_set: GaugeSet | None
    cases: list[CaseOut]


class StoredTryOut(ReportModel):
    """An answer that is stored."""

    id: str
    blades_mm: list[float]
    felt: Felt


class AdviceOut(ReportModel):
    """The blade, or the stack, to offer next; or why there is none."""

    blades_mm: list[float] | None
    gain_bits: float
    end: End | None
    would_settle_mm: float | None


class MeasuredPhaseOut(ReportModel):
    """The answers at a valve in one phase, what they say, and what to offer next."""

    tries: list[StoredTryOut]
    estimate: EstimateOut | None
    advice: AdviceOut | None


class MeasuredValveOut(ReportModel):
    """One valve at the visit under way."""

    valve: str
    found: MeasuredPhaseOut
    left: MeasuredPhaseOut


class VisitOut(ReportModel):
    """A visit under way."""

    id: str
    date: date
    usage: float
    temperature_c: float | None
    technician: str | None
    valves: list[MeasuredValveOut]


class FindingKindOut(ReportModel):
    """A kind of finding that can be noted or computed."""

    id: str
    label: str
    help: str
    group: str
