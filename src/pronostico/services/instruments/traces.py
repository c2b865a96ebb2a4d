"""Instruments at a visit: traces as they come, replayed from a file, kept, and taken into the record."""

from collections.abc import Iterator
from dataclasses import dataclass
from pathlib import Path
from typing import Literal

import numpy as np
from sqlalchemy.orm import Session

from pronostico.analysis.crank_plan import events_of, firing_of
from pronostico.analysis.instrument_kinds import InstrumentOut, kinds_out
from pronostico.analysis.lookup import visit_of
from pronostico.analysis.report_model import ReportModel
from pronostico.analysis.simulated_parts import is_simulated
from pronostico.core.constants import DEFAULT, Constants
from pronostico.core.crank.stations import CrankTask
from pronostico.core.visits import InstrumentKind
from pronostico.errors import NotThere, Refused
from pronostico.instruments.figures import TraceFigures
from pronostico.instruments.kinds import KINDS, HeldAt, channels_of, read, simulated_bench
from pronostico.instruments.replay import NotATrace, read_trace
from pronostico.instruments.samples import Channel, Sample, Trouble, troubled
from pronostico.language import Text
from pronostico.record.engine import EngineModel
from pronostico.record.faults import Fault
from pronostico.record.visit import Trace
from pronostico.services.engines.load import engine_record
from pronostico.services.instruments.import_reading import ReadingImport, cylinders_of, trace_figures
from pronostico.services.instruments.simulated_engine import condition_at
from pronostico.store.traces import put_trace

_MOST_SAMPLES = 2000


class TraceOut(ReportModel):
    """A trace that is kept: what it comes to, and why it is not enough (null: it is)."""

    id: str
    kind: InstrumentKind
    instrument: Text
    at: str
    valve: str | None
    cylinder: int | None
    oiled: bool
    ended: Literal["whole", "stopped", "lost"]
    taken: bool
    simulated: bool
    heard: list[Text]
    samples: list[list[float | None]]
    figures: list[Text]
    incomplete: Text | None


class InstrumentsOut(ReportModel):
    """The instruments for an engine, and the traces that were taken at a visit."""

    kinds: list[InstrumentOut]
    traces: list[TraceOut]


class ReplayOut(ReportModel):
    """A recorded trace; `stopped`: why it ends half-way, null where it is whole."""

    samples: list[list[float | None]]
    stopped: Text | None


@dataclass(frozen=True, slots=True)
class Reading:
    """An instrument being read: its name, its channels, what is heard, and its samples as they come."""

    name: str
    channels: tuple[Channel, ...]
    heard: tuple[str, ...]
    samples: Iterator[Sample]


def check_held(engine: EngineModel, kind: InstrumentKind, valve: str | None, cylinder: int | None) -> None:
    """Whether an instrument can be held to what is named.

    Raises:
        Refused: nothing is named, or the engine has not got it.
    """
    held_to = KINDS[kind].held_to
    valves = [one.id for one in engine.valves]
    if held_to == "valve" and valve not in valves:
        raise Refused([Fault("$.valve", f"must be one of {', '.join(valves)}")])
    cylinders = cylinders_of(engine)
    if held_to == "cylinder" and cylinder not in cylinders:
        raise Refused([Fault("$.cylinder", f"must be one of {', '.join(map(str, cylinders))}")])


def _resting_deg(engine: EngineModel, valve: str) -> float:
    """A crank angle at which a valve's lobe points away."""
    task = CrankTask((), firing_of(engine), events_of(engine))
    one = next(each for each in engine.valves if each.id == valve)
    return task.firing.angle_deg[one.cylinder] + task.events[one.side].middle_of_rest_deg


def read_simulated(
    session: Session,
    database: Path,
    engine_id: str,
    visit_id: str,
    kind: InstrumentKind,
    *,
    valve: str | None,
    cylinder: int | None,
    oiled: bool,
    trouble: Trouble,
    rng: np.random.Generator,
) -> Reading:
    """A simulated instrument on the current engine.

    Raises:
        NotThere: there is no such engine or visit.
        Refused: it cannot be held to what is named.
        ImpossibleValue: the engine's firing order is not known.
    """
    record = engine_record(session, engine_id)
    visit = visit_of(record, visit_id)
    check_held(record.engine, kind, valve, cylinder)
    condition = condition_at(database, record, visit)
    at_deg = _resting_deg(record.engine, valve) if kind == "dial-clearance" and valve else 0.0
    bench = simulated_bench(condition, rng)
    held = HeldAt(valve=valve or "", cylinder=cylinder or 1, oiled=oiled, crank_deg=at_deg)
    name, samples = read(bench, kind, held)
    heard = bench.tester.heard(held.cylinder) if kind == "leakdown" else ()
    channels = channels_of(kind, cylinders_of(record.engine))
    return Reading(name, channels, heard, troubled(samples, trouble, rng))


def replay(
    session: Session, engine_id: str, visit_id: str, kind: InstrumentKind, content: bytes
) -> ReplayOut:
    """A recorded trace of an instrument, for a visit.

    Raises:
        NotThere: there is no such engine or visit.
        Refused: the file is no trace of it.
    """
    record = engine_record(session, engine_id)
    visit_of(record, visit_id)
    try:
        recorded = read_trace(content, channels_of(kind, cylinders_of(record.engine)))
    except NotATrace as error:
        raise Refused([Fault("$", str(error))]) from error
    return ReplayOut(
        samples=[[one.at_s, *one.values] for one in recorded.samples[:_MOST_SAMPLES]],
        stopped=recorded.stopped,
    )


_WORDS = {
    "clearance_mm": "clearance {:.3f} mm",
    "lift_mm": "lift {:.2f} mm",
    "pressure_kpa": "{:.0f} kPa",
    "lost_percent": "{:.0f} % leak-down",
    "idle_per_min": "idle speed {:.0f} rpm",
    "trim_long_percent": "long-term trim {:+.1f} %",
    "vacuum_kpa": "vacuum {:.0f} kPa",
    "head_c": "head {:.1f} \u00b0C",
    "air_c": "air {:.1f} \u00b0C",
}


def _told(figures: TraceFigures) -> list[str]:
    return [
        _WORDS[name].format(value)
        if name in _WORDS
        else f"cylinder {name.removeprefix('misfires_')}: {value:.0f} misfires"
        for name, value in figures.values.items()
    ]


def _trace_out(engine: EngineModel, note: Trace, altitude_m: float) -> TraceOut:
    figures = trace_figures(engine, note, altitude_m)
    return TraceOut(
        id=note.id,
        kind=note.kind,
        instrument=note.instrument,
        at=note.at.isoformat(),
        valve=note.valve,
        cylinder=note.cylinder,
        oiled=note.oiled,
        ended=note.ended,
        taken=note.taken,
        simulated=is_simulated(note),
        heard=note.heard,
        samples=note.samples,
        figures=_told(figures),
        incomplete=figures.incomplete,
    )


def instruments_at(session: Session, engine_id: str, visit_id: str) -> InstrumentsOut:
    """The instruments, and the traces that were taken at a visit.

    Raises:
        NotThere: there is no such engine or visit.
    """
    record = engine_record(session, engine_id)
    visit = visit_of(record, visit_id)
    return InstrumentsOut(
        kinds=kinds_out(cylinders_of(record.engine), record.engine.fuel),
        traces=[_trace_out(record.engine, note, visit.altitude_m or 0.0) for note in visit.traces],
    )


def _checked(engine: EngineModel, note: Trace) -> None:
    check_held(engine, note.kind, note.valve, note.cylinder)
    width = 1 + len(channels_of(note.kind, cylinders_of(engine)))
    if len(note.samples) > _MOST_SAMPLES:
        raise Refused([Fault("$.samples", f"are {len(note.samples)}; at most {_MOST_SAMPLES}")])
    for index, row in enumerate(note.samples):
        if len(row) != width or row[0] is None:
            raise Refused([Fault(f"$.samples[{index}]", f"must be seconds and {width - 1} values")])


def keep_trace(
    session: Session, engine_id: str, visit_id: str, note: Trace, *, constants: Constants = DEFAULT
) -> None:
    """Keep a trace at a visit; with `taken` its figures enter the record with the instrument's name and time.

    Sent again with the same identifier it takes the place of what was sent before.

    Raises:
        NotThere: there is no such engine or visit.
        Refused: it cannot be held to what is named, or its samples have not its channels.
    """
    record = engine_record(session, engine_id)
    visit = visit_of(record, visit_id)
    _checked(record.engine, note)
    before = next((one for one in visit.traces if one.id == note.id), None)
    figures = trace_figures(record.engine, note, visit.altitude_m or 0.0)
    taking = ReadingImport(session, record.engine, visit_id, note, figures, constants)
    # Sent twice it has replaced what it replaced the first time.
    replaced = before.replaced if before is not None and before.taken else taking.replaced()
    note = note.model_copy(update={"replaced": replaced if note.taken else None})
    put_trace(session, engine_id, visit_id, note)
    if note.taken and figures.values:
        session.flush()
        ReadingImport(session, record.engine, visit_id, note, figures, constants).take()
    session.commit()


def take_back_trace(
    session: Session, engine_id: str, visit_id: str, trace_id: str, *, constants: Constants = DEFAULT
) -> None:
    """Take a trace's figures out of the record again; the trace itself stays.

    Raises:
        NotThere: there is no such engine, visit or trace that was taken.
    """
    record = engine_record(session, engine_id)
    visit = visit_of(record, visit_id)
    note = next((one for one in visit.traces if one.id == trace_id and one.taken), None)
    if note is None:
        raise NotThere("imported trace", trace_id)
    left = note.model_copy(update={"taken": False, "replaced": None})
    put_trace(session, engine_id, visit_id, left)
    session.flush()
    figures = trace_figures(record.engine, note, visit.altitude_m or 0.0)
    ReadingImport(session, record.engine, visit_id, note, figures, constants).take_back()
    session.commit()
