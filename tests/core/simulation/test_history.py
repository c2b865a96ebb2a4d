from datetime import date

import numpy as np
import pytest

from pronostico.core.errors import ImpossibleValue
from pronostico.core.gauge.engine_readings import analyse
from pronostico.core.simulation.history import PlannedVisit, ValveTruth, movement_mm, simulate
from tests.builders import engine

BLADES = (0.05, 0.10, 0.13, 0.15, 0.18, 0.20, 0.23, 0.25, 0.28, 0.30, 0.35, 0.40)


def truths(**changes):
    starts = {"1I": 0.175, "1E": 0.275, "2I": 0.175, "2E": 0.275}
    return tuple(ValveTruth(v, start, changes.get("drift", 0.0)) for v, start in starts.items())


def plan(number, usage, **more):
    return PlannedVisit(f"v{number}", date(2020 + number, 1, 1), usage, 20.0, **more)


def run(seed=1, plans=None, valves=None):
    plans = plans or (plan(1, 250.0), plan(2, 500.0))
    return simulate(engine(), valves or truths(), plans, BLADES, rng=np.random.default_rng(seed))


def test_the_same_seed_gives_the_same_visits_and_another_gives_others():
    assert run(1) == run(1)
    assert run(1).visits != run(2).visits


@pytest.mark.parametrize("growth", [0.0, 0.1, -0.2])
def test_movement_is_the_integral_of_a_growing_drift(growth):
    truth = ValveTruth("1E", 0.3, -0.02, growth)
    x = np.linspace(0.4, 2.4, 20001)
    rate = -0.02 * (1 + growth) ** x
    by_sum = np.sum(0.5 * (rate[1:] + rate[:-1]) * np.diff(x))
    got = movement_mm(truth, since=100.0, until=600.0, check_interval=250.0)
    assert got == pytest.approx(by_sum, abs=1e-8)


def test_a_jump_happens_once_in_the_step_that_holds_it():
    truth = ValveTruth("1E", 0.3, 0.0, jump_usage=300.0, jump_mm=-0.1)
    steps = [(0.0, 250.0), (250.0, 300.0), (300.0, 500.0)]
    moved = [movement_mm(truth, since=a, until=b, check_interval=250.0) for a, b in steps]
    assert moved == [0.0, -0.1, 0.0]


def test_readings_recover_the_truth():
    errors = []
    for seed in range(30):
        result = run(seed)
        analysis = analyse(engine(), result.visits)
        true = {(t.visit, t.valve): t.found_mm for t in result.truth}
        for valve in analysis.valves:
            for state in valve.states:
                away = state.found.mean_mm - true[state.visit, valve.valve.id]
                # Own doubt, the scatter of readings and the shift of the visit together.
                errors.append(away / np.sqrt(state.found.sd_mm**2 + 0.005**2 + 0.004**2))
    assert abs(np.mean(errors)) < 0.25
    assert 0.7 < np.std(errors) < 1.15


def test_settings_come_near_their_target_and_are_read_again():
    result = run(
        plans=(plan(1, 250.0, work="check-and-set", set_mm={"1E": 0.28}),), valves=truths(drift=-0.05)
    )
    visit = result.visits[0]
    assert [s.valve for s in visit.settings] == ["1E"]
    assert visit.reading_of("1E", "left") is not None
    after = next(t for t in result.truth if t.valve == "1E")
    assert after.found_mm == pytest.approx(0.275 - 0.05)
    assert after.left_mm == pytest.approx(0.28, abs=0.03)


def test_an_unread_valve_is_left_out_and_a_wrong_note_contradicts():
    plans = (plan(1, 250.0, leave_unread=frozenset({"2E"}), wrongly_noted=frozenset({"1E"})),)
    result = run(plans=plans)
    assert result.visits[0].reading_of("2E", "found") is None
    assert analyse(engine(), result.visits).of("1E").found.contradiction


def test_a_valve_without_truth_is_refused():
    with pytest.raises(ImpossibleValue, match="2E has none"):
        run(valves=truths()[:3])
