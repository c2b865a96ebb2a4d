"""How good the drift model is: what it predicts of the next check against what is really so then.

Simulated engines of four valves: intakes that stay, exhausts that sink, set back at every other check. Side
by side with a straight line through each valve's readings since it was last set.
"""

from dataclasses import dataclass, field
from datetime import date, timedelta

import numpy as np
from scipy.special import ndtr

from benchmarks.straight_line import predicted
from pronostico.core.drift.forecast import ahead, trend_of
from pronostico.core.drift.model import drifts
from pronostico.core.engine import Engine, Spec, Valve
from pronostico.core.gauge.engine_readings import analyse
from pronostico.core.simulation.history import PlannedVisit, Simulated, ValveTruth, simulate
from pronostico.demo.machine import BENCH_SET

ENGINES, VISITS = 200, 5


@dataclass(slots=True)
class Tally:
    """How often intervals held what came, and the score of the chances given."""

    half: list[bool] = field(default_factory=list)
    most: list[bool] = field(default_factory=list)
    scores: list[float] = field(default_factory=list)

    def add(self, mean: float, sd: float, truth: float, spec: Spec) -> None:
        """One forecast and what came, mm; a plain normal."""
        z = abs(truth - mean) / sd
        self.half.append(z < 0.6745)
        self.most.append(z < 1.6449)
        self.score(float(ndtr((spec.min_mm - mean) / sd)), truth, spec)

    def score(self, p_tight: float, truth: float, spec: Spec) -> None:
        """The chance given to 'tight', and whether it was."""
        self.scores.append((p_tight - (truth < spec.min_mm)) ** 2)

    @property
    def in_half(self) -> float:
        """Share of the 50 % intervals that held the truth."""
        return float(np.mean(self.half))

    @property
    def in_most(self) -> float:
        """Share of the 90 % intervals that held the truth."""
        return float(np.mean(self.most))

    @property
    def brier(self) -> float:
        """Mean squared error of the chances."""
        return float(np.mean(self.scores))


@dataclass(slots=True)
class Study:
    """The whole; `called`: sinking seats called tightening by the third, fourth and fifth visit."""

    model: Tally = field(default_factory=Tally)
    line: Tally = field(default_factory=Tally)
    called: list[float] = field(default_factory=list)
    false_calls: float = 0.0
    false_change_points: float = 0.0


def simulated(seed: int, *, exhaust_drift: float = -0.02) -> Simulated:
    """An engine's visits, exhausts drifting about so much an interval and set back at every other visit."""
    return _made(seed, exhaust_drift)[1]


def _made(seed: int, exhaust_drift: float = -0.02) -> tuple[Engine, Simulated]:
    rng = np.random.default_rng(seed)
    valves = tuple(
        Valve(f"{n}{s}", n, "intake" if s == "I" else "exhaust") for n in (1, 2, 3, 4) for s in "IE"
    )
    engine = Engine("e", "h", 250.0, "screw-rocker", valves, Spec(0.15, 0.20), Spec(0.25, 0.30))
    truths = tuple(
        ValveTruth(
            valve.id,
            float(rng.normal(0.175 if valve.side == "intake" else 0.28, 0.01)),
            float(rng.normal(0.0, 0.002))
            if valve.side == "intake"
            else float(rng.normal(exhaust_drift, 0.25 * abs(exhaust_drift))),
        )
        for valve in valves
    )
    back = {valve.id: 0.28 for valve in valves if valve.side == "exhaust"}
    plans = tuple(
        PlannedVisit(
            f"v{k}",
            date(2015, 1, 1) + timedelta(days=200 * k),
            250.0 * k,
            20.0,
            set_mm=back if k % 2 else {},
        )
        for k in range(VISITS + 1)
    )
    return engine, simulate(engine, truths, plans, tuple(BENCH_SET.blades_mm), rng=rng)


def study() -> Study:
    """All engines."""
    done = Study()
    called = np.zeros((ENGINES * 4, 3), dtype=bool)
    false_calls, change_points, assessed = [], 0, 0
    for number in range(ENGINES):
        engine, made = _made(number)
        truth = {one.valve: one.found_mm for one in made.truth if one.visit == f"v{VISITS}"}
        for at, upto in enumerate((3, 4, VISITS)):
            known = drifts(engine, made.visits[:upto])
            for index, name in enumerate(("1E", "2E", "3E", "4E")):
                drift = known.valves[name].state.of(0.0, 1.0)
                called[4 * number + index, at] = trend_of(drift, Spec(0.25, 0.30)) == "tightening"
        lines = analyse(engine, made.visits[:VISITS])
        for name, valve in known.valves.items():
            spec = valve.chain.specs[-1]
            assert spec is not None
            later = ahead(valve.state, 1.0)
            low, high = later.quantile(0.05), later.quantile(0.95)
            done.model.most.append(low < truth[name] < high)
            done.model.half.append(later.quantile(0.25) < truth[name] < later.quantile(0.75))
            done.model.score(later.below(spec.min_mm), truth[name], spec)
            line = predicted(lines.of(name), 250.0 * VISITS)
            if line is not None:
                done.line.add(line.mean_mm, line.sd_mm, truth[name], spec)
            if "I" in name:
                trend = trend_of(valve.state.of(0.0, 1.0), spec)
                false_calls.append(trend in ("tightening", "loosening"))
            change_points += valve.broke is not None
            assessed += VISITS - 1
    done.called = [float(one) for one in called.mean(axis=0)]
    done.false_calls, done.false_change_points = float(np.mean(false_calls)), change_points / assessed
    return done
