"""How likely each answer of a blade is: against integration over the clearance."""

import numpy as np
import pytest
from scipy.stats import norm

from pronostico.core.gauge.expected_answer import probability_of_answers
from pronostico.core.gauge.feel import feel_sd_mm, log_likelihood_with_entry_error
from pronostico.core.gauge.reading import Prior
from pronostico.core.thermal import Correction
from pronostico.core.visits import Reading, Try

PRIOR = Prior(0.18, 0.05)


@pytest.mark.parametrize("blades_mm", [(0.20,), (0.13, 0.05)])
@pytest.mark.parametrize(
    "tries", [(), (Try((0.15,), "free"),), (Try((0.15,), "free"), Try((0.20,), "no-go"))], ids=len
)
def test_it_is_what_integration_gives(tries, blades_mm):
    correction = Correction(0.01, 0.004)
    # The gap in the hand: the clearance, the correction, and what is not known of it.
    gap = np.linspace(-0.2, 0.6, 80_001)
    weight = norm.pdf(gap, 0.19, np.hypot(0.05, 0.004))
    for one in tries:
        weight *= np.exp(log_likelihood_with_entry_error(one, gap, "straight"))
    weight /= weight.sum()
    margin, sd_mm = gap - sum(blades_mm), feel_sd_mm(len(blades_mm), "straight")
    refused = weight @ norm.cdf((-0.003 - margin) / sd_mm)
    free = weight @ norm.sf((0.015 - margin) / sd_mm)
    found = probability_of_answers(Reading("1I", "found", tries, "straight"), blades_mm, correction, PRIOR)
    assert found["no-go"] == pytest.approx(refused, abs=4e-3)
    assert found["free"] == pytest.approx(free, abs=4e-3)
    assert sum(found.values()) == pytest.approx(1.0)


def test_an_answer_against_all_that_was_read_is_very_unlikely():
    tries = (Try((0.20,), "free"), Try((0.23,), "drag"))
    found = probability_of_answers(
        Reading("1I", "found", tries, "straight"), (0.15,), Correction(0.0, 0.0), PRIOR
    )
    assert found["no-go"] < 0.005
    assert found["free"] > 0.9
