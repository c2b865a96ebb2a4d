"""Simulated engines of any size for timing: exhausts that close, some set back, one reading noted wrongly."""

from datetime import date, timedelta

import numpy as np

from pronostico.core.engine import Engine, Spec, Valve
from pronostico.core.simulation.history import PlannedVisit, ValveTruth, simulate
from pronostico.core.visits import Visit
from pronostico.demo.machine import BENCH_SET


def simulated_engine(valves: int, visits: int, *, seed: int = 0) -> tuple[Engine, tuple[Visit, ...]]:
    """An engine with its visits; every other one sets the exhausts back."""
    rng = np.random.default_rng(seed)
    letters = "ab" if valves >= 8 else ("",)
    cylinders = range(1, valves // (2 * len(letters)) + 1)
    names = [f"{n}{side}{letter}" for n in cylinders for side in "IE" for letter in letters]
    engine = Engine(
        "bench",
        "h",
        250.0,
        "screw-rocker",
        tuple(Valve(name, int(name[0]), "intake" if "I" in name else "exhaust") for name in names),
        Spec(0.15, 0.20),
        Spec(0.25, 0.30),
    )
    start, drift = {"intake": 0.175, "exhaust": 0.275}, {"intake": -0.005, "exhaust": -0.015}
    truths = tuple(
        ValveTruth(valve.id, start[valve.side], float(rng.normal(drift[valve.side], 0.008)))
        for valve in engine.valves
    )
    set_back = {valve.id: 0.275 for valve in engine.valves if valve.side == "exhaust"}
    plans = tuple(
        PlannedVisit(
            f"v{index}",
            date(2015, 1, 1) + timedelta(days=200 * index),
            250.0 * index,
            18.0,
            set_mm=set_back if index % 2 else {},
            wrongly_noted=frozenset({names[1]}) if index == visits // 2 else frozenset(),
        )
        for index in range(visits)
    )
    return engine, simulate(engine, truths, plans, tuple(BENCH_SET.blades_mm), rng=rng).visits
