"""One engine as four tables: its visits, its readings, what its clearances are doing, its cases."""

from collections.abc import Iterable

from pydantic import BaseModel

from pronostico.analysis.report import AnalysisOut, EstimateOut, StateOut, ValveOut
from pronostico.analysis.simulated_parts import simulated_parts
from pronostico.analysis.tables.table import Cell, Column, Row, Table
from pronostico.record.models import CaseModel, Record
from pronostico.record.visit import FindingModel, ReadingModel, VisitModel

_QUANTILE = "usage at which it is {side} with a chance of {chance} in 10; empty: not within the forecast"
_CROSSINGS = tuple(
    Column(f"{side}_q{chance}0", "number", _QUANTILE.format(side=side, chance=chance))
    for side in ("tight", "loose")
    for chance in (1, 5, 9)
)

VISITS = Table(
    "visits",
    "Visits, one line per visit",
    (
        Column("visit", "string", "the visit's identifier", needed=True),
        Column("date", "date", "the day", needed=True),
        Column("usage", "number", "running total of use", needed=True),
        Column("usage_unit", "string", "h, km or mi"),
        Column("work", "string", "check, check-and-set or head-work"),
        Column("temperature_c", "number", "the engine's temperature, degrees Celsius"),
        Column("access", "string", "how the blade goes in: straight or awkward"),
        Column("technician", "string", "who did it"),
        Column("valves_read", "integer", "valves measured as found", needed=True),
        Column("valves_set", "integer", "valves adjusted", needed=True),
        Column("findings_present", "string", "findings present, separated by semicolons"),
        Column("findings_absent", "string", "findings looked for and absent"),
        Column("shift_mm", "number", "common offset of all readings of the visit, mm"),
        Column("shift_sd_mm", "number", "standard deviation of that offset, mm"),
        Column("suspect", "boolean", "whether the visit as a whole is suspect"),
        Column("notes", "string", "notes"),
        Column(
            "simulated", "string", "what was read by simulated instruments; empty: everything was measured"
        ),
    ),
    ("visit",),
)
READINGS = Table(
    "readings",
    "Readings and adjustments, one line per valve, visit and phase",
    (
        Column("valve", "string", "the valve", needed=True),
        Column("visit", "string", "the visit", needed=True),
        Column("date", "date", "the day", needed=True),
        Column("usage", "number", "running total of use", needed=True),
        Column("usage_unit", "string", "h, km or mi"),
        Column("phase", "string", "found (before any adjustment) or left (after the work)", needed=True),
        Column("went_mm", "number", "the thickest blade that went in, mm"),
        Column("refused_mm", "number", "the thinnest blade that would not, mm"),
        Column(
            "felt", "string", "every answer in order: blade in mm (stacked ones with +) and what was felt"
        ),
        Column("instrument", "string", "instrument; empty: feeler blades"),
        Column("mean_mm", "number", "estimate of the clearance, mm"),
        Column("sd_mm", "number", "standard deviation of the estimate, mm"),
        Column("verdict", "string", "tight, in, loose or open (inconclusive)"),
        Column("leaning", "string", "the most likely of tight, in and loose"),
        Column("p_tight", "number", "probability that it is under spec"),
        Column("p_in", "number", "probability that it is within spec"),
        Column("p_loose", "number", "probability that it is over spec"),
        Column("contradiction", "boolean", "whether the answers contradict each other"),
        Column("predicted_mm", "number", "predicted from the earlier visits, mm"),
        Column("predicted_sd_mm", "number", "standard deviation of that, mm"),
        Column("z", "number", "difference in standard deviations"),
        Column("target_mm", "number", "the clearance it was adjusted to, mm"),
        Column("shim_from_mm", "number", "the shim that was in, mm"),
        Column("shim_to_mm", "number", "the shim that was fitted, mm"),
    ),
    ("valve", "visit", "phase"),
    (("visit", "visits"), ("valve", "drift")),
)
DRIFT = Table(
    "drift",
    "Drift of the clearances, one line per valve",
    (
        Column("valve", "string", "the valve", needed=True),
        Column("cylinder", "integer", "its cylinder", needed=True),
        Column("side", "string", "intake or exhaust", needed=True),
        Column("spec_min_mm", "number", "the spec's lower end, mm"),
        Column("spec_max_mm", "number", "the spec's upper end, mm"),
        Column(
            "verdict", "string", "the current verdict: tight, in, loose or open (inconclusive) (inconclusive)"
        ),
        Column("now_mm", "number", "the current clearance, mm"),
        Column("now_sd_mm", "number", "standard deviation of that, mm"),
        Column("drift_mm_per_interval", "number", "change in one check interval, mm; closing is negative"),
        Column("drift_sd_mm_per_interval", "number", "standard deviation of the drift, mm"),
        Column("trend", "string", "tightening, steady, loosening or unknown"),
        Column("sink_mm", "number", "valve sink since the first visit or the last head work, mm"),
        Column("sink_sd_mm", "number", "standard deviation of that, mm"),
        Column("break_visit", "string", "the visit of a sudden change"),
        Column("change_point_z", "number", "difference there in standard deviations"),
        *_CROSSINGS,
        Column("usage_unit", "string", "h, km or mi"),
        Column("check_interval", "number", "usage from one planned check to the next"),
    ),
    ("valve",),
)
CASES = Table(
    "cases",
    "Cases, one line per case",
    (
        Column("case", "string", "the case's identifier", needed=True),
        Column("opened", "date", "the day it was opened", needed=True),
        Column("closed", "date", "the day it was closed; empty: open"),
        Column("visit", "string", "the visit that it belongs to"),
        Column("findings_present", "string", "findings present, separated by semicolons"),
        Column("findings_absent", "string", "findings looked for and absent"),
        Column("outcome", "string", "confirmed, nothing-found, or empty: not known yet"),
        Column("confirmed", "string", "outcome, separated by semicolons"),
    ),
    ("case",),
    (("visit", "visits"),),
)


def _of(part: BaseModel | None, *names: str) -> list[Cell]:
    """Some fields of a part of the report; empty cells where there is no such part."""
    return [None if part is None else getattr(part, name) for name in names]


def drift_rows(report: AnalysisOut) -> Iterable[Row]:
    """One row a valve."""
    for valve in report.valves:
        crossing = valve.crossing
        yield [
            *_of(valve, "valve", "cylinder", "side"),
            *_of(valve.spec, "min_mm", "max_mm"),
            *_of(valve.standing, "verdict"),
            *_of(valve.now, "mean_mm", "sd_mm"),
            *_of(valve.drift, "mean_mm_per_interval", "sd_mm_per_interval", "trend"),
            *_of(valve.sink, "mean_mm", "sd_mm"),
            *_of(valve.break_, "visit", "z"),
            *_of(None if crossing is None else crossing.tight, "q10", "q50", "q90"),
            *_of(None if crossing is None else crossing.loose, "q10", "q50", "q90"),
            *_of(report, "usage_unit", "check_interval"),
        ]


def _joined(parts: Iterable[str]) -> str | None:
    return "; ".join(parts) or None


def _answers(readings: list[ReadingModel]) -> str | None:
    """Every answer of the readings of one valve in one phase."""
    return _joined(
        f"{' + '.join(f'{blade:g}' for blade in one.blades_mm)} {one.felt}"
        for reading in readings
        for one in reading.tries
    )


def _reading_row(
    report: AnalysisOut,
    valve: ValveOut,
    state: StateOut,
    phase: str,
    read: EstimateOut | None,
    readings: list[ReadingModel],
) -> Row:
    predicted = valve.rests_on.predicted if valve.rests_on is not None and phase == "found" else []
    before = next((one for one in predicted if one.visit == state.visit), None)
    setting = state.settings[-1] if state.settings and phase == "left" else None
    return [
        valve.valve,
        state.visit,
        state.date.isoformat(),
        state.usage,
        report.usage_unit,
        phase,
        *_of(None if read is None else read.bracket, "went_mm", "refused_mm"),
        _answers(readings),
        _joined(sorted({one.instrument for one in readings if one.instrument})),
        *_of(read, "mean_mm", "sd_mm", "verdict", "leaning", "p_tight", "p_in", "p_loose", "contradiction"),
        *_of(before, "mean_mm", "sd_mm", "z"),
        *_of(setting, "target_mm", "shim_from_mm", "shim_to_mm"),
    ]


def reading_rows(record: Record, report: AnalysisOut) -> Iterable[Row]:
    """One row a valve, visit and phase; of what is not known there is none."""
    noted: dict[tuple[str, str, str], list[ReadingModel]] = {}
    for visit in record.visits:
        for reading in visit.readings:
            noted.setdefault((visit.id, reading.valve, reading.phase), []).append(reading)
    for valve in report.valves:
        for state in valve.history:
            for phase, read in (("found", state.found), ("left", state.left)):
                if read is not None or (phase == "left" and state.settings):
                    readings = noted.get((state.visit, valve.valve, phase), [])
                    yield _reading_row(report, valve, state, phase, read, readings)


def _named(finding: FindingModel) -> str:
    where = [f"cylinder {finding.cylinder}"] if finding.cylinder is not None else []
    where += [finding.side] if finding.side is not None else []
    return f"{finding.id} ({' '.join(where)})" if where else finding.id


def _findings(findings: list[FindingModel]) -> list[Cell]:
    """Those that are there, and those that are not."""
    return [_joined(_named(one) for one in findings if one.state == state) for state in ("present", "absent")]


def _visit_row(record: Record, visit: VisitModel, report: AnalysisOut) -> Row:
    shift = next((one.shift for one in report.visits if one.visit == visit.id), None)
    return [
        visit.id,
        visit.date.isoformat(),
        visit.usage,
        record.engine.usage_unit,
        *_of(visit, "work", "temperature_c", "access", "technician"),
        len({one.valve for one in visit.readings if one.phase == "found" and one.tries}),
        len({one.valve for one in visit.settings}),
        *_findings(visit.findings),
        *_of(shift, "mean_mm", "sd_mm", "suspect"),
        visit.notes,
        _joined(simulated_parts(visit)),
    ]


def visit_rows(record: Record, report: AnalysisOut) -> Iterable[Row]:
    """One row a visit."""
    return (_visit_row(record, visit, report) for visit in record.visits)


def _confirmed(case: CaseModel) -> list[Cell]:
    if case.confirmed is None:
        return [None, None]
    where = (
        (
            one.cause,
            " ".join([*([f"cylinder {one.cylinder}"] if one.cylinder else []), one.side or ""]).strip(),
        )
        for one in case.confirmed
    )
    predicted = _joined(f"{cause} ({place})" if place else cause for cause, place in where)
    return ["confirmed" if case.confirmed else "nothing-found", predicted]


def case_rows(record: Record) -> Iterable[Row]:
    """One row a case."""
    for case in record.cases:
        closed = None if case.closed is None else case.closed.isoformat()
        yield [
            case.id,
            case.opened.isoformat(),
            closed,
            case.visit,
            *_findings(case.findings),
            *_confirmed(case),
        ]
