"""How well causes are named: cases drawn from the network, and engines with and without sinking seats."""

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from benchmarks.calibration import simulated
from pronostico.analysis.developing_faults import developing
from pronostico.core.causes.model import Candidate, Evidence, Knowledge, candidates_for
from pronostico.core.causes.network import Network
from pronostico.core.causes.next_tests import next_tests
from pronostico.core.causes.places import Place
from pronostico.core.engine import Engine
from pronostico.demo.machine import engine_of
from pronostico.knowledge import load_knowledge, load_tests
from pronostico.record.conversion import engine_from, model_of_visit
from pronostico.record.engine import EngineModel
from pronostico.record.models import FORMAT, Record

CASES, ENGINES = 200, 200
# None that any figure of the knowledge was chosen on.
_FIRST_SEED = 110_000
_CERTAIN, _MOST_TESTS = 0.9, 12
_ACCESS_MINUTES = 30.0


@dataclass(frozen=True, slots=True)
class Needed:
    """Tests and minutes until the true cause, or any, is nine tenths certain; means where of many cases."""

    tests: float
    minutes: float


@dataclass(frozen=True, slots=True)
class Named:
    """Shares of cases: the right cause first, among three, first by counting; Brier score; tests needed."""

    first: float
    among_three: float
    counted_first: float
    brier: float
    by_advice: Needed
    in_order: Needed


class _Case:
    """One case drawn from the network: a true cause, and whatever is looked for answers as it would."""

    def __init__(self, engine: Engine, knowledge: Knowledge, rng: np.random.Generator) -> None:
        self.engine, self.knowledge, self.rng = engine, knowledge, rng
        candidates = candidates_for(engine, knowledge)
        prior = np.array([one.prior for one in candidates])
        self.truth: Candidate = candidates[int(rng.choice(len(candidates), p=prior / prior.sum()))]
        self.known: dict[tuple[str, Place], Evidence] = {}

    def look(self, wanted: Sequence[tuple[str, Place]]) -> None:
        """Look for findings that were not looked for yet."""
        fresh = [one for one in wanted if one not in self.known]
        keep, damp, _ = Network(self.engine, self.knowledge, []).reach(fresh)
        candidates = candidates_for(self.engine, self.knowledge)
        at = next(
            c
            for c, one in enumerate(candidates)
            if (one.kind, one.place) == (self.truth.kind, self.truth.place)
        )
        for e, (finding, place) in enumerate(fresh):
            leak = self.knowledge.findings[finding].leak
            p = (1.0 - (1.0 - leak) * keep[at, e]) * damp[at, e]
            self.known[finding, place] = Evidence(finding, place, float(self.rng.random() < p))

    def network(self) -> Network:
        """All that is known so far."""
        return Network(self.engine, self.knowledge, list(self.known.values()))

    def is_true(self, candidate: Candidate) -> bool:
        """Whether a candidate is the true cause at its true place."""
        return (candidate.kind.id, candidate.place) == (self.truth.kind.id, self.truth.place)


def _wanted(engine: Engine, knowledge: Knowledge, group: str) -> list[tuple[str, Place]]:
    places = [Place()] if group == "complaint" else [Place(valve=valve.id) for valve in engine.valves]
    return [(one.id, place) for one in knowledge.findings.values() if one.group == group for place in places]


def _counted(network: Network) -> Candidate:
    """The cause with the most findings that match: what a table of symptoms would say."""
    present = network.presence > 0.5
    return network.candidates[int((network.linked & (network.keep < 1.0))[:, present].sum(axis=1).argmax())]


def _tests_needed(case: _Case, *, by_advice: bool) -> Needed:
    """What it takes with the valve cover on at first: it comes off and goes on again as tests need it."""
    order = [one.id for one in load_tests()]
    minutes, cover_is_off = 0.0, False
    for count in range(_MOST_TESTS):
        network = case.network()
        states = network.weigh()
        if states.marginals(len(network.candidates)).max() >= _CERTAIN:
            return Needed(count, minutes)
        tests = list(
            next_tests(
                network, states, load_tests(), cover_is_off=cover_is_off, access_minutes=_ACCESS_MINUTES
            )
        )
        if not tests:
            return Needed(_MOST_TESTS, minutes)
        if not by_advice:
            tests.sort(key=lambda one: order.index(one.test.id))
        made = tests[0]
        minutes += made.minutes
        cover_is_off = cover_is_off if made.test.cover is None else made.test.cover == "off"
        places = {outcome.place for outcome in made.outcomes}
        case.look([(finding, place) for finding in made.test.shows for place in places])
    return Needed(_MOST_TESTS, minutes)


def _mean(needed: Sequence[Needed]) -> Needed:
    return Needed(
        float(np.mean([one.tests for one in needed])), float(np.mean([one.minutes for one in needed]))
    )


def named() -> Named:
    """Cases on an eight-valve engine, its complaints asked about and its clearances read."""
    engine = engine_from(engine_of("R4-26G", "bench", "Bench"))
    knowledge = load_knowledge()
    first, three, counted, brier, advised, ordered = [], [], [], [], [], []
    for number in range(CASES):
        # Each case with its own chance, so that another way of asking is another way through the same cases.
        case = _Case(engine, knowledge, np.random.default_rng([11, number]))
        case.look(_wanted(engine, knowledge, "complaint"))
        if number % 4 == 0:
            fresh = dict(case.known)
            for ways, by_advice in ((advised, True), (ordered, False)):
                case.known, case.rng = dict(fresh), np.random.default_rng([12, number])
                ways.append(_tests_needed(case, by_advice=by_advice))
            case.known, case.rng = fresh, np.random.default_rng([13, number])
        case.look(_wanted(engine, knowledge, "clearance"))
        case.look(_wanted(engine, knowledge, "looking-in"))
        network = case.network()
        marginals = network.weigh().marginals(len(network.candidates))
        rank = [network.candidates[c] for c in np.argsort(-marginals)]
        first.append(case.is_true(rank[0]))
        three.append(any(case.is_true(one) for one in rank[:3]))
        counted.append(case.is_true(_counted(network)))
        truth = np.array([case.is_true(one) for one in network.candidates])
        brier.append(float(((marginals - truth) ** 2).sum()))
    return Named(
        *(float(np.mean(one)) for one in (first, three, counted, brier)), _mean(advised), _mean(ordered)
    )


def _record(engine: EngineModel, seed: int, exhaust_drift: float, visits: int) -> Record:
    made = simulated(seed, exhaust_drift=exhaust_drift)
    seen = [model_of_visit(visit) for visit in made.visits[:visits]]
    return Record(format=FORMAT, version=1, engine=engine, gauge_set=None, visits=seen, cases=[])


@dataclass(frozen=True, slots=True)
class Predicted:
    """Shares of engines: sound ones named a fault, and at over one in two; sinking ones by visit three."""

    named_sound: float
    likely_sound: float
    called_sinking: float


def predicted() -> Predicted:
    """Engines without a fault after five visits, and with seats sinking a quarter of the spec an interval."""
    engine = engine_of("R4-26G", "bench", "Bench")
    named_sound, likely, called = [], [], []
    for seed in range(_FIRST_SEED, _FIRST_SEED + ENGINES):
        sound = developing(_record(engine, seed, 0.0, 5)).causes
        named_sound.append(bool(sound))
        likely.append(any(one.probability > 0.5 for one in sound))
        sinking = developing(_record(engine, seed, -0.0125, 3)).causes
        called.append(any(one.cause == "seat-recession" for one in sinking))
    return Predicted(float(np.mean(named_sound)), float(np.mean(likely)), float(np.mean(called)))


if __name__ == "__main__":
    print(predicted())
    print(named())
