"""The Assess step: what every reading comes to, and what the technician decides of each valve."""

from dataclasses import dataclass

from sqlalchemy.orm import Session

from pronostico.analysis.drift_cache import drifts_as_found
from pronostico.analysis.lookup import visit_of
from pronostico.analysis.positions import PositionOut, without_suspect
from pronostico.core.assessment import Assessed, Shift, assess
from pronostico.core.constants import DEFAULT, Constants
from pronostico.core.engine import Side
from pronostico.core.gauge.advice import Advice
from pronostico.core.thermal import Correction
from pronostico.core.visits import Phase
from pronostico.errors import Stale
from pronostico.record.faults import Fault
from pronostico.record.work import Decided
from pronostico.services.engines.load import engine_record
from pronostico.services.visits.answers import check_valve
from pronostico.services.visits.measuring import Measuring
from pronostico.store.visit_data import put_visit_data


@dataclass(frozen=True, slots=True)
class AssessedValve:
    """One valve judged, what was decided of it, and which blade would settle it where it is open.

    `needs_number`: its class is known, but not its clearance, and a shim has to be chosen by that.
    """

    assessed: Assessed
    phase: Phase
    advice: Advice | None
    skipped: str | None
    decided: Decided | None
    needs_number: bool


@dataclass(frozen=True, slots=True)
class AssessedVisit:
    """A visit judged."""

    valves: tuple[AssessedValve, ...]
    corrections: dict[Side, Correction]
    shift: Shift | None
    temperature_c: float | None
    reference_temperature_c: float | None
    positions: list[PositionOut]


def assess_visit(
    session: Session, engine_id: str, visit_id: str, constants: Constants = DEFAULT
) -> AssessedVisit:
    """A visit judged.

    Raises:
        NotThere: there is no such engine or visit.
    """
    record = engine_record(session, engine_id)
    measuring = Measuring(session, record, visit_id, constants)
    before, visit = measuring.before, measuring.visit
    check = measuring.positions()
    trusted = without_suspect((*before, visit), check.suspect)
    drifting = drifts_as_found(measuring.engine, trusted, constants)
    assessment = assess(measuring.engine, before, visit, drifting, suspect=check.suspect, constants=constants)
    decisions = visit_of(record, visit_id).decisions
    valves = []
    for assessed in assessment.valves:
        measured = measuring.measured(assessed.valve.id)
        stands_as_left = assessed.at.standing is not None and assessed.at.standing is assessed.at.left
        phase: Phase = "left" if stands_as_left else "found"
        shown = measured.left if phase == "left" else measured.found
        decided = decisions.get(assessed.valve.id)
        wanted = shown.advice is not None and shown.advice.for_number
        valves.append(AssessedValve(assessed, phase, shown.advice, shown.skipped, decided, wanted))
    return AssessedVisit(
        tuple(valves),
        assessment.corrections,
        assessment.shift,
        measuring.visit.temperature_c,
        measuring.engine.reference_temperature_c,
        check.out(),
    )


def decide(
    session: Session,
    engine_id: str,
    visit_id: str,
    valve: str,
    decided: Decided | None,
    *,
    was: Decided | None,
) -> None:
    """Note what is to be done with a valve; None takes the decision back.

    Args:
        was: the decision that the page showed.

    Raises:
        NotThere: there is no such engine or visit.
        UnknownValve: the engine has no such valve.
        Stale: somebody else decided otherwise meanwhile.
    """
    check_valve(session, engine_id, visit_id, valve)
    visit = visit_of(engine_record(session, engine_id), visit_id)
    now = visit.decisions.get(valve)
    if now not in (was, decided):
        state = "taken back" if now is None else f"decided as '{now.decision}'"
        why = f" ({now.reason})" if now is not None and now.reason else ""
        raise Stale([Fault("$.decided", f"has been {state}{why}")])
    decisions = {name: one for name, one in visit.decisions.items() if name != valve}
    if decided is not None:
        decisions[valve] = decided
    put_visit_data(session, engine_id, visit.model_copy(update={"decisions": decisions}))
    session.commit()
