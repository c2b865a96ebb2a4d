"""Drift of all clearances of an engine, visit by visit, all valves together.

Each visit is predicted from those before it, then imported; a valve whose reading lies far from what was
predicted changed suddenly there, and the whole is computed once more with that jump allowed for. F-14 in
docs/formulas.md.
"""

from collections.abc import Sequence
from dataclasses import replace

import numpy as np

from pronostico.core.constants import DEFAULT, Constants
from pronostico.core.drift.chain import Latent, ValveChain, shared_of, times_of, valve_chain
from pronostico.core.drift.entry_errors import entry_errors_of
from pronostico.core.drift.gap_prior import EntryError
from pronostico.core.drift.innovation import OwnEstimate, own_estimate
from pronostico.core.drift.mixture import mixture_of, spread_of_each
from pronostico.core.drift.moving import MovingMixture, with_deposits_to_come
from pronostico.core.drift.normal_mixture import Mixture, mixed
from pronostico.core.drift.posterior import Posterior
from pronostico.core.drift.regime_posteriors import RegimeWeights
from pronostico.core.drift.regimes import Deposits, History, Regime, Scored
from pronostico.core.drift.results import (
    ChangePoint,
    Component,
    Drifts,
    PossibleEntryError,
    Predicted,
    Spread,
    ValveDrift,
    VisitShift,
)
from pronostico.core.drift.visit_filter import VisitFilter
from pronostico.core.engine import Engine
from pronostico.core.gauge.reading import estimate
from pronostico.core.thermal import correction_at
from pronostico.core.visits import Visit

_NEGLIGIBLE_ENTRY_ERROR = 0.004  # entry errors less likely than this hardly widen what is predicted


class _Computation:
    """The computation for one engine, run twice where a valve has a change point."""

    def __init__(self, engine: Engine, visits: Sequence[Visit], constants: Constants) -> None:
        self.engine, self.visits, self.constants = engine, tuple(visits), constants
        self.shared = shared_of(engine, self.visits, constants)
        self.deposits = Deposits(0.0, 0, 1)
        self.chains = self._chains({})

    def _chains(self, jumps: dict[str, frozenset[int]]) -> tuple[ValveChain, ...]:
        chains = (
            valve_chain(
                self.engine,
                valve,
                self.visits,
                self.shared,
                jumps=jumps.get(valve.id, frozenset()),
                constants=self.constants,
            )
            for valve in self.engine.valves
        )
        return tuple(chain for chain in chains if chain is not None)

    def run(self) -> Drifts:
        """Filter all visits and return the drifts after the last."""
        if not self.visits or not self.chains:
            return Drifts({}, (), (), converged=True)
        taking = VisitFilter(self.chains, self.shared, self.constants)
        scores: dict[str, list[Predicted]] = {}
        posterior = taking.posterior_before(1)
        for visit in range(1, len(self.visits)):
            # What is found at head work still belongs to the era that ends there: every visit is predicted.
            predicted = spread_of_each(posterior, [chain.found[visit] for chain in self.chains])
            for chain, (mean, sd) in enumerate(zip(*predicted, strict=True)):
                score = self._score(posterior, chain, visit, Spread(float(mean), float(sd)))
                if score is not None:
                    scores.setdefault(self.chains[chain].valve.id, []).append(score)
            posterior = taking.posterior_before(visit + 1)
        shifts = self._shifts([self._steady(posterior)])
        change_points = self._standing_breaks(scores, shifts)
        jumps = {valve: frozenset(one.visit for one in known) for valve, known in change_points.items()}
        if change_points:
            self.chains = self._chains(jumps)
            again = VisitFilter(self.chains, self.shared, self.constants)
            again.configs, again.sites = taking.configs, taking.sites
            posterior = again.posterior_before(len(self.visits))
            shifts = self._shifts([self._steady(posterior)])
        parts = self._regimes(posterior, jumps, scores, measuring_moved=shifts[-1].suspect)
        known = [self._known_under(part) for part in parts]
        components = tuple(
            replace(part, states=states) for part, (states, _) in zip(parts, known, strict=True)
        )
        sinks = [of for _, of in known]
        valves = {
            chain.valve.id: self._valve(
                components,
                sinks,
                at,
                change_points.get(chain.valve.id, []),
                tuple(scores.get(chain.valve.id, ())),
            )
            for at, chain in enumerate(self.chains)
        }
        return Drifts(valves, self._mixed_shifts(components), components, posterior.converged)

    def _steady(self, posterior: Posterior) -> Component:
        return Component(Regime("steady", 1.0), 1.0, posterior, self.chains)

    def _regimes(
        self,
        posterior: Posterior,
        jumps: dict[str, frozenset[int]],
        scores: dict[str, list[Predicted]],
        *,
        measuring_moved: bool,
    ) -> tuple[Component, ...]:
        """The regimes of the drift that are likely; the steady one alone where they are not asked for."""
        if not self.constants.drift_regimes:
            return (self._steady(posterior),)
        starts = {chain.valve.id: chain.era_start for chain in self.chains}
        history = History(
            self.chains,
            self.visits,
            times_of(self.engine, self.visits),
            self.visits[min(starts.values())].usage / self.engine.check_interval,
            {
                valve: [
                    Scored(one.visit, one.z, one.own_mm)
                    for one in known
                    if one.z is not None and one.visit > starts[valve]
                ]
                for valve, known in scores.items()
            },
            measuring_moved,
            self._jumped_last(jumps, scores),
        )
        self.deposits = history.deposits(self.constants)
        return RegimeWeights(posterior, history, jumps, self._chains, self.constants).weighed()

    def _jumped_last(
        self, jumps: dict[str, frozenset[int]], scores: dict[str, list[Predicted]]
    ) -> tuple[tuple[str, int], ...]:
        """The valves that jumped at the last visit and were not set anew there, and which way."""
        last = len(self.visits) - 1
        set_anew = {chain.valve.id for chain in self.chains if last in chain.set_anew}
        return tuple(
            (valve, 1 if (known[-1].z or 0.0) > 0.0 else -1)
            for valve, known in scores.items()
            if last in jumps.get(valve, frozenset()) and valve not in set_anew
        )

    def _known_under(self, part: Component) -> tuple[dict[str, MovingMixture], dict[str, Mixture | None]]:
        """Each valve's state under one regime; its sink, with and without what bedding in moved."""
        states: dict[str, MovingMixture] = {}
        sinks: dict[str, Mixture | None] = {}
        for at, chain in enumerate(part.chains):
            together = mixture_of(
                part.posterior, at, self._wanted(part.regime, chain), last_reading=self._last_reading(chain)
            )
            known = together.part(slice(0, 3))
            growth = np.full(len(known.weight), part.regime.growth_of(chain))
            state = MovingMixture(known.weight, known.mean, known.cov, growth)
            if self.deposits.seen:
                state = with_deposits_to_come(
                    state,
                    self.deposits.probability,
                    self.deposits.sense * self.constants.deposit_mm,
                    self.constants.deposit_sd_mm,
                )
            states[chain.valve.id] = state
            sinks[chain.valve.id] = together.part(slice(3, 5)) if together.mean.shape[1] > 3 else None
        return states, sinks

    def _score(self, posterior: Posterior, chain: int, visit: int, predicted: Spread) -> Predicted | None:
        """The reading as found of a valve compared with its prediction; None where it was not read."""
        known = self.chains[chain]
        found = [one for one in known.readings if one.visit == visit and one.phase == "found"]
        spec = known.specs[visit]
        if not found or spec is None:
            return None
        reading = found[-1].reading
        correction = correction_at(
            self.engine, known.valve.side, self.visits[visit].temperature_c, self.constants
        )
        read = estimate(reading, spec, correction, self.constants)
        if read is None:
            return None
        own = own_estimate(reading, read, correction, self.constants)
        score = self._held_against(visit, own, predicted)
        if score.z is None or abs(score.z) < self.constants.near_change_point_z:
            return score
        # Unlikely entry errors matter only near a change point, and take time to compute.
        wider = mixture_of(posterior, chain, [known.found[visit]], least_sd=_NEGLIGIBLE_ENTRY_ERROR)
        return self._held_against(visit, own, Spread(wider.average, wider.sd))

    def _held_against(self, visit: int, own: OwnEstimate, predicted: Spread) -> Predicted:
        """The standardised difference between a reading and its prediction."""
        shift = float(self.shared.variance[self.shared.shift(visit)])
        variance = own.variance + predicted.sd**2 + shift + self.constants.reading_sd_mm**2
        off = own.mean_mm - predicted.mean
        bounded = own.side and off * own.side <= 0.0
        z = None if bounded else off / float(np.sqrt(variance))
        return Predicted(visit, predicted.mean, predicted.sd, z, own.mean_mm)

    def _shared(self, components: Sequence[Component], at: int) -> Spread:
        """Mean and sd of one shared normal, over some regimes and all drift spreads."""
        weight = np.concatenate([one.weight * one.posterior.tau_weight for one in components])
        weight = weight / weight.sum()
        means = np.concatenate([one.posterior.all_mean[:, at] for one in components])
        variances = np.concatenate([one.posterior.all_cov[:, at, at] for one in components])
        mean = float(weight @ means)
        sd = float(np.sqrt(weight @ (variances + (means - mean) ** 2)))
        return Spread(float(self.shared.mean[at]) + mean, sd)

    def _shifts(self, components: Sequence[Component]) -> tuple[VisitShift, ...]:
        """The shift of each visit, and whether it is suspect by its own size."""
        shifts = []
        for visit, one in enumerate(self.visits):
            at = self.shared.shift(visit)
            known = self._shared(components, at)
            mean, sd = known.mean, known.sd
            readings = sum(bool(reading.tries) for reading in one.readings)
            beyond = self.constants.shift_share * float(np.sqrt(self.shared.variance[at]))
            suspect = (
                readings >= self.constants.fewest_for_shift
                and abs(mean) > self.constants.shift_z * sd
                and abs(mean) > beyond
            )
            shifts.append(VisitShift(mean, sd, suspect))
        return tuple(shifts)

    def _mixed_shifts(self, components: Sequence[Component]) -> tuple[VisitShift, ...]:
        """The shifts over all regimes: suspect where both the steady and the likeliest find it so.

        Or where it is likelier than not that the visit was read warm.
        """
        mixed_ones = self._shifts(components)
        likeliest = self._shifts([max(components, key=lambda one: one.weight)])
        steady = self._shifts([one for one in components if one.regime.kind == "steady"] or components)
        warm = [
            sum(one.weight for one in components if one.regime.visit == visit)
            for visit in range(len(self.visits))
        ]
        return tuple(
            replace(shift, suspect=p >= 0.5 or (a.suspect and b.suspect))
            for shift, a, b, p in zip(mixed_ones, likeliest, steady, warm, strict=True)
        )

    def _standing_breaks(
        self, scores: dict[str, list[Predicted]], shifts: Sequence[VisitShift]
    ) -> dict[str, list[ChangePoint]]:
        """The change points; none at a suspect visit and the next, where the measuring moved."""
        excused = {visit for at, one in enumerate(shifts) if one.suspect for visit in (at, at + 1)}
        standing = {
            valve: [
                ChangePoint(one.visit, one.z, "tight" if one.z < 0.0 else "loose")
                for one in known
                if one.z is not None
                and abs(one.z) > self.constants.change_point_z
                and one.visit not in excused
            ]
            for valve, known in scores.items()
        }
        return {valve: known for valve, known in standing.items() if known}

    def _last_reading(self, chain: ValveChain) -> int | None:
        """The last reading of the clearance as left at the last visit."""
        last = len(self.visits) - 1
        phases = ("left",) if chain.left[last] is not chain.found[last] else ("left", "found")
        own = [index for index, one in enumerate(chain.readings) if one.visit == last and one.phase in phases]
        return own[-1] if own else None

    def _wanted(self, regime: Regime, chain: ValveChain) -> list[Latent]:
        """What is asked of a chain: its state, and the sink over the era with and without bedding in."""
        last, start = len(self.visits) - 1, chain.era_start
        wanted = [chain.left[last], chain.drift[last], chain.passing]
        if last > start:
            steps = [(chain.left[visit], chain.found[visit + 1]) for visit in range(start, last)]
            sink = Latent(
                sum(left.mean - found.mean for left, found in steps),
                np.sum([left.own - found.own for left, found in steps], axis=0),
                np.sum([left.shared - found.shared for left, found in steps], axis=0),
            )
            passed, counts = chain.passed, float(regime.kind in ("bedding-in", "deposit"))
            lasting = Latent(
                sink.mean + counts * passed.mean,
                sink.own + counts * passed.own,
                sink.shared + counts * passed.shared,
            )
            wanted += [sink, lasting]
        return wanted

    def _valve(
        self,
        components: tuple[Component, ...],
        sinks: Sequence[dict[str, Mixture | None]],
        at: int,
        change_points: list[ChangePoint],
        predicted: tuple[Predicted, ...],
    ) -> ValveDrift:
        chain = self.chains[at]
        name = chain.valve.id
        weights = [one.weight for one in components]
        states = [one.states[name] for one in components]
        together = mixed(list(zip(weights, states, strict=True)))
        growth = np.concatenate([one.growth for one in states])
        known = [of[name] for of in sinks]
        of_each = [(w, one) for w, one in zip(weights, known, strict=True) if one is not None]
        sink = mixed(of_each) if of_each else None
        doubted: dict[EntryError, float] = {}
        for one in components:
            for entry_error, p in entry_errors_of(one.posterior, at).items():
                doubted[entry_error] = doubted.get(entry_error, 0.0) + one.weight * p
        possible_entry_errors = tuple(
            PossibleEntryError(reading_of, number, p) for (reading_of, number), p in sorted(doubted.items())
        )
        last = len(self.visits) - 1
        return ValveDrift(
            chain,
            MovingMixture(together.weight, together.mean, together.cov, growth),
            None if sink is None else sink.part(slice(0, 1)),
            None if sink is None else sink.part(slice(1, 2)),
            change_points[-1] if change_points else None,
            predicted,
            possible_entry_errors,
            self._shared(components, self.shared.side_drift(last, chain.valve.side)),
        )


def drifts(engine: Engine, visits: Sequence[Visit], constants: Constants = DEFAULT) -> Drifts:
    """The drift of all clearances of an engine, from its visits in order."""
    return _Computation(engine, visits, constants).run()
