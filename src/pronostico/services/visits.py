"""A visit under way: begun, measured try by try, each stored as it is given."""

from dataclasses import dataclass
from datetime import date, datetime

from sqlalchemy.orm import Session

from pronostico.core.constants import DEFAULT, Constants
from pronostico.core.errors import UnknownValve
from pronostico.core.history import at_visit
from pronostico.core.reading import Estimate
from pronostico.core.visits import Phase
from pronostico.record.conversion import engine_from, visit_from
from pronostico.record.faults import Fault
from pronostico.record.models import EngineModel, TryModel, VisitModel
from pronostico.services.engines import engine_record
from pronostico.services.errors import AlreadyThere, NotThere, Refused
from pronostico.store import records, tries
from pronostico.store.tries import StoredTry


@dataclass(frozen=True, slots=True)
class MeasuredPhase:
    """The tries of a valve in one phase, and what they say."""

    tries: tuple[StoredTry, ...]
    estimate: Estimate | None


@dataclass(frozen=True, slots=True)
class MeasuredValve:
    """One valve at the visit under way."""

    valve: str
    found: MeasuredPhase
    left: MeasuredPhase


@dataclass(frozen=True, slots=True)
class OpenVisit:
    """A visit with all valves of its engine, read or not."""

    visit: VisitModel
    valves: tuple[MeasuredValve, ...]


def _measured(
    engine_model: EngineModel,
    visit: VisitModel,
    stored: dict[tuple[str, Phase], tuple[StoredTry, ...]],
    valve_id: str,
    constants: Constants,
) -> MeasuredValve:
    engine = engine_from(engine_model, constants)
    state = at_visit(engine, engine.valve(valve_id), visit_from(visit), constants)
    return MeasuredValve(
        valve=valve_id,
        found=MeasuredPhase(stored.get((valve_id, "found"), ()), state.found),
        left=MeasuredPhase(stored.get((valve_id, "left"), ()), state.left),
    )


def open_visit(session: Session, engine_id: str, visit_id: str, constants: Constants = DEFAULT) -> OpenVisit:
    """A visit as the measuring screen shows it.

    Raises:
        NotThere: there is no such engine or visit.
    """
    record = engine_record(session, engine_id)
    row = records.visit_row(session, engine_id, visit_id)
    if row is None:
        raise NotThere("visit", visit_id)
    visit = records.load_visit(row)
    stored = tries.stored_tries(row)
    valves = tuple(
        _measured(record.engine, visit, stored, valve.id, constants) for valve in record.engine.valves
    )
    return OpenVisit(visit, valves)


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
    constants: Constants = DEFAULT,
) -> MeasuredValve:
    """Store one answer under the page's own identifier and say what the reading now tells.

    Sent again with the same identifier it changes nothing.

    Raises:
        NotThere: there is no such engine or visit.
        UnknownValve: the engine has no such valve.
        AlreadyThere: the identifier stands for another answer.
    """
    record = engine_record(session, engine_id)
    row = records.visit_row(session, engine_id, visit_id)
    if row is None:
        raise NotThere("visit", visit_id)
    known = tuple(item.id for item in record.engine.valves)
    if valve not in known:
        raise UnknownValve(valve, known)
    if not tries.add_try(session, row, try_id, valve=valve, phase=phase, one=one, now=now):
        raise AlreadyThere(f"the identifier '{try_id}' stands for another answer already")
    session.commit()
    session.refresh(row)
    return _measured(record.engine, records.load_visit(row), tries.stored_tries(row), valve, constants)


def take_back_try(
    session: Session,
    engine_id: str,
    visit_id: str,
    try_id: str,
    *,
    now: datetime,
    constants: Constants = DEFAULT,
) -> MeasuredValve:
    """Mark an answer as taken back and say what the reading tells without it.

    Raises:
        NotThere: there is no such engine, visit or answer.
    """
    record = engine_record(session, engine_id)
    row = records.visit_row(session, engine_id, visit_id)
    if row is None:
        raise NotThere("visit", visit_id)
    valve = tries.take_back(row, try_id, now=now)
    if valve is None:
        raise NotThere("answer", try_id)
    session.commit()
    session.refresh(row)
    return _measured(record.engine, records.load_visit(row), tries.stored_tries(row), valve, constants)
