"""How long the core takes for what a technician waits for."""

from collections.abc import Iterator
from datetime import date

import numpy as np

from benchmarks.fleet import simulated_engine
from benchmarks.timing import best_ms
from pronostico.analysis.diagnosis import diagnose_record
from pronostico.analysis.engine_report import analyse_record
from pronostico.core.adjust.shims import ShimSeries, ShimTask, StockedShim, assign_shims
from pronostico.core.causes.model import Evidence, Knowledge
from pronostico.core.causes.places import Place
from pronostico.core.causes.ranking import diagnose
from pronostico.core.drift.model import drifts
from pronostico.core.engine import Engine, Spec
from pronostico.core.gauge.advice import next_blade, prior_for_advice
from pronostico.core.gauge.engine_readings import analyse
from pronostico.core.gauge.reading import estimate
from pronostico.core.sound.engine import SoundEngine
from pronostico.core.sound.listen import Said, listen
from pronostico.core.sound.simulated import Blow, Scene, simulate_sound
from pronostico.core.sound.wav import Samples
from pronostico.core.thermal import Correction
from pronostico.core.visits import Reading, Try
from pronostico.demo.machine import BENCH_SET
from pronostico.demo.scenario import demo_machines
from pronostico.knowledge import load_knowledge
from pronostico.record.conversion import engine_from, visits_from


def figures() -> Iterator[tuple[str, float]]:
    """What was measured and its milliseconds."""
    reading = Reading("1I", "found", (Try((0.15,), "free"), Try((0.18,), "drag"), Try((0.20,), "no-go")))
    spec, warm = Spec(0.15, 0.20), Correction(0.002, 0.001)
    once = estimate.__wrapped__
    yield "one reading's estimate, three tries", best_ms(lambda: once(reading, spec, warm))

    fresh = Reading("1I", "found", (Try((0.18,), "no-go"),))
    metric, prior = tuple(BENCH_SET.blades_mm), prior_for_advice(spec, None)
    yield "advice on the next blade, 14 blades", best_ms(lambda: next_blade(fresh, metric, spec, warm, prior))
    fine = tuple(round(0.03 + 0.01 * i, 2) for i in range(48))
    yield "advice on the next blade, 48 blades", best_ms(lambda: next_blade(fresh, fine, spec, warm, prior))

    tasks = [
        ShimTask(f"{n}", 2.30 + 0.01 * n, 0.02 + 0.01 * n, 0.006, Spec(0.15, 0.20), 0.175) for n in range(32)
    ]
    box = [StockedShim(round(1.80 + 0.025 * n, 3), 10) for n in range(40)]
    series = ShimSeries(1.20, 2.70, 0.025)
    yield (
        "shims for 32 valves, 400 in the box, 61 to order",
        best_ms(lambda: assign_shims(tasks, box, series)),
    )

    for valves, visits in ((4, 8), (16, 8), (16, 12)):
        made = simulated_engine(valves, visits)
        yield (
            f"drift of {valves} valves, {visits} visits, entry errors included",
            best_ms(lambda made=made: drifts(*made), repeats=2),
        )

    record = demo_machines(date(2026, 1, 1))[0].record
    engine, visits = engine_from(record.engine), visits_from(record)

    def from_nothing() -> None:
        estimate.cache_clear()
        analyse(engine, visits)

    yield "one engine analysed from nothing, 8 valves, 8 visits", best_ms(from_nothing)
    yield "the same once its readings are known", best_ms(lambda: analyse(engine, visits))
    yield "the same with its report", best_ms(lambda: analyse_record(record))
    yield "one case diagnosed, 8 valves", best_ms(lambda: diagnose_record(record))
    large, knowledge = simulated_engine(16, 2)[0], load_knowledge()
    evidence = _evidence(large, knowledge, 40)
    yield "causes of 16 valves with 40 findings", best_ms(lambda: diagnose(large, knowledge, evidence))

    inline = SoundEngine((1, 3, 4, 2))
    scene = Scene(inline, 900, seconds=30.0, rate_hz=44_100, blows=(Blow("tick", 400, 6),))
    made = simulate_sound(scene, np.random.default_rng(0))
    recording, said = Samples(made.rate_hz, made.samples), Said(rpm=900, engine=inline)
    yield "30 s of sound at 44.1 kHz", best_ms(lambda: listen(recording, said), repeats=3)


def _evidence(engine: Engine, knowledge: Knowledge, count: int) -> list[Evidence]:
    """Clearances of every valve, some out, and complaints looked for."""
    rng = np.random.default_rng(2)
    found = [
        Evidence(finding, Place(valve=valve.id), float(rng.choice([0.02, 0.5, 0.97], p=[0.6, 0.2, 0.2])))
        for valve in engine.valves
        for finding in ("clearance-tight", "tightening")
    ]
    complaints = [one.id for one in knowledge.findings.values() if one.group == "complaint"]
    noted = rng.choice(complaints, count - len(found), replace=False)
    return found + [Evidence(str(one), Place(), float(rng.integers(2))) for one in noted]
