"""The record's way into the core's types, and a simulated visit's way back."""

from pronostico.core.constants import DEFAULT, Constants
from pronostico.core.engine import Engine, Spec, SpecChange, Valve
from pronostico.core.visits import Reading, Setting, Try, Visit
from pronostico.record.engine import EngineModel, SpecModel
from pronostico.record.models import Record
from pronostico.record.visit import ReadingModel, SettingModel, TryModel, VisitModel


def spec_from(model: SpecModel, constants: Constants = DEFAULT) -> Spec | None:
    """A spec as a range; a single figure stands for a narrow one. None where there is no figure at all."""
    if model.min_mm is not None and model.max_mm is not None:
        return Spec(model.min_mm, model.max_mm)
    if model.figure_mm is not None:
        return Spec.from_figure(model.figure_mm, constants)
    return None


def engine_from(model: EngineModel, constants: Constants = DEFAULT) -> Engine:
    """The engine as the computation sees it."""
    changes = tuple(
        change
        for one in model.spec_changes
        for change in (
            SpecChange(one.date, "intake", spec_from(one.spec.intake, constants)),
            SpecChange(one.date, "exhaust", spec_from(one.spec.exhaust, constants)),
        )
    )
    valves = tuple(
        Valve(v.id, v.cylinder, v.side, None if v.spec is None else spec_from(v.spec, constants))
        for v in model.valves
    )
    return Engine(
        id=model.id,
        usage_unit=model.usage_unit,
        check_interval=model.check_interval,
        adjustment=model.adjustment,
        valves=valves,
        intake_spec=spec_from(model.spec.intake, constants),
        exhaust_spec=spec_from(model.spec.exhaust, constants),
        spec_changes=changes,
        reference_temperature_c=model.reference_temperature_c,
        head_material=model.head_material,
        block_material=model.block_material,
        rocker_ratio=model.rocker_ratio,
        valve_length_mm=model.valve_length_mm,
        pushrod_length_mm=model.pushrod_length_mm,
        fuel=model.fuel,
        duty=model.duty,
        decompression_lift_mm=model.decompression_lift_mm,
        decompression_side=model.decompression_side,
        starting=model.starting,
        side_priors=model.side_priors,
    )


def visit_from(model: VisitModel) -> Visit:
    """A visit as the computation sees it; a reading's own access wins over the visit's."""
    readings = tuple(
        Reading(
            valve=reading.valve,
            phase=reading.phase,
            tries=tuple(Try(tuple(one.blades_mm), one.felt) for one in reading.tries),
            access=reading.access or model.access or "straight",
            technician=reading.technician,
        )
        for reading in model.readings
    )
    settings = tuple(
        Setting(one.valve, one.target_mm, one.shim_from_mm, one.shim_to_mm) for one in model.settings
    )
    work = model.work or "check"
    renewed = frozenset(one.valve for one in model.parts_changed)
    return Visit(model.id, model.date, model.usage, model.temperature_c, work, readings, settings, renewed)


def visits_from(record: Record) -> tuple[Visit, ...]:
    """All visits of a record, in their order."""
    return tuple(visit_from(visit) for visit in record.visits)


def model_of_visit(visit: Visit) -> VisitModel:
    """A simulated visit as the record writes it."""
    return VisitModel(
        id=visit.id,
        date=visit.day,
        usage=visit.usage,
        temperature_c=visit.temperature_c,
        work=visit.work,
        readings=[
            ReadingModel(
                valve=reading.valve,
                phase=reading.phase,
                tries=[TryModel(blades_mm=list(one.blades_mm), felt=one.felt) for one in reading.tries],
                access=None if reading.access == "straight" else reading.access,
            )
            for reading in visit.readings
        ],
        settings=[
            SettingModel(
                valve=one.valve,
                target_mm=one.target_mm,
                shim_from_mm=one.shim_from_mm,
                shim_to_mm=one.shim_to_mm,
            )
            for one in visit.settings
        ],
    )
