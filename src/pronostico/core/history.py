"""One valve through its visits: readings, settings, the line ahead, and how far its seat has sunk."""

from collections import defaultdict
from dataclasses import dataclass, replace
from datetime import date

import numpy as np

from pronostico.core.constants import DEFAULT, Constants
from pronostico.core.engine import Engine, Spec, Valve
from pronostico.core.line import Line, LinePoint, fit_line
from pronostico.core.reading import Estimate, estimate
from pronostico.core.thermal import correction_at
from pronostico.core.visits import Phase, Setting, Visit


@dataclass(frozen=True, slots=True)
class ValveAtVisit:
    """What a visit knows of one valve."""

    visit: str
    day: date
    usage: float
    spec: Spec | None
    found: Estimate | None
    left: Estimate | None
    settings: tuple[Setting, ...]
    head_work: bool

    @property
    def touched(self) -> bool:
        """Whether the clearance after this visit is not the one found at it."""
        return bool(self.settings) or self.head_work

    @property
    def standing(self) -> Estimate | None:
        """The reading that tells how the valve stands: as left, else as found where nothing was set."""
        return self.left if self.touched or self.left is not None else self.found


@dataclass(frozen=True, slots=True)
class Sink:
    """Net closing movement over the era, mm, what settings gave back counted in."""

    mean_mm: float
    sd_mm: float


def at_visit(engine: Engine, valve: Valve, visit: Visit, constants: Constants = DEFAULT) -> ValveAtVisit:
    """The readings of one valve at one visit, estimated each on its own."""
    spec = engine.spec_of(valve, visit.day)
    correction = correction_at(engine, valve.side, visit.temperature_c, constants)

    def estimate_of(phase: Phase) -> Estimate | None:
        reading = visit.reading_of(valve.id, phase)
        return None if reading is None or spec is None else estimate(reading, spec, correction, constants)

    return ValveAtVisit(
        visit=visit.id,
        day=visit.day,
        usage=visit.usage,
        spec=spec,
        found=estimate_of("found"),
        left=estimate_of("left"),
        settings=visit.settings_of(valve.id),
        head_work=visit.work == "head-work",
    )


@dataclass(frozen=True, slots=True)
class _Standing:
    """A clearance as it stands: a normal, and a name that tells the same one from another."""

    name: str
    mean_mm: float
    variance: float


def _found_standing(at: ValveAtVisit, constants: Constants) -> _Standing | None:
    if at.found is None:
        return None
    variance = at.found.sd_mm**2 + constants.reading_sd_mm**2
    return _Standing(f"{at.visit} found", at.found.mean_mm, variance)


def _shim_step_mm(settings: tuple[Setting, ...]) -> float | None:
    """What exchanged shims did to the clearance, mm; None where a setting was not by shims alone."""
    total = 0.0
    for setting in settings:
        if setting.shim_from_mm is None or setting.shim_to_mm is None:
            return None
        total += setting.shim_from_mm - setting.shim_to_mm
    return total


def _left_standing(at: ValveAtVisit, found: _Standing | None, constants: Constants) -> _Standing | None:
    """The clearance after a visit that touched the valve: best told by a reading as left."""
    name = f"{at.visit} left"
    if at.left is not None:
        return _Standing(name, at.left.mean_mm, at.left.sd_mm**2 + constants.reading_sd_mm**2)
    step = None if at.head_work else _shim_step_mm(at.settings)
    if step is not None:
        if found is None:
            return None
        return _Standing(name, found.mean_mm + step, found.variance + constants.shim_step_sd_mm**2)
    targets = [setting.target_mm for setting in at.settings if setting.target_mm is not None]
    if targets:
        return _Standing(name, targets[-1], constants.set_to_target_sd_mm**2)
    if at.spec is None:
        return None
    sd = constants.prior_sd_mm if at.head_work else constants.set_without_target_sd_mm
    return _Standing(name, at.spec.middle_mm, sd**2)


def line_ahead(
    states: tuple[ValveAtVisit, ...], *, check_interval: float, constants: Constants = DEFAULT
) -> Line | None:
    """The straight line through what is known of a valve since it was last touched."""
    points: list[LinePoint] = []
    for at in states:
        found = _found_standing(at, constants)
        standing = _left_standing(at, found, constants) if at.touched else found
        if at.touched:
            points = []
        if standing is not None:
            points.append(LinePoint(at.usage, standing.mean_mm, float(np.sqrt(standing.variance))))
    return fit_line(tuple(points), check_interval=check_interval)


def as_found(states: tuple[ValveAtVisit, ...]) -> tuple[ValveAtVisit, ...]:
    """The history up to what the last visit found, as if nothing had been touched there."""
    if not states:
        return states
    return (*states[:-1], replace(states[-1], settings=(), left=None, head_work=False))


def sink_of(states: tuple[ValveAtVisit, ...], constants: Constants = DEFAULT) -> Sink | None:
    """How far the valve has closed in all since the era began; None before it was read twice.

    The sum of what was left at one visit less what was found at the next. A clearance that was not
    touched stands on both sides of the sum and cancels, its doubt with it.
    """
    factor: dict[_Standing, float] = defaultdict(float)
    before: _Standing | None = None
    steps = 0
    for at in states:
        found = _found_standing(at, constants)
        if found is not None and before is not None:
            factor[before] += 1.0
            factor[found] -= 1.0
            steps += 1
        if at.head_work:
            factor.clear()
            steps = 0
        if at.touched:
            before = _left_standing(at, found, constants)
        elif found is not None:
            before = found
    if steps == 0:
        return None
    mean = sum(share * standing.mean_mm for standing, share in factor.items())
    variance = sum(share**2 * standing.variance for standing, share in factor.items())
    return Sink(mean, float(np.sqrt(variance)))
