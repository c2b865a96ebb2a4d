"""Records into the tables and out of them; the two ways are each other's inverse."""

from collections import defaultdict
from collections.abc import Collection, Mapping, Sequence
from datetime import date, datetime
from typing import Any
from uuid import uuid4

from sqlalchemy import bindparam, func, select, update
from sqlalchemy.orm import Session

from pronostico.record.base import RecordModel
from pronostico.record.engine import EngineModel, MeterChange, UsageReading
from pronostico.record.models import FORMAT, CaseModel, Record
from pronostico.record.visit import VisitModel
from pronostico.record.work import KitItem
from pronostico.store.kinds import folded
from pronostico.store.rows import BY_NAME, case_row
from pronostico.store.shim_box import shelve_shims, shim_box
from pronostico.store.tables import (
    CaseFindingRow,
    CaseRow,
    EngineRow,
    Json,
    ReadingRow,
    SettingRow,
    TraceRow,
    TryRow,
    ValveRow,
    VisitFindingRow,
    VisitRow,
)
from pronostico.store.visits import load_visits


def dump(model: RecordModel, *without: str) -> Json:
    """The JSON form of a record's part; what is not known is left out."""
    return model.model_dump(mode="json", exclude=set(without), exclude_none=True)


def visit_data(visit: VisitModel) -> Json:
    """What a visit's row keeps beside its columns and the tables of its parts."""
    return dump(visit, "id", "date", "usage", "readings", "settings", "findings", "traces")


# Out of the tables


# Columns, not rows as objects, and statements that are built once: every answer reads a record.
_ENGINE = select(EngineRow.name, EngineRow.data, EngineRow.gauge_set).where(
    EngineRow.id == bindparam("engine")
)
_VALVES = (
    select(ValveRow.id, ValveRow.data)
    .where(ValveRow.engine_id == bindparam("engine"))
    .order_by(ValveRow.position)
)
_CASES = (
    select(CaseRow.pk, CaseRow.case_id, CaseRow.opened, CaseRow.closed, CaseRow.data)
    .where(CaseRow.engine_id == bindparam("engine"))
    .order_by(CaseRow.opened, CaseRow.pk)
)
_CASE_FINDINGS = (
    select(CaseFindingRow.case_pk, CaseFindingRow.data)
    .join(CaseRow, CaseRow.pk == CaseFindingRow.case_pk)
    .where(CaseRow.engine_id == bindparam("engine"))
    .order_by(CaseFindingRow.pk)
)


def _case_documents(session: Session, engine_id: str, visits: Collection[str]) -> list[Json]:
    """The cases of an engine; one whose visit is in the bin rests on none.

    Args:
        visits: the identifiers of those that are there.
    """
    findings: dict[int, list[Json]] = defaultdict(list)
    for case_pk, finding in session.execute(_CASE_FINDINGS, {"engine": engine_id}):
        findings[case_pk].append(finding)
    return [
        {
            **data,
            "visit": data.get("visit") if data.get("visit") in visits else None,
            "id": case_id,
            "opened": opened.isoformat(),
            "closed": closed and closed.isoformat(),
            "findings": findings[pk],
        }
        for pk, case_id, opened, closed, data in session.execute(_CASES, {"engine": engine_id})
    ]


def _valve_documents(session: Session, engine_id: str) -> list[Json]:
    return [{**data, "id": id} for id, data in session.execute(_VALVES, {"engine": engine_id})]


def engine_names(session: Session) -> list[tuple[str, str, str | None]]:
    """Id, name and identity in words of every engine, by name; one without a name goes by its id."""
    rows = session.execute(select(EngineRow.id, EngineRow.name, EngineRow.identity).order_by(*BY_NAME))
    return [(id, name or id, identity) for id, name, identity in rows]


def valve_ids(session: Session, engine_id: str) -> tuple[str, ...] | None:
    """The valves of an engine, in order; None where there is no such engine."""
    return tuple(id for id, _ in session.execute(_VALVES, {"engine": engine_id})) or None


def engine_revision(session: Session, engine_id: str) -> int | None:
    """How often an engine's data were edited, counted from one; None where there is no such engine."""
    row = session.get(EngineRow, engine_id)
    return None if row is None else row.revision


def has_visit(session: Session, engine_id: str, visit_id: str) -> bool:
    """Whether an engine has a visit of that id."""
    known = select(VisitRow.pk).where(VisitRow.engine_id == engine_id, VisitRow.visit_id == visit_id)
    return session.scalar(known) is not None


def _box_for(session: Session, engine: Json) -> list[Json] | None:
    """The shims of the workshop's box that fit an engine's valves; none of an engine without shims."""
    if not str(engine["adjustment"]).startswith("shim"):
        return None
    diameter = (engine.get("shim_series") or {}).get("diameter_mm")
    box = [
        dump(one)
        for one in shim_box(session)
        if None in (diameter, one.diameter_mm) or one.diameter_mm == diameter
    ]
    return box or None


def load_record(session: Session, engine_id: str) -> Record | None:
    """All that is known of an engine; None where there is none of that id."""
    found = session.execute(_ENGINE, {"engine": engine_id}).one_or_none()
    if found is None:
        return None
    name, data, gauge_set = found
    visits = load_visits(session, engine_id)
    document: Mapping[str, Any] = {
        "format": FORMAT,
        "version": 1,
        "engine": {**data, "id": engine_id, "name": name, "valves": _valve_documents(session, engine_id)},
        "gauge_set": gauge_set,
        "shim_box": _box_for(session, data),
        "visits": visits,
        "cases": _case_documents(session, engine_id, {visit.id for visit in visits}),
    }
    return Record.model_validate(document)


# Into the tables


def make_room(session: Session, engine_id: str, position: int) -> None:
    """Move the visits from a position on one further."""
    session.execute(
        update(VisitRow)
        .where(VisitRow.engine_id == engine_id, VisitRow.position >= position)
        .values(position=VisitRow.position + 1)
    )


def position_for(session: Session, engine_id: str, visit: VisitModel) -> int:
    """Where a visit belongs among those of an engine: after all that are not later."""
    earlier = select(func.count()).where(
        VisitRow.engine_id == engine_id,
        (VisitRow.usage < visit.usage) | ((VisitRow.usage == visit.usage) & (VisitRow.day <= visit.date)),
    )
    return session.scalar(earlier) or 0


def has_case(session: Session, engine_id: str, case_id: str) -> bool:
    """Whether an engine has a case of that id."""
    return case_row(session, engine_id, case_id) is not None


def add_visit(session: Session, engine_id: str, visit: VisitModel, *, position: int, now: datetime) -> None:
    """A visit with its readings, tries and settings."""
    row = VisitRow(
        engine_id=engine_id,
        visit_id=visit.id,
        position=position,
        day=visit.date,
        usage=visit.usage,
        data=visit_data(visit),
        findings=[VisitFindingRow(finding=finding.id, data=dump(finding)) for finding in visit.findings],
        readings=[
            ReadingRow(
                position=index,
                valve=reading.valve,
                phase=reading.phase,
                data=dump(reading, "valve", "phase", "tries"),
                tries=[
                    TryRow(id=str(uuid4()), position=at, data=dump(one), noted_at=now)
                    for at, one in enumerate(reading.tries)
                ],
            )
            for index, reading in enumerate(visit.readings)
        ],
        settings=[
            SettingRow(position=index, setting_id=setting.id, data=dump(setting, "id"))
            for index, setting in enumerate(visit.settings)
        ],
        traces=[TraceRow(trace_id=trace.id, data=dump(trace, "id")) for trace in visit.traces],
    )
    session.add(row)


def places_among(
    session: Session, engine_id: str, visits: Sequence[VisitModel]
) -> tuple[list[dict[str, int]], list[tuple[int, VisitModel]]]:
    """Where visits stand among those of an engine, each after all that are not later.

    Returns:
        The rows that are there, `pk` with their new `position`; the new visits with theirs.
    """
    known = select(VisitRow.pk, VisitRow.usage, VisitRow.day).where(VisitRow.engine_id == engine_id)
    there = [
        ((usage, day), pk, None) for pk, usage, day in session.execute(known.order_by(VisitRow.position))
    ]
    new = [((visit.usage, visit.date), None, visit) for visit in visits]
    # Sorting keeps the order of equals: those that are there stay before those that come.
    merged = sorted([*there, *new], key=lambda one: one[0])
    moved = [{"pk": pk, "position": at} for at, (_, pk, _) in enumerate(merged) if pk is not None]
    return moved, [(at, visit) for at, (_, _, visit) in enumerate(merged) if visit is not None]


def add_visits(session: Session, engine_id: str, visits: Sequence[VisitModel], *, now: datetime) -> None:
    """Visits among those of an engine; all places are dealt out at once.

    What the session held before is let go of.
    """
    moved, placed = places_among(session, engine_id, visits)
    if moved:
        session.execute(update(VisitRow), moved)
    for count, (at, visit) in enumerate(placed, start=1):
        add_visit(session, engine_id, visit, position=at, now=now)
        if count % 500 == 0:
            # A sheet of many years never stands in memory as rows.
            session.flush()
            session.expunge_all()
    session.flush()


def add_case(session: Session, engine_id: str, case: CaseModel) -> None:
    """A case with its findings."""
    row = CaseRow(
        engine_id=engine_id,
        case_id=case.id,
        opened=case.opened,
        closed=case.closed,
        data=dump(case, "id", "opened", "closed", "findings"),
        findings=[CaseFindingRow(finding=finding.id, data=dump(finding)) for finding in case.findings],
    )
    session.add(row)


def _valve_rows(engine: EngineModel) -> list[ValveRow]:
    return [
        ValveRow(engine_id=engine.id, id=valve.id, position=index, data=dump(valve, "id"))
        for index, valve in enumerate(engine.valves)
    ]


def put_engine(session: Session, engine: EngineModel) -> None:
    """An engine's data in place of those before; its visits and cases stay. The engine must be there."""
    row = session.get_one(EngineRow, engine.id)
    row.name, row.kind, row.identity = engine.name, folded(engine.known_kind), engine.identity
    row.data = dump(engine, "id", "name", "valves")
    row.revision += 1
    kept = {valve.id: valve for valve in row.valves}
    for new in _valve_rows(engine):
        old = kept.pop(new.id, None)
        if old is None:
            session.add(new)
        else:
            old.position, old.data = new.position, new.data
    for gone in kept.values():
        session.delete(gone)
    session.flush()
    session.expire(row)


def put_meter_changes(session: Session, engine_id: str, changes: list[MeterChange]) -> None:
    """What was noted of an engine's meter; no edit of its data, so that an open form stays fresh."""
    row = session.get_one(EngineRow, engine_id)
    row.data = {**row.data, "meter_changes": [dump(change) for change in changes]}


def put_usage_readings(session: Session, engine_id: str, readings: list[UsageReading]) -> None:
    """What an engine's meter was read at between visits; no edit of its data."""
    row = session.get_one(EngineRow, engine_id)
    row.data = {**row.data, "usage_readings": [dump(one) for one in readings]}


def put_archived(session: Session, engine_id: str, since: date | None) -> None:
    """Since when an engine is not looked after any more; no edit of its data."""
    row = session.get_one(EngineRow, engine_id)
    without = {name: value for name, value in row.data.items() if name != "archived"}
    row.data = without if since is None else {**without, "archived": since.isoformat()}


def put_kit(session: Session, engine_id: str, kit: Sequence[KitItem]) -> None:
    """What to have ready before an engine is opened; no edit of its data."""
    row = session.get_one(EngineRow, engine_id)
    row.data = {**row.data, "kit": [dump(one) for one in kit]}


def add_record(session: Session, record: Record, *, now: datetime) -> None:
    """A whole record as a new engine.

    Args:
        now: noted as the time at which its tries came in.
    """
    engine = record.engine
    row = EngineRow(
        id=engine.id,
        name=engine.name,
        kind=folded(engine.known_kind),
        identity=engine.identity,
        data=dump(engine, "id", "name", "valves"),
        gauge_set=None if record.gauge_set is None else dump(record.gauge_set),
        valves=_valve_rows(engine),
    )
    session.add(row)
    session.flush()
    shelve_shims(session, record.shim_box or [])
    for index, visit in enumerate(record.visits):
        add_visit(session, engine.id, visit, position=index, now=now)
    for case in record.cases:
        add_case(session, engine.id, case)
