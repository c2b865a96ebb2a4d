"""The workshop's sets of blades, and the one available at a visit."""

import json

from tests.builders import record_document

VISIT = "/api/engines/resurfacer-1/visits/v8"


def test_a_whole_set_is_entered_in_one_line_and_kept_as_it_was_typed(client):
    said = {"name": "Coarse", "text": "0.05 to 0.30 by 0.05, 0.40", "unit": "mm"}
    kept = client.put("/api/blade-sets/coarse", json=said).json()
    assert kept["blades_mm"] == [0.05, 0.10, 0.15, 0.20, 0.25, 0.30, 0.40]
    assert (kept["text"], kept["unit"]) == (said["text"], "mm")
    assert [one["name"] for one in client.get("/api/blade-sets").json()] == [
        "Bench set, metric",
        "Coarse",
        "Inch set, in thou",
        "Long set, metric",
    ]


def test_the_set_in_use_is_chosen_at_the_visit_and_advice_keeps_to_it(client):
    client.put("/api/blade-sets/thou", json={"name": "Inch", "text": "2 to 16 by 1", "unit": "thou"})
    visit = client.put(f"{VISIT}/blade-set", json={"blade_set": "thou"}).json()
    assert (visit["blade_set"]["name"], visit["blade_set"]["unit"]) == ("Inch", "thou")
    advice = visit["valves"][7]["found"]["advice"]["blades_mm"]
    assert all(any(abs(blade - 0.0254 * n) < 1e-4 for n in range(2, 17)) for blade in advice)
    # The record carries it, and a later change of the workshop's set leaves the visit's alone.
    assert client.get("/api/engines/resurfacer-1/record").json()["gauge_set"]["name"] == "Inch"
    client.put("/api/blade-sets/thou", json={"name": "Inch", "text": "2", "unit": "thou"})
    assert len(client.get(VISIT).json()["blade_set"]["blades_mm"]) == 15


def test_gaps_against_the_engines_spec_and_what_fills_them(client):
    client.put("/api/blade-sets/c", json={"name": "Coarse", "text": "0.03 0.10 0.15 0.20 0.25", "unit": "mm"})
    sets = client.get("/api/blade-sets?engine=resurfacer-1").json()
    coarse = next(one for one in sets if one["id"] == "c")
    intake, exhaust = coarse["gaps"]
    assert intake["valves"] == ["1I", "2I", "3I", "4I"]
    assert {(gap["from_mm"], gap["to_mm"]) for gap in intake["gaps"]} >= {(0.15, 0.20)}
    assert [0.03, 0.15] in [stack for gap in exhaust["gaps"] + intake["gaps"] for stack in gap["stacks"]]
    assert client.get("/api/blade-sets?engine=none").status_code == 404


def test_a_set_put_away_is_gone_from_the_list_and_not_from_its_visits(client):
    known, *others = client.get("/api/blade-sets").json()
    client.put(f"{VISIT}/blade-set", json={"blade_set": known["id"]})
    assert client.delete(f"/api/blade-sets/{known['id']}").status_code == 204
    assert client.get("/api/blade-sets").json() == others
    assert client.get(VISIT).json()["blade_set"]["name"] == known["name"]
    assert client.delete("/api/blade-sets/never").status_code == 404


def test_what_is_no_blade_is_reported(client):
    answer = client.put("/api/blade-sets/x", json={"name": "X", "text": "5 thick", "unit": "mm"})
    assert answer.status_code == 422
    assert (
        answer.json()["faults"][0]["path"] == "$.text" and "'thick'" in answer.json()["faults"][0]["message"]
    )
    assert client.put(f"{VISIT}/blade-set", json={"blade_set": "x"}).status_code == 404
    assert client.put("/api/engines/no/visits/v8/blade-set", json={"blade_set": "x"}).status_code == 404


def test_the_blades_of_a_record_that_is_brought_in_are_shelved_once(empty_client):
    headers = {"content-type": "application/json"}
    for engine_id in ("a", "b"):
        document = record_document()
        document["engine"]["id"] = engine_id
        empty_client.post("/api/records", content=json.dumps(document), headers=headers)
    assert [one["name"] for one in empty_client.get("/api/blade-sets").json()] == ["A set"]
