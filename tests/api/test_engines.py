import itertools
import json

import pytest
from hypothesis import HealthCheck, given, settings
from hypothesis import strategies as st

from pronostico.record.models import Record
from tests.builders import record_document, record_text

JSON = {"content-type": "application/json"}
COUNT = itertools.count()


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


def test_what_is_predicted_follows_what_is_measured(client):
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


def test_broken_json_is_reported_by_line_and_column(empty_client):
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


def test_the_crank_is_turned_by_the_method_asked_for(client):
    plan = client.get("/api/engines/resurfacer-1/crank").json()
    assert [station["valves"] for station in plan["stations"]] == [
        ["1I", "1E", "2I", "3E"],
        ["2E", "3I", "4I", "4E"],
    ]
    assert {one["cylinder"]: one["crank_deg"] for one in plan["firing"]} == {1: 0, 2: 540, 3: 180, 4: 360}
    one_by_one = client.get("/api/engines/resurfacer-1/crank?school=each-cylinder").json()
    assert len(one_by_one["stations"]) == 4
    assert client.get("/api/engines/resurfacer-1/crank?school=by-ear").status_code == 422


def test_an_engine_without_its_firing_order_is_reported_so_unless_its_manual_has_a_table(empty_client):
    document = record_document()
    document["engine"]["firing_order"] = None
    empty_client.post("/api/records", content=json.dumps(document), headers=JSON)
    refused = empty_client.get("/api/engines/mule/crank?school=two-turn")
    assert refused.status_code == 422
    assert "firing order is not entered" in refused.json()["detail"]
    # Without an order the engine is turned cylinder by cylinder: that needs none.
    by_cylinder = empty_client.get("/api/engines/mule/crank").json()
    assert by_cylinder["school"] == "each-cylinder"
    assert [one["crank_deg"] for one in by_cylinder["stations"]] == [None, None]
    document["engine"].update(id="with-table", stations=[{"crank_deg": 0, "mark": "T", "valves": ["1I"]}])
    empty_client.post("/api/records", content=json.dumps(document), headers=JSON)
    plan = empty_client.get("/api/engines/with-table/crank").json()
    assert (plan["school"], plan["firing"]) == ("manual", [])


def looked_at(client, document):
    answer = client.post("/api/records/preview", content=json.dumps(document), headers=JSON)
    assert answer.status_code == 200, answer.text
    return answer.json()


def test_a_record_is_previewed_before_anything_of_it_is_stored(empty_client):
    document = record_document()
    seen = looked_at(empty_client, document)
    assert (seen["state"], [one["id"] for one in seen["visits"]], seen["cases"]) == (
        "new",
        ["v1", "v2"],
        ["c1"],
    )
    assert empty_client.get("/api/engines").json() == []
    wrong = empty_client.post("/api/records/preview", content='{"version": 2}', headers=JSON)
    assert wrong.status_code == 422 and {"$.version", "$.format"} <= {
        one["path"] for one in wrong.json()["faults"]
    }


def test_what_is_new_in_a_record_is_added_to_the_engine_that_is_there(empty_client):
    document = record_document()
    empty_client.post("/api/records", content=json.dumps(document), headers=JSON)
    assert looked_at(empty_client, document)["state"] == "same"
    document["engine"]["name"] = "Another mule"
    between = {"id": "x1", "date": "2025-03-01", "usage": 150}
    document["visits"].insert(1, between)
    seen = looked_at(empty_client, document)
    assert (seen["state"], seen["data"], [one["id"] for one in seen["visits"]]) == (
        "changed",
        ["name"],
        ["x1"],
    )
    text = json.dumps(document)
    assert empty_client.post("/api/records", content=text, headers=JSON).status_code == 409
    taken = empty_client.post("/api/records?into_existing=true", content=text, headers=JSON)
    assert taken.status_code == 201 and taken.json()["engine"]["name"] == "Another mule"
    kept = empty_client.get("/api/engines/mule/record").json()
    assert [one["id"] for one in kept["visits"]] == ["v1", "x1", "v2"]


def test_a_visit_that_differs_refuses_the_whole_record(empty_client):
    document = record_document()
    empty_client.post("/api/records", content=json.dumps(document), headers=JSON)
    before = empty_client.get("/api/engines/mule/record").json()
    document["visits"][0]["notes"] = "another hand"
    document["visits"].append({"id": "v3", "date": "2025-12-01", "usage": 300})
    seen = looked_at(empty_client, document)
    assert seen["state"] == "refused" and "visit v1 differs" in seen["faults"][0]
    text = json.dumps(document)
    refused = empty_client.post("/api/records?into_existing=true", content=text, headers=JSON)
    assert refused.status_code == 422 and "visit v1 differs" in refused.text
    assert empty_client.get("/api/engines/mule/record").json() == before


felt = st.sampled_from(["no-go", "drag", "free", "go"])
tries = st.lists(
    st.fixed_dictionaries(
        {"blades_mm": st.lists(st.floats(0.02, 1.5), min_size=1, max_size=2), "felt": felt}
    ),
    min_size=1,
    max_size=4,
)
reading = st.fixed_dictionaries(
    {"valve": st.sampled_from(["1I", "1E", "2I", "2E"]), "phase": st.sampled_from(["found", "left"])},
    optional={"instrument": st.text("ab c", min_size=1, max_size=9), "crank_turn": st.integers(1, 4)},
)
visit = st.fixed_dictionaries(
    {"readings": st.lists(st.builds(lambda one, t: {**one, "tries": t}, reading, tries), max_size=5)},
    optional={
        "temperature_c": st.floats(-20, 90),
        "notes": st.text(max_size=30),
        "compression": st.lists(
            st.fixed_dictionaries({"cylinder": st.integers(1, 2), "dry_kpa": st.floats(0, 2000)}), max_size=2
        ),
        "leakdown": st.lists(
            st.fixed_dictionaries({"cylinder": st.integers(1, 2), "percent": st.floats(0, 100)}), max_size=2
        ),
    },
)


@given(visits=st.lists(visit, max_size=4), steps=st.lists(st.floats(0, 500), min_size=4, max_size=4))
@settings(max_examples=25, suppress_health_check=list(HealthCheck))
def test_a_record_that_went_out_and_comes_in_again_changes_nothing(empty_client, visits, steps):
    document = record_document()
    document["cases"] = []
    document["engine"]["id"] = f"e{next(COUNT)}"
    usage = [sum(steps[: n + 1]) for n in range(4)]
    document["visits"] = [
        {**one, "id": f"v{n}", "date": f"202{n}-01-01", "usage": usage[n]} for n, one in enumerate(visits)
    ]
    taken = empty_client.post("/api/records", content=json.dumps(document), headers=JSON)
    assert taken.status_code == 201, taken.text
    out = empty_client.get(f"/api/engines/{document['engine']['id']}/record").json()
    seen = looked_at(empty_client, out)
    assert (seen["state"], seen["data"], seen["visits"], seen["faults"]) == ("same", [], [], [])
    again = empty_client.post("/api/records?into_existing=true", content=json.dumps(out), headers=JSON)
    assert again.status_code == 201
    assert empty_client.get(f"/api/engines/{document['engine']['id']}/record").json() == out


def _identified(name: str, **identity: object) -> dict:
    document = record_document()
    document["engine"] |= {"id": name, "name": name.title(), **identity}
    return document


def test_an_engine_is_known_by_make_model_plate_and_number(client):
    whose = {
        "make": "Hollam",
        "model": "R4",
        "variant": "long stroke",
        "year": 2014,
        "displacement_cc": 1998.0,
        "plate": "fleet 12",
        "serial_number": "HR4-00471",
    }
    assert client.post("/api/records", json=_identified("loader", **whose)).status_code == 201
    words = "Hollam R4 long stroke, 2014, 1998 cc, plate fleet 12, serial number HR4-00471"
    assert client.get("/api/engines/loader").json()["identity"] == words
    listed = {one["id"]: one["identity"] for one in client.get("/api/engines").json()}
    assert listed["loader"] == words and None in listed.values()
    visit = client.get("/api/engines/loader/record").json()["visits"][0]["id"]
    assert client.get(f"/api/engines/loader/visits/{visit}/card").json()["identity"] == words
    assert client.get("/api/engines/loader/record").json()["engine"]["plate"] == "fleet 12"


@pytest.mark.parametrize(
    ("field", "value"), [("year", 18), ("displacement_cc", 0), ("make", "x" * 81), ("plate", 12)]
)
def test_an_identity_that_cannot_be_is_refused_with_its_place(client, field, value):
    refused = client.post("/api/records", json=_identified("loader", **{field: value}))
    assert refused.status_code == 422
    assert refused.json()["faults"][0]["path"] == f"$.engine.{field}"


def test_engines_of_one_make_and_model_are_of_one_kind_unless_another_is_named(client):
    for name, identity in (
        ("one", {"make": "Hollam", "model": "R4"}),
        ("two", {"make": "hollam", "model": " R4"}),
        ("three", {"make": "Hollam", "model": "R4", "kind": "rebuilt ones"}),
        ("four", {"make": "Hollam"}),
    ):
        assert client.post("/api/records", json=_identified(name, **identity)).status_code == 201
    sisters = client.get("/api/engines/one/sisters").json()
    assert sisters["kind"] == "Hollam R4"
    assert [one["id"] for one in sisters["sisters"]] == ["two"]
    kinds = client.get("/api/kinds").json()
    assert "Hollam R4" in kinds and "rebuilt ones" in kinds
    assert client.get("/api/engines/four/sisters").json()["kind"] is None
