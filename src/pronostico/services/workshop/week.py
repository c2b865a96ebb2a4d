"""The week at a glance: which checks fall due, what was promised, whose meter wants to be read."""

from datetime import date, timedelta
from typing import Literal

from sqlalchemy.orm import Session

from pronostico.analysis.report_model import ReportModel
from pronostico.core.usage import Pace
from pronostico.language import Text
from pronostico.record.work import WorkState
from pronostico.services.workshop.timelines import Upcoming
from pronostico.store import customers

Within = Literal["overdue", "this week", "next week", "within a month", "later", "no day known"]


class ReachedByOut(ReportModel):
    """Whose an engine is, and how to reach them."""

    id: str
    name: str
    telephone: str
    email: str


class _ForEngine(ReportModel):
    """An engine of the list, by name, kind and customer."""

    engine: str
    name: str
    identity: str | None
    kind: str | None
    usage_unit: str
    customer: ReachedByOut | None


class DueCheckOut(_ForEngine):
    """A next check. `usage`: the running total at which it is due; `to_go`: how much is left by now.

    `day`: by the engine's own rate of use, null where that is not known; `why` in words. `estimated`: what
    is left rests on that rate, not on a reading of today.
    """

    within: Within
    day: date | None
    usage: float
    to_go: float
    estimated: bool
    why: Text


class PromisedOut(_ForEngine):
    """Work that is not done, with the day it is promised for."""

    within: Within
    visit: str
    state: WorkState
    waits_for: list[str]
    promised: date


class MeterOut(_ForEngine):
    """An engine whose usage was read too long ago. `likely`: what the total may be today, null: not known."""

    last_day: date
    last_usage: float
    likely: float | None


class WeekOut(ReportModel):
    """The week of `today`, from Monday to Sunday, and what lies before and after it."""

    today: date
    monday: date
    sunday: date
    checks: list[DueCheckOut]
    promised: list[PromisedOut]
    meters: list[MeterOut]


def within(day: date | None, today: date) -> Within:
    """In which stretch of time a day lies, as seen from today; weeks begin on Monday (ISO 8601)."""
    if day is None:
        return "no day known"
    sunday = today + timedelta(days=6 - today.weekday())
    if day < today:
        return "overdue"
    if day <= sunday:
        return "this week"
    if day <= sunday + timedelta(days=7):
        return "next week"
    return "within a month" if day <= today + timedelta(days=30) else "later"


def _pace(engine: Upcoming) -> Pace | None:
    read, per_day = engine.last_read, engine.usage_per_day
    return None if read is None or per_day is None else Pace(read.day, read.usage, per_day)


class _Week:
    """The lists for one day, engine by engine."""

    def __init__(self, session: Session, today: date) -> None:
        self.today = today
        engines = customers.engines_by_customer(session)
        self._owners = {
            engine: ReachedByOut(id=id, name=one.name, telephone=one.telephone, email=one.email)
            for id, one in customers.customers(session)
            for engine, _ in engines.get(id, ())
        }

    def _engine(self, engine: Upcoming) -> _ForEngine:
        return _ForEngine(
            engine=engine.id,
            name=engine.name,
            identity=engine.identity,
            kind=engine.kind,
            usage_unit=engine.usage_unit,
            customer=self._owners.get(engine.id),
        )

    def check(self, engine: Upcoming) -> DueCheckOut | None:
        """The next check of an engine; None before its first visit, or while it is being computed."""
        check, read = engine.check, engine.last_read
        if check is None or read is None:
            return None
        pace = _pace(engine)
        likely = read.usage if pace is None else pace.usage_on(self.today)
        day = read.day if check.now else engine.check_day
        return DueCheckOut(
            **self._engine(engine).model_dump(),
            within="overdue" if check.now or likely >= check.usage else within(day, self.today),
            day=None if check.now else day,
            usage=check.usage,
            to_go=check.usage - likely,
            estimated=read.day < self.today,
            why=check.why,
        )

    def promised(self, engine: Upcoming) -> list[PromisedOut]:
        """The work of an engine that is promised and not done."""
        return [
            PromisedOut(
                **self._engine(engine).model_dump(),
                within=within(work.promised, self.today),
                visit=work.visit,
                state=work.state,
                waits_for=work.waits_for,
                promised=work.promised,
            )
            for work in engine.under_way
            if work.promised is not None
        ]

    def meter(self, engine: Upcoming) -> MeterOut | None:
        """An engine whose meter wants to be read."""
        read = engine.last_read
        if read is None or engine.meter_due is None or engine.meter_due > self.today:
            return None
        pace = _pace(engine)
        return MeterOut(
            **self._engine(engine).model_dump(),
            last_day=read.day,
            last_usage=read.usage,
            likely=None if pace is None else pace.usage_on(self.today),
        )


def week_of(session: Session, engines: list[Upcoming], today: date) -> WeekOut:
    """The week at a glance."""
    week, monday = _Week(session, today), today - timedelta(days=today.weekday())
    checks = [check for one in engines if (check := week.check(one)) is not None]
    promised = [work for one in engines for work in week.promised(one)]
    meters = [meter for one in engines if (meter := week.meter(one)) is not None]
    return WeekOut(
        today=today,
        monday=monday,
        sunday=monday + timedelta(days=6),
        # What is due first stands first; without a day by what is left of its usage.
        checks=sorted(
            checks, key=lambda one: (one.within != "overdue", one.day is None, one.day or today, one.to_go)
        ),
        promised=sorted(promised, key=lambda one: one.promised),
        meters=sorted(meters, key=lambda one: one.last_day),
    )
