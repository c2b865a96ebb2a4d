"""The Adjust step: the policies side by side, the choice, what was set, and what is asked about."""

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


def test_the_choice_is_kept_with_its_reason_and_another_is_reported(client):
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
    assert visit["adjustment_choice"]["reason"] == "they tighten here"


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
    assert by_valve(found)["2E"]["note"] == "adjusted, not re-measured: tightening the locknut moves it"
    assert "adjust" not in client.get(VISIT).json()["done"]
    for number, (blade, felt) in enumerate(((0.25, "drag"), (0.30, "no-go"))):
        body = {"valve": "2E", "phase": "left", "blades_mm": [blade], "felt": felt}
        assert client.put(f"{VISIT}/tries/l{number}", json=body).status_code == 200
    assert stop(client)["unmeasured"] == []
    assert "adjust" in client.get(VISIT).json()["done"]


def test_a_setting_sent_twice_is_noted_once_and_can_be_taken_back(client):
    note(client)
    assert len(note(client, target_mm=0.28).json()["settings"]) == 1
    assert len(note(client, "s2").json()["settings"]) == 2
    left = client.delete(f"{VISIT}/settings/s1").json()["settings"]
    assert [one["id"] for one in left] == ["s2"]
    assert client.delete(f"{VISIT}/settings/s1").status_code == 200
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
    assert "the as-found reading is lost" in unread.json()["faults"][0]["message"]
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


def test_a_visit_that_there_is_not_is_reported(client):
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


def lock(client, index, felt, blade=0.28, setting_id="s1", visit=VISIT):
    body = {"set_with_mm": [0.28], "blades_mm": [blade], "felt": felt}
    return client.put(f"{visit}/settings/{setting_id}/lock-ups/{index}", json=body)


def left_tries(client, valve, visit=VISIT):
    valves = client.get(visit).json()["valves"]
    left = next(one for one in valves if one["valve"] == valve)["left"]
    return [(one["blades_mm"], one["felt"]) for one in left["tries"]]


def test_a_tightening_that_moved_it_is_done_again_until_it_holds(client):
    note(client)
    moved = lock(client, 0, "no-go").json()
    # What the blade says after locking is how the valve was left: tight of the blade, so it is set anew.
    assert left_tries(client, "2E") == [([0.28], "no-go")] and moved["unmeasured"] == []
    assert by_valve(moved)["2E"]["touch"]
    # It moved by a little and is turned back by a little: about 0.03 of 0.75 mm per turn.
    assert -25 < by_valve(moved)["2E"]["turn_deg"] < -5
    assert by_valve(moved)["2E"]["set_with_mm"] == [0.28]
    held = lock(client, 1, "drag").json()
    assert left_tries(client, "2E") == [([0.28], "drag")]
    assert [one["felt"] for one in held["settings"][0]["lock_ups"]] == ["no-go", "drag"]
    # Sent again it changes nothing; another in its place is told.
    assert lock(client, 1, "drag").status_code == 200
    assert lock(client, 0, "free").status_code == 409
    assert lock(client, 5, "drag").status_code == 409
    assert lock(client, 0, "drag", setting_id="none").status_code == 404
    # Taken back, the one before it stands again.
    assert client.delete(f"{VISIT}/settings/s1/lock-ups/0").status_code == 409
    # Sent twice it takes back the one that was meant, not the one before it as well.
    for _ in range(2):
        assert client.delete(f"{VISIT}/settings/s1/lock-ups/1").status_code == 200
        assert left_tries(client, "2E") == [([0.28], "no-go")]
    client.delete(f"{VISIT}/settings/s1/lock-ups/0")
    assert left_tries(client, "2E") == []
    assert client.delete(f"{VISIT}/settings/none/lock-ups/0").status_code == 404


def test_what_locking_moves_is_learned_from_this_hand_and_allowed_for(client):
    before = by_valve(stop(client))["1E"]
    note(client)
    for index, felt in enumerate(["no-go", "no-go", "no-go", "drag"]):
        lock(client, index, felt)
    found = stop(client)
    assert found["plan"]["allowance_rests_on"] == {"lock_ups": 4, "technician": "J. K."}
    assert found["plan"]["locking_allowance_mm"] < -0.003
    # Locking closes it, so it is opened further before, and set with a thicker blade than it is tried with.
    assert by_valve(found)["1E"]["turn_deg"] < before["turn_deg"]
    assert sum(by_valve(found)["1E"]["set_with_mm"]) > sum(by_valve(found)["1E"]["check_with_mm"])
    # Another hand has to show for itself.
    client.patch(VISIT, json={"changes": {"technician": "M. S."}, "was": {"technician": "J. K."}})
    assert stop(client)["plan"]["allowance_rests_on"]["technician"] in (None, "M. S.")


def test_set_again_the_reading_of_before_tells_nothing_any_more(client):
    note(client)
    lock(client, 0, "drag")
    again = note(client, "s2", target_mm=0.28).json()
    assert again["unmeasured"] == ["2E"] and left_tries(client, "2E") == []


def test_a_target_outside_the_spec_is_kept_with_its_reason(client):
    odd = note(client, target_mm=0.32)
    assert "if intended, give the reason" in odd.json()["faults"][0]["message"]
    kept = note(client, "s1", "$.target_mm", target_mm=0.32, reason="bench figure before the head goes on")
    assert kept.json()["settings"][0]["reason"] == "bench figure before the head goes on"


SNOWMOBILE = "/api/engines/snowmobile/visits/v4"


def counts(client):
    return {one["shim_mm"]: one["count"] for one in client.get("/api/shim-box").json()}


def fit(client, setting_id, valve, shim_mm, *confirmed, **body):
    return note(
        client,
        setting_id,
        *confirmed,
        visit=SNOWMOBILE,
        valve=valve,
        target_mm=None,
        turn_deg=None,
        shim_to_mm=shim_mm,
        **body,
    )


def test_the_box_gives_the_new_shim_and_takes_the_old_one(client):
    assert counts(client)[1.60] == 1 and counts(client)[1.65] == 0
    done = fit(client, "a", "2Ia", 1.60, source="stock").json()["settings"][-1]
    # The shim that was in it was fitted two visits ago.
    assert (done["shim_from_mm"], done["source"]) == (1.65, "stock")
    assert counts(client)[1.60] == 0 and counts(client)[1.65] == 1
    client.delete(f"{SNOWMOBILE}/settings/a")
    assert counts(client)[1.60] == 1 and counts(client)[1.65] == 0


def test_the_last_shim_is_taken_once_and_the_second_hand_is_reported(client):
    assert fit(client, "a", "2Ia", 1.60, source="stock").status_code == 200
    second = fit(client, "b", "1Ia", 1.60, source="stock")
    assert second.status_code == 409
    assert "no shim of 1.6 mm left" in second.json()["faults"][0]["message"]
    assert counts(client)[1.60] == 0
    assert [one["valve"] for one in stop(client, SNOWMOBILE)["settings"]] == ["2Ia"]


def test_a_shim_that_is_not_in_the_box_is_asked_about(client):
    odd = fit(client, "a", "2Ib", 1.75)
    assert "the box has no shim of 1.75 mm; was it bought" in odd.json()["faults"][0]["message"]
    bought = fit(client, "a", "2Ib", 1.75, "$.shim_to_mm").json()
    assert bought["settings"][-1]["source"] == "order"
    # Bought for this valve it never was in the box; what came out of the valve is.
    assert 1.75 not in counts(client) and counts(client)[1.80] == 4


def test_a_shim_that_moves_on_to_another_valve_never_passes_the_box(client):
    before = counts(client)
    planned = by_valve(stop(client, SNOWMOBILE))
    assert planned["3Ia"]["shim"]["source"] == "moved from 3Ib"
    fit(client, "a", "3Ia", 1.75, source="moved", moved_from="3Ib")
    # Its own shim is free; that of 3Ib is not there to be planned with any more.
    assert counts(client)[1.80] == before[1.80] + 1
    left = by_valve(stop(client, SNOWMOBILE))
    assert all((one["shim"] or {}).get("source") != "moved from 3Ib" for one in left.values())
    assert left["3Ib"]["shim"]["source"] != "kept"
    fit(client, "b", "3Ib", 1.70, source="stock")
    assert counts(client)[1.70] == before[1.70] - 1
    assert counts(client).get(1.75) == before.get(1.75)
    assert fit(client, "c", "1Ia", 1.70, source="moved", moved_from="9X").status_code == 422


def test_a_worn_shim_counts_by_what_it_measures(client):
    def see(was, **seen):
        return client.put(f"{SNOWMOBILE}/valves/2Ia/shim", json={"seen": seen, "was": was})

    found = see({}, printed_mm=1.65, measured_mm=1.62).json()
    assert found["shims_seen"]["2Ia"] == {"printed_mm": 1.65, "measured_mm": 1.62}
    assert by_valve(found)["2Ia"]["shim_now_mm"] == 1.62
    assert see({}, printed_mm=1.70, measured_mm=None).status_code == 409
    back = see({"printed_mm": 1.65, "measured_mm": 1.62}).json()
    assert back["shims_seen"] == {} and by_valve(back)["2Ia"]["shim_now_mm"] == 1.65


def test_what_does_not_hold_after_fitting_goes_a_second_round(client):
    fit(client, "a", "2Ia", 1.60, source="stock")
    waiting = by_valve(stop(client, SNOWMOBILE))["2Ia"]
    assert not waiting["touch"] and "not re-measured" in waiting["note"]
    for blade, felt in ((0.08, "drag"), (0.10, "no-go")):
        body = {"valve": "2Ia", "phase": "left", "blades_mm": [blade], "felt": felt}
        client.put(f"{SNOWMOBILE}/tries/t{blade}", json=body)
    again = by_valve(stop(client, SNOWMOBILE))["2Ia"]
    assert again["touch"] and again["shim_now_mm"] == 1.60 and again["shim"]["shim_mm"] < 1.60


def test_the_box_is_counted_by_hand_and_a_stale_count_is_reported(client):
    def put(count, was, shim_mm=1.60):
        body = {"shim_mm": shim_mm, "diameter_mm": 8.9, "count": count, "was": was}
        return client.put("/api/shim-box", json=body)

    assert put(4, 1).status_code == 200 and counts(client)[1.60] == 4
    assert "has been changed to 4" in put(2, 1).json()["faults"][0]["message"]
    assert put(3, None, shim_mm=2.20).status_code == 200
    assert put(None, 3, shim_mm=2.20).status_code == 200 and 2.20 not in counts(client)
    assert put(-1, 4).status_code == 422
    # The record of an engine carries the shims that fit it, and no other record does.
    boxed = client.get("/api/engines/snowmobile/record").json()["shim_box"]
    assert {"shim_mm": 1.60, "count": 4, "diameter_mm": 8.9} in boxed
    assert "shim_box" not in client.get("/api/engines/resurfacer-1/record").json()


def test_preload_is_noted_without_a_reading_and_nothing_is_left_to_measure(client):
    visit = "/api/engines/standby-drive/visits/v2"
    body = {"valve": "1E", "target_mm": None, "turn_deg": 270.0}
    done = note(client, visit=visit, **body)
    assert done.status_code == 200 and done.json()["unmeasured"] == []
    # The record says what was done: a preload from zero lash.
    record = client.get("/api/engines/standby-drive/record").json()["visits"][-1]
    assert record["settings"][-1]["preload_turns"] == 0.75
    assert "adjust" not in client.get(visit).json()["done"]
    for valve in client.get(visit).json()["valves"][0:]:
        if valve["valve"] != "1E":
            note(client, f"s-{valve['valve']}", visit=visit, **{**body, "valve": valve["valve"]})
    assert "adjust" in client.get(visit).json()["done"]
    card = client.get(f"{visit}/card").json()
    assert card["work_done"] == "set: 16 preloads" and card["unread"] == []
    assert card["preload"]["plunger_travel_mm"] is not None


def test_valves_on_one_rocker_are_set_together(client):
    document = record_document()
    for valve in document["engine"]["valves"]:
        others = [one["id"] for one in document["engine"]["valves"] if one["id"] != valve["id"]]
        valve["shares_rocker_with"] = others[:1]
    first, second = (one["id"] for one in document["engine"]["valves"][:2])
    spec = {"min_mm": 0.15, "max_mm": 0.20}
    document["engine"]["spec"] = {"intake": spec, "exhaust": spec}
    document["visits"] = [
        {
            "id": "v1",
            "date": "2025-01-10",
            "usage": 100,
            "temperature_c": 20,
            "readings": [
                {
                    "valve": valve,
                    "phase": "found",
                    "tries": [
                        {"blades_mm": [blade], "felt": "drag"},
                        {"blades_mm": [blade + 0.02], "felt": "no-go"},
                    ],
                }
                for valve, blade in ((first, 0.10), (second, 0.17))
            ],
        }
    ]
    document["cases"] = []
    assert client.post("/api/records", content=json.dumps(document)).status_code == 201
    planned = by_valve(stop(client, "/api/engines/mule/visits/v1"))
    assert planned[first]["touch"] and planned[second]["touch"]
    assert second in planned[first]["together_with"]
