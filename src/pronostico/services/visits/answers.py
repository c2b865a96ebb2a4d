"""A visit under way: measured answer by answer, each stored as it is given."""

from dataclasses import dataclass
from datetime import datetime

from sqlalchemy.orm import Session

from pronostico.analysis.positions import PositionOut
from pronostico.core.assessment import TurnChange
from pronostico.core.constants import DEFAULT, Constants
from pronostico.core.errors import UnknownValve
from pronostico.core.visits import Felt, Phase
from pronostico.errors import AlreadyThere, NotThere
from pronostico.record.visit import TryModel
from pronostico.services.engines.load import engine_record
from pronostico.services.visits.measuring import MeasuredPhase, Measuring, OpenVisit
from pronostico.store import records, tries
from pronostico.store.audit import ACTING
from pronostico.store.visit_data import note_cover_off


def _valves_at(session: Session, engine_id: str, visit_id: str) -> tuple[str, ...]:
    """The valves of the engine that a visit is of; read without its whole record, for speed."""
    valves = records.valve_ids(session, engine_id)
    if valves is None:
        raise NotThere("engine", engine_id)
    if not records.has_visit(session, engine_id, visit_id):
        raise NotThere("visit", visit_id)
    return valves


def check_valve(session: Session, engine_id: str, visit_id: str, valve: str) -> None:
    """Whether a valve can be measured at a visit.

    Raises:
        NotThere: there is no such engine or visit.
        UnknownValve: the engine has no such valve.
    """
    known = _valves_at(session, engine_id, visit_id)
    if valve not in known:
        raise UnknownValve(valve, known)


def open_visit(session: Session, engine_id: str, visit_id: str, constants: Constants = DEFAULT) -> OpenVisit:
    """A visit as the measuring screen shows it.

    Raises:
        NotThere: there is no such engine or visit.
    """
    return Measuring(session, engine_record(session, engine_id), visit_id, constants).opened()


@dataclass(frozen=True, slots=True)
class ExpectedAnswers:
    """How likely each answer of a blade is, and which are so unlikely that they are asked back.

    `probability` is None where nothing is known to begin from.
    """

    probability: dict[Felt, float] | None
    unlikely: tuple[Felt, ...]


def expected_answers(
    session: Session,
    engine_id: str,
    visit_id: str,
    *,
    valve: str,
    phase: Phase,
    blades_mm: tuple[float, ...],
    constants: Constants = DEFAULT,
) -> ExpectedAnswers:
    """What a stack of blades is expected to feel like at a valve.

    Raises:
        NotThere: there is no such engine or visit.
        UnknownValve: the engine has no such valve.
    """
    check_valve(session, engine_id, visit_id, valve)
    measuring = Measuring(session, engine_record(session, engine_id), visit_id, constants)
    known = measuring.expected_answers(valve, phase, blades_mm)
    least = constants.unlikely_answer_probability
    return ExpectedAnswers(known, tuple(felt for felt, p in (known or {}).items() if p < least))


@dataclass(frozen=True, slots=True)
class AnsweredValve:
    """One valve after an answer, and where the crank seems to stand by all that was read so far."""

    valve: str
    found: MeasuredPhase
    left: MeasuredPhase
    swing: TurnChange | None
    positions: tuple[PositionOut, ...]


def answered_valve(
    session: Session, engine_id: str, visit_id: str, valve: str, constants: Constants = DEFAULT
) -> AnsweredValve:
    """One valve of a visit: its answers, what they say, and what to offer next.

    Raises:
        NotThere: there is no such engine or visit.
        UnknownValve: the engine has no such valve.
    """
    measuring = Measuring(session, engine_record(session, engine_id), visit_id, constants)
    known = measuring.measured(valve)
    positions = tuple(measuring.positions().out())
    return AnsweredValve(known.valve, known.found, known.left, known.swing, positions)


def note_try(
    session: Session,
    engine_id: str,
    visit_id: str,
    try_id: str,
    *,
    valve: str,
    phase: Phase,
    crank_turn: int = 1,
    one: TryModel,
    now: datetime,
) -> None:
    """Store one answer under the page's own identifier.

    Sent again with the same identifier it changes nothing. What another technician answered at the valve
    stays a reading of theirs.

    Raises:
        NotThere: there is no such engine or visit.
        UnknownValve: the engine has no such valve.
        AlreadyThere: the identifier stands for another answer.
    """
    check_valve(session, engine_id, visit_id, valve)
    acting = ACTING.get()
    stored = tries.add_try(
        session,
        engine_id,
        visit_id,
        try_id,
        valve=valve,
        phase=phase,
        crank_turn=crank_turn,
        one=one,
        now=now,
        technician=None if acting is None else acting.person,
    )
    if not stored:
        raise AlreadyThere(f"the identifier '{try_id}' stands for another answer already")
    # Where a blade went in, the cover is off.
    note_cover_off(session, engine_id, visit_id)
    session.commit()


def skip_valve(
    session: Session, engine_id: str, visit_id: str, *, valve: str, phase: Phase, reason: str | None
) -> None:
    """Note why a valve is not read at a visit; None: it is to be read after all.

    Raises:
        NotThere: there is no such engine or visit.
        UnknownValve: the engine has no such valve.
    """
    check_valve(session, engine_id, visit_id, valve)
    tries.put_skipped(session, engine_id, visit_id, valve=valve, phase=phase, reason=reason)
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
