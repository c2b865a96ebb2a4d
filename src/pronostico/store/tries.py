"""Answers one by one: stored once under the page's identifier, marked when taken back."""

from dataclasses import dataclass
from datetime import datetime
from typing import get_args

from sqlalchemy.orm import Session

from pronostico.core.visits import Felt, Phase
from pronostico.record.models import TryModel
from pronostico.store.records import dump
from pronostico.store.rows import visit_row
from pronostico.store.tables import ReadingRow, TryRow, VisitRow


@dataclass(frozen=True, slots=True)
class StoredTry:
    """An answer with its identifier."""

    id: str
    blades_mm: tuple[float, ...]
    felt: Felt


def stored_tries(
    session: Session, engine_id: str, visit_id: str
) -> dict[tuple[str, Phase], tuple[StoredTry, ...]]:
    """The standing answers of the last reading of each valve in each phase; none of an unknown visit."""
    visit = visit_row(session, engine_id, visit_id)
    phases: tuple[Phase, ...] = get_args(Phase)
    found: dict[tuple[str, Phase], tuple[StoredTry, ...]] = {}
    for reading in visit.readings if visit is not None else ():
        standing = [one for one in reading.tries if one.taken_back_at is None]
        phase = next(name for name in phases if name == reading.phase)
        if standing:
            found[reading.valve, phase] = tuple(_stored(one) for one in standing)
    return found


def _stored(row: TryRow) -> StoredTry:
    model = TryModel.model_validate(row.data)
    return StoredTry(row.id, tuple(model.blades_mm), model.felt)


def _reading_for(visit: VisitRow, valve: str, phase: Phase) -> ReadingRow:
    """The last reading of a valve in a phase; a new one where there is none."""
    for reading in reversed(visit.readings):
        if reading.valve == valve and reading.phase == phase:
            return reading
    reading = ReadingRow(position=len(visit.readings), valve=valve, phase=phase, data={})
    visit.readings.append(reading)
    return reading


def add_try(
    session: Session,
    engine_id: str,
    visit_id: str,
    try_id: str,
    *,
    valve: str,
    phase: Phase,
    one: TryModel,
    now: datetime,
) -> bool:
    """Store an answer at a visit that is there, or find it stored already.

    False where the identifier stands for another answer, or there is no such visit.
    """
    visit = visit_row(session, engine_id, visit_id)
    if visit is None:
        return False
    existing = session.get(TryRow, try_id)
    if existing is not None:
        reading = session.get_one(ReadingRow, existing.reading_pk)
        same_place = (reading.visit_pk, reading.valve, reading.phase) == (visit.pk, valve, phase)
        return same_place and existing.data == dump(one)
    reading = _reading_for(visit, valve, phase)
    reading.tries.append(TryRow(id=try_id, position=len(reading.tries), data=dump(one), noted_at=now))
    return True


def take_back(session: Session, engine_id: str, visit_id: str, try_id: str, *, now: datetime) -> str | None:
    """Mark an answer as taken back; the valve it was given at, None where there is no such answer.

    Taking back twice keeps the first time.
    """
    visit = visit_row(session, engine_id, visit_id)
    for reading in visit.readings if visit is not None else ():
        for one in reading.tries:
            if one.id == try_id:
                one.taken_back_at = one.taken_back_at or now
                return reading.valve
    return None
