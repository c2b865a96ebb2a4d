"""All valves of an engine together: readings of blades on chains that share a shift and a side's drift.

Expectation propagation: each reading is stood in for by a normal on the gap that it saw, until all of them
agree with the rest. Given those, a chain is a small Gaussian that tells something of the shared normals; each
spread of the valves' drifts (tau) is a case of its own, and so is each live slip of the pen. F-14 in
docs/formulas.md; the method as in textbooks of Gaussian processes for machine learning.
"""

from collections.abc import Sequence
from dataclasses import dataclass, field

import numpy as np

from pronostico.core.arrays import BoolArray, FloatArray, IntArray
from pronostico.core.constants import Constants
from pronostico.core.drift_chain import Shared, ValveChain
from pronostico.core.drift_tables import Tables, table_of

Slip = tuple[int, int]
"""Which reading of a valve's chain, and which of its tries."""

_MOST_SWEEPS = 40
_DAMPING = 0.9
_SETTLED = 1e-3  # of a posterior sd
_NEARLY_SETTLED = 3e-2  # enough to foretell the next visit from
_SLIGHTEST = 1e-9
_LEAST_TAU = 1e-3


@dataclass(frozen=True, slots=True)
class Config:
    """One valve with some of its tries taken as slips."""

    chain: int
    slips: frozenset[Slip] = frozenset()

    def slips_of(self, reading: int) -> frozenset[int]:
        """The tries of a reading that are slips."""
        return frozenset(one for of, one in self.slips if of == reading)


class GapField:
    """The prior of every gap that was read: means, loadings on what is shared, covariances of each chain.

    Arrays by chain and reading, padded: `mean` (V, n), `loads` (V, n, shared), `fixed` and `by_tau`
    (V, n, n), `visit` (V, n), `correction` (V, n).
    """

    def __init__(self, chains: Sequence[ValveChain], shared: Shared, constants: Constants) -> None:
        self.chains = tuple(chains)
        self.shared = shared
        self.constants = constants
        self.taus = np.array(constants.valve_drift_sds_mm)
        most = max((len(one.readings) for one in chains), default=0)
        count = len(self.chains)
        self.mean = np.zeros((count, most))
        self.loads = np.zeros((count, most, shared.size))
        self.fixed = np.zeros((count, most, most))
        self.by_tau = np.zeros((count, most, most))
        self.visit = np.full((count, most), np.iinfo(np.int64).max)
        self.correction = np.zeros((count, most))
        for at, chain in enumerate(self.chains):
            self._fill(at, chain)

    def _fill(self, at: int, chain: ValveChain) -> None:
        readings = chain.readings
        if not readings:
            return
        here = slice(0, len(readings))
        own = np.array([one.latent.own[: len(chain.variance)] for one in readings])
        self.mean[at, here] = [one.latent.mean for one in readings]
        self.loads[at, here] = [one.latent.shared for one in readings]
        self.fixed[at, here, here] = (own * chain.variance) @ own.T
        self.by_tau[at, here, here] = (own * chain.by_tau) @ own.T
        self.visit[at, here] = [one.visit for one in readings]
        self.correction[at, here] = [one.correction_mm for one in readings]


@dataclass(slots=True)
class Sites:
    """What stands in for each reading: a precision and a precision-weighted mean; (taus, configs, n)."""

    precision: FloatArray
    weighted: FloatArray

    @classmethod
    def none(cls, shape: tuple[int, ...]) -> "Sites":
        """Nothing said yet."""
        return cls(np.zeros(shape), np.zeros(shape))


def _log_partition(weighted: FloatArray, precision: FloatArray) -> FloatArray:
    """Log integral of exp(-precision x^2 / 2 + weighted x), less a constant."""
    return np.asarray(0.5 * weighted**2 / precision - 0.5 * np.log(precision))


def _log_partition_of(weighted: FloatArray, precision: FloatArray) -> FloatArray:
    """The same for vectors: weighted (..., s), precision (..., s, s)."""
    solved = np.linalg.solve(precision, weighted[..., None])[..., 0]
    _, log_det = np.linalg.slogdet(precision)
    return np.asarray(0.5 * np.einsum("...i,...i", weighted, solved) - 0.5 * log_det)


@dataclass(slots=True)
class _Told:
    """What the sites of each config tell of the shared normals, and what is left of its own covariances.

    `precision` (T, C, s, s), `weighted` (T, C, s), `constant` (T, C): log evidence as a function of them.
    `gain` (T, C, n, n) is I - K W, `own` (T, C, n, n) the posterior covariance given the shared normals,
    `pull` (T, C, n, n) is W.
    """

    precision: FloatArray
    weighted: FloatArray
    constant: FloatArray
    gain: FloatArray
    own: FloatArray
    pull: FloatArray


@dataclass(slots=True)
class _Weighed:
    """Gaps without their own readings, and weighed with them; each (T, readings of the tables).

    `weighted`, `precision`: of the gap without; `seen_mean`, `seen_variance`: of what a hand then meets;
    `mean`, `variance`, `evidence`: with the reading.
    """

    weighted: FloatArray
    precision: FloatArray
    sound: BoolArray
    seen_mean: FloatArray
    seen_variance: FloatArray
    mean: FloatArray
    variance: FloatArray
    evidence: FloatArray


@dataclass(slots=True)
class Posterior:
    """Everything that is known after the readings.

    `mean`, `variance` (T, C, n): of the gaps. `tau_weight` (T,); `config_weight` (T, C) within each valve;
    `shared_mean` (T, C, s) and `shared_cov` (T, C, s, s) as each config believes them; `all_mean` and
    `all_cov` as all valves together do. `slip_chances`: by chain, tries that may be slips and are no cases.
    """

    base: GapField
    configs: tuple[Config, ...]
    upto: int
    sites: Sites
    told: _Told
    mean: FloatArray
    variance: FloatArray
    shared_mean: FloatArray
    shared_cov: FloatArray
    all_mean: FloatArray
    all_cov: FloatArray
    config_weight: FloatArray
    tau_weight: FloatArray
    converged: bool
    sweeps: int
    weighed: "_Weighed | None" = None
    slip_chances: list[dict[Slip, float]] = field(default_factory=list)

    @property
    def size(self) -> int:
        """How many readings of a chain are reckoned with at most."""
        return int(self.mean.shape[-1])


@dataclass(slots=True)
class Inference:
    """The readings of the visits before `upto`, in the given configs.

    `groups`: which configs are of one valve, shape (C,) into the chains.
    """

    base: GapField
    configs: tuple[Config, ...]
    upto: int
    groups: IntArray = field(init=False)
    size: int = field(init=False)
    mean: FloatArray = field(init=False)
    loads: FloatArray = field(init=False)
    correction: FloatArray = field(init=False)
    prior: FloatArray = field(init=False)
    silent: FloatArray = field(init=False)
    tables: Tables | None = field(init=False)
    rows: IntArray = field(init=False)
    columns: IntArray = field(init=False)
    forked: list[IntArray] = field(init=False)
    first: IntArray = field(init=False)

    def __post_init__(self) -> None:
        base = self.base
        self.groups = np.array([one.chain for one in self.configs], dtype=np.int64)
        taken = base.visit[self.groups] < self.upto
        self.size = int(taken.sum(axis=1).max(initial=0))
        n = slice(0, self.size)
        self.mean = base.mean[self.groups, n]
        self.loads = base.loads[self.groups, n]
        self.correction = base.correction[self.groups, n]
        fixed, by_tau = base.fixed[self.groups, n, n], base.by_tau[self.groups, n, n]
        self.prior = fixed[None] + (base.taus**2)[:, None, None, None] * by_tau[None]
        self._read_tables(taken[:, n])
        members = [np.flatnonzero(self.groups == chain) for chain in range(len(base.chains))]
        self.forked = [one for one in members if len(one) > 1]
        # The first config of each valve: all there is of one where no slip is live.
        self.first = np.array([one[0] for one in members], dtype=np.int64)

    def _read_tables(self, taken: BoolArray) -> None:
        """The tables of the readings that say anything; one all of whose tries are slips does not."""
        tables, where, silent = [], [], np.zeros(len(self.configs))
        for at, config in enumerate(self.configs):
            chain = self.base.chains[config.chain]
            for index in np.flatnonzero(taken[at]):
                reading = chain.readings[index].reading
                slips = config.slips_of(int(index))
                table = table_of(reading, slips, self.base.constants)
                if len(slips) == len(reading.tries):
                    silent[at] += table.log_likelihood[0]
                else:
                    tables.append(table)
                    where.append((at, index))
        self.silent = silent
        self.tables = Tables.join(tables) if tables else None
        self.rows = np.array([at for at, _ in where], dtype=np.int64)
        self.columns = np.array([index for _, index in where], dtype=np.int64)

    def start(self) -> Sites:
        """Sites that say nothing."""
        return Sites.none((len(self.base.taus), len(self.configs), self.size))

    def _tell(self, sites: Sites) -> _Told:
        root = np.sqrt(sites.precision)
        n = self.size
        scaled = root[..., :, None] * self.prior * root[..., None, :] + np.eye(n)
        lower = np.linalg.cholesky(scaled)
        inverse_lower = np.linalg.inv(lower)
        inverse = np.swapaxes(inverse_lower, -1, -2) @ inverse_lower
        log_det = 2.0 * np.log(np.diagonal(lower, axis1=-2, axis2=-1)).sum(axis=-1)
        pull = root[..., :, None] * inverse * root[..., None, :]
        gain = np.eye(n) - self.prior @ pull
        own = gain @ self.prior
        pulled = np.einsum("tcij,cjs->tcis", pull, self.loads)
        precision = np.einsum("cis,tcir->tcsr", self.loads, pulled)
        against = np.einsum("tcij,tci->tcj", gain, sites.weighted) - np.einsum(
            "tcij,cj->tci", pull, self.mean
        )
        constant = (
            np.einsum("tci,tcij,cj->tc", sites.weighted, gain, self.mean)
            - 0.5 * np.einsum("ci,tcij,cj->tc", self.mean, pull, self.mean)
            + 0.5 * np.einsum("tci,tcij,tcj->tc", sites.weighted, own, sites.weighted)
            - 0.5 * log_det
        )
        return _Told(precision, np.einsum("cis,tci->tcs", self.loads, against), constant, gain, own, pull)

    def foretold(self, sites: Sites) -> Posterior:
        """What the sites stand for as they are: readings that have none yet are only foretold."""
        told = self._tell(sites)
        messages = _Messages(told.precision[:, self.first], told.weighted[:, self.first])
        posterior = self._posterior(sites, told, messages)
        if self.forked:
            # Once more, with what the forked valves tell as mixtures.
            posterior = self._posterior(sites, told, messages)
        return posterior

    def settle(self, sites: Sites, *, nearly: bool = False, begin: Posterior | None = None) -> Posterior:
        """Sweep over all readings at once until nothing moves any more.

        Args:
            sites: where to begin; changed in place.
            nearly: stop as soon as it is good enough to foretell the next visit from.
            begin: the posterior of those sites, where it is known.
        """
        told = self._tell(sites) if begin is None else begin.told
        messages = _Messages(told.precision[:, self.first], told.weighted[:, self.first])
        converged, sweeps = False, 0
        # Valves with live slips have to be weighed again: what they tell the others is not kept.
        known = None if self.forked else begin
        posterior = self._posterior(sites, told, messages) if known is None else known
        while self.tables is not None and not converged and sweeps < _MOST_SWEEPS:
            before = posterior.mean
            self._update(sites, posterior)
            told = self._tell(sites)
            # Which spread of the drifts is likely only matters in the end, unless slips are live.
            posterior = self._posterior(sites, told, messages, like=None if self.forked else posterior)
            moved = np.abs(posterior.mean - before) / np.sqrt(posterior.variance)
            # What hardly counts in the end need not settle.
            moved *= (posterior.tau_weight > _LEAST_TAU)[:, None, None]
            converged = bool(moved.max(initial=0.0) < (_NEARLY_SETTLED if nearly else _SETTLED))
            sweeps += 1
        if not self.forked and sweeps > 0:
            posterior = self._posterior(sites, told, messages)
        posterior.converged, posterior.sweeps = converged or self.tables is None, sweeps
        return posterior

    def _posterior(
        self, sites: Sites, told: _Told, messages: "_Messages", *, like: Posterior | None = None
    ) -> Posterior:
        """The posterior that the sites stand for; the forked valves' messages are brought up to date.

        Args:
            like: in the course of settling, one to take the evidence from; None: it is reckoned.
        """
        prior_precision = np.diag(1.0 / self.base.shared.variance)
        for chain, config in enumerate(self.first):
            if not any(config == one[0] for one in self.forked):
                messages.precision[:, chain] = told.precision[:, config]
                messages.weighted[:, chain] = told.weighted[:, config]
        all_precision = prior_precision + messages.precision.sum(axis=1)
        all_weighted = messages.weighted.sum(axis=1)
        without = all_precision[:, None] - messages.precision[:, self.groups]
        without_weighted = all_weighted[:, None] - messages.weighted[:, self.groups]
        precision, weighted = without + told.precision, without_weighted + told.weighted
        shared_cov = np.linalg.inv(precision)
        shared_mean = np.einsum("tcsr,tcr->tcs", shared_cov, weighted)
        loads = told.gain @ self.loads[None]
        mean = np.einsum(
            "tcij,tcj->tci", told.gain, self.mean + np.einsum("cis,tcs->tci", self.loads, shared_mean)
        ) + np.einsum("tcij,tcj->tci", told.own, sites.weighted)
        variance = np.diagonal(told.own, axis1=-2, axis2=-1) + np.einsum(
            "tcis,tcsr,tcir->tci", loads, shared_cov, loads
        )
        posterior = Posterior(
            self.base,
            self.configs,
            self.upto,
            sites,
            told,
            mean,
            np.maximum(variance, _SLIGHTEST),
            shared_mean,
            shared_cov,
            np.empty(0),
            np.empty(0),
            np.ones(told.constant.shape),
            np.empty(0),
            converged=False,
            sweeps=0,
            weighed=self._weigh(sites, mean, np.maximum(variance, _SLIGHTEST)),
        )
        if like is not None:
            posterior.tau_weight = like.tau_weight
            return posterior
        log_config = self._log_evidence(posterior, without, without_weighted, precision, weighted)
        self._fork(posterior, log_config, messages, without, without_weighted)
        all_precision = prior_precision + messages.precision.sum(axis=1)
        all_weighted = messages.weighted.sum(axis=1)
        posterior.all_cov = np.linalg.inv(all_precision)
        posterior.all_mean = np.einsum("tsr,tr->ts", posterior.all_cov, all_weighted)
        posterior.tau_weight = self._tau_weight(log_config, messages, all_precision, all_weighted)
        return posterior

    def _weigh(self, sites: Sites, mean: FloatArray, variance: FloatArray) -> _Weighed | None:
        """Every gap without its own reading, and with it."""
        if self.tables is None:
            return None
        at = (slice(None), self.rows, self.columns)
        precision = 1.0 / variance[at] - sites.precision[at]
        weighted = mean[at] / variance[at] - sites.weighted[at]
        sound = precision > _SLIGHTEST
        precision = np.where(sound, precision, 1.0)
        seen_mean = weighted / precision + self.correction[self.rows, self.columns]
        seen_variance = 1.0 / precision + self.base.constants.reading_sd_mm**2
        told = self.tables.moments(seen_mean, seen_variance)
        return _Weighed(weighted, precision, sound, seen_mean, seen_variance, *told)

    def _update(self, sites: Sites, posterior: Posterior) -> None:
        """Bring every site into line with its reading, given all the others."""
        one = posterior.weighed
        if one is None:
            return
        at = (slice(None), self.rows, self.columns)
        share = 1.0 / (one.precision * one.seen_variance)
        gap_mean = one.weighted / one.precision + share * (one.mean - one.seen_mean)
        gap_variance = 1.0 / one.precision + share**2 * (one.variance - one.seen_variance)
        new_precision = np.maximum(1.0 / gap_variance - one.precision, _SLIGHTEST)
        new_weighted = gap_mean * (new_precision + one.precision) - one.weighted
        keep = np.where(one.sound, _DAMPING, 0.0)
        sites.precision[at] += keep * (new_precision - sites.precision[at])
        sites.weighted[at] += keep * (new_weighted - sites.weighted[at])

    def _log_evidence(
        self,
        posterior: Posterior,
        without: FloatArray,
        without_weighted: FloatArray,
        precision: FloatArray,
        weighted: FloatArray,
    ) -> FloatArray:
        """Log evidence of each config's readings, given what the other valves tell; (T, C)."""
        told = posterior.told
        total = told.constant + self.silent
        total = total + _log_partition_of(weighted, precision) - _log_partition_of(without_weighted, without)
        one = posterior.weighed
        if one is not None:
            at = (slice(None), self.rows, self.columns)
            sites = posterior.sites
            stood_in = _log_partition(
                one.weighted + sites.weighted[at], one.precision + sites.precision[at]
            ) - _log_partition(one.weighted, one.precision)
            each = one.evidence - stood_in
            count = len(self.configs)
            total = total + [np.bincount(self.rows, weights=row, minlength=count) for row in each]
        return total

    def _fork(
        self,
        posterior: Posterior,
        log_config: FloatArray,
        messages: "_Messages",
        without: FloatArray,
        without_weighted: FloatArray,
    ) -> None:
        """Valves with live slips: weigh their configs, and tell the others the mixture as one normal."""
        for members in self.forked:
            logs = log_config[:, members]
            weight = np.exp(logs - logs.max(axis=1, keepdims=True))
            weight /= weight.sum(axis=1, keepdims=True)
            posterior.config_weight[:, members] = weight
            means, covs = posterior.shared_mean[:, members], posterior.shared_cov[:, members]
            mean = np.einsum("tc,tcs->ts", weight, means)
            off = means - mean[:, None]
            cov = np.einsum("tc,tcsr->tsr", weight, covs) + np.einsum("tc,tcs,tcr->tsr", weight, off, off)
            precision = np.linalg.inv(cov)
            chain = self.configs[members[0]].chain
            new = precision - without[:, members[0]]
            new_weighted = np.einsum("tsr,tr->ts", precision, mean) - without_weighted[:, members[0]]
            messages.precision[:, chain] += _DAMPING * (new - messages.precision[:, chain])
            messages.weighted[:, chain] += _DAMPING * (new_weighted - messages.weighted[:, chain])

    def _tau_weight(
        self,
        log_config: FloatArray,
        messages: "_Messages",
        all_precision: FloatArray,
        all_weighted: FloatArray,
    ) -> FloatArray:
        """How likely each spread of the drifts is, all readings together; (T,)."""
        prior_precision = np.diag(1.0 / self.base.shared.variance)
        total = _log_partition_of(all_weighted, all_precision)
        without = all_precision[:, None] - messages.precision
        without_weighted = all_weighted[:, None] - messages.weighted
        whole = _log_partition_of(
            np.broadcast_to(all_weighted[:, None], without_weighted.shape),
            np.broadcast_to(all_precision[:, None], without.shape),
        )
        tilted = np.empty(without_weighted.shape[:2])
        tilted[:] = log_config[:, self.first]
        for members in self.forked:
            logs = log_config[:, members]
            top = logs.max(axis=1)
            tilted[:, self.configs[members[0]].chain] = top + np.log(np.exp(logs - top[:, None]).sum(axis=1))
        parts = tilted - (whole - _log_partition_of(without_weighted, without))
        log_weight = (
            total + parts.sum(axis=1) - _log_partition_of(np.zeros(len(prior_precision)), prior_precision)
        )
        weight = np.exp(log_weight - log_weight.max())
        return np.asarray(weight / weight.sum())


@dataclass(slots=True)
class _Messages:
    """What each valve tells of the shared normals: precision (T, V, s, s), weighted mean (T, V, s)."""

    precision: FloatArray
    weighted: FloatArray
