"""The practice engine as it leaves: lessons, runs, the look back, and the words for goals and mistakes."""

from typing import Literal

from pronostico.analysis.instrument_kinds import InstrumentOut
from pronostico.analysis.report import EstimateOut, SpecOut
from pronostico.analysis.report_model import ReportModel
from pronostico.core.practice.review import Goal, MistakeKind
from pronostico.language import Text
from pronostico.record.engine import EngineModel

GOAL_WORDS: dict[Goal, str] = {
    "right-stroke": "every valve measured with its lobe pointing away",
    "found-first": "nothing adjusted before it was measured",
    "measured-after-lock": "re-measured after every tightening",
    "all-measured": "every valve measured until decided",
    "all-in": "every valve left within spec",
    "cause-named": "correct diagnosis",
    "temperature-first": "the head's temperature taken before the first blade",
    "few-tries": "few blades: those that the hint would take, or at most half as many again plus three",
    "oil-too": "compression again with a little oil where it was low",
    "second-turn": "the valve measured on two turns of the camshaft",
    "lift-taken": "valve lift measured with the dial indicator",
    "nothing-touched": "nothing adjusted, because nothing needs it",
    "waggled": "every rocker arm rocked by hand with its lobe away",
}
MISTAKE_WORDS: dict[MistakeKind, str] = {
    "wrong-stroke": "measured while the valve was open: wrong stroke",
    "set-before-measured": "adjusted before it was measured: the as-found reading is lost",
    "not-measured-after-lock": "not re-measured after tightening",
    "left-slack": "left with a slack locknut",
    "not-measured": "not measured until decided",
    "temperature-late": "first blade tried before the temperature was checked",
}


class LessonOut(ReportModel):
    """A lesson, and what the learner has made of it."""

    id: str
    grade: int
    title: Text
    engine: Text
    task: Text
    teaches: Text
    caution: Text
    goals: list[Text]
    runs: int
    passed: bool


class ChoiceOut(ReportModel):
    """Something that can be chosen: an engine, a fault."""

    id: str
    label: Text


class PracticeOut(ReportModel):
    """The lessons with a learner's progress, and what free practice can be of."""

    lessons: list[LessonOut]
    engines: list[ChoiceOut]
    faults: list[ChoiceOut]
    learners: list[str]


class AnswerOut(ReportModel):
    """A blade or stack that was offered, mm, and what was felt."""

    blades_mm: list[float]
    felt: str


class PractisedValveOut(ReportModel):
    """One valve as the learner knows it: the tries that count, what they say, whether its nut is slack.

    `waggle`: what the last waggle said where the crank stands now; null: none there.
    """

    valve: str
    spec: SpecOut
    found: list[AnswerOut]
    left: list[AnswerOut]
    found_says: EstimateOut | None
    left_says: EstimateOut | None
    times_set: int
    slack: bool
    waggle: Literal["click", "dead"] | None
    seen: list[str] | None


class CylinderOut(ReportModel):
    """When a cylinder fires, degrees after cylinder 1."""

    cylinder: int
    fires_deg: float


class EventsOut(ReportModel):
    """When the valves of a side open and close, degrees of their cylinder's own angle."""

    side: Literal["intake", "exhaust"]
    opens_deg: float
    closes_deg: float


class StopOut(ReportModel):
    """A crank position from the engine's table, and the valves to measure there."""

    crank_deg: float
    mark: str
    valves: list[str]


class MistakeOut(ReportModel):
    """Something done out of order, in words; `step` counts from one, null: it was left out."""

    kind: MistakeKind
    valve: str
    step: int | None
    words: Text


class ReviewedValveOut(ReportModel):
    """One valve looked back on, mm."""

    valve: str
    was_mm: float
    is_mm: float
    truly: Text
    verdict: Text | None
    right: bool | None
    tries: int
    advised_tries: float
    in_spec_now: bool


class GoalOut(ReportModel):
    """What was asked, and whether it was met."""

    words: Text
    met: bool


class ReviewOut(ReportModel):
    """A run looked back on: the truth, the tries against the advice, what was missed or done out of order."""

    passed: bool
    cause: str | None
    cause_label: Text
    where: list[Text]
    advice: Text | None
    cause_right: bool | None
    tries: int
    advised_tries: float
    goals: list[GoalOut]
    mistakes: list[MistakeOut]
    valves: list[ReviewedValveOut]
    teaches: Text | None


class RunOut(ReportModel):
    """A run as the learner sees it; `review` once it is ended.

    `sounds`: the numbers of the steps at which its noise was recorded. `sound_limits`: what that cannot do.
    """

    id: str
    learner: str
    lesson: LessonOut | None
    engine: EngineModel
    complaint: Text
    blades_mm: list[float]
    crank_deg: float
    firing: list[CylinderOut]
    events: list[EventsOut]
    stations: list[StopOut]
    valves: list[PractisedValveOut]
    kinds: list[InstrumentOut]
    steps: int
    sounds: list[int]
    sound_limits: list[Text]
    log: list[Text]
    named: str | None
    causes: list[ChoiceOut]
    review: ReviewOut | None


class HintOut(ReportModel):
    """The blade that the advice would take next at a valve; null: it is settled, or no blade tells more.

    `pressed`: its lobe presses on it where the crank stands; no blade tells anything before it is turned on.
    """

    pressed: bool
    blades_mm: list[float] | None
