"""The end of a case: closed with what was really found, and opened again."""

from datetime import date
from uuid import uuid4

from sqlalchemy.orm import Session

from pronostico.analysis.evidence import evidence_of
from pronostico.analysis.lookup import case_of
from pronostico.core.causes.learning import lesson_of
from pronostico.core.causes.places import place_at
from pronostico.errors import Refused, Stale
from pronostico.knowledge import load_knowledge
from pronostico.record.conversion import engine_from
from pronostico.record.engine import EngineModel
from pronostico.record.faults import Fault
from pronostico.record.models import CaseModel, Confirmed
from pronostico.services.engines.load import engine_record
from pronostico.store.lessons import KeptLesson, close_case

SOMETHING_ELSE = "something-else"
"""Found, but none of the causes that are known; its note says what."""


def _faults(engine: EngineModel, case: CaseModel, outcome: CaseModel, today: date) -> list[Fault]:
    faults = []
    closed = outcome.closed
    if closed is not None and closed > today:
        faults.append(Fault("$.closed", f"{closed} lies in the future (today is {today})"))
    if closed is not None and closed < case.opened:
        faults.append(Fault("$.closed", f"{closed} is before it was opened ({case.opened})"))
    cylinders = {valve.cylinder for valve in engine.valves}
    known = load_knowledge().causes
    for at, one in enumerate(outcome.confirmed or ()):
        where = f"$.confirmed[{at}]"
        kind = known.get(one.cause)
        if kind is None and one.cause != SOMETHING_ELSE:
            faults.append(Fault(f"{where}.cause", f"there is no cause '{one.cause}'"))
        if kind is None and not (one.note or "").strip():
            faults.append(Fault(f"{where}.note", "must describe the outcome"))
        if one.cylinder is not None and one.cylinder not in cylinders:
            faults.append(Fault(f"{where}.cylinder", f"there is no cylinder {one.cylinder} on this engine"))
        if kind is not None and kind.place in ("valve", "cylinder") and one.cylinder is None:
            faults.append(Fault(f"{where}.cylinder", f"must name the cylinder: {kind.label} sits at one"))
        if kind is not None and kind.place in ("valve", "side") and one.side is None:
            faults.append(Fault(f"{where}.side", f"must say intake or exhaust: {kind.label} sits on one"))
    return faults


def _said(case: CaseModel) -> str:
    if case.confirmed is None:
        return "has been opened again"
    known = load_knowledge().causes
    found = [
        known[one.cause].label if one.cause in known else one.note or one.cause for one in case.confirmed
    ]
    return f"has been closed with: {', '.join(found) or 'nothing found'}"


def close(
    session: Session,
    engine_id: str,
    case_id: str,
    *,
    closed: date,
    confirmed: list[Confirmed],
    today: date,
    shown: tuple[list[Confirmed] | None] | None = None,
) -> CaseModel:
    """Close a case with what was found; what it teaches counts from then on. Once more: in place of before.

    Args:
        shown: what the page showed before (of an open case nothing); None: it did not say.

    Raises:
        NotThere: there is no such engine or case.
        Stale: somebody else closed it otherwise meanwhile, or opened it again.
        Refused: the day, a cause or its place cannot be.
    """
    record = engine_record(session, engine_id)
    case = case_of(record, case_id)
    if shown is not None and case.confirmed not in (shown[0], confirmed):
        raise Stale([Fault("$.confirmed", _said(case))])
    outcome = case.model_copy(update={"closed": closed, "confirmed": confirmed})
    faults = _faults(record.engine, case, outcome, today)
    if faults:
        raise Refused(faults)
    engine = engine_from(record.engine)
    places = [(one.cause, place_at(engine, one.cylinder, one.side)) for one in confirmed]
    # Learned of the knowledge as it is stated, not of what earlier cases made of it.
    lesson = lesson_of(engine, load_knowledge(), evidence_of(record, case), places)
    close_case(session, engine_id, outcome, KeptLesson(uuid4().hex, closed, lesson))
    session.commit()
    return outcome


def open_again(session: Session, engine_id: str, case_id: str) -> CaseModel:
    """Open a case again: what was confirmed and what it taught are taken back.

    Raises:
        NotThere: there is no such engine or case.
    """
    case = case_of(engine_record(session, engine_id), case_id)
    reopened = case.model_copy(update={"closed": None, "confirmed": None})
    close_case(session, engine_id, reopened, None)
    session.commit()
    return reopened
