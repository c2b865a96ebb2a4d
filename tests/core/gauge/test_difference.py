"""Two readings side by side: a change is named only beyond the error of both."""

from dataclasses import replace
from datetime import date

import numpy as np
import pytest

from pronostico.core.gauge.difference import difference
from pronostico.core.gauge.valve_history import at_visit
from pronostico.core.simulation.history import PlannedVisit, ValveTruth, simulate
from tests.builders import engine, found, visit

ENGINE = engine(1)
VALVE = ENGINE.valve("1E")
BLADES = (0.04, 0.13, 0.15, 0.18, 0.20, 0.23, 0.25, 0.28, 0.30, 0.33, 0.35)


def estimate(*answers):
    return at_visit(ENGINE, VALVE, visit(1, 0, found("1E", *answers))).found


BEFORE = estimate((0.25, "free"), (0.28, "drag"), (0.30, "no-go"))


def test_the_example_of_the_formula():
    first, second = replace(BEFORE, mean_mm=0.25, sd_mm=0.008), replace(BEFORE, mean_mm=0.20, sd_mm=0.008)
    apart = difference(first, second, same_visit=False)
    assert (apart.mean_mm, apart.sd_mm) == pytest.approx((-0.05, 0.0145), abs=5e-5)
    assert apart.change == "tighter"
    assert difference(second, first, same_visit=False).change == "looser"
    vague = difference(replace(first, sd_mm=0.02), replace(second, sd_mm=0.02), same_visit=False)
    assert (vague.sd_mm, vague.change) == (pytest.approx(0.0297, abs=5e-5), "none shown")


def test_what_a_visit_shares_cancels_within_it():
    apart, within = (difference(BEFORE, BEFORE, same_visit=same) for same in (False, True))
    assert apart.sd_mm**2 - within.sd_mm**2 == pytest.approx(2 * 0.004**2)
    assert within.change == "none shown"


def test_a_bound_is_no_figure_to_subtract_from():
    assert difference(BEFORE, estimate((0.04, "no-go")), same_visit=False) is None
    assert difference(estimate((0.04, "no-go")), BEFORE, same_visit=False) is None


def changes(moved_mm, count=150):
    """What is said of a valve that moved by so much between two visits, over many simulated ones."""
    said = []
    for seed in range(count):
        start_mm = (0.24, 0.285, 0.31)[seed % 3]
        plans = tuple(PlannedVisit(f"v{k}", date(2025, 1 + k, 1), 100.0 * k, 20.0) for k in range(2))
        truths = tuple(
            ValveTruth(one.id, start_mm, 0.0, jump_usage=50.0, jump_mm=moved_mm) for one in ENGINE.valves
        )
        visits = simulate(ENGINE, truths, plans, BLADES, rng=np.random.default_rng(seed)).visits
        readings = [at_visit(ENGINE, VALVE, one).found for one in visits]
        apart = difference(*readings, same_visit=False)
        said.extend([] if apart is None else [apart.change])
    return said


def test_a_valve_that_did_not_move_is_seldom_said_to_have_changed():
    still, moved = changes(0.0), changes(-0.06)
    assert min(len(still), len(moved)) > 100
    assert 1.0 - still.count("none shown") / len(still) < 0.1
    assert moved.count("tighter") / len(moved) > 0.9
    assert "looser" not in moved
