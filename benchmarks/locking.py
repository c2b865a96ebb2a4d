"""Valves set as advised by simulated hands: how many end in spec in two lock-ups or fewer.

Each hand's locking has a habit of its own and a scatter; its allowance is learned from the valves it set
before. The spec is 0.05 mm wide.
"""

from collections.abc import Iterator

import numpy as np

from pronostico.core.adjust.locking import LockUp
from pronostico.core.engine import Spec
from pronostico.core.simulation.locking_trial import Hand, set_until_it_holds
from pronostico.demo.machine import BENCH_SET

SPECS = (Spec(0.15, 0.20), Spec(0.25, 0.30))
HANDS, VALVES = 60, 8
SCATTERS_MM = (0.003, 0.006, 0.010, 0.015)


def in_spec(scatter_mm: float, *, learning: bool, seed: int = 7) -> tuple[float, float]:
    """Share of valves in spec, and lock-ups a valve, over hands whose habits differ by 0.015 mm."""
    rng = np.random.default_rng(seed)
    right, used = 0, 0
    for _ in range(HANDS):
        hand = Hand(float(rng.normal(0.0, 0.015)), scatter_mm)
        learned: list[LockUp] = []
        for index in range(VALVES):
            spec = SPECS[index % 2]
            trial = set_until_it_holds(spec, BENCH_SET.blades_mm, hand, rng=rng, learned=learned)
            right += spec.min_mm <= trial.gap_mm <= spec.max_mm
            used += len(trial.lock_ups)
            if learning:
                learned.extend(trial.lock_ups)
    return right / (HANDS * VALVES), used / (HANDS * VALVES)


def rows() -> Iterator[tuple[float, bool, float, float]]:
    """Scatter, whether the allowance is learned, share in spec, lock-ups a valve."""
    for scatter in SCATTERS_MM:
        for learning in (True, False):
            yield scatter, learning, *in_spec(scatter, learning=learning)
