"""A visit that was begun on the wrong engine goes to the right one, with everything noted at it."""

from datetime import date

from sqlalchemy.orm import Session

from pronostico.analysis.lookup import visit_of
from pronostico.analysis.meter import offset_on
from pronostico.errors import NotThere, Refused
from pronostico.record.engine import EngineModel
from pronostico.record.faults import Fault
from pronostico.record.models import CaseModel, Record
from pronostico.record.reading_in import NotARecord, read_record
from pronostico.record.visit import VisitModel
from pronostico.services.engines.load import engine_record
from pronostico.services.visits.prepare import order_faults, place_of
from pronostico.store.removals import parts_in_bin
from pronostico.store.visit_data import move_visit as store_moved


def _free(wanted: str, taken: set[str]) -> str:
    """An identifier as it is, or with the first number that makes it a new one."""
    number, free = 1, wanted
    while free in taken:
        number += 1
        free = f"{wanted[:70]}-{number}"
    return free


def _on_meter_of(visit: VisitModel, source: EngineModel, target: EngineModel) -> tuple[VisitModel, float]:
    """A visit with the running total of another engine whose meter shows the same; what it shows."""
    shown = visit.usage - offset_on(source, visit.date)
    offset = offset_on(target, visit.date)
    entered = dict(visit.entered) if isinstance(visit.entered, dict) else {}
    entered.pop("meter", None)
    if offset != 0.0:
        entered["meter"] = shown
    return visit.model_copy(update={"usage": shown + offset, "entered": entered or None}), shown


def _unfit(target: Record, visit: VisitModel, cases: list[CaseModel], place: int, today: date) -> list[Fault]:
    """What of a visit means nothing on an engine: a valve or a cylinder that it has not."""
    visits = [*target.visits[:place], visit, *target.visits[place:]]
    together = target.model_copy(update={"visits": visits, "cases": [*target.cases, *cases]})
    try:
        read_record(together.model_dump_json(exclude_none=True), today=today)
    except NotARecord as error:
        name = target.engine.name or target.engine.id
        return [Fault("$.to", f"does not fit {name}: {fault.message}") for fault in error.faults[:3]]
    return []


def move_visit(
    session: Session, engine_id: str, visit_id: str, *, to: str, today: date
) -> tuple[str, list[str]]:
    """Have a visit be another engine's, and the cases that were opened at it.

    Args:
        to: the engine that it was meant for.

    Returns:
        The visit's identifier there, and those of the cases.

    Raises:
        NotThere: there is no such engine or visit.
        Refused: it does not fit there: valves, cylinders, date or usage.
    """
    source = engine_record(session, engine_id)
    visit = visit_of(source, visit_id)
    if to == engine_id:
        raise Refused([Fault("$.to", "is the engine that the visit is of; choose another")])
    try:
        target = engine_record(session, to)
    except NotThere as error:
        raise Refused([Fault("$.to", str(error))]) from error
    visits_in_bin, cases_in_bin = parts_in_bin(session, to)
    moved, shown = _on_meter_of(visit, source.engine, target.engine)
    moved = moved.model_copy(
        update={"id": _free(visit_id, visits_in_bin | {one.id for one in target.visits})}
    )
    taken = cases_in_bin | {one.id for one in target.cases}
    cases: dict[str, CaseModel] = {}
    for case in source.cases:
        if case.visit == visit_id:
            free = _free(case.id, taken)
            cases[case.id] = case.model_copy(update={"id": free, "visit": moved.id})
            taken.add(free)
    place = place_of(target, moved)
    before = target.visits[place - 1] if place > 0 else None
    after = target.visits[place] if place < len(target.visits) else None
    faults = order_faults(moved, shown, before, after, offset_on(target.engine, moved.date))
    faults += _unfit(target, moved, list(cases.values()), place, today) if not faults else []
    if faults:
        raise Refused(faults)
    store_moved(session, engine_id, visit_id, to=to, visit=moved, position=place, cases=cases)
    session.commit()
    return moved.id, [case.id for case in cases.values()]
