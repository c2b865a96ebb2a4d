"""One visit, one case of a record, and the findings that hold at a visit."""

from pronostico.errors import NotThere
from pronostico.record.models import CaseModel, Record
from pronostico.record.visit import FindingModel, VisitModel, place_of


def visit_of(record: Record, visit_id: str) -> VisitModel:
    """One visit of a record.

    Raises:
        NotThere: it has none of that id.
    """
    for visit in record.visits:
        if visit.id == visit_id:
            return visit
    raise NotThere("visit", visit_id)


def case_of(record: Record, case_id: str) -> CaseModel:
    """A case of a record.

    Raises:
        NotThere: there is none of that id.
    """
    for case in record.cases:
        if case.id == case_id:
            return case
    raise NotThere("case", case_id)


def findings_at(record: Record, visit_id: str, *, closed_too: bool = False) -> list[FindingModel]:
    """What is noted at a visit, with what the open cases of that visit say in place of it.

    Args:
        closed_too: also what its closed cases say, open ones first.

    Raises:
        NotThere: the record has no such visit.
    """
    noted = {place_of(one): one for one in visit_of(record, visit_id).findings}
    cases = [case for case in record.cases if case.visit == visit_id]
    if closed_too:
        for case in cases:
            if case.closed is not None:
                noted.update((place_of(one), one) for one in case.findings)
    for case in cases:
        if case.closed is None:
            noted.update((place_of(one), one) for one in case.findings)
    return list(noted.values())
