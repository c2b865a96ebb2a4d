"""Next checks as a calendar: read back by a calendar library, and at an address that cannot be guessed."""

from datetime import date, timedelta

import icalendar

from tests.api.workshop import timelines_of


def events_of(answer):
    assert answer.status_code == 200
    assert answer.headers["content-type"].startswith("text/calendar")
    calendar = icalendar.Calendar.from_ical(answer.content)
    assert (calendar["version"], calendar["method"]) == ("2.0", "PUBLISH")
    events = {str(one["uid"]).removesuffix("@pronostico"): one for one in calendar.walk("VEVENT")}
    return {uid.removesuffix(".next-look"): one for uid, one in events.items()}


def test_every_engine_whose_next_check_has_a_day_stands_on_it(client):
    timelines = {timeline["id"]: timeline for timeline in timelines_of(client)}
    events = events_of(client.get("/api/next-checks.ics"))
    promised = {
        f"{id}.{work['visit']}.promised": work["promised"]
        for id, timeline in timelines.items()
        for work in timeline["under_way"]
        if work["promised"]
    }
    checks = {id for id, timeline in timelines.items() if timeline["look_day"]}
    assert set(events) == checks | set(promised)
    today = date.today()
    for uid, day in promised.items():
        assert events[uid]["dtstart"].dt == max(date.fromisoformat(day), today)
        (alarm,) = events[uid].walk("VALARM")
        assert alarm["trigger"].dt == timedelta(days=-1)
    for id in checks:
        event = events[id]
        (alarm,) = event.walk("VALARM")
        assert alarm["trigger"].dt == timedelta(days=-7)
        day = max(date.fromisoformat(timelines[id]["look_day"]), today)
        assert (event["dtstart"].dt, event["dtend"].dt) == (day, day + timedelta(days=1))
        assert str(event["summary"]) == f"{timelines[id]['name']}: valve check"
    told = str(events["resurfacer-1"]["description"])
    assert "Now: 1E, 2E, 3E are out of spec" in told
    assert "Developing faults: valve seat recession, exhaust" in told


def test_the_feed_needs_its_address_and_a_renewed_one_ends_the_old(client):
    timelines_of(client)
    assert client.get("/api/calendar-feed").json()["path"] is None
    assert client.get("/api/calendar/guessed-token.ics").status_code == 404
    first = client.put("/api/calendar-feed").json()["path"]
    assert len(first.split("/")[-1]) > 32
    assert client.get("/api/calendar-feed").json()["path"] == first
    assert set(events_of(client.get(first))) == set(events_of(client.get("/api/next-checks.ics")))
    second = client.put("/api/calendar-feed").json()["path"]
    assert second != first
    assert client.get(first).status_code == 404
    assert client.get(second).status_code == 200
    assert client.delete("/api/calendar-feed").json()["path"] is None
    assert client.get(second).status_code == 404
    # What the workshop set for itself is untouched by it.
    assert client.get("/api/workshop-settings").status_code == 200


def test_an_empty_workshop_has_an_empty_calendar(empty_client):
    assert events_of(empty_client.get("/api/next-checks.ics")) == {}
