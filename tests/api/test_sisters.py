"""Engines of one kind in a workshop: what they make expected of each other, and what is computed anew."""

import json

import numpy as np
import pytest
from benchmarks.forecast_study import record_of
from benchmarks.truth import engine_with_drifts
from fastapi.testclient import TestClient

from pronostico.services.engines import results
from pronostico.services.engines.background import compute_stale
from pronostico.services.engines.load import engine_record
from pronostico.store.database import Database
from pronostico.store.results import stale_engines

JSON = {"Content-Type": "application/json"}
KIND = "Stationary pump, two valves"
DRIFTS = (-0.02, -0.021, -0.019, -0.02)


def sister(number, visits=5, **of_engine):
    """A record of an engine whose exhausts close at about the rate of the others of its kind."""
    made = engine_with_drifts(np.random.default_rng(number), {"intake": 0.0, "exhaust": DRIFTS[number]})
    document = json.loads(record_of(made, visits).model_dump_json(exclude_none=True))
    document["engine"].update({"id": f"pump-{number}", "name": f"Pump {number}", "kind": KIND, **of_engine})
    return document


@pytest.fixture
def workshop(empty_client: TestClient):
    """Three sisters and one of another kind, all computed."""
    for number, kind in enumerate((KIND, " stationary  PUMP, two valves ", KIND, "another kind")):
        put(empty_client, sister(number, kind=kind))
    compute(empty_client)
    return empty_client


def put(client, document):
    assert client.post("/api/records", content=json.dumps(document), headers=JSON).status_code == 201


def database_of(client) -> Database:
    return client.app.state.database


def compute(client):
    """Compute all that is stale; how many results that took."""
    done = compute_stale(database_of(client), processes=1)
    assert not done.failed
    return done.total


def exhaust(told):
    return next(one for one in told["expected"] if one["side"] == "exhaust")


def test_engines_of_one_kind_say_what_to_expect_of_each_other(workshop):
    told = workshop.get("/api/engines/pump-0/sisters").json()
    assert [(one["name"], one["counts"]) for one in told["sisters"]] == [("Pump 1", True), ("Pump 2", True)]
    assert exhaust(told)["sisters"] == 2
    assert exhaust(told)["mean_mm_per_interval"] == pytest.approx(-0.02, abs=0.006)
    assert told["sisters"][0]["sides"]["exhaust"]["mean_mm"] == pytest.approx(-0.021, abs=0.01)
    assert workshop.get("/api/kinds").json() == ["another kind", KIND]
    alone = workshop.get("/api/engines/pump-3/sisters").json()
    assert alone["sisters"] == alone["expected"] == []


def test_what_sisters_do_enters_the_forecasts_of_the_pages(workshop):
    def drift_of_first_exhaust():
        valves = workshop.get("/api/engines/pump-0/drift").json()["valves"]
        return next(one["drift"] for one in valves if one["valve"] == "1E")

    pooled = drift_of_first_exhaust()
    told = workshop.put("/api/engines/pump-0/left-out", json={"left_out": True}).json()
    assert told["left_out"] and told["expected"] == []
    alone = drift_of_first_exhaust()
    assert pooled["sd_mm_per_interval"] < alone["sd_mm_per_interval"]
    assert "left out" in json.dumps(workshop.get("/api/engines/pump-1/sisters").json())
    back = workshop.put("/api/engines/pump-0/left-out", json={"left_out": False}).json()
    assert exhaust(back)["sisters"] == 2
    assert drift_of_first_exhaust() == pooled


def test_a_result_of_the_pages_is_that_of_the_record_with_its_sisters(workshop):
    with database_of(workshop).reading() as session:
        record = engine_record(session, "pump-0")
        assert {side for side, _ in record.engine.side_priors} == {"intake", "exhaust"}
        settings = results.workshop_settings(session)
    assert results.compute_result(record, settings).report == workshop.get("/api/engines/pump-0/drift").text
    # What sisters make expected is no part of what an engine's own record says, nor of what goes out.
    assert "side_priors" not in workshop.get("/api/engines/pump-0/record").text


def test_only_those_are_computed_again_whose_sisters_say_something_else(workshop):
    assert compute(workshop) == 0
    # One that says the same as all others moves nobody by more than the rounding.
    put(workshop, sister(3, visits=1, id="pump-4"))
    assert compute(workshop) == 1
    told = workshop.get("/api/engines/pump-0/sisters").json()
    assert len(told["sisters"]) == 3
    # One that does something else altogether moves all of the kind, and nobody of another.
    made = engine_with_drifts(np.random.default_rng(9), {"intake": 0.03, "exhaust": 0.04})
    document = json.loads(record_of(made, 6).model_dump_json(exclude_none=True))
    document["engine"].update(id="odd", name="Odd", kind=KIND)
    put(workshop, document)
    assert compute(workshop) == 1 + 4
    odd = workshop.get("/api/engines/odd/sisters").json()
    assert exhaust(odd)["differs"] and exhaust(odd)["p_differs"] > 0.5
    assert compute(workshop) == 0


def test_another_kind_takes_an_engine_from_the_one_and_gives_it_to_the_other(workshop):
    detail = workshop.get("/api/engines/pump-2").json()
    engine = {**detail["engine"], "kind": "another kind"}
    body = {"engine": engine, "revision": detail["revision"], "confirmed": []}
    assert workshop.put("/api/engines/pump-2", json=body).status_code == 200
    with database_of(workshop).reading() as session:
        stale = {name for name, _ in stale_engines(session, results.model_digest(results.WorkshopSettings()))}
    assert stale >= {"pump-2", "pump-3"}
    compute(workshop)
    of_each = {
        name: [one["id"] for one in workshop.get(f"/api/engines/{name}/sisters").json()["sisters"]]
        for name in ("pump-0", "pump-3")
    }
    assert of_each == {"pump-0": ["pump-1"], "pump-3": ["pump-2"]}


def test_a_sister_that_counts_otherwise_or_was_never_measured_is_named_but_does_not_count(workshop):
    put(workshop, sister(3, id="in-km", usage_unit="km"))
    put(workshop, {**sister(3, id="new"), "visits": []})
    compute(workshop)
    told = workshop.get("/api/engines/pump-0/sisters").json()
    why = {one["id"]: one["why_not"] for one in told["sisters"]}
    assert why == {
        "pump-1": None,
        "pump-2": None,
        "in-km": "counts in km",
        "new": "not measured yet",
    }
    assert exhaust(told)["sisters"] == 2
    # The new one is told what to expect before it was ever opened.
    assert exhaust(workshop.get("/api/engines/new/sisters").json())["sisters"] == 3


def test_sisters_with_another_check_interval_are_converted(empty_client):
    put(empty_client, sister(0))
    put(empty_client, sister(1, check_interval=sister(1)["engine"]["check_interval"] / 2.0))
    compute(empty_client)
    one, two = (empty_client.get(f"/api/engines/pump-{n}/sisters").json() for n in (0, 1))
    # What is a drift of 0.02 mm in an interval is one of 0.01 mm in half of it.
    assert two["sisters"][0]["sides"]["exhaust"]["mean_mm"] == pytest.approx(-0.01, abs=0.004)
    assert one["sisters"][0]["sides"]["exhaust"]["mean_mm"] == pytest.approx(-0.021, abs=0.008)


def test_an_unknown_engine_has_no_sisters(empty_client):
    assert empty_client.get("/api/engines/nobody/sisters").status_code == 404
    assert empty_client.put("/api/engines/nobody/left-out", json={"left_out": True}).status_code == 404


def test_a_kind_that_is_too_long_is_refused_with_its_own_limit(workshop):
    detail = workshop.get("/api/engines/pump-0").json()
    body = {
        "engine": {**detail["engine"], "kind": "x" * 201},
        "revision": detail["revision"],
        "confirmed": [],
    }
    answer = workshop.put("/api/engines/pump-0", json=body)
    assert answer.status_code == 422
    (fault,) = answer.json()["faults"]
    assert fault["path"] == "$.engine.kind" and "at most 200 characters" in fault["message"]
