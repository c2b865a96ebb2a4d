"""The notebook of a case: what was noted in words, and photographs."""

from dataclasses import dataclass
from datetime import UTC, datetime

from sqlalchemy import select
from sqlalchemy.orm import Session

from pronostico.store.rows import case_row
from pronostico.store.tables import CaseRow, NotebookRow


@dataclass(frozen=True, slots=True)
class NotebookEntry:
    """A note, or a photograph (its file's name and type) with what stands under it."""

    id: str
    noted_at: datetime
    text: str
    photograph: str | None = None
    media_type: str | None = None


def _entry(row: NotebookRow) -> NotebookEntry:
    # SQLite keeps no zone: all times are kept in UTC.
    noted_at = row.noted_at.replace(tzinfo=UTC)
    return NotebookEntry(row.id, noted_at, row.text, row.photograph, row.media_type)


def entries(session: Session, engine_id: str, case_id: str) -> list[NotebookEntry]:
    """What stands in the notebook of a case, the oldest first; the case must be there."""
    case = case_row(session, engine_id, case_id)
    assert case is not None
    rows = session.scalars(
        select(NotebookRow)
        .where(NotebookRow.case_pk == case.pk, NotebookRow.removed_at.is_(None))
        .order_by(NotebookRow.noted_at, NotebookRow.id)
    )
    return [_entry(row) for row in rows]


def cases_with_notebook(session: Session) -> list[tuple[str, str]]:
    """Engine and case of every notebook that something stands in."""
    rows = session.execute(
        select(CaseRow.engine_id, CaseRow.case_id)
        .join(NotebookRow, NotebookRow.case_pk == CaseRow.pk)
        .where(NotebookRow.removed_at.is_(None))
        .distinct()
        .order_by(CaseRow.engine_id, CaseRow.case_id)
    )
    return [(engine, case) for engine, case in rows]


def has_entry(session: Session, entry_id: str) -> bool:
    """Whether anything was ever noted under an identifier."""
    return session.get(NotebookRow, entry_id) is not None


def add_entry(session: Session, engine_id: str, case_id: str, entry: NotebookEntry) -> bool:
    """Note something under its identifier; False where that is taken by something else."""
    case = case_row(session, engine_id, case_id)
    assert case is not None
    known = session.get(NotebookRow, entry.id)
    if known is not None:
        same = (known.case_pk, known.text, known.photograph) == (case.pk, entry.text, entry.photograph)
        return same and known.removed_at is None
    session.add(
        NotebookRow(
            id=entry.id,
            case_pk=case.pk,
            noted_at=entry.noted_at,
            text=entry.text,
            photograph=entry.photograph,
            media_type=entry.media_type,
        )
    )
    return True


def remove_entry(session: Session, engine_id: str, case_id: str, entry_id: str, *, now: datetime) -> bool:
    """Mark an entry of a case as removed; it is not lost. False where the case never had it."""
    case, row = case_row(session, engine_id, case_id), session.get(NotebookRow, entry_id)
    if case is None or row is None or row.case_pk != case.pk:
        return False
    row.removed_at = row.removed_at or now
    return True


def restore_entry(session: Session, entry_id: str) -> bool:
    """Have a removed entry stand in its notebook again; False where there is none, or no case of it."""
    row = session.get(NotebookRow, entry_id)
    if row is None or session.get(CaseRow, row.case_pk) is None:
        return False
    row.removed_at = None
    return True
