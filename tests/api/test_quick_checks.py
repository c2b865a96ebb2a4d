"""Quick checks at a visit: ticked off with what was seen, and on the job card."""

import pytest

VISIT = "/api/engines/resurfacer-1/visits/v8"
FUEL = f"{VISIT}/quick-checks/fuel-look"


def checks(client):
    return client.get(VISIT).json()["quick_checks"]


def test_one_is_ticked_off_with_what_was_seen_and_taken_back(client):
    assert checks(client) == {}
    noted = client.put(FUEL, json={"done": True, "seen": " stale "}).json()
    assert noted == {"fuel-look": {"seen": "stale"}} == checks(client)
    card = client.get(f"{VISIT}/card").json()
    assert card["quick_checks"] == ["fuel: stale"]
    client.put(f"{VISIT}/quick-checks/spark-test", json={"done": True})
    assert client.get(f"{VISIT}/card").json()["quick_checks"] == ["fuel: stale", "spark"]
    client.put(FUEL, json={"done": False})
    assert checks(client) == {"spark-test": {"seen": ""}}


def test_two_people_at_it_do_not_overwrite_each_other(client):
    untouched = {"done": False, "seen": ""}
    client.put(FUEL, json={"done": True, "seen": "stale", "was": untouched})
    # The same thing once more, and one word more by who saw it.
    assert client.put(FUEL, json={"done": True, "seen": "stale", "was": untouched}).status_code == 200
    more = {"done": True, "seen": "stale, water in it", "was": {"done": True, "seen": "stale"}}
    assert client.put(FUEL, json=more).status_code == 200
    clash = client.put(FUEL, json={"done": True, "seen": "fresh", "was": {"done": True, "seen": "stale"}})
    assert clash.status_code == 409 and "stale, water in it" in clash.text


@pytest.mark.parametrize(
    ("path", "body", "status"),
    [
        (f"{VISIT}/quick-checks/nonsense", {"done": True}, 404),
        ("/api/engines/resurfacer-1/visits/none/quick-checks/fuel-look", {"done": True}, 404),
        (FUEL, {"seen": "x"}, 422),
        (FUEL, {"done": True, "seen": "x" * 301}, 422),
    ],
)
def test_what_cannot_be_is_refused(client, path, body, status):
    assert client.put(path, json=body).status_code == status
    assert checks(client) == {}
