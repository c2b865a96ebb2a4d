"""One machine of the demonstration: its engine, what is really so with it, and how it was looked after."""

from dataclasses import dataclass

import numpy as np

from pronostico.core.simulation.history import PlannedVisit, Simulated, TrueClearance, ValveTruth, simulate
from pronostico.core.units import mm_from_thou
from pronostico.knowledge import load_patterns
from pronostico.record.conversion import engine_from, model_of_visit
from pronostico.record.engine import EngineModel
from pronostico.record.models import FORMAT, BoxedShim, CaseModel, GaugeSet, Record
from pronostico.record.work import Progress

TECHNICIAN = "J. K."
BENCH_SET = GaugeSet(
    id="bench-metric",
    name="Bench set, metric",
    blades_mm=[0.04, 0.05, 0.08, 0.10, 0.13, 0.15, 0.18, 0.20, 0.23, 0.25, 0.28, 0.30, 0.35, 0.40],
)


# For wide gaps, as of diesels.
LONG_SET = GaugeSet(
    id="long-metric",
    name="Long set, metric",
    blades_mm=[
        0.10, 0.15, 0.20, 0.23, 0.25, 0.28, 0.30, 0.33, 0.35, 0.38, 0.40, 0.43, 0.45, 0.48, 0.50, 0.53, 0.55,
        0.58, 0.60, 0.65, 0.70, 0.80, 0.90, 1.00,
    ],
)  # fmt: skip
INCH_SET = GaugeSet(
    id="inch",
    name="Inch set, in thou",
    blades_mm=[
        round(mm_from_thou(thou), 4) for thou in (1.5, 2, 2.5, 3, 3.5, 4, 5, 6, 7, 8, 9, 10, 11, 12, 14, 16)
    ],
    entered={"unit": "thou", "text": "1.5 2 2.5 3 3.5 4 5 6 7 8 9 10 11 12 14 16"},
)


@dataclass(frozen=True, slots=True)
class DemoMachine:
    """A machine's record, and the truth that it was simulated from."""

    record: Record
    truths: tuple[ValveTruth, ...]
    true_clearances: tuple[TrueClearance, ...]


def engine_of(pattern: str, engine_id: str, name: str, **fields: object) -> EngineModel:
    """An engine of one of our patterns, with fields of its own over those of the pattern."""
    document = next(one for one in load_patterns() if one.id == pattern).document()
    return EngineModel.model_validate({**document, "id": engine_id, "name": name, **fields})


def machine(
    engine: EngineModel,
    truths: tuple[ValveTruth, ...],
    plans: tuple[PlannedVisit, ...],
    *,
    cases: list[CaseModel],
    seed: int,
    shim_box: list[BoxedShim] | None = None,
    gauge_set: GaugeSet = BENCH_SET,
    progress: Progress | None = None,
) -> DemoMachine:
    """A machine whose visits are simulated from its truth.

    Args:
        progress: how far the work of its last visit is; None: done long ago.
    """
    simulated: Simulated = simulate(
        engine_from(engine), truths, plans, tuple(gauge_set.blades_mm), rng=np.random.default_rng(seed)
    )
    # Where a case is open the work is under way: what was measured there was measured with the cover off.
    under_way = {case.visit for case in cases if case.closed is None}
    visits = [
        visit.model_copy(update={"cover_off": True}) if visit.id in under_way and visit.readings else visit
        for visit in map(model_of_visit, simulated.visits)
    ]
    visits[-1] = visits[-1].model_copy(update={"progress": progress})
    record = Record(
        format=FORMAT,
        version=1,
        engine=engine,
        gauge_set=gauge_set,
        visits=[visit.model_copy(update={"technician": TECHNICIAN}) for visit in visits],
        cases=cases,
        shim_box=shim_box,
    )
    return DemoMachine(record, truths, simulated.truth)
