"""Laws that hold whatever the figures: of blades, heads, prices, meters and judgements."""

from dataclasses import replace
from datetime import date

import pytest
from hypothesis import assume, given, settings
from hypothesis import strategies as st

from pronostico.core.adjust.price import LabourTimes, price
from pronostico.core.constants import DEFAULT
from pronostico.core.engine import Spec
from pronostico.core.gauge.blade_gaps import blade_gaps
from pronostico.core.gauge.blade_list import parse_blades
from pronostico.core.head import valves_of_head
from pronostico.core.usage import MeterChange, meter_offset
from tests.builders import around, engine, judgement_of, visit

HUNDREDTHS = st.integers(4, 100).map(lambda n: n / 100)
SETS = st.lists(HUNDREDTHS, min_size=1, max_size=30, unique=True)


@given(SETS)
def test_a_set_is_the_same_in_whatever_order_and_with_whatever_between(blades):
    wanted = tuple(sorted(blades))
    assert parse_blades(" ".join(f"{one:.2f}" for one in blades), "mm") == wanted
    assert parse_blades("; ".join(f"{one:.2f}".replace(".", ",") for one in reversed(blades)), "mm") == wanted
    assert parse_blades(" ".join(f"{one:.2f}" for one in blades * 2), "mm") == wanted


@given(st.integers(1, 40), st.integers(1, 10), st.integers(0, 30))
def test_a_row_holds_both_its_ends_and_its_steps(first, step, count):
    last = first + step * count
    assume(last <= 300)
    blades = parse_blades(f"{first / 100:.2f} to {last / 100:.2f} by {step / 100:.2f}", "mm")
    assert len(blades) == count + 1
    assert (blades[0], blades[-1]) == (first / 100, pytest.approx(last / 100))


@given(SETS)
def test_a_gap_is_a_real_step_of_the_set_and_its_stacks_fall_within_it(blades):
    ordered = sorted(blades)
    for gap in blade_gaps(ordered, Spec(0.15, 0.20)):
        assert gap.to_mm - gap.from_mm > DEFAULT.widest_blade_step_mm - 1e-9
        assert not any(gap.from_mm + 1e-9 < one < gap.to_mm - 1e-9 for one in ordered)
        for stack in gap.stacks:
            assert len(stack) == 2 and all(any(abs(one - leaf) < 1e-9 for one in ordered) for leaf in stack)
            assert gap.from_mm < sum(stack) < gap.to_mm


@given(st.integers(1, 12), st.integers(1, 3), st.integers(1, 3), st.booleans())
def test_a_head_has_each_valve_once_and_its_places_run_from_the_front(cylinders, intakes, exhausts, along):
    order = None
    if along:
        one = "I " * intakes + "E " * exhausts
        order = [one * cylinders]
    placed = valves_of_head([list(range(1, cylinders + 1))], intakes=intakes, exhausts=exhausts, along=order)
    assert len({valve.id for valve in placed}) == len(placed) == cylinders * (intakes + exhausts)
    assert [valve.place for valve in placed] == list(range(1, len(placed) + 1))
    for cylinder in range(1, cylinders + 1):
        sides = [valve.side for valve in placed if valve.cylinder == cylinder]
        assert (sides.count("intake"), sides.count("exhaust")) == (intakes, exhausts)


PROBABILITIES = st.lists(st.floats(0, 1), min_size=1, max_size=16)


@given(PROBABILITIES, st.floats(0, 1))
def test_one_more_valve_that_may_be_out_never_makes_setting_less_likely(p_out, more):
    def priced(chances):
        return price(
            adjustment="screw-rocker",
            valves=16,
            access_minutes=30,
            p_out=chances,
            rate_per_hour=60,
            times=LabourTimes(),
        )

    before, after = priced(p_out), priced([*p_out, more])
    assert 0.0 <= before.p_set <= after.p_set + 1e-12 <= 1.0 + 1e-12
    assert before.set_minutes >= before.check_minutes
    # Minutes at sixty an hour are the cost.
    assert before.set_cost == pytest.approx(before.set_minutes)
    assert 1.0 - 1e-6 <= before.valves_to_set <= len(p_out) + 1e-6 or before.p_set == 0.0


CHANGES = st.lists(
    st.tuples(st.integers(1, 28), st.integers(0, 5000), st.integers(0, 100)),
    max_size=4,
    unique_by=lambda c: c[0],
)


@given(CHANGES, st.integers(1, 28))
def test_the_running_total_counts_each_change_of_meter_from_its_day_on(changes, day):
    noted = [MeterChange(date(2026, 3, on), old, new) for on, old, new in changes]
    wanted = sum(old - new for on, old, new in changes if on <= day)
    assert meter_offset(noted, date(2026, 3, day)) == pytest.approx(wanted)


FOUR = engine(4)


@settings(max_examples=30)
@given(st.permutations([valve.id for valve in FOUR.valves]), st.lists(HUNDREDTHS, min_size=8, max_size=8))
def test_a_judgement_does_not_depend_on_the_order_of_reading(order, blades):
    gaps = dict(zip([valve.id for valve in FOUR.valves], blades, strict=True))
    one = judgement_of(FOUR, (), visit(1, 100.0, *(around(valve, gaps[valve]) for valve in gaps)))
    other = judgement_of(FOUR, (), visit(1, 100.0, *(around(valve, gaps[valve]) for valve in order)))
    assert one.valves == other.valves and one.shift == other.shift


@given(st.lists(HUNDREDTHS, min_size=8, max_size=8))
def test_each_valve_is_advised_for_a_reason_that_its_verdict_gives(blades):
    readings = [around(valve.id, blade) for valve, blade in zip(FOUR.valves, blades, strict=True)]
    for one in judgement_of(FOUR, (), visit(1, 100.0, *readings[:-1])).valves:
        standing = one.at.standing
        if standing is None:
            assert (one.advised, one.because) == ("look-again", "not-read")
        elif standing.verdict == "open":
            assert one.advised == "look-again"
        else:
            assert one.advised == ("leave" if standing.verdict == "in" else "set")


def test_what_was_left_tells_how_a_valve_stands_and_what_was_found_is_compared():
    found, left = around("1E", 0.20), replace(around("1E", 0.27), phase="left")
    one = next(v for v in judgement_of(FOUR, (), visit(1, 100.0, found, left)).valves if v.valve.id == "1E")
    assert one.at.standing.verdict == "in" and one.at.found.verdict == "tight"
    assert one.advised == "leave"
