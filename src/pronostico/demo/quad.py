"""The piste quad: eight valves over shims, in good order; one visit was read on a warm engine."""

from datetime import date, timedelta

from pronostico.core.simulation.history import PlannedVisit, ValveTruth
from pronostico.demo.machine import DemoMachine, engine_of, machine
from pronostico.record.engine import Source, Torque


def quad(today: date, seed: int) -> DemoMachine:
    """The machine on a given day: at its visit before last everything seemed to have moved at once."""
    engine = engine_of(
        "P2-70",
        "quad",
        "Piste quad",
        duty="all day, many starts",
        source=Source(title="Workshop manual P2-70", page="7-20"),
        torque=[Torque(part="cam cap", nm=10), Torque(part="cover", nm=8), Torque(part="plug", nm=12)],
    )
    truths = tuple(
        ValveTruth(valve.id, 0.150 if valve.side == "intake" else 0.205, -0.002) for valve in engine.valves
    )
    history = [
        (1170, 4100.0, 14.0),
        (806, 15800.0, 17.0),
        (440, 27900.0, 15.0),
        (250, 39700.0, 16.0),
        (20, 46100.0, 15.0),
    ]
    plans = tuple(
        PlannedVisit(
            f"v{number}",
            today - timedelta(days=days),
            usage,
            temperature,
            # Straight off the piste, though the sheet says sixteen degrees.
            really_warmer_k=40.0 if number == 4 else 0.0,
        )
        for number, (days, usage, temperature) in enumerate(history, start=1)
    )
    return machine(engine, truths, plans, cases=[], seed=seed)
