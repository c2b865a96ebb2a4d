"""A provisional look ahead: a weighted straight line through the readings since the last setting.

It knows nothing of what the other valves do, of a shift that a whole visit shares, or of drift that
changes; pages say so. Weighted least squares, as in any textbook of regression: F-05 in docs/formulas.md.
"""

from dataclasses import dataclass

import numpy as np
from scipy.special import ndtr

from pronostico.core.engine import Spec

_STEPS_PER_INTERVAL = 100
_LOOK_STEPS = 10 * _STEPS_PER_INTERVAL


@dataclass(frozen=True, slots=True)
class LinePoint:
    """One reading (or setting) on the line: usage, clearance in mm and its whole sd in mm, over 0."""

    usage: float
    mean_mm: float
    sd_mm: float


@dataclass(frozen=True, slots=True)
class LineForecast:
    """What the line foretells at a usage, mm and probabilities."""

    usage: float
    mean_mm: float
    sd_mm: float
    p_tight: float
    p_in: float
    p_loose: float


@dataclass(frozen=True, slots=True)
class Line:
    """A fitted line; usage is counted in intervals from `origin_usage`.

    The origin is the weighted middle, where level and slope are uncorrelated.
    `scatter_mm` is what the readings scatter beyond their own doubt (0 where too few to tell).
    """

    origin_usage: float
    check_interval: float
    level_mm: float
    slope_mm_per_interval: float
    level_variance: float
    slope_variance: float
    scatter_mm: float
    points: tuple[LinePoint, ...]

    @property
    def slope_sd_mm_per_interval(self) -> float:
        """Standard deviation of the slope, mm per check interval."""
        return float(np.sqrt(self.slope_variance))

    def slope_below(self, mm_per_interval: float) -> float:
        """Probability that the slope is below a figure."""
        away = mm_per_interval - self.slope_mm_per_interval
        return float(ndtr(away / self.slope_sd_mm_per_interval))

    def at(self, usage: float, spec: Spec) -> LineForecast:
        """Forecast of the clearance, with the line's doubt and the readings' scatter."""
        x = (usage - self.origin_usage) / self.check_interval
        mean = self.level_mm + self.slope_mm_per_interval * x
        variance = self.level_variance + x * x * self.slope_variance
        sd = float(np.sqrt(variance + self.scatter_mm**2))
        p_tight = float(ndtr((spec.min_mm - mean) / sd))
        p_loose = float(ndtr((mean - spec.max_mm) / sd))
        return LineForecast(usage, mean, sd, p_tight, max(0.0, 1.0 - p_tight - p_loose), p_loose)

    def crossing_usage(self, spec: Spec, *, after: float, probability: float) -> float | None:
        """First usage after a given one at which the clearance is out of spec with that probability.

        Looks ten intervals ahead, in hundredths of an interval; None where it is not reached.
        """
        usage = after + np.arange(_LOOK_STEPS + 1) * self.check_interval / _STEPS_PER_INTERVAL
        x = (usage - self.origin_usage) / self.check_interval
        mean = self.level_mm + self.slope_mm_per_interval * x
        sd = np.sqrt(self.level_variance + x * x * self.slope_variance + self.scatter_mm**2)
        out = ndtr((spec.min_mm - mean) / sd) + ndtr((mean - spec.max_mm) / sd)
        reached = np.flatnonzero(out >= probability)
        return float(usage[reached[0]]) if reached.size else None


def fit_line(points: tuple[LinePoint, ...], *, check_interval: float) -> Line | None:
    """The weighted line through the points; None where they lie at fewer than two usages."""
    if len({point.usage for point in points}) < 2:
        return None
    usage = np.array([point.usage for point in points])
    y = np.array([point.mean_mm for point in points])
    weight = np.array([point.sd_mm**-2 for point in points])
    origin = float(weight @ usage / weight.sum())
    x = (usage - origin) / check_interval
    # About the weighted middle the normal equations fall apart into these two sums.
    level = float(weight @ y / weight.sum())
    slope = float(weight @ (x * y) / (weight @ (x * x)))
    residual = y - level - slope * x
    spare = len(points) - 2
    chi2 = float(weight @ residual**2)
    inflation = max(1.0, chi2 / spare) if spare > 0 else 1.0
    beyond = (inflation - 1.0) * len(points) / float(weight.sum())
    return Line(
        origin_usage=origin,
        check_interval=check_interval,
        level_mm=level,
        slope_mm_per_interval=slope,
        level_variance=inflation / float(weight.sum()),
        slope_variance=inflation / float(weight @ (x * x)),
        scatter_mm=float(np.sqrt(beyond)),
        points=points,
    )
