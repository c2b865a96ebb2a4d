"""The posterior of any clearances and drifts of a chain, as a mixture of normals.

One component for each spread of the drifts, each live entry error, and, for the last reading, each gap
that it may have seen: the last reading enters exactly, not by a normal approximation. Entry errors that
are hardly likely are small parts of their own.
"""

from collections.abc import Iterator, Mapping, Sequence
from dataclasses import dataclass

import numpy as np

from pronostico.core.arrays import FloatArray
from pronostico.core.drift.chain import Latent
from pronostico.core.drift.likelihood_tables import Tables, weigh
from pronostico.core.drift.normal_mixture import Mixture
from pronostico.core.drift.posterior import Posterior

_LEAST_WEIGHT = 1e-5
_NODES = 40


@dataclass(frozen=True, slots=True)
class _Rows:
    """Latents of one chain as arrays: `mean` (m,), `own` (m, o), `shared` (m, s)."""

    mean: FloatArray
    own: FloatArray
    shared: FloatArray

    @classmethod
    def of(cls, latents: Sequence[Latent], size: int) -> "_Rows":
        return cls(
            np.array([one.mean for one in latents]),
            np.array([one.own[:size] for one in latents]),
            np.array([one.shared for one in latents]),
        )


def mixture_of(
    posterior: Posterior,
    chain: int,
    latents: Sequence[Latent],
    *,
    last_reading: int | None = None,
    least_sd: float = 0.0,
) -> Mixture:
    """The posterior of some latents of a chain, given all readings.

    Args:
        last_reading: the reading of the chain that is taken as it is, and not by its normal.
        least_sd: entry errors less likely than this are left out.
    """
    known = posterior.base.chains[chain]
    size = len(known.variance)
    want = _Rows.of(latents, size)
    count = min(len(known.readings), posterior.size)
    read = _Rows.of([one.latent for one in known.readings[:count]], size) if count else None
    mixed = _Mixing()
    for at, config in enumerate(posterior.configs):
        if config.chain != chain:
            continue
        by_tau = posterior.tau_weight * posterior.config_weight[:, at]
        parts = {
            t: _part(posterior, t, at, count, want, read, known.variance + tau**2 * known.by_tau)
            for t, tau in enumerate(posterior.base.taus)
            if by_tau[t] >= _LEAST_WEIGHT
        }
        if not parts:
            continue
        possible_entry_errors = _possible_entry_errors(posterior, at, parts, by_tau, least_sd)
        sure = (
            1.0
            if possible_entry_errors is None
            else 1.0 - min(0.5, float(possible_entry_errors.weight.sum()))
        )
        for t, part in parts.items():
            mixed.add(sure * float(by_tau[t]), _split(posterior, t, at, last_reading, part))
        if possible_entry_errors is not None:
            mixed.add(float(by_tau.sum()), possible_entry_errors)
    return mixed.whole()


def spread_of_each(posterior: Posterior, latents: Sequence[Latent]) -> tuple[FloatArray, FloatArray]:
    """Posterior means and sds of one latent of every chain, both (V,).

    As `mixture_of` has them, without the entry errors that are hardly likely.
    """
    base, message = posterior.base, posterior.message
    groups = np.array([config.chain for config in posterior.configs])
    n = slice(0, posterior.size)
    own = np.zeros((len(latents), base.own.shape[-1]))
    for at, one in enumerate(latents):
        known = len(base.chains[at].variance)
        own[at, :known] = one.own[:known]
    scaled = (own * base.variance)[:, groups]
    centre = np.array([one.mean for one in latents])[groups]
    shared = np.array([one.shared for one in latents])[groups]
    cross = np.einsum("tco,cno->tcn", scaled, base.own[groups, n])
    # A latent moves with the gaps that were read, and what it shares beyond them is its own.
    pulled = np.einsum("tcn,tcnm->tcm", cross, message.pull)
    loads = shared - np.einsum("tcm,cms->tcs", pulled, base.loads[groups, n])
    kept = np.einsum("tcn,tcmn->tcm", cross, message.gain)
    mean = (
        centre
        + np.einsum("tcs,tcs->tc", loads, posterior.shared_mean)
        + np.einsum("tcm,tcm->tc", kept, posterior.sites.weighted)
        - np.einsum("tcm,cm->tc", pulled, base.mean[groups, n])
    )
    variance = (
        np.einsum("tco,co->tc", scaled, own[groups])
        - np.einsum("tcm,tcm->tc", pulled, cross)
        + np.einsum("tcs,tcsr,tcr->tc", loads, posterior.shared_cov, loads)
    )
    weight = posterior.tau_weight[:, None] * posterior.config_weight

    def mixed(each: FloatArray) -> FloatArray:
        total = np.zeros(len(latents))
        np.add.at(total, groups, (weight * each).sum(axis=0))
        return total

    whole = mixed(mean)
    return whole, np.sqrt(mixed(variance + (mean - whole[groups]) ** 2))


def given_shared(
    posterior: Posterior, chain: int, latents: Sequence[Latent], draws: Sequence[FloatArray]
) -> Iterator[tuple[int, float, FloatArray, FloatArray]]:
    """Some latents of a chain given the shared normals: a component for each drift spread and hypothesis.

    Args:
        draws: of the shared normals, for each of the drift spreads; shapes (d, s). One without is left out.

    Yields:
        Which drift spread; weight; means, shape (d, m); covariance, shape (m, m).
    """
    known = posterior.base.chains[chain]
    size = len(known.variance)
    want = _Rows.of(latents, size)
    count = min(len(known.readings), posterior.size)
    read = _Rows.of([one.latent for one in known.readings[:count]], size) if count else None
    configs = [at for at, config in enumerate(posterior.configs) if config.chain == chain]
    for t, drawn in enumerate(draws):
        if not len(drawn):
            continue
        scaled = want.own * (known.variance + posterior.base.taus[t] ** 2 * known.by_tau)
        prior = scaled @ want.own.T
        for at in configs:
            weight = float(posterior.config_weight[t, at])
            if read is None:
                yield t, weight, want.mean + drawn @ want.shared.T, prior
                continue
            n = slice(0, count)
            pull, gain = posterior.message.pull[t, at, n, n], posterior.message.gain[t, at, n, n]
            cross = scaled @ read.own.T
            still = want.mean + cross @ (gain.T @ posterior.sites.weighted[t, at, n] - pull @ read.mean)
            loads = want.shared - cross @ pull @ read.shared
            yield t, weight, still + drawn @ loads.T, prior - cross @ pull @ cross.T


class _Mixing:
    """A mixture under construction."""

    def __init__(self) -> None:
        self._weights: list[FloatArray] = []
        self._means: list[FloatArray] = []
        self._covs: list[FloatArray] = []

    def add(self, share: float, part: Mixture) -> None:
        """Add a component with its weight."""
        self._weights.append(share * part.weight)
        self._means.append(part.mean)
        self._covs.append(part.cov)

    def whole(self) -> Mixture:
        """The mixture, its weights normalised."""
        weight = np.concatenate(self._weights)
        return Mixture(weight / weight.sum(), np.concatenate(self._means), np.concatenate(self._covs))


@dataclass(frozen=True, slots=True)
class _Part:
    """One normal: `mean` (m,), `cov` (m, m), and its covariance with each gap that was read, (m, n)."""

    mean: FloatArray
    cov: FloatArray
    with_gaps: FloatArray


def _part(
    posterior: Posterior,
    t: int,
    at: int,
    count: int,
    want: _Rows,
    read: _Rows | None,
    variance: FloatArray,
) -> _Part:
    shared_mean, shared_cov = posterior.shared_mean[t, at], posterior.shared_cov[t, at]
    prior = (want.own * variance) @ want.own.T
    if read is None:
        mean = want.mean + want.shared @ shared_mean
        return _Part(mean, prior + want.shared @ shared_cov @ want.shared.T, np.zeros((len(want.mean), 0)))
    n = slice(0, count)
    pull, gain = posterior.message.pull[t, at, n, n], posterior.message.gain[t, at, n, n]
    weighted = posterior.sites.weighted[t, at, n]
    cross = (want.own * variance) @ read.own.T
    loads = want.shared - cross @ pull @ read.shared
    gaps = read.mean + read.shared @ shared_mean
    mean = want.mean + want.shared @ shared_mean + cross @ (gain.T @ weighted - pull @ gaps)
    cov = prior - cross @ pull @ cross.T + loads @ shared_cov @ loads.T
    with_gaps = cross @ gain.T + loads @ shared_cov @ (gain @ read.shared).T
    return _Part(mean, cov, with_gaps)


@dataclass(frozen=True, slots=True)
class _Gap:
    """The gap of one reading: its mean and variance, and those without the reading; mm."""

    mean: float
    variance: float
    off_mean: float
    off_variance: float
    correction: float
    noise: float

    @classmethod
    def of(cls, posterior: Posterior, t: int, at: int, reading: int) -> "_Gap | None":
        """The gap under a hypothesis at one drift spread; None where the cavity precision is not positive."""
        mean, variance = float(posterior.mean[t, at, reading]), float(posterior.variance[t, at, reading])
        precision = 1.0 / variance - float(posterior.sites.precision[t, at, reading])
        if precision <= 0.0:
            return None
        off = (mean / variance - float(posterior.sites.weighted[t, at, reading])) / precision
        correction = posterior.base.chains[posterior.configs[at].chain].readings[reading].correction_mm
        noise = posterior.base.constants.reading_sd_mm**2
        return cls(mean, variance, off, 1.0 / precision, correction, noise)

    @property
    def seen(self) -> tuple[float, float]:
        """Cavity mean and variance of the observed gap."""
        return self.off_mean + self.correction, self.off_variance + self.noise

    def given(self, gaps: FloatArray) -> tuple[FloatArray, float]:
        """Mean and variance of the gap given the observed gaps."""
        seen_mean, seen_variance = self.seen
        share = self.off_variance / seen_variance
        return self.off_mean + share * (gaps - seen_mean), self.off_variance * (1.0 - share)


def _split(posterior: Posterior, t: int, at: int, reading: int | None, part: _Part) -> Mixture:
    """A component split over the grid of one reading, so that its likelihood enters exactly."""
    whole = Mixture(np.ones(1), part.mean[None], part.cov[None])
    if reading is None:
        return whole
    config = posterior.configs[at]
    taken = posterior.base.chains[config.chain].readings[reading].reading
    entry_errors = config.entry_errors_of(reading)
    gap = _Gap.of(posterior, t, at, reading)
    if len(entry_errors) == len(taken.tries) or gap is None:
        return whole
    table = posterior.base.table(config.chain, reading, entry_errors)
    weight, _ = weigh(table, *gap.seen)
    keep = weight > weight.max() * 1e-6
    gaps, weight = _thinned(table.gap_mm[keep], weight[keep])
    means, variance = gap.given(gaps)
    return _moved(gap, reading, part, weight, means, variance)


def _moved(
    gap: _Gap, reading: int, part: _Part, weight: FloatArray, means: FloatArray, variance: float
) -> Mixture:
    """A component conditioned on other moments of the gap of one reading than its site has."""
    pull = part.with_gaps[:, reading] / gap.variance
    cov = part.cov - np.outer(pull, pull) * (gap.variance - variance)
    moved = part.mean + (means - gap.mean)[:, None] * pull
    return Mixture(weight, moved, np.repeat(cov[None], len(weight), axis=0))


def _averaged(parts: Mapping[int, _Part], by_tau: FloatArray) -> _Part:
    """The components of one hypothesis over the drift spreads, moment-matched to one normal."""
    share = np.array([by_tau[t] for t in parts])
    share = share / share.sum()
    means = np.array([one.mean for one in parts.values()])
    mean = share @ means
    off = means - mean
    cov = np.einsum("t,tij->ij", share, np.array([one.cov for one in parts.values()]))
    with_gaps = np.einsum("t,tij->ij", share, np.array([one.with_gaps for one in parts.values()]))
    return _Part(mean, cov + np.einsum("t,ti,tj->ij", share, off, off), with_gaps)


def _possible_entry_errors(
    posterior: Posterior, at: int, parts: Mapping[int, _Part], by_tau: FloatArray, least: float
) -> Mixture | None:
    """The small components in which a trusted try is an entry error; None without any.

    Each is one normal; its weight is how likely that entry error is.
    """
    config, constants = posterior.configs[at], posterior.base.constants
    known = posterior.entry_error_chances[config.chain] if posterior.entry_error_chances else {}
    entry_errors = [entry_error for entry_error, chance in known.items() if chance >= least]
    if not entry_errors:
        return None
    part, share = _averaged(parts, by_tau), np.array([by_tau[t] for t in parts])
    readings = posterior.base.chains[config.chain].readings
    at_reading = np.array([reading for reading, _ in entry_errors])
    taus = np.array(list(parts))[:, None]
    mean, variance = posterior.mean[taus, at, at_reading], posterior.variance[taus, at, at_reading]
    precision = 1.0 / variance - posterior.sites.precision[taus, at, at_reading]
    sound = precision.min(axis=0) > 0.0
    precision = np.where(sound, precision, 1.0)
    off = (mean / variance - posterior.sites.weighted[taus, at, at_reading]) / precision
    share = share / share.sum()
    whole, whole_variance = _all_matched(share, mean, variance)
    off_mean, off_variance = _all_matched(share, off, 1.0 / precision)
    new_mean, new_variance = off_mean.copy(), off_variance.copy()
    # The other tries of the reading still say something of the gap.
    rest = [
        (index, reading, config.entry_errors_of(reading) | {one})
        for index, (reading, one) in enumerate(entry_errors)
    ]
    rest = [one for one in rest if len(one[2]) < len(readings[one[1]].reading.tries)]
    if rest:
        index = np.array([one[0] for one in rest])
        tables = Tables.join([posterior.base.table(config.chain, reading, off) for _, reading, off in rest])
        correction = np.array([readings[entry_errors[one][0]].correction_mm for one in index])
        seen_mean = off_mean[index] + correction
        seen_variance = off_variance[index] + constants.reading_sd_mm**2
        told_mean, told_variance, _ = tables.moments(seen_mean, seen_variance)
        pull = off_variance[index] / seen_variance
        new_mean[index] = off_mean[index] + pull * (told_mean - seen_mean)
        new_variance[index] = off_variance[index] * (1.0 - pull) + pull**2 * told_variance
    pulls = (part.with_gaps[:, at_reading] / whole_variance).T
    means = part.mean + (new_mean - whole)[:, None] * pulls
    covs = part.cov - pulls[:, :, None] * pulls[:, None, :] * (whole_variance - new_variance)[:, None, None]
    chances = np.array([known[entry_error] for entry_error in entry_errors])
    return Mixture(chances[sound], means[sound], covs[sound])


def _all_matched(share: FloatArray, mean: FloatArray, variance: FloatArray) -> tuple[FloatArray, FloatArray]:
    """Mean and variance of several mixtures at once; `mean` and `variance` (parts, mixtures)."""
    whole = share @ mean
    return whole, share @ (variance + (mean - whole) ** 2)


def _thinned(gaps: FloatArray, weight: FloatArray) -> tuple[FloatArray, FloatArray]:
    """At most some number of grid points: neighbours merged at their mean."""
    group = max(1, -(-len(gaps) // _NODES))
    starts = np.arange(0, len(gaps), group)
    total = np.add.reduceat(weight, starts)
    return np.add.reduceat(weight * gaps, starts) / total, total / weight.sum()
