"""The winter sports workshop: engines, what is really so with them, and how they were looked after.

Everything is made up. The visits come from the simulator with a fixed seed; dates are counted back from
the day the demonstration is started, so that 'this week' stays this week.
"""

from dataclasses import dataclass
from datetime import date, timedelta

import numpy as np

from pronostico.core.simulate import PlannedVisit, Simulated, TrueClearance, ValveTruth, simulate
from pronostico.record.conversion import engine_from, model_of_visit
from pronostico.record.models import (
    FORMAT,
    CaseModel,
    CompressionSpec,
    EngineModel,
    FindingModel,
    GaugeSet,
    Layout,
    Record,
    SidesSpec,
    Source,
    SpecModel,
    Thread,
    Torque,
    ValveModel,
    VisitModel,
)

SEED = 26
TECHNICIAN = "J. K."
CYLINDERS = (1, 2, 3, 4)
BENCH_SET = GaugeSet(
    id="bench-metric",
    name="Bench set, metric",
    blades_mm=[0.04, 0.05, 0.08, 0.10, 0.13, 0.15, 0.18, 0.20, 0.23, 0.25, 0.28, 0.30, 0.35, 0.40],
)


@dataclass(frozen=True, slots=True)
class DemoMachine:
    """A machine's record, and the truth that it was simulated from."""

    record: Record
    truths: tuple[ValveTruth, ...]
    true_clearances: tuple[TrueClearance, ...]


def _in_line_four(engine_id: str, name: str) -> EngineModel:
    """Pattern R4-26G: in-line four on propane, cam in the head, screw adjusters, cross-flow."""
    return EngineModel(
        id=engine_id,
        name=name,
        usage_unit="h",
        check_interval=250.0,
        fuel="propane",
        duty="medium",
        head_material="aluminium",
        block_material="cast-iron",
        adjustment="screw-rocker",
        rocker_ratio=1.5,
        adjuster_pitch_mm=0.75,
        adjuster_at="valve",
        firing_order=[1, 3, 4, 2],
        stroke_mm=82.0,
        rod_length_mm=140.0,
        reference_temperature_c=20.0,
        check_below_temperature_c=38.0,
        valve_length_mm=105.0,
        compression_spec_kpa=CompressionSpec(
            min=900.0, max=1250.0, wet_only_below_min=True, max_spread_fraction=0.25
        ),
        spec=SidesSpec(
            intake=SpecModel(min_mm=0.15, max_mm=0.20), exhaust=SpecModel(min_mm=0.25, max_mm=0.30)
        ),
        valves=[
            valve
            for cylinder in CYLINDERS
            for valve in (
                ValveModel(id=f"{cylinder}I", cylinder=cylinder, side="intake", place=2 * cylinder - 1),
                ValveModel(id=f"{cylinder}E", cylinder=cylinder, side="exhaust", place=2 * cylinder),
            )
        ],
        source=Source(title="Workshop manual R4-26G", page="4-12"),
        layout=Layout(kind="in-line", banks=[[1, 2, 3, 4]], front="left", intake_side="left"),
        thread=Thread(hand="right", locks="outer"),
        torque=[
            Torque(part="lock nut", nm=14),
            Torque(part="cover", nm=9, stages=[4, 9], sequence="from the middle outwards"),
            Torque(part="plug", nm=20),
        ],
        access_minutes=35.0,
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


def _noted(visit: VisitModel) -> VisitModel:
    return visit.model_copy(update={"technician": TECHNICIAN})


def _machine(
    engine: EngineModel,
    truths: tuple[ValveTruth, ...],
    plans: tuple[PlannedVisit, ...],
    cases: list[CaseModel],
    seed: int,
) -> DemoMachine:
    simulated: Simulated = simulate(
        engine_from(engine), truths, plans, tuple(BENCH_SET.blades_mm), rng=np.random.default_rng(seed)
    )
    record = Record(
        format=FORMAT,
        version=1,
        engine=engine,
        gauge_set=BENCH_SET,
        visits=[_noted(model_of_visit(visit)) for visit in simulated.visits],
        cases=cases,
    )
    return DemoMachine(record, truths, simulated.truth)


def demo_machines(today: date) -> tuple[DemoMachine, ...]:
    """All machines of the demonstration as they stand on a day."""
    stalling = CaseModel(
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
    one = _in_line_four("resurfacer-1", "Ice resurfacer 1")
    two = _in_line_four("resurfacer-2", "Ice resurfacer 2")
    return (
        _machine(one, *_resurfacer_1(today), [stalling], SEED),
        _machine(two, *_resurfacer_2(today), [], SEED + 1),
    )
