"""What closed cases teach, one lesson a case, and lessons that came from elsewhere."""

from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass
from datetime import date

from sqlalchemy import delete, func, select
from sqlalchemy.orm import Session

from pronostico.core.causes.learning import Lesson, Shown
from pronostico.record.models import CaseModel
from pronostico.store.records import dump
from pronostico.store.rows import case_row
from pronostico.store.tables import CaseRow, Json, LessonRow


@dataclass(frozen=True, slots=True)
class KeptLesson:
    """A lesson under its identifier; `engine`, `case` where it is one of this workshop's own cases."""

    id: str
    closed: date
    lesson: Lesson
    brought_from: str | None = None
    engine: str | None = None
    case: str | None = None


def lesson_document(lesson: Lesson) -> Json:
    """A lesson as JSON."""
    return {
        "expected": dict(lesson.expected),
        "found": dict(lesson.found),
        "shown": [[one.cause, one.finding, one.presence] for one in lesson.shown],
    }


def _lesson(data: Mapping[str, object]) -> Lesson:
    expected, found, shown = data["expected"], data["found"], data["shown"]
    assert isinstance(expected, dict)
    assert isinstance(found, dict)
    assert isinstance(shown, list)
    return Lesson(expected, found, tuple(Shown(*one) for one in shown))


def lessons(session: Session) -> list[KeptLesson]:
    """All of them, the oldest first."""
    rows = session.execute(
        select(LessonRow, CaseRow.engine_id, CaseRow.case_id)
        .outerjoin(CaseRow, CaseRow.pk == LessonRow.case_pk)
        .order_by(LessonRow.closed, LessonRow.id)
    )
    return [
        KeptLesson(row.id, row.closed, _lesson(row.data), row.brought_from, engine, case)
        for row, engine, case in rows
    ]


def close_case(session: Session, engine_id: str, case: CaseModel, lesson: KeptLesson | None) -> None:
    """Write the end of a case, and what it teaches in place of what it taught; the case must be there."""
    row = case_row(session, engine_id, case.id)
    assert row is not None
    row.closed = case.closed
    row.data = dump(case, "id", "opened", "closed", "findings")
    session.execute(delete(LessonRow).where(LessonRow.case_pk == row.pk))
    if lesson is not None:
        session.add(
            LessonRow(id=lesson.id, case_pk=row.pk, closed=lesson.closed, data=lesson_document(lesson.lesson))
        )


def known_lessons(session: Session, ids: Iterable[str]) -> set[str]:
    """Those of some identifiers that are there already."""
    wanted = list(ids)
    found: set[str] = set()
    for start in range(0, len(wanted), 500):
        some = wanted[start : start + 500]
        found.update(session.scalars(select(LessonRow.id).where(LessonRow.id.in_(some))))
    return found


def add_lessons(session: Session, new: Sequence[KeptLesson]) -> None:
    """Lessons that were brought from elsewhere; one that names a case of the workshop is that case's."""
    for one in new:
        case = None if one.engine is None or one.case is None else case_row(session, one.engine, one.case)
        taken = case is not None and session.scalar(select(LessonRow.id).where(LessonRow.case_pk == case.pk))
        session.add(
            LessonRow(
                id=one.id,
                case_pk=None if case is None or taken else case.pk,
                brought_from=one.brought_from,
                closed=one.closed,
                data=lesson_document(one.lesson),
            )
        )
        session.flush()


def brought(session: Session) -> list[tuple[str, int]]:
    """The files that lessons were brought from, and how many came from each."""
    rows = session.execute(
        select(LessonRow.brought_from, func.count())
        .where(LessonRow.brought_from.is_not(None))
        .group_by(LessonRow.brought_from)
        .order_by(LessonRow.brought_from)
    )
    return [(name, count) for name, count in rows if name is not None]


def take_back(session: Session, brought_from: str) -> int:
    """Forget the lessons that were brought from a file; how many they were."""
    gone = session.execute(
        delete(LessonRow).where(LessonRow.brought_from == brought_from).returning(LessonRow.id)
    )
    return len(gone.all())
