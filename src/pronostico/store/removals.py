"""The bin: whole engines, visits and cases that were deleted, with all that hangs on them."""

from collections.abc import Sequence
from dataclasses import dataclass
from datetime import UTC, datetime
from typing import Literal

from sqlalchemy import ColumnElement, Table, delete, func, select, update
from sqlalchemy.orm import Session

from pronostico.store.hiding import REMOVED_TOO
from pronostico.store.rows import case_row, visit_row
from pronostico.store.tables import (
    Base,
    CaseRow,
    EngineRow,
    LessonRow,
    NotebookRow,
    ReadingRow,
    RemovalRow,
    SettingRow,
    TryRow,
    VisitPhotographRow,
    VisitRow,
)

Kind = Literal["engine", "visit", "case"]


@dataclass(frozen=True, slots=True)
class Removal:
    """What was deleted: an engine, or of one the visit or the case `part_id`."""

    id: str
    kind: Kind
    engine_id: str
    part_id: str | None
    name: str
    removed_at: datetime
    person: str | None


@dataclass(frozen=True, slots=True)
class Holds:
    """What hangs on something: how many there are of each."""

    visits: int
    readings: int
    answers: int
    adjustments: int
    cases: int
    notes: int
    photographs: int


_KINDS: dict[str, Kind] = {"engine": "engine", "visit": "visit", "case": "case"}


def _removal(row: RemovalRow) -> Removal:
    removed_at = row.removed_at.replace(tzinfo=UTC)
    kind = _KINDS[row.kind]
    return Removal(row.id, kind, row.engine_id, row.part_id, row.name, removed_at, row.person)


def removal(session: Session, removal_id: str) -> Removal | None:
    """One of them; None where there is none of that identifier."""
    row = session.get(RemovalRow, removal_id)
    return None if row is None else _removal(row)


def removals(session: Session) -> list[Removal]:
    """All of them, the last first."""
    rows = session.scalars(select(RemovalRow).order_by(RemovalRow.removed_at.desc(), RemovalRow.id))
    return [_removal(row) for row in rows]


def ids_in_bin(session: Session, engine_ids: Sequence[str]) -> set[str]:
    """Those of some identifiers that an engine in the bin has."""
    found: set[str] = set()
    for start in range(0, len(engine_ids), 500):
        some = engine_ids[start : start + 500]
        wanted = select(EngineRow.id).where(EngineRow.id.in_(some), EngineRow.removal_id.is_not(None))
        found.update(session.scalars(wanted, execution_options=REMOVED_TOO))
    return found


def parts_in_bin(session: Session, engine_id: str) -> tuple[set[str], set[str]]:
    """The identifiers of an engine's visits and of its cases that are in the bin."""
    visits = select(VisitRow.visit_id).where(
        VisitRow.engine_id == engine_id, VisitRow.removal_id.is_not(None)
    )
    cases = select(CaseRow.case_id).where(CaseRow.engine_id == engine_id, CaseRow.removal_id.is_not(None))
    return (
        set(session.scalars(visits, execution_options=REMOVED_TOO)),
        set(session.scalars(cases, execution_options=REMOVED_TOO)),
    )


def _count(session: Session, row: type[Base], *where: ColumnElement[bool]) -> int:
    counted = select(func.count()).select_from(row).where(*where)
    return session.scalar(counted, execution_options=REMOVED_TOO) or 0


def _holds(session: Session, visits: ColumnElement[bool], cases: ColumnElement[bool]) -> Holds:
    """What hangs on the visits and cases that two conditions name."""
    visit_pks, case_pks = select(VisitRow.pk).where(visits), select(CaseRow.pk).where(cases)
    of_visits = ReadingRow.visit_pk.in_(visit_pks)
    readings = select(ReadingRow.pk).where(of_visits)
    noted = (NotebookRow.case_pk.in_(case_pks), NotebookRow.removed_at.is_(None))
    taken = (VisitPhotographRow.visit_pk.in_(visit_pks), VisitPhotographRow.removed_at.is_(None))
    return Holds(
        visits=_count(session, VisitRow, visits),
        readings=_count(session, ReadingRow, of_visits),
        answers=_count(session, TryRow, TryRow.reading_pk.in_(readings), TryRow.taken_back_at.is_(None)),
        adjustments=_count(session, SettingRow, SettingRow.visit_pk.in_(visit_pks)),
        cases=_count(session, CaseRow, cases),
        notes=_count(session, NotebookRow, *noted, NotebookRow.photograph.is_(None)),
        photographs=_count(session, VisitPhotographRow, *taken)
        + _count(session, NotebookRow, *noted, NotebookRow.photograph.is_not(None)),
    )


def holds_of(session: Session, kind: Kind, engine_id: str, part_id: str | None) -> Holds:
    """What hangs on something that is in use."""
    if kind == "engine":
        return _holds(
            session,
            (VisitRow.engine_id == engine_id) & VisitRow.removal_id.is_(None),
            (CaseRow.engine_id == engine_id) & CaseRow.removal_id.is_(None),
        )
    if kind == "visit":
        visit = (VisitRow.engine_id == engine_id) & (VisitRow.visit_id == part_id)
        return _holds(session, visit, CaseRow.pk.is_(None))
    return _holds(
        session, VisitRow.pk.is_(None), (CaseRow.engine_id == engine_id) & (CaseRow.case_id == part_id)
    )


def holds_of_removal(session: Session, removal_id: str) -> Holds:
    """What was deleted together."""
    return _holds(session, VisitRow.removal_id == removal_id, CaseRow.removal_id == removal_id)


@dataclass(frozen=True, slots=True)
class RemovedPage:
    """A note or a photograph that was taken out of a case or a visit; `text`: what stands on or under it."""

    id: str
    kind: Literal["note", "photograph"]
    engine_id: str
    of_kind: Literal["visit", "case"]
    part_id: str
    text: str
    removed_at: datetime


def removed_pages(session: Session) -> list[RemovedPage]:
    """Notes and photographs that were removed from visits and cases that are there, the last first."""
    photographs = session.execute(
        select(VisitRow.engine_id, VisitRow.visit_id, VisitPhotographRow)
        .join(VisitRow, VisitRow.pk == VisitPhotographRow.visit_pk)
        .where(VisitPhotographRow.removed_at.is_not(None))
    )
    notes = session.execute(
        select(CaseRow.engine_id, CaseRow.case_id, NotebookRow)
        .join(CaseRow, CaseRow.pk == NotebookRow.case_pk)
        .where(NotebookRow.removed_at.is_not(None))
    )
    found = [
        RemovedPage(
            row.id, "photograph", engine, "visit", visit, row.text, row.removed_at.replace(tzinfo=UTC)
        )
        for engine, visit, row in photographs
        if row.removed_at is not None
    ]
    for engine, case, row in notes:
        if row.removed_at is not None:
            kind: Literal["note", "photograph"] = "note" if row.photograph is None else "photograph"
            at = row.removed_at.replace(tzinfo=UTC)
            found.append(RemovedPage(row.id, kind, engine, "case", case, row.text, at))
    return sorted(found, key=lambda one: one.removed_at, reverse=True)


def put_in_bin(session: Session, new: Removal) -> None:
    """Delete something that is there, with all that hangs on it."""
    session.add(
        RemovalRow(
            id=new.id,
            kind=new.kind,
            engine_id=new.engine_id,
            part_id=new.part_id,
            name=new.name,
            removed_at=new.removed_at,
            person=new.person,
        )
    )
    cases: list[int] = []
    if new.kind == "engine":
        session.get_one(EngineRow, new.engine_id).removal_id = new.id
        of_engine = VisitRow.engine_id == new.engine_id, VisitRow.removal_id.is_(None)
        session.execute(update(VisitRow).where(*of_engine).values(removal_id=new.id))
        cases = list(session.scalars(select(CaseRow.pk).where(CaseRow.engine_id == new.engine_id)))
    elif new.kind == "visit":
        visit = visit_row(session, new.engine_id, new.part_id or "")
        assert visit is not None
        visit.removal_id = new.id
    else:
        case = case_row(session, new.engine_id, new.part_id or "")
        assert case is not None
        cases = [case.pk]
    # What a deleted case taught is not learned from.
    session.execute(update(CaseRow).where(CaseRow.pk.in_(cases)).values(removal_id=new.id))
    session.execute(update(LessonRow).where(LessonRow.case_pk.in_(cases)).values(removal_id=new.id))
    session.flush()
    session.expire_all()


def take_out_of_bin(session: Session, removal_id: str) -> None:
    """Restore what was deleted together, each visit at its place among those of its engine."""
    removed = session.get_one(RemovalRow, removal_id)
    for table in (EngineRow, VisitRow, CaseRow, LessonRow):
        session.execute(update(table).where(table.removal_id == removal_id).values(removal_id=None))
    session.delete(removed)
    session.flush()
    session.expire_all()
    number_visits(session, removed.engine_id)


def number_visits(session: Session, engine_id: str) -> None:
    """Have every visit of an engine stand after all that are not later."""
    order = (VisitRow.usage, VisitRow.day, VisitRow.position)
    rows = session.scalars(select(VisitRow).where(VisitRow.engine_id == engine_id).order_by(*order))
    for position, row in enumerate(rows):
        row.position = position


def _delete_with_parts(session: Session, table: Table, where: ColumnElement[bool]) -> None:
    """Delete rows and, before them, all rows that refer to them."""
    for part in Base.metadata.sorted_tables:
        for key in part.foreign_keys:
            if key.column.table is table:
                _delete_with_parts(session, part, key.parent.in_(select(key.column).where(where)))
    session.execute(delete(table).where(where))


def delete_for_good(session: Session, removal_id: str) -> list[str]:
    """Delete what is in the bin for good.

    Returns:
        The files of its photographs that nothing else shows.
    """
    removed = session.get_one(RemovalRow, removal_id)
    before = _picture_files(session)
    if removed.kind == "engine":
        # Also what was in the bin of this engine before.
        session.execute(delete(RemovalRow).where(RemovalRow.engine_id == removed.engine_id))
        _delete_with_parts(session, _table(EngineRow), EngineRow.id == removed.engine_id)
    else:
        for row in (VisitRow, CaseRow):
            _delete_with_parts(session, _table(row), row.removal_id == removal_id)
        session.delete(removed)
    session.flush()
    session.expire_all()
    return sorted(before - _picture_files(session))


def delete_page_for_good(session: Session, page_id: str) -> list[str]:
    """The same of a note or a photograph that was removed; nothing where there is none."""
    before = _picture_files(session)
    for table in (NotebookRow, VisitPhotographRow):
        session.execute(delete(table).where(table.id == page_id, table.removed_at.is_not(None)))
    return sorted(before - _picture_files(session))


def _table(row: type[Base]) -> Table:
    table = row.__table__
    assert isinstance(table, Table)
    return table


def _picture_files(session: Session) -> set[str]:
    in_notebooks = select(NotebookRow.photograph).where(NotebookRow.photograph.is_not(None))
    files = {name for name in session.scalars(in_notebooks) if name is not None}
    plates = select(EngineRow.plate_photograph).where(EngineRow.plate_photograph.is_not(None))
    files |= {name for name in session.scalars(plates, execution_options=REMOVED_TOO) if name is not None}
    return files | set(session.scalars(select(VisitPhotographRow.photograph)))
