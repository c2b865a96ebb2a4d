"""What is noted of the engine's state at a visit: the cover, the turning method, a suspect position."""

from collections.abc import Sequence
from datetime import datetime

from sqlalchemy.orm import Session

from pronostico.analysis.lookup import visit_of
from pronostico.analysis.visit_notes import VisitNotes, notes_of, with_notes
from pronostico.core.crank.stations import School
from pronostico.services.engines.load import engine_record
from pronostico.services.visits.answers import check_valve
from pronostico.store import tries
from pronostico.store.visit_data import put_visit_data


def _change_notes(session: Session, engine_id: str, visit_id: str, notes: VisitNotes) -> None:
    visit = visit_of(engine_record(session, engine_id), visit_id)
    put_visit_data(session, engine_id, with_notes(visit, notes))


def choose_school(session: Session, engine_id: str, visit_id: str, school: School) -> None:
    """Note the turning method of a visit; the next one at this engine begins with it.

    Raises:
        NotThere: there is no such engine or visit.
    """
    notes = notes_of(visit_of(engine_record(session, engine_id), visit_id))
    _change_notes(session, engine_id, visit_id, notes.model_copy(update={"school": school}))
    session.commit()


def confirm_position(session: Session, engine_id: str, visit_id: str, valves: Sequence[str]) -> None:
    """Note that readings stand though the crank seemed to be one turn off when they were taken.

    Raises:
        NotThere: there is no such engine or visit.
        UnknownValve: the engine has no such valve.
    """
    for valve in valves:
        check_valve(session, engine_id, visit_id, valve)
    notes = notes_of(visit_of(engine_record(session, engine_id), visit_id))
    confirmed = [*notes.confirmed, *(one for one in valves if one not in notes.confirmed)]
    _change_notes(session, engine_id, visit_id, notes.model_copy(update={"confirmed": confirmed}))
    session.commit()


def note_cover(session: Session, engine_id: str, visit_id: str, *, off: bool) -> None:
    """Note whether the valve cover is off.

    Raises:
        NotThere: there is no such engine or visit.
    """
    notes = notes_of(visit_of(engine_record(session, engine_id), visit_id))
    _change_notes(session, engine_id, visit_id, notes.model_copy(update={"cover_off": off}))
    session.commit()


def read_again(
    session: Session, engine_id: str, visit_id: str, valves: Sequence[str], *, now: datetime
) -> None:
    """Take back what was found of some valves, to be read again; the answers stay stored, marked.

    Raises:
        NotThere: there is no such engine or visit.
        UnknownValve: the engine has no such valve.
    """
    for valve in valves:
        check_valve(session, engine_id, visit_id, valve)
        tries.take_back_phase(session, engine_id, visit_id, valve=valve, phase="found", now=now)
    notes = notes_of(visit_of(engine_record(session, engine_id), visit_id))
    confirmed = [one for one in notes.confirmed if one not in valves]
    _change_notes(session, engine_id, visit_id, notes.model_copy(update={"confirmed": confirmed}))
    session.commit()
