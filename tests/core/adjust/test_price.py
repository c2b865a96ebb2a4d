import pytest

from pronostico.core.adjust.price import LabourTimes, price
from pronostico.core.constants import DEFAULT
from pronostico.core.errors import ImpossibleValue

BASE = {"adjustment": "screw-rocker", "valves": 8, "access_minutes": 35.0, "rate_per_hour": 60.0}


def test_a_check_is_access_and_so_much_a_valve():
    priced = price(**BASE, p_out=None, times=LabourTimes())
    # 35 + 8 * 2.5, at one a minute; of setting nothing is known.
    assert (priced.check_minutes, priced.check_cost) == (55.0, 55.0)
    assert priced.set_minutes is priced.set_cost is priced.p_set is None


def test_setting_costs_the_valves_that_are_expected_to_need_it():
    priced = price(**BASE, p_out=[0.5, 0.5], times=LabourTimes())
    # One minus a quarter; one valve expected of two, given any: 1 / 0.75.
    assert priced.p_set == pytest.approx(0.75)
    assert priced.valves_to_set == pytest.approx(4 / 3)
    assert priced.set_minutes == pytest.approx(55 + 4 / 3 * 4)


def test_camshafts_out_are_paid_once():
    shims = {**BASE, "adjustment": "shim-under-bucket"}
    one = price(**shims, p_out=[1.0], times=LabourTimes())
    two = price(**shims, p_out=[1.0, 1.0], times=LabourTimes())
    assert two.set_minutes - one.set_minutes == LabourTimes().set_per_valve["shim-under-bucket"]
    assert one.set_minutes - one.check_minutes > LabourTimes().camshafts_out


def test_without_access_or_rate_the_usual_access_and_no_cost():
    bare = {**BASE, "access_minutes": None, "rate_per_hour": None}
    priced = price(**bare, p_out=[0.0], times=LabourTimes())
    assert priced.check_minutes == DEFAULT.access_minutes + 20.0
    assert priced.check_cost is None and priced.p_set == 0.0


def test_an_engine_without_valves_has_no_price():
    with pytest.raises(ImpossibleValue, match="number of valves"):
        price(**{**BASE, "valves": 0}, p_out=None, times=LabourTimes())


def test_an_engine_may_have_a_single_valve_to_check_and_not_none():
    assert price(**{**BASE, "valves": 1}, p_out=None, times=LabourTimes()).check_minutes == 37.5
    with pytest.raises(ImpossibleValue, match="1 or more"):
        price(**{**BASE, "valves": 0}, p_out=None, times=LabourTimes())
