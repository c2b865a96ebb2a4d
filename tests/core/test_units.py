import pytest
from hypothesis import given
from hypothesis import strategies as st

from pronostico.core import units

PAIRS = [
    (units.mm_from_thou, units.thou_from_mm),
    (units.kpa_from_psi, units.psi_from_kpa),
    (units.celsius_from_fahrenheit, units.fahrenheit_from_celsius),
    (units.nm_from_inch_lbf, units.inch_lbf_from_nm),
    (units.nm_from_foot_lbf, units.foot_lbf_from_nm),
    (units.km_from_miles, units.miles_from_km),
    (units.turns_from_degrees, units.degrees_from_turns),
]


@pytest.mark.parametrize(("there", "back"), PAIRS)
@given(value=st.floats(-1e6, 1e6))
def test_there_and_back_is_where_one_was(there, back, value):
    assert back(there(value)) == pytest.approx(value, rel=1e-12, abs=1e-9)


@pytest.mark.parametrize(
    ("computed", "expected"),
    # The inch is 25.4 mm by definition; printed tables give the psi and the foot pound-force.
    [
        (units.mm_from_thou(1000.0), 25.4),
        (units.kpa_from_psi(1.0), 6.894757),
        (units.nm_from_foot_lbf(1.0), 1.355818),
        (units.nm_from_inch_lbf(12.0), 1.355818),
        (units.celsius_from_fahrenheit(212.0), 100.0),
        (units.fahrenheit_from_celsius(-40.0), -40.0),
        (units.km_from_miles(1.0), 1.609344),
        (units.turns_from_degrees(-90.0), -0.25),
    ],
)
def test_known_values(computed, expected):
    assert computed == pytest.approx(expected, rel=1e-6)


@given(angle=st.floats(-1e5, 1e5))
def test_cycle_angle_lies_in_two_turns_and_differs_by_whole_cycles(angle):
    wrapped = units.cycle_angle_deg(angle)
    assert 0.0 <= wrapped < units.CYCLE_DEG
    cycles = (angle - wrapped) / units.CYCLE_DEG
    assert cycles == pytest.approx(round(cycles), abs=1e-6)


def test_a_hair_before_top_is_not_a_full_cycle():
    assert units.cycle_angle_deg(-1e-20) == 0.0
