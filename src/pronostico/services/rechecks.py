"""When to look again after a visit."""

from datetime import date

from pronostico.core.usage import RECHECK_AFTER_HEAD_WORK, day_of_usage
from pronostico.record.models import Record, VisitModel
from pronostico.services.report_model import ReportModel
from pronostico.services.visit_notes import notes_of


class RecheckOut(ReportModel):
    """When to look again; `day` by the engine's own rate of use; `kept`: chosen, and not just proposed."""

    usage: float
    day: date | None
    reason: str
    kept: bool


def recheck_of(record: Record, visit: VisitModel) -> RecheckOut:
    """When to look again: as was chosen, else after head work soon, else at the usual interval."""
    engine, kept = record.engine, notes_of(visit).recheck
    history = [(one.date, one.usage) for one in record.visits if one.usage <= visit.usage]
    if kept is not None:
        usage, reason = kept.usage, kept.reason
    elif visit.work == "head-work":
        usage = visit.usage + RECHECK_AFTER_HEAD_WORK[engine.usage_unit]
        reason = "clearances close as a new head settles in its first hours; a maker's own figure goes first"
    else:
        usage, reason = visit.usage + engine.check_interval, "the usual interval"
    return RecheckOut(usage=usage, day=day_of_usage(usage, history), reason=reason, kept=kept is not None)


def recheck_due(record: Record) -> RecheckOut | None:
    """The recheck that the last visit asks for: chosen there, or due after head work; else None."""
    if not record.visits:
        return None
    last = record.visits[-1]
    asked = notes_of(last).recheck is not None or last.work == "head-work"
    return recheck_of(record, last) if asked else None
