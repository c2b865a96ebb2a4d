"""Records with anything anywhere: each is refused with its faults, or computed with; nothing falls over."""

import copy
import json
import random

import pytest

from pronostico.analysis.crank_plan import crank_stations
from pronostico.analysis.diagnosis import diagnose_record
from pronostico.analysis.engine_report import analyse_record
from pronostico.core.crank.stations import SCHOOLS
from pronostico.core.errors import CoreError
from pronostico.record.reading_in import NotARecord, read_record
from tests.builders import TODAY, record_document
from tests.record.test_models import FULL_ENGINE, FULL_VISIT

JUNK = [
    None,
    0,
    -1,
    1,
    2.5,
    1e-9,
    1e9,
    1e308,
    "",
    "x",
    "1E",
    "2024-01-01",
    True,
    [],
    {},
    [1],
    [None],
    {"a": 1},
]


def places(document, path=()):
    """Every place of a plain document, as the steps that lead there."""
    entries = document.items() if isinstance(document, dict) else enumerate(document)
    for step, value in entries:
        yield (*path, step)
        if isinstance(value, dict | list):
            yield from places(value, (*path, step))


def mutated(rng):
    document = record_document()
    document["engine"].update(copy.deepcopy(FULL_ENGINE))
    document["visits"][0].update(copy.deepcopy(FULL_VISIT))
    for _ in range(rng.choice([1, 1, 2, 4])):
        *steps, last = rng.choice(list(places(document)))
        parent = document
        for step in steps:
            parent = parent[step]
        way = rng.random()
        if way < 0.75:
            parent[last] = copy.deepcopy(rng.choice(JUNK))
        elif way < 0.9:
            del parent[last]
        elif isinstance(parent, list):
            parent.append(copy.deepcopy(parent[last]))
        else:
            parent["surprise"] = 1
    return document


@pytest.mark.parametrize("seed", range(12))
def test_nothing_falls_over(seed):
    rng = random.Random(seed)
    for _ in range(60):
        try:
            record = read_record(json.dumps(mutated(rng)), today=TODAY)
        except NotARecord as refusal:
            assert refusal.faults and all(fault.path.startswith("$") for fault in refusal.faults)
            continue
        for report in (analyse_record(record), diagnose_record(record)):
            # JSON has no figure that is not a number, so none may come out.
            assert "NaN" not in report.model_dump_json() and "Infinity" not in report.model_dump_json()
        for school in SCHOOLS:
            try:
                crank_stations(record.engine, school)
            except CoreError as refusal:
                assert str(refusal)
