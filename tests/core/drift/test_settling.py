"""The drift model settles on whatever it is given, and says so where it does not."""

from dataclasses import replace
from datetime import date
from pathlib import Path

import numpy as np
import pytest
from benchmarks.settling import random_engine

from pronostico.analysis.engine_report import analyse_with_drift
from pronostico.core.constants import DEFAULT
from pronostico.core.drift import inference as drift_inference
from pronostico.core.drift.gaussians import never_negative
from pronostico.core.drift.model import drifts
from pronostico.core.visits import Visit
from pronostico.record.conversion import engine_from, visits_from
from pronostico.record.reading_in import read_record

TWO_MINDS = Path(__file__).parents[2] / "records" / "two_minds.json"


def test_two_valves_of_two_minds_do_not_drive_each_other_round_a_cycle():
    record = read_record(TWO_MINDS.read_text("utf-8"), today=date(2100, 1, 1))
    known = drifts(engine_from(record.engine, DEFAULT), visits_from(record))
    assert known.converged
    assert known.components[0].posterior.sweeps <= 20
    for valve in known.valves.values():
        assert np.isfinite(valve.state.mean).all() and np.linalg.eigvalsh(valve.state.cov).min() >= 0.0


@pytest.mark.parametrize("first", [0, 12, 24])
def test_engines_that_make_no_sense_settle(first):
    for seed in range(first, first + 12):
        known = drifts(*random_engine(seed))
        assert known.converged, seed
        for valve in known.valves.values():
            assert np.isfinite(valve.state.mean).all(), seed


def test_what_a_valve_tells_the_others_is_never_less_than_nothing():
    rng = np.random.default_rng(3)
    root = rng.normal(size=(4, 3, 3))
    sound = root @ np.swapaxes(root, -1, -2)
    assert never_negative(sound) == pytest.approx(sound)
    raised = never_negative(sound - 5.0 * np.eye(3))
    assert np.linalg.eigvalsh(raised).min() >= -1e-12
    # What was positive of it stays: the trace falls only by what was below zero.
    values = np.linalg.eigvalsh(sound - 5.0 * np.eye(3))
    assert np.trace(raised, axis1=-2, axis2=-1) == pytest.approx(np.maximum(values, 0.0).sum(axis=-1))


def test_a_record_that_did_not_settle_says_so(monkeypatch):
    monkeypatch.setattr(drift_inference, "_MOST_SWEEPS", 1)
    record = read_record(TWO_MINDS.read_text("utf-8"), today=date(2100, 1, 1))
    # Other constants, so that no answer is kept from an earlier computation.
    constants = replace(DEFAULT, reading_sd_mm=0.00501)
    assert analyse_with_drift(record, constants=constants).settled is False


def test_an_entry_error_of_three_in_a_hundred_is_a_case_of_its_own():
    engine, visits = random_engine(7)
    asked = [
        drifts(engine, visits, replace(DEFAULT, live_entry_error=share))
        for share in (0.05, DEFAULT.live_entry_error)
    ]
    cases = [len(known.components[0].posterior.configs) for known in asked]
    assert DEFAULT.live_entry_error == 0.02
    assert cases[1] > cases[0]


def test_after_a_single_visit_nothing_has_sunk():
    record = read_record(TWO_MINDS.read_text("utf-8"), today=date(2100, 1, 1))
    single = record.model_copy(update={"visits": record.visits[:1], "cases": []})
    report = analyse_with_drift(single)
    assert [(valve.sink.mean_mm, valve.sink.sd_mm) for valve in report.valves] == [(0.0, 0.0)] * 2


def test_no_visits_are_settled():
    engine, _ = random_engine(0)
    assert drifts(engine, ()).converged
    assert drifts(engine, (Visit("v", date(2020, 1, 1), 0.0),)).converged
