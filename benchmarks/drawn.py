"""Engines drawn from the drift model itself: there its intervals must hold what they say.

Where a fleet is tamer than the model allows for (drifts that do not wander, settings that hit their target),
the intervals are wider than they would have to be; here they have no such excuse.
"""

from datetime import date, timedelta

import numpy as np

from benchmarks.calibration import ENGINES, VISITS, Tally
from pronostico.core.constants import DEFAULT
from pronostico.core.drift.forecast import ahead
from pronostico.core.drift.model import drifts
from pronostico.core.engine import Engine, Spec, Valve
from pronostico.core.simulation.history import Technician
from pronostico.core.visits import Reading, Setting, Visit
from pronostico.demo.machine import BENCH_SET

_NOTED_C, _TARGET_MM = 20.0, 0.28
_VALVES = tuple(Valve(f"{n}{s}", n, "intake" if s == "I" else "exhaust") for n in (1, 2) for s in "IE")
_ENGINE = Engine(
    "e",
    "h",
    250.0,
    "screw-rocker",
    _VALVES,
    Spec(0.15, 0.20),
    Spec(0.25, 0.30),
    reference_temperature_c=_NOTED_C,
)


def drawn(seed: int) -> tuple[tuple[Visit, ...], dict[str, float]]:
    """Visits an interval apart, exhausts set back at every other one; and each clearance at the one after."""
    rng = np.random.default_rng(seed)
    tau = rng.choice(DEFAULT.valve_drift_sds_mm)
    of_side = {side: rng.normal(0.0, DEFAULT.side_drift_sd_mm) for side in ("intake", "exhaust")}
    start = {"intake": 0.175, "exhaust": 0.275}
    gap = {one.id: rng.normal(start[one.side], DEFAULT.prior_sd_mm) for one in _VALVES}
    drift = {one.id: rng.normal(of_side[one.side], tau) for one in _VALVES}
    q = DEFAULT.drift_wander
    wander = q**2 * np.array([[1.0 / 3.0, 0.5], [0.5, 1.0]])
    hand = Technician(tuple(BENCH_SET.blades_mm), rng)
    visits: list[Visit] = []
    for k in range(VISITS):
        shift = rng.normal(0.0, DEFAULT.visit_shift_sd_mm)
        readings: list[Reading] = []
        settings: list[Setting] = []
        for valve in _VALVES:
            spec = _ENGINE.spec_of(valve, date(2015, 1, 1))
            assert spec is not None
            seen = gap[valve.id] + shift + rng.normal(0.0, DEFAULT.reading_sd_mm)
            readings.append(Reading(valve.id, "found", hand.measure(seen, spec, "straight")))
            if k % 2 and valve.side == "exhaust":
                gap[valve.id] = rng.normal(_TARGET_MM, DEFAULT.set_to_target_sd_mm)
                settings.append(Setting(valve.id, target_mm=_TARGET_MM))
                seen = gap[valve.id] + shift + rng.normal(0.0, DEFAULT.reading_sd_mm)
                readings.append(Reading(valve.id, "left", hand.measure(seen, spec, "straight")))
            moved, turned = rng.multivariate_normal(np.zeros(2), wander)
            gap[valve.id] += drift[valve.id] + moved
            drift[valve.id] += turned
        day = date(2015, 1, 1) + timedelta(days=200 * k)
        visits.append(
            Visit(f"v{k}", day, 250.0 * k, _NOTED_C, readings=tuple(readings), settings=tuple(settings))
        )
    return tuple(visits), gap


def study() -> Tally:
    """What is predicted of the next check of all engines."""
    done = Tally()
    for number in range(ENGINES):
        visits, truth = drawn(number)
        for name, valve in drifts(_ENGINE, visits).valves.items():
            spec = valve.chain.specs[-1]
            assert spec is not None
            later = ahead(valve.state, 1.0)
            done.most.append(later.quantile(0.05) < truth[name] < later.quantile(0.95))
            done.half.append(later.quantile(0.25) < truth[name] < later.quantile(0.75))
            done.score(later.below(spec.min_mm), truth[name], spec)
    return done


if __name__ == "__main__":
    found = study()
    print(f"50 % held {found.in_half:.3f}, 90 % held {found.in_most:.3f}, Brier {found.brier:.3f}")
