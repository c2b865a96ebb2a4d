"""How far a case lies from the visit that its clearances were last read at."""

from dataclasses import dataclass

from pronostico.analysis.report_model import ReportModel
from pronostico.core.constants import Constants
from pronostico.core.usage import usage_per_day
from pronostico.record.models import CaseModel, Record

_DAYS_A_YEAR = 365.25


@dataclass(frozen=True, slots=True)
class CaseTime:
    """What a case rests on: the number of visits before it, and how long ago the last was, check intervals.

    `is_at_visit`: what was read there is how things stand; else it has to be carried forward.
    """

    visits: int
    days: int
    intervals: float
    is_at_visit: bool


class CarriedOut(ReportModel):
    """From which visit the clearances are carried forward to the case, and how far."""

    visit: str
    days: int
    intervals: float


def case_time(record: Record, case: CaseModel | None, constants: Constants) -> CaseTime:
    """How far a case lies from its last visit.

    Up to its own visit where it names one; else up to the day on which it was opened, by the engine's own
    rate of use, or by a usual one where that is not known.
    """
    ids = [visit.id for visit in record.visits]
    if case is None or case.visit in ids:
        count = len(ids) if case is None or case.visit is None else ids.index(case.visit) + 1
        return CaseTime(count, 0, 0.0, is_at_visit=True)
    before = [visit for visit in record.visits if visit.date <= case.opened]
    if not before:
        return CaseTime(0, 0, 0.0, is_at_visit=True)
    days = (case.opened - before[-1].date).days
    if days <= constants.same_occasion_days:
        return CaseTime(len(before), days, 0.0, is_at_visit=True)
    per_day = usage_per_day((visit.date, visit.usage) for visit in before)
    if per_day is None:
        intervals = days / _DAYS_A_YEAR * constants.check_intervals_a_year
    else:
        intervals = days * per_day / record.engine.check_interval
    return CaseTime(len(before), days, intervals, is_at_visit=False)


def carried_out(record: Record, at: CaseTime) -> CarriedOut | None:
    """What the pages say of it; None where the readings are of the case itself."""
    if at.is_at_visit:
        return None
    return CarriedOut(visit=record.visits[at.visits - 1].id, days=at.days, intervals=at.intervals)
