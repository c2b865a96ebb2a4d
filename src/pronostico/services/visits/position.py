"""What is noted of the engine's state at a visit: the cover, the turning method, a suspect position."""

from collections.abc import Sequence
from datetime import datetime

from sqlalchemy.orm import Session

from pronostico.analysis.lookup import visit_of
from pronostico.core.crank.stations import School
from pronostico.services.engines.load import engine_record
from pronostico.services.visits.answers import check_valve
from pronostico.store import tries
from pronostico.store.visit_data import put_visit_data


def choose_school(session: Session, engine_id: str, visit_id: str, school: School) -> None:
    """Note the turning method of a visit; the next one at this engine begins with it.

    Raises:
        NotThere: there is no such engine or visit.
    """
    visit = visit_of(engine_record(session, engine_id), visit_id)
    put_visit_data(session, engine_id, visit.model_copy(update={"school": school}))
    session.commit()


def confirm_position(session: Session, engine_id: str, visit_id: str, valves: Sequence[str]) -> None:
    """Note that readings stand though the crank seemed to be one turn off when they were taken.

    Raises:
        NotThere: there is no such engine or visit.
        UnknownValve: the engine has no such valve.
    """
    for valve in valves:
        check_valve(session, engine_id, visit_id, valve)
    visit = visit_of(engine_record(session, engine_id), visit_id)
    confirmed = [*visit.positions_confirmed, *(one for one in valves if one not in visit.positions_confirmed)]
    put_visit_data(session, engine_id, visit.model_copy(update={"positions_confirmed": confirmed}))
    session.commit()


def note_cover(session: Session, engine_id: str, visit_id: str, *, off: bool) -> None:
    """Note whether the valve cover is off.

    Raises:
        NotThere: there is no such engine or visit.
    """
    visit = visit_of(engine_record(session, engine_id), visit_id)
    put_visit_data(session, engine_id, visit.model_copy(update={"cover_off": off}))
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
    visit = visit_of(engine_record(session, engine_id), visit_id)
    confirmed = [one for one in visit.positions_confirmed if one not in valves]
    put_visit_data(session, engine_id, visit.model_copy(update={"positions_confirmed": confirmed}))
    session.commit()
