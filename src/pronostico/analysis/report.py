"""An analysis as it leaves the product, the same for pages and command line.

The fields follow the record format; what the format leaves free, such as a valve's history, stands beside
them under names of its own.
"""

from collections.abc import Sequence
from datetime import date

from pydantic import Field

from pronostico.analysis.drift_report import (
    ChangePointOut,
    CrossingsOut,
    DriftOut,
    DriftReport,
    ForecastOut,
    NextCheckOut,
    NowOut,
    RegimeOut,
    RestsOnOut,
    ShiftOut,
    SpreadOut,
)
from pronostico.analysis.next_check import CheckDueOut, check_due
from pronostico.analysis.positions import PositionOut
from pronostico.analysis.report_model import ReportModel
from pronostico.analysis.sisters import ExpectedOfSideOut
from pronostico.core.engine import Side, Spec, UsageUnit
from pronostico.core.gauge.engine_readings import Analysis, ValveAnalysis
from pronostico.core.gauge.reading import Class, Estimate, Verdict
from pronostico.core.gauge.valve_history import ValveAtVisit
from pronostico.core.visits import Setting
from pronostico.record.models import Record


class BracketOut(ReportModel):
    """What went and what did not, mm."""

    went_mm: float | None
    refused_mm: float | None


class EstimateOut(ReportModel):
    """One reading on its own, at the reference temperature; `bracket` is as felt, at that of the visit.

    `gives_number`: well enough known to compute with. `correction_mm`: what the temperature added to the gap.
    `verdict_as_read`: what it would be without the correction, where that is large enough to be shown.
    """

    mean_mm: float
    sd_mm: float
    q05_mm: float
    q95_mm: float
    verdict: Verdict
    leaning: Class
    p_tight: float
    p_in: float
    p_loose: float
    contradiction: bool
    bracket: BracketOut
    gives_number: bool
    correction_mm: float
    verdict_as_read: Verdict | None


class SpecOut(ReportModel):
    """A spec in force, mm."""

    min_mm: float
    max_mm: float


class SettingOut(ReportModel):
    """How a valve was set."""

    target_mm: float | None
    shim_from_mm: float | None
    shim_to_mm: float | None


class StateOut(ReportModel):
    """One valve at one visit."""

    visit: str
    date: date
    usage: float
    spec: SpecOut | None
    found: EstimateOut | None
    left: EstimateOut | None
    settings: list[SettingOut]
    head_work: bool
    renewed: bool


class ValveOut(ReportModel):
    """One valve: its last visit's readings, its forecast, and its history."""

    valve: str
    cylinder: int
    side: Side
    spec: SpecOut | None
    found: EstimateOut | None
    left: EstimateOut | None
    standing: EstimateOut | None
    # The drift model's answers; null where it was not asked or has nothing to say.
    now: NowOut | None = None
    drift: DriftOut | None = None
    sink: SpreadOut | None = None
    break_: ChangePointOut | None = Field(default=None, validation_alias="break", serialization_alias="break")
    crossing: CrossingsOut | None = None
    forecast: list[ForecastOut] | None = None
    rests_on: RestsOnOut | None = None
    history: list[StateOut]


class VisitShiftOut(ReportModel):
    """A visit and its shift; null where the drift was not computed.

    `simulated`: what of it simulated instruments brought in.
    """

    visit: str
    shift: ShiftOut | None = None
    simulated: list[str] = Field(default_factory=list)


class AssumedOut(ReportModel):
    """The figures that the drift model assumes, mm, an interval where they move."""

    prior_sd_mm: float
    side_drift_sd_mm: float
    drift_wander: float
    set_to_target_sd_mm: float
    visit_shift_sd_mm: float
    entry_error_probability: float


class AnalysisOut(ReportModel):
    """One engine analysed."""

    engine: str
    usage_unit: UsageUnit
    as_of_usage: float | None
    check_interval: float
    valves: list[ValveOut]
    next_check: NextCheckOut | None = None
    # The same question as every page, the job card and the calendar answer it.
    check_due: CheckDueOut | None = None
    assumed: AssumedOut | None = None
    # False only where the computation of the drift did not settle: its figures are then approximate.
    settled: bool = True
    # What the drift may do since the last head work, the likeliest first; empty without readings.
    regimes: list[RegimeOut] = Field(default_factory=list)
    # What sister engines make expected of either side; empty without sisters.
    expected: list[ExpectedOfSideOut] = Field(default_factory=list)
    visits: list[VisitShiftOut]
    # Where the crank stood at the last visit; empty where that was not asked.
    positions: list[PositionOut] = Field(default_factory=list)


def estimate_out(estimate: Estimate | None) -> EstimateOut | None:
    """An estimate on its way out."""
    return None if estimate is None else EstimateOut.model_validate(estimate)


def _spec_out(spec: Spec | None) -> SpecOut | None:
    return None if spec is None else SpecOut.model_validate(spec)


def _setting_out(setting: Setting) -> SettingOut:
    return SettingOut.model_validate(setting)


def _state_out(at: ValveAtVisit) -> StateOut:
    return StateOut(
        visit=at.visit,
        date=at.day,
        usage=at.usage,
        spec=_spec_out(at.spec),
        found=estimate_out(at.found),
        left=estimate_out(at.left),
        settings=[_setting_out(setting) for setting in at.settings],
        head_work=at.head_work,
        renewed=at.renewed,
    )


def _valve_out(valve: ValveAnalysis) -> ValveOut:
    return ValveOut(
        valve=valve.valve.id,
        cylinder=valve.valve.cylinder,
        side=valve.valve.side,
        spec=_spec_out(valve.spec),
        found=estimate_out(valve.found),
        left=estimate_out(valve.left),
        standing=estimate_out(valve.standing),
        history=[_state_out(at) for at in valve.states],
    )


def analysis_out(analysis: Analysis) -> AnalysisOut:
    """An analysis on its way out."""
    visits = analysis.valves[0].states
    return AnalysisOut(
        engine=analysis.engine.id,
        usage_unit=analysis.engine.usage_unit,
        as_of_usage=analysis.as_of_usage,
        check_interval=analysis.engine.check_interval,
        valves=[_valve_out(valve) for valve in analysis.valves],
        visits=[VisitShiftOut(visit=at.visit) for at in visits],
    )


def with_drift(
    analysis: AnalysisOut,
    report: DriftReport,
    record: Record,
    *,
    at: Sequence[float],
    risk: float,
    margin_mm: float,
) -> AnalysisOut:
    """An analysis with its drift.

    Args:
        record: that it is of; a next check may be noted there.
        at: usages to look ahead to.

    Raises:
        ImpossibleValue: a usage before the last visit's.
    """
    shifts = report.shifts()
    standing = {valve.valve: valve.standing for valve in analysis.valves}
    due = [name for name, one in standing.items() if one is not None and one.verdict != "in"]
    ahead = report.risk_ahead(margin_mm)
    return analysis.model_copy(
        update={
            "check_due": check_due(record, standing, ahead, risk=risk, margin_mm=margin_mm),
            "valves": [_drifting(valve, report, at) for valve in analysis.valves],
            "assumed": AssumedOut.model_validate(report.constants),
            "settled": report.settled,
            "regimes": report.regimes(),
            "next_check": report.next_check(ahead, risk=risk, margin_mm=margin_mm, due_now=due),
            "visits": [one.model_copy(update={"shift": shifts.get(one.visit)}) for one in analysis.visits],
        }
    )


def _drifting(valve: ValveOut, report: DriftReport, at: Sequence[float]) -> ValveOut:
    known = report.valve(valve.valve, at)
    if known is None:
        return valve
    return valve.model_copy(
        update={
            "now": known.now,
            "drift": known.drift,
            "sink": known.sink,
            "break_": known.broke,
            "crossing": known.crossing,
            "forecast": known.forecast,
            "rests_on": known.rests_on,
        }
    )
