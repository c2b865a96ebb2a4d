"""The price as the page gets it: the workshop's figures, the engine's own, and how likely setting is."""

import pytest

from pronostico.core.adjust.price import LabourTimes
from pronostico.core.constants import DEFAULT

ENGINE = "/api/engines/resurfacer-1"
SETTINGS = "/api/workshop-settings"


def priced(client, usage=None):
    return client.get(f"{ENGINE}/price", params={} if usage is None else {"usage": usage}).json()


def test_minutes_are_reported_without_a_rate_and_cost_with_one(client):
    bare = priced(client)
    assert bare["check_minutes"] == 35 + 8 * LabourTimes().check_per_valve
    assert bare["check_cost"] is bare["set_cost"] is None
    settings = {**client.get(SETTINGS).json(), "rate_per_hour": 90, "currency": "CHF"}
    assert client.put(SETTINGS, json=settings).json() == settings
    paid = priced(client)
    assert paid["currency"] == "CHF"
    assert paid["check_cost"] == pytest.approx(paid["check_minutes"] * 1.5)
    assert paid["set_cost"] == pytest.approx(paid["set_minutes"] * 1.5)


def test_the_workshops_own_times_count(client):
    settings = client.get(SETTINGS).json()
    before = priced(client)
    slower = {kind: 2 * minutes for kind, minutes in settings["set_minutes_per_valve"].items()}
    client.put(SETTINGS, json={**settings, "check_minutes_per_valve": 5, "set_minutes_per_valve": slower})
    after = priced(client)
    assert after["check_minutes"] - before["check_minutes"] == pytest.approx(8 * 2.5)
    setting = [one["set_minutes"] - one["check_minutes"] for one in (before, after)]
    assert setting[1] == pytest.approx(2 * setting[0])


@pytest.mark.parametrize(
    ("change", "path"),
    [
        ({"rate_per_hour": -1}, "$.rate_per_hour"),
        ({"check_minutes_per_valve": "two"}, "$.check_minutes_per_valve"),
        ({"currency": "far too long a name"}, "$.currency"),
        ({"set_minutes_per_valve": {"by-magic": 1}}, "$.set_minutes_per_valve"),
        ({"rates": 1}, "$.rates"),
    ],
)
def test_figures_that_cannot_be_are_refused_by_their_field(client, change, path):
    before = client.get(SETTINGS).json()
    answer = client.put(SETTINGS, json={**before, **change})
    assert answer.status_code == 422
    assert any(fault["path"].startswith(path) for fault in answer.json()["faults"])
    assert client.get(SETTINGS).json() == before


def test_valves_that_drift_tight_are_likelier_to_need_setting_later(client):
    record = client.get(f"{ENGINE}/record").json()
    record["engine"]["id"] = "younger"
    # The visit before last left all in spec: soon after nothing needs setting, long after much does.
    record["visits"] = record["visits"][:-1]
    record["cases"] = []
    assert client.post("/api/records", json=record).status_code == 201
    last = record["visits"][-1]["usage"]

    def chance(usage):
        return client.get("/api/engines/younger/price", params={"usage": usage}).json()

    soon, later = chance(last + 10), chance(last + 1000)
    assert soon["p_set"] < later["p_set"] <= 1.0
    assert soon["valves_to_set"] < later["valves_to_set"] <= 8
    assert soon["predicted"] == later["predicted"] > 0


def test_an_engine_that_was_never_read_has_no_chance_of_setting(client):
    pattern = client.get("/api/engine-form").json()["patterns"][0]["engine"]
    del pattern["access_minutes"]
    made = client.post("/api/engines", json={"engine": {**pattern, "id": "fresh", "name": "Fresh"}})
    assert made.status_code == 201
    fresh = client.get("/api/engines/fresh/price").json()
    assert fresh["p_set"] is fresh["set_minutes"] is None
    assert (fresh["access_minutes"], fresh["access_is_known"]) == (DEFAULT.access_minutes, False)
    assert client.get("/api/engines/none/price").status_code == 404
