"""How past forecasts of a workshop did: by kind of engine and by technician, and whose feel is apart."""

from collections.abc import Iterable, Sequence

from pronostico.analysis.positions import checked, without_suspect
from pronostico.analysis.report_model import ReportModel
from pronostico.core.constants import DEFAULT, Constants
from pronostico.core.drift.past_forecasts import CheckedForecast, checked_forecasts, tally
from pronostico.core.gauge.feel_of_technicians import OffsetOfVisit, feel_of_technicians
from pronostico.record.conversion import engine_from, visits_from
from pronostico.record.models import Record


class ForecastChecked(ReportModel):
    """One forecast and what was found, as `CheckedForecast` has it."""

    valve: str
    share: float
    error_mm: float
    half_width_mm: float


class OffsetChecked(ReportModel):
    """What the readings of a visit say of the offset common to them, mm."""

    mean_mm: float
    sd_mm: float


class VisitChecked(ReportModel):
    """A visit against the forecasts from those before it. `before`: who measured these."""

    visit: str
    technician: str | None
    before: list[str]
    forecasts: list[ForecastChecked]
    bounded: int
    offset: OffsetChecked | None


class EngineReview(ReportModel):
    """All visits of an engine but its first against the forecasts from those before them."""

    visits: list[VisitChecked]


class CountRangeOut(ReportModel):
    """A range of counts, both ends in it."""

    least: int
    most: int


class TallyOut(ReportModel):
    """How many forecasts held; lengths are medians, mm. `name`: of the kind or the technician."""

    name: str | None = None
    count: int
    in_half: int
    in_most: int
    half_width_mm: float
    error_mm: float
    tenths: list[int]
    chance_of_half: CountRangeOut
    chance_of_most: CountRangeOut


class FeelOut(ReportModel):
    """How a technician's readings differ from the average of the others', mm."""

    technician: str
    visits: int
    mean_mm: float
    sd_mm: float
    p_apart: float
    apart: bool


class ForecastReviewOut(ReportModel):
    """How the forecasts of a workshop did. `bounded`: readings that only bound the clearance, not counted."""

    whole: TallyOut | None
    by_kind: list[TallyOut]
    by_technician: list[TallyOut]
    feel: list[FeelOut]
    engines: int
    visits: int
    bounded: int


def _name(technician: str | None) -> str | None:
    return " ".join((technician or "").split()) or None


def review_record(
    record: Record, kept: Sequence[VisitChecked] = (), constants: Constants = DEFAULT
) -> EngineReview:
    """The visits of a record against the forecasts from those before them.

    Args:
        kept: what is known already of its first visits after the very first.
    """
    engine, visits = engine_from(record.engine, constants), visits_from(record)
    # What was read at a wrong position of the crank was no reading of the clearance.
    trusted = without_suspect(visits, checked(record, engine, visits, constants).suspect)
    found = list(kept)
    for one in checked_forecasts(engine, trusted, constants, since=1 + len(kept)):
        earlier = [_name(visit.technician) for visit in record.visits[: one.visit]]
        found.append(
            VisitChecked(
                visit=record.visits[one.visit].id,
                technician=_name(record.visits[one.visit].technician),
                before=[name for name in earlier if name is not None],
                forecasts=[ForecastChecked.model_validate(forecast) for forecast in one.forecasts],
                bounded=one.bounded,
                offset=None if one.offset is None else OffsetChecked.model_validate(one.offset),
            )
        )
    return EngineReview(visits=found)


def _tally(checks: Iterable[ForecastChecked], name: str | None = None) -> TallyOut | None:
    found = tally([CheckedForecast(one.valve, one.share, one.error_mm, one.half_width_mm) for one in checks])
    return None if found is None else TallyOut.model_validate(found).model_copy(update={"name": name})


def _grouped(checks: Iterable[tuple[str | None, VisitChecked]]) -> list[TallyOut]:
    """A tally for each name, the one with the most forecasts first; what has no name is left out."""
    groups: dict[str, list[ForecastChecked]] = {}
    for name, one in checks:
        if name is not None:
            groups.setdefault(name, []).extend(one.forecasts)
    tallies = (_tally(checks, name) for name, checks in groups.items())
    return sorted((one for one in tallies if one is not None), key=lambda one: (-one.count, one.name or ""))


def forecast_review(
    reviews: Sequence[tuple[str | None, EngineReview]], constants: Constants = DEFAULT
) -> ForecastReviewOut:
    """How the forecasts of all engines did.

    Args:
        reviews: of each engine, with its kind.
    """
    visits = [(kind, one) for kind, review in reviews for one in review.visits]
    offsets = [
        OffsetOfVisit(one.technician, tuple(one.before), one.offset.mean_mm, one.offset.sd_mm)
        for _, one in visits
        if one.technician is not None and one.before and one.offset is not None
    ]
    scored = [one for _, one in visits if one.forecasts]
    return ForecastReviewOut(
        whole=_tally(check for _, one in visits for check in one.forecasts),
        by_kind=_grouped(visits),
        by_technician=_grouped((one.technician, one) for _, one in visits),
        feel=[FeelOut.model_validate(one) for one in feel_of_technicians(offsets, constants)],
        engines=sum(any(one.forecasts for one in review.visits) for _, review in reviews),
        visits=len(scored),
        bounded=sum(one.bounded for _, one in visits),
    )
