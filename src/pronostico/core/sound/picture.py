"""What of a recording is drawn: one cycle in every band, and the sound over time with the crank's speed."""

from dataclasses import dataclass
from itertools import pairwise

import numpy as np
from scipy.signal import ShortTimeFFT
from scipy.signal.windows import hann

from pronostico.core.arrays import FloatArray
from pronostico.core.sound.envelopes import FEATURE_HZ, POOL, at_needed_rate
from pronostico.core.sound.listen import Heard
from pronostico.core.sound.wav import Recording

_PLACES = 240
_COLUMNS, _ROWS = 240, 40
_LOWEST_HZ, _HIGHEST_HZ = 60.0, 11_000.0
_TOP_OF_RATE = 0.45
_WINDOW_S = 0.05
_SHOWN_DB = 50.0
_TINY = 1e-12


@dataclass(frozen=True, slots=True)
class FoldedBand:
    """How far a band stands out over its surroundings along one cycle, dB; `pooled`: of all high bands."""

    low_hz: float
    high_hz: float
    pooled: bool
    height_db: FloatArray


@dataclass(frozen=True, slots=True)
class Spectrogram:
    """The sound over time: `level_db` below its loudest, shape (rows, columns); rows from low to high."""

    seconds: float
    edges_hz: FloatArray
    level_db: FloatArray


@dataclass(frozen=True, slots=True)
class SpeedTrack:
    """The crank's speed over time; shapes (n,)."""

    at_s: FloatArray
    rpm: FloatArray


@dataclass(frozen=True, slots=True)
class SoundPicture:
    """All that is drawn of a recording. `cycle_s`: when one cycle in the middle of it begins and ends."""

    bands: tuple[FoldedBand, ...]
    spectrogram: Spectrogram
    speed: SpeedTrack
    cycle_s: tuple[float, float]


def folded(height: FloatArray, count: int = _PLACES) -> FloatArray:
    """A height along the cycle in `count` parts: the greatest of each, and nothing below 0."""
    edges = np.linspace(0, len(height), count + 1)
    starts = np.minimum(edges[:-1].astype(int), len(height) - 1)
    ends = np.maximum(np.ceil(edges[1:]).astype(int), starts + 1)
    return np.array([max(float(height[a:b].max()), 0.0) for a, b in zip(starts, ends, strict=True)])


def _spectrogram(recording: Recording, channel: int) -> Spectrogram:
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


def _speed(phase: FloatArray) -> SpeedTrack:
    step = max(FEATURE_HZ // 4, len(phase) // _COLUMNS)
    marks = phase[::step]
    at = (np.arange(len(marks) - 1) + 0.5) * step / FEATURE_HZ
    return SpeedTrack(at, 120.0 * np.diff(marks) * FEATURE_HZ / step)


def _middle_cycle(phase: FloatArray) -> tuple[float, float]:
    at = np.floor(phase[len(phase) // 2])
    times = (np.arange(len(phase)) + 0.5) / FEATURE_HZ
    begin, end = np.interp([at, at + 1.0], phase, times)
    return float(begin), float(end)


def picture(recording: Recording, heard: Heard) -> SoundPicture:
    """What is drawn of a recording that was listened to."""
    return SoundPicture(
        tuple(
            FoldedBand(
                one.sharp.band.low_hz,
                one.sharp.band.high_hz,
                one.sharp.band.number == POOL,
                folded(one.sharp.height),
            )
            for one in heard.evidence.bands
        ),
        _spectrogram(recording, heard.sound_channel - 1),
        _speed(heard.phase),
        _middle_cycle(heard.phase),
    )
