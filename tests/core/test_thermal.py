import pytest
from hypothesis import given
from hypothesis import strategies as st

from pronostico.core.thermal import Correction, correction_at, why_not_cold
from tests.builders import engine

IN_HEAD = {"head_material": "aluminium", "valve_length_mm": 100.0}
PUSHROD = {
    **IN_HEAD,
    "adjustment": "screw-pushrod",
    "block_material": "cast-iron",
    "rocker_ratio": 1.5,
    "pushrod_length_mm": 200.0,
}


@pytest.mark.parametrize(
    ("changes", "side", "per_k"),
    # By hand from the coefficients: (22 - 12) 1e-6 * 100, (22 - 17) 1e-6 * 100; the rods add
    # 1.5 * (11 - 12) 1e-6 * 200.
    [
        (IN_HEAD, "intake", 1.0e-3),
        (IN_HEAD, "exhaust", 0.5e-3),
        ({**IN_HEAD, "head_material": "cast-iron"}, "exhaust", -0.6e-3),
        (PUSHROD, "intake", 0.7e-3),
        ({**PUSHROD, "adjustment": "pivot-nut"}, "exhaust", 0.2e-3),
        ({**IN_HEAD, "adjustment": "shim-under-bucket"}, "intake", 1.0e-3),
    ],
)
def test_corrections_by_hand(changes, side, per_k):
    got = correction_at(engine(**changes), side, 30.0)
    assert got.correction_mm == pytest.approx(10.0 * per_k, rel=1e-9)
    assert got.uncertainty_mm == pytest.approx(abs(5.0 * per_k), rel=1e-9)


@pytest.mark.parametrize("unknown", ["valve_length_mm", "rocker_ratio", "pushrod_length_mm", "head_material"])
def test_an_unknown_length_gives_no_correction_but_an_uncertainty(unknown):
    got = correction_at(engine(**{**PUSHROD, unknown: None}), "intake", 10.0)
    assert got == Correction(0.0, pytest.approx(0.003))


def test_a_reference_temperature_that_the_manual_does_not_state_is_uncertain_by_six_kelvin():
    stated = correction_at(engine(**IN_HEAD), "intake", 35.0)
    unstated = correction_at(engine(**IN_HEAD, reference_temperature_c=None), "intake", 35.0)
    per_k = stated.correction_mm / 15.0
    assert unstated.correction_mm == pytest.approx(stated.correction_mm)
    # sqrt((15 / 2)^2 + 6^2) kelvin of uncertainty.
    assert unstated.uncertainty_mm == pytest.approx(abs(per_k) * 92.25**0.5)
    # At the assumed 20 degrees only the uncertainty of the reference itself is left.
    at_20 = correction_at(engine(**IN_HEAD, reference_temperature_c=None), "intake", 20.0)
    assert at_20 == Correction(0.0, pytest.approx(6.0 * abs(per_k)))
    not_noted = correction_at(engine(**IN_HEAD, reference_temperature_c=None), "intake", None)
    assert not_noted == Correction(0.0, 0.003)


def test_a_temperature_that_was_not_noted_gives_a_small_doubt():
    assert correction_at(engine(**IN_HEAD), "intake", None) == Correction(0.0, 0.003)


@given(temperature=st.floats(-40.0, 120.0))
def test_warmer_and_colder_by_as_much_move_as_far(temperature):
    warm = correction_at(engine(**IN_HEAD), "exhaust", 20.0 + temperature)
    cold = correction_at(engine(**IN_HEAD), "exhaust", 20.0 - temperature)
    assert warm.correction_mm == pytest.approx(-cold.correction_mm)
    assert warm.uncertainty_mm == pytest.approx(cold.uncertainty_mm)


@pytest.mark.parametrize(
    ("known", "reasons"),
    [
        ({"temperature_c": 45.0, "below_c": 38.0, "last_run_hours_ago": 2.0}, 2),
        ({"temperature_c": 38.0, "below_c": 38.0, "last_run_hours_ago": 4.0}, 0),
        ({"temperature_c": None, "below_c": 38.0, "last_run_hours_ago": None}, 0),
        ({"temperature_c": 60.0, "below_c": None, "last_run_hours_ago": 0.5}, 1),
    ],
)
def test_why_a_check_is_no_cold_check(known, reasons):
    assert len(why_not_cold(**known)) == reasons
