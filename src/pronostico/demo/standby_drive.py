"""The lift's standby drive: a V8 with hydraulic lifters, noisy after a summer of standing."""

from datetime import date, timedelta

from pronostico.core.simulation.history import PlannedVisit, ValveTruth
from pronostico.demo.machine import DemoMachine, engine_of, machine
from pronostico.record.engine import Source, Torque
from pronostico.record.models import CaseModel
from pronostico.record.visit import FindingModel


def standby_drive(today: date, seed: int) -> DemoMachine:
    """The machine on a given day: nothing to be measured with blades, a preload to be set."""
    engine = engine_of(
        "V8-54",
        "standby-drive",
        "Lift standby drive",
        duty="stands all summer, runs for an hour at a time",
        source=Source(title="Workshop manual V8-54", page="6-18"),
        torque=[Torque(part="cover", nm=11, sequence="crosswise"), Torque(part="plug", nm=25)],
    )
    noisy = CaseModel(
        id="c1",
        opened=today,
        visit="v2",
        findings=[
            FindingModel(
                id="tick",
                state="present",
                when=["cold"],
                onset="sudden",
                words="Clatters since we ran it up after the summer; half an hour and it is better.",
            ),
        ],
    )
    plans = (
        PlannedVisit("v1", today - timedelta(days=402), 611.0, 18.0),
        PlannedVisit("v2", today, 668.0, 11.0),
    )
    truths = tuple(ValveTruth(valve.id, 0.0, 0.0) for valve in engine.valves)
    return machine(engine, truths, plans, cases=[noisy], seed=seed)
