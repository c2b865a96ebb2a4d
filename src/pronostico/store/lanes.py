"""What the Shop shows of all its engines at once, read by columns: a record each would take too long."""

from collections import defaultdict
from collections.abc import Mapping
from dataclasses import dataclass
from datetime import date

from sqlalchemy import select
from sqlalchemy.orm import Session

from pronostico.store.tables import CaseFindingRow, CaseRow, EngineRow, ResultRow, VisitRow


@dataclass(frozen=True, slots=True)
class StoredVisit:
    """A visit, without what was read at it."""

    id: str
    day: date
    usage: float
    work: str | None


@dataclass(frozen=True, slots=True)
class StoredCase:
    """An open case; complaints by the id of their finding."""

    id: str
    opened: date
    complaints: tuple[str, ...]


@dataclass(frozen=True, slots=True)
class StoredLane:
    """An engine with its visits, its open cases, and its result as JSON where that is current."""

    id: str
    name: str
    usage_unit: str
    fuel: str | None
    adjustment: str
    visits: tuple[StoredVisit, ...]
    cases: tuple[StoredCase, ...]
    result: str | None
    changed: int


def _visits(session: Session) -> Mapping[str, list[StoredVisit]]:
    visits: dict[str, list[StoredVisit]] = defaultdict(list)
    rows = session.execute(
        select(
            VisitRow.engine_id,
            VisitRow.visit_id,
            VisitRow.day,
            VisitRow.usage,
            VisitRow.data["work"].as_string(),
        ).order_by(VisitRow.engine_id, VisitRow.position)
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


def stored_lanes(session: Session, model: str) -> list[StoredLane]:
    """Every engine, by name.

    Args:
        model: the digest of the model that a result must have been reckoned with.
    """
    visits, cases = _visits(session), open_cases(session)
    rows = session.execute(
        select(
            EngineRow.id,
            EngineRow.name,
            EngineRow.data["usage_unit"].as_string(),
            EngineRow.data["fuel"].as_string(),
            EngineRow.data["adjustment"].as_string(),
            ResultRow.lane,
            EngineRow.changed,
        )
        .outerjoin(
            ResultRow,
            (ResultRow.engine_id == EngineRow.id)
            & (ResultRow.changed == EngineRow.changed)
            & (ResultRow.model == model),
        )
        .order_by(EngineRow.name, EngineRow.id)
    )
    return [
        StoredLane(
            id=id,
            name=name or id,
            usage_unit=unit,
            fuel=fuel,
            adjustment=adjustment,
            visits=tuple(visits[id]),
            cases=tuple(cases[id]),
            result=lane,
            changed=changed,
        )
        for id, name, unit, fuel, adjustment, lane, changed in rows
    ]
