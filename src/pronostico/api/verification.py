"""The Verify step of a visit: closed up, started, and whether the complaint is gone."""

from typing import Annotated

from fastapi import APIRouter
from pydantic import Field
from sqlalchemy.orm import Session

from pronostico.analysis.lookup import visit_of
from pronostico.analysis.verification import BeforeOrAfter, VerificationOut, verification
from pronostico.api.deps import SessionDep, TodayDep, WriteSessionDep
from pronostico.api.models import Confirmed, NoGuessing, RequestModel, ShownFigure, shown
from pronostico.record.base import CylinderNumber, Identifier
from pronostico.record.work import Progress, Recheck, UsedPart, Verified
from pronostico.services.engines.load import engine_record
from pronostico.services.settings import workshop_settings
from pronostico.services.visits import verify
from pronostico.services.visits.progress import keep_progress

router = APIRouter(prefix="/engines/{engine_id}/visits/{visit_id}/verification", tags=["verification"])


class TickIn(RequestModel):
    """Whether it is done."""

    done: bool


class VerifiedIn(RequestModel):
    """What became of a complaint, null to take it back; and what the page showed before."""

    verified: Verified | None
    was: Verified | None


class FigureIn(RequestModel):
    """A figure before or after the work, null strikes it out; `was`: what the page showed before."""

    id: Identifier
    cylinder: CylinderNumber | None = None
    phase: BeforeOrAfter
    value: Annotated[float, Field(ge=-1e6, le=1e6), NoGuessing] | None
    was: ShownFigure = None
    confirmed: Confirmed


class RecheckIn(RequestModel):
    """When to check next, null goes back to what is proposed; `was`: what the page showed before."""

    recheck: Recheck | None
    was: Recheck | None = None
    confirmed: Confirmed


class ProgressIn(RequestModel):
    """How far the work is; `was`: what the page showed, so that nobody is overwritten unseen."""

    progress: Progress
    was: Progress | None = None


class PartsUsedIn(RequestModel):
    """The parts that were used; `was`: what the page showed."""

    parts: Annotated[list[UsedPart], Field(max_length=200)]
    was: list[UsedPart] | None = None


class MinutesIn(RequestModel):
    """How long the work took, null where nobody looked at the clock; `was`: what the page showed before."""

    minutes: Annotated[float, Field(ge=0, le=100_000), NoGuessing] | None
    was: ShownFigure = None


def _verification(session: Session, engine_id: str, visit_id: str) -> VerificationOut:
    record = engine_record(session, engine_id)
    return verification(record, visit_of(record, visit_id), workshop_settings(session))


@router.get("")
def get_verification(engine_id: str, visit_id: str, session: SessionDep) -> VerificationOut:
    """What is to be ticked off, what became of the complaints, and when to check next."""
    return _verification(session, engine_id, visit_id)


@router.put("/ticks/{item_id}")
def put_tick(
    engine_id: str, visit_id: str, item_id: str, body: TickIn, writing: WriteSessionDep, session: SessionDep
) -> VerificationOut:
    """Tick an item off, or not."""
    verify.tick(writing, engine_id, visit_id, item_id, done=body.done)
    return _verification(session, engine_id, visit_id)


@router.put("/complaints/{finding_id}")
def put_complaint(
    engine_id: str,
    visit_id: str,
    finding_id: str,
    body: VerifiedIn,
    writing: WriteSessionDep,
    session: SessionDep,
) -> VerificationOut:
    """Note what became of a complaint."""
    verify.verify_complaint(writing, engine_id, visit_id, finding_id, body.verified, was=body.was)
    return _verification(session, engine_id, visit_id)


@router.put("/figures")
def put_figure(
    engine_id: str, visit_id: str, body: FigureIn, writing: WriteSessionDep, session: SessionDep
) -> VerificationOut:
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
        shown=shown(body, body.was),
    )
    return _verification(session, engine_id, visit_id)


@router.put("/recheck")
def put_recheck(
    engine_id: str, visit_id: str, body: RecheckIn, writing: WriteSessionDep, session: SessionDep
) -> VerificationOut:
    """Choose when to check next."""
    verify.keep_recheck(
        writing,
        engine_id,
        visit_id,
        body.recheck,
        confirmed=body.confirmed,
        shown=shown(body, body.was),
    )
    return _verification(session, engine_id, visit_id)


@router.put("/progress")
def put_progress(
    engine_id: str,
    visit_id: str,
    body: ProgressIn,
    writing: WriteSessionDep,
    session: SessionDep,
    today: TodayDep,
) -> VerificationOut:
    """Say how far the work is, what it waits for, and until when it is promised."""
    keep_progress(writing, engine_id, visit_id, body.progress, shown=body.was, today=today)
    return _verification(session, engine_id, visit_id)


@router.put("/parts-used")
def put_parts_used(
    engine_id: str, visit_id: str, body: PartsUsedIn, writing: WriteSessionDep, session: SessionDep
) -> VerificationOut:
    """Say which parts were used, for the account."""
    shown_before = None if body.was is None else (body.was,)
    verify.keep_parts_used(writing, engine_id, visit_id, body.parts, shown=shown_before)
    return _verification(session, engine_id, visit_id)


@router.put("/minutes")
def put_minutes(
    engine_id: str, visit_id: str, body: MinutesIn, writing: WriteSessionDep, session: SessionDep
) -> VerificationOut:
    """Note how long the work took."""
    verify.keep_minutes(writing, engine_id, visit_id, body.minutes, shown=shown(body, body.was))
    return _verification(session, engine_id, visit_id)
