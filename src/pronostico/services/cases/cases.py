"""Cases: opened on a complaint, findings ticked one by one, causes ranked."""

from collections.abc import Sequence
from datetime import date

from sqlalchemy.orm import Session

from pronostico.analysis.diagnosis import diagnose_record
from pronostico.analysis.diagnosis_report import DiagnosisOut
from pronostico.analysis.lookup import case_of
from pronostico.errors import AlreadyThere, NotThere, Refused
from pronostico.record.faults import Fault
from pronostico.record.models import CaseModel
from pronostico.record.visit import FindingModel, State
from pronostico.services.cases.learning import workshop_knowledge
from pronostico.services.engines.load import engine_record
from pronostico.services.visits.findings import check_finding, refuse_stale
from pronostico.store import records
from pronostico.store.findings import put_case_finding


def open_case(session: Session, engine_id: str, case: CaseModel, *, today: date) -> CaseModel:
    """Open a case; the same one sent twice is opened once.

    Raises:
        NotThere: there is no such engine, or no such visit.
        Refused: it would be opened in the future.
        AlreadyThere: another case has that id.
    """
    record = engine_record(session, engine_id)
    same = next((one for one in record.cases if one.id == case.id), None)
    if same is not None:
        if (same.opened, same.visit) == (case.opened, case.visit):
            return same
        raise AlreadyThere(f"a case '{case.id}' exists already, opened {same.opened}")
    if case.visit is not None and case.visit not in {visit.id for visit in record.visits}:
        raise NotThere("visit", case.visit)
    if case.opened > today:
        raise Refused([Fault("$.opened", f"{case.opened} lies in the future (today is {today})")])
    records.add_case(session, engine_id, case)
    session.commit()
    return case


def get_case(session: Session, engine_id: str, case_id: str) -> CaseModel:
    """A case.

    Raises:
        NotThere: there is no such engine or case.
    """
    return case_of(engine_record(session, engine_id), case_id)


def note_case_finding(
    session: Session, engine_id: str, case_id: str, finding: FindingModel, *, was: State | None = None
) -> None:
    """Note a finding at a place; what was noted there before is replaced.

    Args:
        was: what the page showed; None: whatever stands there.

    Raises:
        NotThere: there is no such engine or case.
        Refused: the finding, or its cylinder, is not known, or the case is closed.
        Stale: somebody else noted something else there meanwhile.
    """
    record = engine_record(session, engine_id)
    check_finding(record.engine, finding)
    case = case_of(record, case_id)
    if case.closed is not None:
        # What it taught rests on its findings as they were.
        raise Refused([Fault("$.state", f"the case was closed on {case.closed}: reopen it first")])
    refuse_stale(case.findings, finding, was)
    put_case_finding(session, engine_id, case_id, finding)
    session.commit()


def diagnose_case(
    session: Session, engine_id: str, case_id: str, *, supposed: Sequence[FindingModel] = ()
) -> DiagnosisOut:
    """The ranked causes of a case.

    Args:
        supposed: findings as if they were noted; nothing of them is kept.

    Raises:
        NotThere: there is no such engine or case.
        Refused: what is supposed is not known, or not at such a place.
    """
    record = engine_record(session, engine_id)
    for finding in supposed:
        check_finding(record.engine, finding)
    return diagnose_record(record, case_id=case_id, learned=workshop_knowledge(session), supposed=supposed)
