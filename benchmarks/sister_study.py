"""What five sister engines add to the forecasts of one, alike and unlike; against the same engine alone.

python -m benchmarks.sister_study [--workshops 60] [--tuning]
"""

import argparse
from collections.abc import Sequence
from concurrent.futures import ProcessPoolExecutor
from dataclasses import replace
from functools import partial

import numpy as np

from benchmarks.forecast_study import crps
from benchmarks.truth import RESULT_SEEDS, Simulated, engine_with_drifts
from pronostico.core.constants import DEFAULT
from pronostico.core.drift.forecast import ahead
from pronostico.core.drift.model import drifts
from pronostico.core.drift.sisters import side_priors, summaries_of
from pronostico.core.engine import SIDES, DriftPrior, SidePriors

SISTERS, FIRST_VISITS = 5, (1, 2, 3)
_SISTER_VISITS = (3, 7)  # how many visits of a sister are on record, from and up to
# How much the side drifts of a kind differ between engines, mm per interval; None: not of a kind at all.
WORLDS: dict[str, float | None] = {
    "alike, sd 0.002": 0.002,
    "alike, sd 0.006": 0.006,
    "alike, sd 0.015": 0.015,
    "unlike": None,
}


def _side_drifts(rng: np.random.Generator, between: float | None) -> list[dict[str, float]]:
    """The side drifts of an engine and its sisters."""

    def of_kind() -> dict[str, float]:
        return {"intake": float(rng.normal(0.0, 0.004)), "exhaust": float(rng.normal(-0.012, 0.010))}

    if between is None:
        return [of_kind() for _ in range(SISTERS + 1)]
    kind = of_kind()
    return [
        {side: kind[side] + float(rng.normal(0.0, between)) for side in SIDES} for _ in range(SISTERS + 1)
    ]


def _scores(made: Simulated, visits: int, priors: SidePriors) -> list[float]:
    known = drifts(replace(made.engine, side_priors=priors), made.visits[:visits])
    dx = (made.visits[visits].usage - made.visits[visits - 1].usage) / made.engine.check_interval
    return [crps(ahead(known.valves[name].state, dx), made.found_mm[visits][name]) for name in made.scored]


def of_workshop(number: int, *, between: float | None, result: bool) -> list[tuple[float, float]]:
    """CRPS alone and with sisters, summed over the valves, after one, two and three visits."""
    rng = np.random.default_rng(number + (RESULT_SEEDS if result else 0))
    own, *others = [engine_with_drifts(rng, one) for one in _side_drifts(rng, between)]
    summaries = []
    for other in others:
        count = int(rng.integers(*_SISTER_VISITS))
        summaries.append(summaries_of(drifts(other.engine, other.visits[:count])))
    found = side_priors(summaries, DEFAULT)
    priors = tuple((side, DriftPrior(one.mean_mm, one.sd_mm)) for side, one in found.items())
    return [
        (float(np.mean(_scores(own, visits, ()))), float(np.mean(_scores(own, visits, priors))))
        for visits in FIRST_VISITS
    ]


def changes(world: str, workshops: int, *, result: bool) -> Sequence[float]:
    """The relative change of CRPS after each of the first visits."""
    one = partial(of_workshop, between=WORLDS[world], result=result)
    with ProcessPoolExecutor(2) as pool:
        scores = np.array(list(pool.map(one, range(workshops), chunksize=2)))
    alone, pooled = scores.mean(axis=0).T
    return [float(one) for one in pooled / alone - 1.0]


def main() -> None:
    """Print one line a world."""
    parser = argparse.ArgumentParser(description=__doc__)
    parser.add_argument("--workshops", type=int, default=60)
    parser.add_argument("--tuning", action="store_true")
    asked = parser.parse_args()
    for world in WORLDS:
        by_visit = changes(world, asked.workshops, result=not asked.tuning)
        print(f"{world:18}", "  ".join(f"{one:+.0%}" for one in by_visit))


if __name__ == "__main__":
    main()
