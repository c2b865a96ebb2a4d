"""A made-up engine with a known truth, and a technician who measures it with blades.

For demonstration and for trying the computation against what is really so. All chance comes from the
generator that is handed in: the same truth, plan and seed give the same visits.
"""

from dataclasses import dataclass, field
from datetime import date

import numpy as np

from pronostico.core.constants import DEFAULT, Constants
from pronostico.core.engine import Engine, Spec, Valve
from pronostico.core.errors import ImpossibleValue
from pronostico.core.gauge.feel import feel_sd_mm
from pronostico.core.thermal import correction_at
from pronostico.core.visits import Access, Felt, Phase, Reading, Setting, Try, Visit, Work


@dataclass(frozen=True, slots=True)
class ValveTruth:
    """What really happens to one valve.

    The drift, mm per check interval (closing is negative), grows by `drift_growth` of itself each
    interval. At `jump_usage` the clearance jumps once by `jump_mm`.
    """

    valve: str
    start_mm: float
    drift_mm_per_interval: float
    drift_growth: float = 0.0
    jump_usage: float | None = None
    jump_mm: float = 0.0


@dataclass(frozen=True, slots=True)
class PlannedVisit:
    """What the technician does at a visit.

    `set_mm`: the target each valve that is set is turned to. `fit_mm`: the shim out and the shim in.
    `leave_unread`: valves passed over.
    `wrongly_noted`: valves whose bracketing answers as found are swapped. `really_warmer_k`: how much warmer
    than noted the engine was.
    """

    id: str
    day: date
    usage: float
    temperature_c: float | None
    access: Access = "straight"
    work: Work = "check"
    set_mm: dict[str, float] = field(default_factory=dict)
    fit_mm: dict[str, tuple[float, float]] = field(default_factory=dict)
    read_after_setting: bool = True
    leave_unread: frozenset[str] = frozenset()
    wrongly_noted: frozenset[str] = frozenset()
    really_warmer_k: float = 0.0


@dataclass(frozen=True, slots=True)
class TrueClearance:
    """The clearance of one valve at a visit, mm, before and after the work there."""

    visit: str
    valve: str
    found_mm: float
    left_mm: float


@dataclass(frozen=True, slots=True)
class Simulated:
    """The visits as noted, and what was really so at each."""

    visits: tuple[Visit, ...]
    truth: tuple[TrueClearance, ...]


def movement_mm(truth: ValveTruth, *, since: float, until: float, check_interval: float) -> float:
    """How far the clearance really moves between two usages, mm (closing is negative).

    The drift at x intervals is drift (1 + growth)^x, so the way is its integral.
    """
    x, y = since / check_interval, until / check_interval
    rate = float(np.log1p(truth.drift_growth))
    if abs(rate) < 1e-12:
        moved = truth.drift_mm_per_interval * (y - x)
    else:
        moved = truth.drift_mm_per_interval * float(np.exp(rate * y) - np.exp(rate * x)) / rate
    if truth.jump_usage is not None and since < truth.jump_usage <= until:
        moved += truth.jump_mm
    return moved


class Technician:
    """Measures with a set of blades: starts near mid-spec and steps until bracketed."""

    def __init__(
        self, blades_mm: tuple[float, ...], rng: np.random.Generator, constants: Constants = DEFAULT
    ) -> None:
        if not blades_mm:
            raise ImpossibleValue("blades_mm", "empty", "at least one blade")
        self._blades_mm = tuple(sorted(blades_mm))
        self._rng = rng
        self._constants = constants

    def feel(self, gap_mm: float, blade_mm: float, access: Access) -> Felt:
        """What the hand feels of one blade in a gap."""
        margin_mm = gap_mm - blade_mm + self._rng.normal(0.0, feel_sd_mm(1, access, self._constants))
        if margin_mm < -self._constants.refuse_below_mm:
            return "no-go"
        return "drag" if margin_mm < self._constants.free_above_mm else "free"

    def measure(self, gap_mm: float, spec: Spec, access: Access) -> tuple[Try, ...]:
        """Tries from the blade nearest mid-spec on: thicker while it falls free, thinner while refused.

        One that drags is checked by the next thicker one; there the reading ends.
        """
        blades = self._blades_mm
        at = int(np.argmin([abs(blade - spec.middle_mm) for blade in blades]))
        felt_at: dict[int, Felt] = {}
        while 0 <= at < len(blades) and at not in felt_at:
            felt_at[at] = self.feel(gap_mm, blades[at], access)
            at += -1 if felt_at[at] == "no-go" else 1
        return tuple(Try((blades[i],), felt) for i, felt in felt_at.items())


def _wrongly_noted(tries: tuple[Try, ...]) -> tuple[Try, ...]:
    """The answers of the two blades that bracket the gap, each written in the other's line."""
    went = [one for one in tries if one.felt != "no-go"]
    refused = [one for one in tries if one.felt == "no-go"]
    if not went or not refused:
        return tries
    thick = max(went, key=lambda one: one.thickness_mm)
    thin = min(refused, key=lambda one: one.thickness_mm)
    swapped = {thick: Try(thick.blades_mm, thin.felt), thin: Try(thin.blades_mm, thick.felt)}
    return tuple(swapped.get(one, one) for one in tries)


class _Run:
    """One simulation under way: the current clearances, and what has been noted."""

    def __init__(
        self,
        engine: Engine,
        blades_mm: tuple[float, ...],
        rng: np.random.Generator,
        constants: Constants,
        clearance_mm: dict[str, float],
    ) -> None:
        self.engine = engine
        self.rng = rng
        self.constants = constants
        self.clearance_mm = clearance_mm
        self.technician = Technician(blades_mm, rng, constants)

    def reading(
        self, plan: PlannedVisit, valve: Valve, phase: Phase, shift_mm: dict[str, float]
    ) -> Reading | None:
        spec = self.engine.spec_of(valve, plan.day)
        if spec is None:
            return None
        gap_mm = self.clearance_mm[valve.id] + shift_mm[valve.side]
        gap_mm += self.rng.normal(0.0, self.constants.reading_sd_mm)
        tries = self.technician.measure(gap_mm, spec, plan.access)
        if phase == "found" and valve.id in plan.wrongly_noted:
            tries = _wrongly_noted(tries)
        return Reading(valve.id, phase, tries, plan.access)

    def shift_mm(self, plan: PlannedVisit) -> dict[str, float]:
        """What this visit adds to every gap of a side: temperature, and what its readings share."""
        shared = self.rng.normal(0.0, self.constants.visit_shift_sd_mm)
        off = self.rng.normal(0.0, 1.0)
        shift = {}
        for side in ("intake", "exhaust"):
            noted_c = plan.temperature_c
            really_c = None if noted_c is None else noted_c + plan.really_warmer_k
            heat = correction_at(self.engine, side, really_c, self.constants)
            shift[side] = shared + heat.correction_mm + off * heat.uncertainty_mm
        return shift

    def setting(self, plan: PlannedVisit, valve: str) -> Setting | None:
        """Set a valve where the plan has it set, and note it."""
        if valve in plan.set_mm:
            target = plan.set_mm[valve]
            # Locking the nut moves the screw a little.
            self.clearance_mm[valve] = target + self.rng.normal(0.0, self.constants.locking_sd_mm)
            return Setting(valve, target_mm=target)
        if valve in plan.fit_mm:
            old, new = plan.fit_mm[valve]
            # Print and seat of either shim differ a little from what they should be.
            self.clearance_mm[valve] += old - new + self.rng.normal(0.0, self.constants.shim_step_sd_mm)
            return Setting(valve, shim_from_mm=old, shim_to_mm=new)
        return None

    def visit(self, plan: PlannedVisit) -> tuple[Visit, tuple[TrueClearance, ...]]:
        shift = self.shift_mm(plan)
        readings: list[Reading | None] = []
        settings: list[Setting] = []
        before = dict(self.clearance_mm)
        for valve in self.engine.valves:
            if valve.id not in plan.leave_unread:
                readings.append(self.reading(plan, valve, "found", shift))
        for valve in self.engine.valves:
            setting = self.setting(plan, valve.id)
            if setting is None:
                continue
            settings.append(setting)
            if plan.read_after_setting:
                readings.append(self.reading(plan, valve, "left", shift))
        truth = tuple(
            TrueClearance(plan.id, valve, before[valve], after) for valve, after in self.clearance_mm.items()
        )
        noted = tuple(reading for reading in readings if reading is not None)
        visit = Visit(plan.id, plan.day, plan.usage, plan.temperature_c, plan.work, noted, tuple(settings))
        return visit, truth


def simulate(
    engine: Engine,
    truths: tuple[ValveTruth, ...],
    plans: tuple[PlannedVisit, ...],
    blades_mm: tuple[float, ...],
    *,
    rng: np.random.Generator,
    constants: Constants = DEFAULT,
) -> Simulated:
    """Visits as a technician would note them, from a stated truth.

    Args:
        truths: one for each valve of the engine; they start at usage 0.
        plans: visits in order of usage.
        blades_mm: the set in use.

    Raises:
        ImpossibleValue: a valve without a truth.
    """
    by_valve = {truth.valve: truth for truth in truths}
    for valve in engine.valves:
        if valve.id not in by_valve:
            raise ImpossibleValue("truths", sorted(by_valve), f"one for every valve; {valve.id} has none")
    start = {valve.id: by_valve[valve.id].start_mm for valve in engine.valves}
    run = _Run(engine, blades_mm, rng, constants, start)
    visits: list[Visit] = []
    truth: list[TrueClearance] = []
    usage = 0.0
    for plan in plans:
        for name in run.clearance_mm:
            run.clearance_mm[name] += movement_mm(
                by_valve[name], since=usage, until=plan.usage, check_interval=engine.check_interval
            )
        usage = plan.usage
        visit, at_visit = run.visit(plan)
        visits.append(visit)
        truth.extend(at_visit)
    return Simulated(tuple(visits), tuple(truth))
