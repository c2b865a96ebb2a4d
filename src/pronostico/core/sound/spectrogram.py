"""A sound over time and pitch, as it is drawn."""

from dataclasses import dataclass
from itertools import pairwise

import numpy as np
from scipy.signal import ShortTimeFFT
from scipy.signal.windows import hann

from pronostico.core.arrays import FloatArray
from pronostico.core.sound.envelopes import at_needed_rate
from pronostico.core.sound.wav import Recording

_COLUMNS, _ROWS = 240, 40
_LOWEST_HZ, _HIGHEST_HZ = 60.0, 11_000.0
_TOP_OF_RATE = 0.45
_WINDOW_S = 0.05
_SHOWN_DB = 50.0
_TINY = 1e-12


@dataclass(frozen=True, slots=True)
class Spectrogram:
    """The sound over time: `level_db` below its loudest, shape (rows, columns); rows from low to high."""

    seconds: float
    edges_hz: FloatArray
    level_db: FloatArray


def spectrogram(recording: Recording, channel: int) -> Spectrogram:
    """A channel of a recording, counted from 0, as it is drawn."""
    sound, rate_hz = at_needed_rate(recording.channel(channel), recording.rate_hz)
    width = max(int(_WINDOW_S * rate_hz), 16)
    hop = max(width // 2, len(sound) // (4 * _COLUMNS), 1)
    transform = ShortTimeFFT(hann(width), hop, fs=rate_hz)
    power = np.abs(transform.stft(sound)) ** 2
    highest = min(_HIGHEST_HZ, _TOP_OF_RATE * rate_hz)
    edges = np.geomspace(_LOWEST_HZ, highest, _ROWS + 1)
    at = np.clip(np.searchsorted(transform.f, edges), 0, len(transform.f))
    rows = np.array([power[a : max(b, a + 1)].mean(axis=0) for a, b in pairwise(at)])
    columns = np.linspace(0, rows.shape[1], _COLUMNS + 1).astype(int)
    drawn = np.array([rows[:, a : max(b, a + 1)].mean(axis=1) for a, b in pairwise(columns)]).T
    level = 10.0 * np.log10(drawn + _TINY)
    return Spectrogram(recording.seconds, edges, np.maximum(level - level.max(), -_SHOWN_DB))
