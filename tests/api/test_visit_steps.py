"""Listen, Prepare, Look in, Measure again, Judge, and typing in a sheet: stop by stop."""

from datetime import date, timedelta

import pytest

ENGINE = "/api/engines/resurfacer-1"
VISIT = f"{ENGINE}/visits/v8"
NEW = {"id": "v9", "date": date.today().isoformat(), "usage": 2170.5, "temperature_c": 12}


def faults(answer):
    return {fault["path"]: fault["message"] for fault in answer.json()["faults"]}


def patch(client, changes, was=None, *confirmed, visit=VISIT):
    return client.patch(visit, json={"changes": changes, "was": was or {}, "confirmed": list(confirmed)})


# Prepare


def test_a_fahrenheit_figure_is_asked_about_at_the_start_and_later(client):
    asked = client.post(f"{ENGINE}/visits", json={**NEW, "temperature_c": 55})
    assert asked.status_code == 422 and asked.json()["type"].endswith(":asked")
    assert asked.json()["faults"][0]["suggestion"] == 12.8
    confirmed = client.post(
        f"{ENGINE}/visits", json={**NEW, "temperature_c": 55, "confirmed": ["$.temperature_c"]}
    )
    assert confirmed.status_code == 201
    assert "38 °C allowed" in confirmed.json()["not_cold"][0]
    assert patch(client, {"temperature_c": 66}).json()["faults"][0]["suggestion"] == 18.9
    assert patch(client, {"temperature_c": 66}, None, "$.temperature_c").json()["temperature_c"] == 66


def test_a_digit_too_many_is_asked_about(client):
    asked = client.post(f"{ENGINE}/visits", json={**NEW, "usage": 21700})
    assert "check intervals after" in faults(asked)["$.usage"]


def test_a_meter_that_shows_less_needs_a_reason_and_the_total_runs_on(client):
    backwards = client.post(f"{ENGINE}/visits", json={**NEW, "usage": 12})
    assert "Say why" in faults(backwards)["$.usage"]
    body = {**NEW, "usage": 12, "new_meter": {"old": 2170, "new": 2}}
    visit = client.post(f"{ENGINE}/visits", json=body).json()
    assert (visit["usage"], visit["meter"]) == (2180.0, 12.0)
    assert client.post(f"{ENGINE}/visits", json=body).json() == visit
    record = client.get(f"{ENGINE}/record").json()
    assert record["engine"]["meter_changes"] == [{"date": NEW["date"], "old": 2170.0, "new": 2.0}]
    assert record["visits"][-1]["entered"] == {"meter": 12.0}
    # Later figures of the new meter are understood by themselves.
    later = client.post(f"{ENGINE}/visits", json={**NEW, "id": "v10", "usage": 40}).json()
    assert (later["usage"], later["meter"]) == (2208.0, 40.0)


@pytest.mark.parametrize(
    ("meter", "path"),
    [({"old": 2000, "new": 2}, "$.new_meter.old"), ({"old": 2170, "new": 20}, "$.new_meter.new")],
)
def test_a_change_of_meter_that_cannot_be_is_refused(client, meter, path):
    answer = client.post(f"{ENGINE}/visits", json={**NEW, "usage": 12, "new_meter": meter})
    assert list(faults(answer)) == [path]


def test_two_who_change_different_fields_both_succeed_and_the_same_field_is_reported(client):
    seen = client.get(VISIT).json()
    assert patch(client, {"duty": "hard"}, {"duty": seen["duty"]}).json()["duty"] == "hard"
    assert patch(client, {"notes": "brittle hose"}, {"notes": seen["notes"]}).json()["duty"] == "hard"
    stale = patch(client, {"duty": "light"}, {"duty": seen["duty"]})
    assert stale.status_code == 409 and "has been changed to hard" in faults(stale)["$.duty"]
    assert patch(client, {"duty": "hard"}, {"duty": seen["duty"]}).status_code == 200


@pytest.mark.parametrize(
    ("visit", "changes", "path"),
    [
        ("v7", {"usage": 3000}, "$.usage"),
        ("v7", {"usage": 100}, "$.usage"),
        ("v8", {"date": (date.today() + timedelta(days=1)).isoformat()}, "$.date"),
        ("v7", {"date": date.today().isoformat()}, "$.date"),
    ],
)
def test_a_visit_stays_between_its_neighbours(client, visit, changes, path):
    answer = patch(client, changes, visit=f"{ENGINE}/visits/{visit}")
    assert answer.status_code == 422 and list(faults(answer)) == [path]


def test_having_run_just_now_is_no_cold_check(client):
    assert client.get(VISIT).json()["not_cold"] == []
    assert "ran 1 h ago" in patch(client, {"last_run_hours_ago": 1}).json()["not_cold"][0]
    assert patch(client, {"duty": "x"}, visit=f"{ENGINE}/visits/none").status_code == 404


def test_small_parts_are_noted_and_not_overwritten_unseen(client):
    long_screws = {"what": "3 long screws", "came_from": "front of the cover", "back": False}
    kept = client.put(f"{VISIT}/parts", json={"parts": [long_screws], "was": []}).json()
    assert kept["parts"] == [long_screws]
    stale = client.put(f"{VISIT}/parts", json={"parts": [], "was": []})
    assert stale.status_code == 409 and "3 long screws" in faults(stale)["$.parts"]
    back = {**long_screws, "back": True}
    assert client.put(f"{VISIT}/parts", json={"parts": [back], "was": [long_screws]}).status_code == 200
    record = client.get(f"{ENGINE}/record").json()
    assert record["visits"][-1]["parts"] == [back]


# Listen and Look in


def test_what_is_heard_at_the_visit_reaches_its_case_and_the_causes(client):
    seen = {f["id"]: f["state"] for f in client.get(VISIT).json()["findings"]}
    assert seen == {"stall-at-idle": "present", "cold-miss": "present", "tick": "absent"}
    body = {"state": "present", "was": "absent", "onset": "sudden", "words": "since Monday"}
    noted = client.put(f"{VISIT}/findings/tick", json=body).json()
    assert next(one for one in noted if one["id"] == "tick")["words"] == "since Monday"
    case = client.get(f"{ENGINE}/cases/c1").json()
    assert next(one for one in case["findings"] if one["id"] == "tick")["state"] == "present"


def test_what_is_seen_at_a_valve_speaks_for_a_cause_there(client):
    def held_open():
        causes = client.get(f"{ENGINE}/cases/c1/diagnosis").json()["causes"]
        return next(one for one in causes if (one["cause"], one["where"]) == ("held-open", "3E"))

    before = held_open()["probability"]
    body = {"state": "present", "cylinder": 3, "side": "exhaust"}
    client.put(f"{VISIT}/findings/waggle-dead", json=body)
    after = held_open()
    assert after["probability"] > before
    assert "waggle-dead" in {entry["finding"] for entry in after["for"]}


def test_a_finding_noted_by_somebody_else_is_not_overwritten_unseen(client):
    body = {"state": "present", "was": "unknown"}
    client.put(f"{VISIT}/findings/lobe-dull", json=body)
    stale = client.put(f"{VISIT}/findings/lobe-dull", json={"state": "absent", "was": "unknown"})
    assert stale.status_code == 409
    assert client.put(f"{VISIT}/findings/lobe-dull", json=body).status_code == 200
    assert client.put(f"{VISIT}/findings/no-such", json=body).status_code == 422
    beyond = {**body, "cylinder": 9}
    assert "$.cylinder" in faults(client.put(f"{VISIT}/findings/lobe-dull", json=beyond))


def test_every_complaint_has_something_cheaper_to_preview_quickest_first(client):
    complaints = [one for one in client.get("/api/findings").json() if one["group"] == "complaint"]
    assert len(complaints) == 21
    for complaint in complaints:
        minutes = [look["minutes"] for look in complaint["first_looks"]]
        assert minutes and minutes == sorted(minutes)


# Measure


def answer(client, try_id, blade, felt, valve="4E", **more):
    body = {"valve": valve, "phase": "found", "blades_mm": [blade], "felt": felt, **more}
    return client.put(f"{VISIT}/tries/{try_id}", json=body).json()


def test_measured_again_after_a_turn_both_stand_and_a_turn_change_is_reported(client):
    answer(client, "a", 0.25, "free")
    answer(client, "b", 0.30, "no-go")
    second = answer(client, "c", 0.10, "free", crank_turn=2)
    second = answer(client, "d", 0.15, "no-go", crank_turn=2)
    assert second["found"]["crank_turn"] == 2
    assert [one["id"] for one in second["found"]["tries"]] == ["c", "d"]
    assert [one["id"] for one in second["found"]["earlier"][0]["tries"]] == ["a", "b"]
    assert second["swing"]["swings"] and second["swing"]["by_mm"] > 0.1
    readings = client.get(f"{ENGINE}/record").json()["visits"][-1]["readings"]
    assert [one.get("crank_turn") for one in readings if one["valve"] == "4E"] == [None, 2]
    # The same identifier cannot stand for another turn.
    body = {"valve": "4E", "phase": "found", "blades_mm": [0.1], "felt": "free", "crank_turn": 3}
    assert client.put(f"{VISIT}/tries/c", json=body).status_code == 409


def test_a_valve_is_skipped_with_a_reason_until_it_is_measured_after_all(client):
    skip = {"phase": "found", "reason": "cover stud in the way"}
    skipped = client.put(f"{VISIT}/valves/4E/skip", json=skip).json()
    assert skipped["found"]["skipped"] == "cover stud in the way" and skipped["found"]["estimate"] is None
    readings = client.get(f"{ENGINE}/record").json()["visits"][-1]["readings"]
    assert readings[-1] == {"valve": "4E", "phase": "found", "skipped": "cover stud in the way", "tries": []}
    assert answer(client, "a", 0.25, "free")["found"]["skipped"] is None
    client.put(f"{VISIT}/valves/4E/skip", json=skip)
    taken_back = client.put(f"{VISIT}/valves/4E/skip", json={**skip, "reason": None}).json()
    assert taken_back["found"]["skipped"] is None
    assert client.put(f"{VISIT}/valves/9E/skip", json=skip).status_code == 422


def test_measure_is_done_once_every_valve_is_measured_or_skipped(client):
    client.post(f"{ENGINE}/visits", json=NEW)
    visit = f"{ENGINE}/visits/{NEW['id']}"
    *measured, skipped = [one["valve"] for one in client.get(visit).json()["valves"]]
    for valve in measured:
        body = {"valve": valve, "phase": "found", "blades_mm": [0.1], "felt": "free"}
        assert client.put(f"{visit}/tries/{valve}", json=body).status_code < 300
    assert "measure" not in client.get(visit).json()["done"]
    client.put(f"{visit}/valves/{skipped}/skip", json={"phase": "found", "reason": "stud in the way"})
    assert "measure" in client.get(visit).json()["done"]


def test_how_a_blade_was_typed_is_kept_beside_it(client):
    answer(client, "a", 0.2032, "drag", entered="8 thou")
    readings = client.get(f"{ENGINE}/record").json()["visits"][-1]["readings"]
    assert readings[-1]["tries"] == [{"blades_mm": [0.2032], "felt": "drag", "entered": "8 thou"}]


# Judge


def assessed(client):
    return {one["valve"]: one for one in client.get(f"{VISIT}/assessment").json()["valves"]}


def test_every_valve_is_assessed_beside_last_time_and_its_neighbours(client):
    valves = assessed(client)
    assert valves["3E"]["standing"]["verdict"] == "tight"
    assert (valves["3E"]["advised"], valves["3E"]["because"]) == ("set", "out-of-spec")
    assert valves["3E"]["last_time"]["phase"] == "left" and valves["3E"]["last_time"]["moved_mm"] < -0.1
    assert valves["4E"]["because"] == "not-read" and valves["4E"]["neighbours"] is None
    assert valves["4E"]["advice"]["blades_mm"] is not None
    corrections = client.get(f"{VISIT}/assessment").json()["corrections"]
    # Aluminium against intake steel, 105 mm, six kelvin under the reference.
    assert corrections["intake"]["correction_mm"] == pytest.approx(10e-6 * 105 * -6)


def test_a_decision_has_a_reason_and_is_not_overwritten_unseen(client):
    mine = {"decision": "set", "reason": "under 0.04"}
    url = f"{VISIT}/valves/3E/decision"
    assert client.put(url, json={"decided": mine, "was": None}).status_code == 200
    assert assessed(client)["3E"]["decided"] == mine
    other = {"decided": {"decision": "leave", "reason": ""}, "was": None}
    stale = client.put(url, json=other)
    assert stale.status_code == 409 and "'set' (under 0.04)" in faults(stale)["$.decided"]
    assert client.put(url, json={**other, "was": mine}).status_code == 200
    assert client.put(url, json={"decided": None, "was": other["decided"]}).status_code == 200
    assert assessed(client)["3E"]["decided"] is None
    assert client.put(f"{VISIT}/valves/9E/decision", json=other).status_code == 422


# The sheet of paper


def line(number, valve, went=None, refused=None, **more):
    def typed(mm):
        return None if mm is None else {"blades_mm": [mm], "entered": f"{mm}"}

    return {"id": f"line-{number}", "valve": valve, "went": typed(went), "refused": typed(refused), **more}


def sheet(client, *lines, confirmed=()):
    return client.post(f"{VISIT}/check-sheet", json={"lines": list(lines), "confirmed": list(confirmed)})


def test_a_sheet_is_typed_in_at_once_and_twice_is_once(client):
    lines = [line(1, "4E", 0.20, 0.23, felt="drag"), line(2, "1I", 0.15, phase="left")]
    visit = sheet(client, *lines).json()
    assert sheet(client, *lines).json() == visit
    four = next(valve for valve in visit["valves"] if valve["valve"] == "4E")
    assert [(one["blades_mm"], one["felt"]) for one in four["found"]["tries"]] == [
        ([0.20], "drag"),
        ([0.23], "no-go"),
    ]
    assert four["found"]["estimate"]["verdict"] == "tight"
    first = next(valve for valve in visit["valves"] if valve["valve"] == "1I")
    assert first["left"]["tries"][0]["felt"] == "go"


@pytest.mark.parametrize(
    ("lines", "path", "says"),
    [
        ([line(1, "4E", 0.2), line(2, "4E", 0.25)], "$.lines[1].valve", "is on line 1 already"),
        ([line(1, "4E")], "$.lines[0]", "no blade given"),
        ([line(1, "4E", 0.21)], "$.lines[0].went", "no 0.21 mm blade in the set"),
        ([line(1, "4E", 0.25, 0.20)], "$.lines[0]", "should be thicker"),
    ],
)
def test_an_entry_error_on_a_sheet_stores_nothing_and_tells_the_line(client, lines, path, says):
    answered = sheet(client, *lines)
    assert answered.status_code == 422 and says in faults(answered)[path]
    assert client.get(VISIT).json()["valves"][7]["found"]["tries"] == []


def test_what_contradicts_itself_is_kept_once_it_is_confirmed_and_marked(client):
    visit = sheet(client, line(1, "4E", 0.40, 0.20), confirmed=["$.lines[0]"]).json()
    four = next(valve for valve in visit["valves"] if valve["valve"] == "4E")
    assert four["found"]["estimate"]["contradiction"]
    assert sheet(client, line(2, "9E", 0.2)).status_code == 422


class TestCopyingThePreparationOfTheLastVisit:
    V7, V8 = (f"/api/engines/resurfacer-1/visits/v{number}" for number in (7, 8))

    def change(self, client, visit, **changes):
        body = {"changes": changes, "was": {}, "confirmed": []}
        assert client.patch(visit, json=body).status_code == 200

    def test_fills_in_what_is_not_entered_and_leaves_the_rest(self, client):
        parts = [{"what": "cover bolts", "came_from": "long one at the front", "back": True}]
        self.change(client, self.V7, duty="night shifts", access="awkward", temperature_c=17.5)
        client.put(f"{self.V7}/parts", json={"parts": parts, "was": []})
        self.change(client, self.V8, technician="Ole Brand")
        before = client.get(self.V8).json()
        for _ in range(2):
            copied = client.post(f"{self.V8}/preparation-copied").json()
        assert (copied["duty"], copied["access"]) == ("night shifts", "awkward")
        assert copied["parts"] == [{**parts[0], "back": False}]
        assert copied["technician"] == "Ole Brand"
        assert copied["temperature_c"] == before["temperature_c"]

        def answers(visit):
            return [valve["found"]["tries"] for valve in visit["valves"]]

        assert answers(copied) == answers(before)

    def test_there_has_to_be_one_before(self, client):
        refused = client.post("/api/engines/resurfacer-1/visits/v1/preparation-copied")
        assert refused.status_code == 422 and "none to copy from" in refused.text
        # The page does not offer it.
        assert client.get("/api/engines/resurfacer-1/visits/v1").json()["first_of_engine"]
        assert not client.get(self.V8).json()["first_of_engine"]
