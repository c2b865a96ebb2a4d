"""An engine's figures as CSV tables (RFC 4180, UTF-8): one line a valve, and one line a reading."""

import csv
import io
from collections.abc import Iterable, Sequence

from pydantic import BaseModel

from pronostico.services.analysis_report import AnalysisOut, EstimateOut, StateOut, ValveOut

_DRIFT = [
    "valve",
    "cylinder",
    "side",
    "spec_min_mm",
    "spec_max_mm",
    "verdict",
    "now_mm",
    "now_sd_mm",
    "drift_mm_per_interval",
    "drift_sd_mm_per_interval",
    "trend",
    "sink_mm",
    "sink_sd_mm",
    "break_visit",
    "break_z",
    "tight_q10",
    "tight_q50",
    "tight_q90",
    "loose_q10",
    "loose_q50",
    "loose_q90",
    "usage_unit",
    "check_interval",
]
_READINGS = [
    "valve",
    "visit",
    "date",
    "usage",
    "usage_unit",
    "phase",
    "went_mm",
    "refused_mm",
    "mean_mm",
    "sd_mm",
    "verdict",
    "leaning",
    "p_tight",
    "p_in",
    "p_loose",
    "contradiction",
    "foretold_mm",
    "foretold_sd_mm",
    "z",
    "target_mm",
    "shim_from_mm",
    "shim_to_mm",
]

Cell = str | float | int | None


def _figure(value: Cell) -> Cell:
    """No more digits than are known: lengths to a ten-thousandth, probabilities likewise."""
    return round(value, 4) if isinstance(value, float) else value


def _table(head: Sequence[str], rows: Iterable[Sequence[Cell]]) -> str:
    text = io.StringIO()
    writer = csv.writer(text)
    writer.writerow(head)
    writer.writerows([[_figure(cell) for cell in row] for row in rows])
    return text.getvalue()


def _of(part: BaseModel | None, *names: str) -> list[Cell]:
    """Some fields of a part of the report; empty cells where there is no such part."""
    return [None if part is None else getattr(part, name) for name in names]


def _drift_row(report: AnalysisOut, valve: ValveOut) -> list[Cell]:
    crossing = valve.crossing
    return [
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


def drift_table(report: AnalysisOut) -> str:
    """What the clearances are doing, one line a valve."""
    return _table(_DRIFT, (_drift_row(report, valve) for valve in report.valves))


def _reading_row(
    report: AnalysisOut, valve: ValveOut, state: StateOut, phase: str, read: EstimateOut | None
) -> list[Cell]:
    told = valve.rests_on.foretold if valve.rests_on is not None and phase == "found" else []
    before = next((one for one in told if one.visit == state.visit), None)
    setting = state.settings[-1] if state.settings and phase == "left" else None
    return [
        valve.valve,
        state.visit,
        state.date.isoformat(),
        state.usage,
        report.usage_unit,
        phase,
        *_of(None if read is None else read.bracket, "went_mm", "refused_mm"),
        *_of(read, "mean_mm", "sd_mm", "verdict", "leaning", "p_tight", "p_in", "p_loose"),
        None if read is None else str(read.contradiction).lower(),
        *_of(before, "mean_mm", "sd_mm", "z"),
        *_of(setting, "target_mm", "shim_from_mm", "shim_to_mm"),
    ]


def readings_table(report: AnalysisOut) -> str:
    """What was read and set, one line a valve, visit and phase; of what is not known there is none."""
    return _table(
        _READINGS,
        (
            _reading_row(report, valve, state, phase, read)
            for valve in report.valves
            for state in valve.history
            for phase, read in (("found", state.found), ("left", state.left))
            if read is not None or (phase == "left" and state.settings)
        ),
    )
