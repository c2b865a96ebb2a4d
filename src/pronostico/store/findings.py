"""Findings of cases and of visits: one entry for each finding at each place."""

from sqlalchemy.orm import Session

from pronostico.record.visit import FindingModel, place_of
from pronostico.store.records import dump
from pronostico.store.rows import case_row, visit_row
from pronostico.store.tables import CaseFindingRow, CaseRow, VisitFindingRow, VisitRow


def _put(owner: CaseRow | VisitRow, finding: FindingModel) -> None:
    data = dump(finding)
    for row in owner.findings:
        if place_of(FindingModel.model_validate(row.data)) == place_of(finding):
            row.data = data
            return
    if isinstance(owner, CaseRow):
        owner.findings.append(CaseFindingRow(finding=finding.id, data=data))
    else:
        owner.findings.append(VisitFindingRow(finding=finding.id, data=data))


def put_case_finding(session: Session, engine_id: str, case_id: str, finding: FindingModel) -> bool:
    """Note a finding in place of what was noted of it there before; False where there is no such case."""
    case = case_row(session, engine_id, case_id)
    if case is None:
        return False
    _put(case, finding)
    return True


def put_visit_finding(session: Session, engine_id: str, visit_id: str, finding: FindingModel) -> bool:
    """The same at a visit; False where there is no such visit."""
    visit = visit_row(session, engine_id, visit_id)
    if visit is None:
        return False
    _put(visit, finding)
    return True
