"""From findings to causes: exact inference over none, one and two causes, each at its place.

A finding's probability given the causes that are present is a noisy-OR with a leak, damped by causes
that prevent it:

    P(finding | causes) = [1 - (1 - leak) prod (1 - strength)] * prod 0.3 over preventing causes

A soft finding, known with probability q, counts as the mix of its present and absent case. Findings of
one family come from the same facts; their weight is tempered, see `temper`. F-06 in docs/formulas.md.
"""

from collections import defaultdict
from collections.abc import Iterable, Sequence
from dataclasses import dataclass
from itertools import combinations
from math import exp, isclose, log, log10
from typing import Literal

from pronostico.core.engine import SIDES, Engine, Side
from pronostico.core.errors import ImpossibleValue, KnowledgeFault

PlaceKind = Literal["valve", "cylinder", "side", "engine"]
STRENGTHS = {"always": 0.97, "usually": 0.80, "often": 0.55, "sometimes": 0.25, "rarely": 0.07}
PREVENTED = 0.3
# A finding whose probability the cause moves by less than this factor tells nothing worth counting.
_UNINFORMATIVE_NATS = 1e-3


@dataclass(frozen=True, slots=True)
class Place:
    """Where on the engine: a valve, a cylinder, a side, a side of a cylinder, or (all None) all of it."""

    valve: str | None = None
    cylinder: int | None = None
    side: Side | None = None

    @property
    def name(self) -> str:
        """As it is written in results: '1E', 'cylinder 3', 'exhaust', 'cylinder 3, exhaust' or 'engine'."""
        if self.valve is not None:
            return self.valve
        cylinder = None if self.cylinder is None else f"cylinder {self.cylinder}"
        return ", ".join(part for part in (cylinder, self.side) if part is not None) or "engine"


ENGINE_WIDE = Place()


@dataclass(frozen=True, slots=True)
class FindingKind:
    """A kind of finding: what may be seen, heard or computed."""

    id: str
    label: str
    help: str
    group: str
    family: str
    leak: float


@dataclass(frozen=True, slots=True)
class Link:
    """How a cause speaks of a kind of finding; `strength` is None where it prevents it."""

    finding: str
    strength: float | None
    why: str


@dataclass(frozen=True, slots=True)
class PriorFactor:
    """What raises or lowers the odds of a cause before anything was found.

    Applies where the named property of the engine or of the place has one of the values.
    """

    of: Literal["fuel", "duty", "adjustment", "side"]
    values: tuple[str, ...]
    times: float
    why: str


@dataclass(frozen=True, slots=True)
class CauseKind:
    """A kind of cause: where it sits, how likely it is beforehand, what it brings about."""

    id: str
    label: str
    help: str
    advice: str
    place: PlaceKind
    prior: float
    factors: tuple[PriorFactor, ...]
    links: tuple[Link, ...]
    not_with_adjustment: tuple[str, ...] = ()


@dataclass(frozen=True, slots=True)
class Knowledge:
    """All kinds of findings and causes, by id; consistent once made.

    A finding may be noted that no cause speaks of yet: it is kept, and tells nothing.
    """

    findings: dict[str, FindingKind]
    causes: dict[str, CauseKind]

    def __post_init__(self) -> None:
        for finding in self.findings.values():
            if not 0.0 < finding.leak < 1.0:
                raise KnowledgeFault(f"finding {finding.id}: leak is {finding.leak}, must be between 0 and 1")
        for cause in self.causes.values():
            self._check_cause(cause)

    def _check_cause(self, cause: CauseKind) -> None:
        if not 0.0 < cause.prior < 1.0:
            raise KnowledgeFault(f"cause {cause.id}: prior is {cause.prior}, must be between 0 and 1")
        seen: set[str] = set()
        for link in cause.links:
            where = f"cause {cause.id}, finding {link.finding}"
            if link.finding not in self.findings:
                raise KnowledgeFault(f"{where}: there is no finding of that id")
            if link.finding in seen:
                raise KnowledgeFault(f"{where}: linked twice")
            if not link.why.strip():
                raise KnowledgeFault(f"{where}: the reason (why) is missing")
            if link.strength is not None and not 0.0 < link.strength < 1.0:
                raise KnowledgeFault(f"{where}: strength is {link.strength}, must be between 0 and 1")
            seen.add(link.finding)


@dataclass(frozen=True, slots=True)
class Evidence:
    """A finding at a place, present with probability `presence` (1 seen, 0 looked for and not there)."""

    finding: str
    place: Place
    presence: float

    def __post_init__(self) -> None:
        if not 0.0 <= self.presence <= 1.0:
            raise ImpossibleValue(f"presence of {self.finding}", self.presence, "a probability, 0 to 1")


@dataclass(frozen=True, slots=True)
class Candidate:
    """A kind of cause at one place of one engine."""

    kind: CauseKind
    place: Place
    prior: float


@dataclass(frozen=True, slots=True)
class Weight:
    """What one piece of evidence says for (+) or against (-) a candidate, in decibans."""

    evidence: Evidence
    decibans: float
    why: str


@dataclass(frozen=True, slots=True)
class RankedCause:
    """A candidate with its probability and its ledger, heaviest first.

    `together_decibans` is what all of the ledger weighs once findings of one family share their say.
    """

    candidate: Candidate
    probability: float
    speaks_for: tuple[Weight, ...]
    speaks_against: tuple[Weight, ...]
    together_decibans: float


@dataclass(frozen=True, slots=True)
class Diagnosis:
    """All candidates, most probable first, and the probability that none of them is present."""

    causes: tuple[RankedCause, ...]
    none_of_these: float


def valves_at(engine: Engine, place: Place) -> frozenset[str]:
    """The valves that a place takes in; all of them for the engine as a whole.

    Raises:
        UnknownValve: the place names a valve that the engine does not have.
    """
    if place.valve is not None:
        return frozenset({engine.valve(place.valve).id})
    return frozenset(
        valve.id
        for valve in engine.valves
        if place.side in (None, valve.side) and place.cylinder in (None, valve.cylinder)
    )


def includes(engine: Engine, outer: Place, inner: Place) -> bool:
    """Whether a cause at `outer` can show itself in a finding at `inner`.

    A finding without a place answers to causes anywhere; one at a valve or a cylinder to causes that reach
    it. One valve or one cylinder does not speak for a whole side.
    """
    shown, reached = valves_at(engine, inner), valves_at(engine, outer)
    if inner == ENGINE_WIDE:
        return True
    if inner == Place(side=inner.side):
        return shown <= reached
    return bool(shown & reached)


def places_of(engine: Engine, kind: PlaceKind) -> tuple[Place, ...]:
    """All places of a kind that the engine has."""
    match kind:
        case "valve":
            return tuple(Place(valve=valve.id) for valve in engine.valves)
        case "cylinder":
            return tuple(Place(cylinder=cylinder) for cylinder in engine.cylinders)
        case "side":
            return tuple(Place(side=side) for side in SIDES if any(v.side == side for v in engine.valves))
        case "engine":
            return (ENGINE_WIDE,)


def _side_at(engine: Engine, place: Place) -> Side | None:
    return engine.valve(place.valve).side if place.valve is not None else place.side


def _prior(cause: CauseKind, engine: Engine, place: Place) -> float:
    facts = {
        "fuel": engine.fuel,
        "duty": engine.duty,
        "adjustment": engine.adjustment,
        "side": _side_at(engine, place),
    }
    odds = cause.prior / (1.0 - cause.prior)
    for factor in cause.factors:
        if facts[factor.of] in factor.values:
            odds *= factor.times
    return odds / (1.0 + odds)


def candidates_for(engine: Engine, knowledge: Knowledge) -> tuple[Candidate, ...]:
    """Every cause that this engine can have, at every place where it can sit, with its prior."""
    return tuple(
        Candidate(cause, place, _prior(cause, engine, place))
        for cause in knowledge.causes.values()
        if engine.adjustment not in cause.not_with_adjustment
        for place in places_of(engine, cause.place)
    )


def finding_probability(leak: float, links: Iterable[Link]) -> float:
    """P(finding | the causes whose links are given): noisy-OR with a leak, damped by prevention.

    >>> why = "drawn by hand"
    >>> round(finding_probability(0.05, [Link("f", 0.8, why), Link("f", None, why)]), 3)
    0.243
    """
    absent, damping = 1.0 - leak, 1.0
    for link in links:
        if link.strength is None:
            damping *= PREVENTED
        else:
            absent *= 1.0 - link.strength
    return (1.0 - absent) * damping


def temper(log_weights: Sequence[float]) -> float:
    """Weight of several witnesses to the same facts, nats.

    The sum times 1 / (1 + 0.5 (n - 1)), never below the strongest single one; what speaks for and what
    speaks against are weighed apart.

    >>> round(temper([1.0, 1.0, 1.0]), 3), temper([2.0, 0.1]), temper([-2.0])
    (1.5, 2.0, -2.0)
    """
    total = 0.0
    for sign in (1.0, -1.0):
        one_way = [weight * sign for weight in log_weights if weight * sign > _UNINFORMATIVE_NATS]
        if one_way:
            total += sign * max(*one_way, sum(one_way) / (1.0 + 0.5 * (len(one_way) - 1)))
    return total


class _Network:
    """One engine's candidates held against one body of evidence."""

    def __init__(self, engine: Engine, knowledge: Knowledge, evidence: Sequence[Evidence]) -> None:
        self.engine = engine
        self.knowledge = knowledge
        self.evidence = [one for one in evidence if one.finding in knowledge.findings]
        self.candidates = candidates_for(engine, knowledge)
        self._link: dict[tuple[int, int], Link] = {}
        for c, candidate in enumerate(self.candidates):
            by_finding = {link.finding: link for link in candidate.kind.links}
            for e, one in enumerate(self.evidence):
                link = by_finding.get(one.finding)
                if link is not None and includes(engine, candidate.place, one.place):
                    self._link[c, e] = link
        self._reach = [
            [e for e in range(len(self.evidence)) if (c, e) in self._link]
            for c in range(len(self.candidates))
        ]

    def link(self, c: int, e: int) -> Link | None:
        """The link by which a candidate speaks of a piece of evidence."""
        return self._link.get((c, e))

    def log_ratio(self, present: Sequence[int], e: int) -> float:
        """Log P(evidence | these causes) - log P(evidence | none), nats, untempered."""
        one = self.evidence[e]
        leak = self.knowledge.findings[one.finding].leak
        links = [link for c in present if (link := self._link.get((c, e))) is not None]
        with_causes = finding_probability(leak, links)

        def likelihood(p: float) -> float:
            return one.presence * p + (1.0 - one.presence) * (1.0 - p)

        return log(likelihood(with_causes) / likelihood(leak))

    def log_weight(self, present: Sequence[int]) -> float:
        """Tempered log evidence for exactly these causes against none, nats.

        A piece of evidence is counted with the cause that it says most of, so that two causes that
        explain different things do not dilute each other.
        """
        groups: dict[tuple[int, str], dict[Place, list[float]]] = defaultdict(lambda: defaultdict(list))
        for e in sorted({e for c in present for e in self._reach[c]}):
            owner = max(present, key=lambda c: (abs(self.log_ratio((c,), e)), -c))
            family = self.knowledge.findings[self.evidence[e].finding].family
            groups[owner, family][self.evidence[e].place].append(self.log_ratio(present, e))
        # First what was found at one place, then the places as witnesses of each other.
        return sum(temper([temper(at_place) for at_place in places.values()]) for places in groups.values())


def _weights(network: _Network, c: int) -> list[Weight]:
    weights = []
    for e, one in enumerate(network.evidence):
        link = network.link(c, e)
        if link is None:
            continue
        decibans = 10.0 * log10(exp(network.log_ratio((c,), e)))
        if not isclose(decibans, 0.0, abs_tol=0.05):
            weights.append(Weight(one, decibans, link.why))
    return sorted(weights, key=lambda weight: -abs(weight.decibans))


def diagnose(engine: Engine, knowledge: Knowledge, evidence: Sequence[Evidence]) -> Diagnosis:
    """Probability of every cause at every place, given what was found.

    Findings that the knowledge does not have say nothing. Places must be of this engine.

    Raises:
        UnknownValve: evidence names a valve that the engine does not have.
    """
    network = _Network(engine, knowledge, evidence)
    indices = range(len(network.candidates))
    states: list[tuple[int, ...]] = [(), *((c,) for c in indices), *combinations(indices, 2)]
    log_mass = [_log_prior(network.candidates, state) + network.log_weight(state) for state in states]
    highest = max(log_mass)
    mass = [exp(value - highest) for value in log_mass]
    total = sum(mass)
    marginal = [0.0] * len(network.candidates)
    for state, share in zip(states, mass, strict=True):
        for c in state:
            marginal[c] += share / total
    ranked = [_ranked(network, c, marginal[c]) for c in indices]
    ranked.sort(key=lambda cause: -cause.probability)
    return Diagnosis(tuple(ranked), mass[0] / total)


def _log_prior(candidates: Sequence[Candidate], present: tuple[int, ...]) -> float:
    """Log prior odds of these causes being the ones present; the common factor is left out."""
    return sum(log(candidates[c].prior / (1.0 - candidates[c].prior)) for c in present)


def _ranked(network: _Network, c: int, probability: float) -> RankedCause:
    weights = _weights(network, c)
    return RankedCause(
        candidate=network.candidates[c],
        probability=probability,
        speaks_for=tuple(weight for weight in weights if weight.decibans > 0.0),
        speaks_against=tuple(weight for weight in weights if weight.decibans < 0.0),
        together_decibans=10.0 / log(10.0) * network.log_weight((c,)),
    )
