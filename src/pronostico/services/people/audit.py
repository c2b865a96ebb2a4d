"""The audit trail as it is read: who changed what, when and on which device."""

from datetime import datetime, timedelta

from sqlalchemy.orm import Session

from pronostico.analysis.report_model import ReportModel
from pronostico.analysis.tables.table import Column, Table, csv_text
from pronostico.language import Text
from pronostico.services.people.change_words import CHANGES
from pronostico.store.audit import changes_after, last_before, trail
from pronostico.store.people import utc
from pronostico.store.people_tables import AuditRow

PAGE = 100
_WHILE_LOADING = timedelta(seconds=10)
_TABLE = Table(
    "changes",
    "Who changed what",
    (
        Column("at", "string", "when, UTC", needed=True),
        Column("person", "string", "who; empty where nobody had to say"),
        Column("device", "string", "on which device", needed=True),
        Column("engine", "string", "the engine's identifier"),
        Column("change", "string", "what was done", needed=True),
        Column("place", "string", "where, as the application's address has it", needed=True),
        Column("sent", "string", "what came with it, as JSON"),
        Column("earlier", "string", "what was replaced by it, as JSON"),
    ),
    (),
)


class ChangeOut(ReportModel):
    """One change, what was done and where. JSON: `sent`, what came with it; `earlier`, what it replaced."""

    id: int
    at: datetime
    person: str | None
    device: Text
    change: Text
    place: str
    sent: str | None
    earlier: str | None


class NewsOut(ReportModel):
    """What others have just changed at an engine: the last of it."""

    person: str | None
    device: Text
    change: Text


class TrailOut(ReportModel):
    """Changes, the last first; `before`: where to go on reading, None where there are no more."""

    changes: list[ChangeOut]
    before: int | None


def read_trail(session: Session, engine_id: str | None, *, before: int | None) -> TrailOut:
    """A page of the trail, of one engine or of everything."""
    rows = list(trail(session, engine_id, before=before, most=PAGE + 1))
    changes = [_out(row) for row in rows[:PAGE]]
    return TrailOut(changes=changes, before=changes[-1].id if len(rows) > PAGE else None)


def _out(row: AuditRow) -> ChangeOut:
    return ChangeOut(
        id=row.pk,
        at=utc(row.at),
        person=row.person,
        device=row.device,
        change=CHANGES.get(row.route, row.route),
        place=row.place,
        sent=row.sent,
        earlier=row.earlier,
    )


def begin_listening(session: Session, engine_id: str, *, now: datetime) -> int:
    """Where to begin: what was changed while a page was loading is news to it."""
    return last_before(session, engine_id, now - _WHILE_LOADING)


def news_for(session: Session, engine_id: str, page: str, after: int) -> tuple[int, NewsOut | None]:
    """What was changed by others than a page since the change of a key.

    Returns:
        The key to go on from; the last change, None where there is none by others.
    """
    rows = changes_after(session, engine_id, after)
    by_others = [row for row in rows if row.page is None or row.page != page]
    news = None
    if by_others:
        last = by_others[-1]
        news = NewsOut(person=last.person, device=last.device, change=CHANGES.get(last.route, last.route))
    return (rows[-1].pk if rows else after), news


def trail_csv(session: Session, engine_id: str | None) -> str:
    """The whole trail as CSV, the last change first."""
    return csv_text(
        _TABLE,
        (
            (
                utc(row.at).isoformat(timespec="seconds"),
                row.person,
                row.device,
                row.engine_id,
                CHANGES.get(row.route, row.route),
                row.place,
                row.sent,
                row.earlier,
            )
            for row in trail(session, engine_id)
        ),
    )
