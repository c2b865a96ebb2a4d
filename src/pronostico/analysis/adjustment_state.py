"""The state of each valve before adjustment: what is known of it, and whether to adjust it."""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, replace
from datetime import date

from pronostico.analysis.drift_cache import drifts_as_found, predicted_at
from pronostico.analysis.positions import checked, without_suspect
from pronostico.core.adjust.locking import LockUp, gap_after, lock_up_of, locking_allowance_mm
from pronostico.core.adjust.targets import Drift, Policy, Which, intervals_in_spec, target_mm
from pronostico.core.assessment import Decision
from pronostico.core.constants import Constants
from pronostico.core.drift.forecast import ahead
from pronostico.core.drift.results import ValveDrift
from pronostico.core.engine import Engine, Spec, Valve
from pronostico.core.gauge.advice import number_advice, prior_for_advice, thinnest_refused
from pronostico.core.gauge.reading import Prior
from pronostico.core.gauge.valve_history import ValveAtVisit, at_visit
from pronostico.core.thermal import correction_at
from pronostico.core.visits import Reading, Try, Visit
from pronostico.record.conversion import visits_from
from pronostico.record.engine import EngineModel
from pronostico.record.models import Record
from pronostico.record.visit import TryModel, VisitModel


@dataclass(frozen=True, slots=True)
class NumberNeeded:
    """The clearance is known only as a bound: the thickness to try next, mm; None: none of the set."""

    next_mm: float | None


@dataclass(frozen=True, slots=True)
class KnownValve:
    """One valve at the visit: its estimate, its drift, its target, and whether to adjust it.

    `from_mm`: the clearance to compute an amount from, None where there is no number: then `needed` says what
    to read next, where an amount is computed at all. `provisional`: even the thinnest blade would not go, and
    `from_mm` is taken as 0.
    """

    valve: Valve
    at: ValveAtVisit
    spec: Spec | None
    drift: Drift | None
    target: float | None
    touch: bool
    from_mm: float | None
    needed: NumberNeeded | None = None
    provisional: bool = False

    @property
    def lasts(self) -> float | None:
        """How long it stays in spec once it is set to its target, check intervals."""
        if self.drift is None or self.spec is None or self.target is None:
            return None
        return intervals_in_spec(self.target, self.spec, self.drift)


def _drift_of(known: ValveDrift | None, visits: int) -> Drift | None:
    """The drift of a valve; None after a single visit, of which nothing moved yet."""
    if known is None or visits < 2:
        return None
    drift = known.state.of(0.0, 1.0)
    return Drift(drift.average, drift.sd)


def _lasts_an_interval(known: ValveDrift | None, spec: Spec | None, constants: Constants) -> bool:
    """Whether a valve left alone is likely still in spec at the next check; one that is not known is."""
    if known is None or spec is None:
        return True
    later = ahead(known.state, 1.0, constants)
    return later.below(spec.max_mm) - later.below(spec.min_mm) >= constants.lasting_p_in


def _tries(models: list[TryModel]) -> tuple[Try, ...]:
    return tuple(Try(tuple(one.blades_mm), one.felt) for one in models)


@dataclass(frozen=True, slots=True)
class Allowance:
    """What locking is expected to move, mm: from how many lock-ups, and whose (None: everybody's)."""

    mm: float
    lock_ups: int
    technician: str | None


def _lock_ups_of(visit: VisitModel, constants: Constants) -> list[LockUp]:
    """The lock-ups of one visit that are informative."""
    access = visit.access or "straight"
    found = (
        lock_up_of(_tries(one.before), _tries(one.after), access, constants)
        for setting in visit.settings
        for one in setting.lockup or []
    )
    return [one for one in found if one is not None]


def allowance(visits: Sequence[VisitModel], constants: Constants) -> Allowance:
    """What locking is expected to move at the last of the visits.

    It is the hand that moves it: the lock-ups of the technician available count alone where there are any.
    """
    technician = visits[-1].technician if visits else None
    by_visit = [(visit.technician, _lock_ups_of(visit, constants)) for visit in visits]
    own = [one for who, lock_ups in by_visit if who == technician for one in lock_ups]
    if technician is not None and own:
        return Allowance(locking_allowance_mm(own, constants), len(own), technician)
    everybody = [one for _, lock_ups in by_visit for one in lock_ups]
    return Allowance(locking_allowance_mm(everybody, constants), len(everybody), None)


def _to_touch(
    at: ValveAtVisit,
    which: Which,
    *,
    lasts: bool,
) -> bool:
    """Whether a valve is set; one that was not read is never touched: its before figure would be lost."""
    standing = at.standing
    if standing is None:
        return False
    if standing.verdict != "in":
        return True
    if at.settings:
        # It was set and measured again: what does not hold is set once more, and nothing else.
        return False
    if which == "all":
        return True
    return which == "due" and not lasts


def _figures(model: EngineModel, day: date) -> dict[str, float | None]:
    """The manual's single figure for each valve on a day, where it gives one."""
    figures = {}
    changes = sorted((one for one in model.spec_changes if one.date <= day), key=lambda one: one.date)
    sides = changes[-1].spec if changes else model.spec
    for valve in model.valves:
        spec = valve.spec or (sides.intake if valve.side == "intake" else sides.exhaust)
        figures[valve.id] = spec.figure_mm
    return figures


def _after_lock_up_mm(visit: VisitModel, engine: Engine, valve: Valve, constants: Constants) -> float | None:
    """The clearance after a lock-up by what it can have moved; None where no lock-up was read last."""
    lock_ups = [
        one for setting in visit.settings if setting.valve == valve.id for one in setting.lockup or []
    ]
    left = next((one for one in visit.readings if (one.valve, one.phase) == (valve.id, "left")), None)
    if not lock_ups or left is None or _tries(left.tries) != _tries(lock_ups[-1].after):
        return None
    before, after = _tries(lock_ups[-1].before), _tries(lock_ups[-1].after)
    gap = gap_after(before, after, visit.access or "straight", constants)
    if gap is None:
        return None
    return gap.mean_mm - correction_at(engine, valve.side, visit.temperature_c, constants).correction_mm


def reading_standing(visit: Visit, at: ValveAtVisit) -> Reading | None:
    """The reading behind the estimate that holds for a valve."""
    if at.standing is None:
        return None
    return visit.reading_of(at.valve, "left" if at.standing is at.left else "found")


@dataclass(frozen=True, slots=True)
class _Basis:
    """What an amount is computed from: a clearance in mm, one taken as 0, or none yet."""

    from_mm: float | None
    needed: NumberNeeded | None = None
    provisional: bool = False


class _Numbers:
    """Which valves of a visit have a number to compute with, and what to try where there is none."""

    def __init__(
        self, engine: Engine, visits: Sequence[Visit], blades_mm: tuple[float, ...], constants: Constants
    ) -> None:
        self._engine, self._before, self._visit = engine, tuple(visits[:-1]), visits[-1]
        self._blades_mm, self._constants = blades_mm, constants

    def of(self, valve: Valve, at: ValveAtVisit, after_lock_up_mm: float | None) -> _Basis:
        """What an amount for one valve is computed from."""
        if after_lock_up_mm is not None:
            return _Basis(after_lock_up_mm)
        standing, reading = at.standing, reading_standing(self._visit, at)
        if standing is None or reading is None or at.spec is None:
            return _Basis(None)
        if standing.gives_number:
            return _Basis(standing.mean_mm)
        if thinnest_refused(reading.tries, self._blades_mm):
            return _Basis(0.0, provisional=True)
        advice = number_advice(
            reading,
            self._blades_mm,
            at.spec,
            correction_at(self._engine, valve.side, self._visit.temperature_c, self._constants),
            self._prior(valve, at.spec, reading),
            self._constants,
        )
        tried = None if advice.blades_mm is None else round(sum(advice.blades_mm), 4)
        return _Basis(None, NumberNeeded(tried))

    def _prior(self, valve: Valve, spec: Spec, reading: Reading) -> Prior:
        """As for the advice on the next blade: what was set is no longer what the past predicts."""
        predicted = None
        if reading.phase == "found":
            predicted = predicted_at(self._engine, self._before, self._visit.usage, valve, self._constants)
        return prior_for_advice(spec, predicted)


def known_valves(
    record: Record,
    engine: Engine,
    visit_id: str,
    policy: Policy,
    which: Which,
    decided: Mapping[str, Decision],
    *,
    blades_mm: tuple[float, ...],
    constants: Constants,
) -> list[KnownValve]:
    """Every valve of the engine at a visit of its record."""
    index = next(at for at, one in enumerate(record.visits) if one.id == visit_id)
    visits = visits_from(record)[: index + 1]
    figures = _figures(record.engine, visits[-1].day)
    suspect = checked(record, engine, visits, constants).suspect
    moving = drifts_as_found(engine, without_suspect(visits, suspect), constants)
    numbers = _Numbers(engine, visits, blades_mm, constants)
    known = []
    for valve in engine.valves:
        at = at_visit(engine, valve, visits[-1], constants)
        drifting = moving.valves.get(valve.id)
        drift = _drift_of(drifting, len(visits))
        target = (
            None
            if at.spec is None
            else target_mm(
                policy,
                at.spec,
                valve.side,
                figure_mm=figures[valve.id],
                drift=drift,
                constants=constants,
            )
        )
        if engine.adjustment == "hydraulic":
            # Nothing is measured there that could be out: the preload is set where it is asked for.
            touch = not at.settings and decided.get(valve.id, "set" if which == "all" else None) == "set"
        elif valve.id in decided and at.standing is not None and not at.settings:
            touch = decided[valve.id] == "set"
        else:
            lasts = _lasts_an_interval(drifting, at.spec, constants)
            off = valve.id in suspect and at.standing is at.found
            touch = not off and _to_touch(at, which, lasts=lasts)
        after_lock_up = _after_lock_up_mm(record.visits[index], engine, valve, constants)
        basis = numbers.of(valve, at, after_lock_up)
        known.append(
            KnownValve(
                valve,
                at,
                at.spec,
                drift,
                target,
                touch,
                basis.from_mm,
                basis.needed,
                basis.provisional,
            )
        )
    return _with_mates(known, record.engine)


def _with_mates(known: list[KnownValve], model: EngineModel) -> list[KnownValve]:
    """Valves on one rocker are slackened together: where one is set, so is the other that was read."""
    mates = {valve.id: set(valve.shares_rocker_with) for valve in model.valves}
    touched = {one.valve.id for one in known if one.touch}
    return [
        replace(one, touch=True)
        if not one.touch
        and one.at.standing is not None
        and any(one.valve.id in mates[other] or other in mates[one.valve.id] for other in touched)
        else one
        for one in known
    ]


def shims_before(record: Record, visit_id: str) -> dict[str, float | None]:
    """The shim that each valve had when a visit began, as far as it is known, mm.

    The last one fitted, else the engine's data; what was read off or measured at a visit goes before both,
    and a measured thickness before its print, for shims wear.
    """
    shims = {valve.id: valve.shim_mm for valve in record.engine.valves}
    for visit in record.visits:
        for valve, seen in visit.shims_seen.items():
            known = seen.measured_mm if seen.measured_mm is not None else seen.printed_mm
            if known is not None:
                shims[valve] = known
        if visit.id == visit_id:
            break
        for setting in visit.settings:
            if setting.shim_to_mm is not None:
                shims[setting.valve] = setting.shim_to_mm
    return shims


def shims_now(record: Record, visit: VisitModel) -> dict[str, float | None]:
    """The shim in each valve as a visit stands: those fitted at it counted in."""
    shims = shims_before(record, visit.id)
    for setting in visit.settings:
        if setting.shim_to_mm is not None:
            shims[setting.valve] = setting.shim_to_mm
    return shims
