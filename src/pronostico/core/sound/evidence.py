"""Evidence for what comes once in two turns, once a turn, and alike in all cylinders. F-39.

Bayes factors over the heights that a blow may have, against none; the part of half crank speed is tested
beyond what one of crank speed explains, and the other way round.
"""

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
from scipy.special import log_ndtr, logsumexp

from pronostico.core.arrays import BoolArray, FloatArray
from pronostico.core.sound.engine import Firing
from pronostico.core.sound.envelopes import POOL
from pronostico.core.sound.sharp import Sharp

MEAN_HEIGHT_DB = 4.0
HEIGHTS_DB = np.array([0.3, 0.6, 1.0, 1.6, 2.4, 3.4, 4.8, 6.5, 9.0, 13.0])
_HEIGHT_WEIGHTS = np.gradient(HEIGHTS_DB) * np.exp(-HEIGHTS_DB / 4.0)
_HEIGHT_WEIGHTS = _HEIGHT_WEIGHTS / _HEIGHT_WEIGHTS.sum()
_TICK = {0: 0.0, 1: 0.0, 2: 0.15, 3: 0.2, 4: 0.2, 5: 0.1, POOL: 0.35}
_KNOCK = {0: 0.35, 1: 0.4, 2: 0.15, 3: 0.04, 4: 0.02, 5: 0.01, POOL: 0.03}
_LOW_BANDS = (0, 1, 2)
_RATIOS = 10.0 ** (0.1 * np.array([-1.5, 0.0, 1.5]))
_STANDS_OUT = 3.5
_NO_FAMILY = -6.0


@dataclass(frozen=True, slots=True)
class BandEvidence:
    """One band: its weights, what it sounds like beyond the family, and what its pairs of places say.

    `y`, `s`: height beyond what all cylinders do alike and its sd, dB, (M,); `log_bf`: of a blow there. `T`,
    `K`, `TK`, `TT` over the places of the first turn, (M/2,): a blow at one of the two, at both alike, at
    both with one more, two different ones.
    """

    sharp: Sharp
    tick_weight: float
    knock_weight: float
    y: FloatArray
    s: FloatArray
    base: FloatArray
    log_bf: FloatArray
    tick: FloatArray
    knock: FloatArray
    knock_and_tick: FloatArray
    two_ticks: FloatArray

    @property
    def kappa(self) -> float:
        """How much more a knock's weight is than a tick's, in this band."""
        if self.tick_weight <= 0.0:
            return 200.0
        return float(np.clip(self.knock_weight / self.tick_weight, 0.05, 200.0))

    @property
    def tick_ratio(self) -> FloatArray:
        """The evidence for a blow once in two turns beyond one a turn, for each pair of places."""
        return np.asarray((self.tick + self.kappa * self.knock_and_tick) / (1.0 + self.kappa * self.knock))


@dataclass(frozen=True, slots=True)
class Evidence:
    """The bands, and the log Bayes factors: half crank speed, crank speed, it in the low bands, all alike.

    `height_alike`: the greatest height that all cylinders share, dB; `events`: how many blows stand out.
    """

    bands: tuple[BandEvidence, ...]
    half: float
    crank: float
    low: float
    alike: float
    height_alike: float
    events: int


def log_bayes_factor(y: FloatArray, s: FloatArray) -> FloatArray:
    """Log Bayes factor of a blow of exponential height, of 4 dB in the mean, against none."""
    u = y / s - s / MEAN_HEIGHT_DB
    return np.asarray(np.log(np.sqrt(2.0 * np.pi) * s / MEAN_HEIGHT_DB) + 0.5 * u**2 + log_ndtr(u))


def _at(values: FloatArray, places: FloatArray) -> FloatArray:
    """Values at places of the cycle that may lie between two, linearly."""
    count = len(values)
    low = np.floor(places).astype(np.int64)
    share = places - low
    return np.asarray((1.0 - share) * values[low % count] + share * values[(low + 1) % count])


def _members(firing: Firing, count: int) -> list[FloatArray]:
    """For every try, the places of the family of each place; (members, M)."""
    places = np.arange(count)
    return [places[None, :] + offsets[:, None] * count / 720.0 for offsets in firing.offsets_deg]


def _base(sharp: Sharp, members: Sequence[FloatArray]) -> FloatArray:
    """What all cylinders do alike at each place, dB."""
    base = np.zeros(len(sharp.height))
    for places in members:
        own = np.sort(np.array([_at(sharp.height, row) for row in places]), axis=0)
        lower_median = own[(len(own) - 1) // 2]
        base = np.maximum(base, np.maximum(np.minimum(sharp.height, lower_median), 0.0))
    return base


def _log_normal(x: FloatArray, mean: FloatArray | float, variance: FloatArray) -> FloatArray:
    return np.asarray(-0.5 * (x - mean) ** 2 / variance - 0.5 * np.log(2.0 * np.pi * variance))


def _log_family(sharp: Sharp, members: Sequence[FloatArray], three_or_more: bool) -> FloatArray:
    """Log of how much likelier the same blow in all cylinders is than none, one or two; (M,)."""
    best = np.full(len(sharp.height), -np.inf)
    for places in members:
        height = np.array([_at(sharp.height, row) for row in places])
        sigma = np.array([_at(sharp.sigma, row) for row in places])
        nothing = _log_normal(height, 0.0, sigma**2)
        together = logsumexp(
            [
                np.log(weight) + (_log_normal(height, h, sigma**2 + (h / 2.0) ** 2) - nothing).sum(axis=0)
                for h, weight in zip(HEIGHTS_DB, _HEIGHT_WEIGHTS, strict=True)
            ],
            axis=0,
        )
        single = log_bayes_factor(height, sigma)
        terms = [np.zeros(len(sharp.height)), *single]
        if three_or_more:
            terms += [
                single[i] + single[j] - 4.0 for i in range(len(single)) for j in range(i + 1, len(single))
            ]
        best = np.maximum(best, together - logsumexp(terms, axis=0))
    return best


def _away_from_best(log_family: FloatArray, firing: Firing) -> BoolArray:
    """The places of the family that are not about the best one."""
    count = len(log_family)
    degrees = np.arange(count) * 720.0 / count
    around = 720.0 / firing.count if firing.even else 720.0
    apart = np.abs(np.mod(degrees - degrees[int(log_family.argmax())] + around / 2.0, around) - around / 2.0)
    return np.asarray(apart > min(22.0, 144.0 / firing.count))


def _delta_places(firing: Firing, count: int) -> list[int]:
    """How far the partner a turn later may lie off, in places."""
    reach = 5.0 if not firing.even else {1: 10.0, 3: 4.0, 5: 3.0}.get(firing.count, 2.0)
    most = int(np.floor(reach * count / 720.0 + 1e-9))
    return list(range(-most, most + 1))


def _pairs(
    sharp: Sharp, y: FloatArray, s: FloatArray, log_bf: FloatArray, deltas: Sequence[int]
) -> tuple[FloatArray, FloatArray, FloatArray, FloatArray]:
    """T, K, TK and TT over the places of the first turn."""
    count = len(y)
    half = count // 2
    first = np.arange(half)
    tick = 0.5 * (np.exp(log_bf[:half]) + np.exp(log_bf[half:]))
    knock, knock_and_tick, two = np.zeros(half), np.zeros(half), np.zeros(half)
    e = 10.0 ** (HEIGHTS_DB / 10.0) - 1.0
    for delta in deltas:
        other = (first + half + delta) % count
        y1, y2, s1, s2 = y[first], y[other], s[first], s[other]
        ground = np.minimum(sharp.ground[first], sharp.ground[other])
        q1 = 10.0 ** (-(sharp.ground[first] - ground) / 10.0)
        q2 = 10.0 ** (-(sharp.ground[other] - ground) / 10.0)
        nothing = _log_normal(y1, 0.0, s1**2) + _log_normal(y2, 0.0, s2**2)
        for weight, power in zip(_HEIGHT_WEIGHTS, e, strict=True):
            for ratio in _RATIOS:
                m1 = 10.0 * np.log10(1.0 + power * q1 * ratio)
                m2 = 10.0 * np.log10(1.0 + power * q2 / ratio)
                both = np.exp(_log_normal(y1, m1, s1**2) + _log_normal(y2, m2, s2**2) - nothing)
                knock += weight * both / len(_RATIOS)
                if ratio == 1.0:
                    more = np.exp(log_bayes_factor(y1 - m1, s1)) + np.exp(log_bayes_factor(y2 - m2, s2))
                    knock_and_tick += weight * both * 0.5 * more
        two += np.exp(log_bf[first] + log_bf[other])
    number = len(deltas)
    return tick, knock / number, knock_and_tick / number, two / number


def _weights(numbers: Sequence[int], of: dict[int, float]) -> dict[int, float]:
    total = sum(of[number] for number in numbers)
    return {number: of[number] / total for number in numbers}


def _low_evidence(bands: Sequence[BandEvidence], deltas: Sequence[int]) -> float:
    """Log evidence for a blow at both turns in the low bands."""
    low = [one for one in bands if one.sharp.band.number in _LOW_BANDS]
    total = sum(one.knock_weight for one in low)
    logs = []
    for one in low:
        half = len(one.log_bf) // 2
        first = np.arange(half)
        pairs = [
            np.minimum(one.log_bf[:half], one.log_bf[(first + half + delta) % len(one.log_bf)])
            for delta in deltas
        ]
        best = np.max(pairs, axis=0)
        logs.append(np.log(one.knock_weight / total) + logsumexp(best) - np.log(half))
    return float(logsumexp(logs))


def _events(sharp: Sharp) -> int:
    height = sharp.height
    peak = (height > np.roll(height, 1)) & (height >= np.roll(height, -1))
    return int((peak & (height / sharp.sigma > _STANDS_OUT)).sum())


def evidence(parts: Sequence[Sharp], firing: Firing) -> Evidence:
    """What the bands say together."""
    numbers = [one.band.number for one in parts]
    ticks, knocks = _weights(numbers, _TICK), _weights(numbers, _KNOCK)
    count = len(parts[0].height)
    members, deltas = _members(firing, count), _delta_places(firing, count)
    bands: list[BandEvidence] = []
    families: list[tuple[float, float]] = []
    for sharp in parts:
        number = sharp.band.number
        base = _base(sharp, members) if members else np.zeros(count)
        y, s = sharp.height - base, np.sqrt(sharp.sigma**2 + (0.35 * base) ** 2)
        log_bf = log_bayes_factor(y, s)
        pairs = _pairs(sharp, y, s, log_bf, deltas)
        bands.append(BandEvidence(sharp, ticks[number], knocks[number], y, s, base, log_bf, *pairs))
        if members and ticks[number] > 0.0:
            log_family = _log_family(sharp, members, firing.count >= 3)
            away = log_family[_away_from_best(log_family, firing)]
            families.append((ticks[number], float(logsumexp(away) - np.log(max(len(away), 1)))))
    half = sum(one.tick_weight * float(one.tick_ratio.mean()) for one in bands)
    crank = sum(one.knock_weight * float(_crank_ratio(one).mean()) for one in bands)
    last = next((one for one in bands if one.sharp.band.number == POOL), bands[-1])
    alike = (
        float(logsumexp([log for _, log in families], b=[weight for weight, _ in families]))
        if families
        else _NO_FAMILY
    )
    return Evidence(
        tuple(bands),
        float(np.log(half)),
        float(np.log(crank)),
        _low_evidence(bands, deltas),
        alike,
        float(last.base.max()),
        _events(last.sharp),
    )


def _crank_ratio(one: BandEvidence) -> FloatArray:
    """The evidence for a blow a turn beyond one tick, or two that happen to lie a turn apart."""
    kappa = one.kappa
    return np.asarray(
        (one.knock + one.knock_and_tick / kappa) / (1.0 + one.tick / kappa + 0.02 * one.two_ticks / kappa)
    )
