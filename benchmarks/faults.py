"""Causes named from simulated engines: a true fault, what it does to clearances, what its owner would say.

Nothing here is drawn from the network that names the causes: the clearances come from the simulator, and the
complaints follow from how the engine then stands (no clearance: it misses; much of it: it ticks). A valve
without any clearance is held open, whatever has closed it: that is true beside the fault. The seeds are none
that any figure of the knowledge was chosen on.
"""

import itertools
from collections.abc import Iterator
from dataclasses import dataclass, field
from datetime import date, timedelta

import numpy as np

from pronostico.analysis.evidence import evidence_of
from pronostico.core.causes.network import Network
from pronostico.core.causes.places import Place
from pronostico.core.engine import Engine
from pronostico.core.simulation.history import PlannedVisit, ValveTruth, simulate
from pronostico.demo.machine import BENCH_SET, engine_of
from pronostico.knowledge import load_knowledge
from pronostico.record.conversion import engine_from, model_of_visit
from pronostico.record.models import FORMAT, CaseModel, Record
from pronostico.record.visit import FindingModel

EACH, VISITS, FIRST_SEED = 25, 5, 50_000
_PATTERN = "R4-26G"
_HELD_OPEN_MM = 0.02  # cold: warm it has none
_EDGES = (0.0, 0.02, 0.1, 0.3, 0.5, 0.7, 0.9, 1.0001)


_True = tuple[str, Place]


@dataclass(slots=True)
class Tally:
    """Ranks of the first true cause (0 first), and every probability given with whether it was so."""

    ranks: dict[str, list[int]] = field(default_factory=dict)
    given: list[float] = field(default_factory=list)
    true: list[bool] = field(default_factory=list)

    def share(self, among: int) -> float:
        """Share of cases in which the true cause stood among the first so many."""
        return float(np.mean([rank < among for ranks in self.ranks.values() for rank in ranks]))

    @property
    def brier(self) -> float:
        """Squared error of all probabilities of a case together, on average."""
        cases = sum(len(ranks) for ranks in self.ranks.values())
        return float(((np.array(self.given) - np.array(self.true)) ** 2).sum() / cases)

    def reliability(self) -> Iterator[tuple[str, int, float, float]]:
        """By probability given: the band, how many, their mean, and how many in truth were so."""
        given, true = np.array(self.given), np.array(self.true)
        for low, high in itertools.pairwise(_EDGES):
            here = (given >= low) & (given < high)
            if here.any():
                band = f"{low:.0%} to {min(high, 1.0):.0%}"
                yield band, int(here.sum()), float(given[here].mean()), float(true[here].mean())


@dataclass(frozen=True, slots=True)
class _Fault:
    """A cause at a place, the truths that make it, and findings beyond those that follow from clearances."""

    cause: str
    place: Place
    truths: tuple[ValveTruth, ...]
    seen: tuple[tuple[str, Place, float], ...] = ()
    sudden: bool = False
    warmer_k: float = 0.0


def _sound(engine: Engine, rng: np.random.Generator) -> dict[str, ValveTruth]:
    start = {"intake": 0.175, "exhaust": 0.275}
    return {
        one.id: ValveTruth(one.id, float(rng.normal(start[one.side], 0.008)), float(rng.normal(0.0, 0.002)))
        for one in engine.valves
    }


def _faults(engine: Engine, rng: np.random.Generator) -> dict[str, _Fault]:
    """Every fault once, at a place drawn anew."""
    exhausts = [one.id for one in engine.valves if one.side == "exhaust"]
    last = 250.0 * (VISITS - 1)

    def one_valve(cause: str, truth: ValveTruth, *seen: tuple[str, float], sudden: bool = False) -> _Fault:
        others = {**_sound(engine, rng), truth.valve: truth}
        place = Place(valve=truth.valve)
        looked = tuple((finding, place, p) for finding, p in seen)
        return _Fault(cause, place, tuple(others.values()), looked, sudden)

    sinking = _sound(engine, rng)
    for name in exhausts:
        sinking[name] = ValveTruth(name, 0.29, float(rng.normal(-0.03, 0.006)))
    wearing = {
        name: ValveTruth(name, one.start_mm, float(rng.normal(0.018, 0.004)))
        for name, one in _sound(engine, rng).items()
    }
    any_valve = [str(rng.choice([one.id for one in engine.valves])) for _ in range(2)]
    hot = str(rng.choice(exhausts))
    start = {one.id: 0.175 if one.side == "intake" else 0.275 for one in engine.valves}
    jumps = float(rng.uniform(0.15, 0.35))
    return {
        "seats sinking": _Fault("seat-recession", Place(side="exhaust"), tuple(sinking.values())),
        "locknut let go": one_valve(
            "adjuster-backed-off",
            ValveTruth(any_valve[0], start[any_valve[0]], 0.0, jump_usage=last - 60.0, jump_mm=jumps),
            ("thread-run-down", 0.8),
            ("locknut-loose", 0.8),
            sudden=True,
        ),
        "valve stretching": one_valve(
            "valve-stretch", ValveTruth(hot, 0.28, -0.02, drift_growth=0.7), ("waggle-dead", 0.4)
        ),
        "lobe failing": one_valve(
            "lobe-worn",
            ValveTruth(any_valve[1], start[any_valve[1]], 0.02, drift_growth=0.5),
            ("lobe-scored", 0.95),
            ("iron-filings", 0.5),
        ),
        "ordinary wear": _Fault("worn-train", Place(), tuple(wearing.values())),
        "checked warm": _Fault(
            "checked-wrong", Place(), tuple(_sound(engine, rng).values()), warmer_k=float(rng.uniform(45, 65))
        ),
    }


def _complaints(
    found: dict[str, float], fault: _Fault, engine: Engine, rng: np.random.Generator
) -> list[str]:
    """What the owner says, from how the clearances stand."""
    least = min(found.values())
    over = max(
        found[one.id] - spec.max_mm
        for one in engine.valves
        if (spec := engine.spec_of(one, date(2020, 1, 1))) is not None
    )
    if fault.warmer_k:
        return []
    says = {
        "cold-miss": 0.8 * (least < _HELD_OPEN_MM),
        "stall-at-idle": 0.55 * (least < _HELD_OPEN_MM),
        "tick": 0.85 * (over > 0.05),
    }
    return [finding for finding, p in says.items() if rng.random() < p]


def _record(fault: _Fault, engine_id: str, rng: np.random.Generator) -> tuple[Record, set[_True]]:
    """A record, and all that is true of it at its last visit."""
    model = engine_of(_PATTERN, engine_id, "Bench")
    engine = engine_from(model)
    plans = tuple(
        PlannedVisit(
            f"v{k}",
            date(2020, 1, 1) + timedelta(days=200 * k),
            250.0 * k,
            20.0,
            really_warmer_k=fault.warmer_k if k == VISITS - 1 else 0.0,
        )
        for k in range(VISITS)
    )
    made = simulate(engine, fault.truths, plans, tuple(BENCH_SET.blades_mm), rng=rng)
    found = {one.valve: one.found_mm for one in made.truth if one.visit == f"v{VISITS - 1}"}
    noted = [
        FindingModel(id=finding, state="present", onset="sudden" if fault.sudden else None)
        for finding in _complaints(found, fault, engine, rng)
    ]
    if not any(one.id == "tick" for one in noted):
        noted.append(FindingModel(id="tick", state="absent"))
    for finding, place, p in fault.seen:
        valve = engine.valve(place.valve or "")
        state = "present" if rng.random() < p else "absent"
        noted.append(FindingModel(id=finding, state=state, cylinder=valve.cylinder, side=valve.side))
    visits = [model_of_visit(visit) for visit in made.visits]
    case = CaseModel(id="c1", opened=visits[-1].date, visit=visits[-1].id, findings=noted)
    record = Record(format=FORMAT, version=1, engine=model, gauge_set=BENCH_SET, visits=visits, cases=[case])
    held = {("held-open", Place(valve=valve)) for valve, gap in found.items() if gap <= _HELD_OPEN_MM}
    return record, {(fault.cause, fault.place), *held}


def study() -> Tally:
    """All faults, each so often."""
    tally, knowledge = Tally(), load_knowledge()
    engine = engine_from(engine_of(_PATTERN, "bench", "Bench"))
    for number in range(EACH):
        rng = np.random.default_rng(FIRST_SEED + number)
        for name, fault in _faults(engine, rng).items():
            record, so = _record(fault, "bench", rng)
            network = Network(engine, knowledge, evidence_of(record, record.cases[0]))
            marginals = network.weigh().marginals(len(network.candidates))
            true = np.array([(one.kind.id, one.place) in so for one in network.candidates])
            tally.ranks.setdefault(name, []).append(int((marginals > marginals[true].max()).sum()))
            tally.given.extend(map(float, marginals))
            tally.true.extend(map(bool, true))
    return tally


if __name__ == "__main__":
    found = study()
    for what, ranks in found.ranks.items():
        first, three = (np.mean([rank < n for rank in ranks]) for n in (1, 3))
        print(f"{what:20} first {first:.0%}, among three {three:.0%}")
    print(f"all: first {found.share(1):.0%}, among three {found.share(3):.0%}, Brier {found.brier:.2f}")
    for row in found.reliability():
        print(*row)
