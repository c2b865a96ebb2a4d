import json

import pytest

from pronostico.record.models import Record
from tests.builders import record_document, record_text

JSON = {"content-type": "application/json"}


def test_the_story_of_the_first_machine_is_in_its_figures(client):
    analysis = client.get("/api/engines/resurfacer-1/analysis").json()
    third = next(v for v in analysis["valves"] if v["valve"] == "3E")
    assert third["found"]["bracket"] == {"went_mm": None, "refused_mm": 0.04}
    # The readings come at once; what the drift model says of them is asked for apart.
    assert third["drift"] is None and third["break"] is None and analysis["next_check"] is None
    drifting = client.get("/api/engines/resurfacer-1/drift").json()
    sunk = {v["valve"]: v["sink"]["mean_mm"] for v in drifting["valves"]}
    assert min(sunk[f"{n}E"] for n in (1, 2, 3, 4)) > 0.1
    assert max(abs(sunk[f"{n}I"]) for n in (1, 2, 3, 4)) < 0.06
    third = next(v for v in drifting["valves"] if v["valve"] == "3E")
    assert third["drift"]["trend"] == "tightening" and third["break"]["visit"] == "v8"
    assert drifting["next_check"]["limiting_valve"] == "3E"


def test_what_is_foretold_follows_what_is_measured(client):
    visit = "/api/engines/resurfacer-1/visits/v8"

    def now():
        valves = client.get("/api/engines/resurfacer-1/drift").json()["valves"]
        return next(v for v in valves if v["valve"] == "4E")["now"]

    before = now()
    body = {"valve": "4E", "phase": "found", "blades_mm": [0.10], "felt": "drag"}
    assert client.put(f"{visit}/tries/t1", json=body).status_code == 200
    assert now()["mean_mm"] < before["mean_mm"] - 0.01


def test_the_second_machine_is_steady_and_has_the_marks_of_real_notes(client):
    analysis = client.get("/api/engines/resurfacer-2/drift").json()
    for valve in analysis["valves"]:
        assert abs(valve["sink"]["mean_mm"]) < 0.05
    states = [state for valve in analysis["valves"] for state in valve["history"]]
    assert any(state["found"] is None for state in states)
    assert any(state["found"] and state["found"]["contradiction"] for state in states)


def test_a_record_goes_in_and_comes_out_the_same(empty_client):
    answer = empty_client.post("/api/records", content=record_text(), headers=JSON)
    assert answer.status_code == 201
    kept = empty_client.get("/api/engines/mule/record")
    assert "mule.record.json" in kept.headers["content-disposition"]
    assert Record.model_validate_json(kept.text) == Record.model_validate_json(record_text())


def test_a_faulty_record_is_refused_with_every_fault(empty_client):
    document = record_document()
    document["visits"][1]["usage"] = 1
    document["visits"][1]["readings"][0]["valve"] = "9X"
    answer = empty_client.post("/api/records", content=json.dumps(document), headers=JSON)
    assert answer.status_code == 422
    assert answer.headers["content-type"] == "application/problem+json"
    assert {fault["path"] for fault in answer.json()["faults"]} == {
        "$.visits[1].usage",
        "$.visits[1].readings[0].valve",
    }
    assert empty_client.get("/api/engines").json() == []


def test_broken_json_is_told_by_line_and_column(empty_client):
    answer = empty_client.post("/api/records", content='{\n  "version": 1,,\n}', headers=JSON)
    assert answer.status_code == 422
    assert "line 2, column 16" in answer.json()["faults"][0]["message"]


def test_a_second_engine_of_the_same_id_does_not_take_the_firsts_place(empty_client):
    assert empty_client.post("/api/records", content=record_text(), headers=JSON).status_code == 201
    again = empty_client.post("/api/records", content=record_text(), headers=JSON)
    assert again.status_code == 409
    assert "'mule'" in again.json()["detail"]


@pytest.mark.parametrize("path", ["/api/engines/nope", "/api/engines/nope/analysis", "/api/nothing"])
def test_what_is_not_there_is_a_problem(client, path):
    answer = client.get(path)
    assert answer.status_code == 404
    assert answer.headers["content-type"] == "application/problem+json"


def test_an_engine_with_letters_that_headers_cannot_hold_is_given_out(empty_client):
    document = record_document()
    document["engine"]["id"] = 'Früh "Ω"'
    empty_client.post("/api/records", content=json.dumps(document), headers=JSON)
    kept = empty_client.get('/api/engines/Früh "Ω"/record')
    assert kept.status_code == 200
    assert "filename*=UTF-8''Fr%C3%BCh" in kept.headers["content-disposition"]


def test_the_crank_is_turned_by_the_school_asked_for(client):
    plan = client.get("/api/engines/resurfacer-1/crank").json()
    assert [station["valves"] for station in plan["stations"]] == [
        ["1I", "1E", "2I", "3E"],
        ["2E", "3I", "4I", "4E"],
    ]
    assert {one["cylinder"]: one["crank_deg"] for one in plan["firing"]} == {1: 0, 2: 540, 3: 180, 4: 360}
    one_by_one = client.get("/api/engines/resurfacer-1/crank?school=each-cylinder").json()
    assert len(one_by_one["stations"]) == 4
    assert client.get("/api/engines/resurfacer-1/crank?school=by-ear").status_code == 422


def test_an_engine_without_its_firing_order_is_told_so_unless_its_manual_has_a_table(empty_client):
    document = record_document()
    document["engine"]["firing_order"] = None
    empty_client.post("/api/records", content=json.dumps(document), headers=JSON)
    refused = empty_client.get("/api/engines/mule/crank")
    assert refused.status_code == 422
    assert "firing order is not noted" in refused.json()["detail"]
    document["engine"].update(id="with-table", stations=[{"crank_deg": 0, "mark": "T", "valves": ["1I"]}])
    empty_client.post("/api/records", content=json.dumps(document), headers=JSON)
    plan = empty_client.get("/api/engines/with-table/crank").json()
    assert (plan["school"], plan["firing"]) == ("manual", [])
