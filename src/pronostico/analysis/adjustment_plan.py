"""What to set at a visit: targets, turns of the screws, which shim goes where and what to order."""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass

from pronostico.analysis.adjustment_plan_report import (
    AdjustmentPlanOut,
    AllowanceOut,
    CountOut,
    FitOut,
    NeedsReadingOut,
    PreloadOut,
    SetValveOut,
    ShimOut,
    ShimPlanOut,
)
from pronostico.analysis.adjustment_state import (
    KnownValve,
    NumberNeeded,
    allowance,
    known_valves,
    shims_now,
)
from pronostico.analysis.lookup import visit_of
from pronostico.core.adjust.locking import set_with_mm
from pronostico.core.adjust.preload import plunger_travel_mm, preload
from pronostico.core.adjust.screws import lash_per_turn_mm, turn_deg, usual_place
from pronostico.core.adjust.shims import (
    Fit,
    ShimPlan,
    ShimSeries,
    ShimTask,
    StockedShim,
    assign_shims,
    intervals_left,
)
from pronostico.core.adjust.targets import Policy, Which, p_in_after_setting
from pronostico.core.assessment import Decision
from pronostico.core.constants import DEFAULT, Constants
from pronostico.core.engine import SHIMMED, SIDES
from pronostico.core.gauge.valve_history import ValveAtVisit
from pronostico.core.thermal import correction_at
from pronostico.record.conversion import engine_from
from pronostico.record.engine import EngineModel
from pronostico.record.models import Record
from pronostico.record.visit import VisitModel


def _shim_plan(record: Record, visit: VisitModel, known: list[KnownValve], constants: Constants) -> ShimPlan:
    shims, gone = shims_now(record, visit), {setting.moved_from for setting in visit.settings}
    done = {setting.valve for setting in visit.settings}
    tasks = []
    for one in known:
        old, standing = shims[one.valve.id], one.at.standing
        if standing is None or one.from_mm is None:
            # Without a number no shim is spent on it; it keeps its own.
            continue
        if one.touch and old is not None and one.spec and one.target is not None:
            tasks.append(
                ShimTask(
                    one.valve.id,
                    old,
                    one.from_mm,
                    standing.sd_mm,
                    one.spec,
                    one.target,
                    old_is_gone=one.valve.id in gone - done,
                )
            )
    box = [StockedShim(one.shim_mm, one.count, one.diameter_mm) for one in record.shim_box or []]
    return assign_shims(tasks, box, shim_series_of(record.engine), constants)


def shim_series_of(model: EngineModel) -> ShimSeries | None:
    """The series that shims of an engine are ordered from; None where none is noted."""
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
            return cls(None, left_hand, "the adjuster's thread pitch is not entered")
        at = model.adjuster_at or usual_place(model.adjustment)
        lash = lash_per_turn_mm(pitch_mm=model.adjuster_pitch_mm, at=at, rocker_ratio=model.rocker_ratio)
        return cls(lash, left_hand, "the rocker ratio is not entered" if lash is None else None)


def _by_screw(
    one: KnownValve,
    screw: _Screw,
    allowance_mm: float,
    blades_mm: Sequence[float],
    correction_mm: float,
    constants: Constants,
) -> SetValveOut:
    standing = one.at.standing
    turn = blades = check = None
    noted = [setting.target_mm for setting in one.at.settings if setting.target_mm is not None]
    target = noted[-1] if noted else one.target
    if target is not None and (one.touch or one.at.settings):
        # The blade meets the gap as it is today, not as it would be at the reference temperature.
        gap = target + correction_mm
        blades = set_with_mm(gap, blades_mm, allowance_mm=allowance_mm, constants=constants)
        check = set_with_mm(gap, blades_mm, constants=constants)
    if one.touch and one.from_mm is not None and target is not None and screw.lash_per_turn is not None:
        change = target - allowance_mm - one.from_mm
        turn = turn_deg(change, screw.lash_per_turn, left_hand=screw.left_hand)
    after = None if standing is None else standing.p_in
    if one.touch and one.target is not None and one.spec is not None:
        after = p_in_after_setting(one.target, one.spec, constants)
    note = screw.note if one.touch else None
    amount = screw.lash_per_turn is not None
    if one.touch and amount and one.needed is not None:
        note = "only a bound is known: adjust it with the blade in place; no turn can be calculated"
    elif one.touch and amount and one.provisional:
        note = f"{_PROVISIONAL}; the turn is only a starting point"
    return _valve_out(one, turn=turn, blades=blades, check=check, p_in_after=after, note=note, amount=amount)


def _by_shim(one: KnownValve, fit: Fit | None, old: float | None, series: ShimSeries | None) -> SetValveOut:
    standing = one.at.standing
    note = None
    if one.touch and one.needed is not None:
        note = _bound_note(one.needed)
    elif one.touch and old is None:
        note = "its shim is not entered: read or measure it"
    elif one.touch and one.provisional:
        note = f"{_PROVISIONAL}; fit this shim, measure, and plan again"
    elif one.touch and fit is not None and fit.shim_mm is None:
        note = "no available shim brings it into spec, and no shim sizes to order are entered"
    elif one.touch and fit is not None and fit.p_in_after is not None and fit.p_in_after < 0.5:
        note = "no shim brings it into spec"
    shim = fit.shim_mm if fit is not None else old
    left = None
    if shim is not None and series is not None and one.drift is not None:
        left = intervals_left(shim, series, drift_mm_per_interval=one.drift.mean_mm_per_interval)
    after = fit.p_in_after if fit is not None else None if standing is None else standing.p_in
    if one.touch and (one.needed is not None or one.provisional):
        after = None
    fitted = None if fit is None or fit.shim_mm is None else ShimOut(shim_mm=fit.shim_mm, source=_source(fit))
    return _valve_out(one, shim_now=old, shim=fitted, p_in_after=after, left=left, note=note)


_PROVISIONAL = "provisional, assuming zero clearance: even the thinnest blade won't go"


def _bound_note(needed: NumberNeeded) -> str:
    """What to measure before a shim can be chosen."""
    if needed.next_mm is None:
        return "only a bound is known, and no blade of the set tells more: measure it in another way"
    return "only a bound is known: measure its clearance to choose a shim"


def _valve_out(
    one: KnownValve,
    *,
    amount: bool = True,
    turn: float | None = None,
    blades: tuple[float, ...] | None = None,
    check: tuple[float, ...] | None = None,
    shim_now: float | None = None,
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
        from_mm=one.from_mm,
        turn_deg=turn,
        set_with_mm=None if blades is None else list(blades),
        check_with_mm=None if check is None else list(check),
        shim_now_mm=shim_now,
        shim=shim,
        needs_reading=(
            NeedsReadingOut(next_mm=one.needed.next_mm)
            if one.touch and amount and one.needed is not None
            else None
        ),
        provisional=one.touch and amount and one.provisional,
        verdict=None if standing is None else standing.verdict,
        p_in_after=p_in_after,
        together_with=[],
        intervals_in_spec=one.lasts,
        intervals_left=left,
        note=note if standing is not None or one.spec is None else _unread(one.at),
    )


def _unread(at: ValveAtVisit) -> str:
    """Why a valve has no estimate."""
    if at.settings:
        return "adjusted, not re-measured: tightening the locknut moves it"
    return "not measured as found: measure it before adjusting"


def _camshafts_out(model: EngineModel, known: list[KnownValve]) -> list[str]:
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


def preload_of(model: EngineModel) -> PreloadOut | None:
    """The preload of hydraulic lifters as the engine's data have it; None where they have none."""
    hydraulic = model.hydraulic
    if model.adjustment != "hydraulic" or hydraulic is None or hydraulic.preload_turns is None:
        return None
    travel = None
    if model.adjuster_pitch_mm is not None:
        travel = plunger_travel_mm(
            hydraulic.preload_turns,
            pitch_mm=model.adjuster_pitch_mm,
            at=model.adjuster_at or usual_place(model.adjustment),
            rocker_ratio=model.rocker_ratio,
        )
    return PreloadOut.model_validate(preload(hydraulic.preload_turns, travel, hydraulic.plunger_stroke_mm))


def plan_adjustment(
    record: Record,
    visit_id: str,
    *,
    policy: Policy = "middle",
    which: Which = "only-out",
    decided: Mapping[str, Decision] | None = None,
    blades_mm: Sequence[float] | None = None,
    constants: Constants = DEFAULT,
) -> AdjustmentPlanOut:
    """What to set at a visit, from how its readings stand.

    Args:
        which: 'only-out' are those out of spec or open, 'due' also those that would not last to the next
            check, 'all' every valve that was read.
        decided: what was decided valve by valve; it overrules `which` until the valve was set.
        blades_mm: the blades available; None: those of the record.

    Raises:
        NotThere: the record has no such visit.
    """
    visit = visit_of(record, visit_id)
    model = record.engine
    if blades_mm is None:
        blades_mm = record.gauge_set.blades_mm if record.gauge_set is not None else ()
    engine = engine_from(model, constants)
    known = known_valves(
        record,
        engine,
        visit_id,
        policy,
        which,
        decided or {},
        blades_mm=tuple(blades_mm),
        constants=constants,
    )
    locking = allowance(record.visits[: record.visits.index(visit) + 1], constants)
    screw = _Screw.of(model)
    plan = ShimPlan((), (), ())
    if model.adjustment in SHIMMED:
        shims, series = shims_now(record, visit), shim_series_of(model)
        plan = _shim_plan(record, visit, known, constants)
        fits = {fit.valve: fit for fit in plan.fits}
        valves = [_by_shim(one, fits.get(one.valve.id), shims[one.valve.id], series) for one in known]
    else:
        corrections = {
            side: correction_at(engine, side, visit.temperature_c, constants).correction_mm for side in SIDES
        }
        valves = [
            _by_screw(one, screw, locking.mm, blades_mm, corrections[one.valve.side], constants)
            for one in known
        ]
    sharing = {valve.id: valve.shares_rocker_with for valve in model.valves}
    return AdjustmentPlanOut(
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
        locking_allowance_mm=locking.mm,
        allowance_rests_on=AllowanceOut(lock_ups=locking.lock_ups, technician=locking.technician),
        preload=preload_of(model),
    )
