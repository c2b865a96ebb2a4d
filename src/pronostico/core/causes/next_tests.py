"""Which test to make next: the one with the most expected information about the causes per minute of work.

Uncertainty is the entropy of all sets of causes, in bits; the expected information of a test is the
mutual information of the causes and its outcome. Of a test with many findings the three most informative
are combined. F-19 in docs/formulas.md.
"""

from collections.abc import Sequence
from dataclasses import dataclass
from itertools import product
from typing import Literal

import numpy as np

from pronostico.core.arrays import FloatArray
from pronostico.core.causes.network import Network, States
from pronostico.core.causes.places import ENGINE_WIDE, Place, places_of
from pronostico.core.constants import DEFAULT, Constants
from pronostico.core.engine import Engine, Starting
from pronostico.core.errors import KnowledgeFault


@dataclass(frozen=True, slots=True)
class Said:
    """How often a test says a finding where it is there, and where it is not; both 0 to 1."""

    finding: str
    if_there: float
    if_not: float


@dataclass(frozen=True, slots=True)
class TestKind:
    """A test: what it costs in minutes, what it needs of the engine, which findings it can show.

    `per`: made once for the engine, for each cylinder, or at each valve read of which only a bound
    is known. `cover`: the state of the valve cover that it needs. `after`: only once this finding is likely.
    `said`: of findings that it may overlook, or say wrongly; all others it shows as they are.
    """

    __test__ = False  # to pytest this is no test

    id: str
    label: str
    help: str
    minutes: float
    per: Literal["engine", "cylinder", "valve"]
    shows: tuple[str, ...]
    cover: Literal["on", "off"] | None = None
    cranks: bool = False
    runs: bool = False
    after: str | None = None
    only_with_adjustment: tuple[str, ...] = ()
    not_with_adjustment: tuple[str, ...] = ()
    not_with_fuel: tuple[str, ...] = ()
    only_with_starting: tuple[Starting, ...] = ()
    not_with_starting: tuple[Starting, ...] = ()
    said: tuple[Said, ...] = ()

    def fits(self, engine: Engine) -> bool:
        """Whether it can be made on an engine."""
        if self.only_with_adjustment and engine.adjustment not in self.only_with_adjustment:
            return False
        if self.only_with_starting and engine.starting not in self.only_with_starting:
            return False
        if engine.adjustment in self.not_with_adjustment or engine.starting in self.not_with_starting:
            return False
        return (engine.fuel or "").strip().lower() not in self.not_with_fuel


def check_tests(tests: Sequence[TestKind], findings: Sequence[str]) -> None:
    """Whether tests can be: each named once, each showing findings that there are.

    Raises:
        KnowledgeFault: the first that cannot.
    """
    seen: set[str] = set()
    for test in tests:
        if test.id in seen:
            raise KnowledgeFault(f"test {test.id}: named twice")
        seen.add(test.id)
        unknown = sorted(set(test.shows) - set(findings))
        if unknown or not test.shows:
            raise KnowledgeFault(
                f"test {test.id}: there is no finding {', '.join(unknown) or 'that it shows'}"
            )
        unshown = sorted({one.finding for one in test.said} - set(test.shows))
        if unshown:
            raise KnowledgeFault(f"test {test.id}: says {unshown[0]}, which it does not show")
        if not test.minutes > 0.0:
            raise KnowledgeFault(f"test {test.id}: minutes is {test.minutes}, must be over 0")


@dataclass(frozen=True, slots=True)
class Outcome:
    """A finding that a test may show, how likely it does, and what the most likely cause would then be."""

    finding: str
    place: Place
    probability: float
    cause_if_present: str
    where_if_present: str
    probability_if_present: float


@dataclass(frozen=True, slots=True)
class NextTest:
    """A test at a place: bits it is expected to take away, minutes with what its access costs."""

    test: TestKind
    place: Place
    gain_bits: float
    minutes: float
    outcomes: tuple[Outcome, ...]

    @property
    def bits_per_hour(self) -> float:
        """Worth of an hour of it."""
        return self.gain_bits / self.minutes * 60.0


def _entropy(p: FloatArray) -> FloatArray:
    p = np.clip(p, 1e-12, 1.0 - 1e-12)
    return np.asarray(-(p * np.log2(p) + (1.0 - p) * np.log2(1.0 - p)))


class _Asking:
    """One body of evidence, and what a test would add to it."""

    def __init__(self, network: Network, states: States) -> None:
        self.network = network
        self.states = states.likely()
        self.known = {(one.finding, one.place) for one in network.evidence}

    def places(self, test: TestKind, finding: str, place: Place) -> list[Place]:
        """Where a test at a place can show a finding, and it was not looked for yet."""
        if place != ENGINE_WIDE:
            where = [place]
        elif test.cover == "off":
            # Under the cover each valve is looked at for itself.
            where = list(places_of(self.network.engine, "valve"))
        elif self.network.knowledge.findings[finding].group == "cylinder":
            where = list(places_of(self.network.engine, "cylinder"))
        else:
            where = [ENGINE_WIDE]
        if (finding, ENGINE_WIDE) in self.known:
            return []
        return [one for one in where if (finding, one) not in self.known]

    def probabilities(self, test: TestKind, wanted: Sequence[tuple[str, Place]]) -> list[FloatArray]:
        """P(a test says each finding | each set of causes)."""
        keep, damp, _ = self.network.reach(wanted)
        said = {one.finding: one for one in test.said}
        found = []
        for at, (finding, _) in enumerate(wanted):
            leak = self.network.knowledge.findings[finding].leak
            p = self.states.probability(leak, keep[:, at], damp[:, at])
            one = said.get(finding)
            found.append(p if one is None else p * one.if_there + (1.0 - p) * one.if_not)
        return found

    def gain(self, each: Sequence[FloatArray]) -> float:
        """Bits that some findings are expected to take away together, independent given the causes."""
        mass = self.states.mass
        given = sum((mass @ _entropy(p) for p in each), start=0.0)
        shares = []
        for outcome in product((True, False), repeat=len(each)):
            likelihood = np.ones_like(mass)
            for here, p in zip(outcome, each, strict=True):
                likelihood = likelihood * (p if here else 1.0 - p)
            shares.append(float(mass @ likelihood))
        total = np.clip(np.array(shares), 1e-15, 1.0)
        return max(0.0, float(-(total * np.log2(total)).sum() - given))

    def outcome(self, finding: str, place: Place, p: FloatArray) -> Outcome:
        """What a finding would do to the picture."""
        present = float(self.states.mass @ p)
        after = States(
            self.states.mass * p / present,
            self.states.first,
            self.states.second,
            self.states.single,
            self.states.alone,
        )
        marginals = after.marginals(len(self.network.candidates))
        best = int(marginals.argmax())
        candidate = self.network.candidates[best]
        return Outcome(
            finding, place, present, candidate.kind.id, candidate.place.name, float(marginals[best])
        )


def next_tests(
    network: Network,
    states: States,
    tests: Sequence[TestKind],
    *,
    cover_is_off: bool,
    access_minutes: float,
    bounded: Sequence[str] = (),
    constants: Constants = DEFAULT,
) -> tuple[NextTest, ...]:
    """All tests that are worth making, the best a minute first; near-equals by what costs less.

    Args:
        access_minutes: what taking the valve cover off, or putting it on, adds.
        bounded: valves that were read, but whose clearance is known only as a bound.
    """
    asking = _Asking(network, states)
    marginals = states.marginals(len(network.candidates))
    harmful = [c for c, one in enumerate(network.candidates) if one.kind.no_cranking]
    p_harm = 1.0 - float(np.prod(1.0 - marginals[harmful]))
    no_cranking = bool(harmful) and p_harm > constants.no_cranking_probability
    likely = {one.finding for one in network.evidence if one.presence > 0.5}
    found = []
    for test in tests:
        if not test.fits(network.engine) or (no_cranking and (test.cranks or test.runs)):
            continue
        if test.after is not None and test.after not in likely:
            continue
        for place in _where(test, network.engine, bounded):
            made = _worth(asking, test, place, constants)
            if made is None:
                continue
            gain, outcomes = made
            needs_access = test.cover is not None and (test.cover == "off") != cover_is_off
            minutes = test.minutes + (access_minutes if needs_access else 0.0)
            found.append(NextTest(test, place, gain, minutes, outcomes))
    # What settles little beside another test is not worth the walk, however quick it is.
    least = constants.least_test_share * max((one.gain_bits for one in found), default=0.0)
    return tuple(_ordered([one for one in found if one.gain_bits >= least], constants))


def _where(test: TestKind, engine: Engine, bounded: Sequence[str]) -> tuple[Place, ...]:
    """Where a test is made."""
    match test.per:
        case "engine":
            return (ENGINE_WIDE,)
        case "cylinder":
            return places_of(engine, "cylinder")
        case "valve":
            return tuple(Place(valve=valve) for valve in bounded)


def _worth(
    asking: _Asking, test: TestKind, place: Place, constants: Constants
) -> tuple[float, tuple[Outcome, ...]] | None:
    wanted = [(finding, one) for finding in test.shows for one in asking.places(test, finding, place)]
    if not wanted:
        return None
    each = asking.probabilities(test, wanted)
    alone = np.array([asking.gain([p]) for p in each])
    best = [int(at) for at in np.argsort(-alone)[: constants.most_findings_together]]
    gain = asking.gain([each[at] for at in best])
    if gain < constants.least_test_bits:
        return None
    least = constants.named_outcome_share * alone[best[0]]
    return gain, tuple(asking.outcome(*wanted[at], each[at]) for at in best if alone[at] > least)


def _ordered(found: list[NextTest], constants: Constants) -> list[NextTest]:
    """In order of information per hour; near-equals by duration, those without a running engine first."""
    left = sorted(found, key=lambda one: -one.bits_per_hour)
    ordered: list[NextTest] = []
    while left:
        least = (1.0 - constants.near_tie) * left[0].bits_per_hour
        near = [one for one in left if one.bits_per_hour >= least]
        first = min(near, key=lambda one: (one.test.cranks or one.test.runs, one.minutes))
        ordered.append(first)
        left.remove(first)
    return ordered
