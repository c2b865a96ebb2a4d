"""A clearance that moves: with its drift, and a part of the drift that grows or decays."""

from dataclasses import dataclass

import numpy as np

from pronostico.core.arrays import FloatArray
from pronostico.core.drift.mixture import Mixture

_LEAST_WEIGHT = 1e-5
_NO_GROWTH = 1e-9


@dataclass(frozen=True, slots=True)
class MovingMixture(Mixture):
    """A clearance, its drift, and the part of the drift that grows or decays; mm and check intervals.

    `growth` (N,): the rate at which that part grows in each component; 0 where the drift is steady.
    """

    growth: FloatArray

    def loads(self, intervals: FloatArray | float) -> FloatArray:
        """Loadings of the clearance some intervals on; shape (N, ..., 3)."""
        return loads_ahead(self.growth, intervals)

    def lighter(self, least: float = _LEAST_WEIGHT) -> "MovingMixture":
        """The mixture without components of negligible weight."""
        keep = self.weight > least
        weight = self.weight[keep]
        return MovingMixture(weight / weight.sum(), self.mean[keep], self.cov[keep], self.growth[keep])


def loads_ahead(growth: FloatArray, intervals: FloatArray | float) -> FloatArray:
    """Loadings of a clearance some intervals on upon itself, its drift, and the part of it that grows.

    Args:
        growth: rates, shape (n,), per interval.
        intervals: how far on, a figure or shape (k,).

    Returns:
        Shape (n, 3) or (n, k, 3).
    """
    ahead = np.asarray(intervals, dtype=np.float64)
    rate = growth.reshape(-1, *([1] * ahead.ndim))
    still = np.abs(rate) < _NO_GROWTH
    safe = np.where(still, 1.0, rate)
    # Beyond what the part that grows does if it stays as it is.
    beyond = np.where(still, 0.0, np.expm1(safe * ahead) / safe - ahead)
    return np.stack([np.ones_like(beyond), np.broadcast_to(ahead, beyond.shape), beyond], axis=-1)
