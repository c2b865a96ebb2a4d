"""The Prove stop of a visit: closed up, started, and whether the complaint is gone."""

from typing import Annotated

from fastapi import APIRouter
from pydantic import Field
from sqlalchemy.orm import Session

from pronostico.analysis.lookup import visit_of
from pronostico.analysis.verification import BeforeOrAfter, ProofOut, proof
from pronostico.analysis.visit_notes import Proved, Recheck
from pronostico.api.deps import SessionDep, WriteSessionDep
from pronostico.api.models import Confirmed, NoGuessing, RequestModel
from pronostico.record.models import CylinderNumber, Identifier
from pronostico.services.engines.load import engine_record
from pronostico.services.settings import shop_settings
from pronostico.services.visits import verify

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
    phase: BeforeOrAfter
    value: Annotated[float, Field(ge=-1e6, le=1e6), NoGuessing] | None
    confirmed: Confirmed


class RecheckIn(RequestModel):
    """When to look again; null goes back to what is proposed."""

    recheck: Recheck | None
    confirmed: Confirmed


class MinutesIn(RequestModel):
    """How long the work took; null where nobody looked at the clock."""

    minutes: Annotated[float, Field(ge=0, le=100_000), NoGuessing] | None


def _proof(session: Session, engine_id: str, visit_id: str) -> ProofOut:
    record = engine_record(session, engine_id)
    return proof(record, visit_of(record, visit_id), shop_settings(session))


@router.get("")
def get_proof(engine_id: str, visit_id: str, session: SessionDep) -> ProofOut:
    """What is to be ticked off, what became of the complaints, and when to look again."""
    return _proof(session, engine_id, visit_id)


@router.put("/ticks/{item_id}")
def put_tick(
    engine_id: str, visit_id: str, item_id: str, body: TickIn, writing: WriteSessionDep, session: SessionDep
) -> ProofOut:
    """Tick an item off, or not."""
    verify.tick(writing, engine_id, visit_id, item_id, done=body.done)
    return _proof(session, engine_id, visit_id)


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
    verify.prove(writing, engine_id, visit_id, finding_id, body.proved, was=body.was)
    return _proof(session, engine_id, visit_id)


@router.put("/figures")
def put_figure(
    engine_id: str, visit_id: str, body: FigureIn, writing: WriteSessionDep, session: SessionDep
) -> ProofOut:
    """Note a figure before or after."""
    verify.note_figure(
        writing,
        engine_id,
        visit_id,
        figure=body.id,
        cylinder=body.cylinder,
        phase=body.phase,
        value=body.value,
        confirmed=body.confirmed,
    )
    return _proof(session, engine_id, visit_id)


@router.put("/recheck")
def put_recheck(
    engine_id: str, visit_id: str, body: RecheckIn, writing: WriteSessionDep, session: SessionDep
) -> ProofOut:
    """Choose when to look again."""
    verify.keep_recheck(writing, engine_id, visit_id, body.recheck, confirmed=body.confirmed)
    return _proof(session, engine_id, visit_id)


@router.put("/minutes")
def put_minutes(
    engine_id: str, visit_id: str, body: MinutesIn, writing: WriteSessionDep, session: SessionDep
) -> ProofOut:
    """Note how long the work took."""
    verify.keep_minutes(writing, engine_id, visit_id, body.minutes)
    return _proof(session, engine_id, visit_id)
