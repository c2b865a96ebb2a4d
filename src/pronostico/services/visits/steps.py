"""Which steps of a visit are done; any step may be skipped and returned to."""

from collections.abc import Iterable
from typing import Literal

from pronostico.analysis.adjustments_made import unmeasured
from pronostico.analysis.verification import is_verified
from pronostico.knowledge import load_knowledge
from pronostico.record.models import Record
from pronostico.record.visit import FindingModel, VisitModel
from pronostico.services.visits.measuring import OpenVisit

Step = Literal["complaint", "prepare", "inspect", "position", "measure", "assess", "adjust", "verify"]


def _is_set(record: Record, visit: VisitModel) -> bool:
    """Whether what was set is measured again; lifters are set once all of them are preloaded."""
    done = {one.valve for one in visit.settings}
    if record.engine.adjustment == "hydraulic":
        return done >= {valve.id for valve in record.engine.valves}
    return bool(done) and not unmeasured(record.engine, visit)


def done_steps(record: Record, opened: OpenVisit, findings: Iterable[FindingModel]) -> list[Step]:
    """The steps of a visit that are done.

    Position has nothing to enter: it is done once a valve was measured. Measure and Assess are done once
    every valve is, Adjust once every adjusted valve is re-measured, Verify once everything is closed up and
    every complaint has its outcome.
    """
    kinds = load_knowledge().findings
    groups = {kinds[one.id].group for one in findings if one.state != "unknown" and one.id in kinds}
    visit = opened.visit
    read = {one.valve for one in opened.valves if one.found.tries or one.left.tries}
    skipped = {one.valve for one in opened.valves if one.found.skipped}
    done: dict[Step, bool] = {
        "complaint": "complaint" in groups,
        "prepare": visit.temperature_c is not None or visit.last_run_hours_ago is not None,
        "inspect": "looking-in" in groups,
        "position": bool(read),
        "measure": len(read | skipped) == len(opened.valves),
        "assess": bool(read) and read <= set(visit.decisions),
        "adjust": _is_set(record, visit),
        "verify": is_verified(record, visit),
    }
    return [step for step, is_done in done.items() if is_done]
