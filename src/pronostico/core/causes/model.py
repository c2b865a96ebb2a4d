"""From findings to causes: exact inference over none, one and two causes, each at its place.

A finding's probability given the causes that are present is a noisy-OR with a leak, damped by causes
that prevent it:

    P(finding | causes) = [1 - (1 - leak) prod (1 - strength)] * prod 0.3 over preventing causes

A soft finding, known with probability q, counts as the mix of its present and absent case. Findings of
one family come from the same facts; their weight is tempered, see `temper`. F-06 in docs/formulas.md.
"""

from collections.abc import Iterable, Sequence
from dataclasses import dataclass
from typing import Literal

from pronostico.core.causes.places import Place, PlaceKind, places_of, side_at
from pronostico.core.constants import DEFAULT, Constants
from pronostico.core.engine import Adjustment, Engine, Side, Starting
from pronostico.core.errors import ImpossibleValue, KnowledgeFault

Need = Literal["decompression", "cylinders"]
STRENGTHS = {
    "always": DEFAULT.strength_always,
    "usually": DEFAULT.strength_usually,
    "often": DEFAULT.strength_often,
    "sometimes": DEFAULT.strength_sometimes,
    "rarely": DEFAULT.strength_rarely,
}
"""What the words for a link's strength stand for: P(finding | cause) without a leak."""


@dataclass(frozen=True, slots=True)
class FindingKind:
    """A kind of finding: what may be seen, heard or computed; `excludes`: what cannot be there with it.

    `of_engine`: seen on the engine as a whole and not at a valve. `only_with_adjustment`,
    `not_with_adjustment`: the engines on which it can be found.
    """

    id: str
    label: str
    help: str
    group: str
    family: str
    leak: float
    excludes: tuple[str, ...] = ()
    of_engine: bool = False
    only_with_adjustment: tuple[Adjustment, ...] = ()
    not_with_adjustment: tuple[Adjustment, ...] = ()


@dataclass(frozen=True, slots=True)
class Link:
    """How a cause is evidence for a kind of finding; `strength` is None where it prevents it.

    `side`: only of a cause on that side.
    """

    finding: str
    strength: float | None
    why: str
    side: Side | None = None


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
    """A kind of cause: where it sits, how likely it is a priori, what it brings about.

    `needs`: what an engine must have for it; `no_cranking`: turning the engine over with it does harm.
    `ordinary`: what checks are for, and no fault to predict. `elsewhere`: not of the valves and their drive.
    """

    id: str
    label: str
    help: str
    advice: str
    place: PlaceKind
    prior: float
    factors: tuple[PriorFactor, ...]
    links: tuple[Link, ...]
    not_with_adjustment: tuple[str, ...] = ()
    only_with_adjustment: tuple[str, ...] = ()
    needs: tuple[Need, ...] = ()
    not_with_starting: tuple[Starting, ...] = ()
    caution: str | None = None
    no_cranking: bool = False
    ordinary: bool = False
    elsewhere: bool = False


@dataclass(frozen=True, slots=True)
class Knowledge:
    """All kinds of findings and causes, by id; consistent once made.

    Raises:
        KnowledgeFault: an entry is out of range, names what is not there, or is named by nothing.
    """

    findings: dict[str, FindingKind]
    causes: dict[str, CauseKind]

    def __post_init__(self) -> None:
        for finding in self.findings.values():
            if not 0.0 < finding.leak < 1.0:
                raise KnowledgeFault(
                    f"finding {finding.id}: leak is {finding.leak}, must be between 0 and 1",
                    "finding",
                    finding.id,
                )
            for other in finding.excludes:
                if finding.id not in getattr(self.findings.get(other), "excludes", ()):
                    raise KnowledgeFault(
                        f"finding {finding.id}: excludes {other}, which does not exclude it in turn",
                        "finding",
                        finding.id,
                    )
        for cause in self.causes.values():
            self._check_cause(cause)
        spoken_of = {link.finding for cause in self.causes.values() for link in cause.links}
        silent = sorted(set(self.findings) - spoken_of)
        if silent:
            raise KnowledgeFault(f"finding {silent[0]}: it is evidence for no cause", "finding", silent[0])

    def _check_cause(self, cause: CauseKind) -> None:
        if not 0.0 < cause.prior < 1.0:
            raise KnowledgeFault(
                f"cause {cause.id}: prior is {cause.prior}, must be between 0 and 1", "cause", cause.id
            )
        seen: set[str] = set()
        for link in cause.links:
            entry_error = None
            if link.finding not in self.findings:
                entry_error = "there is no finding of that id"
            elif link.finding in seen:
                entry_error = "linked twice"
            elif not link.why.strip():
                entry_error = "the reason (why) is missing"
            elif link.strength is not None and not 0.0 < link.strength < 1.0:
                entry_error = f"strength is {link.strength}, must be between 0 and 1"
            if entry_error is not None:
                where = f"cause {cause.id}, finding {link.finding}"
                raise KnowledgeFault(f"{where}: {entry_error}", "cause", cause.id, link.finding)
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
    `anywhere`: the probability of its kind of cause at any place.
    """

    candidate: Candidate
    probability: float
    anywhere: float
    speaks_for: tuple[Weight, ...]
    speaks_against: tuple[Weight, ...]
    together_decibans: float


@dataclass(frozen=True, slots=True)
class Diagnosis:
    """All candidates, most probable first, and the probability that none of them is present.

    `in_valve_train`: that any is present which is of the valves and their drive.
    """

    causes: tuple[RankedCause, ...]
    none_of_these: float
    in_valve_train: float


def _prior(cause: CauseKind, engine: Engine, place: Place) -> float:
    facts = {
        "fuel": engine.fuel,
        "duty": engine.duty,
        "adjustment": engine.adjustment,
        "side": side_at(engine, place),
    }
    odds = cause.prior / (1.0 - cause.prior)
    for factor in cause.factors:
        if facts[factor.of] in factor.values:
            odds *= factor.times
    return odds / (1.0 + odds)


def _can_have(engine: Engine, cause: CauseKind) -> bool:
    if engine.adjustment in cause.not_with_adjustment or engine.starting in cause.not_with_starting:
        return False
    if cause.only_with_adjustment and engine.adjustment not in cause.only_with_adjustment:
        return False
    has = {"decompression": bool(engine.decompression_lift_mm), "cylinders": len(engine.cylinders) > 1}
    return all(has[need] for need in cause.needs)


def candidates_for(engine: Engine, knowledge: Knowledge) -> tuple[Candidate, ...]:
    """Every cause that this engine can have, at every place where it can sit, with its prior."""
    return tuple(
        Candidate(cause, place, _prior(cause, engine, place))
        for cause in knowledge.causes.values()
        if _can_have(engine, cause)
        for place in places_of(engine, cause.place)
    )


def finding_probability(leak: float, links: Iterable[Link], constants: Constants = DEFAULT) -> float:
    """P(finding | the causes whose links are given): noisy-OR with a leak, damped by prevention.

    >>> why = "drawn by hand"
    >>> round(finding_probability(0.05, [Link("f", 0.8, why), Link("f", None, why)]), 3)
    0.243
    """
    absent, damping = 1.0 - leak, 1.0
    for link in links:
        if link.strength is None:
            damping *= constants.prevented
        else:
            absent *= 1.0 - link.strength
    return (1.0 - absent) * damping


def temper(log_weights: Sequence[float], constants: Constants = DEFAULT) -> float:
    """Weight of several witnesses to the same facts, nats.

    The sum times 1 / (1 + 0.5 (n - 1)), never below the strongest single one; the evidence for and what
    is evidence against are weighed apart.

    >>> round(temper([1.0, 1.0, 1.0]), 3), temper([2.0, 0.1]), temper([-2.0])
    (1.5, 2.0, -2.0)
    """
    total = 0.0
    for sign in (1.0, -1.0):
        one_way = [weight * sign for weight in log_weights if weight * sign > constants.uninformative_nats]
        if one_way:
            total += sign * max(
                *one_way, sum(one_way) / (1.0 + constants.same_facts_share * (len(one_way) - 1))
            )
    return total
