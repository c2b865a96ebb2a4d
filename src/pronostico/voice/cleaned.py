"""Speech with a steady noise taken away.

Spectral subtraction (Boll, Suppression of acoustic noise in speech using spectral subtraction, IEEE
Transactions on Acoustics, Speech, and Signal Processing 27, 1979), with a floor, which leaves no warbling.
"""

import numpy as np
from numpy.typing import NDArray
from scipy.signal import istft, stft

_WINDOW, _OVERLAP = 512, 384
_NOISE_QUANTILE = 0.2
"""So much of the time nobody speaks at a frequency, at least."""
_FLOOR = 0.3
"""Less is left of no sound: a faint consonant must not vanish."""


def cleaned(sound: NDArray[np.int16], heard_around: NDArray[np.int16]) -> NDArray[np.int16]:
    """A piece of sound without the noise in which it was spoken.

    Args:
        sound: 16 bits, one channel; shape (n,).
        heard_around: some seconds of the same, with pauses, from which the noise is known.

    Returns:
        As long as what was given.
    """
    noise = np.quantile(np.abs(_spectra(heard_around)), _NOISE_QUANTILE, axis=1)[:, None]
    spectra = _spectra(sound)
    share = np.maximum(1.0 - noise / np.maximum(np.abs(spectra), 1e-9), _FLOOR)
    _, clean = istft(spectra * share, nperseg=_WINDOW, noverlap=_OVERLAP)
    limits = np.iinfo(np.int16)
    return np.clip(clean[: len(sound)], limits.min, limits.max).astype(np.int16)


def _spectra(sound: NDArray[np.int16]) -> NDArray[np.complex128]:
    _, _, spectra = stft(sound.astype(float), nperseg=_WINDOW, noverlap=_OVERLAP)
    return np.asarray(spectra)
