"""Mixtures of joint normals: their moments, probabilities and quantiles."""

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
from scipy.optimize import brentq
from scipy.special import ndtr

from pronostico.core.arrays import FloatArray

_QUANTILE_MM = 1e-12  # how closely a quantile is found


@dataclass(frozen=True, slots=True)
class Mixture:
    """A mixture of N joint normals of m quantities: `weight` (N,), `mean` (N, m), `cov` (N, m, m)."""

    weight: FloatArray
    mean: FloatArray
    cov: FloatArray

    def of(self, *loads: float) -> "Mixture":
        """The distribution of a linear combination of the first quantities."""
        row = np.zeros(self.mean.shape[1])
        row[: len(loads)] = loads
        mean, variance = self.mean @ row, np.einsum("i,nij,j->n", row, self.cov, row)
        return Mixture(self.weight, mean[:, None], variance[:, None, None])

    def part(self, which: slice) -> "Mixture":
        """The marginal mixture of some quantities."""
        return Mixture(self.weight, self.mean[:, which], self.cov[:, which, which])

    @property
    def average(self) -> float:
        """Mean of the first quantity."""
        return float(self.weight @ self.mean[:, 0])

    @property
    def sd(self) -> float:
        """Standard deviation of the first quantity."""
        off = self.mean[:, 0] - self.average
        return float(np.sqrt(self.weight @ (self.cov[:, 0, 0] + off**2)))

    def below(self, value: float) -> float:
        """Probability that the first quantity is below a value."""
        share = self.weight @ ndtr((value - self.mean[:, 0]) / np.sqrt(self.cov[:, 0, 0]))
        # The weights sum to one but for rounding.
        return min(1.0, max(0.0, float(share)))

    def quantile(self, probability: float) -> float:
        """The value below which the first quantity lies with that probability."""
        sds = np.sqrt(self.cov[:, 0, 0])
        low, high = float((self.mean[:, 0] - 9.0 * sds).min()), float((self.mean[:, 0] + 9.0 * sds).max())
        return float(brentq(lambda value: self.below(value) - probability, low, high, xtol=_QUANTILE_MM))


def mixed(parts: Sequence[tuple[float, Mixture]]) -> Mixture:
    """A mixture of mixtures of the same quantities."""
    if len(parts) == 1:
        return parts[0][1]
    return Mixture(
        np.concatenate([share * one.weight for share, one in parts]),
        np.concatenate([one.mean for _, one in parts]),
        np.concatenate([one.cov for _, one in parts]),
    )
