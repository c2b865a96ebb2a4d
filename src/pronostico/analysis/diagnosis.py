"""The causes of a case, ranked, and the tests to make next: from a record."""

from collections.abc import Sequence

from pronostico.analysis.case_time import CaseTime, carried_out, case_time
from pronostico.analysis.contradictions import contradictions
from pronostico.analysis.diagnosis_report import DiagnosisOut, diagnosis_out
from pronostico.analysis.evidence import case_evidence
from pronostico.core.causes.learning import Learned, nothing_learned
from pronostico.core.causes.network import Network, States
from pronostico.core.causes.next_tests import NextTest, next_tests
from pronostico.core.causes.ranking import ranked
from pronostico.core.constants import DEFAULT, Constants
from pronostico.core.gauge.engine_readings import analyse
from pronostico.errors import NotThere
from pronostico.knowledge import load_knowledge, load_tests
from pronostico.record.conversion import engine_from, visits_from
from pronostico.record.models import CaseModel, Record
from pronostico.record.visit import FindingModel, place_of


def _case_of(record: Record, case_id: str | None) -> CaseModel | None:
    """The case of that id; without an id the one opened last; None where there is none to take."""
    if case_id is None:
        return record.cases[-1] if record.cases else None
    for case in record.cases:
        if case.id == case_id:
            return case
    raise NotThere("case", case_id)


def _cover_is_off(record: Record, at: CaseTime) -> bool:
    """Whether the valve cover is off, as was noted at the visit of the case."""
    return at.is_at_visit and at.visits > 0 and bool(record.visits[at.visits - 1].cover_off)


def _next_tests(
    record: Record, case: CaseModel | None, network: Network, states: States, constants: Constants
) -> tuple[NextTest, ...]:
    access = record.engine.access_minutes
    at = case_time(record, case, constants)
    visits = visits_from(record)[: at.visits]
    read = analyse(network.engine, visits, constants=constants).valves if visits and at.is_at_visit else ()
    return next_tests(
        network,
        states,
        load_tests(),
        cover_is_off=_cover_is_off(record, at),
        access_minutes=constants.access_minutes if access is None else access,
        bounded=[one.valve.id for one in read if one.found is not None and not one.found.gives_number],
        constants=constants,
    )


def diagnose_record(
    record: Record,
    *,
    case_id: str | None = None,
    learned: Learned | None = None,
    supposed: Sequence[FindingModel] = (),
    constants: Constants = DEFAULT,
) -> DiagnosisOut:
    """The ranked causes of a case, from its findings, its visit's and what the readings show.

    Args:
        learned: the knowledge as the workshop's closed cases make it; None: as it is stated.
        supposed: findings as if they were noted in the case, in place of what is noted there; then no next
            test is given.

    Raises:
        NotThere: the record has no case of that id.
    """
    if learned is None:
        learned = nothing_learned(load_knowledge())
    knowledge = learned.knowledge
    case = _case_of(record, case_id)
    if supposed and case is not None:
        noted = {place_of(one): one for one in (*case.findings, *supposed)}
        case = case.model_copy(update={"findings": list(noted.values())})
    engine = engine_from(record.engine, constants).alone
    evidence = case_evidence(record, case, constants)
    network = Network(engine, knowledge, evidence.weighed, constants)
    states = network.weigh()
    diagnosis = ranked(network, states)
    # What is only tried out is answered while somebody waits: the next test follows from what is noted.
    tests = () if supposed else _next_tests(record, case, network, states, constants)
    return diagnosis_out(
        None if case is None else case.id,
        diagnosis,
        tests,
        contradictions(engine, knowledge, evidence.noted, evidence.measured),
        engine,
        learned,
        carried_out(record, case_time(record, case, constants)),
    )
