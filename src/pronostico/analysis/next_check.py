"""When to check next: one computation and one figure for every page, the job card and the calendar.

It is due now only where a valve is out, where one is inconclusive or unread and that matters, or where the
date that was chosen has come; else when the chance that a valve has gone out since reaches the risk.
"""

from collections.abc import Mapping
from datetime import date
from typing import Literal, Protocol

from pronostico.analysis.chances import percent
from pronostico.analysis.meter import usage_history
from pronostico.analysis.report_model import ReportModel
from pronostico.core.drift.forecast import RiskAhead
from pronostico.core.gauge.reading import Verdict
from pronostico.core.usage import day_of_usage, recheck_after_head_work
from pronostico.language import Text
from pronostico.record.models import Record

Because = Literal[
    "out", "unsettled", "unread", "risk", "steady", "chosen", "head-work", "parts-changed", "interval"
]


class Standing(Protocol):
    """The part of an estimate that is used here."""

    @property
    def verdict(self) -> Verdict:
        """Its verdict."""

    @property
    def contradiction(self) -> bool:
        """Whether its answers contradict each other."""


class CheckDueOut(ReportModel):
    """The next check: at which running total, and why.

    `day`: by the engine's own rate of use. `now`: due at once. `valves`: those it is for.
    """

    usage: float
    day: date | None = None
    now: bool
    because: Because
    valves: list[str]
    why: Text


def _listed(valves: list[str], one: str, many: str) -> str:
    return f"{', '.join(valves)} {one if len(valves) == 1 else many}"


def _due(
    standing: Mapping[str, Standing | None], risk_of: Mapping[str, float], risk: float, margin_mm: float
) -> tuple[Because, list[str], str] | None:
    """The valves that make a check due at once; None where there are none."""
    margin = f"may be out by more than {margin_mm:g} mm"
    out = [
        name
        for name, one in standing.items()
        if one is not None and not one.contradiction and one.verdict in ("tight", "loose")
    ]
    if out:
        return "out", out, _listed(out, "is out of spec", "are out of spec")
    matters = [name for name in standing if risk_of.get(name, 0.0) >= risk]
    unsettled = [
        name
        for name in matters
        if (one := standing[name]) is not None and (one.contradiction or one.verdict == "open")
    ]
    if unsettled:
        return "unsettled", unsettled, f"{_listed(unsettled, 'is', 'are')} inconclusive and {margin}"
    unread = [name for name in matters if standing[name] is None]
    if unread:
        return "unread", unread, f"{_listed(unread, 'was', 'were')} not measured and {margin}"
    return None


def _by_forecast(
    standing: Mapping[str, Standing | None],
    ahead: RiskAhead,
    last_usage: float,
    interval: float,
    risk: float,
    margin_mm: float,
) -> CheckDueOut:
    due = _due(standing, ahead.each_at(0.0), risk, margin_mm)
    if due is not None:
        because, valves, why = due
        return CheckDueOut(usage=last_usage, now=True, because=because, valves=valves, why=why)
    reached = ahead.reaches_since(risk)
    at = float(ahead.intervals[-1]) if reached is None else reached
    each = ahead.each_at(at)
    likeliest = max(each, key=lambda name: each[name])
    chance = f"the chance that a valve has gone out of spec by more than {margin_mm:g} mm"
    return CheckDueOut(
        usage=last_usage + at * interval,
        now=False,
        because="steady" if reached is None else "risk",
        valves=[likeliest],
        why=f"{chance} stays under {percent(risk)} until then"
        if reached is None
        else f"{chance} then reaches {percent(risk)}; {likeliest} most likely",
    )


def check_due(
    record: Record,
    standing: Mapping[str, Standing | None],
    ahead: RiskAhead | None,
    *,
    risk: float,
    margin_mm: float,
) -> CheckDueOut | None:
    """The next check after the last visit of a record; None before any visit.

    Args:
        standing: how each valve stands after the last visit, None where it was not read.
        ahead: how likely valves are out along the next intervals; None where there is nothing to foresee.
    """
    if not record.visits:
        return None
    found = _asked(record, standing, ahead, risk=risk, margin_mm=margin_mm)
    day = day_of_usage(found.usage, usage_history(record))
    return found.model_copy(update={"day": day})


def _asked(
    record: Record,
    standing: Mapping[str, Standing | None],
    ahead: RiskAhead | None,
    *,
    risk: float,
    margin_mm: float,
) -> CheckDueOut:
    last, engine = record.visits[-1], record.engine
    chosen = last.recheck
    if chosen is not None:
        return CheckDueOut(usage=chosen.usage, now=False, because="chosen", valves=[], why=chosen.reason)
    if ahead is None:
        return CheckDueOut(
            usage=last.usage + engine.check_interval,
            now=False,
            because="interval",
            valves=[],
            why="the usual interval",
        )
    computed = _by_forecast(standing, ahead, last.usage, engine.check_interval, risk, margin_mm)
    renewed = sorted({one.valve for one in last.parts_changed})
    soon = last.usage + recheck_after_head_work(engine.usage_unit)
    if soon < computed.usage:
        own = "the maker's own figure takes precedence"
        if last.work == "head-work":
            why = f"clearances close while a new head settles in; {own}"
            return CheckDueOut(usage=soon, now=False, because="head-work", valves=[], why=why)
        if renewed:
            why = f"clearances change while new parts settle in; {own}"
            return CheckDueOut(usage=soon, now=False, because="parts-changed", valves=renewed, why=why)
    return computed
