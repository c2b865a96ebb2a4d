"""Forecasts of the next check compared with what was then so, on engines of every kind of truth.

    python -m benchmarks.forecast_study [--tuning] [--engines 40] [--kinds healthy ...]

Coverage of the 50 and 90 % intervals, CRPS (mean continuous ranked probability score; Gneiting and Raftery,
Strictly Proper Scoring Rules, Prediction, and Estimation, 2007, section 4.2), Brier score of "will be tight",
and how often recession is called at the third visit; beside a straight line through each valve's readings.
"""

import argparse
from concurrent.futures import ProcessPoolExecutor
from dataclasses import dataclass, field, replace
from functools import partial

import numpy as np
from scipy.special import ndtr

from benchmarks.straight_line import predicted
from benchmarks.truth import KINDS, Simulated, simulated
from pronostico.analysis.developing_faults import developing
from pronostico.core.arrays import FloatArray
from pronostico.core.constants import DEFAULT, Constants
from pronostico.core.drift.forecast import ahead
from pronostico.core.drift.model import drifts
from pronostico.core.drift.normal_mixture import Mixture
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

    `line`: CRPS of the straight line and of the model, where there is a line.
    """

    half: list[bool] = field(default_factory=list)
    most: list[bool] = field(default_factory=list)
    crps_mm: list[float] = field(default_factory=list)
    brier: list[float] = field(default_factory=list)
    line: list[tuple[float, float]] = field(default_factory=list)

    def add(self, forecast: Mixture, truth: float, spec: Spec, line: Mixture | None) -> None:
        """One forecast and what came."""
        below = forecast.below(truth)
        self.half.append(0.25 < below < 0.75)
        self.most.append(0.05 < below < 0.95)
        self.crps_mm.append(crps(forecast, truth))
        self.brier.append((forecast.below(spec.min_mm) - (truth < spec.min_mm)) ** 2)
        if line is not None:
            self.line.append((crps(line, truth), self.crps_mm[-1]))

    def extend(self, other: "Tally") -> None:
        """Take in the forecasts of another engine."""
        self.half += other.half
        self.most += other.most
        self.crps_mm += other.crps_mm
        self.brier += other.brier
        self.line += other.line


@dataclass(slots=True)
class Found:
    """What a study of engines found, with regimes and with the steady drift alone.

    `recession`: its probability at the third visit, engine by engine.
    """

    regimes: Tally = field(default_factory=Tally)
    steady: Tally = field(default_factory=Tally)
    recession: list[float] = field(default_factory=list)

    def extend(self, other: "Found") -> None:
        """Take in another engine."""
        self.regimes.extend(other.regimes)
        self.steady.extend(other.steady)
        self.recession += other.recession


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


def of_engine(number: int, *, kind: str, result: bool, constants: Constants = DEFAULT) -> Found:
    """All forecasts of one engine, from its second visit on."""
    made, found = simulated(kind, number, result=result), Found()
    ways = ((found.regimes, constants), (found.steady, replace(constants, drift_regimes=False)))
    for upto in range(2, len(made.visits)):
        lines = analyse(made.engine, made.visits[:upto])
        usage = made.visits[upto].usage
        dx = (usage - made.visits[upto - 1].usage) / made.engine.check_interval
        for tally, assumed in ways:
            known = drifts(made.engine, made.visits[:upto], assumed)
            for name in made.scored:
                valve = known.valves[name]
                spec = valve.chain.specs[-1]
                assert spec is not None
                line = predicted(lines.of(name), usage)
                forecast = ahead(valve.state, dx, assumed)
                tally.add(
                    forecast,
                    made.found_mm[upto][name],
                    spec,
                    None if line is None else _line(line.mean_mm, line.sd_mm),
                )
    called = developing(record_of(made, _THIRD), constants).causes
    found.recession = [max((one.probability for one in called if one.cause == "seat-recession"), default=0.0)]
    return found


def of_kind(kind: str, *, engines: int, result: bool, pool: ProcessPoolExecutor) -> Found:
    """All engines of a kind."""
    one = partial(of_engine, kind=kind, result=result)
    found = Found()
    for each in pool.map(one, range(engines), chunksize=2):
        found.extend(each)
    return found


def row(kind: str, found: Found) -> list[str]:
    """One line of the table."""
    now, steady, lines = found.regimes, found.steady, np.array(found.regimes.line)
    return [
        kind,
        str(len(now.most)),
        f"{np.mean(now.half):.0%}",
        f"{np.mean(now.most):.0%}",
        f"{np.mean(steady.most):.0%}",
        f"{1000 * np.mean(now.crps_mm):.1f}",
        f"{1000 * np.mean(steady.crps_mm):.1f}",
        f"{1000 * lines[:, 1].mean():.1f} / {1000 * lines[:, 0].mean():.1f}",
        f"{np.mean(now.brier):.3f}",
        f"{sum(one > 0.5 for one in found.recession)} of {len(found.recession)}",
    ]


HEADINGS = (
    "kind of engine",
    "forecasts",
    "50 % covers",
    "90 % covers",
    "steady alone",
    "CRPS, um",
    "steady alone",
    "model / line",
    "Brier",
    "recession called",
)


def main() -> None:
    """Print one table, in Markdown."""
    parser = argparse.ArgumentParser(description=__doc__)
    parser.add_argument("--engines", type=int, default=ENGINES)
    parser.add_argument("--tuning", action="store_true", help="the seeds for tuning")
    parser.add_argument("--kinds", nargs="*", default=list(KINDS))
    asked = parser.parse_args()
    print("| " + " | ".join(HEADINGS) + " |")
    print("|" + "---|" * len(HEADINGS))
    with ProcessPoolExecutor(2) as pool:
        for kind in asked.kinds:
            found = of_kind(kind, engines=asked.engines, result=not asked.tuning, pool=pool)
            print("| " + " | ".join(row(kind, found)) + " |", flush=True)


if __name__ == "__main__":
    main()
