"""The practice engine: runs begun, gone on with step by step and ended; progress by learner."""

from datetime import datetime

import numpy as np
from sqlalchemy.orm import Session

from pronostico.analysis.practice_report import (
    ChoiceOut,
    HintOut,
    PracticeOut,
)
from pronostico.core.gauge.advice import next_blade, prior_for_advice
from pronostico.core.practice.faults import FAULTS
from pronostico.core.practice.run import Step, StepKind
from pronostico.core.visits import InstrumentKind, Phase
from pronostico.errors import AlreadyThere, NotThere, Refused, Stale
from pronostico.instruments.figures import figures_of
from pronostico.instruments.kinds import HeldAt, channels_of, read, simulated_bench
from pronostico.instruments.samples import Sample
from pronostico.knowledge import load_knowledge
from pronostico.knowledge.practice import load_practice
from pronostico.record.faults import Fault
from pronostico.services.instruments.import_reading import cylinders_of
from pronostico.services.instruments.traces import Reading, check_held
from pronostico.services.practice.run import Run, RunData, cause_label_of, engine_of, label_of
from pronostico.services.practice.run_report import lesson_out
from pronostico.store import practice as store


def practice(session: Session, learner: str) -> PracticeOut:
    """The lessons with a learner's progress, and what free practice can be of."""
    known = load_practice()
    progress = {one.lesson: one for one in store.progress_of(session, learner)}
    return PracticeOut(
        lessons=[lesson_out(one, progress) for one in sorted(known.lesson, key=lambda one: one.grade)],
        engines=[ChoiceOut(id=one.pattern, label=label_of(one.pattern)) for one in known.bench],
        faults=[ChoiceOut(id=one.cause, label=cause_label_of(one.cause)) for one in known.fault],
        learners=store.learners(session),
    )


def _faults_for(pattern: str) -> list[str]:
    """The faults that an engine can have."""
    engine = engine_of(pattern)
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
    run = Run(session, run_id)
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


def _check(run: Run, step: Step) -> None:
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
    run = Run(session, run_id)
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
    run = Run(session, run_id)
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
    practice = Run(session, run_id).practice
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
    run = Run(session, run_id)
    if not run.kept.ended:
        store.end_run(session, run_id, passed=run.review().passed, now=now)
        session.commit()
