"""The rescue snowmobile: twelve valves over shims, whose intakes close; shims to move about and to order."""

from datetime import date, timedelta

from pronostico.core.simulation.history import PlannedVisit, ValveTruth
from pronostico.demo.machine import DemoMachine, engine_of, machine
from pronostico.record.engine import EngineModel, Source, Torque, ValveModel
from pronostico.record.models import BoxedShim

# The shims in it now by its data, thousandths of a millimetre.
_SHIMS_UM = {
    "1Ia": 1750, "1Ib": 1800, "1Ea": 1850, "1Eb": 1800,
    "2Ia": 1700, "2Ib": 1800, "2Ea": 1800, "2Eb": 1900,
    "3Ia": 1800, "3Ib": 1750, "3Ea": 1850, "3Eb": 1800,
}  # fmt: skip
_DRIFT = {"1Ia": -0.016, "1Ib": -0.012, "2Ia": -0.020, "2Ib": -0.011, "3Ia": -0.013, "3Ib": -0.017}


def _engine() -> EngineModel:
    engine = engine_of(
        "T3-09",
        "snowmobile",
        "Rescue snowmobile",
        duty="hard, short runs",
        source=Source(title="Workshop manual T3-09", page="3-31"),
        torque=[
            Torque(part="cam cap", nm=10, stages=[5, 10], sequence="from the middle outwards"),
            Torque(part="cover", nm=8),
            Torque(part="plug", nm=12),
        ],
    )
    valves: list[ValveModel] = [
        valve.model_copy(update={"shim_mm": _SHIMS_UM[valve.id] / 1000.0}) for valve in engine.valves
    ]
    return engine.model_copy(update={"valves": valves})


def snowmobile(today: date, seed: int) -> DemoMachine:
    """The machine on a given day: looked at three times, shims changed once, and out again today."""
    engine = _engine()
    truths = tuple(
        ValveTruth(valve.id, 0.150, _DRIFT[valve.id])
        if valve.side == "intake"
        else ValveTruth(valve.id, 0.245, -0.002)
        for valve in engine.valves
    )
    # Two valves had a thinner shim the year before last.
    plans = (
        PlannedVisit("v1", today - timedelta(days=1090), 9600.0, 12.0),
        PlannedVisit(
            "v2",
            today - timedelta(days=716),
            20100.0,
            10.0,
            work="check-and-set",
            fit_mm={"2Ia": (1.70, 1.65), "1Ia": (1.75, 1.70)},
        ),
        PlannedVisit("v3", today - timedelta(days=350), 30400.0, 13.0),
        PlannedVisit("v4", today, 43800.0, 9.0),
    )
    box = [
        BoxedShim(shim_mm=size, count=count, diameter_mm=8.9)
        for size, count in ((1.60, 1), (1.65, 0), (1.70, 2), (1.80, 3), (1.85, 1), (1.95, 2), (2.05, 1))
    ]
    return machine(engine, truths, plans, cases=[], seed=seed, shim_box=box)
