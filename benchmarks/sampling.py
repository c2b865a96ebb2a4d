"""The same posterior by a common sampler: elliptical slice sampling, tau drawn in turn.

The normals of the model are sampled as they stand, every try weighed with its slip. What it takes to know the
clearances to a third of what is asked of the model is reckoned from the effective draws of a short run, which
flatters a sampler that has not settled yet. The method as in textbooks of Markov chain Monte Carlo.
"""

import time
from dataclasses import dataclass

import numpy as np
from scipy.special import ndtr

from benchmarks.fleet import simulated_engine
from benchmarks.timing import best_ms
from pronostico.core.arrays import FloatArray
from pronostico.core.constants import DEFAULT
from pronostico.core.drift import drifts
from pronostico.core.drift_chain import Latent, ValveChain, shared_of, valve_chain
from pronostico.core.engine import Engine
from pronostico.core.feel import feel_sd_mm
from pronostico.core.visits import Visit

_BOUNDS = {
    "no-go": (-np.inf, -DEFAULT.refuse_below_mm),
    "drag": (-DEFAULT.refuse_below_mm, DEFAULT.free_above_mm),
    "free": (DEFAULT.free_above_mm, np.inf),
    "go": (-DEFAULT.refuse_below_mm, np.inf),
}
_ACCURACY_MM = 0.0002  # a third of what the mean of a clearance must be right to
_RUN_S, _WARM_UP = 25.0, 500


@dataclass(frozen=True, slots=True)
class Compared:
    """Seconds by sampling to the accuracy, milliseconds by the model, and how far the two lie apart, mm."""

    sampling_s: float
    model_ms: float
    apart_mm: float
    effective_per_s: float

    @property
    def times_faster(self) -> float:
        """How many times faster the model is."""
        return self.sampling_s * 1000.0 / self.model_ms


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
        self.sd = sd
        share = np.array([2.0 if one.felt == "go" else 1.0 for _, one, _ in tries]) / 3.0
        self.slip = DEFAULT.slip_probability * share

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
        """Of all tries, each perhaps a slip."""
        gap = (self.mean + self.fixed @ f + tau * (self.by_tau @ f))[self.of] / self.sd
        p = ndtr(self.high - gap) - ndtr(self.low - gap)
        return float(np.log((1.0 - DEFAULT.slip_probability) * p + self.slip).sum())


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


def compared(valves: int = 4, visits: int = 8) -> Compared:
    """Both ways on one simulated engine."""
    engine, seen = simulated_engine(valves, visits)
    posterior, rng = _Posterior(engine, seen), np.random.default_rng(7)
    taus = np.array(DEFAULT.valve_drift_sds_mm)
    now = [posterior.row(at, chain.left[-1]) for at, chain in enumerate(posterior.chains)]
    start = np.array([chain.left[-1].mean for chain in posterior.chains])
    fixed, by_tau = np.array([one[0] for one in now]), np.array([one[1] for one in now])
    f, tau = np.zeros(posterior.size), float(taus[1])
    at = posterior.log_likelihood(f, tau)
    draws, started, steps = [], time.perf_counter(), 0
    while time.perf_counter() - started < _RUN_S:
        f, at = _slice(posterior, f, at, tau, rng)
        each = np.array([posterior.log_likelihood(f, float(one)) for one in taus])
        weight = np.exp(each - each.max())
        pick = int(rng.choice(len(taus), p=weight / weight.sum()))
        tau, at = float(taus[pick]), float(each[pick])
        steps += 1
        if steps > _WARM_UP:
            draws.append(start + fixed @ f + tau * (by_tau @ f))
    took = time.perf_counter() - started
    kept = np.array(draws)
    effective = min(_effective(column) for column in kept.T)
    needed = float(kept.std(axis=0).max() / _ACCURACY_MM) ** 2
    known = drifts(engine, seen)
    means = np.array([known.valves[chain.valve.id].state.average for chain in posterior.chains])
    return Compared(
        sampling_s=float(took * needed / effective),
        model_ms=best_ms(lambda: drifts(engine, seen), repeats=3),
        apart_mm=float(np.abs(kept.mean(axis=0) - means).max()),
        effective_per_s=float(effective / took),
    )


if __name__ == "__main__":
    found = compared()
    print(found, f"{found.times_faster:.0f} times")
