"""Results change only with the model's version: what is stored under the old one is computed again then."""

import json

import pytest

from pronostico.core.constants import MODEL_VERSION
from tests.golden.results import FILE, figures


def test_results_of_the_demonstration_change_only_with_the_models_version():
    kept = json.loads(FILE.read_text("utf-8"))
    assert kept["model_version"] == MODEL_VERSION, "run 'make golden' with the new version"
    now = figures()
    assert now.keys() == kept["figures"].keys(), (
        "run 'make golden' where a report has other fields on purpose"
    )
    changed = {
        path: (was, now[path])
        for path, was in kept["figures"].items()
        # Another processor may differ in the last digits.
        if now[path] != (pytest.approx(was, rel=1e-6, abs=1e-9) if isinstance(was, float) else was)
    }
    assert not changed, "results changed: raise MODEL_VERSION in core/constants.py and run 'make golden'"
