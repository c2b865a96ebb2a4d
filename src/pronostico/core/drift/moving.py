"""A clearance that moves: with its drift, and a part of the drift that grows or decays."""

from dataclasses import dataclass

import numpy as np

from pronostico.core.arrays import FloatArray
from pronostico.core.drift.normal_mixture import Mixture

_LEAST_WEIGHT = 1e-5
_NO_GROWTH = 1e-9
LONGEST_GROWTH_INTERVALS = 10.0  # from there on what grew goes on as it is; no forecast is asked so far


@dataclass(frozen=True, slots=True)
class MovingMixture(Mixture):
    """A clearance, its drift, and the part of the drift that grows or decays; mm and check intervals.

    `growth` (N,): the rate at which that part grows in each component; 0 where the drift is steady. At minus
    infinity the third is no drift, but what the clearance is off by now and will not be at the next check; at
    infinity what it is not off by now and will be then.
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


def with_deposits_to_come(
    state: MovingMixture, probability: float, mean_mm: float, sd_mm: float
) -> MovingMixture:
    """A state whose clearance may be off for once at the next check, with that probability.

    Where its drift grows or decays it is left as it is.
    """
    steady = np.isinf(state.growth) | (np.abs(state.growth) < _NO_GROWTH)
    mean, cov = state.mean[steady].copy(), state.cov[steady].copy()
    # What it is off by already is gone then.
    mean[:, 2] = mean_mm - np.where(state.growth[steady] < 0.0, mean[:, 2], 0.0)
    cov[:, 2, :] = cov[:, :, 2] = 0.0
    cov[:, 2, 2] = sd_mm**2
    return MovingMixture(
        np.concatenate(
            [np.where(steady, 1.0 - probability, 1.0) * state.weight, probability * state.weight[steady]]
        ),
        np.concatenate([state.mean, mean]),
        np.concatenate([state.cov, cov]),
        np.concatenate([state.growth, np.full(len(mean), np.inf)]),
    )


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
    still, at_once = np.abs(rate) < _NO_GROWTH, np.isinf(rate)
    safe = np.where(still | at_once, 1.0, rate)
    # Beyond what the part that grows does if it stays as it is. Nothing grows for ever.
    growing = np.minimum(ahead, LONGEST_GROWTH_INTERVALS)
    way = np.expm1(safe * growing) / safe + np.exp(safe * growing) * (ahead - growing)
    beyond = np.where(still, 0.0, way - ahead)
    beyond = np.where(at_once, np.sign(rate) * (ahead > 0.0), beyond)
    return np.stack([np.ones_like(beyond), np.broadcast_to(ahead, beyond.shape), beyond], axis=-1)
