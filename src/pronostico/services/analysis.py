"""Analyses and diagnoses of a record, from wherever the record comes."""

from collections.abc import Sequence
from dataclasses import dataclass

from pronostico.core.analysis import analyse
from pronostico.core.cause_network import Network, States
from pronostico.core.causes import valves_at
from pronostico.core.constants import DEFAULT, Constants
from pronostico.core.diagnosis import ranked
from pronostico.core.engine import Engine
from pronostico.core.learning import Learned, nothing_learned
from pronostico.core.next_tests import NextTest, next_tests
from pronostico.core.price import DEFAULT_ACCESS_MINUTES
from pronostico.core.visits import Visit
from pronostico.knowledge import load_knowledge, load_tests
from pronostico.record.conversion import engine_from, visits_from
from pronostico.record.models import CaseModel, FindingModel, Record, place_of
from pronostico.services.analysis_report import AnalysisOut, analysis_out, with_drift
from pronostico.services.case_time import CaseTime, carried_out, case_time
from pronostico.services.contradictions import contradictions
from pronostico.services.diagnosis_report import BuildingUpOut, DiagnosisOut, diagnosis_out
from pronostico.services.drift_report import DriftReport
from pronostico.services.drifting import reckoned
from pronostico.services.errors import NotThere
from pronostico.services.evidence import case_evidence, measured_evidence
from pronostico.services.positions import checked, without_suspect
from pronostico.services.simulated import simulated_parts
from pronostico.services.visit_notes import notes_of

_AHEAD_INTERVALS = 2.0
_AHEAD_STEPS = 16


def _even_row(record: Record) -> tuple[float, ...]:
    """Usages evenly spaced over the next two check intervals."""
    if not record.visits:
        return ()
    last, step = record.visits[-1].usage, record.engine.check_interval * _AHEAD_INTERVALS / _AHEAD_STEPS
    return tuple(last + index * step for index in range(_AHEAD_STEPS + 1))


def analyse_record(record: Record, *, constants: Constants = DEFAULT) -> AnalysisOut:
    """The readings of a record, each on its own; what is ahead is asked for apart."""
    engine = engine_from(record.engine, constants)
    return _readings_out(record, engine, visits_from(record), constants)


def _readings_out(
    record: Record, engine: Engine, visits: tuple[Visit, ...], constants: Constants
) -> AnalysisOut:
    """Each reading on its own; visits at which simulated instruments were read are marked."""
    report = analysis_out(analyse(engine, visits, constants=constants))
    marked = [
        one.model_copy(update={"simulated": simulated_parts(visit)})
        for one, visit in zip(report.visits, record.visits, strict=True)
    ]
    return report.model_copy(update={"visits": marked})


def analyse_with_drift(
    record: Record,
    *,
    at: tuple[float, ...] | None = None,
    risk: float | None = None,
    margin_mm: float | None = None,
    constants: Constants = DEFAULT,
) -> AnalysisOut:
    """The whole analysis of a record, the drift model's answers with it.

    Args:
        at: usages to look ahead to; None: one check interval after the last visit.
        risk, margin_mm: at which to look again; None: as the constants have them.

    Raises:
        ImpossibleValue: a usage to look ahead to lies before the last visit's.
    """
    engine, visits = engine_from(record.engine, constants), visits_from(record)
    if at is None:
        at = (visits[-1].usage + engine.check_interval,) if visits else ()
    analysis = _readings_out(record, engine, visits, constants)
    check = checked(record, engine, visits, constants)
    # What was read at a wrong position of the crank says nothing of how the valves move.
    trusted = without_suspect(visits, check.suspect)
    report = DriftReport(engine, trusted, reckoned(engine, trusted, constants), constants)
    return with_drift(
        analysis.model_copy(update={"positions": check.out()}),
        report,
        record,
        at=at,
        risk=constants.next_check_risk if risk is None else risk,
        margin_mm=constants.next_check_margin_mm if margin_mm is None else margin_mm,
    )


def analyse_ahead(record: Record, *, risk: float, margin_mm: float) -> AnalysisOut:
    """The whole analysis of a record for its pages, looking ahead along the next two check intervals."""
    return analyse_with_drift(record, at=_even_row(record), risk=risk, margin_mm=margin_mm)


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
    return at.is_at_visit and at.visits > 0 and notes_of(record.visits[at.visits - 1]).cover_off


@dataclass(frozen=True, slots=True)
class BuildingUp:
    """Faults that the readings alone make likely; `p_fault`: that there is any of the valves at all."""

    causes: list[BuildingUpOut]
    p_fault: float


def building_up(record: Record, constants: Constants = DEFAULT) -> BuildingUp:
    """What the readings alone say, whatever is complained of. Weighed with the knowledge as it is stated."""
    knowledge = load_knowledge()
    engine = engine_from(record.engine, constants)
    network = Network(engine, knowledge, measured_evidence(record, constants))
    states = network.weigh()
    found = ranked(network, states)
    faults = [not (one.kind.ordinary or one.kind.elsewhere) for one in network.candidates]
    causes = [
        BuildingUpOut(
            cause=cause.candidate.kind.id,
            label=cause.candidate.kind.label,
            where=cause.candidate.place.name,
            valves=[one.id for one in engine.valves if one.id in valves_at(engine, cause.candidate.place)],
            probability=cause.probability,
            advice=cause.candidate.kind.advice,
            caution=cause.candidate.kind.caution,
        )
        for cause in found.causes
        if cause.probability >= constants.building_up_probability and not cause.candidate.kind.ordinary
    ]
    return BuildingUp(causes, states.any_of(faults))


def _next_tests(
    record: Record, case: CaseModel | None, network: Network, states: States
) -> tuple[NextTest, ...]:
    access = record.engine.access_minutes
    at = case_time(record, case, DEFAULT)
    visits = visits_from(record)[: at.visits]
    read = analyse(network.engine, visits).valves if visits and at.is_at_visit else ()
    return next_tests(
        network,
        states,
        load_tests(),
        cover_is_off=_cover_is_off(record, at),
        access_minutes=DEFAULT_ACCESS_MINUTES if access is None else access,
        bounded=[one.valve.id for one in read if one.found is not None and not one.found.gives_number],
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
        learned: the knowledge as the shop's closed cases make it; None: as it is stated.
        supposed: findings as if they were noted in the case, in place of what is noted there; then no next
            test is told.

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
    engine = engine_from(record.engine, constants)
    evidence = case_evidence(record, case, constants)
    network = Network(engine, knowledge, evidence.weighed)
    states = network.weigh()
    diagnosis = ranked(network, states)
    # What is only tried out is answered while somebody waits: the next test follows from what is noted.
    tests = () if supposed else _next_tests(record, case, network, states)
    return diagnosis_out(
        None if case is None else case.id,
        diagnosis,
        tests,
        contradictions(engine, knowledge, evidence.noted, evidence.measured),
        engine,
        learned,
        carried_out(record, case_time(record, case, constants)),
    )
