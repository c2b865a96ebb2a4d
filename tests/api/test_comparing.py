"""Two states side by side, a valve's whole life, and parts changed valve by valve."""

import pytest

ENGINE = "/api/engines/resurfacer-1"
VISIT = f"{ENGINE}/visits/v8"


def compared(client, visit="v7", **query):
    asked = {"with_engine": "resurfacer-1", "with_visit": "v8", **query}
    return client.get(f"{ENGINE}/visits/{visit}/compared", params=asked)


def by_valve(answer):
    return {one["valve"]: one for one in answer.json()["valves"]}


def change(client, valve, *parts, was=(), visit=VISIT):
    body = {"parts": list(parts), "was": list(was)}
    return client.put(f"{visit}/parts-changed/{valve}", json=body)


class TestTwoStates:
    def test_what_closed_is_named_and_what_did_not_is_not(self, client):
        answer = compared(client, when="after")
        assert answer.json()["first"]["when"] == "after" and answer.json()["second"]["usage"] == 2163
        valves = by_valve(answer)
        assert {valves[name]["change"] for name in ("1E", "2E")} == {"tighter"}
        assert {valves[name]["change"] for name in ("2I", "3I", "4I")} == {"none shown"}
        one = valves["1E"]
        means = [one[side]["estimate"]["mean_mm"] for side in ("first", "second")]
        assert one["difference_mm"] == pytest.approx(means[1] - means[0])
        # Read only as 'nothing goes', and not read at all: no figure for either.
        assert valves["3E"]["difference_mm"] is None and valves["3E"]["second"]["estimate"] is not None
        assert valves["4E"]["second"]["estimate"] is None

    def test_a_drift_is_what_was_known_at_its_visit(self, client):
        valves = by_valve(compared(client))
        first, second = (valves["3E"][side]["drift"]["drift_mm"] for side in ("first", "second"))
        assert first["mean_mm"] != second["mean_mm"]
        assert by_valve(compared(client, visit="v1"))["3E"]["first"]["drift"] is None

    def test_a_sister_is_compared_valve_by_valve(self, client):
        answer = compared(client, with_engine="resurfacer-2", with_visit="v2")
        assert answer.status_code == 200
        assert len(answer.json()["valves"]) == 8 and answer.json()["only_in_one"] == []

    def test_what_is_not_there_is_said(self, client):
        assert "visit 'v99'" in compared(client, with_visit="v99").json()["detail"]
        assert compared(client, with_engine="nobody").status_code == 404
        assert compared(client, when="later").status_code == 422

    def test_engines_without_a_valve_in_common_are_refused(self, client):
        document = client.get(f"{ENGINE}/record").json()
        names = {one["id"]: f"x{one['id']}" for one in document["engine"]["valves"]}
        document["engine"] |= {"id": "other", "stations": None}
        for one in document["engine"]["valves"]:
            one["id"], one["shares_rocker_with"] = names[one["id"]], []
        document["visits"] = [{"id": "v1", "date": "2026-01-01", "usage": 5}]
        document["cases"] = []
        assert client.post("/api/records", json=document).status_code == 201
        answer = compared(client, with_engine="other", with_visit="v1")
        assert answer.status_code == 422
        assert "no valve of the same name" in str(answer.json())


class TestPartsChanged:
    def test_a_part_changed_begins_the_valve_anew_and_no_other(self, client):
        before = {one["valve"]: one for one in client.get(f"{ENGINE}/drift").json()["valves"]}
        assert change(client, "3E", "seat", "valve").status_code == 200
        after = {one["valve"]: one for one in client.get(f"{ENGINE}/drift").json()["valves"]}
        assert before["3E"]["drift"]["trend"] == "tightening"
        assert after["3E"]["drift"]["trend"] == "unclear"
        # Nothing was measured after it: what is known is the spec and no more.
        assert after["3E"]["now"]["sd_mm"] > 0.1 and after["3E"]["standing"] is None
        assert after["3E"]["rests_on"]["since"] == "v8"
        assert after["2E"]["drift"]["mean_mm_per_interval"] == pytest.approx(
            before["2E"]["drift"]["mean_mm_per_interval"], abs=0.003
        )
        state = after["3E"]["history"][-1]
        assert state["renewed"] is True and after["2E"]["history"][-1]["renewed"] is False

    def test_it_is_measured_as_left_and_checked_again_soon(self, client):
        answer = change(client, "3E", "rocker")
        assert answer.json()["unmeasured"] == ["3E"]
        # The same where all valves were left in spec.
        document = client.get(f"{ENGINE}/record").json()
        document["engine"]["id"], document["cases"] = "copy", []
        document["visits"] = document["visits"][:-1]
        client.post("/api/records", json=document)
        change(client, "3E", "rocker", visit="/api/engines/copy/visits/v7")
        look = client.get("/api/engines/copy/drift").json()["check_due"]
        assert (look["because"], look["valves"], look["usage"]) == ("parts-changed", ["3E"], 1751)

    def test_it_stands_on_the_timeline_the_job_card_and_in_the_record(self, client):
        change(client, "3E", "seat", "valve")
        change(client, "1E", "spring")
        timeline = next(
            one for one in client.get("/api/workshop").json()["timelines"] if one["id"] == "resurfacer-1"
        )
        assert timeline["visits"][-1]["renewed"] == ["1E", "3E"]
        card = client.get(f"{VISIT}/card").json()
        assert card["parts_changed"] == ["1E: spring", "3E: seat, valve"]
        assert "parts changed" in card["work_done"]
        kept = client.get(f"{ENGINE}/record").json()["visits"][-1]["parts_changed"]
        assert kept[0] == {"valve": "1E", "part": "spring"}

    def test_it_is_taken_back_and_nobody_is_overwritten_unseen(self, client):
        change(client, "3E", "seat")
        late = change(client, "3E", "rocker")
        assert late.status_code == 409
        assert change(client, "3E", was=["seat"]).json()["unmeasured"] == []
        assert client.get(f"{ENGINE}/record").json()["visits"][-1].get("parts_changed", []) == []

    def test_wrong_names_are_refused(self, client):
        assert change(client, "9E", "seat").status_code in (404, 422)
        assert change(client, "3E", "wing").status_code == 422
        document = client.get(f"{ENGINE}/record").json()
        document["visits"][0]["parts_changed"] = [{"valve": "9E", "part": "seat"}]
        answer = client.post("/api/records/preview", json=document).json()
        assert "parts_changed[0].valve" in str(answer["faults"])


class TestLife:
    def test_eras_follow_the_parts(self, client):
        change(client, "3E", "seat", visit=f"{ENGINE}/visits/v3")
        life = client.get(f"{ENGINE}/valves/3E/life").json()
        first, second = life["eras"]
        assert [one["visit"] for one in first["visits"]] == ["v1", "v2", "v3"]
        assert (second["began_with"], second["parts"]) == ("parts changed", ["seat"])
        assert second["visits"][0]["visit"] == "v3"
        assert first["usage"] + second["usage"] == pytest.approx(2163 - 250)
        # What it moved is summed from the readings, adjustments left out.
        found = [one["found"]["mean_mm"] for one in first["visits"]]
        left = [one["left"]["mean_mm"] for one in first["visits"]]
        assert first["moved_mm"] == pytest.approx(found[1] - left[0] + found[2] - left[1])
        # The last visit found nothing but a bound.
        assert second["moved_mm"] is None
        assert second["visits"][-1]["sudden_change"]["direction"] == "tight"

    def test_shims_stand_in_it(self, client):
        life = client.get("/api/engines/snowmobile/valves/1Ea/life").json()
        done = [one for era in life["eras"] for visit in era["visits"] for one in visit["settings"]]
        assert all(one["shim_to_mm"] for one in done)
        assert client.get("/api/engines/snowmobile/valves/9X/life").status_code == 404
