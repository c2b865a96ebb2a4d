"""Normals in information form: log partition functions, and projection to positive semidefinite."""

import numpy as np

from pronostico.core.arrays import FloatArray

_BEYOND_ANY = 1e60  # so large that the border of a factor never takes part


def never_negative(information: FloatArray) -> FloatArray:
    """Symmetric matrices (..., s, s) with their negative eigenvalues raised to zero."""
    values, vectors = np.linalg.eigh(0.5 * (information + np.swapaxes(information, -1, -2)))
    if values.min(initial=0.0) >= 0.0:
        return information
    return np.asarray((vectors * np.maximum(values, 0.0)[..., None, :]) @ np.swapaxes(vectors, -1, -2))


def log_partition(weighted: FloatArray, precision: FloatArray) -> FloatArray:
    """Log integral of exp(-precision x^2 / 2 + weighted x), less a constant."""
    return np.asarray(0.5 * weighted**2 / precision - 0.5 * np.log(precision))


def log_partition_of(weighted: FloatArray, precision: FloatArray) -> FloatArray:
    """The same for vectors: weighted (..., s), precision (..., s, s)."""
    size = weighted.shape[-1]
    # One factor tells both: L of the precision, and below it L^-1 weighted.
    bordered = np.empty((*precision.shape[:-2], size + 1, size + 1))
    bordered[..., :size, :size] = precision
    bordered[..., size, :size] = weighted
    bordered[..., size, size] = _BEYOND_ANY
    lower = np.linalg.cholesky(bordered)
    solved = lower[..., size, :size]
    log_root = np.log(np.diagonal(lower, axis1=-2, axis2=-1)[..., :size]).sum(axis=-1)
    return np.asarray(0.5 * np.einsum("...i,...i", solved, solved) - log_root)
