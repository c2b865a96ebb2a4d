"""The week at a glance, and the meter read between visits."""

from datetime import date, timedelta

import pytest

from pronostico.core.usage import meter_reading_due
from pronostico.services.workshop.week import within
from tests.api.workshop import timelines_of

MONDAY = date(2026, 3, 2)


def week(client):
    timelines_of(client)
    return client.get("/api/week").json()


def of(rows, engine):
    return next((one for one in rows if one["engine"] == engine), None)


def read_meter(client, engine, meter, day=None, *confirmed):
    body = {"date": (day or date.today()).isoformat(), "meter": meter, "confirmed": list(confirmed)}
    return client.post(f"/api/engines/{engine}/usage-readings", json=body)


@pytest.mark.parametrize(
    ("days", "expected"),
    [
        (-1, "overdue"),
        (0, "this week"),
        (6, "this week"),
        (7, "next week"),
        (13, "next week"),
        (14, "within a month"),
        (30, "within a month"),
        (31, "later"),
    ],
)
def test_weeks_begin_on_monday(days, expected):
    assert within(MONDAY + timedelta(days=days), MONDAY) == expected
    assert within(None, MONDAY) == "no day known"


def test_a_meter_is_asked_for_after_half_an_interval_or_half_a_year():
    first = date(2025, 1, 1)
    assert meter_reading_due([], 250.0) is None
    assert meter_reading_due([(first, 10.0)], 250.0) == first + timedelta(days=180)
    # Two hours a day: half of 250 h is 62 days.
    steady = [(first, 0.0), (first + timedelta(days=100), 200.0)]
    assert meter_reading_due(steady, 250.0) == first + timedelta(days=162)
    busy = [(first, 0.0), (first + timedelta(days=100), 2400.0)]
    assert meter_reading_due(busy, 250.0) == first + timedelta(days=114)


class TestWeek:
    def test_what_is_due_promised_and_unread_stands_in_it(self, client):
        found = week(client)
        due = of(found["checks"], "resurfacer-1")
        assert due["within"] == "overdue" and "out of spec" in due["why"]
        assert due["customer"]["name"] and due["kind"]
        assert found["checks"][0]["within"] == "overdue"
        assert {one["engine"] for one in found["promised"]} == {"resurfacer-1", "gun-pump"}
        timelines = {one["id"]: one for one in timelines_of(client)}
        today = date.today().isoformat()
        old = {id for id, one in timelines.items() if one["meter_due"] and one["meter_due"] <= today}
        assert {one["engine"] for one in found["meters"]} == old
        assert old

    def test_an_archived_engine_is_in_no_list(self, client):
        client.put("/api/engines/resurfacer-1/archived", json={"archived": True})
        found = week(client)
        assert all(of(found[key], "resurfacer-1") is None for key in ("checks", "promised", "meters"))

    def test_an_empty_workshop_has_an_empty_week(self, empty_client):
        found = empty_client.get("/api/week").json()
        assert (found["checks"], found["promised"], found["meters"]) == ([], [], [])
        assert date.fromisoformat(found["monday"]).weekday() == 0


class TestMeter:
    def test_a_reading_between_visits_moves_the_dates(self, client):
        unread = week(client)["meters"][0]
        engine, before = unread["engine"], of(week(client)["checks"], unread["engine"])
        assert before["estimated"] is True
        answer = read_meter(client, engine, unread["last_usage"] + 1)
        assert answer.status_code == 201
        found = week(client)
        assert of(found["meters"], engine) is None
        after = of(found["checks"], engine)
        assert after["estimated"] is False
        assert after["to_go"] == pytest.approx(after["usage"] - unread["last_usage"] - 1)
        # It hardly ran: its next check has gone further away.
        assert after["to_go"] > before["to_go"]
        kept = client.get(f"/api/engines/{engine}/record").json()["engine"]["usage_readings"]
        assert kept == [{"date": date.today().isoformat(), "usage": unread["last_usage"] + 1}]

    def test_the_same_sent_twice_is_one_and_it_is_taken_back(self, client):
        for _ in range(2):
            assert read_meter(client, "quad", 99_999, None, "$.meter").status_code == 201
        kept = client.get("/api/engines/quad").json()["engine"]["usage_readings"]
        assert len(kept) == 1
        gone = client.post("/api/engines/quad/usage-readings/taken-back", json=kept[0])
        assert gone.json()["engine"]["usage_readings"] == []

    def test_backwards_ahead_and_odd_are_answered(self, client):
        assert "less than the" in str(read_meter(client, "resurfacer-1", 5).json()["faults"])
        tomorrow = date.today() + timedelta(days=1)
        assert "future" in str(read_meter(client, "resurfacer-1", 3000, tomorrow).json()["faults"])
        early = read_meter(client, "resurfacer-1", 2000, date(2024, 1, 1))
        assert "more than the" in str(early.json()["faults"])
        odd = read_meter(client, "resurfacer-1", 40_000)
        assert odd.status_code == 422 and odd.json()["faults"][0]["path"] == "$.meter"
        assert client.get("/api/engines/resurfacer-1").json()["engine"]["usage_readings"] == []

    def test_a_form_that_was_open_does_not_undo_it(self, client):
        shown = client.get("/api/engines/resurfacer-1").json()
        assert read_meter(client, "resurfacer-1", 2170).status_code == 201
        document = {"engine": shown["engine"], "revision": shown["revision"], "confirmed": []}
        assert client.put("/api/engines/resurfacer-1", json=document).status_code == 200
        assert len(client.get("/api/engines/resurfacer-1").json()["engine"]["usage_readings"]) == 1
