"""Regimes of the drift: what it may do beside staying steady, and which of that is worth computing.

Engines bed in, settle after head work and run away; one visit is read warm. Each of these is a hypothesis of
the last era with a probability of its own before the readings. F-27 in docs/formulas.md.
"""

from collections.abc import Iterator, Mapping, Sequence
from dataclasses import dataclass
from math import inf
from typing import Literal

from pronostico.core.arrays import FloatArray
from pronostico.core.constants import Constants
from pronostico.core.drift.added_drift import Added
from pronostico.core.drift.chain import ValveChain
from pronostico.core.engine import SIDES, Side
from pronostico.core.visits import Visit

RegimeKind = Literal["steady", "bedding-in", "speeding-up", "warm-visit", "deposit"]


@dataclass(frozen=True, slots=True)
class Regime:
    """A hypothesis of the last era, and its probability before the readings.

    `side`, `valve`: where it speeds up; `visit`: the one that was read warm. `added`: the drift beside the
    steady one, of the valves that have it. `deposits`: the valves that are off for once at the last visit,
    and which way, 1 or -1.
    """

    kind: RegimeKind
    prior: float
    side: Side | None = None
    valve: str | None = None
    visit: int | None = None
    added: Added | None = None
    deposits: tuple[tuple[str, int], ...] = ()

    def growth_of(self, chain: ValveChain) -> float:
        """The rate at which what passes or grows does so, as a moving mixture has it; 0 without it."""
        if any(valve == chain.valve.id for valve, _ in self.deposits):
            return -inf
        return self.added.growth if self.added is not None and self.has(chain) else 0.0

    def has(self, chain: ValveChain) -> bool:
        """Whether a valve has the added drift."""
        if self.added is None:
            return False
        if self.valve is not None:
            return chain.valve.id == self.valve
        return self.side is None or chain.valve.side == self.side


@dataclass(frozen=True, slots=True)
class Scored:
    """The standardised innovation of a reading as found, and the reading on its own; mm."""

    visit: int
    z: float
    own_mm: float


@dataclass(frozen=True, slots=True)
class Deposits:
    """Readings that are off for once: how likely one is, how many there were, and which way most were."""

    probability: float
    seen: int
    sense: int


@dataclass(frozen=True, slots=True)
class History:
    """What decides which regimes are worth computing.

    `times`: usage of the visits at check intervals. `scores`: by valve, of the visits of the last era but
    its first. `jumped`: the valves that jumped at the last visit and were
    not set anew there, and which way. `measuring_moved`: the last
    visit's shift is suspect.
    """

    chains: tuple[ValveChain, ...]
    visits: tuple[Visit, ...]
    times: FloatArray
    start_intervals: float
    scores: Mapping[str, Sequence[Scored]]
    measuring_moved: bool
    jumped: tuple[tuple[str, int], ...] = ()

    def deposits(self, constants: Constants) -> Deposits:
        """How often valves are off for once on this engine.

        One that jumped and was back at the next visit was off for once; the share of such readings, shrunk
        by so many without any, is added to that of any engine.
        """
        set_anew = {chain.valve.id: chain.set_anew for chain in self.chains}
        back = [
            one.z
            for valve, known in self.scores.items()
            for before, one, after in zip(known, known[1:], known[2:], strict=False)
            if abs(one.z) > constants.change_point_z
            and abs(after.own_mm - before.own_mm)
            < constants.deposit_gone_share * abs(one.own_mm - before.own_mm)
            and not set_anew[valve] & {before.visit, one.visit}
        ]
        worth = constants.deposit_prior_readings + sum(len(known) for known in self.scores.values())
        probability = min(0.5, constants.deposit_probability + len(back) / worth)
        return Deposits(probability, len(back), 1 if sum(back) >= 0.0 else -1)

    @property
    def era_start(self) -> int:
        """The visit at which the engine's last era began; single valves may have begun one since."""
        return min(chain.era_start for chain in self.chains)

    @property
    def last(self) -> int:
        """The last visit."""
        return len(self.visits) - 1

    def is_fresh(self, constants: Constants) -> bool:
        """Whether the era began new: with work on all valves, or with an engine that had hardly run."""
        start = self.visits[self.era_start]
        after_work = all(start.begins_era_of(chain.valve.id) for chain in self.chains)
        return after_work or self.start_intervals < constants.hardly_run_intervals


def _bedding_in(history: History, constants: Constants) -> Iterator[Regime]:
    fresh = history.is_fresh(constants)
    prior = constants.bedding_prior_fresh if fresh else constants.bedding_prior
    decays = constants.bedding_decays_intervals
    origin = float(history.times[history.era_start])
    for decay in decays:
        added = Added(
            -1.0 / decay,
            origin,
            constants.bedding_mm / decay,
            constants.bedding_sd_mm / decay,
            constants.bedding_own_sd_mm / decay,
        )
        yield Regime("bedding-in", prior / len(decays), added=added)


def _side_speeding_up(history: History, constants: Constants) -> Iterator[Regime]:
    growths, origin = constants.speeding_growths, float(history.times[-1])
    priors = {"intake": constants.speeding_prior_intake, "exhaust": constants.speeding_prior_exhaust}
    for side in SIDES:
        if sum(chain.valve.side == side for chain in history.chains) == 0:
            continue
        for growth in growths:
            added = Added(
                growth,
                origin,
                constants.speeding_mm_per_interval,
                constants.speeding_sd_mm_per_interval,
                constants.speeding_own_sd_mm_per_interval,
            )
            yield Regime("speeding-up", priors[side] / len(growths), side=side, added=added)


def _sign_of_run(scores: Sequence[Scored], constants: Constants) -> int:
    """The sense in which a valve's last scores leave what was predicted; 0: in none."""
    if len(scores) < 2:
        return 0
    before, last = (one.z for one in scores[-2:])
    if before * last <= 0.0 or max(abs(before), abs(last)) < constants.speeding_asked_z:
        return 0
    return 1 if last > 0.0 else -1


def _valve_speeding_up(history: History, constants: Constants) -> Iterator[Regime]:
    growths, origin = constants.speeding_growths, float(history.times[-1])
    share = min(constants.speeding_valve_prior, constants.speeding_valves_prior / len(history.chains))
    for chain in history.chains:
        sense = _sign_of_run(history.scores.get(chain.valve.id, ()), constants)
        if sense == 0:
            continue
        for growth in growths:
            added = Added(
                growth,
                origin,
                sense * constants.speeding_valve_mm_per_interval,
                0.0,
                constants.speeding_valve_sd_mm_per_interval,
            )
            # The other sense has its half of the prior, though nothing asks for it.
            prior = share / (2.0 * len(growths))
            yield Regime("speeding-up", prior, valve=chain.valve.id, added=added)


def _warm_visits(history: History, constants: Constants) -> Iterator[Regime]:
    if len(history.visits) < constants.warm_fewest_visits:
        return
    for index, visit in enumerate(history.visits):
        found = sum(bool(one.tries) and one.phase == "found" for one in visit.readings)
        if found >= constants.warm_fewest_readings:
            yield Regime("warm-visit", constants.warm_visit_prior, visit=index)


def regimes_for(history: History, constants: Constants) -> tuple[Regime, ...]:
    """The regimes that the readings of the last era can tell from a steady drift, the steady one first."""
    asked: list[Regime] = []
    visits_of_era = history.last - history.era_start
    # Where an era has just begun new, that it beds in is known before anything shows it.
    if visits_of_era >= 1 or history.is_fresh(constants):
        asked.extend(_bedding_in(history, constants))
    # Where the measuring moved at the last visit, nothing tells a drift that speeds up from that.
    if visits_of_era >= 2 and not history.measuring_moved:
        asked.extend(_side_speeding_up(history, constants))
        asked.extend(_valve_speeding_up(history, constants))
    if visits_of_era >= 1:
        asked.extend(_warm_visits(history, constants))
    if history.jumped:
        # For each of them once a jump that stays and once something that goes again.
        prior = history.deposits(constants).probability ** len(history.jumped)
        asked.append(Regime("deposit", prior, deposits=history.jumped))
    rest = 1.0 - sum(one.prior for one in asked)
    return (Regime("steady", rest), *asked)


def jumps_kept(
    regime: Regime,
    jumps: Mapping[str, frozenset[int]],
    scores: Mapping[str, Sequence[Scored]],
    era_start: int,
    sides: Mapping[str, Side],
    constants: Constants,
) -> dict[str, frozenset[int]]:
    """The jumps that a regime does not explain.

    Args:
        jumps: by valve, the visits into which it jumped by the steady computation.
        scores: of all readings as found, by valve.
    """
    at = {(name, one.visit): one.z for name, known in scores.items() for one in known}
    last = max((visit for visits in jumps.values() for visit in visits), default=0)

    def explained(name: str, visit: int) -> bool:
        z = at.get((name, visit), 0.0)
        if regime.kind == "speeding-up" and visit > era_start and regime.added is not None:
            if regime.valve is not None:
                return name == regime.valve and z * regime.added.mean > 0.0
            of_side = [z for (other, k), z in at.items() if k == visit and sides[other] == regime.side]
            low = sum(one <= -1.0 for one in of_side) >= constants.speeding_share_moved * len(of_side)
            return sides[name] == regime.side and z < 0.0 and low
        if any(valve == name for valve, _ in regime.deposits):
            return visit == last
        if regime.kind == "warm-visit" and visit in (regime.visit, (regime.visit or 0) + 1):
            all_of = [z for (_, k), z in at.items() if k == visit]
            alike = max(sum(one >= 1.0 for one in all_of), sum(one <= -1.0 for one in all_of))
            return alike >= constants.warm_share_moved * len(all_of)
        return False

    kept = {
        name: frozenset(visit for visit in visits if not explained(name, visit))
        for name, visits in jumps.items()
    }
    return {name: visits for name, visits in kept.items() if visits}
