"""The Verify step: closed up item by item, started, and complaint by complaint whether it is gone."""

from collections.abc import Callable

from sqlalchemy.orm import Session

from pronostico.analysis.lookup import visit_of
from pronostico.analysis.verification import (
    COMPRESSION,
    COVER,
    BeforeOrAfter,
    complaints_of,
    items_of,
)
from pronostico.core.plausibility import compression_query, usage_query
from pronostico.errors import NotThere, Question, Refused, Stale, ask
from pronostico.knowledge import load_closing
from pronostico.record.engine import EngineModel
from pronostico.record.faults import Fault
from pronostico.record.models import Record
from pronostico.record.visit import Number, VisitModel
from pronostico.record.work import Recheck, UsedPart, Verified
from pronostico.services.engines.load import engine_record
from pronostico.services.merging import one_merged
from pronostico.store.visit_data import put_visit_data


def _change(
    session: Session, engine_id: str, visit_id: str, change: Callable[[Record, VisitModel], VisitModel]
) -> None:
    record = engine_record(session, engine_id)
    visit = visit_of(record, visit_id)
    put_visit_data(session, engine_id, change(record, visit))
    session.commit()


def tick(session: Session, engine_id: str, visit_id: str, item: str, *, done: bool) -> None:
    """Tick an item off, or not.

    Raises:
        NotThere: there is no such engine or visit, or the item is not one of this visit's.
    """

    def ticked(record: Record, visit: VisitModel) -> VisitModel:
        known = [one.id for one in items_of(record.engine, visit)]
        if item not in known:
            raise NotThere("item to tick off", item)
        ticks = {*visit.ticks, item} if done else set(visit.ticks) - {item}
        cover = {"cover_off": not done} if item == COVER else {}
        return visit.model_copy(update={"ticks": sorted(ticks), **cover})

    _change(session, engine_id, visit_id, ticked)


def verify_complaint(
    session: Session,
    engine_id: str,
    visit_id: str,
    finding: str,
    verified: Verified | None,
    *,
    was: Verified | None,
) -> None:
    """Note what became of a complaint; None takes it back.

    Raises:
        NotThere: there is no such engine or visit, or no such complaint at it.
        Stale: somebody else noted otherwise meanwhile.
    """

    def noted(record: Record, visit: VisitModel) -> VisitModel:
        if finding not in {one.finding for one in complaints_of(record, visit_id)}:
            raise NotThere("complaint at this visit", finding)
        now = visit.outcomes.get(finding)
        if now not in (was, verified):
            state = "taken back" if now is None else f"entered as {now.outcome}"
            raise Stale([Fault("$.proved", f"has been {state}")])
        outcomes = {name: one for name, one in visit.outcomes.items() if name != finding}
        if verified is not None:
            outcomes[finding] = verified
        return visit.model_copy(update={"outcomes": outcomes})

    _change(session, engine_id, visit_id, noted)


def keep_recheck(
    session: Session,
    engine_id: str,
    visit_id: str,
    recheck: Recheck | None,
    *,
    confirmed: list[str],
    shown: tuple[Recheck | None] | None = None,
) -> None:
    """Choose when to check next; None goes back to what is proposed.

    Args:
        shown: what the page showed; None: it did not say.

    Raises:
        NotThere: there is no such engine or visit.
        Stale: somebody else chose otherwise meanwhile.
        Refused: it lies before the visit.
        Asked: it lies very far ahead.
    """

    def chosen(record: Record, visit: VisitModel) -> VisitModel:
        if recheck is not None:
            if recheck.usage < visit.usage:
                raise Refused([Fault("$.recheck.usage", f"lies before this visit, at {visit.usage:g}")])
            query = usage_query(recheck.usage, visit.usage, record.engine.check_interval)
            ask([] if query is None else [Question("$.recheck.usage", query.question)], confirmed)
        # One choice: the usage without its reason would be nobody's.
        if shown is not None and visit.recheck not in (shown[0], recheck):
            now = "taken back" if visit.recheck is None else f"changed to {visit.recheck.usage:g}"
            raise Stale([Fault("$.recheck.usage", f"has been {now}")])
        return visit.model_copy(update={"recheck": recheck})

    _change(session, engine_id, visit_id, chosen)


def keep_parts_used(
    session: Session,
    engine_id: str,
    visit_id: str,
    parts: list[UsedPart],
    *,
    shown: tuple[list[UsedPart]] | None = None,
) -> None:
    """Say which parts were used.

    Args:
        shown: what the page showed; None: it did not say.

    Raises:
        NotThere: there is no such engine or visit.
        Stale: somebody else changed the list meanwhile.
    """

    def used(_record: Record, visit: VisitModel) -> VisitModel:
        return visit.model_copy(update={"parts_used": one_merged("parts", visit.parts_used, shown, parts)})

    _change(session, engine_id, visit_id, used)


def keep_minutes(
    session: Session,
    engine_id: str,
    visit_id: str,
    minutes: float | None,
    *,
    shown: tuple[float | None] | None = None,
) -> None:
    """Note how long the work took.

    Args:
        shown: what the page showed; None: it did not say.

    Raises:
        NotThere: there is no such engine or visit.
        Stale: somebody else noted otherwise meanwhile.
    """

    def noted(_: Record, visit: VisitModel) -> VisitModel:
        kept = one_merged("minutes", visit.minutes, shown, minutes)
        return visit.model_copy(update={"minutes": kept})

    _change(session, engine_id, visit_id, noted)


def _figure_faults(engine: EngineModel, number: Number) -> list[Fault]:
    known = {one.id: one for one in load_closing().figure}
    if number.id == COMPRESSION:
        cylinders = sorted({valve.cylinder for valve in engine.valves})
        if number.cylinder not in cylinders:
            return [Fault("$.cylinder", f"must be one of {', '.join(map(str, cylinders))}")]
        return [] if 0.0 <= number.value <= 10_000.0 else [Fault("$.value", "must lie from 0 to 10000 kPa")]
    figure = known.get(number.id)
    if figure is None:
        return [
            Fault("$.id", f"there is no figure '{number.id}'; there are {', '.join(known)}, {COMPRESSION}")
        ]
    if not figure.min <= number.value <= figure.max:
        return [Fault("$.value", f"must lie from {figure.min:g} to {figure.max:g} {figure.unit}")]
    return []


def note_figure(
    session: Session,
    engine_id: str,
    visit_id: str,
    *,
    figure: str,
    cylinder: int | None,
    phase: BeforeOrAfter,
    value: float | None,
    confirmed: list[str],
    shown: tuple[float | None] | None = None,
) -> None:
    """Note a figure before or after; None strikes it out.

    Args:
        shown: what the page showed; None: it did not say.

    Raises:
        NotThere: there is no such engine or visit.
        Stale: somebody else noted otherwise meanwhile.
        Refused: there is no such figure or cylinder, or it is not possible large or small.
        Asked: a compression that may have been read in another unit.
    """
    record = engine_record(session, engine_id)
    visit = visit_of(record, visit_id)
    place = (figure, cylinder, phase)
    rest = [one for one in visit.numbers if (one.id, one.cylinder, one.phase or "before") != place]
    now = next((one.value for one in visit.numbers if one not in rest), None)
    value = one_merged("value", now, shown, value)
    if value is not None:
        units = {one.id: one.unit for one in load_closing().figure}
        number = Number(id=figure, value=value, unit=units.get(figure, "kPa"), cylinder=cylinder, phase=phase)
        faults = _figure_faults(record.engine, number)
        if faults:
            raise Refused(faults)
        query = compression_query(value) if figure == COMPRESSION else None
        ask([] if query is None else [Question("$.value", query.question, query.suggestion)], confirmed)
        rest.append(number)
    put_visit_data(session, engine_id, visit.model_copy(update={"numbers": rest}))
    session.commit()
