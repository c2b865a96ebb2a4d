"""A visit under way: begun, measured try by try, each stored as it is given."""

from dataclasses import dataclass
from datetime import date, datetime

from sqlalchemy.orm import Session

from pronostico.core.advice import Advice, next_blade, prior_for_advice
from pronostico.core.analysis import analyse_valve
from pronostico.core.constants import DEFAULT, Constants
from pronostico.core.engine import Spec, Valve
from pronostico.core.errors import UnknownValve
from pronostico.core.history import at_visit
from pronostico.core.line import LineForecast
from pronostico.core.reading import Estimate
from pronostico.core.thermal import correction_at
from pronostico.core.visits import Phase, Reading
from pronostico.record.conversion import engine_from, visit_from
from pronostico.record.faults import Fault
from pronostico.record.models import Record, TryModel, VisitModel
from pronostico.services.engines import engine_record
from pronostico.services.errors import AlreadyThere, NotThere, Refused
from pronostico.store import records, tries
from pronostico.store.tables import VisitRow
from pronostico.store.tries import StoredTry


@dataclass(frozen=True, slots=True)
class MeasuredPhase:
    """The tries of a valve in one phase, what they say, and what to offer next.

    `advice` is None where there is no spec to judge by or no set of blades to choose from.
    """

    tries: tuple[StoredTry, ...]
    estimate: Estimate | None
    advice: Advice | None


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


class _Bench:
    """A visit under way with all that judging and advising at it needs."""

    def __init__(self, record: Record, row: VisitRow, constants: Constants) -> None:
        self.constants = constants
        self.engine = engine_from(record.engine, constants)
        self.model = records.load_visit(row)
        self.visit = visit_from(self.model)
        self.stored = tries.stored_tries(row)
        self.blades_mm = tuple(record.gauge_set.blades_mm) if record.gauge_set is not None else ()
        self._access = self.model.access or "straight"
        ids = [visit.id for visit in record.visits]
        self._before = tuple(visit_from(visit) for visit in record.visits[: ids.index(row.visit_id)])

    def _forecast(self, valve: Valve, spec: Spec) -> LineForecast | None:
        """What the visits before foretell of a valve as found at this one."""
        line = analyse_valve(self.engine, valve, self._before, at=(), constants=self.constants).line
        return None if line is None else line.at(self.visit.usage, spec)

    def _advice(self, valve: Valve, phase: Phase) -> Advice | None:
        spec = self.engine.spec_of(valve, self.visit.day)
        if spec is None or not self.blades_mm:
            return None
        reading = self.visit.reading_of(valve.id, phase) or Reading(valve.id, phase, (), self._access)
        # What was set is no longer what the past foretold.
        forecast = self._forecast(valve, spec) if phase == "found" else None
        correction = correction_at(self.engine, valve.side, self.visit.temperature_c, self.constants)
        prior = prior_for_advice(spec, forecast)
        return next_blade(reading, self.blades_mm, spec, correction, prior, self.constants)

    def measured(self, valve_id: str) -> MeasuredValve:
        """One valve in both phases."""
        valve = self.engine.valve(valve_id)
        state = at_visit(self.engine, valve, self.visit, self.constants)

        def phase(name: Phase, estimate: Estimate | None) -> MeasuredPhase:
            return MeasuredPhase(self.stored.get((valve_id, name), ()), estimate, self._advice(valve, name))

        return MeasuredValve(valve_id, phase("found", state.found), phase("left", state.left))


def _row_of(session: Session, engine_id: str, visit_id: str) -> tuple[Record, VisitRow]:
    record = engine_record(session, engine_id)
    row = records.visit_row(session, engine_id, visit_id)
    if row is None:
        raise NotThere("visit", visit_id)
    return record, row


def open_visit(session: Session, engine_id: str, visit_id: str, constants: Constants = DEFAULT) -> OpenVisit:
    """A visit as the measuring screen shows it.

    Raises:
        NotThere: there is no such engine or visit.
    """
    record, row = _row_of(session, engine_id, visit_id)
    bench = _Bench(record, row, constants)
    return OpenVisit(bench.model, tuple(bench.measured(valve.id) for valve in record.engine.valves))


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
    record, row = _row_of(session, engine_id, visit_id)
    known = tuple(item.id for item in record.engine.valves)
    if valve not in known:
        raise UnknownValve(valve, known)
    if not tries.add_try(session, row, try_id, valve=valve, phase=phase, one=one, now=now):
        raise AlreadyThere(f"the identifier '{try_id}' stands for another answer already")
    session.commit()
    session.refresh(row)
    return _Bench(record, row, constants).measured(valve)


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
    record, row = _row_of(session, engine_id, visit_id)
    valve = tries.take_back(row, try_id, now=now)
    if valve is None:
        raise NotThere("answer", try_id)
    session.commit()
    session.refresh(row)
    return _Bench(record, row, constants).measured(valve)
