"""The shop's engines: what stands in it, records in and out."""

from dataclasses import dataclass
from datetime import date, datetime

from sqlalchemy.orm import Session

from pronostico.core.reading import Class, Verdict
from pronostico.record.models import Record
from pronostico.record.reading_in import NotARecord, read_record
from pronostico.services.analysis import analyse_record
from pronostico.services.analysis_report import AnalysisOut, ValveOut
from pronostico.services.errors import AlreadyThere, NotThere, Refused
from pronostico.services.rechecks import RecheckOut, recheck_due
from pronostico.store import records
from pronostico.store.blade_sets import shelve_blades


@dataclass(frozen=True, slots=True)
class WorstValve:
    """The valve that most wants attention as the engine stands."""

    valve: str
    verdict: Verdict
    leaning: Class
    probability: float


@dataclass(frozen=True, slots=True)
class OpenCase:
    """A case that is not closed."""

    id: str
    opened: date
    complaints: tuple[str, ...]


@dataclass(frozen=True, slots=True)
class EngineSummary:
    """One line of the shop."""

    id: str
    name: str
    usage_unit: str
    last_visit: str | None
    last_date: date | None
    last_usage: float | None
    visits: int
    valves: int
    read_at_last_visit: int
    worst: WorstValve | None
    open_cases: tuple[OpenCase, ...]
    recheck: RecheckOut | None


def engine_record(session: Session, engine_id: str) -> Record:
    """The record of an engine.

    Raises:
        NotThere: there is no engine of that id.
    """
    record = records.load_record(session, engine_id)
    if record is None:
        raise NotThere("engine", engine_id)
    return record


def _worst(valves: list[ValveOut]) -> WorstValve | None:
    """The valve least likely to stand in spec; None where none was read at the last visit."""
    read = [(valve, valve.standing) for valve in valves if valve.standing is not None]
    if not read:
        return None
    valve, standing = min(read, key=lambda pair: pair[1].p_in)
    chance = {"tight": standing.p_tight, "in": standing.p_in, "loose": standing.p_loose}[standing.leaning]
    return WorstValve(valve.valve, standing.verdict, standing.leaning, chance)


def _summary(record: Record, analysis: AnalysisOut) -> EngineSummary:
    engine = record.engine
    last = record.visits[-1] if record.visits else None
    return EngineSummary(
        id=engine.id,
        name=engine.name or engine.id,
        usage_unit=engine.usage_unit,
        last_visit=None if last is None else last.id,
        last_date=None if last is None else last.date,
        last_usage=None if last is None else last.usage,
        visits=len(record.visits),
        valves=len(engine.valves),
        read_at_last_visit=sum(valve.found is not None for valve in analysis.valves),
        worst=_worst(analysis.valves),
        open_cases=tuple(
            OpenCase(case.id, case.opened, tuple(f.id for f in case.findings if f.state == "present"))
            for case in record.cases
            if case.closed is None
        ),
        recheck=recheck_due(record),
    )


def list_engines(session: Session) -> list[EngineSummary]:
    """Every engine of the shop, by name."""
    summaries = []
    for engine_id in records.engine_ids(session):
        record = engine_record(session, engine_id)
        summaries.append(_summary(record, analyse_record(record)))
    return summaries


def import_record(session: Session, text: bytes, *, today: date, now: datetime) -> Record:
    """Take a record in as a new engine.

    Raises:
        Refused: the text is no valid record; every fault with its JSON path.
        AlreadyThere: an engine of that id is in the shop.
    """
    try:
        record = read_record(text, today=today)
    except NotARecord as error:
        raise Refused(error.faults) from error
    if records.load_record(session, record.engine.id) is not None:
        raise AlreadyThere(
            f"an engine '{record.engine.id}' is in the shop already; give the record another engine.id"
        )
    records.add_record(session, record, now=now)
    if record.gauge_set is not None:
        shelve_blades(session, record.gauge_set)
    session.commit()
    return record
