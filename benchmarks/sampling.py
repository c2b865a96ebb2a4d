"""The same posterior by two common samplers: elliptical slices, and Gibbs sampling with felt gaps drawn.

Both draw from the model's posterior, entry errors included. What it takes to know the clearances to
a third of what is asked of the model is computed from the effective draws of a short run, which flatters a
sampler that has not settled yet: how far each lies from the model is told beside it. The methods as in
textbooks of Markov chain Monte Carlo (the second by data augmentation, as for ordered answers).
"""

import time
from collections.abc import Iterator
from dataclasses import dataclass

import numpy as np
from scipy.special import ndtr, ndtri

from benchmarks.fleet import simulated_engine
from benchmarks.timing import best_ms
from pronostico.core.arrays import FloatArray
from pronostico.core.constants import DEFAULT
from pronostico.core.drift.chain import Latent, ValveChain, shared_of, valve_chain
from pronostico.core.drift.model import drifts
from pronostico.core.engine import Engine
from pronostico.core.gauge.feel import feel_sd_mm
from pronostico.core.visits import Visit

_BOUNDS = {
    "no-go": (-np.inf, -DEFAULT.refuse_below_mm),
    "drag": (-DEFAULT.refuse_below_mm, DEFAULT.free_above_mm),
    "free": (DEFAULT.free_above_mm, np.inf),
    "go": (-DEFAULT.refuse_below_mm, np.inf),
}
_ACCURACY_MM = 0.0002  # a third of what the mean of a clearance must be right to
_RUN_S, _WARM_UP = 15.0, 500
_SURE = 1e-12  # keeps quantiles of truncated normals finite


@dataclass(frozen=True, slots=True)
class Sampled:
    """A run: seconds to the accuracy, effective draws a second, how far from the model's means, mm."""

    needs_s: float
    effective_per_s: float
    apart_mm: float


@dataclass(frozen=True, slots=True)
class Compared:
    """Both samplers, and the model's milliseconds."""

    slices: Sampled
    gibbs: Sampled
    model_ms: float

    def times_faster(self, sampled: Sampled) -> float:
        """How many times faster the model is."""
        return sampled.needs_s * 1000.0 / self.model_ms


class _Posterior:
    """Gaps as sums of standard normals, `mean + (fixed + tau * by_tau) f`, and the log likelihood of them."""

    def __init__(self, engine: Engine, visits: tuple[Visit, ...]) -> None:
        shared = shared_of(engine, visits, DEFAULT)
        chains = [
            valve_chain(engine, valve, visits, shared, jumps=frozenset(), constants=DEFAULT)
            for valve in engine.valves
        ]
        self.chains = [chain for chain in chains if chain is not None]
        self.starts = np.cumsum([shared.size, *(len(chain.variance) for chain in self.chains)])
        readings = [(at, one) for at, chain in enumerate(self.chains) for one in chain.readings]
        self.size = int(self.starts[-1]) + len(readings)
        self.shared_sd = np.sqrt(shared.variance)
        rows = [self.row(at, one.latent) for at, one in readings]
        self.mean = np.array([one.latent.mean + one.correction_mm for _, one in readings])
        self.fixed, self.by_tau = np.array([row[0] for row in rows]), np.array([row[1] for row in rows])
        noise = np.arange(len(readings))
        self.fixed[noise, int(self.starts[-1]) + noise] = DEFAULT.reading_sd_mm
        tries = [
            (at, one, read.reading) for at, (_, read) in enumerate(readings) for one in read.reading.tries
        ]
        self.of = np.array([at for at, _, _ in tries])
        sd = np.array([feel_sd_mm(len(one.blades_mm), read.access, DEFAULT) for _, one, read in tries])
        thickness = np.array([one.thickness_mm for _, one, _ in tries])
        bounds = np.array([_BOUNDS[one.felt] for _, one, _ in tries])
        self.low, self.high = (thickness + bounds[:, 0]) / sd, (thickness + bounds[:, 1]) / sd
        self.sd, self.thickness, self.bounds = sd, thickness, bounds
        share = np.array([2.0 if one.felt == "go" else 1.0 for _, one, _ in tries]) / 3.0
        self.entry_error = DEFAULT.entry_error_probability * share

    def row(self, at: int, latent: Latent) -> tuple[FloatArray, FloatArray]:
        """The loadings of a latent of a chain on all standard normals, without and with tau."""
        chain: ValveChain = self.chains[at]
        fixed, by_tau = np.zeros(self.size), np.zeros(self.size)
        here = slice(int(self.starts[at]), int(self.starts[at + 1]))
        own = latent.own[: len(chain.variance)]
        fixed[here], by_tau[here] = own * np.sqrt(chain.variance), own * np.sqrt(chain.by_tau)
        fixed[: len(self.shared_sd)] = latent.shared * self.shared_sd
        return fixed, by_tau

    def log_likelihood(self, f: FloatArray, tau: float) -> float:
        """Of all tries, each perhaps an entry error."""
        gap = (self.mean + self.fixed @ f + tau * (self.by_tau @ f))[self.of] / self.sd
        p = ndtr(self.high - gap) - ndtr(self.low - gap)
        return float(np.log((1.0 - DEFAULT.entry_error_probability) * p + self.entry_error).sum())


def _effective(draws: FloatArray) -> float:
    """Effective draws of a run, from its autocorrelations up to the first that is negative."""
    off = draws - draws.mean()
    size = 1 << (2 * len(off) - 1).bit_length()
    spectrum = np.fft.rfft(off, size)
    correlation = np.fft.irfft(spectrum * spectrum.conj(), size)[: len(off)]
    correlation = correlation / correlation[0]
    pairs = correlation[0 : len(off) - 1 : 2] + correlation[1 : len(off) : 2]
    ends = np.flatnonzero(pairs < 0.0)
    return len(off) / (2.0 * pairs[: ends[0] if ends.size else None].sum() - 1.0)


def _slice(
    posterior: _Posterior, f: FloatArray, at: float, tau: float, rng: np.random.Generator
) -> tuple[FloatArray, float]:
    """One elliptical slice: the next draw and its log likelihood."""
    other, level = rng.standard_normal(posterior.size), at + np.log(rng.random())
    angle = rng.random() * 2.0 * np.pi
    low, high = angle - 2.0 * np.pi, angle
    while True:
        new = f * np.cos(angle) + other * np.sin(angle)
        found = posterior.log_likelihood(new, tau)
        if found > level:
            return new, found
        low, high = (angle, high) if angle < 0.0 else (low, angle)
        angle = rng.uniform(low, high)


def _by_slices(posterior: _Posterior, last: list[Latent], rng: np.random.Generator) -> Iterator[FloatArray]:
    """Draws of some latents, one a chain; tau drawn in turn."""
    taus = np.array(DEFAULT.valve_drift_sds_mm)
    rows = [posterior.row(at, one) for at, one in enumerate(last)]
    start = np.array([one.mean for one in last])
    fixed, by_tau = np.array([one[0] for one in rows]), np.array([one[1] for one in rows])
    f, tau = np.zeros(posterior.size), float(taus[1])
    at = posterior.log_likelihood(f, tau)
    while True:
        f, at = _slice(posterior, f, at, tau, rng)
        each = np.array([posterior.log_likelihood(f, float(one)) for one in taus])
        weight = np.exp(each - each.max())
        pick = int(rng.choice(len(taus), p=weight / weight.sum()))
        tau, at = float(taus[pick]), float(each[pick])
        yield start + fixed @ f + tau * (by_tau @ f)


def _by_gibbs(posterior: _Posterior, last: list[Latent], rng: np.random.Generator) -> Iterator[FloatArray]:
    """Means of some latents given each draw of entry errors and felt gaps, tau, and all gaps at once."""
    taus = np.array(DEFAULT.valve_drift_sds_mm)
    rows = [posterior.row(at, one) for at, one in enumerate(last)]
    start = np.array([one.mean for one in last])
    loads = [posterior.fixed + tau * posterior.by_tau for tau in taus]
    covariances = [one @ one.T for one in loads]
    towards = [
        np.array([fixed + tau * by_tau for fixed, by_tau in rows]) @ load.T @ np.linalg.inv(cov)
        for tau, load, cov in zip(taus, loads, covariances, strict=True)
    ]
    count, mean, of, sd = len(posterior.mean), posterior.mean, posterior.of, posterior.sd
    low, high = posterior.bounds[:, 0], posterior.bounds[:, 1]
    gaps = mean.copy()
    while True:
        off = gaps[of] - posterior.thickness
        below, above = ndtr((low - off) / sd), ndtr((high - off) / sd)
        at_word = (1.0 - DEFAULT.entry_error_probability) * (above - below)
        sound = rng.random(len(of)) * (at_word + posterior.entry_error) < at_word
        share = below + rng.random(len(of)) * (above - below)
        felt = posterior.thickness + off + sd * ndtri(np.clip(share, _SURE, 1.0 - _SURE))
        precision = np.bincount(of, weights=sound / sd**2, minlength=count)
        weighted = np.bincount(of, weights=sound * (felt - mean[of]) / sd**2, minlength=count)
        root = np.sqrt(precision)
        lowers = [np.linalg.cholesky(np.eye(count) + root[:, None] * cov * root) for cov in covariances]
        kept = [
            cov - (half := np.linalg.solve(lower, root[:, None] * cov)).T @ half
            for lower, cov in zip(lowers, covariances, strict=True)
        ]
        logs = np.array(
            [
                0.5 * weighted @ cov @ weighted - np.log(np.diagonal(lower)).sum()
                for lower, cov in zip(lowers, kept, strict=True)
            ]
        )
        weight = np.exp(logs - logs.max())
        pick = int(rng.choice(len(taus), p=weight / weight.sum()))
        spread = np.linalg.cholesky(kept[pick] + 1e-14 * np.eye(count))
        moved = kept[pick] @ weighted + spread @ rng.standard_normal(count)
        gaps = mean + moved
        yield start + towards[pick] @ moved


def _run(draws: Iterator[FloatArray], means: FloatArray) -> Sampled:
    started = time.perf_counter()
    kept = []
    for number, draw in enumerate(draws):
        if number > _WARM_UP:
            kept.append(draw)
        if time.perf_counter() - started > _RUN_S:
            break
    took = time.perf_counter() - started
    columns = np.array(kept)
    effective = min(_effective(column) for column in columns.T)
    needed = float(columns.std(axis=0).max() / _ACCURACY_MM) ** 2
    apart = float(np.abs(columns.mean(axis=0) - means).max())
    return Sampled(float(took * needed / effective), float(effective / took), apart)


def compared(valves: int = 4, visits: int = 8) -> Compared:
    """All three ways on one simulated engine: the clearances currently after the last visit."""
    engine, seen = simulated_engine(valves, visits)
    posterior, rng = _Posterior(engine, seen), np.random.default_rng(7)
    last = [chain.left[-1] for chain in posterior.chains]
    known = drifts(engine, seen)
    means = np.array([known.valves[chain.valve.id].state.average for chain in posterior.chains])
    return Compared(
        slices=_run(_by_slices(posterior, last, rng), means),
        gibbs=_run(_by_gibbs(posterior, last, rng), means),
        model_ms=best_ms(lambda: drifts(engine, seen), repeats=3),
    )


if __name__ == "__main__":
    found = compared()
    print(found, [round(found.times_faster(one)) for one in (found.slices, found.gibbs)])
