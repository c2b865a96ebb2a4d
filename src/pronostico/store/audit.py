"""Who changed what: noted in the very transaction of the change, and never changed afterwards."""

from collections.abc import Iterator, Sequence
from contextvars import ContextVar
from dataclasses import dataclass
from datetime import UTC, datetime
from typing import Any

from sqlalchemy import event, func, select
from sqlalchemy.orm import ORMExecuteState, Session, sessionmaker

from pronostico.store.earlier_values import as_text, earlier_values
from pronostico.store.people_tables import AuditRow

_WROTE = "wrote"
_EARLIER = "earlier"


@dataclass(slots=True)
class Acting:
    """Who asks for a change, and for what; set for as long as a request is answered.

    `sent`: what came with it, as text; None: nothing that is kept. `page`: the open page that asks.
    """

    person_id: str | None
    person: str | None
    device: str
    engine_id: str | None = None
    route: str = ""
    place: str = ""
    sent: str | None = None
    page: str | None = None


ACTING: ContextVar[Acting | None] = ContextVar("acting", default=None)
"""None: nobody asked, the product works by itself."""


def wrote(session: Session) -> None:
    """Say that rows were changed past the session, which it cannot see by itself."""
    session.info[_WROTE] = True


def note_changes(sessions: sessionmaker[Session]) -> None:
    """Have every transaction of these sessions that changed something say who did it."""

    def flushing(session: Session, _context: object, _rows: object) -> None:
        # What was replaced first is what stood there before the change as a whole.
        if ACTING.get() is not None:
            session.info[_EARLIER] = {**earlier_values(session), **session.info.get(_EARLIER, {})}

    def flushed(session: Session, _context: object) -> None:
        if session.new or session.dirty or session.deleted:
            wrote(session)

    def executed(state: ORMExecuteState) -> None:
        if state.is_insert or state.is_update or state.is_delete:
            wrote(state.session)

    def committing(session: Session) -> None:
        acting = ACTING.get()
        if acting is None:
            return
        session.flush()
        earlier = session.info.pop(_EARLIER, {})
        if session.info.pop(_WROTE, False):
            session.add(
                AuditRow(
                    at=datetime.now(UTC),
                    person_id=acting.person_id,
                    person=acting.person,
                    device=acting.device,
                    engine_id=acting.engine_id,
                    route=acting.route,
                    place=acting.place,
                    sent=acting.sent,
                    page=acting.page,
                    earlier=as_text(earlier),
                )
            )

    event.listen(sessions, "before_flush", flushing)
    event.listen(sessions, "after_flush", flushed)
    event.listen(sessions, "do_orm_execute", executed)
    event.listen(sessions, "before_commit", committing)


def trail(
    session: Session, engine_id: str | None, *, before: int | None = None, most: int | None = None
) -> Iterator[AuditRow]:
    """What was changed, the last first.

    Args:
        engine_id: of one engine alone; None: everything.
        before: only what was noted before the entry of that key.
        most: no more than so many.
    """
    query: Any = select(AuditRow).order_by(AuditRow.pk.desc())
    if engine_id is not None:
        query = query.where(AuditRow.engine_id == engine_id)
    if before is not None:
        query = query.where(AuditRow.pk < before)
    if most is not None:
        query = query.limit(most)
    yield from session.scalars(query)


def last_before(session: Session, engine_id: str, time: datetime) -> int:
    """The key of the last change of an engine that is older than a time; 0: there is none."""
    query = select(func.max(AuditRow.pk)).where(AuditRow.engine_id == engine_id, AuditRow.at < time)
    return session.scalar(query) or 0


def changes_after(session: Session, engine_id: str, after: int) -> Sequence[AuditRow]:
    """The changes of an engine that were noted after the one of a key, the first first."""
    query = select(AuditRow).where(AuditRow.engine_id == engine_id, AuditRow.pk > after)
    return session.scalars(query.order_by(AuditRow.pk)).all()
