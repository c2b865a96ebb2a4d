"""What to set a valve to, and how far to turn its screw.

Targets and turns as workshop practice has them; the sources are named at each. F-12 in docs/formulas.md.
"""

from dataclasses import dataclass
from math import sqrt
from typing import Literal

import numpy as np
from numpy.typing import NDArray
from scipy.special import ndtr

from pronostico.core.constants import DEFAULT, Constants
from pronostico.core.engine import Side, Spec

Policy = Literal["middle", "lean-loose", "figure", "drift-aware"]
Which = Literal["only-out", "due", "all"]

POLICIES: tuple[Policy, ...] = ("middle", "lean-loose", "figure", "drift-aware")

# How finely the time ahead and the targets are stepped through.
_STEPS = 401
_TARGET_STEP_MM = 0.001


@dataclass(frozen=True, slots=True)
class Drift:
    """How a clearance moves, mm per check interval, and how surely."""

    mean_mm_per_interval: float
    sd_mm_per_interval: float


def _steps_in_spec(
    targets: NDArray[np.float64], spec: Spec, drift: Drift, constants: Constants
) -> NDArray[np.int_]:
    """For each target the steps up to the first at which it is too likely out; coming back does not count."""
    ahead = np.linspace(0.0, constants.target_most_intervals, _STEPS)
    wander = constants.drift_wander**2 * ahead**3 / 3.0
    sd = np.sqrt(constants.locking_sd_mm**2 + (drift.sd_mm_per_interval * ahead) ** 2 + wander)
    mean = targets[:, None] + drift.mean_mm_per_interval * ahead[None, :]
    p_in = ndtr((spec.max_mm - mean) / sd) - ndtr((spec.min_mm - mean) / sd)
    lasts = p_in >= constants.lasting_p_in
    return np.where(lasts.all(axis=1), _STEPS, np.argmin(lasts, axis=1))


def intervals_in_spec(
    target: float, spec: Spec, drift: Drift, constants: Constants = DEFAULT
) -> float | None:
    """Check intervals that a valve set to a target stays in spec with probability 0.9; None: over twenty."""
    steps = int(_steps_in_spec(np.array([target]), spec, drift, constants)[0])
    return None if steps == _STEPS else max(0, steps - 1) * constants.target_most_intervals / (_STEPS - 1)


def _drift_aware(spec: Spec, drift: Drift | None, constants: Constants) -> float:
    """The target, a guard away from either limit, that stays in spec longest with probability 0.9."""
    low, high = spec.min_mm + constants.target_guard_mm, spec.max_mm - constants.target_guard_mm
    if drift is None or low >= high:
        return spec.middle_mm
    targets = np.linspace(low, high, max(2, round((high - low) / _TARGET_STEP_MM) + 1))
    steps = _steps_in_spec(targets, spec, drift, constants)
    best = targets[steps == steps.max()]
    # Of those that last alike, the nearest to the middle.
    return float(best[np.argmin(np.abs(best - spec.middle_mm))])


def target_mm(
    policy: Policy,
    spec: Spec,
    side: Side,
    *,
    figure_mm: float | None = None,
    drift: Drift | None = None,
    constants: Constants = DEFAULT,
) -> float:
    """The clearance to set a valve to, mm.

    Args:
        figure_mm: the manual's single figure; without one 'figure' is the middle.
        drift: this valve's; without it 'drift-aware' is the middle.

    >>> round(target_mm("lean-loose", Spec(0.25, 0.31), "exhaust"), 3)
    0.29
    """
    if policy == "figure" and figure_mm is not None:
        return figure_mm
    if policy == "lean-loose" and side == "exhaust":
        return spec.min_mm + constants.lean_loose_share * spec.width_mm
    if policy == "drift-aware":
        return _drift_aware(spec, drift, constants)
    return spec.middle_mm


def p_in_after_setting(target: float, spec: Spec, constants: Constants = DEFAULT) -> float:
    """Probability that a valve set to a target, locked and measured again is in spec."""
    sd = sqrt(constants.locking_sd_mm**2 + constants.reading_sd_mm**2)
    return float(ndtr((spec.max_mm - target) / sd) - ndtr((spec.min_mm - target) / sd))
