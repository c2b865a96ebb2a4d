"""The Set stop: the policies side by side, the choice, what was set, and what is asked about."""

import json

import pytest

from tests.builders import record_document

VISIT = "/api/engines/resurfacer-1/visits/v8"


def stop(client, visit=VISIT):
    return client.get(f"{visit}/setting").json()


def by_valve(found):
    return {one["valve"]: one for one in found["plan"]["valves"]}


def note(client, setting_id="s1", *confirmed, visit=VISIT, **body):
    sent = {"valve": "2E", "target_mm": 0.275, "turn_deg": -31.6, **body, "confirmed": list(confirmed)}
    return client.put(f"{visit}/settings/{setting_id}", json=sent)


def test_the_policies_stand_side_by_side_with_how_long_they_last(client):
    found = stop(client)
    policies = {one["policy"]: one for one in found["policies"]}
    assert list(policies) == ["middle", "lean-loose", "figure", "drift-aware"]
    assert policies["middle"]["targets_mm"]["1E"] == pytest.approx(0.275)
    assert policies["lean-loose"]["targets_mm"]["1E"] > 0.275
    # What aims by the drift lasts longest of all.
    longest = max(one["intervals"] for one in policies.values())
    assert policies["drift-aware"]["intervals"] == longest
    assert found["choice"] == {"policy": "middle", "which": "only-out", "reason": ""}


def test_the_choice_is_kept_with_its_reason_and_another_is_told(client):
    was = stop(client)["choice"]
    choice = {"policy": "lean-loose", "which": "all", "reason": "they tighten here"}
    answer = client.put(f"{VISIT}/setting", json={"choice": choice, "was": was})
    assert answer.json()["choice"] == choice
    assert by_valve(answer.json())["2E"]["target_mm"] == pytest.approx(0.25 + 2 / 3 * 0.05)
    late = client.put(f"{VISIT}/setting", json={"choice": {**choice, "policy": "middle"}, "was": was})
    assert late.status_code == 409
    assert "lean-loose, all" in late.json()["faults"][0]["message"]
    assert client.put(f"{VISIT}/setting", json={"choice": choice, "was": was}).status_code == 200
    # It travels with the record.
    visit = client.get("/api/engines/resurfacer-1/record").json()["visits"][-1]
    assert visit["entered"]["setting"]["reason"] == "they tighten here"


def test_what_was_decided_at_judge_goes_before_the_choice(client):
    before = by_valve(stop(client))
    assert before["2E"]["touch"] is True
    for valve, decision in (("2E", "leave"), ("2I", "set")):
        body = {"decided": {"decision": decision, "reason": ""}, "was": None}
        client.put(f"{VISIT}/valves/{valve}/decision", json=body)
    after = by_valve(stop(client))
    assert after["2E"]["touch"] is False and after["2I"]["touch"] is True
    assert after["1E"]["touch"] == before["1E"]["touch"]


def test_a_valve_that_was_set_is_marked_until_it_is_measured_as_left(client):
    found = note(client).json()
    assert [(one["id"], one["valve"], one["target_mm"]) for one in found["settings"]] == [("s1", "2E", 0.275)]
    assert found["unmeasured"] == ["2E"]
    assert by_valve(found)["2E"]["note"] == "set, and not measured again: locking moves it"
    assert "set" not in client.get(VISIT).json()["done"]
    for number, (blade, felt) in enumerate(((0.25, "drag"), (0.30, "no-go"))):
        body = {"valve": "2E", "phase": "left", "blades_mm": [blade], "felt": felt}
        assert client.put(f"{VISIT}/tries/l{number}", json=body).status_code == 200
    assert stop(client)["unmeasured"] == []
    assert "set" in client.get(VISIT).json()["done"]


def test_a_setting_sent_twice_is_noted_once_and_can_be_taken_back(client):
    note(client)
    assert len(note(client, target_mm=0.28).json()["settings"]) == 1
    assert len(note(client, "s2").json()["settings"]) == 2
    left = client.delete(f"{VISIT}/settings/s1").json()["settings"]
    assert [one["id"] for one in left] == ["s2"]
    assert client.delete(f"{VISIT}/settings/s1").status_code == 404
    record = client.get("/api/engines/resurfacer-1/record").json()
    assert [one["valve"] for one in record["visits"][-1]["settings"]] == ["2E"]


def test_a_target_outside_the_spec_and_a_valve_that_was_not_read_are_asked_about(client):
    outside = note(client, target_mm=0.35)
    assert outside.status_code == 422 and outside.json()["type"].endswith(":asked")
    (fault,) = outside.json()["faults"]
    assert fault["path"] == "$.target_mm" and "outside the spec of 0.25 to 0.3 mm" in fault["message"]
    assert fault["suggestion"] == pytest.approx(0.275)
    assert note(client, "s1", "$.target_mm", target_mm=0.35).status_code == 200
    unread = note(client, "s2", valve="4E")
    assert "the figure before is lost for good" in unread.json()["faults"][0]["message"]
    assert note(client, "s2", "$.valve", valve="4E").status_code == 200


def test_the_spec_that_holds_on_the_day_is_the_one_that_is_asked_about(client):
    detail = client.get("/api/engines/resurfacer-1").json()
    engine, revision = detail["engine"], detail["revision"]
    wider = {"intake": engine["spec"]["intake"], "exhaust": {"min_mm": 0.25, "max_mm": 0.40}}
    engine["spec_changes"] = [{"date": "2020-01-01", "spec": wider}]
    body = {"engine": engine, "revision": revision}
    assert client.put("/api/engines/resurfacer-1", json=body).status_code == 200
    assert note(client, target_mm=0.35).status_code == 200
    assert "spec of 0.25 to 0.4 mm" in note(client, "s2", target_mm=0.45).json()["faults"][0]["message"]


@pytest.mark.parametrize(
    ("body", "status"),
    [({"valve": "9E"}, 422), ({"target_mm": -1}, 422), ({"target_mm": "0.2"}, 422), ({"target": 1}, 422)],
)
def test_what_cannot_be_is_refused(client, body, status):
    assert note(client, **body).status_code == status
    assert stop(client)["settings"] == []


def test_a_visit_that_there_is_not_is_told(client):
    assert client.get("/api/engines/resurfacer-1/visits/v99/setting").status_code == 404
    assert note(client, visit="/api/engines/none/visits/v8").status_code == 404


def test_shims_are_planned_from_the_box_and_one_outside_the_series_is_asked_about(client):
    document = record_document()
    document["engine"].update(
        adjustment="shim-under-bucket", shim_series={"from_mm": 2.0, "to_mm": 3.0, "step_mm": 0.05}
    )
    for valve in document["engine"]["valves"]:
        valve["shim_mm"] = 2.5
    tries = [{"blades_mm": [0.15], "felt": "drag"}, {"blades_mm": [0.20], "felt": "no-go"}]
    document["visits"] = [
        {
            "id": "v1",
            "date": "2025-01-10",
            "usage": 100,
            "temperature_c": 20,
            "readings": [{"valve": "1E", "phase": "found", "tries": tries}],
        }
    ]
    document["cases"], document["shim_box"] = [], [{"shim_mm": 2.40, "count": 1}]
    assert client.post("/api/records", content=json.dumps(document)).status_code == 201
    visit = "/api/engines/mule/visits/v1"
    found = stop(client, visit)
    assert found["plan"]["shims"]["fit"] == [{"valve": "1E", "shim_mm": 2.4, "source": "stock"}]
    assert found["plan"]["camshafts_out"] == ["exhaust"]
    body = {"valve": "1E", "shim_to_mm": 4.0, "target_mm": None, "turn_deg": None}
    odd = note(client, visit=visit, **body)
    assert "outside the series of 2 to 3 mm" in odd.json()["faults"][0]["message"]
    fitted = note(client, visit=visit, **{**body, "shim_to_mm": 2.4}).json()
    assert fitted["settings"][0]["shim_to_mm"] == 2.4 and fitted["unmeasured"] == ["1E"]
