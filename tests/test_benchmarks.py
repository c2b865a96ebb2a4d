"""The benchmarks are not run here: only that they still fit what they measure."""

import importlib

import benchmarks.__main__ as bench


def test_every_benchmark_can_be_begun():
    assert callable(bench.main)
    for name in ("forecast_study", "sister_study", "settling"):
        assert importlib.import_module(f"benchmarks.{name}").__doc__
