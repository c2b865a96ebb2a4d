"""A record compared with what is stored: new, changed or refused; then stored whole or not at all."""

from dataclasses import dataclass, field
from datetime import date, datetime
from typing import Literal, TypeVar

from sqlalchemy.orm import Session

from pronostico.analysis.report_model import ReportModel
from pronostico.errors import AlreadyThere, Refused
from pronostico.language import Text
from pronostico.record.base import RecordModel
from pronostico.record.engine import EngineModel
from pronostico.record.faults import Fault
from pronostico.record.models import CaseModel, Record
from pronostico.record.reading_in import NotARecord, read_record
from pronostico.record.visit import VisitModel
from pronostico.services.engines.sisters import put_among_sisters
from pronostico.store import records
from pronostico.store.blade_sets import shelve_blades
from pronostico.store.removals import ids_in_bin, parts_in_bin
from pronostico.store.shim_box import shelve_shims

Model = TypeVar("Model", bound=RecordModel)
State = Literal["new", "changed", "same", "refused"]


@dataclass(slots=True)
class HeldRecord:
    """A record and what of it is not stored yet; `data`: names of the engine's fields that differ."""

    record: Record
    file: str
    state: State
    visits: list[VisitModel] = field(default_factory=list)
    cases: list[CaseModel] = field(default_factory=list)
    data: list[str] = field(default_factory=list)
    faults: list[str] = field(default_factory=list)


def _new_of(known: list[Model], brought: list[Model], what: str, faults: list[str]) -> list[Model]:
    """What is not there yet; one that is there and differs is a fault."""
    by_id = {getattr(one, "id"): one for one in known}  # noqa: B009 - visits and cases alike
    new = []
    for one in brought:
        identifier = getattr(one, "id")  # noqa: B009
        old = by_id.get(identifier)
        if old is None:
            new.append(one)
        elif old != one:
            faults.append(f"{what} {identifier} differs from yours; yours is kept")
    return new


def _differing(known: EngineModel, brought: EngineModel) -> list[str]:
    return [name for name in EngineModel.model_fields if getattr(known, name) != getattr(brought, name)]


def _in_bin(what: str) -> str:
    return f"{what} is in the bin: restore it there, or delete it for good, and import again"


def held_against(session: Session, record: Record, file: str, today: date) -> HeldRecord:
    """A record held against the workshop's own of that engine; what the session held before is let go of.

    Args:
        file: where the record is from.
        today: dates after it are faults.
    """
    known = records.load_record(session, record.engine.id)
    session.expunge_all()
    if known is None:
        one = HeldRecord(record, file, "new", list(record.visits), list(record.cases))
        if ids_in_bin(session, [record.engine.id]):
            one.state, one.faults = "refused", [_in_bin("this engine")]
        return one
    one = HeldRecord(record, file, "same")
    one.visits = _new_of(known.visits, record.visits, "visit", one.faults)
    one.cases = _new_of(known.cases, record.cases, "case", one.faults)
    one.data = _differing(known.engine, record.engine)
    visits_in_bin, cases_in_bin = parts_in_bin(session, record.engine.id)
    one.faults += [_in_bin(f"visit {visit.id}") for visit in one.visits if visit.id in visits_in_bin]
    one.faults += [_in_bin(f"case {case.id}") for case in one.cases if case.id in cases_in_bin]
    if one.faults:
        one.state = "refused"
    elif one.data or one.visits or one.cases:
        one.state = "changed"
        visits = sorted([*known.visits, *one.visits], key=lambda visit: (visit.usage, visit.date))
        together = record.model_copy(update={"visits": visits, "cases": [*known.cases, *one.cases]})
        try:
            read_record(together.model_dump_json(exclude_none=True), today=today)
        except NotARecord as error:
            one.state, one.faults = "refused", [f"with your data: {fault}" for fault in error.faults]
    return one


def store_held(session: Session, one: HeldRecord, now: datetime) -> None:
    """Store what is new of a record that is not refused; not committed yet."""
    engine = one.record.engine
    if one.state == "new":
        records.add_record(session, one.record.model_copy(update={"shim_box": None}), now=now)
    else:
        put_among_sisters(session, engine)
        records.add_visits(session, engine.id, one.visits, now=now)
        for case in one.cases:
            records.add_case(session, engine.id, case)
    session.flush()
    session.expunge_all()


class NewVisitOut(ReportModel):
    """A visit that a record would bring."""

    id: str
    date: date
    usage: float


class RecordChangeOut(ReportModel):
    """What a record would change; `data`: which of the engine's data, `faults`: why it is refused."""

    id: str
    name: str
    state: State
    data: list[str]
    visits: list[NewVisitOut]
    cases: list[str]
    faults: list[Text]


def _held(session: Session, text: bytes, today: date) -> HeldRecord:
    try:
        record = read_record(text, today=today)
    except NotARecord as error:
        raise Refused(error.faults) from error
    return held_against(session, record, "the record", today)


def preview_record(session: Session, text: bytes, *, today: date) -> RecordChangeOut:
    """What a record would change; nothing is stored.

    Raises:
        Refused: the text is no valid record; every fault with its JSON path.
    """
    one = _held(session, text, today)
    engine = one.record.engine
    return RecordChangeOut(
        id=engine.id,
        name=engine.name or engine.id,
        state=one.state,
        data=one.data,
        visits=[NewVisitOut(id=visit.id, date=visit.date, usage=visit.usage) for visit in one.visits],
        cases=[case.id for case in one.cases],
        faults=one.faults,
    )


def import_record(
    session: Session, text: bytes, *, into_existing: bool = False, today: date, now: datetime
) -> str:
    """Take a record in, all of it or nothing; the engine's id.

    Args:
        into_existing: what is new in it is added to an engine that is in the workshop; else it has to be new.

    Raises:
        Refused: the text is no valid record, or a part of it differs from the workshop's.
        AlreadyThere: an engine of that id is in the workshop, and nothing is to be added to it.
    """
    one = _held(session, text, today)
    engine_id = one.record.engine.id
    there = records.engine_revision(session, engine_id) is not None
    if there and not into_existing:
        raise AlreadyThere(f"an engine '{engine_id}' exists already; give the record another engine.id")
    if one.faults:
        raise Refused([Fault("$", fault) for fault in one.faults])
    if one.state != "same":
        store_held(session, one, now)
    if one.state == "new":
        shelve_shims(session, one.record.shim_box or [])
        if one.record.gauge_set is not None:
            shelve_blades(session, one.record.gauge_set)
    session.commit()
    return engine_id
