"""Simulated technicians: the advice against walking up the set from mid-spec until bracketed.

The same gaps for both, for a metric set with gaps, a fine set and an inch set, and three specs 0.05 wide.
"""

from collections.abc import Iterator
from dataclasses import dataclass

import numpy as np

from pronostico.core.engine import Spec
from pronostico.core.gauge.advice import next_blade, prior_for_advice
from pronostico.core.gauge.feel import feel_sd_mm
from pronostico.core.gauge.reading import bracket, estimate
from pronostico.core.simulation.history import Technician
from pronostico.core.thermal import Correction
from pronostico.core.visits import Felt, Reading, Try

SETS = {
    "metric, with gaps": (0.04, 0.05, 0.08, 0.10, 0.13, 0.15, 0.18, 0.20, 0.23, 0.25, 0.28, 0.30, 0.35, 0.40),
    "fine": tuple(round(0.03 + 0.01 * i, 2) for i in range(48)),
    "inch": tuple(round(thou * 0.0254, 4) for thou in (1.5, *range(2, 21))),
}
SPECS = (Spec(0.10, 0.15), Spec(0.15, 0.20), Spec(0.25, 0.30))
VALVES = 100
_COLD = Correction(0.0, 0.0)


@dataclass(slots=True)
class Tally:
    """What came of one way of measuring, over all valves of a set."""

    valves: int = 0
    given: int = 0
    right: int = 0
    tries: int = 0

    def add(self, verdict: str, truth: str, tries: int) -> None:
        """Count one valve."""
        self.valves += 1
        self.given += verdict != "open"
        self.right += verdict == truth
        self.tries += tries


def _class_of(clearance_mm: float, spec: Spec) -> str:
    return "tight" if clearance_mm < spec.min_mm else "loose" if clearance_mm > spec.max_mm else "in"


def _felt(gap_mm: float, blades_mm: tuple[float, ...], rng: np.random.Generator) -> Felt:
    margin = gap_mm - sum(blades_mm) + rng.normal(0.0, feel_sd_mm(len(blades_mm), "straight"))
    return "no-go" if margin < -0.003 else "drag" if margin < 0.015 else "free"


def _by_advice(
    gap_mm: float, blades_mm: tuple[float, ...], spec: Spec, rng: np.random.Generator
) -> tuple[str, int]:
    reading = Reading("1I", "found", ())
    while True:
        advice = next_blade(reading, blades_mm, spec, _COLD, prior_for_advice(spec, None))
        if advice.blades_mm is None:
            known = estimate(reading, spec, _COLD)
            return ("open" if known is None else known.verdict), len(reading.tries)
        one = Try(advice.blades_mm, _felt(gap_mm, advice.blades_mm, rng))
        reading = Reading("1I", "found", (*reading.tries, one))


def _by_ladder(gap_mm: float, technician: Technician, spec: Spec) -> tuple[str, int]:
    tries = technician.measure(gap_mm, spec, "straight")
    ends = bracket(tries)
    low, high = ends.went_mm, ends.refused_mm
    middle = 0.5 * ((low if low is not None else 0.0) + (high if high is not None else (low or 0.0) + 0.02))
    return _class_of(middle, spec), len(tries)


def rows() -> Iterator[tuple[str, Tally, Tally]]:
    """For each set: its name, the advice's tally and the ladder's."""
    for name, blades_mm in SETS.items():
        rng = np.random.default_rng(7)
        technician = Technician(blades_mm, rng)
        advice, ladder = Tally(), Tally()
        for spec in SPECS:
            for _ in range(VALVES):
                gap_mm = float(rng.normal(spec.middle_mm, spec.width_mm))
                truth = _class_of(gap_mm, spec)
                verdict, tries = _by_advice(gap_mm, blades_mm, spec, rng)
                advice.add(verdict, truth, tries)
                verdict, tries = _by_ladder(gap_mm, technician, spec)
                ladder.add(verdict, truth, tries)
        yield name, advice, ladder
