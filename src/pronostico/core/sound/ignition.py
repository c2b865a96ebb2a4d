"""The crank's phase from an ignition clip: one mark a spark, on a channel of its own. F-37."""

from dataclasses import dataclass
from typing import Literal

import numpy as np

from pronostico.core.arrays import FloatArray
from pronostico.core.sound.faults import SoundFault
from pronostico.core.sound.filters import smoothed

SparkEvery = Literal[360, 720]
_PIECE_S, _APART_S, _BEFORE_S = 0.0005, 0.008, 0.001
_STANDS_OUT = 20.0
_FEWEST_SPARKS = 7


@dataclass(frozen=True, slots=True)
class Sparks:
    """When each spark came, s, and its phase in cycles; shapes (sparks,)."""

    times_s: FloatArray
    phase: FloatArray
    every_deg: SparkEvery
    told_otherwise: bool

    def phase_at(self, times_s: FloatArray) -> FloatArray:
        """The phase at some times: 0 at a spark, linear in between and beyond the first and last."""
        inside = np.interp(times_s, self.times_s, self.phase)
        first = (self.phase[1] - self.phase[0]) / (self.times_s[1] - self.times_s[0])
        last = (self.phase[-1] - self.phase[-2]) / (self.times_s[-1] - self.times_s[-2])
        before = self.phase[0] + first * (times_s - self.times_s[0])
        after = self.phase[-1] + last * (times_s - self.times_s[-1])
        inside = np.where(times_s < self.times_s[0], before, inside)
        return np.asarray(np.where(times_s > self.times_s[-1], after, inside))


def _no_sparks(why: str) -> SoundFault:
    return SoundFault("no-sparks", f"no regular sparks are on the clip's channel: {why}")


def spark_times(signal: FloatArray, rate_hz: int) -> FloatArray:
    """When each spark begins, s.

    Raises:
        SoundFault: nothing stands out of what the channel holds.
    """
    away = np.abs(signal - np.median(signal))
    piece = max(1, round(_PIECE_S * rate_hz))
    count = len(away) // piece
    peaks = away[: count * piece].reshape(count, piece).max(axis=1)
    top = float(np.quantile(peaks, 0.998))
    if top <= 0.0 or top < _STANDS_OUT * float(np.median(peaks)):
        raise _no_sparks("nothing on it stands out; is the clip on, and on the right channel?")
    limit = 0.5 * float(np.median(peaks[peaks > 0.3 * top]))
    before = max(1, round(_BEFORE_S * rate_hz))
    times: list[float] = []
    for at in np.flatnonzero(peaks > limit):
        begin = int(at) * piece
        if times and begin / rate_hz - times[-1] < _APART_S:
            continue
        peak = begin + int(away[begin : begin + before].argmax())
        window = away[max(0, peak - before) : peak + 1]
        first = int(np.flatnonzero(window > 0.25 * away[peak])[0])
        times.append((max(0, peak - before) + first) / rate_hz)
    return np.array(times)


def sparks_of(times_s: FloatArray, cycles_hz: float, told: SparkEvery | None) -> Sparks:
    """Sparks as marks of the phase.

    Args:
        cycles_hz: how fast the engine runs, about: tells a spark a turn from one a cycle.
        told: degrees between sparks; None: found out.

    Raises:
        SoundFault: too few are left, or they are not regular.
    """
    if len(times_s) < _FEWEST_SPARKS:
        raise _no_sparks(f"{len(times_s)} marks are too few")
    middle = float(np.median(np.diff(times_s)))
    cycle = 1.0 / cycles_hz
    found: SparkEvery = 720 if abs(middle - cycle) < abs(middle - 0.5 * cycle) else 360
    running, number = middle, 0
    kept, numbers, off = [float(times_s[0])], [0], []
    for time in times_s[1:]:
        gap = float(time) - kept[-1]
        if gap < 0.6 * running:
            continue
        whole = max(1, round(gap / running))
        off.append(abs(gap / running - whole))
        number += whole
        kept.append(float(time))
        numbers.append(number)
        each = gap / whole
        if abs(each / running - 1.0) <= 0.25:
            running += 0.2 * (each - running)
    if len(kept) < _FEWEST_SPARKS:
        raise _no_sparks(f"{len(kept)} regular marks are too few")
    if float(np.median(off)) > 0.08:
        raise _no_sparks("the marks do not come at regular intervals")
    index, at = np.array(numbers, np.float64), np.array(kept)
    line = np.polyval(np.polyfit(index, at, 1), index)
    every: SparkEvery = found if told is None else told
    return Sparks(
        line + smoothed(at - line, 7),
        np.asarray(index * (every / 720.0), np.float64),
        every,
        told is not None and told != found,
    )
