"""The single ticks of a valve train: where in the cycle, how strong, whether they fade. F-42."""

from dataclasses import dataclass
from typing import Literal

import numpy as np

from pronostico.core.arrays import FloatArray
from pronostico.core.sound.evidence import BandEvidence, Evidence
from pronostico.core.sound.sharp import Sharp, lag_one

Verdict = Literal["fades", "grows", "steady", "cannot-tell"]
_MOST_TICKS = 4
_STANDS_OUT = 3.5
_JITTER_REACH_DEG = 14.0
_JITTER_FROM_DB = 6.0
_SPEED_RANGE = 0.06


@dataclass(frozen=True, slots=True)
class Slope:
    """A change and its sd, dB: over a minute, or over ten per cent more speed."""

    db: float
    sd_db: float
    verdict: Verdict


@dataclass(frozen=True, slots=True)
class Tick:
    """One tick: its place in cycles after phase 0, its height over its surroundings and its sd, dB.

    `jitter_deg`: how far it wanders from cycle to cycle, None where one is too noisy to say. `with_rpm`:
    how it changes with the speed, None where that hardly changed.
    """

    place: float
    strength_db: float
    strength_sd_db: float
    band_hz: tuple[float, float]
    band: int
    jitter_deg: float | None
    over_time: Slope
    with_rpm: Slope | None


@dataclass(frozen=True, slots=True)
class Cycles:
    """The whole cycles: when each was half over, s, and its speed, rpm; shapes (cycles,)."""

    middle_s: FloatArray
    rpm: FloatArray


def _parabola(values: FloatArray, at: int) -> float:
    """How far the peak through three places lies off the middle one, in places."""
    left, here, right = (float(values[(at + by) % len(values)]) for by in (-1, 0, 1))
    bend = left - 2.0 * here + right
    return float(np.clip(0.5 * (left - right) / bend, -0.5, 0.5)) if bend < 0.0 else 0.0


def _score(one: BandEvidence) -> FloatArray:
    """How well each place is explained by a blow of its own; minus infinity where it does not stand out."""
    if one.tick_weight <= 0.0:
        return np.full(len(one.y), -np.inf)
    pair = np.log(np.tile(one.tick_ratio, 2)[: len(one.y)])
    partner = np.roll(one.log_bf, -(len(one.y) // 2))
    score = np.log(one.tick_weight) + pair + one.log_bf - np.logaddexp(one.log_bf, partner)
    return np.asarray(np.where(one.y / one.sharp.sigma >= _STANDS_OUT, score, -np.inf))


def slope_of(values: FloatArray, over: FloatArray, unit: float) -> Slope:
    """A line through values from cycle to cycle, with their correlation in its sd.

    Args:
        unit: what the slope is given for, in the units of `over`.
    """
    x = over - over.mean()
    spread = float((x**2).sum())
    if spread <= 0.0 or len(values) < 8:
        return Slope(0.0, 0.0, "cannot-tell")
    slope = float((x * values).sum()) / spread
    left = values - values.mean() - slope * x
    rho = lag_one(left[:, None])
    sd = float(np.sqrt((left**2).sum() / (len(values) - 2) / spread * (1.0 + rho) / (1.0 - rho)))
    whole = float(over.max() - over.min())
    verdict: Verdict = "cannot-tell"
    if abs(slope) > 2.5 * sd and abs(slope) * whole > 1.5:
        verdict = "grows" if slope > 0.0 else "fades"
    elif (abs(slope) + 2.0 * sd) * whole < 3.0:
        verdict = "steady"
    return Slope(slope * unit, sd * unit, verdict)


def _heights(sharp: Sharp, at: int) -> FloatArray:
    """The tick's height in each cycle: over what is before or after it, whichever is less in the mean."""
    count = len(sharp.height)
    near = [(at + by) % count for by in (-1, 0, 1)]
    lesser = sharp.d1 if sharp.d1[:, at].mean() <= sharp.d2[:, at].mean() else sharp.d2
    return np.asarray(lesser[:, near].mean(axis=1))


def _jitter_deg(sharp: Sharp, at: int) -> float | None:
    if sharp.height[at] < _JITTER_FROM_DB:
        return None
    count = len(sharp.height)
    reach = round(_JITTER_REACH_DEG * count / 720.0)
    near = (at + np.arange(-reach, reach + 1)) % count
    peak = (sharp.d1[:, near] + sharp.d2[:, near]).argmax(axis=1)
    low, high = np.quantile((peak - reach) * 720.0 / count, [0.25, 0.75])
    return float((high - low) / 1.349)


def _tick(sharp: Sharp, at: int, cycles: Cycles) -> Tick:
    count = len(sharp.height)
    heights = _heights(sharp, at)
    low, high = np.quantile(cycles.rpm, [0.05, 0.95])
    with_rpm = None
    if high / low - 1.0 > _SPEED_RANGE:
        with_rpm = slope_of(heights, np.log(cycles.rpm), float(np.log(1.1)))
    return Tick(
        place=float(np.mod((at + _parabola(sharp.height, at)) / count, 1.0)),
        strength_db=float(sharp.height[at]),
        strength_sd_db=float(sharp.se[at]),
        band_hz=(sharp.band.low_hz, sharp.band.high_hz),
        band=sharp.band.number,
        jitter_deg=_jitter_deg(sharp, at),
        over_time=slope_of(heights, cycles.middle_s, 60.0),
        with_rpm=with_rpm,
    )


def ticks_of(found: Evidence, cycle_s: float, cycles: Cycles) -> tuple[Tick, ...]:
    """Up to four ticks, the surest first."""
    scores = np.array([_score(one) for one in found.bands])
    count = scores.shape[1]
    closed = max(16.0, 2.6 / cycle_s)
    degrees = np.arange(count) * 720.0 / count
    ticks: list[Tick] = []
    while len(ticks) < _MOST_TICKS:
        band, at = np.unravel_index(int(scores.argmax()), scores.shape)
        if not np.isfinite(scores[band, at]):
            break
        ticks.append(_tick(found.bands[int(band)].sharp, int(at), cycles))
        apart = np.abs(np.mod(degrees - degrees[at] + 360.0, 720.0) - 360.0)
        scores[:, apart <= closed] = -np.inf
    return tuple(ticks)
