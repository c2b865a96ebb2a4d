"""Findings noted at a visit or in a case: each at its place, none overwritten unseen."""

from collections.abc import Iterable

from sqlalchemy.orm import Session

from pronostico.analysis.lookup import findings_at
from pronostico.errors import Refused, Stale
from pronostico.knowledge import load_knowledge
from pronostico.record.engine import EngineModel
from pronostico.record.faults import Fault
from pronostico.record.visit import FindingModel, State, place_of
from pronostico.services.engines.load import engine_record
from pronostico.store.findings import put_case_finding, put_visit_finding


def check_finding(engine: EngineModel, finding: FindingModel) -> None:
    """Whether a finding can be noted of an engine.

    Raises:
        Refused: the finding or its cylinder is not known.
    """
    faults = []
    if finding.id not in load_knowledge().findings:
        faults.append(Fault("$.id", f"there is no finding '{finding.id}'"))
    cylinders = {valve.cylinder for valve in engine.valves}
    if finding.cylinder is not None and finding.cylinder not in cylinders:
        faults.append(Fault("$.cylinder", f"there is no cylinder {finding.cylinder} on this engine"))
    if faults:
        raise Refused(faults)


def refuse_stale(noted: Iterable[FindingModel], finding: FindingModel, was: State | None) -> None:
    """Refuse to overwrite what somebody else noted since the page was read.

    Raises:
        Stale: there stands neither what the page showed nor what is to be noted.
    """
    if was is None:
        return
    now = next((one.state for one in noted if place_of(one) == place_of(finding)), "unknown")
    if now not in (was, finding.state):
        raise Stale([Fault("$.state", f"has been entered as {now}")])


def note_visit_finding(
    session: Session, engine_id: str, visit_id: str, finding: FindingModel, *, was: State | None = None
) -> None:
    """Note a finding at a visit; it is added to an open case of the visit as well.

    Raises:
        NotThere: there is no such engine or visit.
        Refused: the finding, or its cylinder, is not known.
        Stale: somebody else noted something else there meanwhile.
    """
    record = engine_record(session, engine_id)
    check_finding(record.engine, finding)
    refuse_stale(findings_at(record, visit_id), finding, was)
    put_visit_finding(session, engine_id, visit_id, finding)
    for case in record.cases:
        spoken_of = place_of(finding) in {place_of(one) for one in case.findings}
        news = spoken_of or finding.state != "unknown"
        if case.visit == visit_id and case.closed is None and news:
            put_case_finding(session, engine_id, case.id, finding)
    session.commit()
