import pytest
from hypothesis import given
from hypothesis import strategies as st

from pronostico.core.cylinder import Compression, assess_compression, at_altitude, pressure_at

FOUR = [(1, 2), (2, 3), (3, 4)]


def assessed(*readings, least=900.0, spread=0.25, altitude=0.0, neighbours=FOUR):
    return assess_compression(
        [Compression(*one) for one in readings],
        least_kpa=least,
        most_spread=spread,
        neighbours=neighbours,
        altitude_m=altitude,
    )


def test_the_standard_atmosphere():
    # Tabulated in ISO 2533.
    assert pressure_at(1000.0) == pytest.approx(89.87, abs=0.02)
    assert pressure_at(3000.0) == pytest.approx(70.11, abs=0.03)


def test_a_gauge_reads_less_high_up_and_the_limit_follows():
    # (900 + 101.325) * 84.556 / 101.325 - 84.556
    assert at_altitude(900.0, 1500.0) == pytest.approx(751.0, abs=0.5)
    here = assessed((1, 800.0, None))
    there = assessed((1, 800.0, None), altitude=1500.0)
    assert here.low[1] > 0.99 and there.low[1] < 0.02


def test_oil_that_brings_it_up_found_rings_and_oil_that_does_not_found_none():
    found = assessed((1, 600.0, 760.0), (2, 600.0, 610.0), (3, 1100.0, 1250.0))
    assert found.wet_gain[1] > 0.99 and found.wet_no_gain[1] < 0.02
    assert found.wet_no_gain[2] > 0.97 and found.wet_gain[2] < 0.05
    # Oil says nothing of a cylinder that is not low.
    assert found.wet_gain[3] < 0.01 and found.wet_no_gain[3] < 0.01


def test_two_low_side_by_side_are_reported_from_two_low_apart():
    beside = assessed((1, 1100.0, None), (2, 600.0, None), (3, 620.0, None), (4, 1100.0, None))
    apart = assessed((1, 600.0, None), (2, 1100.0, None), (3, 620.0, None), (4, 1100.0, None))
    assert beside.neighbours_low[2] > 0.99 and beside.neighbours_low[3] > 0.99
    assert beside.neighbours_low[1] < 0.01
    assert max(apart.neighbours_low.values()) < 0.01


def test_cylinders_that_all_pass_may_yet_be_too_far_apart():
    found = assessed((1, 1300.0, None), (2, 920.0, None))
    assert max(found.low.values()) < 0.3
    assert found.spread > 0.8
    assert assessed((1, 1300.0, None), (2, 1200.0, None)).spread < 0.01
    assert assessed((1, 1300.0, None)).spread is None


def test_without_a_spec_nothing_is_low_by_itself():
    assert assessed((1, 100.0, None), least=None).low == {}


@given(st.floats(1.0, 3000.0), st.floats(0.0, 4000.0))
def test_every_figure_is_a_probability(kpa, altitude):
    found = assessed((1, kpa, kpa * 1.05), (2, kpa / 2.0, None), altitude=altitude)
    every = [*found.low.values(), *found.wet_gain.values(), *found.wet_no_gain.values(), found.spread]
    assert all(0.0 <= one <= 1.0 for one in every)


def test_all_cylinders_at_zero_are_low_and_not_apart():
    found = assessed((1, 0.0, 0.0), (2, 0.0, None), (3, 0.0, 0.0))
    assert min(found.low.values()) > 0.99
    assert found.spread == pytest.approx(0.0, abs=1e-3)
    assert found.wet_no_gain[1] > 0.99


def test_a_wet_test_counts_without_a_spec():
    found = assessed((1, 600.0, 760.0), (2, 600.0, 610.0), (3, 600.0, 672.0), least=None)
    assert found.wet_gain[1] > 0.99 and found.wet_no_gain[2] > 0.97
    # Up by 0.12 where 0.10 is the limit; both readings scatter by 0.03: Phi(0.02 / 0.0424) = 0.681.
    assert found.wet_gain[3] == pytest.approx(0.6813, abs=1e-3)
