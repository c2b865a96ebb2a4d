"""Visits: begun, prepared, looked into, measured."""

from typing import Annotated, Any

from fastapi import APIRouter, Query
from pydantic import Field
from sqlalchemy.orm import Session

from pronostico.analysis.lookup import findings_at
from pronostico.analysis.meter import offset_on
from pronostico.analysis.positions import school_of
from pronostico.analysis.simulated_parts import simulated_parts
from pronostico.api.blade_models import BladeSetOut
from pronostico.api.deps import NowDep, SessionDep, TodayDep, WriteSessionDep
from pronostico.api.models import FindingIn, NewIdentifier
from pronostico.api.visit_models import (
    AnsweredOut,
    BladesIn,
    CoverIn,
    ExpectedAnswersOut,
    MeasuredValveOut,
    MovedIn,
    MovedOut,
    PaperIn,
    PartsIn,
    PositionIn,
    SchoolIn,
    SetInUseIn,
    SkipIn,
    TryIn,
    VisitChangeIn,
    VisitIn,
    VisitOut,
)
from pronostico.core.thermal import why_not_cold
from pronostico.core.visits import THICKEST_BLADE_MM, Felt, Phase
from pronostico.record.base import Identifier
from pronostico.record.visit import FindingModel, TryModel, VisitModel
from pronostico.services.engines.load import engine_record
from pronostico.services.visits import answers, findings, position, prepare
from pronostico.services.visits.check_sheet_entry import PaperLine, type_in
from pronostico.services.visits.moving import move_visit
from pronostico.services.visits.steps import done_steps
from pronostico.services.workshop import blade_sets
from pronostico.store.visits import has_one_visit

router = APIRouter(prefix="/engines/{engine_id}/visits", tags=["visits"])
# An address has nothing but text in it.
BladesAsked = Annotated[
    list[Annotated[float, Field(gt=0, le=THICKEST_BLADE_MM)]], Query(min_length=1, max_length=6)
]


def _visit_out(session: Session, engine_id: str, visit_id: str) -> VisitOut:
    record = engine_record(session, engine_id)
    opened = answers.open_visit(session, engine_id, visit_id)
    visit, engine = opened.visit, record.engine
    noted = findings_at(record, visit_id)
    return VisitOut(
        positions=list(opened.positions),
        first_of_all=has_one_visit(session),
        first_of_engine=record.visits[0].id == visit_id,
        school=school_of(engine, visit),
        adjusted=list(dict.fromkeys(one.valve for one in visit.settings)),
        reference_temperature_c=engine.reference_temperature_c,
        cover_off=bool(visit.cover_off),
        simulated=simulated_parts(visit),
        id=visit.id,
        date=visit.date,
        usage=visit.usage,
        meter=visit.usage - offset_on(engine, visit.date),
        temperature_c=visit.temperature_c,
        last_run_hours_ago=visit.last_run_hours_ago,
        duty=visit.duty,
        access=visit.access or "straight",
        work=visit.work or "check",
        technician=visit.technician,
        notes=visit.notes,
        not_cold=list(
            why_not_cold(
                temperature_c=visit.temperature_c,
                below_c=engine.check_below_temperature_c,
                last_run_hours_ago=visit.last_run_hours_ago,
            )
        ),
        done=done_steps(record, opened, noted),
        parts=visit.parts,
        progress=visit.progress,
        parts_used=visit.parts_used,
        parts_changed=visit.parts_changed,
        quick_checks=visit.quick_checks,
        findings=noted,
        blade_set=None
        if opened.gauge_set is None
        else BladeSetOut.model_validate(blade_sets.as_blade_set(opened.gauge_set, engine)),
        valves=[MeasuredValveOut.model_validate(valve) for valve in opened.valves],
    )


@router.post("", status_code=201)
def post_visit(
    engine_id: str,
    body: VisitIn,
    writing: WriteSessionDep,
    session: SessionDep,
    today: TodayDep,
    now: NowDep,
) -> VisitOut:
    """Begin a visit."""
    meter = None if body.new_meter is None else prepare.NewMeter(body.new_meter.old, body.new_meter.new)
    visit = VisitModel(**body.model_dump(exclude={"new_meter", "confirmed"}))
    prepare.start_visit(
        writing, engine_id, visit, new_meter=meter, confirmed=body.confirmed, today=today, now=now
    )
    return _visit_out(session, engine_id, body.id)


@router.get("/{visit_id}")
def get_visit(engine_id: str, visit_id: str, session: SessionDep) -> VisitOut:
    """A visit with the answers at every valve."""
    return _visit_out(session, engine_id, visit_id)


@router.patch("/{visit_id}")
def patch_visit(
    engine_id: str,
    visit_id: str,
    body: VisitChangeIn,
    writing: WriteSessionDep,
    session: SessionDep,
    today: TodayDep,
) -> VisitOut:
    """Change some of a visit's own fields."""
    changes: dict[str, Any] = body.changes.model_dump(exclude_unset=True)
    was: dict[str, Any] = body.was.model_dump(exclude_unset=True)
    prepare.change_visit(
        writing, engine_id, visit_id, changes=changes, was=was, confirmed=body.confirmed, today=today
    )
    return _visit_out(session, engine_id, visit_id)


@router.post("/{visit_id}/moved")
def post_visit_moved(
    engine_id: str, visit_id: str, body: MovedIn, writing: WriteSessionDep, today: TodayDep
) -> MovedOut:
    """Have a visit that was begun on the wrong engine be another engine's, with the cases opened at it."""
    visit, cases = move_visit(writing, engine_id, visit_id, to=body.to, today=today)
    return MovedOut(engine=body.to, visit=visit, cases=cases)


@router.post("/{visit_id}/preparation-copied")
def post_preparation_copied(
    engine_id: str, visit_id: str, writing: WriteSessionDep, session: SessionDep
) -> VisitOut:
    """Take over from the visit before what is not entered yet."""
    prepare.copy_preparation(writing, engine_id, visit_id)
    return _visit_out(session, engine_id, visit_id)


@router.put("/{visit_id}/parts")
def put_parts(
    engine_id: str, visit_id: str, body: PartsIn, writing: WriteSessionDep, session: SessionDep
) -> VisitOut:
    """Note the small parts laid aside, and where they came from."""
    prepare.put_parts(writing, engine_id, visit_id, parts=body.parts, was=body.was)
    return _visit_out(session, engine_id, visit_id)


@router.put("/{visit_id}/blade-set")
def put_blade_set_in_use(
    engine_id: str, visit_id: str, body: SetInUseIn, writing: WriteSessionDep, session: SessionDep
) -> VisitOut:
    """Choose the feeler gauge set in use."""
    blade_sets.use_blade_set(writing, engine_id, visit_id, body.blade_set)
    return _visit_out(session, engine_id, visit_id)


@router.put("/{visit_id}/findings/{finding_id}")
def put_visit_finding(
    engine_id: str,
    visit_id: str,
    finding_id: Identifier,
    body: FindingIn,
    writing: WriteSessionDep,
    session: SessionDep,
) -> list[FindingModel]:
    """Note a complaint or something seen: present, absent, or not known."""
    finding = FindingModel(id=finding_id, **body.model_dump(exclude={"was"}))
    findings.note_visit_finding(writing, engine_id, visit_id, finding, was=body.was)
    return findings_at(engine_record(session, engine_id), visit_id)


@router.put("/{visit_id}/school")
def put_school(
    engine_id: str, visit_id: str, body: SchoolIn, writing: WriteSessionDep, session: SessionDep
) -> VisitOut:
    """Choose how the crank is turned."""
    position.choose_school(writing, engine_id, visit_id, body.school)
    return _visit_out(session, engine_id, visit_id)


@router.put("/{visit_id}/cover")
def put_cover(
    engine_id: str, visit_id: str, body: CoverIn, writing: WriteSessionDep, session: SessionDep
) -> VisitOut:
    """Note whether the valve cover is off."""
    position.note_cover(writing, engine_id, visit_id, off=body.off)
    return _visit_out(session, engine_id, visit_id)


@router.post("/{visit_id}/positions")
def post_position(
    engine_id: str,
    visit_id: str,
    body: PositionIn,
    writing: WriteSessionDep,
    session: SessionDep,
    now: NowDep,
) -> VisitOut:
    """Say of a position that looks one turn off that its readings stand, or that they are taken again."""
    if body.action == "confirm":
        position.confirm_position(writing, engine_id, visit_id, body.valves)
    else:
        position.read_again(writing, engine_id, visit_id, body.valves, now=now)
    return _visit_out(session, engine_id, visit_id)


def _answered(session: Session, engine_id: str, visit_id: str, valve: str) -> AnsweredOut:
    """A valve after an answer."""
    return AnsweredOut.model_validate(answers.answered_valve(session, engine_id, visit_id, valve))


# What is shown is read after the writing is done and its turn given back: nobody waits for sums.
@router.put("/{visit_id}/tries/{try_id}")
def put_try(
    engine_id: str,
    visit_id: str,
    try_id: NewIdentifier,
    body: TryIn,
    writing: WriteSessionDep,
    session: SessionDep,
    now: NowDep,
) -> AnsweredOut:
    """Store one answer; sent twice it is stored once."""
    answers.note_try(
        writing,
        engine_id,
        visit_id,
        try_id,
        valve=body.valve,
        phase=body.phase,
        crank_turn=body.crank_turn,
        one=TryModel(blades_mm=body.blades_mm, felt=body.felt, entered=body.entered),
        now=now,
    )
    return _answered(session, engine_id, visit_id, body.valve)


@router.delete("/{visit_id}/tries/{try_id}")
def delete_try(
    engine_id: str,
    visit_id: str,
    try_id: str,
    writing: WriteSessionDep,
    session: SessionDep,
    now: NowDep,
) -> AnsweredOut:
    """Take an answer back; it stays stored, marked."""
    valve = answers.take_back_try(writing, engine_id, visit_id, try_id, now=now)
    return _answered(session, engine_id, visit_id, valve)


@router.get("/{visit_id}/valves/{valve}/expected-answers")
def get_expected_answers(
    engine_id: str, visit_id: str, valve: str, phase: Phase, blades_mm: BladesAsked, session: SessionDep
) -> ExpectedAnswersOut:
    """How likely each answer of a blade or a stack is by what was read so far."""
    expected = answers.expected_answers(
        session, engine_id, visit_id, valve=valve, phase=phase, blades_mm=tuple(blades_mm)
    )
    return ExpectedAnswersOut.model_validate(expected)


@router.put("/{visit_id}/valves/{valve}/skip")
def put_skip(
    engine_id: str, visit_id: str, valve: str, body: SkipIn, writing: WriteSessionDep, session: SessionDep
) -> AnsweredOut:
    """Note why a valve is not read."""
    answers.skip_valve(writing, engine_id, visit_id, valve=valve, phase=body.phase, reason=body.reason)
    return _answered(session, engine_id, visit_id, valve)


def _try(blades: BladesIn | None, felt: Felt) -> TryModel | None:
    if blades is None:
        return None
    return TryModel(blades_mm=blades.blades_mm, felt=felt, entered=blades.entered)


@router.post("/{visit_id}/check-sheet")
def post_sheet(
    engine_id: str,
    visit_id: str,
    body: PaperIn,
    writing: WriteSessionDep,
    session: SessionDep,
    now: NowDep,
) -> VisitOut:
    """Type in a sheet of paper, all its lines at once."""
    lines = [
        PaperLine(one.id, one.valve, one.phase, _try(one.went, one.felt), _try(one.refused, "no-go"))
        for one in body.lines
    ]
    type_in(writing, engine_id, visit_id, lines, confirmed=body.confirmed, now=now)
    return _visit_out(session, engine_id, visit_id)
