"""An engine's result on the workshop page: worst valve, next check, what the last visit changed."""

from typing import Literal

from pronostico.analysis.developing_faults import developing
from pronostico.analysis.diagnosis_report import DevelopingFaultOut
from pronostico.analysis.drift_report import RiskAtOut
from pronostico.analysis.next_check import CheckDueOut
from pronostico.analysis.report import AnalysisOut, EstimateOut, StateOut, ValveOut
from pronostico.analysis.report_model import ReportModel
from pronostico.core.gauge.reading import Class, Verdict
from pronostico.record.models import Record


class WorstOut(ReportModel):
    """The valve that most needs attention."""

    valve: str
    verdict: Verdict
    leaning: Class
    probability: float


class TimelineCheckOut(CheckDueOut):
    """When to check next, as everywhere; `fan`: the usages at other risks."""

    fan: list[RiskAtOut]


class ChangedOut(ReportModel):
    """What the last visit brought: another verdict than last time, a break, or everything at once."""

    kind: Literal["verdict", "break", "shift"]
    valve: str | None
    was: Class | None
    now: Class | None


class TimelineResult(ReportModel):
    """An engine's result as the workshop page shows it."""

    valves: int
    read_at_last_visit: int
    worst: WorstOut | None
    tightening: list[str]
    loosening: list[str]
    check_due: TimelineCheckOut | None
    changed: list[ChangedOut]
    developing: list[DevelopingFaultOut]


def _worst(valves: list[ValveOut]) -> WorstOut | None:
    """The valve least likely in spec; None where none was read at the last visit."""
    read = [(valve, valve.standing) for valve in valves if valve.standing is not None]
    if not read:
        return None
    valve, standing = min(read, key=lambda pair: pair[1].p_in)
    chance = {"tight": standing.p_tight, "in": standing.p_in, "loose": standing.p_loose}[standing.leaning]
    return WorstOut(valve=valve.valve, verdict=standing.verdict, leaning=standing.leaning, probability=chance)


def _stood(state: StateOut) -> EstimateOut | None:
    touched = bool(state.settings) or state.head_work or state.renewed
    return state.left if touched or state.left is not None else state.found


def _changed(report: AnalysisOut) -> list[ChangedOut]:
    if not report.visits:
        return []
    last = report.visits[-1]
    changed = []
    if last.shift is not None and last.shift.suspect:
        changed.append(ChangedOut(kind="shift", valve=None, was=None, now=None))
    for valve in report.valves:
        if valve.break_ is not None and valve.break_.visit == last.visit:
            changed.append(ChangedOut(kind="break", valve=valve.valve, was=None, now=None))
        before = next((_stood(state) for state in reversed(valve.history[:-1]) if _stood(state)), None)
        found = valve.found
        settled = before is not None and found is not None and "open" not in (before.verdict, found.verdict)
        if settled and before is not None and found is not None and before.leaning != found.leaning:
            changed.append(
                ChangedOut(kind="verdict", valve=valve.valve, was=before.leaning, now=found.leaning)
            )
    return changed


def _check_due(report: AnalysisOut) -> TimelineCheckOut | None:
    look, check = report.check_due, report.next_check
    if look is None:
        return None
    return TimelineCheckOut(**look.model_dump(), fan=[] if check is None else check.fan)


def timeline_of(record: Record, report: AnalysisOut) -> TimelineResult:
    """What the workshop page shows of a report."""
    trends = {valve.valve: valve.drift.trend for valve in report.valves if valve.drift is not None}
    return TimelineResult(
        valves=len(report.valves),
        read_at_last_visit=sum(valve.found is not None for valve in report.valves),
        worst=_worst(report.valves),
        tightening=[valve for valve, trend in trends.items() if trend == "tightening"],
        loosening=[valve for valve, trend in trends.items() if trend == "loosening"],
        check_due=_check_due(report),
        changed=_changed(report),
        developing=developing(record).causes,
    )
