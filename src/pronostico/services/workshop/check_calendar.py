"""Next checks as a calendar (RFC 5545): a file, and a feed at an address that nobody can guess."""

import secrets
from datetime import date, datetime, timedelta

from icalendar import Alarm, Calendar, Event
from sqlalchemy.orm import Session

from pronostico.errors import NotThere
from pronostico.services.workshop.timelines import TimelineOut, UnderWayOut, read_timelines
from pronostico.store.workshop import calendar_token, put_calendar_token

_TOKEN_BYTES = 24
_ASK_AGAIN = timedelta(hours=12)
# Reminders: a week before a check, so that the engine can be sent for; the day before what was promised.
_BEFORE_CHECK = timedelta(days=7)
_BEFORE_PROMISE = timedelta(days=1)


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


def _check(timeline: TimelineOut, day: date, now: datetime) -> Event:
    summary, uid = f"{timeline.name}: valve check", f"{timeline.id}.next-look"
    return _whole_day(uid, summary, _why(timeline), day, now, _BEFORE_CHECK)


def _promised(timeline: TimelineOut, work: UnderWayOut, day: date, now: datetime) -> Event:
    waits = f"Waiting for: {', '.join(work.waits_for)}." if work.waits_for else "Nothing is waited for."
    summary, uid = f"{timeline.name}: promised", f"{timeline.id}.{work.visit}.promised"
    return _whole_day(uid, summary, f"Visit {work.visit}. {waits}", day, now, _BEFORE_PROMISE)


def next_checks(session: Session, *, today: date, now: datetime) -> bytes:
    """The calendar: next checks that have a day, and promised work; what is overdue stands on today."""
    calendar = Calendar()
    calendar.add("prodid", "-//Pronostico//next checks//EN")
    calendar.add("version", "2.0")
    calendar.add("method", "PUBLISH")
    calendar.add("x-wr-calname", "Next valve checks")
    calendar.add("refresh-interval", _ASK_AGAIN, parameters={"value": "DURATION"})
    for timeline in read_timelines(session):
        if timeline.archived is not None:
            continue
        if timeline.look_day is not None:
            calendar.add_component(_check(timeline, max(timeline.look_day, today), now))
        for work in timeline.under_way:
            if work.promised is not None:
                calendar.add_component(_promised(timeline, work, max(work.promised, today), now))
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
