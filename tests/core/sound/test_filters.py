"""The two filters against SciPy's, and that a command does not load what it was to do without."""

import subprocess
import sys

import numpy as np
import pytest
from scipy.signal import firwin, savgol_filter, upfirdn

from pronostico.core.sound.filters import fewer_samples, smoothed


@pytest.mark.parametrize(
    ("count", "factor"), [(1003, 3), (40_000, 3), (5000, 2), (77, 4), (3 * 64 * 256, 3), (192_000, 8)]
)
def test_fewer_samples_are_those_of_a_filter_and_every_so_manyth(count, factor):
    sound = np.random.default_rng(0).normal(size=count).astype(np.float32)
    half = 10 * factor
    taps = firwin(2 * half + 1, 1 / factor, window=("kaiser", 6.0))
    wanted = upfirdn(taps, sound.astype(float), 1, factor)[10 : 10 + count // factor]
    found = fewer_samples(sound, factor)
    assert found.dtype == np.float32
    np.testing.assert_allclose(found, wanted, atol=1e-6)


def test_a_tone_past_half_the_lower_rate_does_not_come_back_as_a_lower_one():
    t = np.arange(96_000) / 96_000
    low, high = np.sin(2 * np.pi * 5000 * t), np.sin(2 * np.pi * 25_000 * t)
    assert fewer_samples(low, 3)[100:-100].std() == pytest.approx(np.sqrt(0.5), rel=0.01)
    assert fewer_samples(high, 3)[100:-100].std() < 1e-3


@pytest.mark.parametrize(("count", "width", "degree"), [(9, 9, 2), (30, 9, 2), (100, 7, 2), (50, 11, 3)])
def test_smoothing_is_that_of_savitzky_and_golay(count, width, degree):
    values = np.random.default_rng(1).normal(size=count)
    wanted = savgol_filter(values, width, degree, mode="interp")
    np.testing.assert_allclose(smoothed(values, width, degree), wanted, atol=1e-12)


def test_the_command_does_not_wait_for_what_it_does_not_use():
    code = "import sys, pronostico.cli.sound; print('scipy.signal' in sys.modules, 'fastapi' in sys.modules)"
    done = subprocess.run([sys.executable, "-c", code], capture_output=True, text=True, check=True)
    assert done.stdout.split() == ["False", "False"]
