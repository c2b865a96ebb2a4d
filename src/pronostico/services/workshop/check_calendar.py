"""Next checks as a calendar (RFC 5545): a file, and a feed at an address that nobody can guess."""

import secrets
from datetime import date, datetime, timedelta

from icalendar import Alarm, Calendar, Event
from sqlalchemy.orm import Session

from pronostico.errors import NotThere
from pronostico.services.workshop.timelines import UnderWayOut, Upcoming
from pronostico.store.workshop import calendar_token, put_calendar_token

_TOKEN_BYTES = 24
_ASK_AGAIN = timedelta(hours=12)
# Reminders: a week before a check, so that the engine can be sent for; the day before what was promised.
_BEFORE_CHECK = timedelta(days=7)
_BEFORE_PROMISE = timedelta(days=1)


def _why(engine: Upcoming) -> str:
    check = engine.check
    parts = []
    if check is not None:
        when = "Now" if check.now else f"At {check.usage:.0f} {engine.usage_unit}"
        parts.append(f"{when}: {check.why or 'chosen at the last visit'}.")
    if engine.developing:
        causes = (f"{label}, {where}" for label, where in engine.developing)
        parts.append(f"Developing faults: {'; '.join(causes)}.")
    parts.append("The date follows from this engine's own rate of use.")
    return " ".join(parts)


def _whole_day(
    uid: str, summary: str, description: str, day: date, now: datetime, before: timedelta
) -> Event:
    """An event of a whole day, with a reminder some time before."""
    event = Event()
    event.add("uid", f"{uid}@pronostico")
    event.add("dtstamp", now)
    event.add("summary", summary)
    # A whole day: no rate of use tells the hour.
    event.add("dtstart", day)
    event.add("dtend", day + timedelta(days=1))
    event.add("transp", "TRANSPARENT")
    event.add("description", description)
    alarm = Alarm()
    alarm.add("action", "DISPLAY")
    alarm.add("description", summary)
    alarm.add("trigger", -before)
    event.add_component(alarm)
    return event


def _check(engine: Upcoming, day: date, now: datetime) -> Event:
    summary, uid = f"{engine.name}: valve check", f"{engine.id}.next-look"
    return _whole_day(uid, summary, _why(engine), day, now, _BEFORE_CHECK)


def _promised(engine: Upcoming, work: UnderWayOut, day: date, now: datetime) -> Event:
    waits = f"Waiting for: {', '.join(work.waits_for)}." if work.waits_for else "Nothing is waited for."
    summary, uid = f"{engine.name}: promised", f"{engine.id}.{work.visit}.promised"
    return _whole_day(uid, summary, f"Visit {work.visit}. {waits}", day, now, _BEFORE_PROMISE)


def next_checks(engines: list[Upcoming], *, today: date, now: datetime) -> bytes:
    """The calendar: next checks that have a day, and promised work; what is overdue stands on today."""
    calendar = Calendar()
    calendar.add("prodid", "-//Pronostico//next checks//EN")
    calendar.add("version", "2.0")
    calendar.add("method", "PUBLISH")
    calendar.add("x-wr-calname", "Next valve checks")
    calendar.add("refresh-interval", _ASK_AGAIN, parameters={"value": "DURATION"})
    for engine in engines:
        if engine.check_day is not None:
            calendar.add_component(_check(engine, max(engine.check_day, today), now))
        for work in engine.under_way:
            if work.promised is not None:
                calendar.add_component(_promised(engine, work, max(work.promised, today), now))
    return bytes(calendar.to_ical())


def check_token(session: Session, token: str) -> None:
    """Let nobody in who does not know the address of the feed.

    Raises:
        NotThere: the token is not the workshop's, or the workshop has none.
    """
    known = calendar_token(session)
    if known is None or not secrets.compare_digest(known.encode(), token.encode()):
        raise NotThere("calendar", "at this address")


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
