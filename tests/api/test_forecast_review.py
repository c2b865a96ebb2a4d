"""How the forecasts did: computed when asked for, kept, and computed again from what changed on."""

import json
import time

import pytest
from sqlalchemy import text

from pronostico.analysis.forecast_review import review_record
from pronostico.services.workshop import forecast_reviews
from pronostico.services.workshop.forecast_reviews import compute_reviews
from pronostico.store.database import Database
from tests.api.test_sisters import put, sister


def settled(client):
    """The page's answer once nothing is being computed."""
    end = time.monotonic() + 120.0
    while time.monotonic() < end:
        told = client.get("/api/forecast-review").json()
        if told["calculating"] is None and client.get("/api/forecast-review").json() == told:
            return told
        time.sleep(0.05)
    raise TimeoutError


def by_two(document):
    """A record whose visits two technicians made in turn."""
    for index, visit in enumerate(document["visits"]):
        visit["technician"] = "Anna " if index % 2 else " Ben"
    return document


def test_an_empty_workshop_has_no_forecasts_to_look_back_on(empty_client):
    told = settled(empty_client)
    assert told["review"]["whole"] is None and told["review"]["feel"] == [] and told["failed"] == []


def test_forecasts_are_counted_by_kind_and_by_technician(empty_client):
    for number in range(3):
        put(empty_client, by_two(sister(number, kind=None if number == 2 else "Pump")))
    review = settled(empty_client)["review"]
    assert review["engines"] == 3 and review["visits"] == 3 * 4
    (pump,) = review["by_kind"]
    assert pump["name"] == "Pump" and 0 < pump["count"] < review["whole"]["count"]
    assert {one["name"] for one in review["by_technician"]} == {"Anna", "Ben"}
    assert sum(one["count"] for one in review["by_technician"]) == review["whole"]["count"]
    assert [one["technician"] for one in review["feel"]] == ["Anna", "Ben"]
    assert not any(one["apart"] for one in review["feel"])


def test_another_visit_computes_that_visit_alone_and_a_changed_past_all_after_it(empty_client, monkeypatch):
    document = sister(0, visits=5)
    *first, last = document["visits"]
    put(empty_client, {**document, "visits": first})
    settled(empty_client)
    kept = []

    def noted(record, before=()):
        kept.append(len(before))
        return review_record(record, before)

    monkeypatch.setattr(forecast_reviews, "review_record", noted)
    into = {"params": {"into_existing": True}, "headers": {"Content-Type": "application/json"}}
    empty_client.post("/api/records", content=json.dumps({**document, "visits": [*first, last]}), **into)
    assert settled(empty_client)["review"]["visits"] == 4
    assert kept == [3]
    with empty_client.app.state.database.writing() as session:
        session.execute(text("UPDATE visits SET usage = usage + 1 WHERE position = 2"))
        session.commit()
    settled(empty_client)
    assert kept == [3, 1]


def test_one_that_cannot_be_looked_back_on_does_not_hold_up_the_others(empty_client, monkeypatch):
    for number in range(2):
        put(empty_client, sister(number))

    def fails(record, before=()):
        if record.engine.id == "pump-0":
            raise ArithmeticError("no review")
        return review_record(record, before)

    monkeypatch.setattr(forecast_reviews, "review_record", fails)
    told = settled(empty_client)
    assert told["failed"] == ["pump-0"] and told["review"]["engines"] == 1


def test_it_stops_where_it_is_told_to(empty_client):
    put(empty_client, sister(0))
    database: Database = empty_client.app.state.database
    done = compute_reviews(database, stopped=lambda: True)
    assert (done.done, done.total) == (0, 1)


@pytest.mark.parametrize("twice", [False, True])
def test_what_was_not_changed_is_not_computed_again(empty_client, twice):
    put(empty_client, sister(0))
    database: Database = empty_client.app.state.database
    assert compute_reviews(database).total == 1
    if twice:
        assert compute_reviews(database).total == 0
