"""The snow groomer: a diesel, steady for years, until one intake's locknut lets go."""

from datetime import date, timedelta

from pronostico.core.simulation.history import PlannedVisit, ValveTruth
from pronostico.demo.machine import LONG_SET, DemoMachine, engine_of, machine
from pronostico.record.engine import Source, Thread, Torque
from pronostico.record.models import CaseModel
from pronostico.record.visit import FindingModel


def groomer(today: date, seed: int) -> DemoMachine:
    """The machine on a given day: looked at after it began to tick, all at once."""
    engine = engine_of(
        "D6-70",
        "groomer",
        "Snow groomer",
        duty="nights, full load",
        source=Source(title="Workshop manual D6-70", page="2-44"),
        thread=Thread(hand="right", locks="outer"),
        torque=[Torque(part="locknut", nm=40), Torque(part="cover", nm=12)],
    )
    # The nut of 4I let go a few days ago, and its screw backed out.
    truths = tuple(
        ValveTruth(valve.id, 0.305, 0.004, jump_usage=3190.0, jump_mm=0.36)
        if valve.id == "4I"
        else ValveTruth(valve.id, 0.305 if valve.side == "intake" else 0.505, 0.004)
        for valve in engine.valves
    )
    history = [(1460, 310.0, 14.0), (1095, 1020.0, 12.0), (730, 1748.0, 15.0), (365, 2490.0, 13.0)]
    plans = [
        PlannedVisit(f"v{number}", today - timedelta(days=days), usage, temperature)
        for number, (days, usage, temperature) in enumerate(history, start=1)
    ]
    plans.append(PlannedVisit("v5", today - timedelta(days=2), 3204.0, 11.0))
    ticking = CaseModel(
        id="c1",
        opened=today - timedelta(days=2),
        visit="v5",
        findings=[
            FindingModel(
                id="tick",
                state="present",
                onset="sudden",
                words="Began in the night, from one run to the next.",
            ),
            FindingModel(id="low-power", state="absent"),
        ],
    )
    return machine(engine, truths, tuple(plans), cases=[ticking], seed=seed, gauge_set=LONG_SET)
