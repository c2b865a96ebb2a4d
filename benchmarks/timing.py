"""Timing that can be compared on a shared machine: the best of several runs, beside a yardstick."""

import time
from collections.abc import Callable

import numpy as np
from scipy.special import ndtr


def best_ms(work: Callable[[], object], *, repeats: int = 7, at_least_s: float = 0.05) -> float:
    """Milliseconds of one call: the best mean of several rounds, each long enough to be timed."""
    calls = 1
    while True:
        started = time.perf_counter()
        for _ in range(calls):
            work()
        took = time.perf_counter() - started
        if took >= at_least_s:
            break
        calls *= 2
    best = took / calls
    for _ in range(repeats - 1):
        started = time.perf_counter()
        for _ in range(calls):
            work()
        best = min(best, (time.perf_counter() - started) / calls)
    return best * 1000.0


_YARDSTICK = np.linspace(-6.0, 6.0, 100_000)


def yardstick_ms() -> float:
    """A hundred thousand values of the normal distribution: what one run's figures are held against."""
    return best_ms(lambda: ndtr(_YARDSTICK))
