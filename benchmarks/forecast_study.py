"""Forecasts of the next check compared with what was then so, on engines of every kind of truth.

    python -m benchmarks.forecast_study [--tuning] [--engines 40] [--plain] [--kinds healthy ...]

Coverage of the 50 and 90 % intervals, CRPS (mean continuous ranked probability score; Gneiting and Raftery,
Strictly Proper Scoring Rules, Prediction, and Estimation, 2007, section 4.2), Brier score of "will be tight",
and how often recession is called at the third visit; beside a straight line through each valve's readings.
"""

import argparse
import time
from collections.abc import Sequence
from concurrent.futures import ProcessPoolExecutor
from dataclasses import dataclass, field, replace
from functools import partial

import numpy as np
from rich.console import Console
from rich.table import Table
from scipy.special import ndtr

from benchmarks.straight_line import predicted
from benchmarks.truth import KINDS, Simulated, simulated
from pronostico.analysis.developing_faults import developing
from pronostico.core.arrays import FloatArray
from pronostico.core.constants import DEFAULT
from pronostico.core.drift.forecast import ahead
from pronostico.core.drift.mixture import Mixture
from pronostico.core.drift.model import drifts
from pronostico.core.engine import Spec
from pronostico.core.gauge.engine_readings import analyse
from pronostico.record.conversion import model_of_visit
from pronostico.record.models import FORMAT, Record

ENGINES = 40
_THIRD = 3
_NEGLIGIBLE = 1e-4


def _absolute_mean(mean: FloatArray, sd: FloatArray) -> FloatArray:
    """Mean of the absolute value of normals."""
    z = mean / sd
    density = np.exp(-0.5 * z * z) / np.sqrt(2.0 * np.pi)
    return np.asarray(mean * (2.0 * ndtr(z) - 1.0) + 2.0 * sd * density)


def crps(forecast: Mixture, truth: float) -> float:
    """The continuous ranked probability score of a mixture of normals, in its unit; exact.

    Grimit, Gneiting, Berrocal and Johnson, The continuous ranked probability score for circular variables
    and its application to mesoscale forecast ensemble verification, 2006, equation 3.
    """
    keep = forecast.weight > _NEGLIGIBLE
    weight = forecast.weight[keep] / forecast.weight[keep].sum()
    mean, variance = forecast.mean[keep, 0], forecast.cov[keep, 0, 0]
    near = _absolute_mean(mean - truth, np.sqrt(variance))
    apart = _absolute_mean(mean[:, None] - mean, np.sqrt(variance[:, None] + variance))
    return float(weight @ near - 0.5 * weight @ apart @ weight)


@dataclass(slots=True)
class Tally:
    """What came of forecasts: within the 50 and 90 % intervals, CRPS in mm, squared errors of chances.

    `line`: CRPS of the straight line and of the model where there is a line. `sides`: a miss of the 90 %
    interval, -1 below it.
    """

    half: list[bool] = field(default_factory=list)
    most: list[bool] = field(default_factory=list)
    crps_mm: list[float] = field(default_factory=list)
    brier: list[float] = field(default_factory=list)
    line: list[tuple[float, float]] = field(default_factory=list)
    misses: list[int] = field(default_factory=list)
    by_visit: list[int] = field(default_factory=list)

    def add(self, forecast: Mixture, truth: float, spec: Spec, line: Mixture | None, visit: int) -> None:
        """One forecast and what came."""
        below = forecast.below(truth)
        self.half.append(0.25 < below < 0.75)
        self.most.append(0.05 < below < 0.95)
        self.misses.append(-1 if below <= 0.05 else int(below >= 0.95))
        self.crps_mm.append(crps(forecast, truth))
        self.brier.append((forecast.below(spec.min_mm) - (truth < spec.min_mm)) ** 2)
        self.by_visit.append(visit)
        if line is not None:
            self.line.append((crps(line, truth), self.crps_mm[-1]))


@dataclass(slots=True)
class Found:
    """What a study of one engine found; `recession`: its probability at the third visit."""

    tally: Tally = field(default_factory=Tally)
    recession: float = 0.0
    tightening: list[bool] = field(default_factory=list)
    seconds: float = 0.0


def record_of(made: Simulated, visits: int) -> Record:
    """The first visits of a simulated engine as a record."""
    engine = made.engine
    of_engine = {
        "id": engine.id,
        "name": engine.id,
        "usage_unit": engine.usage_unit,
        "check_interval": engine.check_interval,
        "adjustment": engine.adjustment,
        "firing_order": sorted({one.cylinder for one in engine.valves}),
        "head_material": engine.head_material,
        "valve_length_mm": engine.valve_length_mm,
        "reference_temperature_c": engine.reference_temperature_c,
        "spec": {"intake": {"min_mm": 0.15, "max_mm": 0.20}, "exhaust": {"min_mm": 0.25, "max_mm": 0.30}},
        "valves": [
            {"id": one.id, "cylinder": one.cylinder, "side": one.side, "place": place}
            for place, one in enumerate(engine.valves, start=1)
        ],
    }
    seen = [model_of_visit(visit).model_dump(mode="json") for visit in made.visits[:visits]]
    return Record.model_validate(
        {"format": FORMAT, "version": 1, "engine": of_engine, "gauge_set": None, "visits": seen, "cases": []}
    )


def _line(mean_mm: float, sd_mm: float) -> Mixture:
    return Mixture(np.ones(1), np.array([[mean_mm]]), np.array([[[sd_mm**2]]]))


def of_engine(kind: str, number: int, *, result: bool, regimes: bool, causes: bool) -> Found:
    """All forecasts of one engine, from its second visit on."""
    made, found = simulated(kind, number, result=result), Found()
    constants = replace(DEFAULT, drift_regimes=regimes)
    for upto in range(2, len(made.visits)):
        began = time.perf_counter()
        known = drifts(made.engine, made.visits[:upto], constants)
        found.seconds += time.perf_counter() - began
        lines = analyse(made.engine, made.visits[:upto])
        usage = made.visits[upto].usage
        dx = (usage - made.visits[upto - 1].usage) / made.engine.check_interval
        for name in made.scored:
            valve = known.valves[name]
            spec = valve.chain.specs[-1]
            assert spec is not None
            line = predicted(lines.of(name), usage)
            found.tally.add(
                ahead(valve.state, dx, constants),
                made.found_mm[upto][name],
                spec,
                None if line is None else _line(line.mean_mm, line.sd_mm),
                upto,
            )
    if causes:
        called = [
            one.probability
            for one in developing(record_of(made, _THIRD), constants).causes
            if one.cause == "seat-recession"
        ]
        found.recession = max(called, default=0.0)
    return found


def of_kind(
    kind: str, *, engines: int, result: bool, regimes: bool, causes: bool, pool: ProcessPoolExecutor
) -> list[Found]:
    """All engines of a kind."""
    one = partial(of_engine, kind, result=result, regimes=regimes, causes=causes)
    return list(pool.map(one, range(engines), chunksize=2))


def _row(kind: str, found: Sequence[Found], causes: bool) -> list[str]:
    most = [one for each in found for one in each.tally.most]
    half = [one for each in found for one in each.tally.half]
    score = [one for each in found for one in each.tally.crps_mm]
    brier = [one for each in found for one in each.tally.brier]
    lines = np.array([one for each in found for one in each.tally.line])
    low = [one < 0 for each in found for one in each.tally.misses]
    called = sum(each.recession > 0.5 for each in found)
    visits = np.array([one for each in found for one in each.tally.by_visit])
    by_visit = " ".join(f"{np.mean(np.array(most)[visits == v]):.0%}"[:-1] for v in sorted(set(visits)))
    return [
        kind,
        str(len(most)),
        f"{np.mean(half):.0%}",
        f"{np.mean(most):.0%}",
        by_visit,
        f"{np.mean(low):.0%}",
        f"{1000 * np.mean(score):.1f}",
        f"{1000 * lines[:, 1].mean():.1f}" if len(lines) else "-",
        f"{1000 * lines[:, 0].mean():.1f}" if len(lines) else "-",
        f"{np.mean(brier):.3f}",
        f"{called}" if causes else "-",
        f"{1000 * sum(each.seconds for each in found) / len(found) / 6:.0f}",
    ]


def main() -> None:
    """Print one table."""
    parser = argparse.ArgumentParser(description=__doc__)
    parser.add_argument("--engines", type=int, default=ENGINES)
    parser.add_argument("--tuning", action="store_true", help="the seeds for tuning")
    parser.add_argument("--plain", action="store_true", help="without regimes")
    parser.add_argument("--no-causes", action="store_true")
    parser.add_argument("--kinds", nargs="*", default=list(KINDS))
    asked = parser.parse_args()
    table = Table(title=f"{asked.engines} engines a kind, the next check from the second visit on")
    headings = (
        "kind",
        "n",
        "50 %",
        "90 %",
        "by visits known",
        "below",
        "CRPS um",
        "same",
        "line",
        "Brier",
        "called",
        "ms",
    )
    for heading in headings:
        table.add_column(heading, justify="left" if heading == "kind" else "right")
    with ProcessPoolExecutor(2) as pool:
        for kind in asked.kinds:
            found = of_kind(
                kind,
                engines=asked.engines,
                result=not asked.tuning,
                regimes=not asked.plain,
                causes=not asked.no_causes,
                pool=pool,
            )
            table.add_row(*_row(kind, found, not asked.no_causes))
    Console(width=120).print(table)


if __name__ == "__main__":
    main()
