"""Two filters that SciPy has too; but to load `scipy.signal` takes as long as to listen to a recording."""

import numpy as np
from scipy.ndimage import convolve1d

from pronostico.core.arrays import FloatArray

_BETA = 6.0  # of the Kaiser window: what is past the half rate comes back 63 dB down
_HALF_WIDTH = 10  # samples of the lower rate
_AT_ONCE, _GROUPS = 64, 256


def fewer_samples(sound: FloatArray, factor: int) -> FloatArray:
    """Every so many-th sample of a sound, after a low-pass; shape (n,), to (n // factor,).

    A windowed sinc (Oppenheim and Schafer, Discrete-Time Signal Processing, 3rd edition, 7.5). Some of its
    outputs at a time are one product with a matrix whose columns are the same filter, shifted.
    """
    half = _HALF_WIDTH * factor
    taps = np.kaiser(2 * half + 1, _BETA) * np.sinc(np.arange(-half, half + 1) / factor)
    taps /= taps.sum()
    width = (_AT_ONCE - 1) * factor + len(taps)
    shifted = np.zeros((width, _AT_ONCE), sound.dtype)
    for at in range(_AT_ONCE):
        shifted[at * factor : at * factor + len(taps), at] = taps
    count = len(sound) // factor
    groups = -(-count // _AT_ONCE)
    step = _AT_ONCE * factor
    out = np.empty((groups, _AT_ONCE), sound.dtype)
    for begin in range(0, groups, _GROUPS):
        end = min(begin + _GROUPS, groups)
        first, last = begin * step - half, (end - 1) * step - half + width
        piece = np.pad(sound[max(first, 0) : last], (max(-first, 0), max(last - len(sound), 0)))
        windows = np.lib.stride_tricks.sliding_window_view(piece, width)[::step]
        np.matmul(np.ascontiguousarray(windows), shifted, out=out[begin:end])
    return np.asarray(out.reshape(-1)[:count])


def smoothed(values: FloatArray, width: int, degree: int = 2) -> FloatArray:
    """Each value on a polynomial through those about it, the ends on those through the outer ones; (n,).

    Savitzky and Golay, Analytical Chemistry 36 (1964) 1627.

    Args:
        width: odd, not over n.
    """
    half = width // 2
    basis = np.vander(np.arange(-half, half + 1.0), degree + 1, increasing=True)
    onto = basis @ np.linalg.pinv(basis)
    found = convolve1d(values, onto[half][::-1], mode="nearest")
    found[:half] = onto[:half] @ values[:width]
    found[-half:] = onto[half + 1 :] @ values[-width:]
    return np.asarray(found)
