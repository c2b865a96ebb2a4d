"""Whether the drift model settles on engines that make no sense: rough hands, entry errors, jumps, gaps.

Every engine is drawn with its own number of valves, visits, drifts, settings and share of wrong answers, far
worse than any workshop's, for that is where expectation propagation may run round a cycle.
"""

from collections import Counter
from collections.abc import Iterator
from datetime import date, timedelta

import numpy as np

from pronostico.core.drift.model import drifts
from pronostico.core.engine import Engine, Spec, Valve
from pronostico.core.gauge.feel import feel_sd_mm
from pronostico.core.visits import Access, Felt, Phase, Reading, Setting, Try, Visit, Work

_ENGINES = 200
_FELT: tuple[Felt, Felt, Felt, Felt] = ("no-go", "drag", "free", "go")
_BLADES_MM = (0.04, 0.05, 0.08, 0.10, 0.13, 0.15, 0.18, 0.20, 0.23, 0.25, 0.28, 0.30, 0.35, 0.40, 0.50)


def _tries(rng: np.random.Generator, gap_mm: float, access: Access, wrong: float) -> tuple[Try, ...]:
    """A few blades about the gap, thinnest first; some answers are noted wrongly."""
    near = sorted(_BLADES_MM, key=lambda blade: abs(blade - gap_mm))
    chosen = sorted(near[: int(rng.integers(1, 5))])
    tries = []
    for blade in chosen:
        margin = gap_mm - blade + rng.normal(0.0, feel_sd_mm(1, access))
        felt: Felt = "no-go" if margin < -0.003 else "drag" if margin < 0.015 else "free"
        if rng.random() < wrong:
            felt = _FELT[int(rng.integers(len(_FELT)))]
        tries.append(Try((blade,), felt))
    return tuple(tries)


def random_engine(seed: int) -> tuple[Engine, tuple[Visit, ...]]:
    """An engine and its visits, drawn from one seed."""
    rng = np.random.default_rng(seed)
    cylinders = int(rng.choice([1, 1, 1, 1, 1, 2, 2, 2, 3, 4]))
    valves = tuple(
        Valve(f"{n}{letter}", n, "intake" if letter == "I" else "exhaust")
        for n in range(1, cylinders + 1)
        for letter in "IE"
    )
    engine = Engine(
        "e",
        "h",
        250.0,
        "screw-rocker",
        valves,
        Spec(0.15, 0.20),
        Spec(0.25, 0.30),
        reference_temperature_c=20.0,
        head_material="aluminium",
        valve_length_mm=100.0,
    )
    middle = {"intake": 0.175, "exhaust": 0.275}
    wrong = float(rng.choice([0.0, 0.02, 0.05, 0.15]))
    gap = {one.id: float(rng.normal(middle[one.side], rng.choice([0.02, 0.1]))) for one in valves}
    drift = {one.id: float(rng.normal(-0.01, 0.03)) for one in valves}
    access: Access = "awkward" if rng.random() < 0.3 else "straight"
    visits: list[Visit] = []
    usage = 0.0
    for k in range(int(rng.integers(1, 9))):
        work: Work = "head-work" if rng.random() < 0.07 else "check"
        readings: list[Reading] = []
        settings: list[Setting] = []
        off = float(rng.normal(0.0, 0.01))
        phases: tuple[Phase, Phase] = ("found", "left")
        for valve in valves:
            jump = float(rng.normal(0.0, 0.15)) if rng.random() < 0.05 else 0.0
            gap[valve.id] += jump
            for phase in phases:
                if rng.random() < (0.1 if phase == "found" else 0.7):
                    continue
                if phase == "left" and rng.random() < 0.5:
                    target = middle[valve.side]
                    settings.append(Setting(valve.id, target_mm=target if rng.random() < 0.7 else None))
                    gap[valve.id] = float(rng.normal(target, 0.03))
                seen = gap[valve.id] + off + float(rng.normal(0.0, 0.005))
                readings.append(Reading(valve.id, phase, _tries(rng, seen, access, wrong), access))
            gap[valve.id] += drift[valve.id]
        day = date(2015, 1, 1) + timedelta(days=200 * k)
        temperature = None if rng.random() < 0.2 else float(rng.uniform(0.0, 35.0))
        visits.append(
            Visit(f"v{k}", day, usage, temperature, work, readings=tuple(readings), settings=tuple(settings))
        )
        usage += float(rng.choice([0.0, 30.0, 250.0, 250.0, 500.0, 1500.0]))
    return engine, tuple(visits)


def rows(first: int = 0, engines: int = _ENGINES) -> Iterator[tuple[int, bool, int]]:
    """Each engine's seed, whether it settled, and its last sweeps."""
    for seed in range(first, first + engines):
        known = drifts(*random_engine(seed))
        yield seed, known.converged, max((one.posterior.sweeps for one in known.components), default=0)


def table_rows() -> list[tuple[str, str]]:
    """What is printed: how many settled, and in how many sweeps."""
    found = list(rows())
    sweeps = Counter(min(count // 5 * 5, 40) for _, _, count in found)
    spread = ", ".join(f"{low} to {low + 4}: {sweeps[low]}" for low in sorted(sweeps))
    settled = sum(settled for _, settled, _ in found)
    return [("settled", f"{settled} of {len(found)}"), ("engines by sweeps", spread)]


if __name__ == "__main__":
    import sys

    first, engines = (int(word) for word in sys.argv[1:3])
    for seed, settled, sweeps in rows(first, engines):
        if not settled or sweeps > 20:
            print(seed, settled, sweeps, flush=True)
    print("done", first, engines)
