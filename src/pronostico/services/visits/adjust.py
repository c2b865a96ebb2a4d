"""The Adjust step: the policies side by side, the choice, and what was really set."""

from dataclasses import dataclass
from datetime import datetime

from sqlalchemy.orm import Session

from pronostico.analysis.adjustment_plan import plan_adjustment
from pronostico.analysis.adjustment_plan_report import AdjustmentPlanOut
from pronostico.analysis.adjustment_state import shims_now
from pronostico.analysis.adjustments_made import DoneOut, done_out, unmeasured
from pronostico.analysis.lookup import visit_of
from pronostico.analysis.report_model import ReportModel
from pronostico.core.adjust.targets import POLICIES
from pronostico.errors import Question, Stale, ask
from pronostico.record.conversion import engine_from
from pronostico.record.engine import EngineModel
from pronostico.record.faults import Fault
from pronostico.record.models import Record
from pronostico.record.visit import SettingModel, VisitModel
from pronostico.record.work import AdjustmentChoice, ChangedPart, ShimSeen, ShimSource, ValvePart
from pronostico.services.engines.load import engine_record
from pronostico.services.merging import one_merged
from pronostico.services.visits.answers import check_valve
from pronostico.services.workshop import shim_box
from pronostico.store import settings, tries
from pronostico.store.blade_sets import set_at_visit
from pronostico.store.shim_box import count_of
from pronostico.store.visit_data import put_visit_data


class PolicyOut(ReportModel):
    """One policy: the targets, and the valve that goes out of spec first with them, in check intervals."""

    policy: str
    targets_mm: dict[str, float]
    first_out: str | None
    intervals: float | None


class AdjustStepOut(ReportModel):
    """Everything that the Adjust step shows. `unmeasured`: set, and not read as left since."""

    choice: AdjustmentChoice
    plan: AdjustmentPlanOut
    policies: list[PolicyOut]
    settings: list[DoneOut]
    unmeasured: list[str]
    shims_seen: dict[str, ShimSeen]


def _policies(record: Record, visit_id: str) -> list[PolicyOut]:
    found = []
    for policy in POLICIES:
        valves = plan_adjustment(record, visit_id, policy=policy, which="all").valves
        lasting = {one.valve: one.intervals_in_spec for one in valves if one.intervals_in_spec is not None}
        first = min(lasting, key=lambda valve: lasting[valve]) if lasting else None
        found.append(
            PolicyOut(
                policy=policy,
                targets_mm={one.valve: one.target_mm for one in valves if one.target_mm is not None},
                first_out=first,
                intervals=None if first is None else lasting[first],
            )
        )
    return found


def adjust_step(session: Session, engine_id: str, visit_id: str) -> AdjustStepOut:
    """The Adjust step of a visit.

    Raises:
        NotThere: there is no such engine or visit.
    """
    record = engine_record(session, engine_id)
    visit = visit_of(record, visit_id)
    choice = visit.adjustment_choice or AdjustmentChoice()
    decided = {valve: one.decision for valve, one in visit.decisions.items()}
    gauge_set = set_at_visit(session, engine_id, visit_id) or record.gauge_set
    return AdjustStepOut(
        choice=choice,
        plan=plan_adjustment(
            record,
            visit_id,
            policy=choice.policy,
            which=choice.which,
            decided=decided,
            blades_mm=gauge_set.blades_mm if gauge_set is not None else None,
        ),
        policies=_policies(record, visit_id),
        settings=[done_out(one) for one in visit.settings],
        unmeasured=unmeasured(record.engine, visit),
        shims_seen=visit.shims_seen,
    )


def choose(
    session: Session, engine_id: str, visit_id: str, choice: AdjustmentChoice, *, was: AdjustmentChoice
) -> None:
    """Store the choice of policy and valves, with its reason.

    Raises:
        NotThere: there is no such engine or visit.
        Stale: somebody else chose otherwise meanwhile.
    """
    visit = visit_of(engine_record(session, engine_id), visit_id)
    now = visit.adjustment_choice or AdjustmentChoice()
    if now not in (was, choice):
        raise Stale([Fault("$.choice", f"has been changed to {now.policy}, {now.which}")])
    put_visit_data(session, engine_id, visit.model_copy(update={"adjustment_choice": choice}))
    session.commit()


def _target_question(engine: EngineModel, visit: VisitModel, setting: SettingModel) -> list[Question]:
    """A target outside the spec may be meant; then it has a reason."""
    known = engine_from(engine)
    spec, target = known.spec_of(known.valve(setting.valve), visit.date), setting.target_mm
    if target is None or spec is None or spec.min_mm <= target <= spec.max_mm:
        return []
    limits = f"{spec.min_mm:g} to {spec.max_mm:g} mm"
    message = f"{target:g} mm is outside the spec of {limits}; if intended, give the reason"
    return [Question("$.target_mm", message, round(spec.middle_mm, 4))]


def _shim_questions(engine: EngineModel, setting: SettingModel, *, at_hand: bool) -> list[Question]:
    """A shim that the series does not have, or that nobody can have taken from the box."""
    series, shim = engine.shim_series, setting.shim_to_mm
    if shim is None:
        return []
    if series is not None and not series.from_mm <= shim <= series.to_mm:
        message = f"{shim:g} mm is outside the series of {series.from_mm:g} to {series.to_mm:g} mm"
        return [Question("$.shim_to_mm", message)]
    if not at_hand:
        return [Question("$.shim_to_mm", f"the box has no shim of {shim:g} mm; was it bought for this job?")]
    return []


def _before_question(engine: EngineModel, visit: VisitModel, valve: str) -> list[Question]:
    """Once a valve is set, how it stood is lost for good."""
    read = {one.valve for one in visit.readings if one.phase == "found" and one.tries}
    # Lifters that take up their own play have no clearance to be read.
    if valve in read or engine.adjustment == "hydraulic":
        return []
    message = f"{valve} was not measured as found; after adjusting, the as-found reading is lost"
    return [Question("$.valve", message)]


@dataclass(frozen=True, slots=True)
class Doing:
    """How a valve was set, beyond its figures: where the shim came from, and why so."""

    source: ShimSource | None = None
    moved_from: str | None = None
    reason: str = ""


def _source_of(
    session: Session, engine: EngineModel, setting: SettingModel, doing: Doing, noted: SettingModel | None
) -> ShimSource | None:
    """Where a shim came from: as was said or noted before, else from the box where it has one.

    Args:
        noted: the setting of the same identifier, where it was noted already.
    """
    if setting.shim_to_mm is None or doing.source is not None:
        return doing.source
    # The box may have no more of them for the very reason that this one was taken.
    if noted is not None and noted.shim_to_mm == setting.shim_to_mm:
        return noted.shim_source
    diameter = shim_box.diameter_of(engine)
    return "stock" if count_of(session, setting.shim_to_mm, diameter) else "order"


def _named(
    engine: EngineModel, identifier: str, setting: SettingModel, doing: Doing, source: ShimSource | None
) -> SettingModel:
    is_preload = engine.adjustment == "hydraulic" and setting.turn_deg is not None
    preload_turns = abs(setting.turn_deg or 0.0) / 360.0 if is_preload else None
    return setting.model_copy(
        update={
            "id": identifier,
            "shim_source": source,
            "moved_from": doing.moved_from if source == "moved" else None,
            "reason": doing.reason.strip() or None,
            "preload_turns": preload_turns,
        }
    )


def note_setting(
    session: Session,
    engine_id: str,
    visit_id: str,
    identifier: str,
    setting: SettingModel,
    *,
    doing: Doing,
    confirmed: list[str],
    now: datetime,
) -> None:
    """Note that a valve was set, under the page's own identifier; sent again it changes nothing.

    A reading as left of before this setting tells no longer how the valve stands, and is taken back.

    Raises:
        NotThere: there is no such engine or visit.
        UnknownValve: the engine has no such valve, or not that from which the shim came.
        Asked: the valve was not read before, or the figure is outside its spec, its series or the box.
        Stale: the box has no such shim any more.
    """
    for valve in filter(None, (setting.valve, doing.moved_from)):
        check_valve(session, engine_id, visit_id, valve)
    record = engine_record(session, engine_id)
    engine, visit = record.engine, visit_of(record, visit_id)
    others = [one for one in visit.settings if one.id != identifier]
    noted = next((one for one in visit.settings if one.id == identifier), None)
    source = _source_of(session, engine, setting, doing, noted)
    questions = [
        *_before_question(engine, visit, setting.valve),
        *_target_question(engine, visit, setting),
        *_shim_questions(
            engine, setting, at_hand=source != "order" or doing.source == "order" or noted is not None
        ),
    ]
    ask(questions, confirmed)
    if setting.shim_to_mm is not None and setting.shim_from_mm is None:
        without = visit.model_copy(update={"settings": others})
        setting = setting.model_copy(update={"shim_from_mm": shims_now(record, without)[setting.valve]})
    named = _named(engine, identifier, setting, doing, source)
    shim_box.follow(session, engine, visit.settings, [*others, named])
    again = any(one.valve == setting.valve for one in others) and len(others) == len(visit.settings)
    if again:
        tries.take_back_phase(session, engine_id, visit_id, valve=setting.valve, phase="left", now=now)
    settings.put_setting(session, engine_id, visit_id, named)
    session.commit()


def take_back_setting(session: Session, engine_id: str, visit_id: str, identifier: str) -> None:
    """Take back that a valve was set; shims go back to where they came from. Sent again it changes nothing.

    Raises:
        NotThere: there is no such engine or visit.
        Stale: the shim that had come out of it was fitted elsewhere since.
    """
    record = engine_record(session, engine_id)
    visit = visit_of(record, visit_id)
    others = [one for one in visit.settings if one.id != identifier]
    if not settings.remove_setting(session, engine_id, visit_id, identifier):
        return
    shim_box.follow(session, record.engine, visit.settings, others)
    session.commit()


def change_parts(
    session: Session,
    engine_id: str,
    visit_id: str,
    valve: str,
    parts: list[ValvePart],
    *,
    shown: tuple[list[ValvePart]] | None,
) -> None:
    """Note which parts of a valve were changed: its clearance after owes nothing to that before.

    Args:
        shown: what the page showed; None: it did not say.

    Raises:
        NotThere: there is no such engine, visit or valve.
        Stale: somebody else noted others meanwhile.
    """
    record = engine_record(session, engine_id)
    check_valve(session, engine_id, visit_id, valve)
    visit = visit_of(record, visit_id)
    now = [one.part for one in visit.parts_changed if one.valve == valve]
    kept = one_merged("parts", now, shown, list(dict.fromkeys(parts)))
    others = [one for one in visit.parts_changed if one.valve != valve]
    order = {one.id: place for place, one in enumerate(record.engine.valves)}
    changed = [*others, *(ChangedPart(valve=valve, part=part) for part in kept)]
    changed.sort(key=lambda one: order[one.valve])
    put_visit_data(session, engine_id, visit.model_copy(update={"parts_changed": changed}))
    session.commit()


def see_shim(
    session: Session, engine_id: str, visit_id: str, valve: str, seen: ShimSeen, *, was: ShimSeen
) -> None:
    """Note what is printed on the shim that was found in a valve, and what it measures.

    Raises:
        NotThere: there is no such engine or visit.
        UnknownValve: the engine has no such valve.
        Stale: somebody else noted otherwise meanwhile.
    """
    check_valve(session, engine_id, visit_id, valve)
    visit = visit_of(engine_record(session, engine_id), visit_id)
    now = visit.shims_seen.get(valve, ShimSeen())
    if now not in (was, seen):
        raise Stale([Fault("$.seen", f"has been changed to {now.printed_mm} and {now.measured_mm} mm")])
    shims = {**visit.shims_seen, valve: seen}
    if seen == ShimSeen():
        del shims[valve]
    put_visit_data(session, engine_id, visit.model_copy(update={"shims_seen": shims}))
    session.commit()
