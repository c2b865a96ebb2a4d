"""Describing an engine: made new or changed, checked as a whole, odd figures asked about."""

import json
from collections.abc import Iterator
from datetime import date, datetime
from typing import Any

from sqlalchemy.orm import Session

from pronostico.core.constants import DEFAULT
from pronostico.core.errors import ImpossibleValue
from pronostico.core.plausibility import clearance_query, soak_query
from pronostico.errors import AlreadyThere, NotThere, Question, Refused, Stale, ask
from pronostico.record.engine import EngineModel, SpecModel
from pronostico.record.faults import Fault
from pronostico.record.models import FORMAT, Record
from pronostico.record.reading_in import NotARecord, read_record
from pronostico.record.visit import VisitModel
from pronostico.record.work import KitItem
from pronostico.services.engines.load import engine_record
from pronostico.services.engines.sisters import put_among_sisters
from pronostico.services.merging import one_merged
from pronostico.store import records
from pronostico.store.removals import ids_in_bin
from pronostico.store.visit_data import put_visit_data

Document = dict[str, Any]
"""An engine as the record writes it, of a shape that is not checked yet."""


def _checked(document: Document, today: date) -> Record:
    """A record of the engine alone.

    Raises:
        Refused: with every fault, each with its JSON path.
    """
    whole = {"format": FORMAT, "version": 1, "engine": document}
    try:
        return read_record(json.dumps(whole), today=today)
    except NotARecord as error:
        raise Refused(error.faults) from error
    except ImpossibleValue as error:
        raise Refused([Fault("$.engine", str(error))]) from error


def _spec_questions(path: str, spec: SpecModel | None) -> Iterator[Question]:
    if spec is None:
        return
    for key in ("min_mm", "max_mm", "figure_mm"):
        query = clearance_query(getattr(spec, key))
        if query is not None:
            yield Question(f"{path}.{key}", query.question, query.suggestion)


def _questions(engine: EngineModel) -> Iterator[Question]:
    yield from _spec_questions("$.engine.spec.intake", engine.spec.intake)
    yield from _spec_questions("$.engine.spec.exhaust", engine.spec.exhaust)
    for index, valve in enumerate(engine.valves):
        yield from _spec_questions(f"$.engine.valves[{index}].spec", valve.spec)
    for key, warmest in (
        ("reference_temperature_c", None),
        ("check_below_temperature_c", DEFAULT.warmest_limit_c),
    ):
        value = getattr(engine, key)
        query = soak_query(value) if warmest is None else soak_query(value, warmest)
        if query is not None:
            yield Question(f"$.engine.{key}", query.question, query.suggestion)


def create_engine(
    session: Session, document: Document, *, confirmed: list[str], today: date, now: datetime
) -> Record:
    """A new engine; the same one sent twice is made once.

    Raises:
        Refused: it has faults, each with its JSON path.
        Asked: a figure is odd.
        AlreadyThere: another engine has that id.
    """
    record = _checked(document, today)
    there = records.load_record(session, record.engine.id)
    if there is not None:
        if there.engine == record.engine:
            return there
        raise AlreadyThere(f"an engine '{record.engine.id}' exists already; choose another id")
    if ids_in_bin(session, [record.engine.id]):
        raise AlreadyThere(
            f"an engine '{record.engine.id}' is in the bin: restore it there, or choose another id"
        )
    ask(list(_questions(record.engine)), confirmed)
    records.add_record(session, record, now=now)
    session.commit()
    return record


def _still_read(record: Record, engine: EngineModel) -> list[Fault]:
    """Valves that are to go although readings or settings of theirs are on record."""
    kept = {valve.id for valve in engine.valves}
    faults = []
    for valve in record.engine.valves:
        visits = [
            visit.id
            for visit in record.visits
            if valve.id in {one.valve for one in visit.readings} | {one.valve for one in visit.settings}
        ]
        if visits and valve.id not in kept:
            named = f"{', '.join(visits[:3])}{' and more' if len(visits) > 3 else ''}"
            faults.append(Fault("$.engine.valves", f"valve {valve.id} was measured at {named}; it must stay"))
    return faults


def _differences(stored: EngineModel, sent: EngineModel) -> list[Fault]:
    """What stands otherwise in the workshop than in what was sent."""
    return [
        Fault(f"$.engine.{name}", "has been changed by somebody else")
        for name in EngineModel.model_fields
        if getattr(stored, name) != getattr(sent, name)
    ]


_KM_PER_MI = 1.609344


def _in_another_unit(record: Record, engine: EngineModel) -> tuple[list[Question], float]:
    """What there is to ask where the unit of usage changes, and the factor to the new one.

    Raises:
        Refused: nothing turns the one unit into the other.
    """
    old, new = record.engine.usage_unit, engine.usage_unit
    if old == new or not (record.visits or record.engine.meter_changes):
        return [], 1.0
    factor = {("km", "mi"): 1.0 / _KM_PER_MI, ("mi", "km"): _KM_PER_MI}.get((old, new))
    count = len(record.visits)
    if factor is None:
        why = (
            f"is '{new}'; the {count} visits so far are in {old}, which nothing turns into {new}. Describe "
            f"the engine anew with its {new} meter, or stay with {old}"
        )
        raise Refused([Fault("$.engine.usage_unit", why)])
    message = (
        f"the running totals of {count} visits are in {old}; they will be converted to {new}. "
        f"The check interval is taken as {engine.check_interval:g} {new}"
    )
    return [Question("$.engine.usage_unit", message)], factor


def _without_meter(visit: VisitModel) -> VisitModel:
    entered = visit.entered
    if not isinstance(entered, dict) or "meter" not in entered:
        return visit
    rest = {name: value for name, value in entered.items() if name != "meter"}
    return visit.model_copy(update={"entered": rest or None})


def _turned(visit: VisitModel, factor: float) -> VisitModel:
    """A visit with its usages in another unit."""
    recheck = visit.recheck and visit.recheck.model_copy(
        update={"usage": round(visit.recheck.usage * factor, 1)}
    )
    # What the old meter showed in the old unit tells nobody anything any more.
    return _without_meter(visit).model_copy(
        update={"usage": round(visit.usage * factor, 3), "recheck": recheck}
    )


def change_engine(
    session: Session,
    engine_id: str,
    document: Document,
    *,
    revision: int,
    confirmed: list[str],
    today: date,
) -> Record:
    """An engine's data in place of those before; what was noted of its meter stays.

    Args:
        revision: the one that the edit began from.

    Raises:
        NotThere: there is no such engine.
        Refused: it has faults, names itself otherwise, or drops a valve that was read.
        Stale: it was edited since that revision.
        Asked: a figure is odd, or the unit of usage changes.
    """
    record = engine_record(session, engine_id)
    engine = _checked(document, today).engine
    if engine.id != engine_id:
        raise Refused([Fault("$.engine.id", f"is '{engine.id}', must stay '{engine_id}'")])
    if records.engine_revision(session, engine_id) != revision:
        differences = _differences(record.engine, engine)
        if differences:
            raise Stale(differences)
        return record
    # These have ways of their own: a form that was opened before a change must not undo it.
    own_ways = {
        "meter_changes": record.engine.meter_changes,
        "usage_readings": record.engine.usage_readings,
        "archived": record.engine.archived,
        "kit": record.engine.kit,
    }
    engine = engine.model_copy(update=own_ways)
    faults = _still_read(record, engine)
    if faults:
        raise Refused(faults)
    turning, factor = _in_another_unit(record, engine)
    ask([*turning, *(one for one in _questions(engine) if one not in _questions(record.engine))], confirmed)
    if turning:
        for visit in record.visits:
            put_visit_data(session, engine_id, _turned(visit, factor))
        changes = [
            change.model_copy(
                update={"old": round(change.old * factor, 3), "new": round(change.new * factor, 3)}
            )
            for change in record.engine.meter_changes
        ]
        readings = [
            one.model_copy(update={"usage": round(one.usage * factor, 3)})
            for one in record.engine.usage_readings
        ]
        engine = engine.model_copy(update={"meter_changes": changes, "usage_readings": readings})
    put_among_sisters(session, engine)
    session.commit()
    return engine_record(session, engine_id)


def set_archived(session: Session, engine_id: str, *, archived: bool, today: date) -> None:
    """Have an engine be looked after no more, or again; nothing of it is lost.

    Raises:
        NotThere: there is no such engine.
    """
    engine = engine_record(session, engine_id).engine
    if (engine.archived is not None) != archived:
        records.put_archived(session, engine_id, today if archived else None)
        session.commit()


def set_kit(
    session: Session, engine_id: str, kit: list[KitItem], *, shown: tuple[list[KitItem]] | None = None
) -> None:
    """Say what to have ready before an engine is opened.

    Args:
        shown: what the page showed; None: it did not say.

    Raises:
        NotThere: there is no such engine.
        Stale: somebody else changed the list meanwhile.
    """
    engine = engine_record(session, engine_id).engine
    records.put_kit(session, engine_id, one_merged("kit", engine.kit, shown, kit))
    session.commit()


def revision_of(session: Session, engine_id: str) -> int:
    """How often an engine's data were edited.

    Raises:
        NotThere: there is no such engine.
    """
    revision = records.engine_revision(session, engine_id)
    if revision is None:
        raise NotThere("engine", engine_id)
    return revision
