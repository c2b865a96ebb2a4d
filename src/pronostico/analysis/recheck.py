"""When to check next after a visit, with its day."""

from datetime import date

from pydantic import field_serializer

from pronostico.analysis.engine_report import analyse_with_drift
from pronostico.analysis.report_model import ReportModel
from pronostico.analysis.workshop_settings import WorkshopSettings
from pronostico.language import as_spoken
from pronostico.record.models import Record
from pronostico.record.visit import VisitModel


class RecheckOut(ReportModel):
    """When to check next; `day` by the engine's own rate of use; `now`: it is due at once; `kept`: chosen."""

    usage: float
    day: date | None
    now: bool
    reason: str
    kept: bool

    @field_serializer("reason", when_used="json")
    def _said(self, reason: str) -> str:
        # What a person gave as the reason goes back as it is: the page sends it again as what it showed.
        return reason if self.kept else as_spoken(reason)


def recheck_of(record: Record, visit: VisitModel, workshop: WorkshopSettings) -> RecheckOut:
    """When to check next after a visit, by what was known then: the figure of every page."""
    visits = record.visits[: record.visits.index(visit) + 1]
    report = analyse_with_drift(
        record.model_copy(update={"visits": visits}),
        risk=workshop.next_check_risk,
        margin_mm=workshop.next_check_margin_mm,
    )
    look = report.check_due
    assert look is not None  # there is a visit
    return RecheckOut(
        usage=look.usage,
        day=look.day,
        now=look.now,
        reason=look.why,
        kept=look.because == "chosen",
    )
