import pytest
from hypothesis import given
from hypothesis import strategies as st

from pronostico.core.constants import DEFAULT
from pronostico.core.engine import Spec
from pronostico.core.gauge.blade_gaps import blade_gaps

COARSE = (0.05, 0.10, 0.15, 0.20, 0.25, 0.30)


def test_a_coarse_set_has_gaps_and_says_which_stacks_fill_them():
    gaps = blade_gaps((0.04, 0.05, 0.08, 0.10, 0.15, 0.20, 0.25, 0.30), Spec(0.15, 0.20))
    assert [(gap.from_mm, gap.to_mm) for gap in gaps] == [(0.10, 0.15), (0.15, 0.20), (0.20, 0.25)]
    # 0.04 + 0.08 and its like lie between 0.10 and 0.15.
    assert all(0.10 < sum(stack) < 0.15 for stack in gaps[0].stacks)
    assert (0.04, 0.08) in gaps[0].stacks


def test_a_set_whose_sums_fall_on_its_own_blades_cannot_fill_its_gaps():
    assert all(gap.stacks == () for gap in blade_gaps(COARSE, Spec(0.15, 0.20)))


def test_a_fine_set_has_none():
    fine = tuple(round(0.02 + 0.02 * step, 2) for step in range(20))
    assert blade_gaps(fine, Spec(0.15, 0.20)) == ()


def test_a_spec_beyond_the_ends_of_the_set_is_a_gap_there():
    below, above = blade_gaps((0.10, 0.12), Spec(0.05, 0.09)), blade_gaps((0.10, 0.12), Spec(0.15, 0.20))
    assert [(gap.from_mm, gap.to_mm) for gap in below] == [(0.0, 0.10)]
    assert [gap.from_mm for gap in above] == [0.12]


blade = st.integers(2, 60).map(lambda hundredths: hundredths / 100)


@given(st.sets(blade, min_size=1, max_size=15), st.floats(0.05, 0.4), st.floats(0.02, 0.1))
def test_gaps_are_steps_of_the_set_near_the_spec_and_stacks_lie_within(blades, low, width):
    spec = Spec(low, low + width)
    for gap in blade_gaps(tuple(blades), spec):
        assert gap.to_mm - gap.from_mm > DEFAULT.widest_blade_step_mm
        assert (
            gap.to_mm > low - DEFAULT.blades_around_mm
            and gap.from_mm < low + width + DEFAULT.blades_around_mm
        )
        assert not any(gap.from_mm < one < gap.to_mm for one in blades)
        for stack in gap.stacks:
            assert len(stack) == 2 and set(stack) <= blades
            assert gap.from_mm < sum(stack) < gap.to_mm


def test_the_example_of_its_own_text():
    assert blade_gaps((0.10, 0.15), Spec(0.15, 0.20))[0].to_mm == pytest.approx(0.15)


def test_of_the_stacks_that_fill_a_gap_the_nearest_its_middle_is_first():
    # From 0.10 to 0.20: stacks of 0.15, 0.14 and 0.13; each thickness once.
    gaps = blade_gaps((0.03, 0.04, 0.05, 0.09, 0.10, 0.20), Spec(0.12, 0.18))
    wide = next(gap for gap in gaps if gap.from_mm == 0.10)
    sums = [round(sum(stack), 3) for stack in wide.stacks]
    assert sums == sorted(set(sums), key=lambda mm: (abs(mm - 0.15), mm)) and sums[0] == 0.15
    assert len(sums) == DEFAULT.most_stacks_a_gap
