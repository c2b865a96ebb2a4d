"""Next checks as a calendar (RFC 5545): a file, and a feed at an address that nobody can guess."""

import secrets
from datetime import date, datetime, timedelta

from icalendar import Calendar, Event
from sqlalchemy.orm import Session

from pronostico.errors import NotThere
from pronostico.services.workshop.timelines import TimelineOut, read_timelines
from pronostico.store.workshop import calendar_token, put_calendar_token

_TOKEN_BYTES = 24
_ASK_AGAIN = timedelta(hours=12)


def _why(timeline: TimelineOut) -> str:
    result = timeline.result
    look = None if result is None else result.check_due
    parts = []
    if look is not None:
        when = "Now" if look.now else f"At {look.usage:.0f} {timeline.usage_unit}"
        parts.append(f"{when}: {look.why or 'chosen at the last visit'}.")
    if result is not None and result.developing:
        causes = (f"{one.label}, {one.where}" for one in result.developing)
        parts.append(f"Developing faults: {'; '.join(causes)}.")
    parts.append("The date follows from this engine's own rate of use.")
    return " ".join(parts)


def _event(timeline: TimelineOut, day: date, now: datetime) -> Event:
    event = Event()
    event.add("uid", f"{timeline.id}.next-look@pronostico")
    event.add("dtstamp", now)
    event.add("summary", f"{timeline.name}: valve check")
    # A whole day: no rate of use tells the hour.
    event.add("dtstart", day)
    event.add("dtend", day + timedelta(days=1))
    event.add("transp", "TRANSPARENT")
    event.add("description", _why(timeline))
    return event


def next_checks(session: Session, *, today: date, now: datetime) -> bytes:
    """The calendar: one whole day an engine whose next check has a day; what is overdue stands on today."""
    calendar = Calendar()
    calendar.add("prodid", "-//Pronostico//next checks//EN")
    calendar.add("version", "2.0")
    calendar.add("method", "PUBLISH")
    calendar.add("x-wr-calname", "Next valve checks")
    calendar.add("refresh-interval", _ASK_AGAIN, parameters={"value": "DURATION"})
    for timeline in read_timelines(session):
        if timeline.look_day is not None and timeline.archived is None:
            calendar.add_component(_event(timeline, max(timeline.look_day, today), now))
    return bytes(calendar.to_ical())


def feed(session: Session, token: str, *, today: date, now: datetime) -> bytes:
    """The same for one who knows the address.

    Raises:
        NotThere: the token is not the workshop's, or the workshop has none.
    """
    known = calendar_token(session)
    if known is None or not secrets.compare_digest(known.encode(), token.encode()):
        raise NotThere("calendar", "at this address")
    return next_checks(session, today=today, now=now)


def new_token(session: Session) -> str:
    """A feed's token; the address before no longer leads anywhere."""
    token = secrets.token_urlsafe(_TOKEN_BYTES)
    put_calendar_token(session, token)
    session.commit()
    return token


def end_feed(session: Session) -> None:
    """No address leads to the calendar any more."""
    put_calendar_token(session, None)
    session.commit()
