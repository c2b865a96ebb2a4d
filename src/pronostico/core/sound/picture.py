"""What of a recording is drawn: one cycle in every band, and the sound over time with the crank's speed."""

from dataclasses import dataclass

import numpy as np

from pronostico.core.arrays import FloatArray
from pronostico.core.sound.envelopes import FEATURE_HZ
from pronostico.core.sound.folded import FoldedBand, folded_bands
from pronostico.core.sound.listen import Heard
from pronostico.core.sound.spectrogram import Spectrogram, spectrogram
from pronostico.core.sound.wav import Recording

_SPEEDS = 240


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


def _speed(phase: FloatArray) -> SpeedTrack:
    step = max(FEATURE_HZ // 4, len(phase) // _SPEEDS)
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
        folded_bands(heard.evidence),
        spectrogram(recording, heard.sound_channel - 1),
        _speed(heard.phase),
        _middle_cycle(heard.phase),
    )
