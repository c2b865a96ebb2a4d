"""How far a visit has come along its stops; any may be left out and come back to."""

from collections.abc import Iterable
from typing import Literal

from pronostico.analysis.adjustments_made import unmeasured
from pronostico.analysis.verification import is_proved
from pronostico.analysis.visit_notes import notes_of
from pronostico.knowledge import load_knowledge
from pronostico.record.models import FindingModel, Record, VisitModel
from pronostico.services.visits.measuring import OpenVisit

Stop = Literal["listen", "prepare", "look-in", "turn", "measure", "judge", "set", "prove"]


def _is_set(record: Record, visit: VisitModel) -> bool:
    """Whether what was set is measured again; lifters are set once all of them are preloaded."""
    done = {one.valve for one in visit.settings}
    if record.engine.adjustment == "hydraulic":
        return done >= {valve.id for valve in record.engine.valves}
    return bool(done) and not unmeasured(record.engine, visit)


def done_stops(record: Record, opened: OpenVisit, findings: Iterable[FindingModel]) -> list[Stop]:
    """The stops at which something was noted; Measure and Judge once every valve has its turn.

    Turn has nothing to note: it is done once a valve was measured. Set is done once what was set is
    read again, Prove once all is closed up and every complaint has its answer.
    """
    kinds = load_knowledge().findings
    groups = {kinds[one.id].group for one in findings if one.state != "unknown" and one.id in kinds}
    visit = opened.visit
    read = {one.valve for one in opened.valves if one.found.tries or one.left.tries}
    skipped = {one.valve for one in opened.valves if one.found.skipped}
    done: dict[Stop, bool] = {
        "listen": "complaint" in groups,
        "prepare": visit.temperature_c is not None or visit.last_run_hours_ago is not None,
        "look-in": "looking-in" in groups,
        "turn": bool(read),
        "measure": len(read | skipped) == len(opened.valves),
        "judge": bool(read) and read <= set(notes_of(visit).decisions),
        "set": _is_set(record, visit),
        "prove": is_proved(record, visit),
    }
    return [stop for stop, is_done in done.items() if is_done]
