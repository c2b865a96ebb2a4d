import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from pronostico.core.line import LinePoint, fit_line
from tests.builders import EXHAUST


def line_of(*points, sd=0.005):
    return fit_line(tuple(LinePoint(u, mm, sd) for u, mm in points), check_interval=100.0)


def test_two_points_give_their_line():
    line = line_of((0.0, 0.30), (200.0, 0.26))
    assert line.slope_mm_per_interval == pytest.approx(-0.02)
    assert line.at(300.0, EXHAUST).mean_mm == pytest.approx(0.24)
    assert line.scatter_mm == 0.0


def test_agrees_with_weighted_least_squares_by_normal_equations():
    rng = np.random.default_rng(3)
    usage, y, sd = (
        np.array([0.0, 90.0, 210.0, 300.0]),
        rng.normal(0.27, 0.02, 4),
        np.array([4, 8, 6, 20]) / 1e3,
    )
    line = fit_line(tuple(LinePoint(*p) for p in zip(usage, y, sd, strict=True)), check_interval=100.0)
    x = np.column_stack([np.ones(4), usage / 100.0])
    weight = np.diag(1.0 / sd**2)
    level, slope = np.linalg.solve(x.T @ weight @ x, x.T @ weight @ y)
    assert line.slope_mm_per_interval == pytest.approx(slope)
    assert line.at(0.0, EXHAUST).mean_mm == pytest.approx(level)


def test_scatter_beyond_the_readings_own_doubt_widens_the_forecast():
    straight = line_of((0.0, 0.30), (100.0, 0.29), (200.0, 0.28), (300.0, 0.27))
    scattered = line_of((0.0, 0.30), (100.0, 0.25), (200.0, 0.32), (300.0, 0.27))
    assert straight.scatter_mm == 0.0
    assert scattered.scatter_mm > 0.01
    assert scattered.at(400.0, EXHAUST).sd_mm > straight.at(400.0, EXHAUST).sd_mm


@given(ahead=st.floats(0.0, 500.0), more=st.floats(1.0, 500.0))
def test_the_forecast_widens_with_its_distance(ahead, more):
    line = line_of((0.0, 0.30), (100.0, 0.29), (200.0, 0.27))
    near, far = line.at(200.0 + ahead, EXHAUST), line.at(200.0 + ahead + more, EXHAUST)
    assert far.sd_mm > near.sd_mm
    assert near.p_tight + near.p_in + near.p_loose == pytest.approx(1.0)


@pytest.mark.parametrize("points", [[], [(10.0, 0.2)], [(10.0, 0.2), (10.0, 0.25)]])
def test_fewer_than_two_usages_make_no_line(points):
    assert line_of(*points) is None


def test_crossing_is_where_the_forecast_reaches_that_probability():
    line = line_of((0.0, 0.30), (200.0, 0.28))
    crossing = line.crossing_usage(EXHAUST, after=200.0, probability=0.5)
    at, just_before = line.at(crossing, EXHAUST), line.at(crossing - 1.0, EXHAUST)
    assert at.p_tight + at.p_loose >= 0.5 > just_before.p_tight + just_before.p_loose
    assert (
        line_of((0.0, 0.275), (900.0, 0.275), sd=0.0005).crossing_usage(
            EXHAUST, after=900.0, probability=0.999
        )
        is None
    )
