from datetime import date, timedelta

import pytest

CASE = "/api/engines/resurfacer-1/cases/c1"


def probabilities(client, case=CASE):
    return {(c["cause"], c["where"]): c for c in client.get(f"{case}/diagnosis").json()["causes"]}


def test_the_stalling_machine_is_reported_its_seats_are_sinking_and_why(client):
    first = client.get(f"{CASE}/diagnosis").json()["causes"][0]
    assert (first["cause"], first["where"]) == ("seat-recession", "exhaust")
    assert first["probability"] > 0.9
    assert first["valves"] == ["1E", "2E", "3E", "4E"]
    findings = {entry["finding"] for entry in first["for"]}
    assert {"stall-at-idle", "cold-miss", "clearance-tight", "high-sink"} <= findings
    assert all(entry["why"] and entry["decibans"] > 0 for entry in first["for"])


def test_causes_are_ranked_and_all_is_one_picture(client):
    diagnosis = client.get(f"{CASE}/diagnosis").json()
    ranked = [cause["probability"] for cause in diagnosis["causes"]]
    assert ranked == sorted(ranked, reverse=True)
    assert 0.0 <= diagnosis["none_of_these"] <= 1.0
    assert diagnosis["next_tests"][0]["test"] == "waggle"


def test_ticking_a_finding_changes_the_picture_and_unticking_changes_it_back(client):
    before = probabilities(client)["held-open", "3E"]["probability"]
    client.put(f"{CASE}/findings/waggle-wide", json={"state": "present"})
    during = probabilities(client)["held-open", "3E"]["probability"]
    client.put(f"{CASE}/findings/waggle-wide", json={"state": "unknown"})
    after = probabilities(client)["held-open", "3E"]["probability"]
    assert during < before
    assert after == pytest.approx(before)


def test_a_finding_is_noted_once_a_place(client):
    for cylinder, state in ((3, "present"), (1, "absent"), (3, "absent")):
        body = {"state": state, "cylinder": cylinder, "side": "exhaust"}
        kept = client.put(f"{CASE}/findings/waggle-dead", json=body).json()
    noted = {f["cylinder"]: f["state"] for f in kept["findings"] if f["id"] == "waggle-dead"}
    assert noted == {3: "absent", 1: "absent"}
    held_open = probabilities(client)["held-open", "3E"]
    assert [entry["where"] for entry in held_open["against"] if entry["finding"] == "waggle-dead"] == ["3E"]


def test_a_case_is_opened_once_and_is_about_the_visit_it_names(client):
    new = {"id": "c2", "opened": date.today().isoformat(), "visit": "v7"}
    assert client.post("/api/engines/resurfacer-1/cases", json=new).status_code == 201
    assert client.post("/api/engines/resurfacer-1/cases", json=new).status_code == 201
    assert client.post("/api/engines/resurfacer-1/cases", json={**new, "visit": "v6"}).status_code == 409
    # At visit 7 valve 3E still let a blade in.
    three = probabilities(client, "/api/engines/resurfacer-1/cases/c2")["held-open", "3E"]
    assert three["probability"] < 0.1


@pytest.mark.parametrize(
    ("change", "status"),
    [
        ({"visit": "v99"}, 404),
        ({"opened": (date.today() + timedelta(days=2)).isoformat()}, 422),
        ({"opened": "soon"}, 422),
    ],
)
def test_a_case_that_cannot_be_is_refused(client, change, status):
    new = {"id": "c2", "opened": date.today().isoformat(), "visit": "v8", **change}
    assert client.post("/api/engines/resurfacer-1/cases", json=new).status_code == status


@pytest.mark.parametrize(
    ("finding", "body", "says"),
    [
        ("no-such-finding", {"state": "present"}, "no finding 'no-such-finding'"),
        ("tick", {"state": "maybe"}, "must be 'present'"),
        ("tick", {"state": "present", "valve": "9E"}, "unknown field"),
        ("tick", {"state": "present", "cylinder": 9}, "no cylinder 9"),
    ],
)
def test_a_finding_that_cannot_be_is_refused(client, finding, body, says):
    answer = client.put(f"{CASE}/findings/{finding}", json=body)
    assert answer.status_code == 422
    assert says in answer.text


def test_every_finding_has_words(client):
    for kind in client.get("/api/findings").json():
        assert kind["label"] and kind["help"]


def test_a_steady_machine_without_complaint_is_not_reported_of_a_fault(client):
    client.post("/api/engines/resurfacer-2/cases", json={"id": "q", "opened": date.today().isoformat()})
    diagnosis = client.get("/api/engines/resurfacer-2/cases/q/diagnosis").json()
    # Nobody has looked for months: what is left is what any engine may have, each hardly likely.
    assert diagnosis["carried"]["visit"] == "v4" and diagnosis["carried"]["days"] > 30
    assert diagnosis["none_of_these"] > 0.4
    assert max(cause["probability"] for cause in diagnosis["causes"]) < 0.05
