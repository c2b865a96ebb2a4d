"""Deleting into the bin and restoring, moving a visit to another engine, archiving an engine."""

from datetime import UTC, date, datetime, timedelta

import pytest
from PIL import Image
from sqlalchemy import func, select

from pronostico.services.engines.background import compute_stale
from pronostico.services.workshop.bin import KEPT, empty_old
from pronostico.settings import folders_of, photographs_of
from pronostico.store.tables import Base
from tests.builders import record_document

ENGINE = "/api/engines/resurfacer-1"
VISIT = f"{ENGINE}/visits/v8"


def remove(client, kind, part=None, engine=ENGINE, name="r1"):
    return client.put(f"{engine}/removals/{name}", json={"kind": kind, "part": part})


def known(client, engine=ENGINE):
    return client.get(f"{engine}/record").json()


def rows(database):
    with database.reading() as session:
        return {
            table.name: session.scalar(select(func.count()).select_from(table))
            for table in Base.metadata.sorted_tables
        }


@pytest.fixture
def photograph(tmp_path):
    path = tmp_path / "head.png"
    Image.new("RGB", (40, 30), "grey").save(path)
    return path.read_bytes()


def take(client, photograph, at=f"{VISIT}/photographs/p1?step=inspect"):
    assert client.put(at, content=photograph, headers={"Content-Type": "image/png"}).status_code == 200


def test_what_hangs_on_it_is_told_before_anything_is_deleted(client, photograph):
    take(client, photograph)
    record = known(client)
    told = client.get(f"{ENGINE}/removals/before", params={"kind": "engine"}).json()
    assert told["name"] == record["engine"]["name"]
    assert told["holds"]["visits"] == len(record["visits"])
    assert told["holds"]["readings"] == sum(len(visit.get("readings", [])) for visit in record["visits"])
    assert told["holds"]["cases"] == len(record["cases"]) and told["holds"]["photographs"] == 1
    told = client.get(f"{ENGINE}/removals/before", params={"kind": "visit", "part": "v8"}).json()
    assert told["cases_resting"] == [one["id"] for one in record["cases"] if one.get("visit") == "v8"]
    assert told["holds"]["visits"] == 1 and told["holds"]["cases"] == 0
    assert known(client) == record


def test_an_engine_goes_whole_and_comes_back_as_it_was(client, photograph):
    take(client, photograph)
    before, timelines = known(client), client.get("/api/workshop").json()["timelines"]
    assert remove(client, "engine").status_code == 200
    assert remove(client, "engine").status_code == 200, "sent twice it is done once"
    assert client.get(ENGINE).status_code == 404 and client.get(VISIT).status_code == 404
    assert "resurfacer-1" not in [one["id"] for one in client.get("/api/engines").json()]
    left = [one["id"] for one in client.get("/api/workshop").json()["timelines"]]
    assert left == [one["id"] for one in timelines if one["id"] != "resurfacer-1"]
    assert client.get("/api/engines/resurfacer-2/sisters").json()["sisters"] == []
    (in_bin,) = client.get("/api/bin").json()
    assert in_bin["holds"]["visits"] == len(before["visits"]) and in_bin["holds"]["photographs"] == 1
    assert client.post("/api/bin/r1/restored").json() == []
    assert known(client) == before
    assert len(client.get(f"{VISIT}/photographs").json()) == 1
    assert [one["id"] for one in client.get("/api/workshop").json()["timelines"]] == [
        one["id"] for one in timelines
    ]


def test_without_a_visit_the_figures_are_those_of_the_others(client):
    before, analysis = known(client), client.get(f"{ENGINE}/analysis").json()
    assert remove(client, "visit", "v3").status_code == 200
    after = known(client)
    assert [one["id"] for one in after["visits"]] == [
        one["id"] for one in before["visits"] if one["id"] != "v3"
    ]
    alone = {**after, "engine": {**after["engine"], "id": "alone", "kind": None, "left_out_of_kind": True}}
    assert client.post("/api/records", json=alone).status_code == 201
    expected = client.get("/api/engines/alone/analysis").json()["valves"]
    assert client.get(f"{ENGINE}/analysis").json()["valves"] == expected
    client.post("/api/bin/r1/restored")
    assert known(client) == before and client.get(f"{ENGINE}/analysis").json() == analysis


def test_a_case_stays_when_its_visit_is_deleted_and_rests_on_none(client):
    case = next(one for one in known(client)["cases"] if one.get("visit"))
    remove(client, "visit", case["visit"])
    left = next(one for one in known(client)["cases"] if one["id"] == case["id"])
    assert left.get("visit") is None
    assert client.get(f"{ENGINE}/cases/{case['id']}/diagnosis").status_code == 200
    client.post("/api/bin/r1/restored")
    assert next(one for one in known(client)["cases"] if one["id"] == case["id"]) == case


def test_what_is_in_the_bin_waits_for_its_engine(client):
    remove(client, "case", known(client)["cases"][0]["id"], name="r1")
    remove(client, "engine", name="r2")
    waits = {one["id"]: one["waits_for"] for one in client.get("/api/bin").json()}
    assert waits == {"r1": "the engine", "r2": None}
    refused = client.post("/api/bin/r1/restored")
    assert refused.status_code == 422 and "restore the engine first" in refused.text
    client.post("/api/bin/r2/restored")
    assert client.post("/api/bin/r1/restored").json() == []


def test_an_identifier_in_the_bin_is_not_given_again(client):
    record = known(client)
    remove(client, "visit", "v2", name="r1")
    refused = client.post("/api/records?into_existing=true", json=record)
    assert refused.status_code == 422 and "visit v2 is in the bin" in refused.text
    remove(client, "engine", name="r2")
    assert "is in the bin" in client.post("/api/records", json=record).text
    engine = {**record["engine"], "name": "Another"}
    made = client.post("/api/engines", json={"engine": engine, "confirmed": []})
    assert made.status_code == 409 and "is in the bin" in made.text


def test_a_visit_that_fits_no_more_is_not_restored(client):
    client.post("/api/records", json=record_document())
    engine = "/api/engines/mule"
    visits = known(client, engine)["visits"]
    assert len(visits) > 1
    remove(client, "visit", visits[0]["id"], engine)
    changed = client.patch(
        f"{engine}/visits/{visits[1]['id']}",
        json={"changes": {"date": "1999-01-01"}, "was": {}, "confirmed": []},
    )
    assert changed.status_code == 200, changed.text
    refused = client.post("/api/bin/r1/restored")
    assert refused.status_code == 422 and "contradict each other" in refused.text
    assert [one["id"] for one in client.get("/api/bin").json()] == ["r1"]


def test_deleted_for_good_nothing_of_it_is_left(client, photograph):
    database = client.app.state.database
    before = rows(database)
    record = record_document()
    client.post("/api/records", json=record)
    engine, visit = "/api/engines/mule", record["visits"][0]["id"]
    take(client, photograph, f"{engine}/visits/{visit}/photographs/p1?step=inspect")
    files = photographs_of(database.path)
    count = len(list(files.iterdir()))
    remove(client, "visit", visit, engine, "r1")
    remove(client, "engine", None, engine, "r2")
    assert client.delete("/api/bin/r2").json() == []
    after = rows(database)
    kept = {"audit", "results", "shim_box", "blade_sets"}
    assert {name: after[name] for name in after.keys() - kept} == {
        name: before[name] for name in before.keys() - kept
    }
    assert len(list(files.iterdir())) == count - 1
    assert client.delete("/api/bin/r2").status_code == 404


def test_after_thirty_days_it_is_deleted_for_good(client):
    database = client.app.state.database
    remove(client, "visit", "v2")
    folders, now = folders_of(database.path), datetime.now(UTC)
    with database.writing() as session:
        assert empty_old(session, folders=folders, now=now + KEPT - timedelta(minutes=1)) == 0
        assert empty_old(session, folders=folders, now=now + KEPT) == 1
    assert client.get("/api/bin").json() == []
    assert client.post("/api/bin/r1/restored").status_code == 404


def test_notes_and_photographs_come_back_from_the_bin(client, photograph):
    take(client, photograph)
    case = known(client)["cases"][0]["id"]
    notebook = f"{ENGINE}/cases/{case}/notebook"
    client.put(f"{notebook}/n1", json={"text": "ticks when warm"})
    shown = client.get(notebook).json(), client.get(f"{VISIT}/photographs").json()
    client.delete(f"{notebook}/n1")
    client.delete(f"{VISIT}/photographs/p1")
    kinds = {one["id"]: one["kind"] for one in client.get("/api/bin").json()}
    assert kinds == {"n1": "note", "p1": "photograph"}
    for one in kinds:
        client.post(f"/api/bin/{one}/restored")
    assert (client.get(notebook).json(), client.get(f"{VISIT}/photographs").json()) == shown


class TestAVisitOfTheWrongEngine:
    def test_goes_to_the_right_one_with_everything_and_its_case(self, client, photograph):
        take(client, photograph)
        source, target = known(client), known(client, "/api/engines/resurfacer-2")
        client.post(
            f"{ENGINE}/cases", json={"id": "c-new", "opened": source["visits"][-1]["date"], "visit": "v8"}
        )
        going = next(one for one in source["visits"] if one["id"] == "v8")
        moved = client.post(f"{VISIT}/moved", json={"to": "resurfacer-2"})
        assert moved.status_code == 200, moved.text
        there = moved.json()["visit"]
        now = known(client, "/api/engines/resurfacer-2")
        arrived = next(one for one in now["visits"] if one["id"] == there)
        assert {**arrived, "id": "v8"} == going
        assert len(now["visits"]) == len(target["visits"]) + 1
        assert [one["date"] for one in now["visits"]] == sorted(one["date"] for one in now["visits"])
        assert "c-new" in moved.json()["cases"]
        assert next(one for one in now["cases"] if one["id"] == "c-new")["visit"] == there
        photographs = client.get(f"/api/engines/resurfacer-2/visits/{there}/photographs").json()
        assert [one["id"] for one in photographs] == ["p1"]
        left = known(client)
        assert "v8" not in [one["id"] for one in left["visits"]]
        assert "c-new" not in [one["id"] for one in left["cases"]]
        assert client.get(f"{ENGINE}/drift").json()["visits"][-1]["visit"] != "v8"

    @pytest.mark.parametrize(
        ("to", "said"),
        [
            ("resurfacer-1", "choose another"),
            ("nowhere", "there is no engine"),
            ("thrower", "does not fit"),
        ],
    )
    def test_is_refused_where_it_means_nothing(self, client, to, said):
        before = known(client)
        refused = client.post(f"{VISIT}/moved", json={"to": to})
        assert refused.status_code == 422 and said in refused.text
        assert known(client) == before

    def test_is_refused_where_its_usage_runs_backwards(self, client):
        one = record_document()
        client.post("/api/records", json=one)
        other = {**one, "engine": {**one["engine"], "id": "mule-2"}, "cases": []}
        other["visits"] = [{**one["visits"][0], "usage": 500}]
        client.post("/api/records", json=other)
        refused = client.post("/api/engines/mule/visits/v2/moved", json={"to": "mule-2"})
        assert refused.status_code == 422 and "the running total cannot go back" in refused.text


def archived_since(client):
    timelines = client.get("/api/workshop").json()["timelines"]
    return next(one["archived"] for one in timelines if one["id"] == "resurfacer-1")


def test_an_archived_engine_is_kept_apart_and_comes_back(client):
    name = known(client)["engine"]["name"]
    assert f"SUMMARY:{name}" in client.get("/api/next-checks.ics").text
    assert client.put(f"{ENGINE}/archived", json={"archived": True}).json()["engine"]["archived"]
    compute_stale(client.app.state.database, processes=1)
    assert f"SUMMARY:{name}" not in client.get("/api/next-checks.ics").text
    assert archived_since(client) == date.today().isoformat()
    # An edit of its data does not bring it back unasked.
    detail = client.get(ENGINE).json()
    engine = {**detail["engine"], "archived": None, "duty": "spare"}
    edited = client.put(
        ENGINE, json={"engine": engine, "revision": detail["revision"], "confirmed": []}
    ).json()
    assert edited["engine"]["archived"] and edited["engine"]["duty"] == "spare"
    assert client.put(f"{ENGINE}/archived", json={"archived": False}).json()["engine"]["archived"] is None
    assert archived_since(client) is None
