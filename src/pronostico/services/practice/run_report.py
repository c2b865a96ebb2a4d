"""A run of practice as the learner sees it, and what it was about once it is ended."""

from dataclasses import asdict
from typing import Literal

from sqlalchemy.orm import Session

from pronostico.analysis import sound_words
from pronostico.analysis.crank_plan import crank_stations
from pronostico.analysis.instrument_kinds import kinds_out
from pronostico.analysis.practice_report import (
    GOAL_WORDS,
    MISTAKE_WORDS,
    AnswerOut,
    ChoiceOut,
    CylinderOut,
    EventsOut,
    GoalOut,
    LessonOut,
    MistakeOut,
    PractisedValveOut,
    ReviewedValveOut,
    ReviewOut,
    RunOut,
    StopOut,
)
from pronostico.analysis.report import SpecOut, estimate_out
from pronostico.core.gauge.reading import estimate
from pronostico.core.practice.run import Done, Practice
from pronostico.core.visits import Phase
from pronostico.knowledge import load_knowledge
from pronostico.knowledge.practice import Lesson
from pronostico.services.instruments.import_reading import cylinders_of
from pronostico.services.practice.run import Run, cause_label_of, label_of
from pronostico.store import practice as store


def lesson_out(lesson: Lesson, progress: dict[str, store.Progress]) -> LessonOut:
    """A lesson with what a learner has made of it."""
    made = progress.get(lesson.id)
    return LessonOut(
        **lesson.model_dump(include={"id", "grade", "title", "task", "teaches", "caution"}),
        engine=label_of(lesson.pattern),
        goals=[GOAL_WORDS[goal] for goal in lesson.goals],
        runs=0 if made is None else made.runs,
        passed=made is not None and made.passed,
    )


def _answers(practice: Practice, valve: str, phase: Phase) -> list[AnswerOut]:
    return [
        AnswerOut(blades_mm=list(one.blades_mm), felt=one.felt)
        for one in practice.reading(valve, phase).tries
    ]


def _waggle(practice: Practice, valve: str) -> Literal["click", "dead"] | None:
    for one in reversed(practice.done):
        if one.step.kind == "turn" or (one.step.kind in ("set", "lock") and one.step.valve == valve):
            return None
        if one.step.kind == "waggle" and one.step.valve == valve:
            return "click" if one.felt == "click" else "dead"
    return None


def _valve_out(practice: Practice, name: str) -> PractisedValveOut:
    valve = practice.valve(name)
    spec, correction = practice.spec(valve), practice.correction(valve)
    of_valve = [one for one in practice.done if one.step.valve == name]
    looked = [one for one in of_valve if one.step.kind == "look"]
    findings = load_knowledge().findings
    return PractisedValveOut(
        valve=name,
        spec=SpecOut(min_mm=spec.min_mm, max_mm=spec.max_mm),
        found=_answers(practice, name, "found"),
        left=_answers(practice, name, "left"),
        found_says=estimate_out(estimate(practice.reading(name, "found"), spec, correction)),
        left_says=estimate_out(estimate(practice.reading(name, "left"), spec, correction)),
        times_set=sum(one.step.kind == "set" for one in of_valve),
        slack=name in practice.unlocked,
        waggle=_waggle(practice, name),
        seen=[findings[one].label for one in looked[-1].findings] if looked else None,
    )


_FIGURE_WORDS = {
    "clearance_mm": "{:.3f} mm",
    "lift_mm": "lift {:.2f} mm",
    "pressure_kpa": "{:.0f} kPa",
    "lost_percent": "{:.0f} % leak-down",
    "trim_long_percent": "trim {:+.0f} %",
    "vacuum_kpa": "vacuum {:.0f} kPa",
    "head_c": "head {:.0f} \u00b0C",
}


def _told(one: Done) -> str:
    """A step in words, for the log."""
    step = one.step
    match step.kind:
        case "turn":
            return f"turned {step.by_deg:g} degrees"
        case "waggle":
            return f"{step.valve}: rocked by hand, {one.felt}"
        case "look":
            return f"{step.valve}: inspected"
        case "sound":
            return "noise of the running engine recorded"
        case "blade":
            blades = " + ".join(f"{blade:g}" for blade in step.blades_mm)
            return f"{step.valve}: {blades} mm {one.felt}"
        case "set":
            return f"{step.valve}: adjusted to {step.target_mm:g} mm"
        case "lock":
            return f"{step.valve}: locknut tightened"
        case "name":
            return f"diagnosis: {cause_label_of(step.cause) if step.cause else 'nothing is wrong'}"
        case "instrument":
            figures = [
                _FIGURE_WORDS[name].format(value) for name, value in step.figures if name in _FIGURE_WORDS
            ]
            where = step.valve or (f"cylinder {step.cylinder}" if step.cylinder else "engine")
            oil = " with oil" if step.oiled else ""
            return f"{where}{oil}: {step.instrument}, {', '.join(figures) or 'no value'}"


def _review_out(run: Run) -> ReviewOut:
    found = run.review()
    cause = None if run.data.cause is None else load_knowledge().causes[run.data.cause]
    return ReviewOut(
        passed=found.passed,
        cause=run.data.cause,
        cause_label="nothing is wrong" if cause is None else cause.label,
        where=list(run.practice.hidden.valves),
        advice=None if cause is None else cause.advice,
        cause_right=found.cause_right,
        tries=found.tries,
        advised_tries=found.advised_tries,
        goals=[GoalOut(words=GOAL_WORDS[goal], met=met) for goal, met in found.goals.items()],
        mistakes=[
            MistakeOut(
                kind=one.kind,
                valve=one.valve,
                step=None if one.step is None else one.step + 1,
                words=MISTAKE_WORDS[one.kind],
            )
            for one in found.mistakes
        ],
        valves=[ReviewedValveOut.model_validate(asdict(one)) for one in found.valves],
        teaches=None if run.lesson is None else run.lesson.teaches,
    )


def run_out(session: Session, run_id: str) -> RunOut:
    """A run as the learner sees it.

    Raises:
        NotThere: there is no such run.
    """
    run = Run(session, run_id)
    practice, condition = run.practice, run.practice.hidden.condition
    progress = {one.lesson: one for one in store.progress_of(session, run.kept.learner)}
    named = [one.step.cause for one in practice.done if one.step.kind == "name"]
    causes = load_knowledge().causes.values()
    return RunOut(
        id=run_id,
        learner=run.kept.learner,
        lesson=None if run.lesson is None else lesson_out(run.lesson, progress),
        engine=run.engine,
        complaint=run.complaint,
        blades_mm=list(practice.blades_mm),
        crank_deg=practice.crank_deg,
        firing=[CylinderOut(cylinder=n, fires_deg=deg) for n, deg in condition.firing.angle_deg.items()],
        events=[
            EventsOut(side=side, opens_deg=one.opens_deg, closes_deg=one.closes_deg)
            for side, one in condition.events.items()
        ],
        stations=[
            StopOut(crank_deg=one.crank_deg, mark=one.mark, valves=one.valves)
            for one in crank_stations(run.engine, "two-turn").stations
        ],
        valves=[_valve_out(practice, valve.id) for valve in run.engine.valves],
        kinds=kinds_out(cylinders_of(run.engine), run.engine.fuel),
        steps=len(practice.done),
        sound_limits=list(sound_words.LIMITS),
        sounds=[number for number, one in enumerate(practice.done) if one.step.kind == "sound"],
        log=[_told(one) for one in practice.done],
        named=named[-1] if named else None,
        causes=[ChoiceOut(id=one.id, label=one.label) for one in causes],
        review=_review_out(run) if run.kept.ended else None,
    )
