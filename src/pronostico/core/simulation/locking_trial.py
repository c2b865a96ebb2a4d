"""A simulated hand that sets valves against a blade and locks them, until the blade holds.

For trying the advice on setting against what is really so. All chance comes from the generator that is
handed in.
"""

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from pronostico.core.adjust.locking import LockUp, lock_up_of, locking_allowance_mm, set_with_mm
from pronostico.core.constants import DEFAULT, Constants
from pronostico.core.engine import Spec
from pronostico.core.simulation.history import Technician
from pronostico.core.visits import Try


@dataclass(frozen=True, slots=True)
class Hand:
    """How somebody's locking moves a setting, mm: always by so much, ± so much."""

    habit_mm: float
    scatter_mm: float


@dataclass(frozen=True, slots=True)
class Trial:
    """How a valve was really left, mm, after how many lock-ups, and what they taught."""

    gap_mm: float
    lock_ups: tuple[LockUp, ...]


def set_until_it_holds(
    spec: Spec,
    blades_mm: Sequence[float],
    hand: Hand,
    *,
    rng: np.random.Generator,
    learned: Sequence[LockUp] = (),
    most: int = 2,
    constants: Constants = DEFAULT,
) -> Trial:
    """Set a valve to the middle of its spec as advised, lock, try whether it holds; once more if it moved.

    Args:
        learned: earlier lock-ups of this hand, from which the allowance comes.
        most: lock-ups at most.
    """
    known, gap_mm = list(learned), 0.0
    check = set_with_mm(spec.middle_mm, blades_mm, constants=constants)
    for _ in range(most):
        allowance = locking_allowance_mm(known, constants)
        blades = set_with_mm(spec.middle_mm, blades_mm, allowance_mm=allowance, constants=constants)
        if blades is None or check is None:
            break
        # Turned until the blade just drags, wherever in that a hand happens to stop.
        gap_mm = sum(blades) + rng.uniform(-constants.refuse_below_mm, constants.free_above_mm)
        gap_mm += rng.normal(0.0, constants.feel_sd_straight_mm)
        gap_mm += hand.habit_mm + rng.normal(0.0, hand.scatter_mm)
        felt = Technician(check, rng, constants).feel(gap_mm, sum(check), "straight")
        after = Try(check, felt)
        taught = lock_up_of((Try(blades, "drag"),), (after,), "straight", constants)
        known.extend([] if taught is None else [taught])
        if after.felt == "drag":
            break
    return Trial(gap_mm, tuple(known[len(learned) :]))
