"""Setting against a blade and locking: which blade to set with, and what the nut is likely to move.

Locking turns the screw by what play its thread has. A hand does it much the same way each time, so that what
it did before tells what it will do; F-12 in docs/formulas.md.
"""

from collections.abc import Sequence
from dataclasses import dataclass
from itertools import combinations

from pronostico.core.constants import DEFAULT, Constants
from pronostico.core.gauge.reading import Prior, posterior_of
from pronostico.core.thermal import Correction
from pronostico.core.visits import Access, Try


@dataclass(frozen=True, slots=True)
class LockUp:
    """What locking the nut once did to the gap, mm, and how surely; over 0: it opened it."""

    moved_mm: float
    variance: float


@dataclass(frozen=True, slots=True)
class Gap:
    """The current gap, mm, and its uncertainty."""

    mean_mm: float
    sd_mm: float


def _around(blade_mm: float, constants: Constants) -> Prior:
    return Prior(blade_mm, constants.prior_sd_mm)


def _gap(tries: tuple[Try, ...], access: Access, prior: Prior, constants: Constants) -> Gap:
    posterior = posterior_of(tries, access, prior, Correction(0.0, 0.0), constants)
    return Gap(posterior.mean_mm, posterior.sd_mm)


def _gaps(
    before: tuple[Try, ...], after: tuple[Try, ...], access: Access, constants: Constants
) -> tuple[Gap, Prior, Gap]:
    """The gap before a lock-up, what is believed of it after, and the gap after."""
    thickness = sum(one.thickness_mm for one in before) / len(before)
    start = _gap(before, access, _around(thickness, constants), constants)
    around = Prior(start.mean_mm, (start.sd_mm**2 + constants.set_to_target_sd_mm**2) ** 0.5)
    return start, around, _gap(after, access, around, constants)


def gap_after(
    before: tuple[Try, ...], after: tuple[Try, ...], access: Access, constants: Constants = DEFAULT
) -> Gap | None:
    """The gap after a lock-up, sought about the gap before it; None where either has no tries.

    A blade that dragged before and is refused after tells of a small step, not of any gap below the blade.

    >>> round(gap_after((Try((0.28,), "drag"),), (Try((0.28,), "no-go"),), "straight").mean_mm, 2)
    0.26
    """
    return _gaps(before, after, access, constants)[2] if before and after else None


def lock_up_of(
    before: tuple[Try, ...], after: tuple[Try, ...], access: Access, constants: Constants = DEFAULT
) -> LockUp | None:
    """What one lock-up did, from the tries before it and after it; None where either has none.

    What was assumed of the gap after it is taken out of the result again.
    """
    if not before or not after:
        return None
    start, around, end = _gaps(before, after, access, constants)
    information = 1.0 / end.sd_mm**2 - 1.0 / around.sd_mm**2
    if information <= 0.0:
        return None
    moved = (end.mean_mm - start.mean_mm) / end.sd_mm**2 / information
    return LockUp(moved, 1.0 / information + start.sd_mm**2)


def locking_allowance_mm(lock_ups: Sequence[LockUp], constants: Constants = DEFAULT) -> float:
    """How far locking is expected to move a setting, mm; positive: it opens the gap.

    The precision-weighted mean of what earlier lock-ups did, each with the scatter that locking has, shrunk
    towards zero by a normal prior as wide as hands differ (any textbook of Bayesian statistics).
    """
    weights = [1.0 / (one.variance + constants.locking_sd_mm**2) for one in lock_ups]
    moved = sum(weight * one.moved_mm for weight, one in zip(weights, lock_ups, strict=True))
    return moved / (1.0 / constants.locking_habit_sd_mm**2 + sum(weights))


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
        return abs(sum(blades) - wanted) + constants.stack_must_gain_mm * (len(blades) - 1)

    offered = [(blade,) for blade in sizes] + list(combinations(sizes, 2))
    return min(offered, key=off, default=None)
