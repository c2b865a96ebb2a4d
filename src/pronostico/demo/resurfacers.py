"""The two ice resurfacers, of one pattern: one whose exhaust seats sink, and one that stays as it is."""

from datetime import date, timedelta

from pronostico.core.simulation.history import PlannedVisit, ValveTruth
from pronostico.demo.machine import DemoMachine, engine_of, machine
from pronostico.record.engine import EngineModel, Source, Thread, Torque
from pronostico.record.models import CaseModel
from pronostico.record.visit import FindingModel
from pronostico.record.work import Progress

CYLINDERS = (1, 2, 3, 4)
_PLATES = {"resurfacer-1": ("rink 1", "26G-0417", 2014), "resurfacer-2": ("rink 2", "26G-0983", 2017)}


def _engine(engine_id: str, name: str) -> EngineModel:
    plate, serial_number, year = _PLATES[engine_id]
    return engine_of(
        "R4-26G",
        engine_id,
        name,
        model="R4-26G",
        displacement_cc=2600,
        plate=plate,
        serial_number=serial_number,
        year=year,
        kind="resurfacer engine, four cylinders",
        duty="medium",
        source=Source(title="Workshop manual R4-26G", page="4-12"),
        thread=Thread(hand="right", locks="outer"),
        torque=[
            Torque(part="locknut", nm=14),
            Torque(part="cover", nm=9, stages=[4, 9], sequence="from the middle outwards"),
            Torque(part="plug", nm=20),
        ],
    )


def _truths(
    intake_drift: float, exhaust_drift: dict[int, float], growth: float, jump: dict[str, tuple[float, float]]
) -> tuple[ValveTruth, ...]:
    truths = []
    for cylinder in CYLINDERS:
        for letter, start, drift, grows in (
            ("I", 0.175, intake_drift, 0.0),
            ("E", 0.280, exhaust_drift[cylinder], growth),
        ):
            at, by = jump.get(f"{cylinder}{letter}", (None, 0.0))
            truths.append(ValveTruth(f"{cylinder}{letter}", start, drift, grows, at, by))
    return tuple(truths)


EXHAUSTS_TO_MIDDLE = {f"{cylinder}E": 0.28 for cylinder in CYLINDERS}


def _resurfacer_1(today: date) -> tuple[tuple[ValveTruth, ...], tuple[PlannedVisit, ...]]:
    """Exhaust seats sinking faster and faster; opened up at every check, so each one looks nearly healthy.

    After the last interval, which ran long, one valve has closed altogether.
    """
    truths = _truths(
        -0.002, {1: -0.026, 2: -0.029, 3: -0.036, 4: -0.027}, growth=0.07, jump={"3E": (2010.0, -0.17)}
    )
    history = [
        (1113, 250.0, 16.0),
        (1012, 486.0, 19.0),
        (748, 742.0, 15.0),
        (645, 981.0, 20.0),
        (389, 1239.0, 17.0),
        (290, 1488.0, 21.0),
        (236, 1741.0, 18.0),
    ]
    plans = [
        PlannedVisit(
            f"v{number}",
            today - timedelta(days=days),
            usage,
            temperature,
            work="check-and-set",
            set_mm=EXHAUSTS_TO_MIDDLE,
        )
        for number, (days, usage, temperature) in enumerate(history, start=1)
    ]
    plans.append(
        # Under way: the last valve is left for whoever opens the demonstration.
        PlannedVisit("v8", today - timedelta(days=1), 2163.0, 14.0, leave_unread=frozenset({"4E"}))
    )
    return truths, tuple(plans)


def _resurfacer_2(today: date) -> tuple[tuple[ValveTruth, ...], tuple[PlannedVisit, ...]]:
    """The same pattern with hardened seats: steady, hardly ever touched."""
    truths = _truths(0.001, {1: -0.002, 2: -0.001, 3: -0.002, 4: -0.001}, growth=0.0, jump={})
    history = [(1100, 240.0, 18.0), (742, 735.0, 16.0), (382, 1228.0, 19.0), (180, 1490.0, 22.0)]
    plans = [
        PlannedVisit(
            f"v{number}",
            today - timedelta(days=days),
            usage,
            temperature,
            leave_unread=frozenset({"2I", "3I"}) if number == 2 else frozenset(),
            wrongly_noted=frozenset({"4I"}) if number == 3 else frozenset(),
        )
        for number, (days, usage, temperature) in enumerate(history, start=1)
    ]
    return truths, tuple(plans)


def _case(today: date) -> CaseModel:
    return CaseModel(
        id="c1",
        opened=today - timedelta(days=1),
        visit="v8",
        findings=[
            FindingModel(
                id="stall-at-idle",
                state="present",
                onset="gradual",
                words="Dies when I come to a stop at the end of the ice.",
            ),
            FindingModel(id="cold-miss", state="present", when=["cold"]),
            FindingModel(id="tick", state="absent"),
        ],
    )


def resurfacers(today: date, seed: int) -> tuple[DemoMachine, DemoMachine]:
    """Both, on a given day."""
    one, two = _engine("resurfacer-1", "Ice resurfacer 1"), _engine("resurfacer-2", "Ice resurfacer 2")
    return (
        machine(
            one,
            *_resurfacer_1(today),
            cases=[_case(today)],
            seed=seed,
            progress=Progress(state="open", promised=today + timedelta(days=1)),
        ),
        machine(two, *_resurfacer_2(today), cases=[], seed=seed + 1),
    )
