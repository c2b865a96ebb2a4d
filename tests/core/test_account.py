"""Sums of an estimate or an account, as they stand on paper."""

import pytest
from hypothesis import given
from hypothesis import strategies as st

from pronostico.core.adjust.account import Line, account


@pytest.mark.parametrize(
    ("lines", "tax", "net", "taxed", "total"),
    [
        ([("labour", 0.75, 60.0), ("gasket", 1, 12.345)], 20.0, 57.35, 11.47, 68.82),
        # Half a cent goes up; binary fractions would make 1.00 of it.
        ([("washer", 1, 1.005)], None, 1.01, None, 1.01),
        ([("labour", 0.33, 100.0)] * 3, 7.7, 99.0, 7.62, 106.62),
        ([], 20.0, 0.0, 0.0, 0.0),
    ],
)
def test_each_line_is_rounded_before_it_is_added(lines, tax, net, taxed, total):
    done = account([Line(what, quantity, "", each) for what, quantity, each in lines], tax)
    assert (done.net, done.tax, done.total) == (net, taxed, total)


def test_what_has_no_price_is_named_and_in_no_sum():
    done = account([Line("labour", 1, "h", 60.0), Line("seal", 2, "", None)], None)
    assert (done.amounts, done.total, done.missing) == ((60.0, None), 60.0, ("seal",))


_PRICES = st.floats(0, 1000, allow_nan=False)


@given(st.lists(st.tuples(st.integers(1, 50), _PRICES), max_size=8), st.floats(0, 30))
def test_the_amounts_on_paper_add_up_to_the_cent(lines, tax):
    done = account([Line("part", quantity, "", each) for quantity, each in lines], tax)
    assert round(sum(one for one in done.amounts if one is not None), 2) == pytest.approx(done.net)
    assert done.total == pytest.approx(done.net + (done.tax or 0.0))
