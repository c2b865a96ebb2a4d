"""Analyses and diagnoses of a record, from wherever the record comes."""

from collections.abc import Sequence

from pronostico.analysis.drift_cache import drifts_of
from pronostico.analysis.drift_report import DriftReport
from pronostico.analysis.positions import checked, without_suspect
from pronostico.analysis.report import AnalysisOut, analysis_out, with_drift
from pronostico.analysis.simulated_parts import simulated_parts
from pronostico.analysis.sisters import ExpectedOfSideOut
from pronostico.core.constants import DEFAULT, Constants
from pronostico.core.engine import Engine
from pronostico.core.gauge.engine_readings import analyse
from pronostico.core.visits import Visit
from pronostico.record.conversion import engine_from, visits_from
from pronostico.record.models import Record

_AHEAD_STEPS = 16


def _even_row(record: Record) -> tuple[float, ...]:
    """Usages evenly spaced over the next two check intervals."""
    if not record.visits:
        return ()
    last, step = (
        record.visits[-1].usage,
        record.engine.check_interval * DEFAULT.ahead_intervals / _AHEAD_STEPS,
    )
    return tuple(last + index * step for index in range(_AHEAD_STEPS + 1))


def analyse_record(record: Record, *, constants: Constants = DEFAULT) -> AnalysisOut:
    """The readings of a record, each on its own, without drift and forecast."""
    engine = engine_from(record.engine, constants)
    return _readings_out(record, engine, visits_from(record), constants)


def _readings_out(
    record: Record, engine: Engine, visits: tuple[Visit, ...], constants: Constants
) -> AnalysisOut:
    """Each reading on its own; visits at which simulated instruments were read are marked."""
    report = analysis_out(analyse(engine, visits, constants=constants))
    marked = [
        one.model_copy(update={"simulated": simulated_parts(visit)})
        for one, visit in zip(report.visits, record.visits, strict=True)
    ]
    return report.model_copy(update={"visits": marked})


def analyse_with_drift(
    record: Record,
    *,
    at: tuple[float, ...] | None = None,
    risk: float | None = None,
    margin_mm: float | None = None,
    expected: Sequence[ExpectedOfSideOut] = (),
    constants: Constants = DEFAULT,
) -> AnalysisOut:
    """The whole analysis of a record, the drift model's answers with it.

    Args:
        at: usages to look ahead to; None: one check interval after the last visit.
        risk, margin_mm: at which to check next; None: as the constants have them.
        expected: what is said of its sister engines, where the record has the priors from them.

    Raises:
        ImpossibleValue: a usage to forecast lies before the last visit's.
    """
    engine, visits = engine_from(record.engine, constants), visits_from(record)
    if at is None:
        at = (visits[-1].usage + engine.check_interval,) if visits else ()
    analysis = _readings_out(record, engine, visits, constants)
    check = checked(record, engine, visits, constants)
    # What was read at a wrong position of the crank says nothing of how the valves move.
    trusted = without_suspect(visits, check.suspect)
    alone = drifts_of(engine.alone, trusted, constants) if engine.side_priors else None
    known = drifts_of(engine, trusted, constants)
    report = DriftReport(engine, trusted, known, constants, alone)
    return with_drift(
        analysis.model_copy(update={"positions": check.out(), "expected": list(expected)}),
        report,
        record,
        at=at,
        risk=constants.next_check_risk if risk is None else risk,
        margin_mm=constants.next_check_margin_mm if margin_mm is None else margin_mm,
    )


def analyse_ahead(record: Record, *, risk: float, margin_mm: float) -> AnalysisOut:
    """The whole analysis of a record for its pages, looking ahead along the next two check intervals."""
    return analyse_with_drift(record, at=_even_row(record), risk=risk, margin_mm=margin_mm)
