"""An engine described, changed, and guarded against mistakes and against somebody else's stale page."""

import pytest

from pronostico.core.crank.stations import SCHOOLS
from tests.builders import record_document


def new_engine(**changes):
    return {**record_document()["engine"], "id": "mule-2", **changes}


def post(client, engine, *confirmed):
    return client.post("/api/engines", json={"engine": engine, "confirmed": list(confirmed)})


def test_an_engine_is_described_once_and_has_no_visit(client):
    first = post(client, new_engine())
    assert first.status_code == 201 and first.json()["revision"] == 1
    assert post(client, new_engine()).status_code == 201
    assert post(client, new_engine(name="Another")).status_code == 409
    assert client.get("/api/engines/mule-2/analysis").json()["visits"] == []


def test_every_pattern_is_an_engine_that_can_be_taken_as_it_is(client):
    patterns = client.get("/api/engine-form").json()["patterns"]
    assert len(patterns) == 7
    for pattern in patterns:
        engine = {**pattern["engine"], "name": pattern["label"]}
        answer = post(client, engine)
        assert answer.status_code == 201, (pattern["id"], answer.json())
        for school in SCHOOLS:
            plan = client.get(f"/api/engines/{pattern['id']}/crank?school={school}").json()
            stations = [valve for station in plan["stations"] for valve in station["valves"]]
            assert sorted(stations) == sorted(valve["id"] for valve in engine["valves"])


@pytest.mark.parametrize(
    ("changes", "path", "says"),
    [
        ({"firing_order": [1]}, "$.engine.firing_order", "must name each cylinder"),
        ({"usage_unit": "days"}, "$.engine.usage_unit", "'h'"),
        ({"check_interval": 0}, "$.engine.check_interval", "must be 0.001 or more"),
        (
            {"spec": {"intake": {"min_mm": 0.2, "max_mm": 0.1}, "exhaust": {"figure_mm": 0.2}}},
            "$.engine.spec.intake",
            "min_mm 0.2 is not below max_mm 0.1",
        ),
        (
            {"valves": [{"id": "1I", "cylinder": 1, "side": "intake"}] * 2, "firing_order": [1]},
            "$.engine.valves[1].id",
            "valve '1I' is there already",
        ),
        ({"firing_intervals_deg": [300, 300]}, "$.engine.firing_intervals_deg", "must be 720"),
    ],
)
def test_an_entry_error_is_reported_by_its_place_and_nothing_is_stored(client, changes, path, says):
    answer = post(client, new_engine(**changes))
    assert answer.status_code == 422
    fault = next(fault for fault in answer.json()["faults"] if fault["path"] == path)
    assert says in fault["message"]
    assert client.get("/api/engines/mule-2").status_code == 404


def test_thou_typed_as_mm_is_asked_about_and_kept_once_it_is_confirmed(client):
    engine = new_engine(spec={"intake": {"min_mm": 6, "max_mm": 8}, "exhaust": {"figure_mm": 0.25}})
    asked = post(client, engine)
    assert asked.json()["type"] == "urn:pronostico:problem:asked"
    assert [(one["path"], one["suggestion"]) for one in asked.json()["faults"]] == [
        ("$.engine.spec.intake.min_mm", 0.152),
        ("$.engine.spec.intake.max_mm", 0.203),
    ]
    paths = [one["path"] for one in asked.json()["faults"]]
    assert post(client, engine, paths[0]).status_code == 422
    assert post(client, engine, *paths).status_code == 201


def test_a_fahrenheit_reference_is_asked_about(client):
    asked = post(client, new_engine(reference_temperature_c=68)).json()
    assert asked["faults"][0]["path"] == "$.engine.reference_temperature_c"
    assert asked["faults"][0]["suggestion"] == 20.0


def change(client, engine, revision, **more):
    return client.put(f"/api/engines/{engine['id']}", json={"engine": engine, "revision": revision, **more})


def test_a_stale_edit_is_refused_with_what_changed_and_the_same_edit_twice_is_one(client):
    now = client.get("/api/engines/resurfacer-1").json()
    mine = {**now["engine"], "fuel": "petrol"}
    assert change(client, mine, now["revision"]).json()["revision"] == now["revision"] + 1
    assert change(client, mine, now["revision"]).status_code == 200
    theirs = {**now["engine"], "check_interval": 300}
    stale = change(client, theirs, now["revision"])
    assert stale.status_code == 409 and stale.json()["type"].endswith(":stale")
    assert {fault["path"] for fault in stale.json()["faults"]} == {
        "$.engine.fuel",
        "$.engine.check_interval",
    }
    assert client.get("/api/engines/resurfacer-1").json()["engine"]["fuel"] == "petrol"


def test_a_valve_that_was_read_must_stay_and_a_new_one_may_come(client):
    now = client.get("/api/engines/resurfacer-1").json()
    fewer = {**now["engine"], "valves": now["engine"]["valves"][:-1]}
    refused = change(client, fewer, now["revision"])
    assert (
        refused.status_code == 422 and "valve 4E was measured at v1" in refused.json()["faults"][0]["message"]
    )
    more = {
        **now["engine"],
        "valves": [*now["engine"]["valves"], {"id": "4X", "cylinder": 4, "side": "exhaust"}],
    }
    assert change(client, more, now["revision"]).status_code == 200
    analysis = client.get("/api/engines/resurfacer-1/analysis").json()
    assert [valve["valve"] for valve in analysis["valves"]][-2:] == ["4E", "4X"]
    renamed = {**now["engine"], "id": "other"}
    answer = client.put("/api/engines/resurfacer-1", json={"engine": renamed, "revision": 2})
    assert answer.json()["faults"][0]["path"] == "$.engine.id"


def test_the_head_is_drawn_from_its_description_and_an_entry_error_in_it_is_reported(client):
    head = {"banks": [[1, 2]], "intakes": 1, "exhausts": 1, "along": ["E I I E"]}
    assert [valve["id"] for valve in client.post("/api/heads", json=head).json()] == ["1E", "1I", "2I", "2E"]
    entry_error = client.post("/api/heads", json={**head, "along": ["E I I"]})
    assert entry_error.status_code == 422 and "must be 4" in entry_error.json()["detail"]


def test_the_price_says_how_likely_setting_is_and_what_it_rests_on(client):
    price = client.get("/api/engines/resurfacer-1/price").json()
    # 35 minutes of access and 8 valves of 2.5.
    assert price["check_minutes"] == 55.0 and price["check_cost"] is None
    assert price["p_set"] > 0.99 and price["predicted"] == price["valves"] == 8
    assert price["set_minutes"] > price["check_minutes"]
    steady = client.get("/api/engines/resurfacer-2/price").json()
    assert steady["p_set"] < price["p_set"]
    settings = {**client.get("/api/workshop-settings").json(), "rate_per_hour": 60, "currency": "EUR"}
    assert client.put("/api/workshop-settings", json=settings).json()["rate_per_hour"] == 60
    priced = client.get("/api/engines/resurfacer-1/price?usage=2400").json()
    assert (priced["check_cost"], priced["currency"], priced["usage"]) == (55.0, "EUR", 2400)


def test_an_engine_never_previewed_has_no_chance_of_setting(client):
    post(client, new_engine())
    assert client.get("/api/engines/mule-2/price").json()["p_set"] is None


def test_cautions_fit_the_engine(client):
    cautions = client.get("/api/engines/resurfacer-1").json()["cautions"]
    assert any("licensed" in one["text"] for one in cautions)
    assert not any("Diesel" in one["text"] or "Shims" in one["text"] for one in cautions)
    post(client, new_engine(fuel="diesel"))
    diesel = client.get("/api/engines/mule-2").json()["cautions"]
    assert any("Diesel" in one["text"] for one in diesel)
    assert not any("licensed" in one["text"] for one in diesel)
