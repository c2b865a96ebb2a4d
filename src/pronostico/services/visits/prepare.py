"""Preparing a visit: when, at what usage, how cold, how hard the machine is used, what came off."""

from collections.abc import Iterable
from dataclasses import dataclass
from datetime import date, datetime
from typing import Any

from sqlalchemy.orm import Session

from pronostico.analysis.crank_plan import assumed_school
from pronostico.analysis.lookup import visit_of
from pronostico.analysis.meter import offset_on
from pronostico.analysis.positions import suggested_school
from pronostico.core.plausibility import soak_query, usage_query
from pronostico.errors import AlreadyThere, NotThere, Question, Refused, Stale, ask
from pronostico.record.engine import EngineModel
from pronostico.record.engine import MeterChange as MeterChangeModel
from pronostico.record.faults import Fault
from pronostico.record.models import Record
from pronostico.record.visit import VisitModel
from pronostico.record.work import Part, Progress
from pronostico.services.engines.load import engine_record
from pronostico.store import records
from pronostico.store.visit_data import put_visit_data


@dataclass(frozen=True, slots=True)
class NewMeter:
    """Why a meter shows less than before: it was replaced or rolled over."""

    old: float
    new: float


def _usage_fault(shown: float, usage: float, before: VisitModel, offset: float) -> Fault:
    running = "" if offset == 0.0 else f" (with {offset:g} of earlier meters: {usage:g})"
    return Fault(
        "$.usage",
        f"is {shown:g}{running}, less than the {before.usage:g} of the last visit ({before.date}); the "
        "running total cannot go back. Say why: the meter was replaced or rolled over, or correct the "
        "earlier visit",
    )


def order_faults(
    visit: VisitModel, shown: float, before: VisitModel | None, after: VisitModel | None, offset: float
) -> list[Fault]:
    """Where a visit does not fit between its neighbours."""
    faults = []
    if before is not None and visit.usage < before.usage:
        faults.append(_usage_fault(shown, visit.usage, before, offset))
    if before is not None and visit.date < before.date:
        faults.append(Fault("$.date", f"{visit.date} is before the last visit ({before.date})"))
    if after is not None and visit.usage > after.usage:
        faults.append(
            Fault("$.usage", f"is {shown:g}, more than the {after.usage:g} of the next visit ({after.date})")
        )
    if after is not None and visit.date > after.date:
        faults.append(Fault("$.date", f"{visit.date} is after the next visit ({after.date})"))
    return faults


def _questions(
    visit: VisitModel, before: VisitModel | None, engine: EngineModel, changed: Iterable[str]
) -> list[Question]:
    questions = []
    if "temperature_c" in changed and (query := soak_query(visit.temperature_c)) is not None:
        questions.append(Question("$.temperature_c", query.question, query.suggestion))
    if "usage" in changed and before is not None:
        far = usage_query(visit.usage, before.usage, engine.check_interval)
        if far is not None:
            questions.append(Question("$.usage", far.question))
    return questions


def place_of(record: Record, visit: VisitModel) -> int:
    """Where a visit belongs among those of its engine: after all that are not later than it."""
    return sum(one.date <= visit.date for one in record.visits)


def _in_the_past(visit: VisitModel, before: VisitModel | None, after: VisitModel) -> Question:
    where = f"before {after.id}" if before is None else f"between {before.id} and {after.id}"
    return Question(
        "$.date",
        f"{visit.date} is before the visit {after.id} of {after.date}. Is it an earlier check entered "
        f"now? It is inserted {where}, and later predictions are recalculated",
    )


def start_visit(
    session: Session,
    engine_id: str,
    visit: VisitModel,
    *,
    new_meter: NewMeter | None = None,
    confirmed: list[str],
    today: date,
    now: datetime,
) -> VisitModel:
    """Begin a visit; the same one sent twice is begun once.

    Args:
        visit: its `usage` is what the meter shows; stored is the running total.
        new_meter: why the meter shows less than before.
        confirmed: the paths that were asked about and are right as they are.

    Raises:
        NotThere: there is no such engine.
        Refused: usage runs backwards, or the date lies ahead.
        Asked: a figure is odd, or the visit lies before others.
        AlreadyThere: another visit has that id.
    """
    record = engine_record(session, engine_id)
    shown = visit.usage
    same = next((one for one in record.visits if one.id == visit.id), None)
    if same is not None:
        meter = same.usage - offset_on(record.engine, same.date)
        if (same.date, meter, same.temperature_c) == (visit.date, shown, visit.temperature_c):
            return same
        raise AlreadyThere(f"a visit '{visit.id}' exists already, of {same.date} at {same.usage:g}")
    engine = record.engine
    if new_meter is not None:
        engine = _with_new_meter(record, visit.date, shown, new_meter)
    offset = offset_on(engine, visit.date)
    visit = visit.model_copy(update={"usage": shown + offset})
    place = place_of(record, visit)
    before = record.visits[place - 1] if place > 0 else None
    after = record.visits[place] if place < len(record.visits) else None
    faults = order_faults(visit, shown, before, after, offset)
    if visit.date > today:
        faults.append(Fault("$.date", f"{visit.date} lies in the future (today is {today})"))
    if faults:
        raise Refused(faults)
    questions = _questions(visit, before, engine, ("usage", "temperature_c"))
    if after is not None:
        questions.insert(0, _in_the_past(visit, before, after))
    ask(questions, confirmed)
    if offset != 0.0:
        visit = visit.model_copy(update={"entered": {"meter": shown}})
    if visit.progress is None:
        visit = visit.model_copy(update={"progress": Progress(state="open")})
    school = suggested_school(record)
    if school != assumed_school(record.engine):
        visit = visit.model_copy(update={"school": school})
    if engine is not record.engine:
        records.put_engine(session, engine)
    records.make_room(session, engine_id, place)
    records.add_visit(session, engine_id, visit, position=place, now=now)
    session.commit()
    return visit


def _with_new_meter(record: Record, day: date, shown: float, change: NewMeter) -> EngineModel:
    """The engine with a change of its meter noted.

    Raises:
        Refused: what the old meter showed last lies below the last visit, or the new one began above.
    """
    offset = offset_on(record.engine, day)
    faults = []
    if record.visits and change.old + offset < record.visits[-1].usage:
        last = record.visits[-1].usage - offset
        faults.append(Fault("$.new_meter.old", f"is {change.old:g}; at the last visit it showed {last:g}"))
    if change.new > shown:
        faults.append(Fault("$.new_meter.new", f"is {change.new:g}, more than the {shown:g} it shows now"))
    if faults:
        raise Refused(faults)
    noted = MeterChangeModel(date=day, old=change.old, new=change.new)
    return record.engine.model_copy(update={"meter_changes": [*record.engine.meter_changes, noted]})


def _stale(visit: VisitModel, changes: dict[str, Any], was: dict[str, Any]) -> list[Fault]:
    """What somebody else changed since the page was read, of what is to be changed now."""
    faults = []
    for field, value in changes.items():
        now = getattr(visit, field)
        if field in was and now not in (was[field], value):
            faults.append(Fault(f"$.{field}", f"has been changed to {now}"))
    return faults


def change_visit(
    session: Session,
    engine_id: str,
    visit_id: str,
    *,
    changes: dict[str, Any],
    was: dict[str, Any],
    confirmed: list[str],
    today: date,
) -> None:
    """Change fields of a visit, each on its own: two people who change different ones both succeed.

    Args:
        changes: fields of the visit; `usage` is what the meter shows.
        was: what the page showed before, for the same fields.

    Raises:
        NotThere: there is no such engine or visit.
        Stale: somebody else changed one of the fields meanwhile.
        Refused: it does not fit between its neighbours, or lies in the future.
        Asked: a figure is odd.
    """
    record = engine_record(session, engine_id)
    at = next((index for index, one in enumerate(record.visits) if one.id == visit_id), None)
    if at is None:
        raise NotThere("visit", visit_id)
    visit = record.visits[at]
    offset = offset_on(record.engine, changes.get("date", visit.date))
    for figures in (changes, was):
        if "usage" in figures:
            figures["usage"] += offset
    stale = _stale(visit, changes, was)
    if stale:
        raise Stale(stale)
    changed = visit.model_copy(update=changes)
    before = record.visits[at - 1] if at > 0 else None
    after = record.visits[at + 1] if at + 1 < len(record.visits) else None
    moved = {"usage", "date"} & set(changes)
    faults = order_faults(changed, changed.usage - offset, before, after, offset) if moved else []
    if changed.date > today:
        faults.append(Fault("$.date", f"{changed.date} lies in the future (today is {today})"))
    if faults:
        raise Refused(faults)
    ask(_questions(changed, before, record.engine, changes), confirmed)
    put_visit_data(session, engine_id, changed)
    session.commit()


def put_parts(session: Session, engine_id: str, visit_id: str, *, parts: list[Part], was: list[Part]) -> None:
    """Note the parts laid aside, in place of those the page knew of.

    Raises:
        NotThere: there is no such engine or visit.
        Stale: somebody else changed the list meanwhile.
    """
    visit = visit_of(engine_record(session, engine_id), visit_id)
    if visit.parts not in (was, parts):
        listed = "; ".join(f"{part.what}, {part.came_from}" for part in visit.parts) or "nothing"
        raise Stale([Fault("$.parts", f"has been changed; it lists {listed}")])
    put_visit_data(session, engine_id, visit.model_copy(update={"parts": parts}))
    session.commit()


def copy_preparation(session: Session, engine_id: str, visit_id: str) -> None:
    """Take over from the visit before what is not entered yet; sent twice it is done once.

    What was measured or is of its day (temperature, last run) is not taken over. Parts are listed as removed.

    Raises:
        NotThere: there is no such engine or visit.
        Refused: there is no visit before.
    """
    record = engine_record(session, engine_id)
    visit = visit_of(record, visit_id)
    before = record.visits[: record.visits.index(visit)]
    if not before:
        raise Refused([Fault("$", "is the first visit of this engine: there is none to copy from")])
    last = before[-1]
    taken: dict[str, Any] = {
        field: getattr(last, field)
        for field in ("duty", "technician", "access", "work")
        if getattr(visit, field) is None and getattr(last, field) is not None
    }
    if not visit.parts and last.parts:
        taken["parts"] = [part.model_copy(update={"back": False}) for part in last.parts]
    if taken:
        put_visit_data(session, engine_id, visit.model_copy(update=taken))
        session.commit()
