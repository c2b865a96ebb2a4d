"""The distribution function against the library's own."""

import numpy as np
import pytest
from scipy.special import ndtr

from pronostico.core.drift.standard_normal import below


def test_it_is_that_of_the_library_on_both_sides_and_in_any_shape():
    z = np.linspace(-9.0, 9.0, 18_001)
    assert below(z) == pytest.approx(ndtr(z), abs=1e-15, rel=0)
    assert below(z[1:].reshape(3, -1)).ravel().tolist() == below(z[1:]).tolist()


def test_far_out_it_is_small_and_right_in_proportion():
    z = np.array([-30.0, -20.0, -12.0, -8.0, -6.0])
    assert below(z) == pytest.approx(ndtr(z), rel=3e-6, abs=0)
    assert below(z[-1:]) == pytest.approx(ndtr(z[-1:]), rel=1e-9, abs=0)
    assert (np.diff(below(z)) > 0.0).all()


def test_what_cannot_be_is_zero_and_what_must_be_is_one():
    assert below(np.array([-60.0, 60.0])).tolist() == [0.0, 1.0]
