"""Simulated engines whose clearances move in ways that the drift model does not assume.

Each kind of truth states how every valve moves, how it is measured and what is set; the forecast of each
visit from the second on is compared with what was really so at the next one. Seeds for tuning and seeds for
the result are apart.
"""

from collections.abc import Callable
from dataclasses import dataclass, field, replace
from datetime import date, timedelta

import numpy as np

from pronostico.core.constants import DEFAULT
from pronostico.core.engine import SIDES, Engine, Spec, Valve
from pronostico.core.simulation.history import Technician
from pronostico.core.thermal import correction_at
from pronostico.core.visits import Reading, Setting, Visit, Work
from pronostico.demo.machine import BENCH_SET

VISITS = 7
RESULT_SEEDS = 500_000  # what is published is computed from seeds that nothing was tuned on
_INTERVAL_H = 250.0
_NOTED_C = 20.0
_FIRST_DAY = date(2015, 1, 1)
_TARGET_MM = {"intake": 0.175, "exhaust": 0.28}
_SET_SD_MM = 0.008
_FINE = (*BENCH_SET.blades_mm, 0.50, 0.60)
_FASTEST_MM = 0.12  # an interval: what runs away is found out and stopped before it goes faster
_COARSE = (0.10, 0.15, 0.20, 0.25, 0.30, 0.40)

Path = Callable[[float], float]
"""How far a clearance has moved by itself after so many check intervals of running, mm."""


@dataclass(slots=True)
class Truth:
    """What is so of one engine; times in check intervals, lengths in mm.

    `times`: of the visits. `paths`: of each valve. `passing`: what is added at one visit only, by visit and
    valve. `warmer_k`: how much warmer than noted, by visit. `felt_tight_mm`: by how much the hand feels a
    blade thicker than it is. `set_back`: valves are set once they are out of spec on the tight side; else at
    head work alone. `scored`: the valves whose forecast counts.
    """

    valves: tuple[Valve, ...]
    times: list[float]
    paths: dict[str, Path]
    scored: tuple[str, ...]
    passing: dict[tuple[int, str], float] = field(default_factory=dict)
    warmer_k: dict[int, float] = field(default_factory=dict)
    head_work: int | None = None
    felt_tight_mm: float = 0.0
    blades_mm: tuple[float, ...] = _FINE
    set_back: bool = False


@dataclass(frozen=True, slots=True)
class Simulated:
    """An engine, its visits as noted, and the true clearance of every valve as found at each."""

    engine: Engine
    visits: tuple[Visit, ...]
    found_mm: tuple[dict[str, float], ...]
    scored: tuple[str, ...]
    sides: dict[str, str]


def _walk(rng: np.random.Generator, drift: float, wander: float = 0.002) -> Path:
    """A steady drift, mm an interval, that wanders a little."""
    rates = drift + np.cumsum(rng.normal(0.0, wander, 40))
    at = np.concatenate([[0.0], np.cumsum(rates)])
    return lambda x: float(np.interp(x, np.arange(len(at)), at))


def _and(first: Path, second: Path) -> Path:
    return lambda x: first(x) + second(x)


def _closing(amount: float, decay: float, since: float = 0.0) -> Path:
    """Bedding in: closes by an amount at a rate that decays over `decay` intervals."""
    return lambda x: -amount * (1.0 - float(np.exp(-max(0.0, x - since) / decay)))


def _running_away(rate: float, growth: float, since: float) -> Path:
    """From a time on it moves by `rate` an interval, growing exponentially up to the fastest."""
    growing = float(np.log(_FASTEST_MM / abs(rate))) / growth

    def path(x: float) -> float:
        run = max(0.0, x - since)
        fast = max(0.0, run - growing) * np.sign(rate) * _FASTEST_MM
        return rate * float(np.expm1(growth * min(run, growing))) / growth + float(fast)

    return path


def _healthy(rng: np.random.Generator) -> Truth:
    """An engine that hardly wears."""
    cylinders = int(rng.choice([1, 2, 4]))
    valves = tuple(
        Valve(f"{n}{s}", n, "intake" if s == "I" else "exhaust")
        for n in range(1, cylinders + 1)
        for s in "IE"
    )
    side = {"intake": rng.normal(0.0, 0.002), "exhaust": rng.normal(-0.002, 0.004)}
    paths = {one.id: _walk(rng, rng.normal(side[one.side], 0.003)) for one in valves}
    # A fresh record of an engine that has run for long: nothing of it beds in.
    first = float(rng.uniform(3.0, 12.0))
    gaps = rng.uniform(0.7, 1.3, VISITS)
    return Truth(valves, [first, *(first + np.cumsum(gaps))], paths, tuple(paths))


def _several(rng: np.random.Generator) -> Truth:
    truth = _healthy(rng)
    while len(truth.valves) < 4:
        truth = _healthy(rng)
    return truth


def _exhausts(truth: Truth) -> list[str]:
    return [one.id for one in truth.valves if one.side == "exhaust"]


def _recession(rng: np.random.Generator) -> Truth:
    truth = _several(rng)
    drift = -rng.uniform(0.012, 0.03)
    for name in _exhausts(truth):
        truth.paths[name] = _walk(rng, rng.normal(drift, 0.2 * abs(drift)))
    return truth


def _recession_set_back(rng: np.random.Generator) -> Truth:
    return replace(_recession(rng), set_back=True)


def _runaway_side(rng: np.random.Generator) -> Truth:
    truth = _several(rng)
    growth = rng.uniform(0.25, 0.6)
    since = truth.times[0] + rng.uniform(0.0, 2.0)
    for name in _exhausts(truth):
        rate = -rng.uniform(0.006, 0.012)
        truth.paths[name] = _and(truth.paths[name], _running_away(rate, growth, since))
    return replace(truth, set_back=bool(rng.random() < 0.5))


def _one_valve(rng: np.random.Generator, truth: Truth, path: Path) -> Truth:
    name = str(rng.choice(_exhausts(truth)))
    truth.paths[name] = _and(truth.paths[name], path)
    return replace(truth, scored=(name,), set_back=bool(rng.random() < 0.7))


def _runaway_valve(rng: np.random.Generator) -> Truth:
    truth = _several(rng)
    since = truth.times[0] + rng.uniform(0.5, 3.0)
    return _one_valve(rng, truth, _running_away(-rng.uniform(0.01, 0.02), rng.uniform(0.4, 0.7), since))


def _wearing_lobe(rng: np.random.Generator) -> Truth:
    truth = _several(rng)
    since = truth.times[0] + rng.uniform(0.0, 2.0)
    return _one_valve(rng, truth, _running_away(rng.uniform(0.012, 0.025), rng.uniform(0.1, 0.35), since))


def _bedding_in(rng: np.random.Generator) -> Truth:
    truth = _several(rng)
    amount, decay = rng.uniform(0.03, 0.08), rng.uniform(0.4, 1.5)
    for name, path in truth.paths.items():
        truth.paths[name] = _and(path, _closing(amount * rng.normal(1.0, 0.15), decay))
    first = float(rng.uniform(0.02, 0.3))
    return replace(truth, times=[first, *(first + np.cumsum(rng.uniform(0.6, 1.2, VISITS)))])


def _head_work(rng: np.random.Generator) -> Truth:
    truth = _several(rng)
    at = int(rng.integers(1, 3))
    amount, decay = rng.uniform(0.03, 0.08), rng.uniform(0.3, 1.2)
    for name, path in truth.paths.items():
        settling = _closing(amount * rng.normal(1.0, 0.2), decay, since=truth.times[at])
        truth.paths[name] = _and(path, settling)
    return replace(truth, head_work=at)


def _jump(rng: np.random.Generator) -> Truth:
    truth = _several(rng)
    at = truth.times[0] + rng.uniform(1.0, 5.0)
    by = rng.uniform(0.06, 0.15) * (-1.0 if rng.random() < 0.7 else 1.0)
    return replace(_one_valve(rng, truth, lambda x: by if x >= at else 0.0), scored=truth.scored)


def _carbon(rng: np.random.Generator) -> Truth:
    truth = _several(rng)
    for visit in range(VISITS + 1):
        for name in _exhausts(truth):
            if rng.random() < 0.12:
                truth.passing[visit, name] = float(rng.uniform(0.03, 0.12))
    return replace(truth, scored=tuple(_exhausts(truth)))


def _warm_visit(rng: np.random.Generator) -> Truth:
    return replace(_several(rng), warmer_k={int(rng.integers(1, VISITS)): float(rng.uniform(20.0, 45.0))})


def _feels_tight(rng: np.random.Generator) -> Truth:
    return replace(_healthy(rng), felt_tight_mm=0.008)


def _coarse_set(rng: np.random.Generator) -> Truth:
    return replace(_recession(rng), blades_mm=_COARSE)


def _sparse(rng: np.random.Generator) -> Truth:
    truth = _recession(rng)
    return replace(truth, times=[3.0, *(3.0 + np.cumsum(rng.uniform(1.5, 3.0, VISITS)))], set_back=True)


KINDS: dict[str, Callable[[np.random.Generator], Truth]] = {
    "healthy": _healthy,
    "recession": _recession,
    "recession, set back": _recession_set_back,
    "recession, sparse visits": _sparse,
    "recession, coarse set": _coarse_set,
    "a side runs away": _runaway_side,
    "a valve runs away": _runaway_valve,
    "a lobe wears": _wearing_lobe,
    "bedding in": _bedding_in,
    "after head work": _head_work,
    "a jump": _jump,
    "carbon comes and goes": _carbon,
    "one warm visit": _warm_visit,
    "feels tight": _feels_tight,
}


class _Shop:
    """An engine measured and set, visit by visit."""

    def __init__(self, truth: Truth, rng: np.random.Generator) -> None:
        self.truth, self.rng = truth, rng
        self.hand = Technician(truth.blades_mm, rng)
        self.engine = Engine(
            "e",
            "h",
            _INTERVAL_H,
            "screw-rocker",
            truth.valves,
            Spec(0.15, 0.20),
            Spec(0.25, 0.30),
            reference_temperature_c=_NOTED_C,
            head_material="aluminium",
            valve_length_mm=100.0,
        )
        self.start = {one.id: _TARGET_MM[one.side] + rng.normal(0.0, 0.012) for one in truth.valves}

    def _clearance_mm(self, valve: str, visit: int) -> float:
        moved = self.truth.paths[valve](self.truth.times[visit]) - self.truth.paths[valve](
            self.truth.times[0]
        )
        return self.start[valve] + moved + self.truth.passing.get((visit, valve), 0.0)

    def visit(self, number: int) -> tuple[Visit, dict[str, float]]:
        """The visit as noted, and what was really so as it began."""
        truth, rng = self.truth, self.rng
        work: Work = "head-work" if truth.head_work == number else "check-and-set"
        common = rng.normal(0.0, DEFAULT.visit_shift_sd_mm) - truth.felt_tight_mm
        heat = {
            side: correction_at(
                self.engine, side, _NOTED_C + truth.warmer_k.get(number, 0.0), DEFAULT
            ).correction_mm
            for side in SIDES
        }
        found: dict[str, float] = {}
        readings: list[Reading] = []
        settings: list[Setting] = []
        for valve in truth.valves:
            spec = self.engine.spec_of(valve, _FIRST_DAY)
            assert spec is not None

            def read(clearance: float, phase: str, valve: Valve = valve, spec: Spec = spec) -> Reading:
                gap = clearance + common + heat[valve.side] + rng.normal(0.0, DEFAULT.reading_sd_mm)
                return Reading(valve.id, phase, self.hand.measure(gap, spec, "straight"))  # type: ignore[arg-type]

            clearance = found[valve.id] = self._clearance_mm(valve.id, number)
            readings.append(read(clearance, "found"))
            if work == "head-work" or (truth.set_back and clearance < spec.min_mm):
                target = _TARGET_MM[valve.side]
                left = target + rng.normal(0.0, _SET_SD_MM)
                self.start[valve.id] += left - clearance
                settings.append(Setting(valve.id, target_mm=target))
                readings.append(read(left, "left"))
        return (
            Visit(
                f"v{number}",
                _FIRST_DAY + timedelta(days=200 * number),
                _INTERVAL_H * truth.times[number],
                _NOTED_C,
                work,
                tuple(readings),
                tuple(settings),
            ),
            found,
        )


def _simulated(truth: Truth, rng: np.random.Generator) -> Simulated:
    shop = _Shop(truth, rng)
    seen = [shop.visit(number) for number in range(VISITS + 1)]
    return Simulated(
        shop.engine,
        tuple(visit for visit, _ in seen),
        tuple(found for _, found in seen),
        truth.scored,
        {one.id: one.side for one in truth.valves},
    )


def engine_with_drifts(rng: np.random.Generator, side_drifts: dict[str, float]) -> Simulated:
    """An engine of four cylinders whose sides drift so much an interval, its valves a little apart."""
    truth = _healthy(rng)
    while len(truth.valves) != 8:
        truth = _healthy(rng)
    for valve in truth.valves:
        truth.paths[valve.id] = _walk(rng, rng.normal(side_drifts[valve.side], 0.003))
    return _simulated(replace(truth, set_back=True), rng)


def simulated(kind: str, number: int, *, result: bool = False) -> Simulated:
    """An engine of a kind.

    Args:
        number: which one; the same number gives the same engine.
        result: of the seeds for the result, and not of those for tuning.
    """
    seed = 1_000 * list(KINDS).index(kind) + number + (RESULT_SEEDS if result else 0)
    rng = np.random.default_rng(seed)
    return _simulated(KINDS[kind](rng), rng)
