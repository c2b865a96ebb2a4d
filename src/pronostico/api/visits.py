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
    engine_id: str, body: VisitIn, session: WriteSessionDep, today: TodayDep, now: NowDep
) -> VisitOut:
    """Begin a visit."""
    visits.start_visit(session, engine_id, VisitModel(**body.model_dump()), today=today, now=now)
    return _visit_out(visits.open_visit(session, engine_id, body.id))


@router.get("/{visit_id}")
def get_visit(engine_id: str, visit_id: str, session: SessionDep) -> VisitOut:
    """A visit with the answers at every valve."""
    return _visit_out(visits.open_visit(session, engine_id, visit_id))


@router.put("/{visit_id}/tries/{try_id}")
def put_try(
    engine_id: str, visit_id: str, try_id: NewIdentifier, body: TryIn, session: WriteSessionDep, now: NowDep
) -> MeasuredValveOut:
    """Store one answer; sent twice it is stored once."""
    measured = visits.note_try(
        session,
        engine_id,
        visit_id,
        try_id,
        valve=body.valve,
        phase=body.phase,
        one=TryModel(blades_mm=body.blades_mm, felt=body.felt),
        now=now,
    )
    return MeasuredValveOut.model_validate(measured)


@router.delete("/{visit_id}/tries/{try_id}")
def delete_try(
    engine_id: str, visit_id: str, try_id: str, session: WriteSessionDep, now: NowDep
) -> MeasuredValveOut:
    """Take an answer back; it stays stored, marked."""
    return MeasuredValveOut.model_validate(
        visits.take_back_try(session, engine_id, visit_id, try_id, now=now)
    )
