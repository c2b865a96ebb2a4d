"""The feel of technicians: by hand for two, and on simulated workshops for several."""

import numpy as np
import pytest

from pronostico.core.constants import DEFAULT
from pronostico.core.gauge.feel_of_technicians import OffsetOfVisit, feel_of_technicians

PRIOR = DEFAULT.feel_between_sd_mm**2


def test_one_visit_after_somebody_else_by_hand():
    # The two differ by N(0, 2 * prior); one offset of -0.02 mm says -0.02 with the noise of both.
    (a, b) = feel_of_technicians([OffsetOfVisit("B", ("A", "A"), -0.02, 0.004)])
    noise = 0.004**2 + DEFAULT.visit_shift_sd_mm**2
    mean = -0.02 * 2.0 * PRIOR / (2.0 * PRIOR + noise)
    sd = np.sqrt(2.0 * PRIOR * noise / (2.0 * PRIOR + noise))
    assert (b.technician, b.visits, a.visits) == ("B", 1, 0)
    assert b.mean_mm == pytest.approx(mean) and b.sd_mm == pytest.approx(sd)
    assert a.mean_mm == pytest.approx(-mean)
    # The worked example of the register.
    assert (b.mean_mm, b.sd_mm) == (pytest.approx(-0.016), pytest.approx(0.00506, abs=1e-5))


def test_who_measures_alone_is_compared_with_nobody():
    assert feel_of_technicians([OffsetOfVisit("A", ("A",), -0.02, 0.004)] * 5) == []
    assert feel_of_technicians([]) == []


def workshop(feel_mm, visits, seed):
    """Visits of a workshop whose technicians measure in turn, each with a feel."""
    rng = np.random.default_rng(seed)
    names = list(feel_mm)
    told = []
    for _ in range(visits):
        who, *before = (str(name) for name in rng.choice(names, 4))
        offset = feel_mm[who] - np.mean([feel_mm[one] for one in before])
        offset += rng.normal(0.0, DEFAULT.visit_shift_sd_mm) + rng.normal(0.0, 0.004)
        told.append(OffsetOfVisit(who, tuple(before), float(offset), 0.004))
    return told


def test_somebody_who_feels_tight_is_found_and_the_others_are_not():
    known = {
        one.technician: one
        for one in feel_of_technicians(workshop({"A": 0.0, "B": 0.001, "C": -0.015}, 60, 1))
    }
    assert known["C"].apart and known["C"].mean_mm == pytest.approx(-0.0155, abs=0.005)
    assert known["C"].p_apart > 0.9
    assert sum(one.visits for one in known.values()) == 60


def test_where_all_feel_alike_nobody_is_named():
    named = [
        one.apart
        for seed in range(20)
        for one in feel_of_technicians(workshop({"A": 0.0, "B": 0.0, "C": 0.0}, 30, seed))
    ]
    assert sum(named) <= 1
