"""What closed cases teach: the workshop's own share in how likely causes are and what they bring about.

A closed case counts for one. A priori the spread of causes is worth 20 cases (Dirichlet) and each strength
10 (beta), both about what the knowledge states; F-20 in docs/formulas.md. Conjugate priors as in textbooks of
Bayesian statistics; a finding is put down to its cause as expectation-maximisation does for a noisy-OR.
"""

from collections import defaultdict
from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass, field, replace

from pronostico.core.causes.model import CauseKind, Evidence, Knowledge, Link, candidates_for
from pronostico.core.causes.places import Place, includes, side_at
from pronostico.core.constants import DEFAULT, Constants
from pronostico.core.engine import Engine

_LEAST_PRIOR, _MOST_PRIOR = 1e-5, 0.9
_LEAST_STRENGTH, _MOST_STRENGTH = 0.01, 0.99


@dataclass(frozen=True, slots=True)
class Shown:
    """A finding that was looked for where a confirmed cause sat: how surely it was there, 0 to 1."""

    cause: str
    finding: str
    presence: float


@dataclass(frozen=True, slots=True)
class Lesson:
    """What one closed case teaches.

    `expected`: the share of each kind of cause a priori, on that engine; they sum to less than one, for it
    may be none of them. `found`: the share of each that was confirmed; empty: none of those that are known.
    """

    expected: Mapping[str, float]
    found: Mapping[str, float]
    shown: tuple[Shown, ...] = ()


@dataclass(frozen=True, slots=True)
class OwnShare:
    """How much of a figure is the workshop's own, 0 to 1, and from how many cases."""

    share: float
    cases: float


@dataclass(frozen=True, slots=True)
class Learned:
    """Knowledge with the lessons in it; `spread`: of all priors; `strengths` by cause and finding."""

    knowledge: Knowledge
    spread: OwnShare
    found: Mapping[str, float] = field(default_factory=dict)
    strengths: Mapping[tuple[str, str], OwnShare] = field(default_factory=dict)


def nothing_learned(knowledge: Knowledge) -> Learned:
    """Knowledge as it is stated."""
    return Learned(knowledge, OwnShare(0.0, 0.0))


def _expected(engine: Engine, knowledge: Knowledge) -> dict[str, float]:
    """The share of each kind of cause where there is one or none, before anything was found."""
    odds: dict[str, float] = defaultdict(float)
    for candidate in candidates_for(engine, knowledge):
        odds[candidate.kind.id] += candidate.prior / (1.0 - candidate.prior)
    total = 1.0 + sum(odds.values())
    return {cause: one / total for cause, one in odds.items()}


def _shown(engine: Engine, kind: CauseKind, place: Place, evidence: Iterable[Evidence]) -> Iterable[Shown]:
    """Each finding that a cause is evidence for, where it was looked for within the cause's place."""
    seen: dict[str, list[float]] = defaultdict(list)
    side = side_at(engine, place)
    links = {link.finding for link in kind.links if link.strength is not None and link.side in (None, side)}
    for one in evidence:
        if one.finding in links and includes(engine, place, one.place):
            seen[one.finding].append(one.presence)
    # Several valves of one place are one case.
    return (Shown(kind.id, finding, sum(all_) / len(all_)) for finding, all_ in seen.items())


def lesson_of(
    engine: Engine,
    knowledge: Knowledge,
    evidence: Sequence[Evidence],
    confirmed: Sequence[tuple[str, Place]],
) -> Lesson:
    """What a case teaches that was closed with these causes at these places; unknown ones teach nothing."""
    known = [(knowledge.causes[cause], place) for cause, place in confirmed if cause in knowledge.causes]
    found: dict[str, float] = defaultdict(float)
    for kind, _ in known:
        found[kind.id] += 1.0 / len(confirmed)
    shown = [one for kind, place in known for one in _shown(engine, kind, place, evidence)]
    return Lesson(_expected(engine, knowledge), dict(found), tuple(shown))


def _odds_times(prior: float, times: float) -> float:
    odds = prior / (1.0 - prior) * times
    return min(max(odds / (1.0 + odds), _LEAST_PRIOR), _MOST_PRIOR)


def _strength(stated: float, leak: float, presences: Sequence[float], constants: Constants) -> float:
    """The mean of the beta after the cases: of each finding the part that is put down to the cause."""
    caused = sum(presence * stated / (1.0 - (1.0 - leak) * (1.0 - stated)) for presence in presences)
    worth = constants.prior_strength_cases
    mean = (worth * stated + caused) / (worth + len(presences))
    return min(max(mean, _LEAST_STRENGTH), _MOST_STRENGTH)


def learned(knowledge: Knowledge, lessons: Sequence[Lesson], constants: Constants = DEFAULT) -> Learned:
    """The knowledge as the workshop's closed cases make it; causes that are no longer known teach nothing."""
    if not lessons:
        return nothing_learned(knowledge)
    count, worth, strength_worth = len(lessons), constants.prior_cases, constants.prior_strength_cases
    expected: dict[str, float] = defaultdict(float)
    found: dict[str, float] = defaultdict(float)
    presences: dict[tuple[str, str], list[float]] = defaultdict(list)
    for lesson in lessons:
        for cause, share in lesson.expected.items():
            expected[cause] += share
        for cause, share in lesson.found.items():
            found[cause] += share
        for one in lesson.shown:
            presences[one.cause, one.finding].append(one.presence)
    causes = {}
    for cause, kind in knowledge.causes.items():
        links = tuple(
            _link(kind, link, knowledge.findings[link.finding].leak, presences, constants)
            for link in kind.links
        )
        prior = kind.prior
        if expected[cause] > _LEAST_PRIOR:
            # (20 w + n) / (20 w + E) with w the mean share a priori and E what all cases together expected.
            mean = expected[cause] / count
            times = (worth * mean + found[cause]) / ((worth + count) * mean)
            prior = _odds_times(prior, times)
        causes[cause] = replace(kind, prior=prior, links=links)
    strengths = {
        key: OwnShare(len(seen) / (strength_worth + len(seen)), float(len(seen)))
        for key, seen in presences.items()
    }
    spread = OwnShare(count / (worth + count), float(count))
    return Learned(Knowledge(knowledge.findings, causes), spread, dict(found), strengths)


def _link(
    kind: CauseKind,
    link: Link,
    leak: float,
    presences: Mapping[tuple[str, str], list[float]],
    constants: Constants,
) -> Link:
    seen = presences.get((kind.id, link.finding))
    if link.strength is None or not seen:
        return link
    return replace(link, strength=_strength(link.strength, leak, seen, constants))
