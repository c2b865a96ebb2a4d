"""Answers one by one: stored once under the page's identifier, marked when taken back."""

from collections import defaultdict
from collections.abc import Sequence
from dataclasses import dataclass
from datetime import datetime
from typing import get_args

from sqlalchemy import bindparam, func, select
from sqlalchemy.orm import InstrumentedAttribute, Session

from pronostico.core.visits import Felt, Phase
from pronostico.record.visit import TryModel
from pronostico.store.records import dump
from pronostico.store.rows import visit_row
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
    technician: str | None


# Built once: every answer runs them.
_READINGS = (
    select(ReadingRow.pk, ReadingRow.valve, ReadingRow.phase, ReadingRow.data)
    .join(VisitRow, VisitRow.pk == ReadingRow.visit_pk)
    .where(VisitRow.engine_id == bindparam("engine"), VisitRow.visit_id == bindparam("visit"))
    .order_by(ReadingRow.position)
)
_STANDING = (
    select(TryRow.reading_pk, TryRow.id, TryRow.data)
    .join(ReadingRow, ReadingRow.pk == TryRow.reading_pk)
    .join(VisitRow, VisitRow.pk == ReadingRow.visit_pk)
    .where(VisitRow.engine_id == bindparam("engine"), VisitRow.visit_id == bindparam("visit"))
    .where(TryRow.taken_back_at.is_(None))
    .order_by(TryRow.position)
)


_LAST_POSITION = select(func.max(ReadingRow.position)).where(ReadingRow.visit_pk == bindparam("visit"))


def stored_readings(
    session: Session, engine_id: str, visit_id: str
) -> dict[tuple[str, Phase], tuple[StoredReading, ...]]:
    """The readings by valve and phase that have answers or were skipped; none of an unknown visit."""
    phases: tuple[Phase, ...] = get_args(Phase)
    at = {"engine": engine_id, "visit": visit_id}
    standing: dict[int, list[StoredTry]] = defaultdict(list)
    for reading_pk, try_id, data in session.execute(_STANDING, at):
        standing[reading_pk].append(_stored(try_id, data))
    found: dict[tuple[str, Phase], tuple[StoredReading, ...]] = {}
    for pk, valve, stored_phase, data in session.execute(_READINGS, at):
        phase = next(name for name in phases if name == stored_phase)
        skipped = data.get("skipped")
        if standing[pk] or skipped:
            reading = StoredReading(_turn_of(data), tuple(standing[pk]), skipped, data.get("technician"))
            found[valve, phase] = (*found.get((valve, phase), ()), reading)
    return found


def _stored(try_id: str, data: Json) -> StoredTry:
    return StoredTry(try_id, tuple(data["blades_mm"]), data["felt"])


def _turn_of(data: Json) -> int:
    turn = data.get("crank_turn")
    return turn if isinstance(turn, int) else 1


def _readings_of(session: Session, visit: VisitRow, valve: str, phase: Phase) -> Sequence[ReadingRow]:
    """The readings of a valve in a phase; not all of the visit, for speed."""
    query = select(ReadingRow).where(
        ReadingRow.visit_pk == visit.pk, ReadingRow.valve == valve, ReadingRow.phase == phase
    )
    return session.scalars(query.order_by(ReadingRow.position)).all()


def _reading_for(
    session: Session,
    visit: VisitRow,
    valve: str,
    phase: Phase,
    crank_turn: int,
    technician: str | None = None,
) -> ReadingRow:
    """The last reading of a valve in a phase at a turn of the crank; a new one where there is none.

    Where a technician is named it is theirs, or nobody's yet; it becomes the last of the valve.
    """
    readings = _readings_of(session, visit, valve, phase)
    after = 1 + (session.scalar(_LAST_POSITION, {"visit": visit.pk}) or 0)
    for reading in reversed(readings):
        if _turn_of(reading.data) == crank_turn and _may_continue(reading, technician):
            if reading is not readings[-1]:
                reading.position = after
            if technician is not None:
                reading.data = {**reading.data, "technician": technician}
            return reading
    data: Json = {} if crank_turn == 1 else {"crank_turn": crank_turn}
    if technician is not None:
        data["technician"] = technician
    reading = ReadingRow(
        visit_pk=visit.pk,
        position=after,
        valve=valve,
        phase=phase,
        data=data,
    )
    session.add(reading)
    session.flush()
    return reading


def _may_continue(reading: ReadingRow, technician: str | None) -> bool:
    """Whether somebody's answers go with those of a reading: their own, or one without any yet."""
    known = reading.data.get("technician")
    if technician is None or known == technician:
        return True
    return not any(one.taken_back_at is None for one in reading.tries)


def _count(session: Session, column: InstrumentedAttribute[int], key: int) -> int:
    """How many rows have a key in a column."""
    return session.scalar(select(func.count()).where(column == key)) or 0


def put_skipped(
    session: Session, engine_id: str, visit_id: str, *, valve: str, phase: Phase, reason: str | None
) -> bool:
    """Note why a valve is not read, or (None) that it will be; False where there is no such visit."""
    visit = visit_row(session, engine_id, visit_id)
    if visit is None:
        return False
    reading = _reading_for(session, visit, valve, phase, 1)
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
    technician: str | None = None,
) -> bool:
    """Store an answer at a visit that is there, or find it stored already.

    `technician`: who felt it, where that is known: what another felt is another reading.

    False where the identifier stands for another answer, or there is no such visit.
    """
    visit = visit_row(session, engine_id, visit_id)
    if visit is None:
        return False
    existing = session.get(TryRow, try_id)
    if existing is not None:
        reading = session.get_one(ReadingRow, existing.reading_pk)
        place = (reading.visit_pk, reading.valve, reading.phase, _turn_of(reading.data))
        same_place = place == (visit.pk, valve, phase, crank_turn)
        return same_place and existing.data == dump(one)
    reading = _reading_for(session, visit, valve, phase, crank_turn, technician)
    # Who measures it after all has no reason left for not doing so.
    if "skipped" in reading.data:
        reading.data = {key: value for key, value in reading.data.items() if key != "skipped"}
    position = _count(session, TryRow.reading_pk, reading.pk)
    session.add(TryRow(id=try_id, reading_pk=reading.pk, position=position, data=dump(one), noted_at=now))
    return True


def note_instrument(
    session: Session, engine_id: str, visit_id: str, *, valve: str, phase: Phase, name: str, entered: Json
) -> None:
    """Note what read a valve in a phase, and what it showed, at a reading that is there."""
    visit = visit_row(session, engine_id, visit_id)
    if visit is not None:
        reading = _reading_for(session, visit, valve, phase, 1)
        reading.data = {**reading.data, "instrument": name, "entered": entered}


def take_back_phase(
    session: Session, engine_id: str, visit_id: str, *, valve: str, phase: Phase, now: datetime
) -> None:
    """Mark every answer given at a valve in a phase as taken back."""
    visit = visit_row(session, engine_id, visit_id)
    for reading in _readings_of(session, visit, valve, phase) if visit is not None else ():
        for one in reading.tries:
            one.taken_back_at = one.taken_back_at or now


def take_back(session: Session, engine_id: str, visit_id: str, try_id: str, *, now: datetime) -> str | None:
    """Mark an answer as taken back; the valve it was given at, None where there is no such answer.

    Taking back twice keeps the first time.
    """
    query = (
        select(TryRow, ReadingRow.valve)
        .join(ReadingRow, ReadingRow.pk == TryRow.reading_pk)
        .join(VisitRow, VisitRow.pk == ReadingRow.visit_pk)
        .where(VisitRow.engine_id == engine_id, VisitRow.visit_id == visit_id, TryRow.id == try_id)
    )
    found = session.execute(query).one_or_none()
    if found is None:
        return None
    one, valve = found
    one.taken_back_at = one.taken_back_at or now
    return valve
