"""The snow thrower: a single that has worn loose, so that its compression release opens no valve."""

from datetime import date, timedelta

from pronostico.core.simulation.history import PlannedVisit, ValveTruth
from pronostico.core.units import mm_from_thou
from pronostico.demo.machine import INCH_SET, DemoMachine, engine_of, machine
from pronostico.record.engine import Source, Torque
from pronostico.record.models import CaseModel
from pronostico.record.visit import FindingModel


def thrower(today: date, seed: int) -> DemoMachine:
    """The machine on a given day; its manual and its blades are in thou."""
    engine = engine_of(
        "S1-30",
        "thrower",
        "Snow thrower",
        duty="short hard runs",
        decompression_lift_mm=0.3,
        decompression_side="exhaust",
        starting="rope",
        source=Source(title="Owner's manual S1-30", page="18"),
        torque=[Torque(part="locknut", nm=8), Torque(part="cover", nm=6)],
        spec={
            "intake": {"min_mm": round(mm_from_thou(3), 4), "max_mm": round(mm_from_thou(5), 4)},
            "exhaust": {"min_mm": round(mm_from_thou(5), 4), "max_mm": round(mm_from_thou(7), 4)},
        },
    )
    truths = tuple(
        ValveTruth(valve.id, 0.092, 0.016, 0.12)
        if valve.side == "intake"
        else ValveTruth(valve.id, 0.142, 0.022, 0.12)
        for valve in engine.valves
    )
    history = [(1440, 42.0, 9.0), (1075, 131.0, 12.0), (710, 238.0, 10.0), (1, 372.0, 6.0)]
    plans = tuple(
        PlannedVisit(f"v{number}", today - timedelta(days=days), usage, temperature)
        for number, (days, usage, temperature) in enumerate(history, start=1)
    )
    heavy = CaseModel(
        id="c1",
        opened=today - timedelta(days=1),
        visit="v4",
        findings=[
            FindingModel(id="heavy-crank", state="present", onset="gradual", words="The rope is heavy now."),
            FindingModel(id="kickback", state="present"),
            FindingModel(id="tick", state="present"),
        ],
    )
    return machine(engine, truths, plans, cases=[heavy], seed=seed, gauge_set=INCH_SET)
