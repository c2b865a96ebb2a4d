"""Setting against a blade and locking: which blade to set with, and what the nut is likely to move.

Locking turns the screw by what play its thread has. A hand does it much the same way each time, so that what
it did before tells what it will do; F-12 in docs/formulas.md.
"""

from collections.abc import Sequence
from dataclasses import dataclass
from itertools import combinations

from pronostico.core.constants import DEFAULT, Constants

# A single blade is taken before a stack that comes no more than this nearer, mm: a stack springs, and wants
# a third hand.
_STACK_MUST_GAIN_MM = 0.012


@dataclass(frozen=True, slots=True)
class LockUp:
    """What locking the nut once did: clearances before and after, mm, with their variances."""

    before_mm: float
    after_mm: float
    variance: float


def locking_allowance_mm(lock_ups: Sequence[LockUp], constants: Constants = DEFAULT) -> float:
    """How far locking is expected to move a setting, mm; positive: it opens the gap.

    The precision-weighted mean of what earlier lock-ups did, with a normal prior about zero of the spread
    that locking is known to have (any textbook of Bayesian statistics); nothing without lock-ups.
    """
    spread = constants.locking_sd_mm**2
    weights = [1.0 / (one.variance + spread) for one in lock_ups]
    moved = sum(
        weight * (one.after_mm - one.before_mm) for weight, one in zip(weights, lock_ups, strict=True)
    )
    return moved / (1.0 / spread + sum(weights))


def set_with_mm(
    target_mm: float, blades_mm: Sequence[float], *, allowance_mm: float = 0.0, constants: Constants = DEFAULT
) -> tuple[float, ...] | None:
    """The blade, or the stack of two, that should drag while a valve is set; None without blades.

    A gap in which a blade drags is on average a little wider than the blade, and locking moves it by the
    allowance: the blade is chosen so that the gap is expected to come out at the target.

    >>> set_with_mm(0.175, (0.10, 0.15, 0.17, 0.20))
    (0.17,)
    """
    sizes = sorted(set(blades_mm))
    middle_of_drag = 0.5 * (constants.free_above_mm - constants.refuse_below_mm)
    wanted = target_mm - allowance_mm - middle_of_drag

    def off(blades: tuple[float, ...]) -> float:
        return abs(sum(blades) - wanted) + _STACK_MUST_GAIN_MM * (len(blades) - 1)

    offered = [(blade,) for blade in sizes] + list(combinations(sizes, 2))
    return min(offered, key=off, default=None)
