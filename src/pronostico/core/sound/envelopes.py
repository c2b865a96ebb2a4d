"""Envelopes of a sound in bands: its power in dB over time, at 4000 Hz. F-35 in docs/formulas.md."""

from dataclasses import dataclass

import numpy as np
from scipy.fft import ifft, irfft, next_fast_len, rfft
from scipy.ndimage import uniform_filter1d

from pronostico.core.arrays import ComplexArray, FloatArray
from pronostico.core.sound.filters import fewer_samples

ENVELOPE_HZ = 4000
FEATURE_HZ = 1000
BANDS_HZ = (
    (400.0, 1200.0),
    (800.0, 2400.0),
    (1600.0, 3600.0),
    (2800.0, 5200.0),
    (4500.0, 8000.0),
    (7500.0, 11000.0),
)
POOL = len(BANDS_HZ)
"""The number of the band that is the mean of the three highest."""
_POOLED = (3, 4, 5)
_LOW_HZ = (20.0, 450.0)
_TOP = 0.45  # of the rate
_TAPER = 0.1
_FLOOR = 1e-4  # of the median power
_TINY = 1e-30
_SMOOTHING = np.hanning(7)[1:6] / np.hanning(7)[1:6].sum()
_RMS_S, _LEVEL_S = 1.0, 0.7
_MOST_SD = 4.0


@dataclass(frozen=True, slots=True)
class Band:
    """One band: its number, its limits, and the power in it, dB, shape (n,)."""

    number: int
    low_hz: float
    high_hz: float
    level_db: FloatArray


@dataclass(frozen=True, slots=True)
class Envelopes:
    """The bands that there are, the pool last; `low`: the sound within 20 to 450 Hz, at 1000 Hz, (m,)."""

    seconds: float
    bands: tuple[Band, ...]
    low: FloatArray

    def band(self, number: int) -> Band | None:
        """A band by its number; None where the rate is too low for it."""
        return next((one for one in self.bands if one.number == number), None)


def means_of_four(level_db: FloatArray) -> FloatArray:
    """A level at 1000 Hz in place of 4000."""
    count = len(level_db) // 4
    return np.asarray(level_db[: 4 * count].reshape(count, 4).mean(axis=1))


def _tapered(count: int) -> FloatArray:
    """Ones with raised cosines over the outer tenths."""
    taper = np.ones(count)
    outer = round(_TAPER * count)
    if outer > 0:
        rise = 0.5 - 0.5 * np.cos(np.pi * (np.arange(outer) + 0.5) / outer)
        taper[:outer], taper[-outer:] = rise, rise[::-1]
    return taper


def at_needed_rate(sound: FloatArray, rate_hz: int) -> tuple[FloatArray, int]:
    """A sound at no higher a rate than its highest band needs, and that rate."""
    factor = int(rate_hz * _TOP / BANDS_HZ[-1][1])
    while factor > 1 and rate_hz % factor:
        factor -= 1
    if factor < 2:
        return sound, rate_hz
    return fewer_samples(sound, factor), rate_hz // factor


@dataclass(frozen=True, slots=True)
class Spectrum:
    """The spectrum of a sound, padded with zeros; shape (length / 2 + 1,)."""

    seconds: float
    rate_hz: int
    length: int
    values: ComplexArray


def spectrum_of(sound: FloatArray, rate_hz: int) -> Spectrum:
    """The spectrum of a sound, shape (n,), as exactly as the sound is given."""
    length = next_fast_len(len(sound) + rate_hz // 4, real=True)
    padded = np.zeros(length, sound.dtype)
    padded[: len(sound)] = sound - sound.mean(dtype=np.float64).astype(sound.dtype)
    return Spectrum(len(sound) / rate_hz, rate_hz, length, rfft(padded, overwrite_x=True))


def envelopes(known: Spectrum) -> Envelopes:
    """The envelopes of a sound."""
    seconds, rate_hz, length, spectrum = known.seconds, known.rate_hz, known.length, known.values
    per_hz = length / rate_hz
    bands = []
    for number, (low_hz, wanted_hz) in enumerate(BANDS_HZ):
        high_hz = min(wanted_hz, _TOP * rate_hz)
        if high_hz - low_hz < 0.5 * (wanted_hz - low_hz):
            continue
        part = spectrum[round(low_hz * per_hz) : round(high_hz * per_hz)]
        # Of one band single precision holds more than is heard.
        lowered = np.zeros(round(ENVELOPE_HZ * per_hz), np.complex64)
        lowered[: len(part)] = part * (_tapered(len(part)) * (len(lowered) / length))
        found = ifft(lowered, overwrite_x=True)
        power = found.real**2 + found.imag**2
        power = np.convolve(power, _SMOOTHING, "same")[: int(seconds * ENVELOPE_HZ)]
        level = 10.0 * np.log10(power + _FLOOR * float(np.median(power)) + _TINY)
        bands.append(Band(number, low_hz, high_hz, level))
    pooled = [one for one in bands if one.number in _POOLED]
    if len(pooled) >= 2:
        level = np.mean([one.level_db for one in pooled], axis=0)
        bands.append(Band(POOL, pooled[0].low_hz, pooled[-1].high_hz, np.asarray(level)))
    count = round(FEATURE_HZ * per_hz)
    lowered = np.zeros(count // 2 + 1, complex)
    begin, end = (round(hz * per_hz) for hz in _LOW_HZ)
    lowered[begin:end] = spectrum[begin:end] * _tapered(end - begin)
    low = irfft(lowered, count)[: int(seconds * FEATURE_HZ)]
    return Envelopes(seconds, tuple(bands), np.asarray(low))


def features(known: Envelopes) -> FloatArray:
    """What follows the crank: the low sound and the level of every band, each over its sd; (features, n)."""
    rms = np.sqrt(uniform_filter1d(known.low**2, int(_RMS_S * FEATURE_HZ)))
    rows = [known.low / np.maximum(rms, _TINY)]
    for band in known.bands:
        if band.number != POOL:
            level = means_of_four(band.level_db)
            rows.append(level - uniform_filter1d(level, int(_LEVEL_S * FEATURE_HZ)))
    count = min(map(len, rows))
    all_rows = np.array([row[:count] for row in rows])
    sd = all_rows.std(axis=1, keepdims=True)
    return np.asarray(np.clip(all_rows / np.maximum(sd, _TINY), -_MOST_SD, _MOST_SD))
