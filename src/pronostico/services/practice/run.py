"""A kept run of practice, with the engine that its steps lead to."""

import numpy as np
from pydantic import BaseModel, ConfigDict
from sqlalchemy.orm import Session

from pronostico.core.practice.faults import afflicted
from pronostico.core.practice.review import Goal, Review, review
from pronostico.core.practice.run import Practice, Step
from pronostico.errors import NotThere
from pronostico.knowledge import load_knowledge
from pronostico.knowledge.patterns import load_patterns
from pronostico.knowledge.practice import load_practice
from pronostico.record.engine import EngineModel
from pronostico.services.instruments.simulated_engine import sound_engine
from pronostico.store import practice as store

_FREE_GOALS: tuple[Goal, ...] = (
    "temperature-first",
    "right-stroke",
    "all-measured",
    "found-first",
    "measured-after-lock",
    "cause-named",
)


class RunData(BaseModel):
    """What a run is made of."""

    model_config = ConfigDict(extra="forbid")

    pattern: str
    cause: str | None
    seed: int
    head_c: float
    steps: list[Step] = []


def engine_of(pattern: str) -> EngineModel:
    """The engine that a pattern describes."""
    document = next(one for one in load_patterns() if one.id == pattern).document()
    return EngineModel.model_validate({**document, "name": label_of(pattern)})


def label_of(pattern: str) -> str:
    """A pattern's name on the page."""
    return next(one.label for one in load_patterns() if one.id == pattern)


def cause_label_of(cause: str) -> str:
    """A cause's name on the page."""
    return load_knowledge().causes[cause].label


class Run:
    """A kept run with the practice engine that its steps lead to.

    Raises:
        NotThere: there is no such run.
    """

    def __init__(self, session: Session, run_id: str) -> None:
        kept = store.kept_run(session, run_id)
        if kept is None:
            raise NotThere("run", run_id)
        known = load_practice()
        self.kept = kept
        self.data = RunData.model_validate(kept.data)
        self.lesson = None if kept.lesson is None else known.lesson_of(kept.lesson)
        self.engine = engine_of(self.data.pattern)
        fault = None if self.data.cause is None else known.fault_of(self.data.cause)
        self.complaint = "Comes in for its regular check." if fault is None else fault.complaint
        hidden = afflicted(
            sound_engine(self.engine),
            self.data.cause,
            np.random.default_rng([self.data.seed, 6]),
            shows=() if fault is None else fault.shows,
            head_c=self.data.head_c,
        )
        blades = known.blades_of(self.data.pattern) or ()
        self.practice = Practice(hidden, self.data.seed, blades, self.data.steps)
        self.goals: tuple[Goal, ...] = _FREE_GOALS if self.lesson is None else self.lesson.goals

    def review(self) -> Review:
        """What was done, held against what should have been."""
        return review(self.practice, self.goals, rng=np.random.default_rng([self.data.seed, 7]))
