"""Runs on the practice engine, kept as what the learner did."""

from dataclasses import dataclass
from datetime import datetime

from sqlalchemy import Integer, cast, func, select
from sqlalchemy.orm import Session

from pronostico.store.tables import Json, PracticeRow


@dataclass(frozen=True, slots=True)
class KeptRun:
    """A run: whose, of which lesson (None: free practice), whether it was ended and passed, and its data."""

    id: str
    learner: str
    lesson: str | None
    ended: bool
    passed: bool | None
    data: Json


@dataclass(frozen=True, slots=True)
class Progress:
    """What a learner has made of a lesson."""

    lesson: str
    runs: int
    passed: bool


def kept_run(session: Session, run_id: str) -> KeptRun | None:
    """A run by its identifier."""
    row = session.get(PracticeRow, run_id)
    if row is None:
        return None
    return KeptRun(row.id, row.learner, row.lesson, row.ended_at is not None, row.passed, row.data)


def add_run(
    session: Session, run_id: str, *, learner: str, lesson: str | None, data: Json, now: datetime
) -> None:
    """Begin a run."""
    session.add(PracticeRow(id=run_id, learner=learner, lesson=lesson, begun_at=now, data=data))


def put_run_data(session: Session, run_id: str, data: Json) -> None:
    """What was done in a run so far; the run must be there."""
    session.get_one(PracticeRow, run_id).data = data


def end_run(session: Session, run_id: str, *, passed: bool, now: datetime) -> None:
    """End a run that is there; one that is ended keeps its first end."""
    row = session.get_one(PracticeRow, run_id)
    if row.ended_at is None:
        row.ended_at, row.passed = now, passed


def progress_of(session: Session, learner: str) -> list[Progress]:
    """What a learner has made of each lesson that was ended at least once."""
    rows = session.execute(
        select(PracticeRow.lesson, func.count(), func.max(cast(PracticeRow.passed, Integer)))
        .where(
            PracticeRow.learner == learner,
            PracticeRow.lesson.is_not(None),
            PracticeRow.ended_at.is_not(None),
        )
        .group_by(PracticeRow.lesson)
    )
    return [Progress(lesson or "", count, bool(passed)) for lesson, count, passed in rows]


def learners(session: Session) -> list[str]:
    """Everybody who has practised, by name."""
    return list(session.scalars(select(PracticeRow.learner).distinct().order_by(PracticeRow.learner)))
