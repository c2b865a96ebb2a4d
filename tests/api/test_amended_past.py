"""What is entered later, corrected, or counted otherwise: the answers follow, and nothing is lost."""

from datetime import date, timedelta

import pytest

from tests.api.workshop import timelines_of

TWO = "/api/engines/resurfacer-2"
QUAD = "/api/engines/quad"


def visits_of(client, engine=TWO):
    return client.get(f"{engine}/record").json()["visits"]


def drift_of(client, valve, engine=TWO):
    valves = client.get(f"{engine}/drift").json()["valves"]
    return next(one for one in valves if one["valve"] == valve)


def midway(client):
    second, third = visits_of(client)[1:3]
    days = (date.fromisoformat(third["date"]) - date.fromisoformat(second["date"])).days
    day = date.fromisoformat(second["date"]) + timedelta(days=days // 2)
    return {"id": "late", "date": day.isoformat(), "usage": (second["usage"] + third["usage"]) / 2}


def test_an_earlier_look_is_put_in_its_place_once_it_is_confirmed(client):
    late = midway(client)
    before = drift_of(client, "2E")
    asked = client.post(f"{TWO}/visits", json=late)
    assert asked.status_code == 422 and "between v2 and v3" in asked.text
    assert client.post(f"{TWO}/visits", json={**late, "confirmed": ["$.date"]}).status_code == 201
    assert [one["id"] for one in visits_of(client)] == ["v1", "v2", "late", "v3", "v4"]
    tries = f"{TWO}/visits/late/tries"
    for n, (blade, felt) in enumerate([(0.25, "drag"), (0.28, "no-go")]):
        body = {"valve": "2E", "phase": "found", "blades_mm": [blade], "felt": felt}
        assert client.put(f"{tries}/t{n}", json=body).status_code == 200
    after = drift_of(client, "2E")
    assert after["rests_on"]["visits_read"] == before["rests_on"]["visits_read"] + 1
    assert after["drift"] != before["drift"]
    # The one that is last stays last.
    assert timelines_of(client)[1]["visits"][-1]["id"] == "v4"


def test_an_earlier_look_must_still_fit_between_its_neighbours(client):
    late = {**midway(client), "usage": 5000.0}
    refused = client.post(f"{TWO}/visits", json={**late, "confirmed": ["$.date"]})
    assert refused.status_code == 422 and "of the next visit" in refused.text


def test_a_corrected_reading_is_recomputed_and_back_again(client):
    before = drift_of(client, "2E")
    body = {"valve": "2E", "phase": "found", "blades_mm": [0.23], "felt": "no-go"}
    client.put(f"{TWO}/visits/v4/tries/c1", json=body)
    assert drift_of(client, "2E")["now"]["mean_mm"] < before["now"]["mean_mm"]
    client.delete(f"{TWO}/visits/v4/tries/c1")
    assert drift_of(client, "2E") == before


def change(client, **fields):
    last = visits_of(client)[-1]
    day = fields.pop("date", last["date"])
    return client.post(f"{TWO}/meter-changes", json={"date": day, **fields})


def test_a_new_meter_is_an_event_of_its_own_and_the_total_goes_on(client):
    noted = change(client, old=1500, new=0, date=date.today().isoformat())
    assert noted.status_code == 201
    assert noted.json()["engine"]["meter_changes"][0]["old"] == 1500
    drift = drift_of(client, "2E")
    begun = client.post(
        f"{TWO}/visits", json={"id": "v5", "date": date.today().isoformat(), "usage": 40, "temperature_c": 15}
    )
    assert begun.status_code == 201 and begun.json()["usage"] == 1540
    assert begun.json()["meter"] == 40
    assert drift["drift"]["mean_mm_per_interval"] == pytest.approx(
        drift_of(client, "2E")["drift"]["mean_mm_per_interval"], abs=1e-4
    )


@pytest.mark.parametrize(
    ("fields", "said"),
    [
        ({"old": 900, "new": 0}, "at the last visit it showed 1490"),
        ({"old": 1500, "new": 1600}, "not below"),
        ({"old": 1500, "new": 0, "date": "2022-01-01"}, "before the last visit"),
        ({"old": 1500, "new": 0, "date": "2190-01-01"}, "in the future"),
    ],
)
def test_a_meter_that_cannot_have_shown_that_is_refused(client, fields, said):
    refused = change(client, **fields)
    assert refused.status_code == 422 and said in refused.text


def test_a_new_meter_noted_by_mistake_is_taken_back_until_a_visit_rests_on_it(client):
    body = {"date": date.today().isoformat(), "old": 1500.0, "new": 0.0}
    client.post(f"{TWO}/meter-changes", json=body)
    again = client.post(f"{TWO}/meter-changes", json=body)
    assert len(again.json()["engine"]["meter_changes"]) == 1
    taken = client.post(f"{TWO}/meter-changes/taken-back", json=body)
    assert taken.json()["engine"]["meter_changes"] == []
    client.post(f"{TWO}/meter-changes", json=body)
    client.post(f"{TWO}/visits", json={"id": "v5", "date": body["date"], "usage": 40, "temperature_c": 15})
    kept = client.post(f"{TWO}/meter-changes/taken-back", json=body)
    assert kept.status_code == 422 and "visit v5 was calculated with it" in kept.text


def test_a_form_that_was_opened_before_a_new_meter_does_not_undo_it(client):
    before = client.get(TWO).json()
    change(client, old=1500, new=0, date=date.today().isoformat())
    body = {
        "engine": {**before["engine"], "duty": "hard"},
        "revision": before["revision"],
        "confirmed": [],
    }
    kept = client.put(TWO, json=body)
    assert kept.status_code == 200
    assert kept.json()["engine"]["duty"] == "hard" and len(kept.json()["engine"]["meter_changes"]) == 1


def edit(client, engine, confirmed=(), **fields):
    now = client.get(engine).json()
    body = {
        "engine": {**now["engine"], **fields},
        "revision": now["revision"],
        "confirmed": list(confirmed),
    }
    return client.put(engine, json=body)


def test_kilometres_become_miles_once_it_is_confirmed_and_the_drift_is_the_same(client):
    before = [one["usage"] for one in visits_of(client, QUAD)]
    told = drift_of(client, "1Ea", QUAD)["drift"]
    miles = {"usage_unit": "mi", "check_interval": 12000 / 1.609344}
    asked = edit(client, QUAD, **miles)
    assert asked.status_code == 422 and "will be converted to mi" in asked.text
    assert edit(client, QUAD, ["$.engine.usage_unit"], **miles).status_code == 200
    after = [one["usage"] for one in visits_of(client, QUAD)]
    assert after == pytest.approx([one / 1.609344 for one in before], abs=0.01)
    now = drift_of(client, "1Ea", QUAD)["drift"]
    assert now["mean_mm_per_interval"] == pytest.approx(told["mean_mm_per_interval"], abs=1e-4)
    assert client.get(f"{QUAD}/drift").json()["usage_unit"] == "mi"


def test_hours_do_not_become_kilometres(client):
    refused = edit(client, TWO, ["$.engine.usage_unit"], usage_unit="km")
    assert refused.status_code == 422 and "which nothing turns into km" in refused.text


def test_a_spec_changed_between_visits_judges_those_after_it_alone(client):
    day = visits_of(client)[-1]["date"]
    wider = {"intake": {"min_mm": 0.15, "max_mm": 0.20}, "exhaust": {"min_mm": 0.20, "max_mm": 0.30}}
    before = drift_of(client, "2E")
    assert edit(client, TWO, spec_changes=[{"date": day, "spec": wider}]).status_code == 200
    after = drift_of(client, "2E")
    assert after["spec"]["min_mm"] == 0.20 and after["history"][0]["spec"]["min_mm"] == 0.25
    assert after["now"]["mean_mm"] == pytest.approx(before["now"]["mean_mm"], abs=0.003)
    assert (
        after["crossing"]["tight"] is None
        or after["crossing"]["tight"]["q10"] > (before["crossing"]["tight"]["q10"])
    )


def test_one_visit_alone_is_a_forecast_from_what_is_believed_of_any_valve(client):
    begun = client.get(TWO).json()["engine"]
    client.post("/api/engines", json={"engine": {**begun, "id": "one", "name": "One"}, "confirmed": []})
    start = {"id": "v1", "date": date.today().isoformat(), "usage": 100, "temperature_c": 20}
    client.post("/api/engines/one/visits", json=start)
    body = {"valve": "1E", "phase": "found", "blades_mm": [0.28], "felt": "drag"}
    client.put("/api/engines/one/visits/v1/tries/t1", json=body)
    read, never = (drift_of(client, valve, "/api/engines/one") for valve in ("1E", "1I"))
    assert (read["rests_on"]["visits_read"], never["rests_on"]["visits_read"]) == (1, 0)
    assert read["drift"]["trend"] == never["drift"]["trend"] == "unclear"
    assert read["drift"]["sd_mm_per_interval"] > 0.03
    # A valve that was never read is only as well known as any.
    assert never["now"]["sd_mm"] > 0.1 > read["now"]["sd_mm"]
    assert read["sink"] == {"mean_mm": 0.0, "sd_mm": 0.0} and read["break"] is None
