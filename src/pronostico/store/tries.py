"""Answers one by one: stored once under the page's identifier, marked when taken back."""

from dataclasses import dataclass
from datetime import datetime
from typing import get_args

from sqlalchemy.orm import Session

from pronostico.core.visits import Felt, Phase
from pronostico.record.visit import TryModel
from pronostico.store.records import dump
from pronostico.store.rows import visit_with_readings
from pronostico.store.tables import Json, ReadingRow, TryRow, VisitRow


@dataclass(frozen=True, slots=True)
class StoredTry:
    """An answer with its identifier."""

    id: str
    blades_mm: tuple[float, ...]
    felt: Felt


@dataclass(frozen=True, slots=True)
class StoredReading:
    """One reading with its standing answers.

    `crank_turn` counts the turns of the crank from one: a valve may be measured again after another.
    """

    crank_turn: int
    tries: tuple[StoredTry, ...]
    skipped: str | None


def stored_readings(
    session: Session, engine_id: str, visit_id: str
) -> dict[tuple[str, Phase], tuple[StoredReading, ...]]:
    """The readings by valve and phase that have answers or were skipped; none of an unknown visit."""
    visit = visit_with_readings(session, engine_id, visit_id)
    phases: tuple[Phase, ...] = get_args(Phase)
    found: dict[tuple[str, Phase], tuple[StoredReading, ...]] = {}
    for row in visit.readings if visit is not None else ():
        phase = next(name for name in phases if name == row.phase)
        standing = tuple(_stored(one) for one in row.tries if one.taken_back_at is None)
        skipped = row.data.get("skipped")
        if standing or skipped:
            reading = StoredReading(_turn_of(row), standing, skipped)
            found[row.valve, phase] = (*found.get((row.valve, phase), ()), reading)
    return found


def _stored(row: TryRow) -> StoredTry:
    model = TryModel.model_validate(row.data)
    return StoredTry(row.id, tuple(model.blades_mm), model.felt)


def _turn_of(row: ReadingRow) -> int:
    turn = row.data.get("crank_turn")
    return turn if isinstance(turn, int) else 1


def _reading_for(visit: VisitRow, valve: str, phase: Phase, crank_turn: int) -> ReadingRow:
    """The last reading of a valve in a phase at a turn of the crank; a new one where there is none."""
    for reading in reversed(visit.readings):
        if (reading.valve, reading.phase, _turn_of(reading)) == (valve, phase, crank_turn):
            return reading
    data = {} if crank_turn == 1 else {"crank_turn": crank_turn}
    reading = ReadingRow(position=len(visit.readings), valve=valve, phase=phase, data=data)
    visit.readings.append(reading)
    return reading


def put_skipped(
    session: Session, engine_id: str, visit_id: str, *, valve: str, phase: Phase, reason: str | None
) -> bool:
    """Note why a valve is not read, or (None) that it will be; False where there is no such visit."""
    visit = visit_with_readings(session, engine_id, visit_id)
    if visit is None:
        return False
    reading = _reading_for(visit, valve, phase, 1)
    without = {key: value for key, value in reading.data.items() if key != "skipped"}
    reading.data = without if reason is None else {**without, "skipped": reason}
    return True


def add_try(
    session: Session,
    engine_id: str,
    visit_id: str,
    try_id: str,
    *,
    valve: str,
    phase: Phase,
    crank_turn: int,
    one: TryModel,
    now: datetime,
) -> bool:
    """Store an answer at a visit that is there, or find it stored already.

    False where the identifier stands for another answer, or there is no such visit.
    """
    visit = visit_with_readings(session, engine_id, visit_id)
    if visit is None:
        return False
    existing = session.get(TryRow, try_id)
    if existing is not None:
        reading = session.get_one(ReadingRow, existing.reading_pk)
        place = (reading.visit_pk, reading.valve, reading.phase, _turn_of(reading))
        same_place = place == (visit.pk, valve, phase, crank_turn)
        return same_place and existing.data == dump(one)
    reading = _reading_for(visit, valve, phase, crank_turn)
    # Who measures it after all has no reason left for not doing so.
    reading.data = {key: value for key, value in reading.data.items() if key != "skipped"}
    reading.tries.append(TryRow(id=try_id, position=len(reading.tries), data=dump(one), noted_at=now))
    return True


def note_instrument(
    session: Session, engine_id: str, visit_id: str, *, valve: str, phase: Phase, name: str, entered: Json
) -> None:
    """Note what read a valve in a phase, and what it showed, at a reading that is there."""
    visit = visit_with_readings(session, engine_id, visit_id)
    if visit is not None:
        reading = _reading_for(visit, valve, phase, 1)
        reading.data = {**reading.data, "instrument": name, "entered": entered}


def take_back_phase(
    session: Session, engine_id: str, visit_id: str, *, valve: str, phase: Phase, now: datetime
) -> None:
    """Mark every answer given at a valve in a phase as taken back."""
    visit = visit_with_readings(session, engine_id, visit_id)
    for reading in visit.readings if visit is not None else ():
        if (reading.valve, reading.phase) == (valve, phase):
            for one in reading.tries:
                one.taken_back_at = one.taken_back_at or now


def take_back(session: Session, engine_id: str, visit_id: str, try_id: str, *, now: datetime) -> str | None:
    """Mark an answer as taken back; the valve it was given at, None where there is no such answer.

    Taking back twice keeps the first time.
    """
    visit = visit_with_readings(session, engine_id, visit_id)
    for reading in visit.readings if visit is not None else ():
        for one in reading.tries:
            if one.id == try_id:
                one.taken_back_at = one.taken_back_at or now
                return reading.valve
    return None
