"""The Prove stop of a visit: closed up, started, and whether the complaint is gone."""

from typing import Annotated

from fastapi import APIRouter
from pydantic import Field

from pronostico.api.deps import SessionDep, WriteSessionDep
from pronostico.api.models import Confirmed, NoGuessing, RequestModel
from pronostico.record.models import CylinderNumber, Identifier
from pronostico.services import proving
from pronostico.services.proving import ProofOut, When
from pronostico.services.visit_notes import Proved, Recheck

router = APIRouter(prefix="/engines/{engine_id}/visits/{visit_id}/proof", tags=["proof"])


class TickIn(RequestModel):
    """Whether it is done."""

    done: bool


class ProvedIn(RequestModel):
    """What became of a complaint, null to take it back; and what the page showed before."""

    proved: Proved | None
    was: Proved | None


class FigureIn(RequestModel):
    """A figure before or after the work; null strikes it out."""

    id: Identifier
    cylinder: CylinderNumber | None = None
    phase: When
    value: Annotated[float, Field(ge=-1e6, le=1e6), NoGuessing] | None
    confirmed: Confirmed


class RecheckIn(RequestModel):
    """When to look again; null goes back to what is proposed."""

    recheck: Recheck | None
    confirmed: Confirmed


class MinutesIn(RequestModel):
    """How long the work took; null where nobody looked at the clock."""

    minutes: Annotated[float, Field(ge=0, le=100_000), NoGuessing] | None


@router.get("")
def get_proof(engine_id: str, visit_id: str, session: SessionDep) -> ProofOut:
    """What is to be ticked off, what became of the complaints, and when to look again."""
    return proving.proof(session, engine_id, visit_id)


@router.put("/ticks/{item_id}")
def put_tick(
    engine_id: str, visit_id: str, item_id: str, body: TickIn, writing: WriteSessionDep, session: SessionDep
) -> ProofOut:
    """Tick an item off, or not."""
    proving.tick(writing, engine_id, visit_id, item_id, done=body.done)
    return proving.proof(session, engine_id, visit_id)


@router.put("/complaints/{finding_id}")
def put_complaint(
    engine_id: str,
    visit_id: str,
    finding_id: str,
    body: ProvedIn,
    writing: WriteSessionDep,
    session: SessionDep,
) -> ProofOut:
    """Note what became of a complaint."""
    proving.prove(writing, engine_id, visit_id, finding_id, body.proved, was=body.was)
    return proving.proof(session, engine_id, visit_id)


@router.put("/figures")
def put_figure(
    engine_id: str, visit_id: str, body: FigureIn, writing: WriteSessionDep, session: SessionDep
) -> ProofOut:
    """Note a figure before or after."""
    proving.note_figure(
        writing,
        engine_id,
        visit_id,
        figure=body.id,
        cylinder=body.cylinder,
        phase=body.phase,
        value=body.value,
        confirmed=body.confirmed,
    )
    return proving.proof(session, engine_id, visit_id)


@router.put("/recheck")
def put_recheck(
    engine_id: str, visit_id: str, body: RecheckIn, writing: WriteSessionDep, session: SessionDep
) -> ProofOut:
    """Choose when to look again."""
    proving.keep_recheck(writing, engine_id, visit_id, body.recheck, confirmed=body.confirmed)
    return proving.proof(session, engine_id, visit_id)


@router.put("/minutes")
def put_minutes(
    engine_id: str, visit_id: str, body: MinutesIn, writing: WriteSessionDep, session: SessionDep
) -> ProofOut:
    """Note how long the work took."""
    proving.keep_minutes(writing, engine_id, visit_id, body.minutes)
    return proving.proof(session, engine_id, visit_id)
