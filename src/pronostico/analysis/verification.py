"""What has to be closed up and shown before a job is done, complaint by complaint."""

from typing import Literal

from pronostico.analysis.adjustments_made import unmeasured, unread
from pronostico.analysis.lookup import findings_at, visit_of
from pronostico.analysis.recheck import RecheckOut, recheck_of
from pronostico.analysis.report_model import ReportModel
from pronostico.analysis.workshop_settings import WorkshopSettings
from pronostico.core.causes.computed_findings import none_left
from pronostico.core.gauge.valve_history import at_visit
from pronostico.knowledge import load_closing, load_knowledge
from pronostico.knowledge.closing import ClosingItem, Stage
from pronostico.language import Text
from pronostico.record.conversion import engine_from, visits_from
from pronostico.record.engine import EngineModel, Torque
from pronostico.record.models import Record
from pronostico.record.visit import VisitModel
from pronostico.record.work import Verified

BeforeOrAfter = Literal["before", "after"]

COVER = "cover"
"""The item to tick off once the valve cover is on again."""

COMPRESSION = "compression-dry"
"""The figure's name among a visit's numbers: compression tried again, by cylinder, kPa."""


class TickOut(ReportModel):
    """One item to tick off. `torque` is the engine's own; `see_manual`: there is one to look up."""

    id: str
    stage: Stage
    text: Text
    done: bool
    torque: list[Torque]
    see_manual: bool


class ComplaintOut(ReportModel):
    """A complaint of this visit, what became of it, and what to look at where it is not gone."""

    finding: str
    label: Text
    verified: Verified | None
    next_step: Text


class VerificationFigureOut(ReportModel):
    """A figure before and after; `cylinder` where it is one cylinder's."""

    id: str
    label: Text
    unit: str
    cylinder: int | None
    before: float | None
    after: float | None


class VerificationOut(ReportModel):
    """Everything that the Verify step shows."""

    ticks: list[TickOut]
    soft_metal: bool
    complaints: list[ComplaintOut]
    figures: list[VerificationFigureOut]
    held_open: list[str]
    unmeasured: list[str]
    unread: list[str]
    recheck: RecheckOut
    minutes: float | None


def _torque_for(engine: EngineModel, item: ClosingItem) -> list[Torque]:
    named = {part.casefold() for part in item.parts}
    return [one for one in engine.torque or [] if one.part.strip().casefold() in named]


def items_of(engine: EngineModel, visit: VisitModel) -> list[ClosingItem]:
    """The items to tick off that apply to the engine and the kind of visit."""
    return [
        item
        for item in load_closing().item
        if item.applies(adjustment=engine.adjustment, fuel=engine.fuel, work=visit.work or "check")
    ]


def ticks_of(engine: EngineModel, visit: VisitModel) -> list[TickOut]:
    """What is to be ticked off at a visit, with the torques that the engine's data give."""
    done = set(visit.ticks)
    ticks = []
    for item in items_of(engine, visit):
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
    """The complaints that were noted at a visit, and what became of them; also of a case closed since."""
    kinds, closing = load_knowledge().findings, load_closing()
    outcomes = visit_of(record, visit_id).outcomes
    present = dict.fromkeys(
        one.id
        for one in findings_at(record, visit_id, closed_too=True)
        if one.state == "present" and one.id in kinds and kinds[one.id].group == "complaint"
    )
    return [
        ComplaintOut(
            finding=one,
            label=kinds[one].label,
            verified=outcomes.get(one),
            next_step=closing.next_for(one),
        )
        for one in present
    ]


def _held_open(record: Record, visit_id: str) -> list[str]:
    """Valves at which the thinnest blade would not go: they may have been held off their seats."""
    engine = engine_from(record.engine)
    visit = next(one for one in visits_from(record) if one.id == visit_id)
    found = [(valve.id, at_visit(engine, valve, visit).found) for valve in engine.valves]
    return [valve for valve, one in found if one is not None and none_left(one) == 1.0]


def _figure(visit: VisitModel, figure: str, cylinder: int | None, phase: BeforeOrAfter) -> float | None:
    """The last one noted; a record that names no phase has it from before the work."""
    for one in reversed(visit.numbers):
        if (one.id, one.cylinder, one.phase or "before") == (figure, cylinder, phase):
            return one.value
    return None


def _figures(record: Record, visit: VisitModel, held_open: list[str]) -> list[VerificationFigureOut]:
    shown = [
        VerificationFigureOut(
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
            VerificationFigureOut(
                id=COMPRESSION,
                label=f"compression of cylinder {cylinder}, dry",
                unit="kPa",
                cylinder=cylinder,
                before=measured.get(cylinder or 0) if before is None else before,
                after=_figure(visit, COMPRESSION, cylinder, "after"),
            )
        )
    return shown


def is_verified(record: Record, visit: VisitModel) -> bool:
    """Whether everything is closed up and every complaint has its answer."""
    closed = all(one.done for one in ticks_of(record.engine, visit) if one.stage == "close")
    return closed and all(one.verified is not None for one in complaints_of(record, visit.id))


def verification(record: Record, visit: VisitModel, workshop: WorkshopSettings) -> VerificationOut:
    """What is closed up and shown to be right at a visit so far."""
    held_open = _held_open(record, visit.id)
    return VerificationOut(
        ticks=ticks_of(record.engine, visit),
        soft_metal=record.engine.head_material == "aluminium",
        complaints=complaints_of(record, visit.id),
        figures=_figures(record, visit, held_open),
        held_open=held_open,
        unmeasured=unmeasured(record.engine, visit),
        unread=unread(record.engine, visit),
        recheck=recheck_of(record, visit, workshop),
        minutes=visit.minutes,
    )
