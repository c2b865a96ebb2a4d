"""What the workshop page shows of all engines, read by columns: a record each would take too long."""

from collections import defaultdict
from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from datetime import date

from sqlalchemy import ColumnElement, select
from sqlalchemy.orm import Session

from pronostico.store.kinds import WRITTEN
from pronostico.store.rows import BY_NAME
from pronostico.store.tables import CaseFindingRow, CaseRow, CustomerRow, EngineRow, Json, ResultRow, VisitRow

_AT_ONCE = 500  # of what one statement asks for by name


@dataclass(frozen=True, slots=True)
class StoredVisit:
    """A visit, without what was read at it."""

    id: str
    day: date
    usage: float
    work: str | None
    progress: Json | None
    parts_changed: list[Json] | None


@dataclass(frozen=True, slots=True)
class StoredCase:
    """An open case; complaints by the id of their finding."""

    id: str
    opened: date
    complaints: tuple[str, ...]


@dataclass(frozen=True, slots=True)
class StoredTimeline:
    """An engine with its visits, its open cases, and its result as JSON where that is current."""

    id: str
    name: str
    usage_unit: str
    identity: str | None
    kind: str | None
    check_interval: float
    usage_readings: list[Json] | None
    archived: str | None
    customer: str | None
    fuel: str | None
    adjustment: str
    visits: tuple[StoredVisit, ...]
    cases: tuple[StoredCase, ...]
    result: str | None
    changed: int


@dataclass(frozen=True, slots=True)
class TimelineState:
    """What tells one reading of an engine's timeline from another: `current`: whether its result is.

    `customer`: by name. `changed` is counted by the database at every change of the engine and its visits.
    """

    id: str
    changed: int
    current: bool
    customer: str | None
    cases: tuple[StoredCase, ...]


def _visits(session: Session, engines: Sequence[str]) -> Mapping[str, list[StoredVisit]]:
    visits: dict[str, list[StoredVisit]] = defaultdict(list)
    rows = session.execute(
        select(
            VisitRow.engine_id,
            VisitRow.visit_id,
            VisitRow.day,
            VisitRow.usage,
            VisitRow.data["work"].as_string(),
            VisitRow.data["progress"],
            VisitRow.data["parts_changed"],
        )
        .where(VisitRow.engine_id.in_(engines))
        .order_by(VisitRow.engine_id, VisitRow.position)
    )
    for engine_id, *visit in rows:
        visits[engine_id].append(StoredVisit(*visit))
    return visits


def open_cases(session: Session) -> Mapping[str, list[StoredCase]]:
    """The open cases of every engine that has any."""
    complaints: dict[int, list[str]] = defaultdict(list)
    for case_pk, finding, data in session.execute(
        select(CaseFindingRow.case_pk, CaseFindingRow.finding, CaseFindingRow.data)
        .join(CaseRow, CaseRow.pk == CaseFindingRow.case_pk)
        .where(CaseRow.closed.is_(None))
        .order_by(CaseFindingRow.pk)
    ):
        if data.get("state") == "present":
            complaints[case_pk].append(finding)
    cases: dict[str, list[StoredCase]] = defaultdict(list)
    for pk, engine_id, case_id, opened in session.execute(
        select(CaseRow.pk, CaseRow.engine_id, CaseRow.case_id, CaseRow.opened)
        .where(CaseRow.closed.is_(None))
        .order_by(CaseRow.opened, CaseRow.pk)
    ):
        cases[engine_id].append(StoredCase(case_id, opened, tuple(complaints[pk])))
    return cases


def _current(model: str) -> ColumnElement[bool]:
    """Joins an engine with its result where that is of the engine as it is now, and of the model."""
    return (
        (ResultRow.engine_id == EngineRow.id)
        & (ResultRow.changed == EngineRow.changed)
        & (ResultRow.model == model)
    )


def timeline_states(session: Session, model: str) -> list[TimelineState]:
    """Every engine, by name.

    Args:
        model: the digest of the model that a result must have been computed with.
    """
    cases = open_cases(session)
    rows = session.execute(
        select(EngineRow.id, EngineRow.changed, ResultRow.engine_id.is_not(None), CustomerRow.name)
        .outerjoin(ResultRow, _current(model))
        .outerjoin(CustomerRow, CustomerRow.id == EngineRow.customer_id)
        .order_by(*BY_NAME)
    )
    return [
        TimelineState(id, changed, current, customer, tuple(cases.get(id, ())))
        for id, changed, current, customer in rows
    ]


def stored_timelines(session: Session, model: str, states: Sequence[TimelineState]) -> list[StoredTimeline]:
    """What is kept of some engines."""
    known = {one.id: one for one in states}
    timelines: list[StoredTimeline] = []
    ids = list(known)
    for start in range(0, len(ids), _AT_ONCE):
        some = ids[start : start + _AT_ONCE]
        visits = _visits(session, some)
        rows = session.execute(
            select(
                EngineRow.id,
                EngineRow.name,
                EngineRow.data["usage_unit"].as_string(),
                EngineRow.identity,
                WRITTEN,
                EngineRow.data["check_interval"].as_float(),
                EngineRow.data["usage_readings"],
                EngineRow.data["archived"].as_string(),
                EngineRow.data["fuel"].as_string(),
                EngineRow.data["adjustment"].as_string(),
                ResultRow.timeline,
                EngineRow.changed,
            )
            .outerjoin(ResultRow, _current(model))
            .where(EngineRow.id.in_(some))
        )
        timelines.extend(
            StoredTimeline(
                id=id,
                name=name or id,
                usage_unit=unit,
                identity=identity,
                kind=kind,
                check_interval=check_interval,
                usage_readings=readings,
                archived=archived,
                customer=known[id].customer,
                fuel=fuel,
                adjustment=adjustment,
                visits=tuple(visits[id]),
                cases=known[id].cases,
                result=timeline,
                changed=changed,
            )
            for (
                id,
                name,
                unit,
                identity,
                kind,
                check_interval,
                readings,
                archived,
                fuel,
                adjustment,
                timeline,
                changed,
            ) in rows
        )
    return timelines
