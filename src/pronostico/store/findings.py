"""Findings of a case: one entry for each finding at each place."""

from pronostico.record.models import FindingModel
from pronostico.store.records import dump
from pronostico.store.tables import CaseFindingRow, CaseRow

_PLACE = ("cylinder", "side")


def put_finding(case: CaseRow, finding: FindingModel) -> None:
    """Note a finding, in place of what was noted of it at the same place before."""
    data = dump(finding)
    for row in case.findings:
        if row.finding == finding.id and all(row.data.get(key) == data.get(key) for key in _PLACE):
            row.data = data
            return
    case.findings.append(CaseFindingRow(finding=finding.id, data=data))
