"""What the workshop's closed cases have taught: kept, shown, handed on and taken back."""

from collections.abc import Mapping
from typing import Annotated, Literal

from pydantic import Field
from sqlalchemy.orm import Session

from pronostico.analysis.report_model import ReportModel
from pronostico.core.causes.learning import Learned, Lesson, Shown, learned
from pronostico.knowledge import load_knowledge
from pronostico.language import Text
from pronostico.record.base import Day, Fraction, Identifier, RecordModel
from pronostico.store import lessons as store
from pronostico.store.lessons import KeptLesson

FORMAT: Literal["pronostico/lessons"] = "pronostico/lessons"


class ShareModel(RecordModel):
    """A cause's share of a case."""

    cause: Identifier
    share: Fraction


Shares = Annotated[list[ShareModel], Field(max_length=500)]


class ShownModel(RecordModel):
    """A finding that was looked for where a confirmed cause sat, and how surely it was there."""

    cause: Identifier
    finding: Identifier
    presence: Fraction


class LessonModel(RecordModel):
    """A lesson as it is handed on: shares of causes a priori and as found; findings of the found ones."""

    id: Identifier
    closed: Day
    expected: Shares
    found: Shares
    shown: list[ShownModel] = Field(max_length=2000)


class LessonsDocument(RecordModel):
    """Lessons of a workshop, without a word of whose engines they were."""

    format: Literal["pronostico/lessons"]
    version: Literal[1]
    lessons: list[LessonModel] = Field(max_length=100_000)


class LearnedCauseOut(ReportModel):
    """What was found of a cause, and its probability at one place as stated and as it now is."""

    cause: str
    label: Text
    found: float
    stated: float
    now: float


class BroughtOut(ReportModel):
    """Lessons that came in one file."""

    brought_from: str
    lessons: int


class LearnedOut(ReportModel):
    """What all closed cases have taught; `share`: how much of how likely causes are is from them, 0 to 1."""

    cases: int
    share: float
    nothing_found: int
    causes: list[LearnedCauseOut]
    brought: list[BroughtOut]


class BroughtInOut(ReportModel):
    """How many lessons of a file were new; the others are there already."""

    new: int
    known: int


def workshop_knowledge(session: Session) -> Learned:
    """The knowledge as the workshop's closed cases make it."""
    return learned(load_knowledge(), [one.lesson for one in store.lessons(session)])


def what_was_learned(session: Session) -> LearnedOut:
    """What all closed cases have taught."""
    stated, kept = load_knowledge(), store.lessons(session)
    now = learned(stated, [one.lesson for one in kept])
    causes = [
        LearnedCauseOut(
            cause=kind.id,
            label=kind.label,
            found=now.found.get(kind.id, 0.0),
            stated=stated.causes[kind.id].prior,
            now=kind.prior,
        )
        for kind in now.knowledge.causes.values()
    ]
    return LearnedOut(
        cases=len(kept),
        share=now.spread.share,
        nothing_found=sum(not one.lesson.found for one in kept),
        causes=sorted(causes, key=lambda one: (-one.found, one.label)),
        brought=[BroughtOut(brought_from=name, lessons=count) for name, count in store.brought(session)],
    )


def _shares(by_cause: Mapping[str, float]) -> list[ShareModel]:
    return [ShareModel(cause=cause, share=share) for cause, share in by_cause.items()]


def _by_cause(shares: list[ShareModel]) -> dict[str, float]:
    return {one.cause: one.share for one in shares}


def lessons_document(session: Session) -> LessonsDocument:
    """All lessons, to be handed on."""
    return LessonsDocument(
        format=FORMAT,
        version=1,
        lessons=[lesson_model(one) for one in store.lessons(session)],
    )


def lesson_model(kept: KeptLesson) -> LessonModel:
    """A lesson as it is handed on."""
    return LessonModel(
        id=kept.id,
        closed=kept.closed,
        expected=_shares(kept.lesson.expected),
        found=_shares(kept.lesson.found),
        shown=[
            ShownModel(cause=each.cause, finding=each.finding, presence=each.presence)
            for each in kept.lesson.shown
        ],
    )


def lesson_from(model: LessonModel) -> Lesson:
    """A lesson that was handed on."""
    return Lesson(_by_cause(model.expected), _by_cause(model.found), _shown(model))


def _shown(lesson: LessonModel) -> tuple[Shown, ...]:
    return tuple(Shown(one.cause, one.finding, one.presence) for one in lesson.shown)


def import_learned(session: Session, document: LessonsDocument, brought_from: str) -> BroughtInOut:
    """Take lessons over from a file; those that are there already, from whatever file, count once."""
    unique = {one.id: one for one in document.lessons}
    known = store.known_lessons(session, unique)
    new = [
        KeptLesson(
            id=one.id,
            closed=one.closed,
            lesson=lesson_from(one),
            brought_from=brought_from,
        )
        for one in unique.values()
        if one.id not in known
    ]
    store.add_lessons(session, new)
    session.commit()
    return BroughtInOut(new=len(new), known=len(unique) - len(new))


def take_back(session: Session, brought_from: str) -> int:
    """Forget what was brought from a file; how many lessons that were."""
    gone = store.take_back(session, brought_from)
    session.commit()
    return gone
