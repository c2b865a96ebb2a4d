"""The Prove stop: closed up item by item, started, and complaint by complaint whether it is gone."""

from collections.abc import Callable
from typing import Literal

from sqlalchemy.orm import Session

from pronostico.core.computed import none_left
from pronostico.core.doubts import compression_doubt, usage_doubt
from pronostico.core.history import at_visit
from pronostico.knowledge import load_closing, load_knowledge
from pronostico.knowledge.closing import ClosingItem, Stage
from pronostico.record.conversion import engine_from, visits_from
from pronostico.record.faults import Fault
from pronostico.record.models import EngineModel, Number, Record, Torque, VisitModel
from pronostico.services.engines import engine_record
from pronostico.services.errors import NotThere, Question, Refused, Stale, ask
from pronostico.services.findings import findings_at
from pronostico.services.preparing import visit_of
from pronostico.services.rechecks import RecheckOut, recheck_of
from pronostico.services.report_model import ReportModel
from pronostico.services.setting import unmeasured, unread
from pronostico.services.shop import shop_settings
from pronostico.services.visit_notes import Proved, Recheck, VisitNotes, notes_of, with_notes
from pronostico.store.visit_data import put_visit_data

When = Literal["before", "after"]
COVER = "cover"
"""The item to tick off once the valve cover is on again."""
COMPRESSION = "compression-dry"
"""The figure's name among a visit's numbers: compression tried again, by cylinder, kPa."""


class TickOut(ReportModel):
    """One item to tick off. `torque` is the engine's own; `see_manual`: there is one to look up."""

    id: str
    stage: Stage
    text: str
    done: bool
    torque: list[Torque]
    see_manual: bool


class ComplaintOut(ReportModel):
    """A complaint of this visit, what became of it, and what to look at where it is not gone."""

    finding: str
    label: str
    proved: Proved | None
    next_look: str


class ProofFigureOut(ReportModel):
    """A figure before and after; `cylinder` where it is one cylinder's."""

    id: str
    label: str
    unit: str
    cylinder: int | None
    before: float | None
    after: float | None


class ProofOut(ReportModel):
    """Everything that the Prove stop shows."""

    ticks: list[TickOut]
    soft_metal: bool
    complaints: list[ComplaintOut]
    figures: list[ProofFigureOut]
    held_open: list[str]
    unmeasured: list[str]
    unread: list[str]
    recheck: RecheckOut
    minutes: float | None


def _torque_for(engine: EngineModel, item: ClosingItem) -> list[Torque]:
    named = {part.casefold() for part in item.parts}
    return [one for one in engine.torque or [] if one.part.strip().casefold() in named]


def _items(engine: EngineModel, visit: VisitModel) -> list[ClosingItem]:
    return [
        item
        for item in load_closing().item
        if item.applies(adjustment=engine.adjustment, fuel=engine.fuel, work=visit.work or "check")
    ]


def ticks_of(engine: EngineModel, visit: VisitModel) -> list[TickOut]:
    """What is to be ticked off at a visit, with the torques that the engine's data give."""
    done = set(notes_of(visit).ticks)
    ticks = []
    for item in _items(engine, visit):
        torque = _torque_for(engine, item)
        ticks.append(
            TickOut(
                id=item.id,
                stage=item.stage,
                text=item.text,
                done=item.id in done,
                torque=torque,
                see_manual=bool(item.parts) and not torque,
            )
        )
    return ticks


def complaints_of(record: Record, visit_id: str) -> list[ComplaintOut]:
    """The complaints that were noted at a visit, and what became of them."""
    kinds, closing = load_knowledge().findings, load_closing()
    outcomes = notes_of(visit_of(record, visit_id)).outcomes
    present = dict.fromkeys(
        one.id
        for one in findings_at(record, visit_id)
        if one.state == "present" and one.id in kinds and kinds[one.id].group == "complaint"
    )
    return [
        ComplaintOut(
            finding=one,
            label=kinds[one].label,
            proved=outcomes.get(one),
            next_look=closing.next_for(one),
        )
        for one in present
    ]


def _held_open(record: Record, visit_id: str) -> list[str]:
    """Valves at which the thinnest blade would not go: they may have been held off their seats."""
    engine = engine_from(record.engine)
    visit = next(one for one in visits_from(record) if one.id == visit_id)
    found = [(valve.id, at_visit(engine, valve, visit).found) for valve in engine.valves]
    return [valve for valve, one in found if one is not None and none_left(one) == 1.0]


def _figure(visit: VisitModel, figure: str, cylinder: int | None, phase: When) -> float | None:
    """The last one noted; a record that names no phase has it from before the work."""
    for one in reversed(visit.numbers):
        if (one.id, one.cylinder, one.phase or "before") == (figure, cylinder, phase):
            return one.value
    return None


def _figures(record: Record, visit: VisitModel, held_open: list[str]) -> list[ProofFigureOut]:
    shown = [
        ProofFigureOut(
            id=one.id,
            label=one.label,
            unit=one.unit,
            cylinder=None,
            before=_figure(visit, one.id, None, "before"),
            after=_figure(visit, one.id, None, "after"),
        )
        for one in load_closing().figure
    ]
    measured = {one.cylinder: one.dry_kpa for one in visit.compression}
    noted = {one.cylinder for one in visit.numbers if one.id == COMPRESSION}
    cylinders = {one.cylinder for one in record.engine.valves if one.id in held_open} | noted
    for cylinder in sorted(cylinders | set(measured), key=lambda one: one or 0):
        before = _figure(visit, COMPRESSION, cylinder, "before")
        shown.append(
            ProofFigureOut(
                id=COMPRESSION,
                label=f"compression of cylinder {cylinder}, dry",
                unit="kPa",
                cylinder=cylinder,
                before=measured.get(cylinder or 0) if before is None else before,
                after=_figure(visit, COMPRESSION, cylinder, "after"),
            )
        )
    return shown


def proof(session: Session, engine_id: str, visit_id: str) -> ProofOut:
    """The Prove stop of a visit.

    Raises:
        NotThere: there is no such engine or visit.
    """
    record = engine_record(session, engine_id)
    visit = visit_of(record, visit_id)
    held_open = _held_open(record, visit_id)
    return ProofOut(
        ticks=ticks_of(record.engine, visit),
        soft_metal=record.engine.head_material == "aluminium",
        complaints=complaints_of(record, visit_id),
        figures=_figures(record, visit, held_open),
        held_open=held_open,
        unmeasured=unmeasured(record.engine, visit),
        unread=unread(record.engine, visit),
        recheck=recheck_of(record, visit, shop_settings(session)),
        minutes=notes_of(visit).minutes,
    )


def is_proved(record: Record, visit: VisitModel) -> bool:
    """Whether everything is closed up and every complaint has its answer."""
    closed = all(one.done for one in ticks_of(record.engine, visit) if one.stage == "close")
    return closed and all(one.proved is not None for one in complaints_of(record, visit.id))


def _change(
    session: Session, engine_id: str, visit_id: str, change: Callable[[Record, VisitNotes], VisitNotes]
) -> None:
    record = engine_record(session, engine_id)
    visit = visit_of(record, visit_id)
    put_visit_data(session, engine_id, with_notes(visit, change(record, notes_of(visit))))
    session.commit()


def tick(session: Session, engine_id: str, visit_id: str, item: str, *, done: bool) -> None:
    """Tick an item off, or not.

    Raises:
        NotThere: there is no such engine or visit, or the item is not one of this visit's.
    """

    def ticked(record: Record, notes: VisitNotes) -> VisitNotes:
        known = [one.id for one in _items(record.engine, visit_of(record, visit_id))]
        if item not in known:
            raise NotThere("item to tick off", item)
        ticks = {*notes.ticks, item} if done else set(notes.ticks) - {item}
        cover = {"cover_off": not done} if item == COVER else {}
        return notes.model_copy(update={"ticks": sorted(ticks), **cover})

    _change(session, engine_id, visit_id, ticked)


def prove(
    session: Session,
    engine_id: str,
    visit_id: str,
    finding: str,
    proved: Proved | None,
    *,
    was: Proved | None,
) -> None:
    """Note what became of a complaint; None takes it back.

    Raises:
        NotThere: there is no such engine or visit, or no such complaint at it.
        Stale: somebody else noted otherwise meanwhile.
    """

    def noted(record: Record, notes: VisitNotes) -> VisitNotes:
        if finding not in {one.finding for one in complaints_of(record, visit_id)}:
            raise NotThere("complaint at this visit", finding)
        now = notes.outcomes.get(finding)
        if now not in (was, proved):
            told = "taken back" if now is None else f"noted as {now.outcome}"
            raise Stale([Fault("$.proved", f"was {told} meanwhile")])
        outcomes = {name: one for name, one in notes.outcomes.items() if name != finding}
        if proved is not None:
            outcomes[finding] = proved
        return notes.model_copy(update={"outcomes": outcomes})

    _change(session, engine_id, visit_id, noted)


def keep_recheck(
    session: Session, engine_id: str, visit_id: str, recheck: Recheck | None, *, confirmed: list[str]
) -> None:
    """Choose when to look again; None goes back to what is proposed.

    Raises:
        NotThere: there is no such engine or visit.
        Refused: it lies before the visit.
        Asked: it lies very far ahead.
    """

    def chosen(record: Record, notes: VisitNotes) -> VisitNotes:
        visit = visit_of(record, visit_id)
        if recheck is not None:
            if recheck.usage < visit.usage:
                raise Refused([Fault("$.recheck.usage", f"lies before this visit, at {visit.usage:g}")])
            doubt = usage_doubt(recheck.usage, visit.usage, record.engine.check_interval)
            ask([] if doubt is None else [Question("$.recheck.usage", doubt.question)], confirmed)
        return notes.model_copy(update={"recheck": recheck})

    _change(session, engine_id, visit_id, chosen)


def keep_minutes(session: Session, engine_id: str, visit_id: str, minutes: float | None) -> None:
    """Note how long the work took.

    Raises:
        NotThere: there is no such engine or visit.
    """
    _change(session, engine_id, visit_id, lambda _, notes: notes.model_copy(update={"minutes": minutes}))


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
    phase: When,
    value: float | None,
    confirmed: list[str],
) -> None:
    """Note a figure before or after; None strikes it out.

    Raises:
        NotThere: there is no such engine or visit.
        Refused: there is no such figure or cylinder, or it cannot be so large or small.
        Asked: a compression that may have been read in another unit.
    """
    record = engine_record(session, engine_id)
    visit = visit_of(record, visit_id)
    rest = [
        one
        for one in visit.numbers
        if (one.id, one.cylinder, one.phase or "before") != (figure, cylinder, phase)
    ]
    if value is not None:
        units = {one.id: one.unit for one in load_closing().figure}
        number = Number(id=figure, value=value, unit=units.get(figure, "kPa"), cylinder=cylinder, phase=phase)
        faults = _figure_faults(record.engine, number)
        if faults:
            raise Refused(faults)
        doubt = compression_doubt(value) if figure == COMPRESSION else None
        ask([] if doubt is None else [Question("$.value", doubt.question, doubt.suggestion)], confirmed)
        rest.append(number)
    put_visit_data(session, engine_id, visit.model_copy(update={"numbers": rest}))
    session.commit()
