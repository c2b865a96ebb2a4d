"""The practice engine against the core alone: who follows the advice, how often is the verdict right."""

from collections.abc import Iterator
from dataclasses import replace

import numpy as np

from benchmarks.technicians import SETS, Tally
from pronostico.core.crank.events import DEFAULT_EVENTS, Firing
from pronostico.core.crank.stations import CrankTask, crank_plan
from pronostico.core.engine import Engine, Spec, Valve
from pronostico.core.gauge.advice import next_blade, prior_for_advice
from pronostico.core.gauge.reading import estimate
from pronostico.core.practice.review import class_of
from pronostico.core.practice.run import Hidden, Practice, Step
from pronostico.core.simulation.condition import Condition, sound

VALVES = 300
_SPEC = Spec(0.15, 0.20)


def _condition() -> Condition:
    valves = (Valve("1I", 1, "intake"), Valve("1E", 1, "exhaust"))
    engine = Engine("bench", "h", 100.0, "screw-rocker", valves, _SPEC, _SPEC)
    return sound(engine, Firing.from_order([1]), DEFAULT_EVENTS)


def _by_advice(practice: Practice, valve: Valve) -> tuple[str, int]:
    while True:
        reading, correction = practice.reading(valve.id, "found"), practice.correction(valve)
        advice = next_blade(reading, practice.blades_mm, _SPEC, correction, prior_for_advice(_SPEC, None))
        if advice.blades_mm is None:
            known = estimate(reading, _SPEC, correction)
            return ("open" if known is None else known.verdict), len(reading.tries)
        practice.do(Step("blade", valve=valve.id, blades_mm=advice.blades_mm))


def rows() -> Iterator[tuple[str, Tally]]:
    """For each set: its name, and the tally of a learner who follows the advice on the practice engine."""
    condition = _condition()
    task = CrankTask(condition.engine.valves, condition.firing, condition.events)
    station = crank_plan(task, "two-turn")[0]
    valve = condition.engine.valve(station.valves[0])
    for name, blades_mm in SETS.items():
        rng, tally = np.random.default_rng(7), Tally()
        for seed in range(VALVES):
            clearance_mm = float(rng.normal(_SPEC.middle_mm, _SPEC.width_mm))
            hidden = Hidden(
                replace(condition, clearance_mm={**condition.clearance_mm, valve.id: clearance_mm}), None, ()
            )
            practice = Practice(hidden, seed, blades_mm)
            away = (station.crank_deg - practice.crank_deg) % 720.0
            if away:
                practice.do(Step("turn", by_deg=away))
            verdict, tries = _by_advice(practice, valve)
            tally.add(verdict, class_of(clearance_mm, _SPEC), tries)
        yield name, tally
