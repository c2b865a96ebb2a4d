"""The snow-gun pump's engine: its clearances look right and its power is down, for a pushrod is bent."""

from datetime import date, timedelta

from pronostico.core.simulation.history import PlannedVisit, ValveTruth
from pronostico.demo.machine import DemoMachine, engine_of, machine
from pronostico.record.engine import Source, Thread, Torque
from pronostico.record.models import CaseModel
from pronostico.record.visit import FindingModel
from pronostico.record.work import AwaitedPart, Progress


def gun_pump(today: date, seed: int) -> DemoMachine:
    """The machine on a given day: the clearance of the bent rod was set right again, which hid it."""
    engine = engine_of(
        "V2-65",
        "gun-pump",
        "Snow-gun pump engine",
        duty="weeks on end at full load",
        source=Source(title="Workshop manual V2-65", page="5-9"),
        thread=Thread(hand="right", locks="outer"),
        torque=[Torque(part="locknut", nm=10), Torque(part="cover", nm=8)],
    )
    # 2I jumped open when its rod bent, and was set back without asking why.
    truths = tuple(
        ValveTruth(valve.id, 0.105, -0.002, jump_usage=905.0, jump_mm=0.30)
        if valve.id == "2I"
        else ValveTruth(valve.id, 0.105, -0.002)
        for valve in engine.valves
    )
    plans = (
        PlannedVisit("v1", today - timedelta(days=1080), 180.0, 16.0),
        PlannedVisit("v2", today - timedelta(days=730), 410.0, 14.0),
        PlannedVisit("v3", today - timedelta(days=372), 655.0, 15.0),
        PlannedVisit(
            "v4", today - timedelta(days=18), 912.0, 12.0, work="check-and-set", set_mm={"2I": 0.105}
        ),
        PlannedVisit("v5", today, 948.0, 8.0),
    )
    weak = CaseModel(
        id="c1",
        opened=today,
        visit="v5",
        findings=[
            FindingModel(
                id="low-power", state="present", words="It does not hold the pressure at full flow."
            ),
            FindingModel(id="tick", state="absent"),
            FindingModel(id="hard-start", state="absent"),
        ],
    )
    waits = AwaitedPart(what="gasket of the valve cover", source="Valley Engine Parts", ordered=today)
    progress = Progress(state="waiting", awaited=[waits], promised=today + timedelta(days=3))
    return machine(engine, truths, plans, cases=[weak], seed=seed, progress=progress)
