"""The probabilities of the regimes of the drift given all readings, and the posterior under each.

Every regime is first weighed with the sites of the steady computation, by one pass without an update; only
what is likely at that first sight is computed in full. F-27 in docs/formulas.md.
"""

from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass, replace

import numpy as np

from pronostico.core.arrays import FloatArray
from pronostico.core.constants import Constants
from pronostico.core.drift.added_drift import moved_by, with_added, with_deposit
from pronostico.core.drift.chain import Shared, ValveChain
from pronostico.core.drift.first_sight import FirstSight
from pronostico.core.drift.gap_prior import GapSite
from pronostico.core.drift.inference import Inference
from pronostico.core.drift.posterior import Posterior, Sites
from pronostico.core.drift.regimes import History, Regime, jumps_kept, regimes_for
from pronostico.core.drift.results import Component

Jumps = Mapping[str, frozenset[int]]
Rebuild = Callable[[dict[str, frozenset[int]]], tuple[ValveChain, ...]]


def _variance_in(regime: Regime, shared: Shared, constants: Constants) -> FloatArray:
    """The variances of the shared normals in a regime."""
    variance = shared.variance.copy()
    if regime.kind == "bedding-in":
        variance[-2:] = np.minimum(variance[-2:], constants.bedding_side_drift_sd_mm**2)
    if regime.visit is not None:
        variance[shared.shift(regime.visit)] += constants.warm_shift_sd_mm**2
    return variance


def _shared_in(regime: Regime, shared: Shared, constants: Constants) -> Shared:
    """The shared normals of a regime: one more for a common amplitude, and other variances."""
    variance, mean = _variance_in(regime, shared, constants), shared.mean
    if regime.added is not None:
        variance, mean = np.append(variance, 1.0), np.append(mean, 0.0)
    return replace(shared, variance=variance, mean=mean)


@dataclass(slots=True)
class _Asked:
    """A regime that is being weighed: its chains where the jumps that it explains are gone."""

    regime: Regime
    chains: tuple[ValveChain, ...]
    log_factor: float


def _normalised(logs: Sequence[float]) -> FloatArray:
    weight = np.exp(np.array(logs) - max(logs))
    return np.asarray(weight / weight.sum())


class RegimeWeights:
    """The regimes of one engine's last era, weighed against each other.

    Args:
        plain: the settled posterior of the steady drift.
        jumps: by valve, the visits into which it jumped.
        rebuild: the chains for other jumps.
    """

    def __init__(
        self,
        plain: Posterior,
        history: History,
        jumps: Jumps,
        rebuild: Rebuild,
        constants: Constants,
    ) -> None:
        self.plain, self.history, self.jumps = plain, history, jumps
        self.rebuild, self.constants = rebuild, constants
        self.sides = {chain.valve.id: chain.valve.side for chain in history.chains}
        self.inference = Inference(plain.base, plain.configs, plain.upto)
        self.first_sight = FirstSight(plain)

    def _log_factor(self, regime: Regime, jumps: Jumps) -> float:
        count = sum(len(visits) for visits in jumps.values())
        return float(np.log(regime.prior) + count * np.log(self.constants.jump_probability))

    def _asked(self, regime: Regime) -> _Asked:
        history, constants = self.history, self.constants
        jumps = jumps_kept(regime, self.jumps, history.scores, history.era_start, self.sides, constants)
        log_factor = self._log_factor(regime, jumps)
        if sum(map(len, jumps.values())) == sum(map(len, self.jumps.values())):
            return _Asked(regime, history.chains, log_factor)
        return _Asked(regime, self._with_deposits(regime, self.rebuild(jumps)), log_factor)

    def _with_deposits(self, regime: Regime, chains: tuple[ValveChain, ...]) -> tuple[ValveChain, ...]:
        senses, constants = dict(regime.deposits), self.constants
        return tuple(
            with_deposit(chain, senses[chain.valve.id] * constants.deposit_mm, constants.deposit_sd_mm)
            if chain.valve.id in senses
            else chain
            for chain in chains
        )

    def _moved(self, regime: Regime, chains: tuple[ValveChain, ...], shape: tuple[int, ...]) -> FloatArray:
        """How far an added drift of amplitude one moves each gap that was read; (V, n)."""
        moved = np.zeros(shape)
        for at, chain in enumerate(chains):
            if regime.added is not None and regime.has(chain):
                found, left = moved_by(chain, regime.added, self.history.times)
                moved[at, : len(chain.readings)] = [
                    found[one.visit] if one.phase == "found" else left[one.visit] for one in chain.readings
                ]
        return moved

    def _sites(self) -> Sites:
        return Sites(self.plain.sites.precision.copy(), self.plain.sites.weighted.copy())

    def _log_evidence_at_first(self, asked: _Asked) -> float:
        """The evidence of a regime with the sites of the steady computation."""
        regime, chains, base = asked.regime, asked.chains, self.plain.base
        moved = self._moved(regime, chains, base.mean.shape)
        if chains is self.history.chains:
            variance = _variance_in(regime, base.shared, self.constants)
            has = np.array([regime.has(chain) for chain in chains])
            return self.plain.log_evidence + self.first_sight.log_ratio(variance, regime.added, moved, has)
        shared = _shared_in(regime, base.shared, self.constants)
        rebuilt = GapSite(chains, base.shared, self.constants).with_added(shared, regime.added, moved)
        inference = Inference(rebuilt, self.plain.configs, self.plain.upto, self.inference)
        return inference.predicted(self._sites()).log_evidence

    def _settled(self, asked: _Asked) -> tuple[tuple[ValveChain, ...], Posterior]:
        """The posterior under a regime, computed in full."""
        history, regime, chains = self.history, asked.regime, asked.chains
        shared = _shared_in(regime, self.plain.base.shared, self.constants)
        if regime.added is not None:
            chains = tuple(
                with_added(chain, regime.added if regime.has(chain) else None, history.times, shared)
                for chain in chains
            )
        base = GapSite(chains, shared, self.constants)
        inference = Inference(base, self.plain.configs, self.plain.upto, self.inference)
        posterior = inference.settle(self._sites())
        posterior.entry_error_chances = self.plain.entry_error_chances
        return chains, posterior

    def weighed(self) -> tuple[Component, ...]:
        """The regimes that are likely enough, the steady one first where it is among them."""
        steady, *others = regimes_for(self.history, self.constants)
        at_first = Component(steady, 1.0, self.plain, self.history.chains)
        if not others:
            return (at_first,)
        asked = [self._asked(regime) for regime in others]
        of_steady = self.plain.log_evidence + self._log_factor(steady, self.jumps)
        sight = [self._log_evidence_at_first(one) + one.log_factor for one in asked]
        likely = _normalised([of_steady, *sight])[1:] >= self.constants.regime_at_first_sight
        kept = [one for one, is_likely in zip(asked, likely, strict=True) if is_likely]
        if not kept:
            return (at_first,)
        known = [self._settled(one) for one in kept]
        logs = [
            posterior.log_evidence + of.log_factor for (_, posterior), of in zip(known, kept, strict=True)
        ]
        weights = _normalised([of_steady, *logs])
        weights = np.where(weights < self.constants.least_regime, 0.0, weights)
        weights = weights / weights.sum()
        parts = [
            replace(at_first, weight=float(weights[0])),
            *(
                Component(of.regime, float(weight), posterior, chains)
                for of, (chains, posterior), weight in zip(kept, known, weights[1:], strict=True)
            ),
        ]
        return tuple(part for part in parts if part.weight > 0.0)
