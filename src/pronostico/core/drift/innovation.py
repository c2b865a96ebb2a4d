"""A reading on its own, to be compared with what the visits before it predicted."""

from dataclasses import dataclass

from pronostico.core.constants import Constants
from pronostico.core.gauge.feel import feel_sd_mm
from pronostico.core.gauge.reading import Estimate
from pronostico.core.thermal import Correction
from pronostico.core.visits import Reading


@dataclass(frozen=True, slots=True)
class OwnEstimate:
    """A reading on its own: its mean and variance; `side`: on which alone it is bounded, 0 for neither."""

    mean_mm: float
    variance: float
    side: int


def own_estimate(
    reading: Reading, known: Estimate, correction: Correction, constants: Constants
) -> OwnEstimate:
    """The reading on its own, without history; the bound of one that is bounded on one side only."""
    bounds: list[tuple[float, int, int]] = []
    for one in reading.tries:
        low, high = -constants.refuse_below_mm, constants.free_above_mm
        offset, side = {"no-go": (low, -1), "free": (high, 1), "go": (low, 1), "drag": (0.0, 0)}[one.felt]
        bounds.append((one.thickness_mm + offset, side, len(one.blades_mm)))
    sides = {side for _, side, _ in bounds}
    if sides not in ({-1}, {1}):
        return OwnEstimate(known.mean_mm, known.sd_mm**2, 0)
    side = sides.pop()
    at, _, blades = min(bounds) if side < 0 else max(bounds)
    variance = feel_sd_mm(blades, reading.access, constants) ** 2 + correction.uncertainty_mm**2
    return OwnEstimate(at - correction.correction_mm, variance, side)
