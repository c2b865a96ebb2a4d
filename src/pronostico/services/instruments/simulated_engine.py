"""The engine of a visit as simulated instruments find it.

Of a demonstration its stated truth is known. Of any other engine the best guess stands for it: each clearance
as read last, at the middle of its spec where it never was.
"""

from dataclasses import replace
from pathlib import Path

from pronostico.analysis.crank_plan import events_of, firing_of
from pronostico.analysis.engine_report import analyse_record
from pronostico.core.simulation.condition import SOUND_KPA, Condition, sound
from pronostico.record.conversion import engine_from
from pronostico.record.engine import EngineModel
from pronostico.record.models import Record
from pronostico.record.visit import VisitModel
from pronostico.services.instruments.simulated_truth import simulated_truth_of

_AIR_C = 18.0


def sound_kpa_of(engine: EngineModel) -> float:
    """What a sound cylinder of an engine shows: the middle of its spec, a usual figure where it has none."""
    spec = engine.compression_spec_kpa
    if spec is None or (spec.min is None and spec.max is None):
        return SOUND_KPA
    low, high = spec.min or spec.max, spec.max or spec.min
    assert low is not None
    assert high is not None
    return 0.5 * (low + high)


def sound_engine(engine: EngineModel) -> Condition:
    """An engine with nothing wrong.

    Raises:
        ImpossibleValue: its firing order is not known.
    """
    made = sound(engine_from(engine), firing_of(engine), events_of(engine))
    return replace(made, sound_kpa=sound_kpa_of(engine))


def _true_mm(database: Path, record: Record, visit: VisitModel) -> dict[str, float]:
    truth = simulated_truth_of(database, record.engine.id)
    set_here = {setting.valve for setting in visit.settings}
    if truth is None:
        return {}
    return {
        one.valve: one.left_mm if one.valve in set_here else one.found_mm
        for one in truth.clearances
        if one.visit == visit.id
    }


def _read_mm(record: Record, visit: VisitModel) -> dict[str, float]:
    upto = record.visits[: record.visits.index(visit) + 1]
    known = analyse_record(record.model_copy(update={"visits": upto}))
    return {one.valve: one.standing.mean_mm for one in known.valves if one.standing is not None}


def condition_at(database: Path, record: Record, visit: VisitModel) -> Condition:
    """The engine at a visit.

    Raises:
        ImpossibleValue: its firing order is not known.
    """
    base = sound_engine(record.engine)
    noted_c = visit.temperature_c
    return replace(
        base,
        clearance_mm={**base.clearance_mm, **_read_mm(record, visit), **_true_mm(database, record, visit)},
        altitude_m=visit.altitude_m or 0.0,
        head_c=_AIR_C if noted_c is None else noted_c,
        air_c=_AIR_C,
    )
