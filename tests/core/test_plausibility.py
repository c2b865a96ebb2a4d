import pytest
from hypothesis import given
from hypothesis import strategies as st

from pronostico.core.plausibility import clearance_query, compression_query, soak_query, usage_query
from pronostico.core.units import MM_PER_THOU


@pytest.mark.parametrize(
    ("typed_mm", "meant"),
    # 6 thou is 0.1524 mm; 0.15 taken as thou is 0.00381 mm.
    [(6.0, 0.152), (10.0, 0.254), (0.15 * MM_PER_THOU, 0.15), (0.3 * MM_PER_THOU, 0.3)],
)
def test_a_clearance_in_the_other_unit_is_asked_about_with_what_was_meant(typed_mm, meant):
    doubt = clearance_query(typed_mm)
    assert doubt is not None and doubt.suggestion == pytest.approx(meant)


@given(st.floats(0.03, 1.0))
def test_no_usual_clearance_is_asked_about_and_either_entry_error_of_it_is(clearance_mm):
    assert clearance_query(clearance_mm) is None
    in_thou = clearance_mm / MM_PER_THOU
    assert in_thou <= 1.2 or clearance_query(in_thou) is not None
    taken_as_thou = clearance_mm * MM_PER_THOU
    assert taken_as_thou >= 0.02 or clearance_query(taken_as_thou) is not None


def test_nothing_and_none_at_all_are_no_uncertainty():
    assert clearance_query(None) is None and clearance_query(0.0) is None and soak_query(None) is None


@pytest.mark.parametrize(("typed", "meant"), [(64.0, 17.8), (50.0, 10.0), (90.0, 32.2), (200.0, None)])
def test_a_fahrenheit_figure_is_asked_about(typed, meant):
    doubt = soak_query(typed)
    assert doubt is not None and doubt.suggestion == meant


@pytest.mark.parametrize("typed", [-25.0, 0.0, 18.0, 38.0, 45.0])
def test_a_temperature_that_an_engine_may_have_is_not(typed):
    assert soak_query(typed) is None


def test_a_digit_too_many_is_asked_about():
    assert usage_query(3500.0, 1000.0, 250.0) is None
    assert usage_query(12500.0, 1000.0, 250.0) is not None


@pytest.mark.parametrize(
    ("kpa", "meant"),
    [(130.0, 896.0), (11.5, 1150.0), (60.0, 6000.0), (61.0, 421.0), (950.0, None), (0.0, None)],
)
def test_a_compression_that_was_read_in_psi_or_bar(kpa, meant):
    doubt = compression_query(kpa)
    assert (doubt and doubt.suggestion) == meant
