"""What the drift model is held against: a weighted straight line through the readings since the last setting.

Weighted least squares, as in any textbook of regression, with the scatter of the readings beyond their own
doubt put on top.
"""

from dataclasses import dataclass

import numpy as np

from pronostico.core.gauge.engine_readings import ValveAnalysis

_READING_SD_MM = 0.005
_TARGET_SD_MM = 0.03


@dataclass(frozen=True, slots=True)
class Predicted:
    """What the line says of a clearance, mm."""

    mean_mm: float
    sd_mm: float


def _points(valve: ValveAnalysis) -> list[tuple[float, float, float]]:
    """Usage, clearance in mm and sd in mm of what is known since the valve was last set."""
    points: list[tuple[float, float, float]] = []
    for at in valve.states:
        standing = at.left if at.touched else at.found
        if at.touched:
            points = []
            targets = [one.target_mm for one in at.settings if one.target_mm is not None]
            if standing is None and targets:
                points.append((at.usage, targets[-1], _TARGET_SD_MM))
        if standing is not None:
            points.append((at.usage, standing.mean_mm, float(np.hypot(standing.sd_mm, _READING_SD_MM))))
    return points


def predicted(valve: ValveAnalysis, usage: float) -> Predicted | None:
    """A clearance by the line; None where it was known at fewer than two usages since it was set."""
    points = _points(valve)
    if len({point[0] for point in points}) < 2:
        return None
    at, y, sd = (np.array(column) for column in zip(*points, strict=True))
    weight = sd**-2
    origin = float(weight @ at / weight.sum())
    # About the weighted middle, level and slope are uncorrelated.
    x = at - origin
    level = float(weight @ y / weight.sum())
    slope = float(weight @ (x * y) / (weight @ (x * x)))
    spare = len(points) - 2
    chi2 = float(weight @ (y - level - slope * x) ** 2)
    inflation = max(1.0, chi2 / spare) if spare > 0 else 1.0
    away = usage - origin
    variance = inflation * (1.0 / weight.sum() + away**2 / float(weight @ (x * x)))
    scatter = (inflation - 1.0) * len(points) / float(weight.sum())
    return Predicted(level + slope * away, float(np.sqrt(variance + scatter)))
