"""How far the work of a visit is: open, waiting for parts, ready to continue, done."""

from datetime import date, timedelta

import pytest

ENGINE = "/api/engines/resurfacer-1"
VISIT = f"{ENGINE}/visits/v8"
TODAY = date.today()
SHIM = {"what": "shim 2.10 mm", "source": "Valley Engine Parts", "ordered": TODAY.isoformat()}


def say(client, progress, **body):
    return client.put(f"{VISIT}/verification/progress", json={"progress": progress, **body})


def known(client):
    return client.get(VISIT).json()["progress"]


def under_way(client):
    timelines = client.get("/api/workshop").json()["timelines"]
    return next(one["under_way"] for one in timelines if one["id"] == "resurfacer-1")


def test_what_waits_for_parts_stands_on_the_workshop_page_until_they_come(client):
    promised = (TODAY + timedelta(days=4)).isoformat()
    assert say(client, {"state": "waiting", "awaited": [SHIM], "promised": promised}).status_code == 200
    (work,) = under_way(client)
    assert work["waits_for"] == ["shim 2.10 mm"] and work["since"] == SHIM["ordered"]
    assert (work["state"], work["promised"]) == ("waiting", promised)
    # What has all its parts is ready.
    say(client, {"state": "waiting", "awaited": [{**SHIM, "arrived": TODAY.isoformat()}]})
    assert known(client)["state"] == "ready" and under_way(client)[0]["waits_for"] == []


def test_work_that_is_done_leaves_the_page_and_keeps_both_days(client):
    began = client.get(VISIT).json()["date"]
    say(client, {"state": "done"})
    assert known(client)["ended"] == TODAY.isoformat() and under_way(client) == []
    card = client.get(f"{VISIT}/card").json()
    assert (card["date"], card["ended"]) == (began, TODAY.isoformat())
    # Taken up again, it has not ended.
    say(client, {"state": "open", "ended": TODAY.isoformat()})
    assert known(client)["ended"] is None


def test_a_new_visit_is_open_and_one_that_was_imported_is_past(client):
    visit = {"id": "v9", "date": TODAY.isoformat(), "usage": 2200, "temperature_c": 15, "confirmed": []}
    assert client.post(f"{ENGINE}/visits", json=visit).status_code == 201
    assert client.get(f"{ENGINE}/visits/v9").json()["progress"]["state"] == "open"
    assert client.get(f"{ENGINE}/visits/v7").json()["progress"] is None
    assert [one["visit"] for one in under_way(client)] == ["v8", "v9"]


@pytest.mark.parametrize(
    ("progress", "said"),
    [
        ({"state": "waiting"}, "name the part that is waited for"),
        ({"state": "waiting", "awaited": [{"what": " "}]}, "awaited[0].what"),
        ({"state": "waiting", "awaited": [{**SHIM, "ordered": "2999-01-01"}]}, "lies in the future"),
        ({"state": "waiting", "awaited": [{**SHIM, "arrived": "2020-01-01"}]}, "before it was ordered"),
        ({"state": "done", "ended": "2020-01-01"}, "from the visit's day"),
        ({"state": "finished"}, "$.progress.state"),
    ],
)
def test_what_cannot_be_is_refused_with_its_place(client, progress, said):
    before = known(client)
    refused = say(client, progress)
    assert refused.status_code == 422 and said in refused.text
    assert known(client) == before


def test_two_who_say_different_things_both_succeed_and_the_same_is_refused(client):
    before = known(client)
    say(client, {**before, "awaited": [SHIM]}, was=before)
    later = (TODAY + timedelta(days=9)).isoformat()
    assert say(client, {**before, "promised": later}, was=before).status_code == 200
    assert known(client)["promised"] == later and known(client)["awaited"][0]["what"] == "shim 2.10 mm"
    assert say(client, {**before, "promised": None}, was=before).status_code == 409


def test_the_record_takes_it_along(client):
    say(client, {"state": "waiting", "awaited": [SHIM]})
    record = client.get(f"{ENGINE}/record").json()
    record["engine"]["id"] = "copy"
    assert client.post("/api/records", json=record).status_code == 201
    assert client.get("/api/engines/copy/visits/v8").json()["progress"] == known(client)
    record["engine"]["id"] = "wrong"
    record["visits"][-1]["progress"] = {"state": "done", "ended": "2000-01-01"}
    refused = client.post("/api/records", json=record)
    assert refused.status_code == 422 and "is before the visit began" in refused.text


NEW_SHIM = {"what": "shim 2.100 mm", "shim_mm": 2.1, "diameter_mm": 8.9, "count": 2, "source": "Valley"}


class TestAShimOnOrder:
    def box(self, client):
        return {
            (one["shim_mm"], one["diameter_mm"]): one["count"] for one in client.get("/api/shim-box").json()
        }

    def test_goes_into_the_box_once_when_it_comes_and_out_again_if_it_had_not(self, client):
        before = self.box(client).get((2.1, 8.9), 0)
        say(client, {"state": "waiting", "awaited": [NEW_SHIM]})
        assert self.box(client).get((2.1, 8.9), 0) == before
        come = {"state": "waiting", "awaited": [{**NEW_SHIM, "arrived": TODAY.isoformat()}]}
        say(client, come)
        say(client, come)
        assert self.box(client)[2.1, 8.9] == before + 2 and known(client)["state"] == "ready"
        say(client, {"state": "waiting", "awaited": [NEW_SHIM]})
        assert self.box(client)[2.1, 8.9] == before

    def test_is_listed_by_supplier_until_it_comes_or_the_work_is_done(self, client):
        say(client, {"state": "waiting", "awaited": [SHIM, NEW_SHIM]})
        listed = client.get("/api/parts-on-order").json()
        ours = [one for one in listed if one["engine"] == "resurfacer-1"]
        assert [(one["what"], one["count"], one["index"]) for one in ours] == [
            ("shim 2.100 mm", 2, 1),
            ("shim 2.10 mm", 1, 0),
        ]
        table = client.get("/api/parts-on-order.csv")
        assert table.headers["content-type"].startswith("text/csv")
        assert "shim 2.100 mm,2,2.1,8.9,Valley,," in table.text
        page = client.get("/api/parts-on-order.pdf")
        assert page.content.startswith(b"%PDF") or page.status_code == 501
        say(client, {"state": "done", "awaited": [SHIM, NEW_SHIM]})
        left = client.get("/api/parts-on-order").json()
        assert "resurfacer-1" not in [one["engine"] for one in left]
