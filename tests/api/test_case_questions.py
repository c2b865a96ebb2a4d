"""What would a finding change, what contradicts what, and what is developing without any complaint."""

from unittest import mock

import pytest

CASE = "/api/engines/resurfacer-1/cases/c1"


def probability(diagnosis, cause, where):
    return next(
        one["probability"] for one in diagnosis["causes"] if (one["cause"], one["where"]) == (cause, where)
    )


def suppose(client, *findings):
    return client.post(CASE + "/what-if", json={"findings": list(findings)})


def test_what_is_only_supposed_is_weighed_as_if_noted_and_not_kept(client):
    before, was = client.get(CASE).json(), client.get(CASE + "/diagnosis").json()
    dead = {"id": "waggle-dead", "state": "present", "cylinder": 3, "side": "exhaust"}
    supposed = suppose(client, dead).json()
    held = ("held-open", "3E")
    assert probability(supposed, *held) > probability(was, *held) + 0.2
    assert client.get(CASE).json() == before
    client.put(CASE + "/findings/waggle-dead", json={k: v for k, v in dead.items() if k != "id"})
    # The next test follows from what is noted alone.
    assert client.get(CASE + "/diagnosis").json() == {**supposed, "next_tests": mock.ANY}
    assert supposed["next_tests"] == []
    # And not asked again takes it out of the picture.
    assert suppose(client, {**dead, "state": "unknown"}).json() == {**was, "next_tests": []}


@pytest.mark.parametrize(
    ("finding", "path"),
    [
        ({"id": "gremlins", "state": "present"}, "$.id"),
        ({"id": "tick", "state": "present", "cylinder": 9}, "$.cylinder"),
        ({"id": "tick", "state": "maybe"}, "$.findings[0].state"),
    ],
)
def test_what_cannot_be_is_not_supposed(client, finding, path):
    answer = suppose(client, finding)
    assert answer.status_code == 422
    assert path in [one["path"] for one in answer.json()["faults"]]


def told(diagnosis):
    return [
        tuple((one["finding"], one["where"], one["present"], one["measured"]) for one in pair.values())
        for pair in diagnosis["contradictions"]
    ]


def test_two_findings_that_exclude_each_other_are_both_kept_and_reported(client):
    assert told(client.get(CASE + "/diagnosis").json()) == []
    for finding in ("tick", "tick-gone"):
        client.put(f"{CASE}/findings/{finding}", json={"state": "present"})
    found = client.get(CASE + "/diagnosis").json()
    assert told(found) == [(("tick", None, True, False), ("tick-gone", None, True, False))]
    states = {one["id"]: one["state"] for one in client.get(CASE).json()["findings"]}
    assert states["tick"] == states["tick-gone"] == "present"


def test_what_was_noted_against_what_was_measured_is_reported(client):
    client.put("/api/engines/resurfacer-1/visits/v8/tests/cylinders/2", json={"dry_kpa": 500})
    client.put(CASE + "/findings/compression-low", json={"state": "absent", "cylinder": 2})
    found = told(client.get(CASE + "/diagnosis").json())
    assert (
        ("compression-low", "cylinder 2", False, False),
        ("compression-low", "cylinder 2", True, True),
    ) in found
    # Not at all contradicts that it is somewhere; elsewhere does not.
    client.put(CASE + "/findings/compression-low", json={"state": "unknown", "cylinder": 2})
    client.put(CASE + "/findings/compression-low", json={"state": "absent", "cylinder": 1})
    assert told(client.get(CASE + "/diagnosis").json()) == []
    client.put(CASE + "/findings/compression-low", json={"state": "absent"})
    assert len(told(client.get(CASE + "/diagnosis").json())) == 1


def test_sinking_seats_are_named_with_their_sink_before_anybody_complains(client):
    known = client.get("/api/engines/resurfacer-1/developing-faults").json()
    seats = next(one for one in known["coming"] if one["cause"]["cause"] == "seat-recession")
    assert seats["cause"]["where"] == "exhaust"
    drift = client.get("/api/engines/resurfacer-1/drift").json()
    by_valve = {one["valve"]: one for one in drift["valves"]}
    for valve in seats["valves"]:
        assert valve["sink_mm"] == pytest.approx(by_valve[valve["valve"]]["sink"]["mean_mm"], abs=1e-6)
        assert valve["sink_mm"] > 0.1
    assert known["p_any_out"] > 0.99
    assert known["p_fault"] > 0.9


def test_a_sound_engine_is_not_cried_over_and_one_without_visits_says_nothing(client, empty_client):
    quiet = client.get("/api/engines/quad/developing-faults").json()
    assert quiet["coming"] == []
    assert quiet["p_any_out"] < 0.5
    assert client.get("/api/engines/standby-drive/developing-faults").json()["p_any_out"] is None
    assert empty_client.get("/api/engines/nobody/developing-faults").status_code == 404


def test_shims_that_make_up_for_sinking_are_counted_in_intervals(client):
    record = client.get("/api/engines/snowmobile/record").json()
    series = record["engine"]["shim_series"]
    coming = client.get("/api/engines/snowmobile/developing-faults").json()["coming"]
    closing = [
        valve
        for one in coming
        for valve in one["valves"]
        if valve["shim_intervals_left"] is not None and valve["drift_mm_per_interval"] < 0
    ]
    assert closing
    for valve in closing:
        most = (series["to_mm"] - series["from_mm"]) / -valve["drift_mm_per_interval"]
        assert 0.0 <= valve["shim_intervals_left"] <= most
