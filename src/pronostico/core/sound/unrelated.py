"""A regular noise that keeps time with neither the crank nor its half: an accessory's. F-40."""

from collections.abc import Iterator
from dataclasses import dataclass
from typing import Literal

import numpy as np
from scipy.fft import next_fast_len, rfft
from scipy.ndimage import uniform_filter1d

from pronostico.core.arrays import BoolArray, FloatArray
from pronostico.core.sound.envelopes import FEATURE_HZ, Envelopes, means_of_four

Follows = Literal["crank", "clock"]
_SHORT, _LONG = 2, 14
_MOST_SD = 3.0
_PLACES = 120
_WIDTH_HZ, _WIDTH_ORDERS = 2.5, 0.35
_MOST_POWER, _CUT_AT = 14.0, 4.0
_SLOWEST, _FASTEST = 0.2, 3.6  # per turn
_HARMONICS = 5


@dataclass(frozen=True, slots=True)
class Unrelated:
    """The strongest rhythm of its own: how far it stands out (log), how often, what it keeps time with."""

    log_evidence: float
    per_turn: float
    hz: float
    follows: Follows


@dataclass(frozen=True, slots=True)
class _Spectrum:
    """Power over its surroundings, clipped; `per_unit`: bins a hertz, or an order of the turn."""

    power: FloatArray
    per_unit: float


def _spiky(level_db: FloatArray, phase: FloatArray) -> FloatArray:
    """What is short in a level at 1000 Hz, without what the cycle brings anyway."""
    short = uniform_filter1d(level_db, _SHORT) - uniform_filter1d(level_db, _LONG)
    limit = _MOST_SD * float(short.std())
    short = np.clip(short, -limit, limit)
    place = np.floor(np.mod(phase, 1.0) * _PLACES).astype(np.int64) % _PLACES
    sums = np.bincount(place, short, _PLACES)
    means = sums / np.maximum(np.bincount(place, minlength=_PLACES), 1)
    return np.asarray(short - means[place])


def _spectrum(signal: FloatArray, samples_per_unit: float, width: float) -> _Spectrum:
    count = len(signal)
    length = next_fast_len(2 * count, real=True)
    found = rfft(signal * np.hanning(count), length)
    power = found.real**2 + found.imag**2
    per_unit = length / samples_per_unit
    bins = max(3, round(width * per_unit))
    around = uniform_filter1d(power, bins)
    around = uniform_filter1d(np.minimum(power, _CUT_AT * around), bins)
    return _Spectrum(np.minimum(power / np.maximum(around, 1e-30), _MOST_POWER), per_unit)


def _bound_to_crank(per_turn: FloatArray, tolerance: float) -> BoolArray:
    """Which rates are the crank's own, or its half's, and so are left out."""
    half = np.abs(2.0 * per_turn - np.round(2.0 * per_turn)) <= np.maximum(2.0 * tolerance, 0.02 * per_turn)
    whole = np.abs(per_turn - np.round(per_turn)) <= tolerance
    below = 0.5 / np.maximum(per_turn, 1e-9)
    return np.asarray(half | whole | ((per_turn < 0.52) & (np.abs(below - np.round(below)) < 0.02)))


def _best(known: _Spectrum, units_per_turn: float, turns: float) -> tuple[float, float]:
    """The greatest sum over harmonics less their cost, and its rate per turn."""
    step = 1.0 / (3.0 * known.per_unit)
    base = np.arange(_SLOWEST * units_per_turn, _FASTEST * units_per_turn, step)
    per_turn = base / units_per_turn
    tolerance = 0.012 + 2.0 / turns
    kept = ~_bound_to_crank(per_turn, tolerance)
    base, per_turn = base[kept], per_turn[kept]
    if len(base) == 0:
        return 0.0, 0.0
    rise = np.diff(known.power)
    total, best = np.zeros(len(base)), np.full(len(base), -np.inf)
    for harmonic in range(1, _HARMONICS + 1):
        order = harmonic * per_turn
        at = np.clip(base * harmonic * known.per_unit, 0.0, len(known.power) - 1.0)
        low = np.minimum(at.astype(np.int64), len(known.power) - 2)
        power = known.power[low] + (at - low) * rise[low]
        own = np.abs(2.0 * order - np.round(2.0 * order)) < np.maximum(2.0 * tolerance, 0.02 * order)
        total += np.where(own, 1.0, power) - 1.0
        best = np.maximum(best, total - 0.9 * harmonic)
    at_best = int(best.argmax())
    return float(best[at_best]), float(per_turn[at_best])


def _signals(known: Envelopes, phase: FloatArray) -> Iterator[FloatArray]:
    for band in known.bands:
        level = means_of_four(band.level_db)
        count = min(len(level), len(phase))
        yield _spiky(level[:count], phase[:count])


def unrelated(known: Envelopes, phase: FloatArray) -> Unrelated:
    """The strongest rhythm that is not the crank's.

    Args:
        phase: in cycles, at 1000 Hz.
    """
    found = Unrelated(0.0, 0.0, 0.0, "clock")
    turn = 2.0 * phase
    turns = float(turn[-1] - turn[0])
    seconds = len(phase) / FEATURE_HZ
    turns_hz = turns / seconds
    per_turn = max(8, round(FEATURE_HZ / turns_hz))
    for signal in _signals(known, phase):
        even = np.arange(turn[0], turn[len(signal) - 1], 1.0 / per_turn)
        over_turns = np.interp(even, turn[: len(signal)], signal)
        over_time = _best(_spectrum(signal, FEATURE_HZ, _WIDTH_HZ), turns_hz, turns)
        of_turns = _best(_spectrum(over_turns, per_turn, _WIDTH_ORDERS), 1.0, turns)
        for (log_evidence, rate), follows in ((over_time, "clock"), (of_turns, "crank")):
            if log_evidence > found.log_evidence:
                by: Follows = "crank" if follows == "crank" else "clock"
                found = Unrelated(log_evidence, rate, rate * turns_hz, by)
    return found
