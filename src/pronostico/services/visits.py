"""A visit under way: begun, measured answer by answer, each stored as it is given."""

from datetime import date, datetime

from sqlalchemy.orm import Session

from pronostico.core.constants import DEFAULT, Constants
from pronostico.core.errors import UnknownValve
from pronostico.core.visits import Phase
from pronostico.record.faults import Fault
from pronostico.record.models import TryModel, VisitModel
from pronostico.services.engines import engine_record
from pronostico.services.errors import AlreadyThere, NotThere, Refused
from pronostico.services.measuring import MeasuredValve, Measuring, OpenVisit
from pronostico.store import records, tries


def _valves_at(session: Session, engine_id: str, visit_id: str) -> tuple[str, ...]:
    """The valves of the engine that a visit is of; told without reading its whole record, for speed."""
    valves = records.valve_ids(session, engine_id)
    if valves is None:
        raise NotThere("engine", engine_id)
    if not records.has_visit(session, engine_id, visit_id):
        raise NotThere("visit", visit_id)
    return valves


def open_visit(session: Session, engine_id: str, visit_id: str, constants: Constants = DEFAULT) -> OpenVisit:
    """A visit as the measuring screen shows it.

    Raises:
        NotThere: there is no such engine or visit.
    """
    return Measuring(session, engine_record(session, engine_id), visit_id, constants).opened()


def measured_valve(
    session: Session, engine_id: str, visit_id: str, valve: str, constants: Constants = DEFAULT
) -> MeasuredValve:
    """One valve of a visit: its answers, what they say, and what to offer next.

    Raises:
        NotThere: there is no such engine or visit.
        UnknownValve: the engine has no such valve.
    """
    return Measuring(session, engine_record(session, engine_id), visit_id, constants).measured(valve)


def _faults_of_new_visit(visit: VisitModel, before: VisitModel | None, today: date) -> list[Fault]:
    faults = []
    if visit.date > today:
        faults.append(Fault("$.date", f"{visit.date} lies in the future (today is {today})"))
    if before is None:
        return faults
    if visit.usage < before.usage:
        faults.append(
            Fault(
                "$.usage",
                f"is {visit.usage:g}, less than the {before.usage:g} of the last visit ({before.date}); "
                "usage is the running total and cannot go back",
            )
        )
    if visit.date < before.date:
        faults.append(Fault("$.date", f"{visit.date} is before the last visit ({before.date})"))
    return faults


def start_visit(
    session: Session, engine_id: str, visit: VisitModel, *, today: date, now: datetime
) -> VisitModel:
    """Begin a visit; the same one sent twice is begun once.

    Raises:
        NotThere: there is no such engine.
        Refused: usage or date runs backwards, or the date lies ahead.
        AlreadyThere: another visit has that id.
    """
    record = engine_record(session, engine_id)
    same = next((one for one in record.visits if one.id == visit.id), None)
    if same is not None:
        if (same.date, same.usage, same.temperature_c) == (visit.date, visit.usage, visit.temperature_c):
            return same
        raise AlreadyThere(f"a visit '{visit.id}' is there already, of {same.date} at {same.usage:g}")
    faults = _faults_of_new_visit(visit, record.visits[-1] if record.visits else None, today)
    if faults:
        raise Refused(faults)
    records.add_visit(session, engine_id, visit, position=len(record.visits), now=now)
    session.commit()
    return visit


def note_try(
    session: Session,
    engine_id: str,
    visit_id: str,
    try_id: str,
    *,
    valve: str,
    phase: Phase,
    one: TryModel,
    now: datetime,
) -> None:
    """Store one answer under the page's own identifier.

    Sent again with the same identifier it changes nothing.

    Raises:
        NotThere: there is no such engine or visit.
        UnknownValve: the engine has no such valve.
        AlreadyThere: the identifier stands for another answer.
    """
    known = _valves_at(session, engine_id, visit_id)
    if valve not in known:
        raise UnknownValve(valve, known)
    if not tries.add_try(session, engine_id, visit_id, try_id, valve=valve, phase=phase, one=one, now=now):
        raise AlreadyThere(f"the identifier '{try_id}' stands for another answer already")
    session.commit()


def take_back_try(
    session: Session,
    engine_id: str,
    visit_id: str,
    try_id: str,
    *,
    now: datetime,
) -> str:
    """Mark an answer as taken back; returns the valve that it was given at.

    Raises:
        NotThere: there is no such engine, visit or answer.
    """
    _valves_at(session, engine_id, visit_id)
    valve = tries.take_back(session, engine_id, visit_id, try_id, now=now)
    if valve is None:
        raise NotThere("answer", try_id)
    session.commit()
    return valve
