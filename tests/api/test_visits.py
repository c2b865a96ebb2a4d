import json
from datetime import date, timedelta

import pytest

from pronostico.store import records
from tests.builders import record_document

VISIT = "/api/engines/resurfacer-1/visits/v8"
DRAG = {"valve": "4E", "phase": "found", "blades_mm": [0.20], "felt": "drag"}


def test_the_open_visit_has_every_valve_and_one_unread(client):
    visit = client.get(VISIT).json()
    unread = [valve["valve"] for valve in visit["valves"] if not valve["found"]["tries"]]
    assert unread == ["4E"]
    assert visit["temperature_c"] == 14.0


def test_an_answer_is_stored_and_assessed(client):
    answer = client.put(f"{VISIT}/tries/a1", json=DRAG)
    assert answer.status_code == 200
    assert answer.json()["found"]["estimate"]["verdict"] == "tight"
    valve = next(v for v in client.get(VISIT).json()["valves"] if v["valve"] == "4E")
    assert {**valve, "positions": answer.json()["positions"]} == answer.json()
    analysis = client.get("/api/engines/resurfacer-1/analysis").json()
    fourth = next(v for v in analysis["valves"] if v["valve"] == "4E")
    assert fourth["found"] == answer.json()["found"]["estimate"]


def test_an_answer_sent_twice_is_stored_once(client):
    first = client.put(f"{VISIT}/tries/a1", json=DRAG).json()
    assert client.put(f"{VISIT}/tries/a1", json=DRAG).json() == first
    assert len(first["found"]["tries"]) == 1


@pytest.mark.parametrize(
    "other", [{"felt": "free"}, {"valve": "1E"}, {"phase": "left"}, {"blades_mm": [0.25]}]
)
def test_an_identifier_stands_for_one_answer_only(client, other):
    client.put(f"{VISIT}/tries/a1", json=DRAG)
    assert client.put(f"{VISIT}/tries/a1", json={**DRAG, **other}).status_code == 409


def test_an_answer_taken_back_no_longer_counts_and_stays_back(client):
    client.put(f"{VISIT}/tries/a1", json=DRAG)
    client.put(f"{VISIT}/tries/a2", json={**DRAG, "blades_mm": [0.23], "felt": "no-go"})
    left = client.delete(f"{VISIT}/tries/a2").json()
    assert [one["id"] for one in left["found"]["tries"]] == ["a1"]
    # A late repeat of an answer that was taken back does not bring it back.
    again = client.put(f"{VISIT}/tries/a2", json={**DRAG, "blades_mm": [0.23], "felt": "no-go"}).json()
    assert [one["id"] for one in again["found"]["tries"]] == ["a1"]
    nothing = client.delete(f"{VISIT}/tries/a1").json()["found"]
    assert nothing["tries"] == [] and nothing["estimate"] is None
    record = client.get("/api/engines/resurfacer-1/record").json()
    assert all(reading["valve"] != "4E" for reading in record["visits"][-1]["readings"])


def test_found_and_left_are_kept_apart_and_stacks_are_kept(client):
    stacked = client.put(
        f"{VISIT}/tries/b1", json={**DRAG, "phase": "left", "blades_mm": [0.20, 0.08]}
    ).json()
    assert stacked["found"]["tries"] == []
    assert stacked["left"]["tries"][0]["blades_mm"] == [0.20, 0.08]


def test_an_unknown_valve_is_named(client):
    answer = client.put(f"{VISIT}/tries/a1", json={**DRAG, "valve": "9E"})
    assert answer.status_code == 422
    assert answer.headers["content-type"] == "application/problem+json"
    problem = answer.json()
    assert problem["type"] == "urn:pronostico:problem:unknown-valve"
    assert "'9E'" in problem["detail"] and "4E" in problem["detail"]


@pytest.mark.parametrize(
    ("change", "path"),
    [
        ({"felt": "stuck"}, "$.felt"),
        ({"phase": "before"}, "$.phase"),
        ({"blades_mm": []}, "$.blades_mm"),
        ({"blades_mm": [3.5]}, "$.blades_mm[0]"),
        ({"blades_mm": ["0.2"]}, "$.blades_mm[0]"),
        ({"blades_mm": [True]}, "$.blades_mm[0]"),
        ({"surprise": 1}, "$.surprise"),
    ],
)
def test_a_faulty_answer_is_reported_by_its_path(client, change, path):
    answer = client.put(f"{VISIT}/tries/a1", json={**DRAG, **change})
    assert answer.status_code == 422
    assert path in [fault["path"] for fault in answer.json()["faults"]]


def test_answers_to_what_is_not_there(client):
    assert client.put("/api/engines/resurfacer-1/visits/v99/tries/a1", json=DRAG).status_code == 404
    assert client.delete(f"{VISIT}/tries/never").status_code == 404


NEW = {"id": "v9", "date": date.today().isoformat(), "usage": 2170.5, "temperature_c": 12}


def test_a_visit_is_begun_once_and_is_then_the_last(client):
    first = client.post("/api/engines/resurfacer-1/visits", json=NEW)
    assert first.status_code == 201
    assert client.post("/api/engines/resurfacer-1/visits", json=NEW).json() == first.json()
    assert client.get("/api/workshop").json()["timelines"][0]["visits"][-1]["id"] == "v9"
    other = client.post("/api/engines/resurfacer-1/visits", json={**NEW, "usage": 2180})
    assert other.status_code == 409


@pytest.mark.parametrize(
    ("change", "path"),
    [
        ({"usage": 2000}, "$.usage"),
        ({"usage": -1}, "$.usage"),
        ({"date": (date.today() + timedelta(days=1)).isoformat()}, "$.date"),
        # In the past it may be, if it fits there.
        ({"date": (date.today() - timedelta(days=30)).isoformat()}, "$.usage"),
        ({"temperature_c": 999}, "$.temperature_c"),
        ({"id": "a b"}, "$.id"),
    ],
)
def test_a_visit_that_cannot_be_is_refused_by_field(client, change, path):
    answer = client.post("/api/engines/resurfacer-1/visits", json={**NEW, **change})
    assert answer.status_code == 422
    assert [fault["path"] for fault in answer.json()["faults"]] == [path]


def test_each_answer_brings_the_next_advice_until_it_is_settled(client):
    start = next(v for v in client.get(VISIT).json()["valves"] if v["valve"] == "4E")["found"]
    gap, offered, phase = 0.21, [], start
    while phase["advice"]["end"] is None:
        blades = phase["advice"]["blades_mm"]
        margin = gap - sum(blades)
        felt = "no-go" if margin < -0.003 else "drag" if margin < 0.015 else "free"
        offered.append(blades)
        body = {"valve": "4E", "phase": "found", "blades_mm": blades, "felt": felt}
        phase = client.put(f"{VISIT}/tries/n{len(offered)}", json=body).json()["found"]
    assert phase["advice"]["end"] == "settled"
    assert phase["estimate"]["verdict"] == "tight"
    assert len(offered) <= 4


def test_there_is_advice_even_where_the_past_leaves_no_uncertainty(client):
    visit = client.post("/api/engines/resurfacer-1/visits", json={**NEW, "usage": 2900}).json()
    for valve in visit["valves"]:
        # A verdict stands on this visit's tries alone, so there has to be a first one.
        assert valve["found"]["advice"]["blades_mm"] is not None, valve["valve"]


def test_without_a_set_or_a_spec_there_is_no_advice(empty_client):
    document = record_document()
    document["gauge_set"] = None
    headers = {"content-type": "application/json"}
    empty_client.post("/api/records", content=json.dumps(document), headers=headers)
    visit = empty_client.get("/api/engines/mule/visits/v2").json()
    assert all(valve["found"]["advice"] is None for valve in visit["valves"])


@pytest.mark.parametrize("address", ["", "/assessment", "/card", "/verification", "/setting"])
def test_a_page_of_a_visit_loads_the_record_once(client, monkeypatch, address):
    loaded = []
    load = records.load_record

    def counted(session, engine_id):
        loaded.append(engine_id)
        return load(session, engine_id)

    monkeypatch.setattr(records, "load_record", counted)
    assert client.get(f"/api/engines/resurfacer-1/visits/v7{address}").status_code == 200
    assert loaded == ["resurfacer-1"]
