"""A practice run looked back on: what was true, what was seen of it, and what was done out of order."""

from collections.abc import Callable, Iterator
from dataclasses import dataclass
from typing import Literal

import numpy as np

from pronostico.core.constants import DEFAULT, Constants
from pronostico.core.engine import Spec, Valve
from pronostico.core.gauge.advice import next_blade, prior_for_advice
from pronostico.core.gauge.reading import Class, Verdict, estimate
from pronostico.core.practice.run import Done, Practice
from pronostico.core.simulation.history import Technician
from pronostico.core.visits import Reading, Try

MistakeKind = Literal[
    "wrong-stroke",
    "set-before-measured",
    "not-measured-after-lock",
    "left-slack",
    "not-measured",
    "temperature-late",
]
Goal = Literal[
    "right-stroke",
    "found-first",
    "measured-after-lock",
    "all-measured",
    "all-in",
    "cause-named",
    "temperature-first",
    "few-tries",
    "oil-too",
    "second-turn",
    "lift-taken",
    "nothing-touched",
    "waggled",
]

# What stands within this of a limit may as well be either: no verdict there is wrong.
_CLOSE_MM = 0.006
_TRIES_ALLOWED, _TRIES_OVER = 1.5, 3
# Measured again with the verdict "in": as well as blades allow, if it lies within this of a limit.
_LEFT_CLOSE_MM = 0.015
_ADVISED_RUNS = 5


@dataclass(frozen=True, slots=True)
class Mistake:
    """Something done out of order: what, at which valve, at which step (from 0; None: it was left out)."""

    kind: MistakeKind
    valve: str
    step: int | None


@dataclass(frozen=True, slots=True)
class ReviewedValve:
    """One valve: what it truly was and is (mm), what the learner's tries as found said, how many there were.

    `right`: whether the verdict as found is the truth; None where it was left open.
    """

    valve: str
    was_mm: float
    is_mm: float
    truly: Class
    verdict: Verdict | None
    right: bool | None
    tries: int
    advised_tries: float
    in_spec_now: bool


@dataclass(frozen=True, slots=True)
class Review:
    """A run looked back on; `goals`: each that was asked for, and whether it was met."""

    valves: tuple[ReviewedValve, ...]
    mistakes: tuple[Mistake, ...]
    cause_right: bool | None
    tries: int
    advised_tries: float
    goals: dict[Goal, bool]

    @property
    def passed(self) -> bool:
        """Whether every goal was met."""
        return all(self.goals.values())


def class_of(clearance_mm: float, spec: Spec) -> Class:
    """Tight, in or loose, of a true clearance."""
    return "tight" if clearance_mm < spec.min_mm else "loose" if clearance_mm > spec.max_mm else "in"


def _near_limit(clearance_mm: float, spec: Spec, close_mm: float) -> bool:
    return min(abs(clearance_mm - spec.min_mm), abs(clearance_mm - spec.max_mm)) < close_mm


def advised_tries(
    practice: Practice, valve: Valve, rng: np.random.Generator, constants: Constants = DEFAULT
) -> float:
    """How many tries a hand that follows the advice needs on average at a valve as it truly was."""
    spec, correction = practice.spec(valve), practice.correction(valve)
    technician = Technician(practice.blades_mm, rng, constants)
    true_mm = practice.hidden.condition.clearance_mm[valve.id] + correction.correction_mm
    total = 0
    for _ in range(_ADVISED_RUNS):
        gap_mm = true_mm + float(rng.normal(0.0, constants.reading_sd_mm))
        reading = Reading(valve.id, "found", ())
        while True:
            advice = next_blade(
                reading,
                practice.blades_mm,
                spec,
                correction,
                prior_for_advice(spec, None),
                constants=constants,
            )
            if advice.blades_mm is None:
                break
            felt = technician.feel(gap_mm, sum(advice.blades_mm), "straight")
            reading = Reading(valve.id, "found", (*reading.tries, Try(advice.blades_mm, felt)))
        total += len(reading.tries)
    return total / _ADVISED_RUNS


def _measured(practice: Practice, valve: Valve, constants: Constants) -> bool:
    """Whether a valve as found was measured as far as blades tell: settled, or nothing more to be had."""
    reading = practice.reading(valve.id, "found")
    if not reading.tries:
        return False
    spec, correction = practice.spec(valve), practice.correction(valve)
    advice = next_blade(
        reading,
        practice.blades_mm,
        spec,
        correction,
        prior_for_advice(spec, None),
        constants=constants,
    )
    return advice.blades_mm is None


def _as_advised(practice: Practice, valve: Valve, constants: Constants) -> bool:
    """Whether each try as found was the one that the advice would have taken."""
    reading = practice.reading(valve.id, "found")
    spec, correction = practice.spec(valve), practice.correction(valve)
    for index, one in enumerate(reading.tries):
        before = Reading(valve.id, "found", reading.tries[:index])
        prior = prior_for_advice(spec, None)
        advice = next_blade(before, practice.blades_mm, spec, correction, prior, constants=constants)
        if advice.blades_mm != one.blades_mm:
            return False
    return True


def _of(practice: Practice, kind: str, valve: str | None = None) -> list[tuple[int, Done]]:
    return [
        (index, one)
        for index, one in enumerate(practice.done)
        if one.step.kind == kind and valve in (None, one.step.valve)
    ]


def _mistakes(practice: Practice, goals: tuple[Goal, ...], constants: Constants) -> Iterator[Mistake]:
    """What was done out of order; what was left out, or not looked up first, only where it was asked for."""
    engine = practice.hidden.condition.engine
    for index, one in _of(practice, "blade"):
        if not one.at_rest:
            yield Mistake("wrong-stroke", one.step.valve, index)
    for valve in engine.valves:
        set_at = [index for index, _ in _of(practice, "set", valve.id)]
        tried_at = [index for index, _ in _of(practice, "blade", valve.id)]
        if set_at and not any(index < set_at[0] for index in tried_at):
            yield Mistake("set-before-measured", valve.id, set_at[0])
        elif "all-measured" in goals and not set_at and not _measured(practice, valve, constants):
            yield Mistake("not-measured", valve.id, None)
        locked_at = [index for index, _ in _of(practice, "lock", valve.id)]
        if valve.id in practice.unlocked:
            yield Mistake("left-slack", valve.id, set_at[-1])
        elif locked_at and not any(index > locked_at[-1] for index in tried_at):
            yield Mistake("not-measured-after-lock", valve.id, locked_at[-1])
    tried = _of(practice, "blade")
    warm_at = [index for index, one in _of(practice, "instrument") if one.step.instrument == "thermometer"]
    if "temperature-first" in goals and tried and not any(index < tried[0][0] for index in warm_at):
        yield Mistake("temperature-late", tried[0][1].step.valve, tried[0][0])


def _reviewed(
    practice: Practice, valve: Valve, rng: np.random.Generator, constants: Constants
) -> ReviewedValve:
    spec = practice.spec(valve)
    reading = practice.reading(valve.id, "found")
    known = estimate(reading, spec, practice.correction(valve), constants)
    was, now = practice.hidden.condition.clearance_mm[valve.id], practice.clearance_mm[valve.id]
    verdict = None if known is None else known.verdict
    truly = class_of(was, spec)
    right = None if verdict in (None, "open") else verdict == truly or _near_limit(was, spec, _CLOSE_MM)
    return ReviewedValve(
        valve=valve.id,
        was_mm=was,
        is_mm=now,
        truly=truly,
        verdict=verdict,
        right=right,
        tries=len(reading.tries),
        advised_tries=advised_tries(practice, valve, rng, constants),
        in_spec_now=class_of(now, spec) == "in" or _near_limit(now, spec, _LEFT_CLOSE_MM),
    )


def _left_well(practice: Practice, reviewed: ReviewedValve, constants: Constants) -> bool:
    """Whether a valve was left in spec, or as well as blades can tell where its lobe was away."""
    if reviewed.in_spec_now:
        return True
    name = reviewed.valve
    if name in practice.unlocked or any(not one.at_rest for _, one in _of(practice, "blade", name)):
        return False
    valve = practice.valve(name)
    reading = practice.reading(name, "left" if _of(practice, "set", name) else "found")
    spec, correction = practice.spec(valve), practice.correction(valve)
    known = estimate(reading, spec, correction, constants)
    if known is None or known.verdict != "open":
        return known is not None and known.verdict == "in"
    prior = prior_for_advice(spec, None)
    further = next_blade(reading, practice.blades_mm, spec, correction, prior, constants=constants)
    return further.blades_mm is None


def _named_right(practice: Practice) -> bool | None:
    named = _of(practice, "name")
    return None if not named else named[-1][1].step.cause == (practice.hidden.cause or "")


def _instruments(practice: Practice, kind: str) -> list[Done]:
    return [one for _, one in _of(practice, "instrument") if one.step.instrument == kind]


def _oiled_too(practice: Practice) -> bool:
    gauge = _instruments(practice, "compression")
    dry = {one.step.cylinder for one in gauge if not one.step.oiled}
    return any(one.step.oiled and one.step.cylinder in dry for one in gauge)


def _second_turn(practice: Practice) -> bool:
    """Whether a faulty valve was measured in one turn of its cam and again in another."""
    turns: dict[str, set[int]] = {}
    for _, one in _of(practice, "blade"):
        if one.at_rest:
            turns.setdefault(one.step.valve, set()).add(int(one.crank_deg // 720.0))
    return any(len(turns.get(valve, ())) > 1 for valve in practice.hidden.valves)


def review(
    practice: Practice, goals: tuple[Goal, ...], *, rng: np.random.Generator, constants: Constants = DEFAULT
) -> Review:
    """Look back on a run.

    Args:
        goals: what was asked of the learner.
        rng: for how many tries the advice would have taken.
    """
    engine = practice.hidden.condition.engine
    valves = tuple(_reviewed(practice, valve, rng, constants) for valve in engine.valves)
    mistakes = tuple(_mistakes(practice, goals, constants))
    kinds = {one.kind for one in mistakes}
    cause_right = _named_right(practice)
    tries, advised = sum(one.tries for one in valves), sum(one.advised_tries for one in valves)
    waggled = {one.step.valve for _, one in _of(practice, "waggle") if one.at_rest}
    met: dict[Goal, Callable[[], bool]] = {
        # A rocker waggled with its lobe away is found at its place as well as one measured there.
        "right-stroke": lambda: (
            "wrong-stroke" not in kinds and (bool(_of(practice, "blade")) or bool(waggled))
        ),
        "found-first": lambda: "set-before-measured" not in kinds,
        "measured-after-lock": lambda: not kinds & {"not-measured-after-lock", "left-slack"},
        "all-measured": lambda: not kinds & {"not-measured", "set-before-measured"},
        "all-in": lambda: all(_left_well(practice, one, constants) for one in valves),
        "cause-named": lambda: cause_right is True,
        "temperature-first": lambda: (
            "temperature-late" not in kinds and bool(_instruments(practice, "thermometer"))
        ),
        # Who took what was advised took few enough, however the blades fell.
        "few-tries": lambda: (
            tries > 0
            and (
                tries <= _TRIES_ALLOWED * advised + _TRIES_OVER
                or all(_as_advised(practice, valve, constants) for valve in engine.valves)
            )
        ),
        "oil-too": lambda: _oiled_too(practice),
        "second-turn": lambda: _second_turn(practice),
        "lift-taken": lambda: bool(_instruments(practice, "dial-lift")),
        "nothing-touched": lambda: not _of(practice, "set"),
        "waggled": lambda: waggled >= {valve.id for valve in engine.valves},
    }
    return Review(valves, mistakes, cause_right, tries, advised, {goal: met[goal]() for goal in goals})
