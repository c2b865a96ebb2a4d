"""A visit assessed: every reading beside its neighbours and last time, and what was decided."""

from fastapi import APIRouter

from pronostico.analysis.report import SpecOut, estimate_out
from pronostico.api.deps import SessionDep, WriteSessionDep
from pronostico.api.visit_models import (
    AdviceOut,
    ApartOut,
    AssessedValveOut,
    AssessmentOut,
    CorrectionOut,
    DecisionIn,
    LastTimeOut,
    ShiftOut,
    SwingOut,
)
from pronostico.services.visits import assess

router = APIRouter(prefix="/engines/{engine_id}/visits/{visit_id}", tags=["visits"])


def _assessment_out(visit: assess.AssessedVisit) -> AssessmentOut:
    valves = []
    for one in visit.valves:
        assessed = one.assessed
        last = assessed.last_time
        valves.append(
            AssessedValveOut(
                valve=assessed.valve.id,
                cylinder=assessed.valve.cylinder,
                side=assessed.valve.side,
                spec=None if assessed.at.spec is None else SpecOut.model_validate(assessed.at.spec),
                phase=one.phase,
                found=estimate_out(assessed.at.found),
                standing=estimate_out(assessed.at.standing),
                neighbours=None
                if assessed.neighbours is None
                else ApartOut.model_validate(assessed.neighbours),
                last_time=None if last is None else LastTimeOut.model_validate(last),
                swing=None if assessed.swing is None else SwingOut.model_validate(assessed.swing),
                advised=assessed.advised,
                because=assessed.because,
                advice=None if one.advice is None else AdviceOut.model_validate(one.advice),
                skipped=one.skipped,
                decided=one.decided,
                needs_number=one.needs_number,
            )
        )
    return AssessmentOut(
        valves=valves,
        corrections={side: CorrectionOut.model_validate(one) for side, one in visit.corrections.items()},
        shift=None if visit.shift is None else ShiftOut.model_validate(visit.shift),
        temperature_c=visit.temperature_c,
        reference_temperature_c=visit.reference_temperature_c,
        positions=visit.positions,
    )


@router.get("/assessment")
def get_assessment(engine_id: str, visit_id: str, session: SessionDep) -> AssessmentOut:
    """Every reading beside its neighbours and last time, and what was decided."""
    return _assessment_out(assess.assess_visit(session, engine_id, visit_id))


@router.put("/valves/{valve}/decision")
def put_decision(
    engine_id: str, visit_id: str, valve: str, body: DecisionIn, writing: WriteSessionDep, session: SessionDep
) -> AssessmentOut:
    """Decide what is to be done with a valve."""
    assess.decide(writing, engine_id, visit_id, valve, body.decided, was=body.was)
    return _assessment_out(assess.assess_visit(session, engine_id, visit_id))
