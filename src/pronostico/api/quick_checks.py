"""Quick checks before a valve check."""

from fastapi import APIRouter

from pronostico.api.deps import SessionDep, WriteSessionDep
from pronostico.api.visit_models import QuickCheckIn
from pronostico.record.base import Identifier
from pronostico.record.work import QuickCheck
from pronostico.services.engines.load import engine_record
from pronostico.services.visits.quick_checks import note_quick_check

router = APIRouter(prefix="/engines/{engine_id}/visits/{visit_id}/quick-checks", tags=["visits"])


@router.put("/{check_id}")
def put_quick_check(
    engine_id: str,
    visit_id: str,
    check_id: Identifier,
    body: QuickCheckIn,
    writing: WriteSessionDep,
    session: SessionDep,
) -> dict[str, QuickCheck]:
    """Tick a quick check off with what was seen, or take that back."""
    was = None if body.was is None else (body.was.done, body.was.seen)
    note_quick_check(writing, engine_id, visit_id, check_id, done=body.done, seen=body.seen, was=was)
    record = engine_record(session, engine_id)
    return next(one.quick_checks for one in record.visits if one.id == visit_id)
