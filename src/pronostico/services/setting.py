"""The Set stop: the policies side by side, the choice, and what was really set."""

from sqlalchemy.orm import Session

from pronostico.core.setting import POLICIES
from pronostico.record.conversion import engine_from
from pronostico.record.faults import Fault
from pronostico.record.models import EngineModel, Record, SettingModel, VisitModel
from pronostico.services.analysis_report import ReportModel
from pronostico.services.engines import engine_record
from pronostico.services.errors import NotThere, Question, Stale, ask
from pronostico.services.preparing import visit_of
from pronostico.services.setting_plan import SettingPlanOut, plan_setting
from pronostico.services.visit_notes import SettingChoice, notes_of, with_notes
from pronostico.services.visits import check_valve
from pronostico.store import settings
from pronostico.store.visit_data import put_visit_data


class PolicyOut(ReportModel):
    """One policy: the targets, and the valve that goes out of spec first with them, in check intervals."""

    policy: str
    targets_mm: dict[str, float]
    first_out: str | None
    intervals: float | None


class DoneOut(ReportModel):
    """A setting that was noted; `id` is None for one that came with a record."""

    id: str | None
    valve: str
    target_mm: float | None
    turn_deg: float | None
    shim_from_mm: float | None
    shim_to_mm: float | None


class SetStopOut(ReportModel):
    """Everything that the Set stop shows. `unmeasured`: set, and not read as left since."""

    choice: SettingChoice
    plan: SettingPlanOut
    policies: list[PolicyOut]
    settings: list[DoneOut]
    unmeasured: list[str]


def _policies(record: Record, visit_id: str) -> list[PolicyOut]:
    found = []
    for policy in POLICIES:
        valves = plan_setting(record, visit_id, policy=policy, which="all").valves
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


def unmeasured(visit: VisitModel) -> list[str]:
    """Valves that were set and not measured as left since: locking moves a setting."""
    left = {one.valve for one in visit.readings if one.phase == "left" and one.tries}
    return sorted({one.valve for one in visit.settings} - left)


def set_stop(session: Session, engine_id: str, visit_id: str) -> SetStopOut:
    """The Set stop of a visit.

    Raises:
        NotThere: there is no such engine or visit.
    """
    record = engine_record(session, engine_id)
    visit = visit_of(record, visit_id)
    notes = notes_of(visit)
    choice = notes.setting or SettingChoice()
    decided = {valve: one.decision for valve, one in notes.decisions.items()}
    return SetStopOut(
        choice=choice,
        plan=plan_setting(record, visit_id, policy=choice.policy, which=choice.which, decided=decided),
        policies=_policies(record, visit_id),
        settings=[
            DoneOut(id=settings.setting_id(one), **one.model_dump(include=set(DoneOut.model_fields)))
            for one in visit.settings
        ],
        unmeasured=unmeasured(visit),
    )


def choose(
    session: Session, engine_id: str, visit_id: str, choice: SettingChoice, *, was: SettingChoice
) -> None:
    """Keep the choice of policy and valves, with its reason.

    Raises:
        NotThere: there is no such engine or visit.
        Stale: somebody else chose otherwise meanwhile.
    """
    visit = visit_of(engine_record(session, engine_id), visit_id)
    notes = notes_of(visit)
    now = notes.setting or SettingChoice()
    if now not in (was, choice):
        raise Stale([Fault("$.choice", f"was changed meanwhile to {now.policy}, {now.which}")])
    put_visit_data(session, engine_id, with_notes(visit, notes.model_copy(update={"setting": choice})))
    session.commit()


def _questions(engine: EngineModel, visit: VisitModel, setting: SettingModel) -> list[Question]:
    """What is odd about a setting, though it may be meant."""
    questions = []
    read = {one.valve for one in visit.readings if one.phase == "found" and one.tries}
    if setting.valve not in read:
        told = f"{setting.valve} was not read as found; once it is set, the figure before is lost for good"
        questions.append(Question("$.valve", told))
    known = engine_from(engine)
    spec, target = known.spec_of(known.valve(setting.valve), visit.date), setting.target_mm
    if target is not None and spec is not None and not spec.min_mm <= target <= spec.max_mm:
        told = f"{target:g} mm is outside the spec of {spec.min_mm:g} to {spec.max_mm:g} mm"
        questions.append(Question("$.target_mm", told, round(spec.middle_mm, 4)))
    series, shim = engine.shim_series, setting.shim_to_mm
    if series is not None and shim is not None and not series.from_mm <= shim <= series.to_mm:
        told = f"{shim:g} mm is outside the series of {series.from_mm:g} to {series.to_mm:g} mm"
        questions.append(Question("$.shim_to_mm", told))
    return questions


def note_setting(
    session: Session,
    engine_id: str,
    visit_id: str,
    identifier: str,
    setting: SettingModel,
    *,
    confirmed: list[str],
) -> None:
    """Note that a valve was set, under the page's own identifier; sent again it changes nothing.

    Raises:
        NotThere: there is no such engine or visit.
        UnknownValve: the engine has no such valve.
        Asked: the valve was not read before, or the figure is outside its spec or its series.
    """
    check_valve(session, engine_id, visit_id, setting.valve)
    record = engine_record(session, engine_id)
    ask(_questions(record.engine, visit_of(record, visit_id), setting), confirmed)
    named = setting.model_copy(update={"entered": {"id": identifier}})
    settings.put_setting(session, engine_id, visit_id, named)
    session.commit()


def take_back_setting(session: Session, engine_id: str, visit_id: str, identifier: str) -> None:
    """Take back that a valve was set.

    Raises:
        NotThere: there is no such engine, visit or setting.
    """
    visit_of(engine_record(session, engine_id), visit_id)
    if not settings.remove_setting(session, engine_id, visit_id, identifier):
        raise NotThere("setting", identifier)
    session.commit()
