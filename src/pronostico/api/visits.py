"""Visits and the answers given at them."""

from fastapi import APIRouter

from pronostico.api.deps import NowDep, SessionDep, TodayDep, WriteSessionDep
from pronostico.api.models import MeasuredValveOut, NewIdentifier, TryIn, VisitIn, VisitOut
from pronostico.record.models import TryModel, VisitModel
from pronostico.services import visits
from pronostico.services.measuring import OpenVisit

router = APIRouter(prefix="/engines/{engine_id}/visits", tags=["visits"])


def _visit_out(opened: OpenVisit) -> VisitOut:
    visit = opened.visit
    return VisitOut(
        id=visit.id,
        date=visit.date,
        usage=visit.usage,
        temperature_c=visit.temperature_c,
        technician=visit.technician,
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
    visits.start_visit(writing, engine_id, VisitModel(**body.model_dump()), today=today, now=now)
    return _visit_out(visits.open_visit(session, engine_id, body.id))


@router.get("/{visit_id}")
def get_visit(engine_id: str, visit_id: str, session: SessionDep) -> VisitOut:
    """A visit with the answers at every valve."""
    return _visit_out(visits.open_visit(session, engine_id, visit_id))


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
) -> MeasuredValveOut:
    """Store one answer; sent twice it is stored once."""
    visits.note_try(
        writing,
        engine_id,
        visit_id,
        try_id,
        valve=body.valve,
        phase=body.phase,
        one=TryModel(blades_mm=body.blades_mm, felt=body.felt),
        now=now,
    )
    return MeasuredValveOut.model_validate(visits.measured_valve(session, engine_id, visit_id, body.valve))


@router.delete("/{visit_id}/tries/{try_id}")
def delete_try(
    engine_id: str,
    visit_id: str,
    try_id: str,
    writing: WriteSessionDep,
    session: SessionDep,
    now: NowDep,
) -> MeasuredValveOut:
    """Take an answer back; it stays stored, marked."""
    valve = visits.take_back_try(writing, engine_id, visit_id, try_id, now=now)
    return MeasuredValveOut.model_validate(visits.measured_valve(session, engine_id, visit_id, valve))
