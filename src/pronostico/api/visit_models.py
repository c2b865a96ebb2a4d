"""What requests of a visit carry, and what a visit and its judgement answer with."""

import datetime
from typing import Annotated, Literal

from pydantic import Field

from pronostico.analysis.positions import PositionOut
from pronostico.analysis.report import EstimateOut, SpecOut
from pronostico.analysis.report_model import ReportModel
from pronostico.api.blade_models import BladeSetOut
from pronostico.api.models import Blade, Confirmed, NewIdentifier, NoGuessing, RequestModel
from pronostico.core.assessment import Because, Decision
from pronostico.core.crank.stations import School
from pronostico.core.engine import Side
from pronostico.core.gauge.advice import End
from pronostico.core.visits import Access, Felt, Phase, Work
from pronostico.language import Text
from pronostico.record.base import Identifier
from pronostico.record.visit import FindingModel
from pronostico.record.work import ChangedPart, Decided, Part, Progress, QuickCheck, UsedPart
from pronostico.services.visits.steps import Step

Hours = Annotated[float, Field(ge=0, le=100_000), NoGuessing]
Line = Annotated[str, Field(max_length=80)]


class BladesIn(RequestModel):
    """A blade or a stack; `entered` is how it was typed, where it was."""

    blades_mm: Annotated[list[Blade], Field(min_length=1, max_length=6)]
    entered: Annotated[str, Field(max_length=80)] | None = None


class TryIn(BladesIn):
    """One answer at a valve."""

    valve: Identifier
    phase: Phase
    felt: Felt
    crank_turn: Annotated[int, Field(ge=1, le=99), NoGuessing] = 1


class NewMeterIn(RequestModel):
    """The meter was replaced or rolled over: what the old one showed last, and the new one first."""

    old: Annotated[float, Field(ge=0, le=1e8), NoGuessing]
    new: Annotated[float, Field(ge=0, le=1e8), NoGuessing]


class VisitIn(RequestModel):
    """A visit to begin, under the identifier that the page gave it; `usage` is what the meter shows.

    `confirmed`: paths that were asked about and are right as they are.
    """

    id: NewIdentifier
    date: datetime.date
    usage: Annotated[float, Field(ge=0, le=1e8), NoGuessing]
    temperature_c: Annotated[float, Field(ge=-90, le=250), NoGuessing] | None = None
    last_run_hours_ago: Hours | None = None
    duty: Line | None = None
    access: Access = "straight"
    technician: Line | None = None
    new_meter: NewMeterIn | None = None
    confirmed: Confirmed


class VisitFieldsIn(RequestModel):
    """Fields of a visit; those that are not named stay as they are."""

    date: datetime.date = datetime.date.min
    usage: Annotated[float, Field(ge=0, le=1e8), NoGuessing] = 0.0
    temperature_c: Annotated[float, Field(ge=-90, le=250), NoGuessing] | None = None
    last_run_hours_ago: Hours | None = None
    duty: Line | None = None
    access: Access = "straight"
    work: Work = "check"
    technician: Line | None = None
    notes: Annotated[str, Field(max_length=4000)] | None = None


class VisitChangeIn(RequestModel):
    """What is to be changed, and what the page showed there before."""

    changes: VisitFieldsIn
    was: VisitFieldsIn
    confirmed: Confirmed


class PartsIn(RequestModel):
    """The parts laid aside, and the list that the page showed before."""

    parts: Annotated[list[Part], Field(max_length=200)]
    was: Annotated[list[Part], Field(max_length=200)]


class SkipIn(RequestModel):
    """Why a valve is not read; null: it is to be read after all."""

    phase: Phase
    reason: Annotated[str, Field(min_length=1, max_length=200)] | None


class DecisionIn(RequestModel):
    """What is to be done with a valve, null to take it back; and the decision that the page showed."""

    decided: Decided | None
    was: Decided | None


class SchoolIn(RequestModel):
    """How the crank is turned at this visit."""

    school: School


class CoverIn(RequestModel):
    """Whether the valve cover is off."""

    off: bool


class PositionIn(RequestModel):
    """The valves of a position that looks wrong, and what is done: kept as they are, or read again."""

    valves: Annotated[list[Identifier], Field(min_length=1, max_length=200)]
    action: Literal["confirm", "read-again"]


class SetInUseIn(RequestModel):
    """Which feeler gauge set is in use."""

    blade_set: Identifier


class PaperLineIn(RequestModel):
    """One line of a sheet: the thickest that went and how it felt, the thinnest that did not go."""

    id: NewIdentifier
    valve: Identifier
    phase: Phase = "found"
    went: BladesIn | None = None
    felt: Felt = "go"
    refused: BladesIn | None = None


class PaperIn(RequestModel):
    """The lines of a sheet."""

    lines: Annotated[list[PaperLineIn], Field(min_length=1, max_length=200)]
    confirmed: Confirmed


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
    for_number: bool


class ExpectedAnswersOut(ReportModel):
    """How likely each answer of a blade is, if anything is known; and which would be asked back."""

    probability: dict[Felt, float] | None
    unlikely: list[Felt]


class MeasuredTurnOut(ReportModel):
    """An earlier reading: before the crank was turned round again, or by somebody else."""

    crank_turn: int
    technician: str | None
    tries: list[StoredTryOut]
    estimate: EstimateOut | None


class SwingOut(ReportModel):
    """How far the readings of different turns of the crank lie apart."""

    by_mm: float
    at_least_mm: float
    z: float
    swings: bool


class MeasuredPhaseOut(ReportModel):
    """The answers at a valve in one phase, what they say, and what to offer next."""

    crank_turn: int
    technician: str | None
    tries: list[StoredTryOut]
    estimate: EstimateOut | None
    advice: AdviceOut | None
    skipped: str | None
    earlier: list[MeasuredTurnOut]


class MeasuredValveOut(ReportModel):
    """One valve at the visit under way."""

    valve: str
    found: MeasuredPhaseOut
    left: MeasuredPhaseOut
    swing: SwingOut | None


class AnsweredOut(MeasuredValveOut):
    """One valve after an answer, and whether the crank seems to stand where it should."""

    positions: list[PositionOut]


class QuickCheckState(RequestModel):
    """Whether a quick check was done, and what was seen."""

    done: bool
    seen: Annotated[str, Field(max_length=300)] = ""


class QuickCheckIn(QuickCheckState):
    """The same; `was` is what the page showed."""

    was: QuickCheckState | None = None


class VisitOut(ReportModel):
    """A visit under way; `usage` is the running total, `meter` what the meter showed.

    `not_cold`: why it is no cold check. `done`: the stops at which something was noted. `positions`: where
    the crank stood when the valves were read. `school`: how it is turned.
    `adjusted`: valves that were set at it. `first_of_all`: no other visit is in the workshop.
    `first_of_engine`: no visit of this engine was before it.
    """

    id: str
    date: datetime.date
    usage: float
    meter: float
    temperature_c: float | None
    last_run_hours_ago: float | None
    duty: str | None
    access: Access
    work: Work
    technician: str | None
    notes: str | None
    not_cold: list[Text]
    done: list[Step]
    parts: list[Part]
    progress: Progress | None
    parts_used: list[UsedPart]
    parts_changed: list[ChangedPart]
    quick_checks: dict[str, QuickCheck]
    findings: list[FindingModel]
    blade_set: BladeSetOut | None
    valves: list[MeasuredValveOut]
    positions: list[PositionOut]
    school: School
    adjusted: list[str]
    cover_off: bool
    simulated: list[Text]
    reference_temperature_c: float | None
    first_of_all: bool
    first_of_engine: bool


class ApartOut(ReportModel):
    """A reading against the others of its side, mm and in sd of the difference."""

    by_mm: float
    z: float
    odd: bool


class LastTimeOut(ReportModel):
    """How a valve stood after the last visit that read it, and how far it moved since."""

    visit: str
    usage: float
    phase: Phase
    estimate: EstimateOut
    moved_mm: float | None


class AssessedValveOut(ReportModel):
    """One valve judged; `phase` is that of the reading that tells how it stands."""

    valve: str
    cylinder: int
    side: Side
    spec: SpecOut | None
    phase: Phase
    found: EstimateOut | None
    standing: EstimateOut | None
    neighbours: ApartOut | None
    last_time: LastTimeOut | None
    swing: SwingOut | None
    advised: Decision
    because: Because
    advice: AdviceOut | None
    skipped: str | None
    decided: Decided | None
    needs_number: bool


class CorrectionOut(ReportModel):
    """What the temperature did to the figures of a side, mm, and how surely."""

    correction_mm: float
    uncertainty_mm: float


class ShiftOut(ReportModel):
    """What all readings of the visit share beyond what was predicted, mm."""

    mean_mm: float
    sd_mm: float
    readings: int
    suspect: bool


class AssessmentOut(ReportModel):
    """A visit judged."""

    valves: list[AssessedValveOut]
    corrections: dict[Side, CorrectionOut]
    shift: ShiftOut | None
    temperature_c: float | None
    reference_temperature_c: float | None
    positions: list[PositionOut]


class MovedIn(RequestModel):
    """The engine that a visit was meant for."""

    to: Identifier


class MovedOut(ReportModel):
    """Where a visit is now, and the cases that went with it, as they are called there."""

    engine: str
    visit: str
    cases: list[str]
