"""The likelihood of a reading on a grid of gaps, and the moments of a normal gap multiplied by it.

The lattice is even and finer than the sharpest thing on it, where the trapezoidal rule is as good as exact.
"""

from collections.abc import Sequence
from dataclasses import dataclass
from functools import lru_cache

import numpy as np

from pronostico.core.arrays import FloatArray, IntArray
from pronostico.core.constants import Constants
from pronostico.core.gauge.feel import log_likelihood_of_try
from pronostico.core.visits import Reading

_STEP_MM = 0.003  # half of the feel of a blade
_BEYOND_BLADES_MM = 1.2  # no clearance lies so far from every blade that was tried
_BEYOND_IN_DOUBT_MM = 0.6  # near enough where it is only asked how likely an entry error is
_NEGLIGIBLE = 40.0  # in natural log, below the best


@dataclass(frozen=True, slots=True)
class Table:
    """Log likelihood of a reading's tries at evenly spaced gaps; both shape (nodes,)."""

    gap_mm: FloatArray
    log_likelihood: FloatArray


def log_entry_error(felt: str, constants: Constants) -> float:
    """Log probability of an answer that was written down at random; 'go' covers two of the three."""
    return float(np.log(constants.entry_error_probability * (2.0 if felt == "go" else 1.0) / 3.0))


@lru_cache(maxsize=1024)
def _by_try(reading: Reading, constants: Constants) -> tuple[FloatArray, FloatArray]:
    """The grid around a reading's blades, and the log likelihood of each try; (nodes,), (tries, nodes)."""
    blades = [one.thickness_mm for one in reading.tries]
    first = round((min(blades) - _BEYOND_BLADES_MM) / _STEP_MM)
    last = round((max(blades) + _BEYOND_BLADES_MM) / _STEP_MM)
    gap_mm = np.arange(first, last + 1, dtype=np.float64) * _STEP_MM
    at_word = np.log1p(-constants.entry_error_probability)
    each = [at_word + log_likelihood_of_try(one, gap_mm, reading.access, constants) for one in reading.tries]
    return gap_mm, np.array(each)


@lru_cache(maxsize=4096)
def table_of(reading: Reading, entry_errors: frozenset[int], constants: Constants) -> Table:
    """A reading's table, given which tries are entry errors; cut off where the likelihood is negligible."""
    gap_mm, each = _by_try(reading, constants)
    total = np.zeros_like(gap_mm)
    for index, one in enumerate(reading.tries):
        total = total + (log_entry_error(one.felt, constants) if index in entry_errors else each[index])
    keep = total > total.max() - _NEGLIGIBLE
    return Table(gap_mm[keep], total[keep])


@lru_cache(maxsize=1024)
def entry_error_table_of(reading: Reading, constants: Constants) -> tuple[Table, FloatArray]:
    """A reading's table with entry errors allowed, and P(entry error | gap) of each try; (tries, nodes)."""
    gap_mm, each = _by_try(reading, constants)
    blades = [one.thickness_mm for one in reading.tries]
    # Every other node is fine enough for that: still no wider than the feel of a blade.
    near = np.flatnonzero(
        (gap_mm > min(blades) - _BEYOND_IN_DOUBT_MM) & (gap_mm < max(blades) + _BEYOND_IN_DOUBT_MM)
    )[::2]
    gap_mm, each = gap_mm[near], each[:, near]
    slipped = np.array([[log_entry_error(one.felt, constants)] for one in reading.tries])
    mixed = np.logaddexp(each, slipped)
    return Table(gap_mm, mixed.sum(axis=0)), np.exp(slipped - mixed)


@dataclass(frozen=True, slots=True)
class Tables:
    """The tables of many readings, concatenated.

    `starts`, `sizes`: where each begins and how many nodes it has; shape (readings,).
    """

    gap_mm: FloatArray
    log_likelihood: FloatArray
    starts: IntArray
    sizes: IntArray

    @classmethod
    def join(cls, tables: Sequence[Table]) -> "Tables":
        """Concatenate tables."""
        sizes = np.array([len(one.gap_mm) for one in tables], dtype=np.int64)
        starts = np.concatenate([[0], np.cumsum(sizes)[:-1]]).astype(np.int64)
        return cls(
            np.concatenate([one.gap_mm for one in tables]),
            np.concatenate([one.log_likelihood for one in tables]),
            starts,
            sizes,
        )

    def _spread(self, each: FloatArray) -> FloatArray:
        """A figure of each reading at all nodes of its table; (..., readings) to (..., nodes)."""
        return np.repeat(each, self.sizes, axis=-1)

    def weights(self, mean_mm: FloatArray, variance: FloatArray) -> tuple[FloatArray, FloatArray]:
        """Grid weights of a normal gap times its likelihood.

        Args:
            mean_mm, variance: shape (..., readings).

        Returns:
            Normalised weights of the nodes, shape (..., nodes); log evidence, shape (..., readings).
        """
        off = self.gap_mm - self._spread(mean_mm)
        log_weight = self.log_likelihood - off * off * self._spread(0.5 / variance)
        top = np.maximum.reduceat(log_weight, self.starts, axis=-1)
        weight = np.exp(log_weight - self._spread(top))
        total = np.add.reduceat(weight, self.starts, axis=-1)
        evidence = top + np.log(total * _STEP_MM) - 0.5 * np.log(2.0 * np.pi * variance)
        return weight / self._spread(total), evidence

    def moments(self, mean_mm: FloatArray, variance: FloatArray) -> tuple[FloatArray, FloatArray, FloatArray]:
        """Tilted mean and variance of each gap, and the log evidence; shape (..., readings)."""
        weight, evidence = self.weights(mean_mm, variance)
        after = np.add.reduceat(weight * self.gap_mm, self.starts, axis=-1)
        off = self.gap_mm - self._spread(after)
        return after, np.add.reduceat(weight * off * off, self.starts, axis=-1), evidence


def weigh(table: Table, mean_mm: float, variance: float) -> tuple[FloatArray, float]:
    """A normal gap times one likelihood: the weights of the grid points, and the log evidence."""
    log_weight = table.log_likelihood - 0.5 * (table.gap_mm - mean_mm) ** 2 / variance
    top = float(log_weight.max())
    weight = np.exp(log_weight - top)
    total = float(weight.sum())
    return weight / total, top + float(np.log(total * _STEP_MM)) - 0.5 * float(np.log(2.0 * np.pi * variance))
