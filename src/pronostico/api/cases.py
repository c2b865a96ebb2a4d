"""Cases, their findings and their causes."""

from fastapi import APIRouter

from pronostico.analysis.diagnosis_report import DiagnosisOut
from pronostico.analysis.handbook import HandbookOut, handbook
from pronostico.api.deps import SessionDep, TodayDep, WriteSessionDep
from pronostico.api.models import (
    CaseIn,
    CaseOut,
    FindingIn,
    FindingKindOut,
    FirstLookOut,
    OutcomeIn,
    SupposedIn,
    shown,
)
from pronostico.knowledge import load_first_looks, load_knowledge
from pronostico.record.base import Identifier
from pronostico.record.models import CaseModel, Confirmed
from pronostico.record.visit import FindingModel
from pronostico.services.cases import cases, outcomes
from pronostico.services.cases.learning import workshop_knowledge

router = APIRouter(tags=["cases"])
_ONE = "/engines/{engine_id}/cases/{case_id}"


@router.get("/findings")
def get_findings() -> list[FindingKindOut]:
    """Every kind of finding."""
    return [
        FindingKindOut(
            id=kind.id,
            label=kind.label,
            help=kind.help,
            group=kind.group,
            of_engine=kind.of_engine,
            only_with_adjustment=list(kind.only_with_adjustment),
            not_with_adjustment=list(kind.not_with_adjustment),
            first_looks=[
                FirstLookOut.model_validate(look) for look in load_first_looks() if kind.id in look.complaints
            ],
        )
        for kind in load_knowledge().findings.values()
    ]


@router.get("/handbook")
def get_handbook(session: SessionDep) -> HandbookOut:
    """Every cause, finding and test that is known, as it is weighed."""
    return handbook(workshop_knowledge(session))


@router.post("/engines/{engine_id}/cases", status_code=201)
def post_case(engine_id: str, body: CaseIn, session: WriteSessionDep, today: TodayDep) -> CaseOut:
    """Open a case."""
    case = cases.open_case(session, engine_id, CaseModel(**body.model_dump()), today=today)
    return CaseOut.model_validate(case)


@router.get(_ONE)
def get_case(engine_id: str, case_id: str, session: SessionDep) -> CaseOut:
    """A case with its findings."""
    return CaseOut.model_validate(cases.get_case(session, engine_id, case_id))


@router.put(_ONE + "/findings/{finding_id}")
def put_case_finding(
    engine_id: str,
    case_id: str,
    finding_id: Identifier,
    body: FindingIn,
    writing: WriteSessionDep,
    session: SessionDep,
) -> CaseOut:
    """Note a finding: present, absent, or not known."""
    finding = FindingModel(id=finding_id, **body.model_dump(exclude={"was"}))
    cases.note_case_finding(writing, engine_id, case_id, finding, was=body.was)
    return CaseOut.model_validate(cases.get_case(session, engine_id, case_id))


@router.get(_ONE + "/diagnosis")
def get_diagnosis(engine_id: str, case_id: str, session: SessionDep) -> DiagnosisOut:
    """The causes of a case, ranked, with the evidence for and against each."""
    return cases.diagnose_case(session, engine_id, case_id)


@router.post(_ONE + "/what-if")
def post_what_if(engine_id: str, case_id: str, body: SupposedIn, session: SessionDep) -> DiagnosisOut:
    """The causes as they would be ranked if some more had been noted; nothing of it is kept."""
    supposed = [FindingModel(**one.model_dump()) for one in body.findings]
    return cases.diagnose_case(session, engine_id, case_id, supposed=supposed)


@router.put(_ONE + "/outcome")
def put_outcome(
    engine_id: str, case_id: str, body: OutcomeIn, session: WriteSessionDep, today: TodayDep
) -> CaseOut:
    """Close a case with what was really found."""
    confirmed = [Confirmed(**one.model_dump()) for one in body.confirmed]
    was = None if body.was is None else [Confirmed(**one.model_dump()) for one in body.was]
    case = outcomes.close(
        session,
        engine_id,
        case_id,
        closed=body.closed,
        confirmed=confirmed,
        today=today,
        shown=shown(body, was),
    )
    return CaseOut.model_validate(case)


@router.delete(_ONE + "/outcome")
def delete_outcome(engine_id: str, case_id: str, session: WriteSessionDep) -> CaseOut:
    """Open a case again: what was confirmed, and what it taught, are taken back."""
    return CaseOut.model_validate(outcomes.open_again(session, engine_id, case_id))
