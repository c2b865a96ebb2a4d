"""What requests carry and what the routes answer with, beside the reports."""

from datetime import date
from typing import Annotated, Literal, TypeVar

from pydantic import BaseModel, BeforeValidator, ConfigDict, Field, JsonValue

from pronostico.analysis.forecast_review import ForecastReviewOut
from pronostico.analysis.report_model import ReportModel
from pronostico.core.engine import Adjustment, Starting
from pronostico.core.visits import THICKEST_BLADE_MM
from pronostico.language import Text
from pronostico.record.base import Day, Identifier
from pronostico.record.engine import EngineModel
from pronostico.record.models import Confirmed as ConfirmedCause
from pronostico.record.models import GaugeSet
from pronostico.record.visit import FindingModel, Onset, State, When
from pronostico.record.work import KitItem
from pronostico.services.workshop.customers import CustomerOut
from pronostico.services.workshop.timelines import TimelineOut


def _no_guessing(value: object) -> object:
    # A number is a number: "0.15" and true are mistakes of the sender that lax parsing would let pass.
    if isinstance(value, bool | str):
        raise ValueError("must be a number")  # noqa: TRY004 - Pydantic turns only ValueError into a fault
    return value


# Made by the page, so plain: what every address and file name can carry.
NewIdentifier = Annotated[str, Field(min_length=1, max_length=80, pattern=r"^[A-Za-z0-9._~-]+$")]
# The refusal stands last, outside the bounds, so that the bounds stay in the published description.
NoGuessing = BeforeValidator(_no_guessing)
Blade = Annotated[float, Field(gt=0, le=THICKEST_BLADE_MM), NoGuessing]


# Paths that were asked about and are right as they are.
Confirmed = Annotated[list[str], Field(default_factory=list)]


class RequestModel(BaseModel):
    """Base of request bodies: unknown fields are faults, numbers are finite."""

    model_config = ConfigDict(extra="forbid", allow_inf_nan=False)


# Whatever may stand in a record, also where it could not be entered on a page.
ShownFigure = Annotated[float, Field(ge=-1e9, le=1e9), NoGuessing] | None
Shown = TypeVar("Shown")


def shown(body: RequestModel, was: Shown) -> tuple[Shown] | None:
    """What the page showed before, by a body's `was`; None where the body does not say."""
    return (was,) if "was" in body.model_fields_set else None


class CaseIn(RequestModel):
    """A case to open, under the identifier that the page gave it."""

    id: NewIdentifier
    opened: date
    visit: Identifier | None = None


class FindingIn(RequestModel):
    """The state of a finding; `was` is what the page showed, so that nobody is overwritten unseen."""

    state: State
    was: State | None = None
    cylinder: Annotated[int, Field(ge=1, le=64), NoGuessing] | None = None
    side: Literal["intake", "exhaust"] | None = None
    when: list[When] | None = None
    onset: Onset | None = None
    words: Annotated[str, Field(max_length=500)] | None = None


class SupposedFindingIn(RequestModel):
    """A finding as if it were noted."""

    id: Identifier
    state: State
    cylinder: Annotated[int, Field(ge=1, le=64), NoGuessing] | None = None
    side: Literal["intake", "exhaust"] | None = None


class SupposedIn(RequestModel):
    """What is tried out."""

    findings: list[SupposedFindingIn] = Field(max_length=200)


class AnalysisProgressOut(ReportModel):
    """How far the computation of what is not current is."""

    done: int
    total: int


class UsageReadingIn(RequestModel):
    """What the meter showed on a day."""

    date: Day
    meter: Annotated[float, Field(ge=0, le=1e7), NoGuessing]
    confirmed: Confirmed


class WorkshopOut(ReportModel):
    """The workshop: its timelines, progress of a running computation, and what could not be computed."""

    today: date
    timelines: list[TimelineOut]
    calculating: AnalysisProgressOut | None
    failed: list[str]


class ForecastReviewPageOut(ReportModel):
    """How the forecasts did so far, progress of what is looked back on, and what could not be."""

    review: ForecastReviewOut
    calculating: AnalysisProgressOut | None
    failed: list[str]


class CaseOut(ReportModel):
    """A case."""

    id: str
    opened: date
    closed: date | None
    visit: str | None
    findings: list[FindingModel]
    confirmed: list[ConfirmedCause] | None


class ConfirmedIn(RequestModel):
    """A cause that was really found, and where."""

    cause: Identifier
    cylinder: Annotated[int, Field(ge=1, le=64), NoGuessing] | None = None
    side: Literal["intake", "exhaust"] | None = None
    note: Annotated[str, Field(max_length=500)] | None = None


class OutcomeIn(RequestModel):
    """What was really found at the end of a case; an empty list: nothing was.

    `was`: what the page showed before; null: an open case.
    """

    closed: Day
    confirmed: list[ConfirmedIn] = Field(max_length=8)
    was: Annotated[list[ConfirmedIn], Field(max_length=8)] | None = None


class CautionOut(ReportModel):
    """One line of caution at a step of the visit."""

    step: str
    text: Text


class EngineIn(RequestModel):
    """An engine as the record writes it; checked as a whole, so that every fault is reported at once.

    `confirmed`: paths that were asked about and are right as they are.
    """

    engine: dict[str, JsonValue]
    confirmed: Confirmed


class EngineChangeIn(EngineIn):
    """The same, with the revision that the edit began from."""

    revision: int


class ArchivedIn(RequestModel):
    """Whether an engine is archived."""

    archived: bool


class KitIn(RequestModel):
    """What to have ready before an engine is opened; `was`: what the page showed."""

    kit: Annotated[list[KitItem], Field(max_length=100)]
    was: list[KitItem] | None = None


class LeftOutIn(RequestModel):
    """Whether an engine is left out of its kind."""

    left_out: bool


class EngineOut(ReportModel):
    """An engine's data, the blades available, its cases, and the cautions that fit it.

    `plate_photograph`: another text for every other picture; null: there is none.
    """

    engine: EngineModel
    identity: str | None
    customer: CustomerOut | None
    plate_photograph: str | None
    revision: int
    cautions: list[CautionOut]
    gauge_set: GaugeSet | None
    cases: list[CaseOut]


class PriceOut(ReportModel):
    """The price of a check; what rests on the chance of setting is null where nothing is predicted."""

    check_minutes: float
    set_minutes: float | None
    check_cost: float | None
    set_cost: float | None
    p_set: float | None
    valves_to_set: float | None
    usage: float | None
    predicted: int
    valves: int
    access_minutes: float
    access_is_known: bool
    currency: str


class FirstLookOut(ReportModel):
    """Something cheaper to look at first, and the engines on which it is not there to look at."""

    id: str
    label: Text
    what: Text
    minutes: float
    not_with_fuel: tuple[str, ...]
    only_with_starting: tuple[Starting, ...]
    not_with_starting: tuple[Starting, ...]


class FindingKindOut(ReportModel):
    """A kind of finding that can be noted or computed."""

    id: str
    label: Text
    help: Text
    group: str
    of_engine: bool
    only_with_adjustment: list[Adjustment]
    not_with_adjustment: list[Adjustment]
    first_looks: list[FirstLookOut]
