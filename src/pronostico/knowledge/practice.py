"""The practice engine's faults in words, its sets of blades, and its lessons."""

from functools import cache
from typing import Annotated

from pydantic import Field

from pronostico.core.errors import KnowledgeFault
from pronostico.core.practice.faults import FAULTS
from pronostico.core.practice.review import Goal
from pronostico.knowledge.entries import Entry, parse_file, shipped_text
from pronostico.knowledge.patterns import load_patterns

_FILE = "practice.toml"


class PracticeBench(Entry):
    """An engine that can be practised on, and the blades available, mm."""

    pattern: str
    blades_mm: tuple[float, ...]


class PracticeFault(Entry):
    """A fault: its cause, what the owner says, and what is to be seen at the valve."""

    cause: str
    complaint: str
    shows: tuple[str, ...] = ()


class Lesson(Entry):
    """A lesson: an engine with a fault (none: nothing is wrong), what to do, what it teaches, its caution."""

    id: str
    grade: Annotated[int, Field(ge=1, le=10)]
    title: str
    pattern: str
    fault: str | None = None
    head_c: float = 18.0
    task: str
    teaches: str
    caution: str
    goals: Annotated[tuple[Goal, ...], Field(min_length=1)]


class PracticeFile(Entry):
    """All that the practice engine knows."""

    bench: tuple[PracticeBench, ...]
    fault: tuple[PracticeFault, ...]
    lesson: tuple[Lesson, ...]

    def lesson_of(self, id: str) -> Lesson | None:
        """A lesson by its identifier."""
        return next((one for one in self.lesson if one.id == id), None)

    def fault_of(self, cause: str) -> PracticeFault | None:
        """A fault by its cause."""
        return next((one for one in self.fault if one.cause == cause), None)

    def blades_of(self, pattern: str) -> tuple[float, ...] | None:
        """The blades for an engine, mm; None where it cannot be practised on."""
        return next((one.blades_mm for one in self.bench if one.pattern == pattern), None)


def parse_practice(text: str) -> PracticeFile:
    """The practice engine's file.

    Raises:
        KnowledgeFault: an engine or a fault that there is not.
    """
    known = parse_file(_FILE, text, PracticeFile)
    patterns = {one.id for one in load_patterns()}
    for bench in known.bench:
        if bench.pattern not in patterns:
            raise KnowledgeFault(f"{_FILE}: there is no template '{bench.pattern}'")
    for fault in known.fault:
        if fault.cause not in FAULTS:
            raise KnowledgeFault(f"{_FILE}: the practice engine cannot have '{fault.cause}'")
    for lesson in known.lesson:
        if known.blades_of(lesson.pattern) is None:
            raise KnowledgeFault(f"{_FILE}: {lesson.id}: '{lesson.pattern}' cannot be practised on")
        if lesson.fault is not None and known.fault_of(lesson.fault) is None:
            raise KnowledgeFault(f"{_FILE}: {lesson.id}: there is no fault '{lesson.fault}'")
    return known


@cache
def load_practice() -> PracticeFile:
    """What ships with the application."""
    return parse_practice(shipped_text(_FILE))
