"""What is kept of computed drifts, while many people measure at once."""

from dataclasses import replace

import pytest

from pronostico.analysis import drift_cache
from pronostico.analysis.drift_cache import predicted_at
from tests.builders import around, engine, visit


@pytest.fixture
def computed(monkeypatch):
    """Which engines' drifts were computed."""
    honest, found = drift_cache.drifts, []

    def noted(of, visits, constants):
        found.append(of.check_interval)
        return honest(of, visits, constants)

    monkeypatch.setattr(drift_cache, "drifts", noted)
    return found


def test_fifty_engines_measured_in_turn_are_each_computed_once(computed):
    one = engine(cylinders=1)
    before = (visit(1, 100.0, around(one.valves[0].id, 0.15)),)
    engines = [replace(one, check_interval=1_000.0 + number) for number in range(50)]
    first = [predicted_at(each, before, 200.0, one.valves[0]) for each in engines]
    assert None not in first
    assert [predicted_at(each, before, 200.0, one.valves[0]) for each in engines] == first
    assert predicted_at(engines[0], before, 200.0, one.valves[1]) is None
    assert computed == [each.check_interval for each in engines]


def test_without_a_visit_before_nothing_is_predicted_and_nothing_computed(computed):
    one = engine(cylinders=1)
    assert predicted_at(one, (), 200.0, one.valves[0]) is None
    assert computed == []
