"""What the workshop set for itself, kept in one row."""

from sqlalchemy.orm import Session

from pronostico.store.tables import Json, WorkshopRow

_ONLY = 1


def workshop_data(session: Session) -> Json:
    """What was set; empty where nothing was."""
    row = session.get(WorkshopRow, _ONLY)
    return {} if row is None else row.data


def put_workshop_data(session: Session, data: Json) -> None:
    """Set it anew."""
    row = session.get(WorkshopRow, _ONLY)
    if row is None:
        session.add(WorkshopRow(pk=_ONLY, data=data))
    else:
        row.data = data


def calendar_token(session: Session) -> str | None:
    """The token of the calendar feed; None where there is no feed."""
    row = session.get(WorkshopRow, _ONLY)
    return None if row is None else row.calendar_token


def put_calendar_token(session: Session, token: str | None) -> None:
    """A new token, or None: no feed."""
    row = session.get(WorkshopRow, _ONLY)
    if row is None:
        session.add(WorkshopRow(pk=_ONLY, data={}, calendar_token=token))
    else:
        row.calendar_token = token
