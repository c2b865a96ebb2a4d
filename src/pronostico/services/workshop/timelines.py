"""The workshop page: every engine a timeline along time, its visits behind it and its next check ahead."""

import threading
import time
from dataclasses import dataclass
from datetime import date

from pydantic import TypeAdapter
from sqlalchemy.orm import Session

from pronostico.analysis.report_model import ReportModel
from pronostico.analysis.timeline import TimelineCheckOut, TimelineResult
from pronostico.core.usage import meter_reading_due, pace_of
from pronostico.language import SOURCE, speaking
from pronostico.record.work import Progress, WorkState
from pronostico.services.engines.results import model_digest
from pronostico.services.settings import workshop_settings
from pronostico.store import records
from pronostico.store.customers import customer_names
from pronostico.store.database import Database
from pronostico.store.timelines import (
    StoredTimeline,
    StoredVisit,
    TimelineState,
    open_cases,
    stored_timelines,
    timeline_states,
)


class TimelineVisitOut(ReportModel):
    """A visit on a timeline; `renewed`: the valves of which parts were changed."""

    id: str
    day: date
    usage: float
    work: str | None
    renewed: list[str]


class OpenCaseOut(ReportModel):
    """A case that is not closed; complaints by the id of their finding."""

    id: str
    opened: date
    complaints: tuple[str, ...]


class UnderWayOut(ReportModel):
    """Work that is not done. `waits_for`: parts that have not come; `since`: when the first was ordered."""

    visit: str
    day: date
    state: WorkState
    waits_for: list[str]
    since: date | None
    promised: date | None


class FanDayOut(ReportModel):
    """The day on which the chance that a valve is out exceeds a risk."""

    risk: float
    day: date


class LastReadOut(ReportModel):
    """The meter was read last: when, and the running total."""

    day: date
    usage: float


class TimelineOut(ReportModel):
    """One engine; `result` is null until it is computed, `look_day` where the rate of use is not known.

    `usage_per_day`: the engine's own, from its visits and readings of its meter; `last_read`: the last of
    them. `meter_due`: the day from which on that is too old to plan by.
    """

    id: str
    name: str
    usage_unit: str
    identity: str | None
    kind: str | None
    archived: date | None
    customer: str | None
    fuel: str | None
    adjustment: str
    visits: list[TimelineVisitOut]
    cases: list[OpenCaseOut]
    under_way: list[UnderWayOut]
    usage_per_day: float | None
    last_read: LastReadOut | None
    meter_due: date | None
    result: TimelineResult | None
    look_day: date | None
    fan: list[FanDayOut]


def _renewed(visit: StoredVisit) -> list[str]:
    return list(dict.fromkeys(one["valve"] for one in visit.parts_changed or ()))


def _under_way(visit: StoredVisit) -> UnderWayOut | None:
    progress = None if visit.progress is None else Progress.model_validate(visit.progress, strict=False)
    if progress is None or progress.state == "done":
        return None
    missing = [part for part in progress.awaited if part.arrived is None]
    return UnderWayOut(
        visit=visit.id,
        day=visit.day,
        state=progress.state,
        waits_for=[part.what for part in missing],
        since=min((part.ordered for part in missing if part.ordered is not None), default=None),
        promised=progress.promised,
    )


def _timeline(stored: StoredTimeline) -> TimelineOut:
    # What comes from our own tables is built without being checked once more: there may be a thousand.
    result = None if stored.result is None else TimelineResult.model_validate_json(stored.result)
    history = sorted(
        [
            *((one.day, one.usage) for one in stored.visits),
            *((date.fromisoformat(one["date"]), float(one["usage"])) for one in stored.usage_readings or ()),
        ]
    )
    pace = pace_of(history)
    look = None if result is None else result.check_due
    fan = []
    for one in [] if look is None else look.fan:
        day = None if one.usage is None or pace is None else pace.day_of(one.usage)
        if day is not None:
            fan.append(FanDayOut.model_construct(risk=one.risk, day=day))
    return TimelineOut.model_construct(
        id=stored.id,
        name=stored.name,
        usage_unit=stored.usage_unit,
        identity=stored.identity,
        kind=stored.kind,
        archived=None if stored.archived is None else date.fromisoformat(stored.archived),
        customer=stored.customer,
        fuel=stored.fuel,
        adjustment=stored.adjustment,
        visits=[
            TimelineVisitOut.model_construct(
                id=one.id, day=one.day, usage=one.usage, work=one.work, renewed=_renewed(one)
            )
            for one in stored.visits
        ],
        cases=[OpenCaseOut.model_validate(one) for one in stored.cases],
        under_way=[work for visit in stored.visits if (work := _under_way(visit)) is not None],
        usage_per_day=None if pace is None else pace.per_day,
        last_read=LastReadOut.model_construct(day=history[-1][0], usage=history[-1][1]) if history else None,
        meter_due=meter_reading_due(history, stored.check_interval),
        result=result,
        look_day=None if look is None else look.day,
        fan=fan,
    )


@dataclass(frozen=True, slots=True)
class Upcoming:
    """What is to come at an engine, without its history: of thousands it is kept in memory.

    `check`: its next one; None before the first visit, and while it is computed. `developing`: causes, where.
    """

    id: str
    name: str
    identity: str | None
    kind: str | None
    usage_unit: str
    under_way: tuple[UnderWayOut, ...]
    usage_per_day: float | None
    last_read: LastReadOut | None
    meter_due: date | None
    check: TimelineCheckOut | None
    check_day: date | None
    developing: tuple[tuple[str, str], ...]


def _upcoming(timeline: TimelineOut) -> Upcoming | None:
    """Of an engine that is archived none."""
    if timeline.archived is not None:
        return None
    result = timeline.result
    return Upcoming(
        id=timeline.id,
        name=timeline.name,
        identity=timeline.identity,
        kind=timeline.kind,
        usage_unit=timeline.usage_unit,
        under_way=tuple(timeline.under_way),
        usage_per_day=timeline.usage_per_day,
        last_read=timeline.last_read,
        meter_due=timeline.meter_due,
        check=None if result is None else result.check_due,
        check_day=timeline.look_day,
        developing=() if result is None else tuple((one.label, one.where) for one in result.developing),
    )


class EngineNameOut(ReportModel):
    """An engine of the workshop by name, with its open cases and its customer's name."""

    id: str
    name: str
    identity: str | None
    customer: str | None
    open_cases: list[OpenCaseOut]


def engine_names(session: Session) -> list[EngineNameOut]:
    """Every engine of the workshop, by name."""
    cases, customers = open_cases(session), customer_names(session)
    return [
        EngineNameOut(
            id=id,
            name=name,
            identity=identity,
            customer=customers.get(id),
            open_cases=[OpenCaseOut.model_validate(one) for one in cases.get(id, ())],
        )
        for id, name, identity in records.engine_names(session)
    ]


@dataclass(frozen=True, slots=True)
class Timelines:
    """Every engine of the workshop, by name, as JSON; `stale`: those without a current result."""

    document: str
    upcoming: list[Upcoming]
    stale: list[tuple[str, int]]


@dataclass(frozen=True, slots=True)
class _Kept:
    """A timeline as JSON, and what is to come, as they were when its engine was in a state."""

    state: TimelineState
    document: str
    upcoming: Upcoming | None

    @classmethod
    def of(cls, state: TimelineState, timeline: TimelineOut) -> "_Kept":
        return cls(state, _AS_JSON.dump_json(timeline).decode(), _upcoming(timeline))


_AS_JSON = TypeAdapter(TimelineOut)


class CachedTimelines:
    """The workshop page from a cache; a timeline is read anew after any write that it shows."""

    def __init__(self, database: Database) -> None:
        self._database = database
        self._kept: tuple[str, Timelines] | None = None
        self._began_s = 0.0
        self._lock = threading.Lock()
        self._model = ""
        self._engines: dict[str, _Kept] = {}

    def now(self) -> Timelines:
        """The current timelines; nothing is computed here."""
        asked_s = time.monotonic()
        # One reads for all who ask meanwhile: of many thousand engines it takes a while.
        with self._lock:
            # Asked before reading: what is written in between makes the next asking read again.
            version = self._database.version()
            kept = self._kept
            if kept is not None and (kept[0] == version or self._began_s >= asked_s):
                return kept[1]
            self._began_s = time.monotonic()
            with self._database.reading() as session:
                timelines = self._read(session)
            self._kept = (version, timelines)
            return timelines

    def _read(self, session: Session) -> Timelines:
        model = model_digest(workshop_settings(session))
        known = self._engines if model == self._model else {}
        states = {one.id: one for one in timeline_states(session, model)}
        new = [one for one in states.values() if one.id not in known or known[one.id].state != one]
        with speaking(SOURCE):
            read = {
                one.id: _Kept.of(states[one.id], _timeline(one))
                for one in stored_timelines(session, model, new)
            }
        engines = {id: read[id] if id in read else known[id] for id in states}
        self._model, self._engines = model, engines
        return Timelines(
            "[" + ",".join(one.document for one in engines.values()) + "]",
            [one.upcoming for one in engines.values() if one.upcoming is not None],
            [(one.id, one.changed) for one in states.values() if not one.current],
        )
