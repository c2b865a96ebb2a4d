"""What to set at a visit: targets, turns of the screws, which shim goes where and what to order."""

from collections.abc import Mapping
from dataclasses import dataclass
from datetime import date

from pronostico.core.constants import DEFAULT, Constants
from pronostico.core.engine import Engine, Spec, Valve
from pronostico.core.history import ValveAtVisit, as_found, at_visit, line_ahead
from pronostico.core.judging import Decision
from pronostico.core.line import Line
from pronostico.core.reading import Estimate, estimate
from pronostico.core.setting import (
    Drift,
    LockUp,
    Policy,
    Which,
    intervals_in_spec,
    lash_per_turn_mm,
    locking_allowance_mm,
    p_in_after_setting,
    preload,
    target_mm,
    turn_deg,
    usual_place,
)
from pronostico.core.shims import (
    Fit,
    ShimPlan,
    ShimSeries,
    ShimTask,
    StockedShim,
    assign_shims,
    intervals_left,
)
from pronostico.core.thermal import correction_at
from pronostico.core.visits import Reading, Try
from pronostico.record.conversion import engine_from, visits_from
from pronostico.record.models import EngineModel, Record, TryModel
from pronostico.services.analysis_report import ReportModel
from pronostico.services.preparing import visit_of

_SHIMMED = ("shim-under-bucket", "shim-over-bucket")


class ShimOut(ReportModel):
    """The shim for a valve: 'stock', 'order', 'kept', or 'moved from 3I'."""

    shim_mm: float
    source: str


class SetValveOut(ReportModel):
    """What to do with one valve. `turn_deg` is positive clockwise seen on the adjuster.

    `intervals_in_spec`: how long it then stays in spec with probability 0.9; `intervals_left`: how long the
    shims of the series make up for the drift; both in check intervals. `note` says why something is not told.
    """

    valve: str
    touch: bool
    target_mm: float | None
    from_mm: float | None
    turn_deg: float | None
    shim: ShimOut | None
    p_in_after: float | None
    together_with: list[str]
    intervals_in_spec: float | None
    intervals_left: float | None
    note: str | None


class FitOut(ReportModel):
    """A shim to fit."""

    valve: str
    shim_mm: float
    source: str


class CountOut(ReportModel):
    """So many shims of one size."""

    shim_mm: float
    count: int


class ShimPlanOut(ReportModel):
    """What to fit, to order, and what comes back to the box."""

    fit: list[FitOut]
    order: list[CountOut]
    freed: list[CountOut]


class PreloadOut(ReportModel):
    """Turns past zero lash of hydraulic lifters, and where the plunger then stands."""

    turns: float
    plunger_travel_mm: float | None
    share_of_stroke: float | None
    sound: bool | None


class SettingPlanOut(ReportModel):
    """A visit's setting, by one policy."""

    policy: Policy
    which: Which
    valves: list[SetValveOut]
    shims: ShimPlanOut
    camshafts_out: list[str]
    locking_allowance_mm: float
    preload: PreloadOut | None


@dataclass(frozen=True, slots=True)
class _Known:
    """One valve at the visit: how it stands, where it drifts, what it is to be."""

    valve: Valve
    at: ValveAtVisit
    spec: Spec | None
    line: Line | None
    target: float | None
    touch: bool

    @property
    def lasts(self) -> float | None:
        """How long it stays in spec once it is set to its target, check intervals."""
        if self.line is None or self.spec is None or self.target is None:
            return None
        return intervals_in_spec(self.target, self.spec, _drift_of(self.line))


def _drift_of(line: Line) -> Drift:
    return Drift(line.slope_mm_per_interval, line.slope_sd_mm_per_interval)


def _tries(models: list[TryModel]) -> tuple[Try, ...]:
    return tuple(Try(tuple(one.blades_mm), one.felt) for one in models)


def _allowance(record: Record, engine: Engine, constants: Constants) -> float:
    """What locking is expected to move, mm, from the lock-ups on record."""
    lock_ups = []
    for visit in record.visits:
        for setting in visit.settings:
            valve = engine.valve(setting.valve)
            spec = engine.spec_of(valve, visit.date)
            correction = correction_at(engine, valve.side, visit.temperature_c, constants)
            for one in setting.lockup or []:
                before, after = (
                    None
                    if spec is None
                    else estimate(Reading(valve.id, "left", tries), spec, correction, constants)
                    for tries in (_tries(one.before), _tries(one.after))
                )
                if before is not None and after is not None:
                    variance = before.sd_mm**2 + after.sd_mm**2
                    lock_ups.append(LockUp(before.mean_mm, after.mean_mm, variance))
    return locking_allowance_mm(lock_ups, constants)


def _to_touch(
    standing: Estimate | None,
    line: Line | None,
    spec: Spec | None,
    which: Which,
    next_usage: float,
    constants: Constants,
) -> bool:
    """Whether a valve is set; one that was not read is never touched: its before figure would be lost."""
    if standing is None:
        return False
    if which == "all" or standing.verdict != "in":
        return True
    if which == "due" and line is not None and spec is not None:
        return line.at(next_usage, spec).p_in < constants.lasting_p_in
    return False


def _figures(model: EngineModel, day: date) -> dict[str, float | None]:
    """The manual's single figure for each valve on a day, where it gives one."""
    figures = {}
    changes = sorted((one for one in model.spec_changes if one.date <= day), key=lambda one: one.date)
    sides = changes[-1].spec if changes else model.spec
    for valve in model.valves:
        spec = valve.spec or (sides.intake if valve.side == "intake" else sides.exhaust)
        figures[valve.id] = spec.figure_mm
    return figures


def _known(
    record: Record,
    engine: Engine,
    visit_id: str,
    policy: Policy,
    which: Which,
    decided: Mapping[str, Decision],
    constants: Constants,
) -> list[_Known]:
    index = next(at for at, one in enumerate(record.visits) if one.id == visit_id)
    visits = visits_from(record)[: index + 1]
    figures = _figures(record.engine, visits[-1].day)
    known = []
    for valve in engine.valves:
        states = tuple(at_visit(engine, valve, visit, constants) for visit in visits)
        at = states[-1]
        line = line_ahead(as_found(states), check_interval=engine.check_interval, constants=constants)
        drift = None if line is None else _drift_of(line)
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
        next_usage = visits[-1].usage + engine.check_interval
        touch = _to_touch(at.standing, line, at.spec, which, next_usage, constants)
        if valve.id in decided and at.standing is not None:
            touch = decided[valve.id] == "set"
        known.append(_Known(valve, at, at.spec, line, target, touch))
    return known


def _shims_now(record: Record, visit_id: str) -> dict[str, float | None]:
    """The shim in each valve: the last one that was fitted up to the visit, else as the engine's data say."""
    shims = {valve.id: valve.shim_mm for valve in record.engine.valves}
    for visit in record.visits:
        for setting in visit.settings:
            if setting.shim_to_mm is not None:
                shims[setting.valve] = setting.shim_to_mm
        if visit.id == visit_id:
            break
    return shims


def _shim_plan(
    record: Record, known: list[_Known], shims: dict[str, float | None], constants: Constants
) -> ShimPlan:
    tasks = []
    for one in known:
        old, standing = shims[one.valve.id], one.at.standing
        if one.touch and old is not None and standing is not None and one.spec and one.target is not None:
            tasks.append(ShimTask(one.valve.id, old, standing.mean_mm, standing.sd_mm, one.spec, one.target))
    box = [StockedShim(one.shim_mm, one.count, one.diameter_mm) for one in record.shim_box or []]
    return assign_shims(tasks, box, _series(record.engine), constants)


def _series(model: EngineModel) -> ShimSeries | None:
    series = model.shim_series
    if series is None:
        return None
    return ShimSeries(series.from_mm, series.to_mm, series.step_mm, series.diameter_mm)


def _source(fit: Fit) -> str:
    return f"moved from {fit.moved_from}" if fit.source == "moved" else fit.source


@dataclass(frozen=True, slots=True)
class _Screw:
    """The adjuster of the engine: what a turn does, or why that is not known."""

    lash_per_turn: float | None
    left_hand: bool
    note: str | None

    @classmethod
    def of(cls, model: EngineModel) -> "_Screw":
        left_hand = model.thread is not None and model.thread.hand == "left"
        if model.adjuster_pitch_mm is None:
            return cls(None, left_hand, "the pitch of the adjuster is not noted")
        at = model.adjuster_at or usual_place(model.adjustment)
        lash = lash_per_turn_mm(pitch_mm=model.adjuster_pitch_mm, at=at, rocker_ratio=model.rocker_ratio)
        return cls(lash, left_hand, "the rocker ratio is not noted" if lash is None else None)


def _by_screw(one: _Known, screw: _Screw, allowance: float, constants: Constants) -> SetValveOut:
    standing = one.at.standing
    turn = None
    if one.touch and standing is not None and one.target is not None and screw.lash_per_turn is not None:
        change = one.target - allowance - standing.mean_mm
        turn = turn_deg(change, screw.lash_per_turn, left_hand=screw.left_hand)
    after = None if standing is None else standing.p_in
    if one.touch and one.target is not None and one.spec is not None:
        after = p_in_after_setting(one.target, one.spec, constants)
    return _valve_out(one, turn=turn, p_in_after=after, note=screw.note if one.touch else None)


def _by_shim(one: _Known, fit: Fit | None, old: float | None, series: ShimSeries | None) -> SetValveOut:
    standing = one.at.standing
    note = None
    if one.touch and old is None:
        note = "its shim is not noted: read or measure it"
    elif one.touch and fit is not None and fit.shim_mm is None:
        note = "nothing at hand brings it into spec, and no series to order from is noted"
    elif one.touch and fit is not None and fit.p_in_after is not None and fit.p_in_after < 0.5:
        note = "no shim brings it into spec"
    shim = fit.shim_mm if fit is not None else old
    left = None
    if shim is not None and series is not None and one.line is not None:
        left = intervals_left(shim, series, drift_mm_per_interval=one.line.slope_mm_per_interval)
    after = fit.p_in_after if fit is not None else None if standing is None else standing.p_in
    fitted = None if fit is None or fit.shim_mm is None else ShimOut(shim_mm=fit.shim_mm, source=_source(fit))
    return _valve_out(one, shim=fitted, p_in_after=after, left=left, note=note)


def _valve_out(
    one: _Known,
    *,
    turn: float | None = None,
    shim: ShimOut | None = None,
    p_in_after: float | None = None,
    left: float | None = None,
    note: str | None = None,
) -> SetValveOut:
    standing = one.at.standing
    return SetValveOut(
        valve=one.valve.id,
        touch=one.touch,
        target_mm=one.target,
        from_mm=None if standing is None else standing.mean_mm,
        turn_deg=turn,
        shim=shim,
        p_in_after=p_in_after,
        together_with=[],
        intervals_in_spec=one.lasts,
        intervals_left=left,
        note=note if standing is not None else _unread(one.at),
    )


def _unread(at: ValveAtVisit) -> str:
    """Why it is not told how a valve stands."""
    if at.settings:
        return "set, and not measured again: locking moves it"
    return "not read as found: measure it before it is touched"


def _camshafts_out(model: EngineModel, known: list[_Known]) -> list[str]:
    """Which camshafts must come out: those over the buckets whose shims are changed."""
    if model.adjustment != "shim-under-bucket":
        return []
    banks = (model.layout.banks if model.layout else None) or []
    sides = set()
    for one in known:
        if one.touch:
            bank = next((at for at, bank in enumerate(banks, 1) if one.valve.cylinder in bank), None)
            sides.add(f"{one.valve.side}{'' if bank is None or len(banks) < 2 else f', bank {bank}'}")
    return sorted(sides)


def _preload(model: EngineModel, screw: _Screw) -> PreloadOut | None:
    hydraulic = model.hydraulic
    if model.adjustment != "hydraulic" or hydraulic is None or hydraulic.preload_turns is None:
        return None
    return PreloadOut.model_validate(
        preload(hydraulic.preload_turns, screw.lash_per_turn, hydraulic.plunger_stroke_mm)
    )


def plan_setting(
    record: Record,
    visit_id: str,
    *,
    policy: Policy = "middle",
    which: Which = "only-out",
    decided: Mapping[str, Decision] | None = None,
    constants: Constants = DEFAULT,
) -> SettingPlanOut:
    """What to set at a visit, from how its readings stand.

    Args:
        which: 'only-out' are those out of spec or open, 'due' also those that would not last to the next
            check, 'all' every valve that was read.
        decided: what was decided valve by valve; it overrules `which`.

    Raises:
        NotThere: the record has no such visit.
    """
    visit_of(record, visit_id)
    model = record.engine
    engine = engine_from(model, constants)
    known = _known(record, engine, visit_id, policy, which, decided or {}, constants)
    allowance = _allowance(record, engine, constants)
    screw = _Screw.of(model)
    plan = ShimPlan((), (), ())
    if model.adjustment in _SHIMMED:
        shims, series = _shims_now(record, visit_id), _series(model)
        plan = _shim_plan(record, known, shims, constants)
        fits = {fit.valve: fit for fit in plan.fits}
        valves = [_by_shim(one, fits.get(one.valve.id), shims[one.valve.id], series) for one in known]
    else:
        valves = [_by_screw(one, screw, allowance, constants) for one in known]
    sharing = {valve.id: valve.shares_rocker_with for valve in model.valves}
    return SettingPlanOut(
        policy=policy,
        which=which,
        valves=[valve.model_copy(update={"together_with": sharing[valve.valve]}) for valve in valves],
        shims=ShimPlanOut(
            fit=[
                FitOut(valve=fit.valve, shim_mm=fit.shim_mm, source=_source(fit))
                for fit in plan.fits
                if fit.shim_mm is not None
            ],
            order=[CountOut(shim_mm=size, count=count) for size, count in plan.order],
            freed=[CountOut(shim_mm=size, count=count) for size, count in plan.freed],
        ),
        camshafts_out=_camshafts_out(model, known),
        locking_allowance_mm=allowance,
        preload=_preload(model, screw),
    )
