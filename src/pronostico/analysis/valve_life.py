"""The whole life of one valve: what was measured, set, fitted, changed and seen at it, visit by visit."""

from datetime import date
from itertools import pairwise
from typing import Literal

from pronostico.analysis.drift_cache import drifts_of
from pronostico.analysis.drift_report import ChangePointOut
from pronostico.analysis.report import EstimateOut, SpecOut, estimate_out
from pronostico.analysis.report_model import ReportModel
from pronostico.core.constants import DEFAULT
from pronostico.core.gauge.valve_history import at_visit
from pronostico.errors import NotThere
from pronostico.record.conversion import engine_from, visits_from
from pronostico.record.models import Record
from pronostico.record.visit import SettingModel, VisitModel
from pronostico.record.work import ShimSeen, ValvePart

Began = Literal["first visit", "head work", "parts changed"]


class LifeSettingOut(ReportModel):
    """What was done to the clearance: lengths in mm, turns of the screw in degrees."""

    target_mm: float | None
    shim_from_mm: float | None
    shim_to_mm: float | None
    turn_deg: float | None
    preload_turns: float | None
    moved_from: str | None
    reason: str | None


class LifeFindingOut(ReportModel):
    """A finding noted at this valve or its cylinder, and its state."""

    id: str
    state: str
    note: str | None


class LifeVisitOut(ReportModel):
    """One visit in the life of a valve. `sudden_change`: the reading lay far from what was predicted."""

    visit: str
    date: date
    usage: float
    technician: str | None
    temperature_c: float | None
    spec: SpecOut | None
    found: EstimateOut | None
    left: EstimateOut | None
    settings: list[LifeSettingOut]
    shim_seen: ShimSeen | None
    decision: str | None
    parts_changed: list[ValvePart]
    head_work: bool
    findings: list[LifeFindingOut]
    sudden_change: ChangePointOut | None


class EraOut(ReportModel):
    """The visits between two changes of parts, the first at which it began.

    `moved_mm`: sum of what the clearance moved between visits, settings left out, where every reading that
    the sum needs gives a figure; tighter is negative. `usage`: over how much running.
    """

    began_with: Began
    parts: list[ValvePart]
    visits: list[LifeVisitOut]
    usage: float
    moved_mm: float | None


class ValveLifeOut(ReportModel):
    """One valve from its first visit on, era by era, the oldest first."""

    engine: str
    name: str
    valve: str
    cylinder: int
    side: str
    usage_unit: str
    shim_mm: float | None
    eras: list[EraOut]


def _setting(one: SettingModel) -> LifeSettingOut:
    return LifeSettingOut.model_validate(one, from_attributes=True)


def _figure(estimate: EstimateOut | None) -> float | None:
    return estimate.mean_mm if estimate is not None and estimate.gives_number else None


def _after(visit: LifeVisitOut) -> float | None:
    """The clearance after a visit where it is known: as left, else as found where nothing was done."""
    touched = bool(visit.settings or visit.parts_changed or visit.head_work)
    return _figure(visit.left) if touched or visit.left is not None else _figure(visit.found)


def _moved(visits: list[LifeVisitOut]) -> float | None:
    """What a valve moved over the visits of an era; visits at which it was not read are passed over."""
    read = [visits[0], *(one for one in visits[1:] if one.found is not None or one.settings)]
    steps = [(_after(before), _figure(after.found)) for before, after in pairwise(read)]
    if not steps:
        return None
    moved = 0.0
    for before, after in steps:
        if before is None or after is None:
            return None
        moved += after - before
    return moved


def _era(began_with: Began, visits: list[LifeVisitOut]) -> EraOut:
    return EraOut(
        began_with=began_with,
        parts=visits[0].parts_changed if began_with == "parts changed" else [],
        visits=visits,
        usage=visits[-1].usage - visits[0].usage,
        moved_mm=_moved(visits),
    )


def _eras(visits: list[LifeVisitOut]) -> list[EraOut]:
    """The visits in eras; the visit at which parts were changed ends one and begins the next."""
    eras: list[EraOut] = []
    began_with: Began = "first visit"
    current: list[LifeVisitOut] = []
    for visit in visits:
        current.append(visit)
        if visit.head_work or visit.parts_changed:
            # At a first visit nothing is known of what was there before.
            if len(current) > 1:
                eras.append(_era(began_with, current))
            began_with = "head work" if visit.head_work else "parts changed"
            current = [visit]
    if current:
        eras.append(_era(began_with, current))
    return eras


def valve_life(record: Record, valve_id: str) -> ValveLifeOut:
    """The life of a valve.

    Raises:
        NotThere: the engine has no such valve.
    """
    engine = engine_from(record.engine)
    valve = next((one for one in engine.valves if one.id == valve_id), None)
    if valve is None:
        raise NotThere("valve", valve_id)
    visits = visits_from(record)
    known = drifts_of(engine.alone, visits).valves.get(valve_id)
    sudden = {
        one.visit: one.z
        for one in (known.predicted if known is not None else ())
        if one.z is not None and abs(one.z) > DEFAULT.change_point_z
    }

    def visit_of(index: int, model: VisitModel) -> LifeVisitOut:
        at, z = at_visit(engine, valve, visits[index]), sudden.get(index)
        decided = model.decisions.get(valve_id)
        return LifeVisitOut(
            visit=model.id,
            date=model.date,
            usage=model.usage,
            technician=model.technician,
            temperature_c=model.temperature_c,
            spec=None if at.spec is None else SpecOut.model_validate(at.spec),
            found=estimate_out(at.found),
            left=estimate_out(at.left),
            settings=[_setting(one) for one in model.settings if one.valve == valve_id],
            shim_seen=model.shims_seen.get(valve_id),
            decision=None if decided is None else decided.decision,
            parts_changed=[one.part for one in model.parts_changed if one.valve == valve_id],
            head_work=at.head_work,
            findings=[
                LifeFindingOut(id=one.id, state=one.state, note=one.note)
                for one in model.findings
                if one.cylinder == valve.cylinder and one.side in (None, valve.side)
            ],
            sudden_change=None
            if z is None
            else ChangePointOut(visit=model.id, z=z, direction="tight" if z < 0.0 else "loose"),
        )

    shim = next(one.shim_mm for one in record.engine.valves if one.id == valve_id)
    return ValveLifeOut(
        engine=record.engine.id,
        name=record.engine.name or record.engine.id,
        valve=valve.id,
        cylinder=valve.cylinder,
        side=valve.side,
        usage_unit=engine.usage_unit,
        shim_mm=shim,
        eras=_eras([visit_of(index, model) for index, model in enumerate(record.visits)]),
    )
