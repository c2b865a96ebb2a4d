"""Speech by a synthetic voice, and a workshop's noise of our own making: a compressor, a fan, hammering."""

import io
import subprocess
import wave
from functools import cache

import numpy as np
from scipy.signal import lfilter, resample_poly

from pronostico.voice.following import RATE_HZ, Samples

VOICES = ("en-us", "en-gb", "en-gb-scotland", "en-gb-x-rp", "en-us+f3", "en-us+m3", "en-gb+f2", "en-gb+m4")
_LOUD = 0.02


@cache
def said(text: str, voice: str = "en-us", words_a_minute: int = 160) -> np.ndarray:
    """A text as sound, -1 to 1."""
    command = ["espeak-ng", "-v", voice, "-s", str(words_a_minute), "--stdout", text]
    out = subprocess.run(command, capture_output=True, check=True).stdout
    with wave.open(io.BytesIO(out)) as file:
        rate_hz = file.getframerate()
    # The length in the header is not to be relied upon: it was written before the sound was made.
    sound = np.frombuffer(out[44:], dtype="<i2") / 32768.0
    return np.asarray(resample_poly(sound, RATE_HZ // 50, rate_hz // 50))


def shop_noise(count: int, rng: np.random.Generator) -> np.ndarray:
    """Noise of a deviation of one."""
    fan = lfilter([1.0], [1.0, -0.9], rng.normal(size=count))
    t = np.arange(count) / RATE_HZ
    hum = sum(
        np.sin(2 * np.pi * hz * t + rng.uniform(0, 6)) / k for k, hz in enumerate((49, 98, 147, 196), start=1)
    )
    blow_t = np.arange(3000) / RATE_HZ
    blow = np.exp(-40.0 * blow_t) * sum(np.sin(2 * np.pi * hz * blow_t) for hz in (730, 1910, 3170))
    hammer, at = np.zeros(count + len(blow)), rng.uniform(0, 0.6) * RATE_HZ
    while at < count:
        hammer[int(at) : int(at) + len(blow)] += blow
        at += rng.uniform(0.45, 0.8) * RATE_HZ
    parts = ((fan, 1.0), (hum, 0.5), (hammer[:count], 0.7))
    whole = sum(weight * part / max(float(part.std()), 1e-9) for part, weight in parts)
    return np.asarray(whole / whole.std())


def in_noise(sound: np.ndarray, rng: np.random.Generator, snr_db: float = 10.0) -> Samples:
    """Sound over the noise of a workshop, so many decibels above it while somebody speaks."""
    spoken = np.sqrt(np.mean(sound[np.abs(sound) > _LOUD * np.abs(sound).max()] ** 2))
    heard = sound + shop_noise(len(sound), rng) * spoken * 10 ** (-snr_db / 20)
    return np.asarray(30_000 * heard / np.abs(heard).max()).astype(np.int16)


def spoken_span(sound: np.ndarray) -> tuple[int, int]:
    """Where speech begins and ends, in samples."""
    loud = np.flatnonzero(np.abs(sound) > _LOUD)
    return int(loud[0]), int(loud[-1])


def pause(seconds: float) -> np.ndarray:
    """Nothing said."""
    return np.zeros(int(seconds * RATE_HZ))
