"""Findings of a case: one entry for each finding at each place."""

from sqlalchemy.orm import Session

from pronostico.record.models import FindingModel
from pronostico.store.records import dump
from pronostico.store.rows import case_row
from pronostico.store.tables import CaseFindingRow

_PLACE = ("cylinder", "side")


def put_finding(session: Session, engine_id: str, case_id: str, finding: FindingModel) -> bool:
    """Note a finding in place of what was noted of it there before; False where there is no such case."""
    case = case_row(session, engine_id, case_id)
    if case is None:
        return False
    data = dump(finding)
    for row in case.findings:
        if row.finding == finding.id and all(row.data.get(key) == data.get(key) for key in _PLACE):
            row.data = data
            return True
    case.findings.append(CaseFindingRow(finding=finding.id, data=data))
    return True
