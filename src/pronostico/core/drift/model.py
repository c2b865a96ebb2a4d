"""Drift of all clearances of an engine, visit by visit, all valves together.

Each visit is predicted from those before it, then imported; a valve whose reading lies far from what was
predicted changed suddenly there, and the whole is computed once more with that jump allowed for. F-14 in
docs/formulas.md.
"""

from collections.abc import Sequence
from dataclasses import dataclass
from typing import Literal

import numpy as np

from pronostico.core.constants import DEFAULT, Constants
from pronostico.core.drift.chain import Latent, Shared, ValveChain, shared_of, valve_chain
from pronostico.core.drift.entry_errors import configs_for, doubts, entry_error_chances, entry_errors_of
from pronostico.core.drift.gap_prior import Config, EntryError, GapSite
from pronostico.core.drift.inference import Inference
from pronostico.core.drift.mixture import Mixture, mixture_of, spread_of_each
from pronostico.core.drift.posterior import Posterior, Sites
from pronostico.core.engine import Engine
from pronostico.core.gauge.feel import feel_sd_mm
from pronostico.core.gauge.reading import Estimate, estimate
from pronostico.core.thermal import Correction, correction_at
from pronostico.core.visits import Reading, Visit

_MOST_ROUNDS = 3
_NEGLIGIBLE_ENTRY_ERROR = 0.004  # entry errors less likely than this hardly widen what is predicted


@dataclass(frozen=True, slots=True)
class Spread:
    """A figure and its sd."""

    mean: float
    sd: float


@dataclass(frozen=True, slots=True)
class ChangePoint:
    """A reading far from what the visits before it predicted, in sd of the difference."""

    visit: int
    z: float
    direction: Literal["tight", "loose"]


@dataclass(frozen=True, slots=True)
class Predicted:
    """The one-step prediction of a clearance as found, mm, and the standardised innovation of its reading.

    `z` in sd of the difference; None where the reading only bounds it, on the side that was predicted.
    """

    visit: int
    mean_mm: float
    sd_mm: float
    z: float | None


@dataclass(frozen=True, slots=True)
class PossibleEntryError:
    """A try that may be an entry error: the reading of the valve's chain, the try, how likely."""

    reading: int
    try_number: int
    probability: float


@dataclass(frozen=True, slots=True)
class VisitShift:
    """The shift common to all readings of a visit, mm; suspect: large beyond chance."""

    mean_mm: float
    sd_mm: float
    suspect: bool


@dataclass(frozen=True, slots=True)
class ValveDrift:
    """One valve after its last visit.

    `state`: the clearance as left and the drift an interval, together; `sink`: the net closing movement
    over the era, None with less than two visits of it; `broke`: where it changed suddenly last.
    `predicted`: each reading but the first against its prediction; `possible_entry_errors`: those tries.
    `side_drift`: what its side shares of its drift, mm an interval.
    """

    chain: ValveChain
    state: Mixture
    sink: Mixture | None
    broke: ChangePoint | None
    predicted: tuple[Predicted, ...]
    possible_entry_errors: tuple[PossibleEntryError, ...]
    side_drift: Spread


@dataclass(frozen=True, slots=True)
class Drifts:
    """All valves that have a spec, and each visit's shift; `converged`: whether the computation settled."""

    valves: dict[str, ValveDrift]
    shifts: tuple[VisitShift, ...]
    posterior: Posterior | None
    converged: bool


class _Filter:
    """The visits filtered in order."""

    def __init__(self, chains: Sequence[ValveChain], shared: Shared, constants: Constants) -> None:
        self.base = GapSite(chains, shared, constants)
        self.configs: tuple[Config, ...] = tuple(Config(at) for at in range(len(chains)))
        self.sites: Sites | None = None
        self.chances: list[dict[EntryError, float]] = []

    def _carried(self, inference: Inference) -> Sites:
        """Initial sites: those known from the nearest hypothesis of the same valve."""
        sites = inference.start()
        if self.sites is None:
            return sites
        size = min(self.sites.precision.shape[2], inference.size)
        for at, config in enumerate(inference.configs):
            like = min(
                (index for index, one in enumerate(self.configs) if one.chain == config.chain),
                key=lambda index: len(self.configs[index].entry_errors ^ config.entry_errors),
            )
            sites.precision[:, at, :size] = self.sites.precision[:, like, :size]
            sites.weighted[:, at, :size] = self.sites.weighted[:, like, :size]
        return sites

    def _keep(self, inference: Inference, posterior: Posterior) -> None:
        self.configs, self.sites = inference.configs, posterior.sites

    def posterior_before(self, upto: int) -> Posterior:
        """The posterior of the visits before `upto`, with the hypotheses that its entry errors call for."""
        inference = Inference(self.base, self.configs, upto)
        # The new readings are held against what was predicted before they are believed.
        posterior = inference.predicted(self._carried(inference))
        # What the readings before may be is known well enough until the new ones have been imported.
        chances = entry_error_chances(posterior, self.chances, since=upto - 1 if self.chances else 0)
        for round_ in range(_MOST_ROUNDS):
            if round_ > 0:
                chances = entry_error_chances(posterior)
            configs = configs_for(posterior, chances)
            nearly = upto < self.base.shared.visits
            if configs == inference.configs:
                if posterior.sweeps > 0:
                    break
                # No new case to weigh: what was predicted is where settling begins.
                posterior = inference.settle(posterior.sites, nearly=nearly, begin=posterior)
                continue
            self._keep(inference, posterior)
            inference = Inference(self.base, configs, upto)
            posterior = inference.settle(self._carried(inference), nearly=nearly)
        self.chances = chances
        posterior.entry_error_chances = doubts(
            inference.configs, chances, self.base.constants.doubted_entry_error
        )
        self._keep(inference, posterior)
        return posterior


@dataclass(frozen=True, slots=True)
class _OwnEstimate:
    """A reading on its own: its mean and variance; `side`: on which alone it is bounded, 0 for neither."""

    mean_mm: float
    variance: float
    side: int


def _own_estimate(
    reading: Reading, known: Estimate, correction: Correction, constants: Constants
) -> _OwnEstimate:
    """The reading on its own, without history; the bound of one that is bounded on one side only."""
    bounds: list[tuple[float, int, int]] = []
    for one in reading.tries:
        low, high = -constants.refuse_below_mm, constants.free_above_mm
        offset, side = {"no-go": (low, -1), "free": (high, 1), "go": (low, 1), "drag": (0.0, 0)}[one.felt]
        bounds.append((one.thickness_mm + offset, side, len(one.blades_mm)))
    sides = {side for _, side, _ in bounds}
    if sides not in ({-1}, {1}):
        return _OwnEstimate(known.mean_mm, known.sd_mm**2, 0)
    side = sides.pop()
    at, _, blades = min(bounds) if side < 0 else max(bounds)
    variance = feel_sd_mm(blades, reading.access, constants) ** 2 + correction.uncertainty_mm**2
    return _OwnEstimate(at - correction.correction_mm, variance, side)


class _Computation:
    """The computation for one engine, run twice where a valve has a change point."""

    def __init__(self, engine: Engine, visits: Sequence[Visit], constants: Constants) -> None:
        self.engine, self.visits, self.constants = engine, tuple(visits), constants
        self.shared = shared_of(engine, self.visits, constants)
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
            return Drifts({}, (), None, converged=True)
        taking = _Filter(self.chains, self.shared, self.constants)
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
        shifts = self._shifts(posterior)
        change_points = self._standing_breaks(scores, shifts)
        if change_points:
            jumps = {valve: frozenset(one.visit for one in known) for valve, known in change_points.items()}
            self.chains = self._chains(jumps)
            again = _Filter(self.chains, self.shared, self.constants)
            again.configs, again.sites = taking.configs, taking.sites
            posterior = again.posterior_before(len(self.visits))
            shifts = self._shifts(posterior)
        valves = {
            chain.valve.id: self._valve(
                posterior, at, change_points.get(chain.valve.id, []), tuple(scores.get(chain.valve.id, ()))
            )
            for at, chain in enumerate(self.chains)
        }
        return Drifts(valves, shifts, posterior, posterior.converged)

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
        own = _own_estimate(reading, read, correction, self.constants)
        score = self._held_against(visit, own, predicted)
        if score.z is None or abs(score.z) < self.constants.near_change_point_z:
            return score
        # Unlikely entry errors matter only near a change point, and take time to compute.
        wider = mixture_of(posterior, chain, [known.found[visit]], least_sd=_NEGLIGIBLE_ENTRY_ERROR)
        return self._held_against(visit, own, Spread(wider.average, wider.sd))

    def _held_against(self, visit: int, own: _OwnEstimate, predicted: Spread) -> Predicted:
        """The standardised difference between a reading and its prediction."""
        shift = float(self.shared.variance[self.shared.shift(visit)])
        variance = own.variance + predicted.sd**2 + shift + self.constants.reading_sd_mm**2
        off = own.mean_mm - predicted.mean
        bounded = own.side and off * own.side <= 0.0
        z = None if bounded else off / float(np.sqrt(variance))
        return Predicted(visit, predicted.mean, predicted.sd, z)

    def _shared(self, posterior: Posterior, at: int) -> Spread:
        """Mean and sd of one shared normal, over all drift spreads."""
        means, variances = posterior.all_mean[:, at], posterior.all_cov[:, at, at]
        mean = float(posterior.tau_weight @ means)
        return Spread(mean, float(np.sqrt(posterior.tau_weight @ (variances + (means - mean) ** 2))))

    def _shifts(self, posterior: Posterior) -> tuple[VisitShift, ...]:
        shifts = []
        for visit, one in enumerate(self.visits):
            at = self.shared.shift(visit)
            known = self._shared(posterior, at)
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

    def _valve(
        self,
        posterior: Posterior,
        at: int,
        change_points: list[ChangePoint],
        predicted: tuple[Predicted, ...],
    ) -> ValveDrift:
        chain = self.chains[at]
        last = len(self.visits) - 1
        phases = ("left",) if chain.left[last] is not chain.found[last] else ("left", "found")
        own = [index for index, one in enumerate(chain.readings) if one.visit == last and one.phase in phases]
        reading = own[-1] if own else None
        start, wanted = chain.era_start, [chain.left[last], chain.drift[last]]
        if last > start:
            steps = [(chain.left[visit], chain.found[visit + 1]) for visit in range(start, last)]
            wanted.append(
                Latent(
                    sum(left.mean - found.mean for left, found in steps),
                    np.sum([left.own - found.own for left, found in steps], axis=0),
                    np.sum([left.shared - found.shared for left, found in steps], axis=0),
                )
            )
        together = mixture_of(posterior, at, wanted, last_reading=reading)
        state = together.part(slice(0, 2))
        sink = together.part(slice(2, 3)) if last > start else None
        possible_entry_errors = tuple(
            PossibleEntryError(reading_of, number, p)
            for (reading_of, number), p in sorted(entry_errors_of(posterior, at).items())
        )
        shared = self._shared(posterior, self.shared.side_drift(last, chain.valve.side))
        return ValveDrift(
            chain,
            state,
            sink,
            change_points[-1] if change_points else None,
            predicted,
            possible_entry_errors,
            shared,
        )


def drifts(engine: Engine, visits: Sequence[Visit], constants: Constants = DEFAULT) -> Drifts:
    """The drift of all clearances of an engine, from its visits in order."""
    return _Computation(engine, visits, constants).run()
