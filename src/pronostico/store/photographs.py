"""Photographs taken at a visit."""

from collections.abc import Iterator
from dataclasses import dataclass, replace
from datetime import UTC, datetime

from sqlalchemy import select
from sqlalchemy.orm import Session

from pronostico.store.rows import visit_row
from pronostico.store.tables import VisitPhotographRow, VisitRow


@dataclass(frozen=True, slots=True)
class VisitPhotograph:
    """A photograph: at which step it was taken, of which valve (None: of none), and what stands under it.

    `photograph` is the name of its file. `on_card`: shown on the job card.
    """

    id: str
    noted_at: datetime
    step: str
    valve: str | None
    text: str
    photograph: str
    media_type: str
    on_card: bool = False


def _photograph(row: VisitPhotographRow) -> VisitPhotograph:
    return VisitPhotograph(
        id=row.id,
        # SQLite keeps no zone: all times are kept in UTC.
        noted_at=row.noted_at.replace(tzinfo=UTC),
        step=row.step,
        valve=row.valve,
        text=row.text,
        photograph=row.photograph,
        media_type=row.media_type,
        on_card=row.on_card,
    )


def photographs(session: Session, engine_id: str, visit_id: str) -> list[VisitPhotograph]:
    """The photographs of a visit, the oldest first."""
    rows = session.scalars(
        select(VisitPhotographRow)
        .join(VisitRow, VisitRow.pk == VisitPhotographRow.visit_pk)
        .where(
            VisitRow.engine_id == engine_id,
            VisitRow.visit_id == visit_id,
            VisitPhotographRow.removed_at.is_(None),
        )
        .order_by(VisitPhotographRow.noted_at, VisitPhotographRow.id)
    )
    return [_photograph(row) for row in rows]


def all_photographs(session: Session) -> Iterator[tuple[str, str, VisitPhotograph]]:
    """Engine, visit and photograph of the whole workshop."""
    rows = session.execute(
        select(VisitRow.engine_id, VisitRow.visit_id, VisitPhotographRow)
        .join(VisitRow, VisitRow.pk == VisitPhotographRow.visit_pk)
        .where(VisitPhotographRow.removed_at.is_(None))
        .order_by(VisitRow.engine_id, VisitRow.pk, VisitPhotographRow.noted_at, VisitPhotographRow.id)
    )
    for engine_id, visit_id, row in rows:
        yield engine_id, visit_id, _photograph(row)


def has_photograph(session: Session, photograph_id: str) -> bool:
    """Whether anything was ever kept under an identifier."""
    return session.get(VisitPhotographRow, photograph_id) is not None


def _row(session: Session, engine_id: str, visit_id: str, photograph_id: str) -> VisitPhotographRow | None:
    visit, row = visit_row(session, engine_id, visit_id), session.get(VisitPhotographRow, photograph_id)
    return row if visit is not None and row is not None and row.visit_pk == visit.pk else None


def add_photograph(session: Session, engine_id: str, visit_id: str, one: VisitPhotograph) -> bool:
    """Keep a photograph under its identifier; False where that is taken by something else."""
    visit = visit_row(session, engine_id, visit_id)
    assert visit is not None
    known = session.get(VisitPhotographRow, one.id)
    if known is not None:
        # What stands under it may have been changed since it was first sent.
        same = (known.visit_pk, known.photograph, known.step) == (visit.pk, one.photograph, one.step)
        return same and known.removed_at is None
    session.add(
        VisitPhotographRow(
            id=one.id,
            visit_pk=visit.pk,
            noted_at=one.noted_at,
            step=one.step,
            valve=one.valve,
            text=one.text,
            photograph=one.photograph,
            media_type=one.media_type,
            on_card=one.on_card,
        )
    )
    return True


def change_photograph(
    session: Session,
    engine_id: str,
    visit_id: str,
    photograph_id: str,
    *,
    valve: str | None,
    text: str,
    on_card: bool,
) -> VisitPhotograph | None:
    """Change what is said of a photograph; None where the visit has no such one."""
    row = _row(session, engine_id, visit_id, photograph_id)
    if row is None or row.removed_at is not None:
        return None
    row.valve, row.text, row.on_card = valve, text, on_card
    return replace(_photograph(row), valve=valve, text=text, on_card=on_card)


def remove_photograph(
    session: Session, engine_id: str, visit_id: str, photograph_id: str, *, now: datetime
) -> bool:
    """Mark a photograph as removed; it is not lost. False where the visit never had it."""
    row = _row(session, engine_id, visit_id, photograph_id)
    if row is None:
        return False
    row.removed_at = row.removed_at or now
    return True


def restore_photograph(session: Session, photograph_id: str) -> bool:
    """Have a removed photograph be its visit's again; False where there is none, or no visit of it."""
    row = session.get(VisitPhotographRow, photograph_id)
    if row is None or session.get(VisitRow, row.visit_pk) is None:
        return False
    row.removed_at = None
    return True
