"""What is sharp at each place of the cycle: a blow that stands over what is just before and after. F-38."""

from dataclasses import dataclass

import numpy as np
from scipy.ndimage import maximum_filter1d

from pronostico.core.arrays import FloatArray
from pronostico.core.sound.envelopes import ENVELOPE_HZ, POOL, Band, Envelopes

_DECAY = 1.95
_NEAR_DEG = 8.0
_LEAST_ROUGH_DB = 0.3
_LOW_BANDS = (0, 1)


@dataclass(frozen=True, slots=True)
class Windows:
    """How far about a place is looked, s: outer and inner edge of what is around it, half of it itself."""

    out_s: float
    gap_s: float
    half_s: float


@dataclass(frozen=True, slots=True)
class Sharp:
    """One band folded over the cycle, at M places; all dB.

    `height`: what stands over its surroundings; `ground`: the mean level less that; `se`: of the height;
    `sigma`: how far it may be off. `d1`, `d2`: the height over what is before and after, cycle by cycle,
    shape (cycles, M).
    """

    band: Band
    height: FloatArray
    ground: FloatArray
    se: FloatArray
    sigma: FloatArray
    d1: FloatArray
    d2: FloatArray


def windows_for(cycle_s: float, cylinders: int) -> Windows:
    """The windows for an engine's speed: events of other cylinders stay outside."""
    out = min(0.0055, 0.45 * cycle_s / cylinders)
    gap = min(0.00175, 0.3 * out)
    return Windows(out, gap, min(0.00075, 0.8 * gap))


def places_for(cycle_s: float) -> int:
    """Into how many places the cycle is folded."""
    if cycle_s > 0.085:
        return 360
    return 240 if cycle_s > 0.050 else 120


def _mean_over(sums: FloatArray, begin_s: float, end_s: float) -> FloatArray:
    """Mean of a level from some time to some other after each sample; `sums` with a nought before."""
    begin = int(np.floor(ENVELOPE_HZ * begin_s + 0.5))
    end = int(np.floor(ENVELOPE_HZ * end_s + 0.5))
    count = len(sums) - 1
    edge = max(abs(begin), abs(end))
    padded = np.pad(sums, edge, mode="edge")
    whole = padded[edge + end : edge + end + count] - padded[edge + begin : edge + begin + count]
    mean = whole / (end - begin)
    # At the ends of the recording there are fewer.
    at = np.concatenate([np.arange(min(edge, count)), np.arange(max(count - edge, 0), count)])
    high, low = np.clip(at + end, 0, count), np.clip(at + begin, 0, count)
    mean[at] = (sums[high] - sums[low]) / np.maximum(high - low, 1)
    return np.asarray(mean)


def lag_one(rows: FloatArray) -> float:
    """Correlation of what follows each other along the first axis, over all columns; 0 to 0.5."""
    off = rows - rows.mean(axis=0)
    total = float((off**2).sum())
    return float(np.clip((off[1:] * off[:-1]).sum() / total, 0.0, 0.5)) if total > 0.0 else 0.0


@dataclass(frozen=True, slots=True)
class _Folded:
    """Levels at every place of every cycle, (cycles, M)."""

    c: FloatArray
    d1: FloatArray
    d2: FloatArray
    slope: FloatArray


def _fold(band: Band, where: FloatArray, windows: Windows) -> _Folded:
    sums = np.concatenate([[0.0], np.cumsum(band.level_db)])
    out, gap, half = windows.out_s, windows.gap_s, windows.half_s
    middle = (out + gap) / 2.0
    c = _mean_over(sums, -half, half + 0.0001)
    before, after = _mean_over(sums, -out, -gap), _mean_over(sums, gap, out)
    slope = _mean_over(sums, gap, middle) - _mean_over(sums, middle, out)
    low = np.minimum(where.astype(np.int64), len(band.level_db) - 2)
    share = where - low

    def at(values: FloatArray) -> FloatArray:
        return np.asarray(values.take(low) + share * np.diff(values).take(low))

    return _Folded(at(c), at(c - before), at(c - after), at(slope))


@dataclass(frozen=True, slots=True)
class _Raw:
    band: Band
    height: FloatArray
    se: FloatArray
    rough: float
    ground: FloatArray
    d1: FloatArray
    d2: FloatArray


def _raw(band: Band, where: FloatArray, windows: Windows) -> _Raw:
    known = _fold(band, where, windows)
    cycles = len(where)
    d1, d2 = known.d1.mean(axis=0), known.d2.mean(axis=0)
    # An exponential decay, as a combustion burst has, is a line in dB and leaves nothing.
    fall = known.slope.mean(axis=0) - known.slope.std(axis=0) / np.sqrt(cycles)
    decay = 0.0 if band.number in _LOW_BANDS else _DECAY
    over_after = d2 - decay * np.maximum(fall, 0.0)
    height = np.minimum(d1, over_after)
    var = np.where(d1 <= over_after, known.d1.var(axis=0), known.d2.var(axis=0))
    rho = lag_one(known.d1)
    se = np.sqrt(var / cycles * (1.0 + rho) / (1.0 - rho))
    rough = max(_LEAST_ROUGH_DB, float(np.quantile(np.maximum(height, 0.0), 0.6)))
    height = np.maximum(height, -np.sqrt(se**2 + rough**2))
    ground = known.c.mean(axis=0) - np.maximum(height, 0.0)
    return _Raw(band, height, se, rough, ground, known.d1, known.d2)


def _near(height: FloatArray) -> FloatArray:
    """The greatest height within some degrees of each place."""
    reach = round(_NEAR_DEG * len(height) / 720.0)
    return np.asarray(maximum_filter1d(np.maximum(height, 0.0), 2 * reach + 1, mode="wrap"))


def sharp_parts(known: Envelopes, where: FloatArray, windows: Windows) -> tuple[Sharp, ...]:
    """Every band folded over the cycle.

    Args:
        where: the sample, at 4000 Hz, of each place of each whole cycle; shape (cycles, M).
    """
    raw = [_raw(band, where, windows) for band in known.bands]
    low = next(one for one in raw if one.band.number == 1)
    last = next((one for one in raw if one.band.number == POOL), raw[-1])
    found = []
    for one in raw:
        # What sounds low too is not a tick's alone; what sounds high too is not a knock's.
        other = last if one.band.number in _LOW_BANDS else low
        more = 0.7 * np.maximum(_near(other.height) - 0.6 * np.maximum(one.height, 0.0), 0.0)
        sigma = np.sqrt(0.49 * one.se**2 + one.rough**2 + more**2)
        sigma = np.maximum(sigma, np.maximum(one.height, 0.0) / 8.0)
        found.append(Sharp(one.band, one.height, one.ground, one.se, sigma, one.d1, one.d2))
    return tuple(found)
