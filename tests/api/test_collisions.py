"""Two people change the same: what one changed the other keeps, and what both changed is refused."""

import pytest

ENGINE = "/api/engines/resurfacer-1"
VISIT = f"{ENGINE}/visits/v8"
SETTINGS = "/api/workshop-settings"


def cylinder(client):
    return next(one for one in client.get(f"{VISIT}/tests").json()["cylinders"] if one["cylinder"] == 2)


def settings(client, **changes):
    return {**client.get(SETTINGS).json(), **changes}


def stale(answer, path, says):
    assert answer.status_code == 409
    assert [(one["path"], one["message"]) for one in answer.json()["faults"]] == [(path, says)]


SINGLE = [
    (f"{VISIT}/verification/minutes", "minutes", {}),
    (f"{VISIT}/tests/altitude", "altitude_m", {}),
    (f"{VISIT}/tests/figures/crank-speed", "value", {}),
    (f"{VISIT}/verification/figures", "value", {"id": "trims-long", "phase": "after"}),
]


@pytest.mark.parametrize(("address", "field", "more"), SINGLE)
def test_a_figure_that_somebody_else_changed_meanwhile_is_not_overwritten(client, address, field, more):
    def put(value, **was):
        return client.put(address, json={**more, field: value, **was})

    assert put(40.0, was=None).status_code == 200
    # The repeat of what was stored is stored; who saw nothing there is told what stands there now.
    assert put(40.0, was=None).status_code == 200
    stale(put(50.0, was=None), f"$.{field}", "has been changed to 40")
    assert put(50.0, was=40.0).status_code == 200
    assert put(None, was=50.0).status_code == 200
    stale(put(55.0, was=50.0), f"$.{field}", "has been removed")
    # A program that does not say what it saw is taken at its word.
    assert put(55.0).status_code == 200


def test_two_who_test_one_cylinder_keep_each_others_figures(client):
    where = f"{VISIT}/tests/cylinders/2"
    empty = {"dry_kpa": None, "wet_kpa": None, "leak_percent": None, "misfires": None, "heard": []}
    client.put(where, json=empty)
    assert client.put(where, json={**empty, "dry_kpa": 1050.0, "was": empty}).status_code == 200
    leak = {**empty, "leak_percent": 12.0, "heard": ["exhaust"], "was": empty}
    assert client.put(where, json=leak).status_code == 200
    kept = cylinder(client)
    assert (kept["dry_kpa"], kept["leak_percent"], kept["heard"]) == (1050.0, 12.0, ["exhaust"])
    stale(
        client.put(where, json={**empty, "dry_kpa": 990.0, "was": empty}),
        "$.dry_kpa",
        "has been changed to 1050",
    )
    assert cylinder(client)["dry_kpa"] == 1050.0


def test_two_who_set_the_workshops_figures_keep_each_others(client):
    seen = settings(client)
    rate = {**seen, "rate_per_hour": 80.0, "was": seen}
    assert client.put(SETTINGS, json=rate).status_code == 200
    minutes = {**seen["set_minutes_per_valve"], "screw-rocker": 6.0}
    timed = {**seen, "set_minutes_per_valve": minutes, "was": seen}
    kept = client.put(SETTINGS, json=timed).json()
    assert (kept["rate_per_hour"], kept["set_minutes_per_valve"]["screw-rocker"]) == (80.0, 6.0)
    again = {**seen, "rate_per_hour": 90.0, "was": seen}
    stale(client.put(SETTINGS, json=again), "$.rate_per_hour", "has been changed to 80")


def test_a_recheck_is_chosen_by_one(client):
    where = f"{VISIT}/verification/recheck"
    mine = {"usage": 2300.0, "reason": "owner asks"}
    theirs = {"usage": 2400.0, "reason": "season ends"}
    assert client.put(where, json={"recheck": mine, "was": None}).status_code == 200
    stale(
        client.put(where, json={"recheck": theirs, "was": None}),
        "$.recheck.usage",
        "has been changed to 2300",
    )
    assert client.put(where, json={"recheck": theirs, "was": mine}).status_code == 200
    assert client.put(where, json={"recheck": None, "was": theirs}).status_code == 200
    stale(client.put(where, json={"recheck": mine, "was": theirs}), "$.recheck.usage", "has been taken back")


def test_a_feeler_gauge_set_is_changed_by_one_or_in_different_fields(client):
    where = "/api/blade-sets/shared"
    seen = {"name": "Shared", "text": "0.05 0.10", "unit": "mm"}
    assert client.put(where, json={**seen, "was": None}).status_code == 200
    assert client.put(where, json={**seen, "name": "Van", "was": seen}).status_code == 200
    kept = client.put(where, json={**seen, "text": "0.05 0.10 0.15", "was": seen}).json()
    assert (kept["name"], kept["text"]) == ("Van", "0.05 0.10 0.15")
    stale(client.put(where, json={**seen, "name": "Bench", "was": seen}), "$.name", "has been changed to Van")


def test_a_case_is_closed_by_one(client):
    where = f"{ENGINE}/cases/c1/outcome"
    opened = client.get(f"{ENGINE}/cases/c1").json()["opened"]
    nothing = {"closed": opened, "confirmed": [], "was": None}
    found = {**nothing, "confirmed": [{"cause": "something-else", "note": "loose bracket"}]}
    assert client.put(where, json=nothing).status_code == 200
    assert client.put(where, json=nothing).status_code == 200
    stale(client.put(where, json=found), "$.confirmed", "has been closed with: nothing found")
    assert client.put(where, json={**found, "was": []}).status_code == 200
    client.delete(where)
    stale(
        client.put(where, json={**nothing, "was": found["confirmed"]}), "$.confirmed", "has been opened again"
    )
