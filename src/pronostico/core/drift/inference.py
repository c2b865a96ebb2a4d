"""All valves of an engine together: readings of blades on chains that share a shift and a side's drift.

Expectation propagation: the likelihood of each reading is approximated by a normal factor (a site) on its
gap, and the sites are updated until they no longer change. Given the sites, a chain is a small Gaussian that
sends a message about the shared normals; each spread of the valves' drifts (tau) and each likely entry error
is a hypothesis of its own. F-14 in docs/formulas.md; Rasmussen and Williams, Gaussian Processes for Machine
Learning, section 3.6.
"""

from dataclasses import dataclass, field

import numpy as np

from pronostico.core.arrays import BoolArray, FloatArray, IntArray
from pronostico.core.drift.gap_prior import Config, GapSite
from pronostico.core.drift.gaussians import log_partition, log_partition_of, never_negative
from pronostico.core.drift.likelihood_tables import Tables
from pronostico.core.drift.posterior import (
    CaseWeights,
    Marginal,
    Message,
    Messages,
    Moments,
    Posterior,
    Sites,
)

_MOST_SWEEPS = 150
# How far each sweep goes towards what it finds: shorter steps where the longer ones do not settle.
_DAMPING = 0.9
_SHORTER_STEPS = ((60, 0.1), (25, 0.25), (12, 0.5))  # from which sweep on, and by how much
_SETTLED = 1e-3  # of a posterior sd
_NEARLY_SETTLED = 3e-2  # enough to predict the next visit from
_SLIGHTEST = 1e-9
_LEAST_TAU = 1e-3


def _damping(sweep: int) -> float:
    """The damping of a sweep: the step as a share of the full update."""
    return next((share for since, share in _SHORTER_STEPS if sweep >= since), _DAMPING)


@dataclass(slots=True)
class Inference:
    """Expectation propagation over the readings of the visits before `upto`, for the given hypotheses.

    `groups`: which configs are of one valve, shape (C,) into the chains. `like`: another inference over the
    same readings, whose likelihood tables are the same.
    """

    base: GapSite
    configs: tuple[Config, ...]
    upto: int
    like: "Inference | None" = None
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
    plain: IntArray = field(init=False)
    apart: IntArray = field(init=False)
    shared_at: IntArray = field(init=False)
    met: IntArray = field(init=False)
    prior_precision: FloatArray = field(init=False)

    def __post_init__(self) -> None:
        base = self.base
        self.groups = np.array([one.chain for one in self.configs], dtype=np.int64)
        taken = base.visit[self.groups] < self.upto
        self.size = int(taken.sum(axis=1).max(initial=0))
        n = slice(0, self.size)
        self.mean = base.mean[self.groups, n]
        loads = base.loads[self.groups, n]
        # Shifts of visits to come, and drifts of eras to come, are not met yet: they stay as they were.
        self.met = np.flatnonzero((loads != 0.0).any(axis=(0, 1)))
        self.loads = loads[..., self.met]
        self.prior_precision = np.diag(1.0 / base.shared.variance[self.met])
        self.correction = base.correction[self.groups, n]
        fixed, by_tau = base.fixed[self.groups, n, n], base.by_tau[self.groups, n, n]
        self.prior = fixed[None] + (base.taus**2)[:, None, None, None] * by_tau[None]
        self._read_tables(taken[:, n])
        members = [np.flatnonzero(self.groups == chain) for chain in range(len(base.chains))]
        self.forked = [one for one in members if len(one) > 1]
        # The first config of each valve: all there is of one where no entry error is live.
        self.first = np.array([one[0] for one in members], dtype=np.int64)
        self.plain = np.flatnonzero([len(one) == 1 for one in members])
        # Valves with a single hypothesis believe the same of the shared normals; other configs by themselves.
        several = np.array([len(members[at]) > 1 for at in self.groups], dtype=np.bool_)
        self.apart = np.flatnonzero(several)
        self.shared_at = np.where(several, np.cumsum(several), 0)

    def _read_tables(self, taken: BoolArray) -> None:
        """The likelihood tables of the readings; one all of whose tries are entry errors is constant."""
        if self.like is not None:
            self.silent, self.tables = self.like.silent, self.like.tables
            self.rows, self.columns = self.like.rows, self.like.columns
            return
        tables, where, silent = [], [], np.zeros(len(self.configs))
        for at, config in enumerate(self.configs):
            chain = self.base.chains[config.chain]
            for index in np.flatnonzero(taken[at]):
                reading = chain.readings[index].reading
                entry_errors = config.entry_errors_of(int(index))
                table = self.base.table(config.chain, int(index), entry_errors)
                if len(entry_errors) == len(reading.tries):
                    silent[at] += table.log_likelihood[0]
                else:
                    tables.append(table)
                    where.append((at, index))
        self.silent = silent
        self.tables = Tables.join(tables) if tables else None
        self.rows = np.array([at for at, _ in where], dtype=np.int64)
        self.columns = np.array([index for _, index in where], dtype=np.int64)

    def start(self) -> Sites:
        """Sites of zero precision."""
        return Sites.none((len(self.base.taus), len(self.configs), self.size))

    def _tell(self, sites: Sites) -> Message:
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
        loads = np.swapaxes(self.loads, -1, -2)
        precision = loads @ (pull @ self.loads)
        pulled = np.einsum("tcij,cj->tci", pull, self.mean)
        towards = np.einsum("tcji,tcj->tci", gain, sites.weighted)
        constant = (
            np.einsum("tci,ci->tc", towards - 0.5 * pulled, self.mean)
            + 0.5 * np.einsum("tcij,tci,tcj->tc", own, sites.weighted, sites.weighted)
            - 0.5 * log_det
        )
        weighted = (loads @ (towards - pulled)[..., None])[..., 0]
        return Message(precision, weighted, constant, gain, own, pull)

    def predicted(self, sites: Sites) -> Posterior:
        """The posterior for the given sites, without an update: readings without a site are predicted."""
        message = self._tell(sites)
        messages = Messages(message.precision[:, self.first], message.weighted[:, self.first])
        believed = self._believe(sites, message, messages)
        cases = self._cases(sites, believed, messages)
        if self.forked:
            # Once more, with what the forked valves tell as mixtures.
            believed = self._believe(sites, message, messages)
            cases = self._cases(sites, believed, messages)
        return self._posterior(sites, believed, cases)

    def settle(self, sites: Sites, *, nearly: bool = False, begin: Posterior | None = None) -> Posterior:
        """Update all sites in parallel until they converge.

        Args:
            sites: where to begin; changed in place.
            nearly: stop as soon as it is good enough to predict the next visit from.
            begin: the posterior of those sites, where it is known.
        """
        message = self._tell(sites) if begin is None else begin.message
        messages = Messages(message.precision[:, self.first], message.weighted[:, self.first])
        # Valves with live entry errors have to be weighed again: what they tell the others is not kept.
        if begin is None or self.forked:
            believed = self._believe(sites, message, messages)
            first = self._cases(sites, believed, messages)
            cases: CaseWeights | None = first
            tau_weight = first.tau_weight
        else:
            believed, cases, tau_weight = begin.believed, None, begin.tau_weight
        # Which spread of the drifts is likely only matters in the end: what hardly counts need not settle.
        counting = tau_weight > _LEAST_TAU
        converged, sweeps = self.tables is None, 0
        while not converged and sweeps < _MOST_SWEEPS:
            before, damping = believed.mean, _damping(sweeps)
            self._update(sites, believed, damping)
            believed = self._believe(sites, self._tell(sites), messages)
            if self.forked:
                self._fork(believed, self._log_evidence(sites, believed), messages, damping)
            moved = np.abs(believed.mean - before)[counting] / np.sqrt(believed.variance)[counting]
            converged = bool(moved.max(initial=0.0) < (_NEARLY_SETTLED if nearly else _SETTLED))
            sweeps += 1
        if cases is None or sweeps > 0:
            cases = self._cases(sites, believed, messages)
        posterior = self._posterior(sites, believed, cases)
        posterior.converged, posterior.sweeps = converged, sweeps
        return posterior

    def _posterior(self, sites: Sites, believed: Marginal, cases: CaseWeights) -> Posterior:
        """The posterior over all shared normals; those without any reading keep their prior."""
        return Posterior(
            self.base,
            self.configs,
            self.upto,
            sites,
            believed,
            self._whole_mean(believed.centre),
            self._whole_cov(believed.cov),
            self._whole_mean(cases.mean),
            self._whole_cov(cases.cov),
            cases.config_weight,
            cases.tau_weight,
            cases.log_evidence,
            converged=False,
            sweeps=0,
        )

    def _whole_mean(self, mean: FloatArray) -> FloatArray:
        whole = np.zeros((*mean.shape[:-1], self.base.shared.size))
        whole[..., self.met] = mean
        return whole

    def _whole_cov(self, cov: FloatArray) -> FloatArray:
        shared = self.base.shared
        whole = np.zeros((*cov.shape[:-2], shared.size, shared.size))
        every = np.arange(shared.size)
        whole[..., every, every] = shared.variance
        whole[..., self.met[:, None], self.met] = cov
        return whole

    def _believe(self, sites: Sites, message: Message, messages: Messages) -> Marginal:
        """Marginals from sites and messages; valves with a single hypothesis update their messages."""
        plain = self.plain
        messages.precision[:, plain] = message.precision[:, self.first[plain]]
        messages.weighted[:, plain] = message.weighted[:, self.first[plain]]
        all_precision = self.prior_precision + messages.precision.sum(axis=1)
        all_weighted = messages.weighted.sum(axis=1)
        without = all_precision[:, None] - messages.precision
        without_weighted = all_weighted[:, None] - messages.weighted
        of_apart = self.groups[self.apart]
        precision = np.concatenate(
            [all_precision[:, None], without[:, of_apart] + message.precision[:, self.apart]], axis=1
        )
        weighted = np.concatenate(
            [all_weighted[:, None], without_weighted[:, of_apart] + message.weighted[:, self.apart]], axis=1
        )
        each_cov = np.linalg.inv(precision)
        centre = (each_cov @ weighted[..., None])[..., 0][:, self.shared_at]
        cov = each_cov[:, self.shared_at]
        loads = message.gain @ self.loads
        gaps = self.mean + (self.loads @ centre[..., None])[..., 0]
        mean = (message.gain @ gaps[..., None] + message.own @ sites.weighted[..., None])[..., 0]
        variance = np.diagonal(message.own, axis1=-2, axis2=-1) + ((loads @ cov) * loads).sum(axis=-1)
        variance = np.maximum(variance, _SLIGHTEST)
        weighed = self._weigh(sites, mean, variance)
        return Marginal(
            message, mean, variance, precision, weighted, cov, centre, without, without_weighted, weighed
        )

    def _cases(self, sites: Sites, believed: Marginal, messages: Messages) -> CaseWeights:
        """Weights of the hypotheses; the messages of valves with several are updated."""
        log_config = self._log_evidence(sites, believed)
        config_weight = self._fork(believed, log_config, messages)
        precision = self.prior_precision + messages.precision.sum(axis=1)
        weighted = messages.weighted.sum(axis=1)
        cov = np.linalg.inv(precision)
        tau_weight, log_evidence = self._tau_weight(log_config, messages, precision, weighted)
        mean = (cov @ weighted[..., None])[..., 0]
        return CaseWeights(tau_weight, config_weight, mean, cov, log_evidence)

    def _weigh(self, sites: Sites, mean: FloatArray, variance: FloatArray) -> Moments | None:
        """Cavity and tilted moments of every gap."""
        if self.tables is None:
            return None
        at = (slice(None), self.rows, self.columns)
        precision = 1.0 / variance[at] - sites.precision[at]
        weighted = mean[at] / variance[at] - sites.weighted[at]
        sound = precision > _SLIGHTEST
        precision = np.where(sound, precision, 1.0)
        seen_mean = weighted / precision + self.correction[self.rows, self.columns]
        seen_variance = 1.0 / precision + self.base.constants.reading_sd_mm**2
        message = self.tables.moments(seen_mean, seen_variance)
        return Moments(weighted, precision, sound, seen_mean, seen_variance, *message)

    def _update(self, sites: Sites, believed: Marginal, damping: float) -> None:
        """Match the moments of every site to its tilted distribution, damped."""
        one = believed.weighed
        if one is None:
            return
        at = (slice(None), self.rows, self.columns)
        share = 1.0 / (one.precision * one.seen_variance)
        gap_mean = one.weighted / one.precision + share * (one.mean - one.seen_mean)
        gap_variance = 1.0 / one.precision + share**2 * (one.variance - one.seen_variance)
        new_precision = np.maximum(1.0 / gap_variance - one.precision, _SLIGHTEST)
        new_weighted = gap_mean * (new_precision + one.precision) - one.weighted
        keep = np.where(one.sound, damping, 0.0)
        sites.precision[at] += keep * (new_precision - sites.precision[at])
        sites.weighted[at] += keep * (new_weighted - sites.weighted[at])

    def _log_evidence(self, sites: Sites, believed: Marginal) -> FloatArray:
        """Log evidence of each hypothesis's readings, given the messages of the other valves; (T, C)."""
        total = (
            believed.message.constant
            + self.silent
            + log_partition_of(believed.weighted, believed.precision)[:, self.shared_at]
            - log_partition_of(believed.without_weighted, believed.without_precision)[:, self.groups]
        )
        one = believed.weighed
        if one is not None:
            at = (slice(None), self.rows, self.columns)
            stood_in = log_partition(
                one.weighted + sites.weighted[at], one.precision + sites.precision[at]
            ) - log_partition(one.weighted, one.precision)
            each = one.evidence - stood_in
            count = len(self.configs)
            total = total + [np.bincount(self.rows, weights=row, minlength=count) for row in each]
        return total

    def _fork(
        self,
        believed: Marginal,
        log_config: FloatArray,
        messages: Messages,
        damping: float = _DAMPING,
    ) -> FloatArray:
        """Weights of the hypotheses, (T, C); a valve with several sends the normal matching their mix.

        Where its configs disagree about a shared normal, the mixture is wider than what the others alone
        make of it: such a message would be negative information, and two such valves drive each other round
        a cycle. It is raised to none, its mean kept, so that prior and messages stay positive definite.
        """
        config_weight = np.ones(log_config.shape)
        for members in self.forked:
            logs = log_config[:, members]
            weight = np.exp(logs - logs.max(axis=1, keepdims=True))
            weight /= weight.sum(axis=1, keepdims=True)
            config_weight[:, members] = weight
            centres, covs = believed.centre[:, members], believed.cov[:, members]
            mean = np.einsum("tc,tcs->ts", weight, centres)
            off = centres - mean[:, None]
            cov = np.einsum("tc,tcsr->tsr", weight, covs) + np.einsum("tc,tcs,tcr->tsr", weight, off, off)
            precision = np.linalg.inv(cov)
            chain = self.configs[members[0]].chain
            without = believed.without_precision[:, chain]
            new = never_negative(precision - without)
            new_weighted = np.einsum("tsr,tr->ts", without + new, mean) - believed.without_weighted[:, chain]
            messages.precision[:, chain] += damping * (new - messages.precision[:, chain])
            messages.weighted[:, chain] += damping * (new_weighted - messages.weighted[:, chain])
        return config_weight

    def _tau_weight(
        self,
        log_config: FloatArray,
        messages: Messages,
        all_precision: FloatArray,
        all_weighted: FloatArray,
    ) -> tuple[FloatArray, float]:
        """Posterior weight of each drift spread, from all readings, (T,); the log evidence of them all."""
        total = log_partition_of(all_weighted, all_precision)
        without = all_precision[:, None] - messages.precision
        without_weighted = all_weighted[:, None] - messages.weighted
        tilted = np.empty(without_weighted.shape[:2])
        tilted[:] = log_config[:, self.first]
        for members in self.forked:
            logs = log_config[:, members]
            top = logs.max(axis=1)
            tilted[:, self.configs[members[0]].chain] = top + np.log(np.exp(logs - top[:, None]).sum(axis=1))
        parts = tilted - (total[:, None] - log_partition_of(without_weighted, without))
        log_weight = total + parts.sum(axis=1)
        top = float(log_weight.max())
        weight = np.exp(log_weight - top)
        # The shared normals' prior counts where other sets of them are weighed against these.
        of_prior = 0.5 * float(np.log(np.diagonal(self.prior_precision)).sum())
        log_evidence = top + float(np.log(weight.mean())) + of_prior
        return np.asarray(weight / weight.sum()), log_evidence
