"""The drift model against brute force on small engines, and its laws on larger ones."""

from dataclasses import replace
from datetime import date, timedelta

import numpy as np
import pytest

from pronostico.core.constants import DEFAULT
from pronostico.core.drift import model
from pronostico.core.drift.forecast import ahead, crossings, risk_ahead, trend_of
from pronostico.core.engine import Engine, Spec, Valve
from pronostico.core.simulation.history import PlannedVisit, ValveTruth, simulate
from pronostico.core.visits import Reading, Setting, Try, Visit
from tests.core.sampled import sampled

BLADES = (0.04, 0.05, 0.08, 0.10, 0.13, 0.15, 0.18, 0.20, 0.23, 0.25, 0.28, 0.30, 0.35, 0.40)
EXHAUST = Spec(0.25, 0.30)


# The steady drift alone, as sampling has it.
STEADY = replace(DEFAULT, drift_regimes=False)


def drifts(of, visits):
    return model.drifts(of, visits, STEADY)


def engine(*names):
    valves = [Valve(name, int(name[0]), "intake" if "I" in name else "exhaust") for name in names]
    return Engine("e", "h", 250.0, "screw-rocker", tuple(valves), Spec(0.15, 0.20), EXHAUST)


def read(valve, *tries, phase="found", access="straight"):
    """A reading: thickness (or a stack), felt, and so on."""
    taken = [
        Try(blade if isinstance(blade, tuple) else (blade,), felt)
        for blade, felt in zip(tries[::2], tries[1::2], strict=True)
    ]
    return Reading(valve, phase, tuple(taken), access)


def visit(index, usage, *readings, settings=(), work="check", temperature_c=20.0, renewed=()):
    day = date(2025, 1, 1) + timedelta(days=100 * index)
    done = tuple(readings), tuple(settings), frozenset(renewed)
    return Visit(f"v{index}", day, usage, temperature_c, work, *done)


FIRST = visit(0, 0, read("1E", 0.25, "free", 0.28, "drag", 0.30, "no-go"))
CASES = {
    "two readings": ((FIRST, visit(1, 250, read("1E", 0.25, "drag", 0.28, "no-go"))), ()),
    "it went in, felt not noted": (
        (
            visit(0, 0, read("1E", 0.25, "go", 0.28, "no-go")),
            visit(1, 500, read("1E", 0.18, "go", 0.23, "no-go", access="awkward")),
        ),
        (),
    ),
    "set by screw and read as left": (
        (
            visit(
                0,
                0,
                read("1E", 0.20, "drag", 0.25, "no-go"),
                read("1E", 0.28, "drag", 0.30, "no-go", phase="left"),
                settings=[Setting("1E", 0.28)],
            ),
            visit(1, 250, read("1E", 0.25, "drag", 0.28, "no-go")),
        ),
        (),
    ),
    "another shim": (
        (
            visit(0, 0, read("1E", 0.20, "drag", 0.25, "no-go"), settings=[Setting("1E", None, 2.5, 2.45)]),
            visit(1, 250, read("1E", 0.23, "drag", 0.25, "no-go")),
        ),
        (),
    ),
    "an entry error, or not": (
        (FIRST, visit(1, 100, read("1E", 0.25, "no-go", 0.20, "free"))),
        (),
    ),
    "answers that contradict": (
        (FIRST, visit(1, 200, read("1E", 0.28, "no-go", 0.30, "drag"))),
        (),
    ),
    "the thinnest blade refused": (
        (FIRST, visit(1, 250, read("1E", 0.04, "no-go"))),
        (("1E", 1),),
    ),
    "a stack": (
        (
            visit(0, 0, read("1E", (0.20, 0.08), "drag")),
            visit(1, 300, read("1E", (0.20, 0.05), "drag", (0.20, 0.08), "no-go")),
        ),
        (),
    ),
}


@pytest.mark.parametrize("name", CASES)
def test_one_valve_is_what_sampling_says(name):
    visits, jumps = CASES[name]
    known = drifts(engine("1E"), visits)
    slow = sampled(engine("1E"), visits, jumps=jumps, count=2_500_000 if jumps else 500_000)
    assert known.converged and slow.size > 1500
    valve = known.valves["1E"]
    assert (valve.broke is not None) == bool(jumps)
    for what, mixture, tolerance in (
        ("now", valve.state.of(1.0, 0.0), 0.0007),
        ("drift", valve.state.of(0.0, 1.0), 0.0007),
        ("sink", valve.sink, 0.0010),
    ):
        sd = slow.sd(f"{what} 1E")
        noise = 4.0 * sd / np.sqrt(slow.size)
        assert mixture.average == pytest.approx(slow.mean(f"{what} 1E"), abs=tolerance + noise)
        assert mixture.sd == pytest.approx(sd, abs=tolerance + 2.0 * noise)
    for probability in (0.05, 0.5, 0.95):
        quantile = valve.state.of(1.0, 0.0).quantile(probability)
        assert slow.below("now 1E", quantile) == pytest.approx(
            probability, abs=0.012 + 3.0 / np.sqrt(slow.size) * 0.5
        )
    assert known.shifts[0].mean_mm == pytest.approx(
        slow.mean("shift 0"), abs=0.0003 + 4 * 0.005 / slow.size**0.5
    )


def test_two_valves_lend_each_other_their_drift_and_share_the_visit():
    two = engine("1E", "2E")
    visits = (
        visit(0, 0, read("1E", 0.25, "free", 0.28, "drag"), read("2E", 0.28, "drag", 0.30, "no-go")),
        visit(1, 250, read("1E", 0.23, "drag", 0.25, "no-go")),
    )
    known, slow = drifts(two, visits), sampled(two, visits, count=1_500_000)
    # 2E was not read again; that its side tightens is known from 1E alone.
    drift = known.valves["2E"].state.of(0.0, 1.0)
    noise = 4.0 * slow.sd("drift 2E") / np.sqrt(slow.size)
    assert drift.average < -0.005
    assert drift.average == pytest.approx(slow.mean("drift 2E"), abs=0.0007 + noise)
    assert drift.sd == pytest.approx(slow.sd("drift 2E"), abs=0.0007 + 2 * noise)


def test_head_work_begins_a_new_era():
    visits = (
        FIRST,
        visit(1, 250, read("1E", 0.23, "drag"), read("1E", 0.28, "drag", phase="left"), work="head-work"),
    )
    fresh = drifts(engine("1E"), visits).valves["1E"]
    # Nothing of the old drift is carried over, and nothing has sunk yet.
    assert fresh.state.of(0.0, 1.0).average == pytest.approx(0.0, abs=1e-3)
    assert fresh.state.of(0.0, 1.0).sd > 0.03
    assert fresh.sink is None
    later = (*visits, visit(2, 500, read("1E", 0.25, "drag", 0.28, "no-go")))
    known = drifts(engine("1E"), later).valves["1E"]
    slow = sampled(engine("1E"), later, count=1_500_000)
    assert known.sink.average == pytest.approx(
        slow.mean("sink 1E"), abs=0.001 + 4 * slow.sd("sink 1E") / slow.size**0.5
    )


def test_a_part_changed_begins_a_new_era_for_its_valve_alone():
    two = engine("1E", "2E")
    visits = (
        visit(0, 0, read("1E", 0.25, "free", 0.28, "drag"), read("2E", 0.28, "drag", 0.30, "no-go")),
        visit(
            1,
            250,
            read("1E", 0.18, "drag", 0.20, "no-go"),
            read("1E", 0.28, "drag", 0.30, "no-go", phase="left"),
            read("2E", 0.25, "drag", 0.28, "no-go"),
            renewed={"1E"},
        ),
        visit(2, 500, read("1E", 0.25, "drag", 0.28, "no-go"), read("2E", 0.25, "free", 0.28, "no-go")),
    )
    known, slow = drifts(two, visits), sampled(two, visits, count=3_000_000)
    assert [known.valves[name].chain.era_start for name in ("1E", "2E")] == [1, 0]
    for name in ("1E", "2E"):
        of = known.valves[name]
        for asked, answer in (("drift", of.state.of(0.0, 1.0)), ("sink", of.sink)):
            noise = 4.0 * slow.sd(f"{asked} {name}") / np.sqrt(slow.size)
            assert answer.average == pytest.approx(slow.mean(f"{asked} {name}"), abs=0.0012 + noise)
            assert answer.sd == pytest.approx(slow.sd(f"{asked} {name}"), abs=0.0012 + noise)


def test_a_shim_step_does_not_bridge_a_part_that_was_changed():
    step = Setting("1E", None, 2.50, 2.40)
    visits = (FIRST, visit(1, 250, read("1E", 0.23, "drag"), settings=(step,), renewed={"1E"}))
    known = drifts(engine("1E"), visits).valves["1E"]
    # Nothing was measured after it: the clearance is known to the spec's width and no better.
    assert known.state.of(1.0, 0.0).sd > 0.12


def simulated(valves=8, visits=6, *, seed=0, drift=-0.02, shift_mm=0.0, shifted=None, wrongly=frozenset()):
    """A simulated engine's visits; one visit may be read by so much off."""
    rng = np.random.default_rng(seed)
    names = [f"{number}{side}" for number in range(1, valves // 2 + 1) for side in "IE"]
    one = engine(*names)
    truths = tuple(
        ValveTruth(v.id, 0.175 if v.side == "intake" else 0.285, drift if v.side == "exhaust" else -0.001)
        for v in one.valves
    )
    plans = tuple(
        PlannedVisit(
            f"v{k}", date(2020, 1, 1) + timedelta(days=200 * k), 250.0 * k, 20.0, wrongly_noted=wrongly
        )
        if k == visits // 2
        else PlannedVisit(f"v{k}", date(2020, 1, 1) + timedelta(days=200 * k), 250.0 * k, 20.0)
        for k in range(visits)
    )
    made = list(simulate(one, truths, plans, BLADES, rng=rng).visits)
    if shifted is not None:
        off = round(shift_mm, 2)
        made[shifted] = replace(
            made[shifted],
            readings=tuple(
                replace(r, tries=tuple(Try((round(t.blades_mm[0] + off, 3),), t.felt) for t in r.tries))
                for r in made[shifted].readings
            ),
        )
    return one, tuple(made)


def test_sinking_seats_are_called_and_steady_ones_are_not():
    one, visits = simulated()
    known = drifts(one, visits)
    assert known.converged
    trends = {
        name: trend_of(valve.state.of(0.0, 1.0), valve.chain.specs[-1])
        for name, valve in known.valves.items()
    }
    assert {trends[name] for name in trends if "E" in name} == {"tightening"}
    assert {trends[name] for name in trends if "I" in name} <= {"steady", "unclear"}


def test_the_order_of_the_valves_does_not_matter():
    one, visits = simulated(valves=4, visits=4)
    turned = replace(one, valves=one.valves[::-1])
    a, b = drifts(one, visits), drifts(turned, visits)
    for name, valve in a.valves.items():
        assert valve.state.average == pytest.approx(b.valves[name].state.average, abs=2e-5)
        assert valve.state.sd == pytest.approx(b.valves[name].state.sd, abs=2e-5)


def test_a_visit_that_was_read_off_is_suspect_and_no_valve_changes_there():
    one, visits = simulated(shift_mm=0.03, shifted=3)
    known = drifts(one, visits)
    assert [shift.suspect for shift in known.shifts] == [False, False, False, True, False, False]
    assert known.shifts[3].mean_mm > 0.01
    assert all(valve.broke is None or valve.broke.visit not in (3, 4) for valve in known.valves.values())


def test_a_wrongly_noted_reading_hardly_moves_what_is_known():
    one, visits = simulated(seed=4)
    _, slipped = simulated(seed=4, wrongly=frozenset({"2E"}))
    right, wrong = drifts(one, visits).valves["2E"], drifts(one, slipped).valves["2E"]
    assert wrong.state.average == pytest.approx(right.state.average, abs=0.006)


def test_without_visits_or_without_a_spec_there_is_nothing_to_say():
    assert drifts(engine("1E"), ()).valves == {}
    hydraulic = replace(engine("1E"), intake_spec=None, exhaust_spec=None, adjustment="hydraulic")
    assert drifts(hydraulic, (visit(0, 10),)).valves == {}
    # One visit: the forecast is the prior's.
    once = drifts(engine("1E", "1I"), (FIRST,)).valves
    assert once["1E"].state.of(0.0, 1.0).average == pytest.approx(0.0, abs=1e-6)
    # One that was never read stands where its spec says, not known well.
    assert once["1I"].state.average == pytest.approx(0.175, abs=1e-6)
    assert once["1I"].state.sd == pytest.approx(0.15, abs=1e-4)


def test_what_is_ahead_is_known_less_and_less_and_crosses_in_order():
    one, visits = simulated(seed=2, drift=-0.01)
    valve = drifts(one, visits).valves["1E"]
    spreads = [ahead(valve.state, intervals).sd for intervals in (0.0, 1.0, 2.0, 4.0)]
    assert spreads == sorted(spreads)
    tight, loose = crossings(valve.state, EXHAUST)
    assert tight is not None and tight.q10 <= (tight.q50 or 99) <= (tight.q90 or 99)
    at_crossing = ahead(valve.state, tight.q50).below(EXHAUST.min_mm)
    assert tight.q50 == 0.0 or at_crossing == pytest.approx(0.5, abs=0.01)
    assert loose is None or loose.q10 > tight.q10


def test_the_more_risk_is_taken_the_later_one_looks():
    one, visits = simulated(seed=3, drift=-0.008)
    known = drifts(one, visits)
    found = [risk_ahead(known, margin_mm=0.03).next_check(risk) for risk in (0.02, 0.1, 0.5)]
    assert [one.intervals for one in found] == sorted(one.intervals for one in found)
    assert found[0].limiting_valve in known.valves
    wide = risk_ahead(known, margin_mm=0.2).next_check(0.1)
    assert wide.intervals == 3.0


def test_the_risk_is_that_any_valve_is_out_and_not_the_likeliest_alone():
    one, visits = simulated(seed=3, drift=-0.008)
    known = drifts(one, visits)
    risk = 0.1
    found = risk_ahead(known, margin_mm=0.03).next_check(risk)
    # Neither at once nor never: else nothing would be held here.
    assert 0.0 < found.intervals < 3.0
    alone = []
    for valve in known.valves.values():
        spec, later = valve.chain.specs[-1], ahead(valve.state, found.intervals)
        alone.append(later.below(spec.min_mm - 0.03) + 1.0 - later.below(spec.max_mm + 0.03))
    assert max(alone) <= risk + 1e-6 <= sum(alone) + 2e-3


def test_the_registers_worked_example_of_two_readings():
    # F-14 in docs/formulas.md; also what sampling gives in the test above.
    known = drifts(engine("1E"), CASES["two readings"][0]).valves["1E"]
    now, drift = known.state.of(1.0, 0.0), known.state.of(0.0, 1.0)
    assert (now.average, now.sd) == (pytest.approx(0.258, abs=5e-4), pytest.approx(0.010, abs=5e-4))
    assert (drift.average, drift.sd) == (pytest.approx(-0.025, abs=5e-4), pytest.approx(0.014, abs=5e-4))
    assert known.sink.average == pytest.approx(0.025, abs=5e-4)
