"""The practice engine: runs begun, gone on with step by step, and looked back on; progress by learner."""

from dataclasses import asdict
from datetime import datetime
from typing import Literal

import numpy as np
from pydantic import BaseModel, ConfigDict
from sqlalchemy.orm import Session

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
    HintOut,
    LessonOut,
    MistakeOut,
    PracticeOut,
    PractisedValveOut,
    ReviewedValveOut,
    ReviewOut,
    RunOut,
    StopOut,
)
from pronostico.analysis.report import SpecOut, estimate_out
from pronostico.core.gauge.advice import next_blade, prior_for_advice
from pronostico.core.gauge.reading import estimate
from pronostico.core.practice.faults import FAULTS, afflicted
from pronostico.core.practice.review import Goal, Review, review
from pronostico.core.practice.run import Done, Practice, Step, StepKind
from pronostico.core.visits import InstrumentKind, Phase
from pronostico.errors import AlreadyThere, NotThere, Refused, Stale
from pronostico.instruments.figures import figures_of
from pronostico.instruments.kinds import HeldAt, channels_of, read, simulated_bench
from pronostico.instruments.samples import Sample
from pronostico.knowledge import load_knowledge
from pronostico.knowledge.patterns import load_patterns
from pronostico.knowledge.practice import Lesson, load_practice
from pronostico.record.engine import EngineModel
from pronostico.record.faults import Fault
from pronostico.services.instruments.import_reading import cylinders_of
from pronostico.services.instruments.simulated_engine import sound_engine
from pronostico.services.instruments.traces import Reading, check_held
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


def _lesson_out(lesson: Lesson, progress: dict[str, store.Progress]) -> LessonOut:
    made = progress.get(lesson.id)
    return LessonOut(
        **lesson.model_dump(include={"id", "grade", "title", "task", "teaches", "caution"}),
        engine=_label_of(lesson.pattern),
        goals=[GOAL_WORDS[goal] for goal in lesson.goals],
        runs=0 if made is None else made.runs,
        passed=made is not None and made.passed,
    )


def _label_of(pattern: str) -> str:
    return next(one.label for one in load_patterns() if one.id == pattern)


def _cause_label(cause: str) -> str:
    return load_knowledge().causes[cause].label


def practice(session: Session, learner: str) -> PracticeOut:
    """The lessons with a learner's progress, and what free practice can be of."""
    known = load_practice()
    progress = {one.lesson: one for one in store.progress_of(session, learner)}
    return PracticeOut(
        lessons=[_lesson_out(one, progress) for one in sorted(known.lesson, key=lambda one: one.grade)],
        engines=[ChoiceOut(id=one.pattern, label=_label_of(one.pattern)) for one in known.bench],
        faults=[ChoiceOut(id=one.cause, label=_cause_label(one.cause)) for one in known.fault],
        learners=store.learners(session),
    )


def _engine(pattern: str) -> EngineModel:
    document = next(one for one in load_patterns() if one.id == pattern).document()
    return EngineModel.model_validate({**document, "name": _label_of(pattern)})


def _faults_for(pattern: str) -> list[str]:
    """The faults that an engine can have."""
    engine = _engine(pattern)
    rods = engine.adjustment == "screw-pushrod"
    return [
        cause
        for cause in FAULTS
        if (cause != "release-lost" or engine.decompression_lift_mm is not None)
        and (cause != "rod-bent" or rods)
        and (cause != "seat-recession" or len(cylinders_of(engine)) > 1)
    ]


def begin_run(
    session: Session,
    run_id: str,
    *,
    learner: str,
    lesson: str | None,
    pattern: str | None,
    fault: str | None,
    seed: int,
    now: datetime,
) -> None:
    """Begin a lesson, or free practice on a chosen engine; the same one sent twice is begun once.

    Args:
        fault: for free practice: a cause, 'none', or None: whatever the seed brings.

    Raises:
        NotThere: there is no such lesson.
        Refused: no engine is chosen, or it cannot have the fault.
        AlreadyThere: another run has that id.
    """
    same = store.kept_run(session, run_id)
    if same is not None:
        if (same.learner, same.lesson) == (learner, lesson):
            return
        raise AlreadyThere(f"a run '{run_id}' is there already")
    known = load_practice()
    if lesson is not None:
        taught = known.lesson_of(lesson)
        if taught is None:
            raise NotThere("lesson", lesson)
        data = RunData(pattern=taught.pattern, cause=taught.fault, seed=seed, head_c=taught.head_c)
    else:
        data = _free(pattern, fault, seed)
    store.add_run(session, run_id, learner=learner, lesson=lesson, data=data.model_dump(mode="json"), now=now)
    session.commit()


def _free(pattern: str | None, fault: str | None, seed: int) -> RunData:
    known = load_practice()
    if pattern is None or known.blades_of(pattern) is None:
        engines = ", ".join(one.pattern for one in known.bench)
        raise Refused([Fault("$.pattern", f"must be one of {engines}")])
    possible = _faults_for(pattern)
    rng = np.random.default_rng([seed, 5])
    if fault is None:
        # Now and then nothing is wrong: that has to be seen as well.
        drawn = [*possible, None]
        cause = drawn[int(rng.integers(len(drawn)))]
    elif fault == "none":
        cause = None
    elif fault in possible:
        cause = fault
    else:
        raise Refused([Fault("$.fault", f"this engine can have {', '.join(possible)}, or none")])
    return RunData(pattern=pattern, cause=cause, seed=seed, head_c=float(round(rng.uniform(8.0, 26.0))))


class _Run:
    """A kept run with the practice engine that its steps lead to."""

    def __init__(self, session: Session, run_id: str) -> None:
        kept = store.kept_run(session, run_id)
        if kept is None:
            raise NotThere("run", run_id)
        known = load_practice()
        self.kept = kept
        self.data = RunData.model_validate(kept.data)
        self.lesson = None if kept.lesson is None else known.lesson_of(kept.lesson)
        self.engine = _engine(self.data.pattern)
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
        return review(self.practice, self.goals, rng=np.random.default_rng([self.data.seed, 7]))


def go_on(session: Session, run_id: str, number: int, step: Step) -> None:
    """Do one thing more in a run; the same step sent twice is done once.

    Args:
        number: how many steps the page knows of.

    Raises:
        NotThere: there is no such run.
        Stale: the run has gone on elsewhere.
        Refused: the run is ended, or the step is not complete.
        ImpossibleValue: the crank would be turned back, or what is asked cannot be.
        UnknownValve: the engine has no such valve.
    """
    run = _Run(session, run_id)
    if run.kept.ended:
        raise Refused([Fault("$", "this run is finished; start another")])
    if number < len(run.data.steps) and run.data.steps[number] == step:
        return
    if number != len(run.data.steps):
        raise Stale([Fault("$.number", f"the run has {len(run.data.steps)} steps by now")])
    _check(run, step)
    run.practice.do(step)
    data = run.data.model_copy(update={"steps": [*run.data.steps, step]})
    store.put_run_data(session, run_id, data.model_dump(mode="json"))
    session.commit()


_NEEDS_VALVE: tuple[StepKind, ...] = ("waggle", "look", "blade", "set", "lock")


def _check(run: _Run, step: Step) -> None:
    if step.kind in _NEEDS_VALVE:
        run.practice.valve(step.valve)
    if step.kind == "blade" and not step.blades_mm:
        raise Refused([Fault("$.blades_mm", "must have at least one blade")])
    unknown = [blade for blade in step.blades_mm if blade not in run.practice.blades_mm]
    if unknown:
        raise Refused([Fault("$.blades_mm", f"there is no {unknown[0]:g} mm blade in the set")])
    if step.kind == "name" and step.cause and step.cause not in load_knowledge().causes:
        raise Refused([Fault("$.cause", f"there is no cause '{step.cause}'")])


def figures_of_trace(
    session: Session, run_id: str, kind: InstrumentKind, samples: list[list[float | None]]
) -> tuple[tuple[str, float], ...]:
    """What a trace of a run's instrument comes to, whole or as far as it came.

    Raises:
        NotThere: there is no such run.
        Refused: the samples have not its channels.
    """
    run = _Run(session, run_id)
    channels = channels_of(kind, cylinders_of(run.engine))
    if any(len(row) != 1 + len(channels) for row in samples):
        raise Refused([Fault("$.samples", f"must be seconds and {len(channels)} values")])
    taken = [Sample(row[0] or 0.0, tuple(row[1:])) for row in samples]
    return tuple(figures_of(kind, channels, taken).values.items()) if taken else ()


def read_in_run(
    session: Session,
    run_id: str,
    kind: InstrumentKind,
    *,
    valve: str | None,
    cylinder: int | None,
    oiled: bool,
) -> Reading:
    """An instrument on the practice engine, where its crank stands.

    Raises:
        NotThere: there is no such run.
        Refused: it cannot be held to what is named.
    """
    run = _Run(session, run_id)
    check_held(run.engine, kind, valve, cylinder)
    rng = np.random.default_rng([run.data.seed, 4, len(run.data.steps)])
    crank_deg = run.practice.crank_deg
    bench = simulated_bench(run.practice.condition, rng, crank_deg=crank_deg)
    held = HeldAt(valve or "", cylinder or 1, oiled, crank_deg)
    name, samples = read(bench, kind, held)
    heard = bench.tester.heard(held.cylinder) if kind == "leakdown" else ()
    return Reading(name, channels_of(kind, cylinders_of(run.engine)), heard, samples)


def hint(session: Session, run_id: str, valve: str, phase: Phase) -> HintOut:
    """The blade that the advice would take next at a valve, or that the crank must be turned on first.

    Raises:
        NotThere: there is no such run.
        UnknownValve: the engine has no such valve.
    """
    practice = _Run(session, run_id).practice
    on = practice.valve(valve)
    if not practice.at_rest(on):
        return HintOut(pressed=True, blades_mm=None)
    spec = practice.spec(on)
    advice = next_blade(
        practice.reading(valve, phase),
        practice.blades_mm,
        spec,
        practice.correction(on),
        prior_for_advice(spec, None),
    )
    return HintOut(pressed=False, blades_mm=None if advice.blades_mm is None else list(advice.blades_mm))


def end(session: Session, run_id: str, *, now: datetime) -> None:
    """End a run; ended twice it keeps its first end.

    Raises:
        NotThere: there is no such run.
    """
    run = _Run(session, run_id)
    if not run.kept.ended:
        store.end_run(session, run_id, passed=run.review().passed, now=now)
        session.commit()


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
        case "blade":
            blades = " + ".join(f"{blade:g}" for blade in step.blades_mm)
            return f"{step.valve}: {blades} mm {one.felt}"
        case "set":
            return f"{step.valve}: adjusted to {step.target_mm:g} mm"
        case "lock":
            return f"{step.valve}: locknut tightened"
        case "name":
            return f"diagnosis: {_cause_label(step.cause) if step.cause else 'nothing is wrong'}"
        case "instrument":
            figures = [
                _FIGURE_WORDS[name].format(value) for name, value in step.figures if name in _FIGURE_WORDS
            ]
            where = step.valve or (f"cylinder {step.cylinder}" if step.cylinder else "engine")
            oil = " with oil" if step.oiled else ""
            return f"{where}{oil}: {step.instrument}, {', '.join(figures) or 'no value'}"


def _review_out(run: _Run) -> ReviewOut:
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
    run = _Run(session, run_id)
    practice, condition = run.practice, run.practice.hidden.condition
    progress = {one.lesson: one for one in store.progress_of(session, run.kept.learner)}
    named = [one.step.cause for one in practice.done if one.step.kind == "name"]
    causes = load_knowledge().causes.values()
    return RunOut(
        id=run_id,
        learner=run.kept.learner,
        lesson=None if run.lesson is None else _lesson_out(run.lesson, progress),
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
        log=[_told(one) for one in practice.done],
        named=named[-1] if named else None,
        causes=[ChoiceOut(id=one.id, label=one.label) for one in causes],
        review=_review_out(run) if run.kept.ended else None,
    )
