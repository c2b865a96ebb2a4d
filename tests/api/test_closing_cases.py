"""Closing a case with what was found, what that teaches, and its notebook."""

import io
import json

import pytest
from PIL import Image

from pronostico.services.pictures import developed

CASE = "/api/engines/resurfacer-1/cases/c1"
OUTCOME = {
    "closed": "2026-01-15",
    "confirmed": [{"cause": "seat-recession", "side": "exhaust", "note": "head off"}],
}


@pytest.fixture
def case(client):
    opened = client.get("/api/engines").json()
    engine = next(one for one in opened if one["open_cases"])
    return f"/api/engines/{engine['id']}/cases/{engine['open_cases'][0]['id']}"


def outcome_of(client, case, **changes):
    opened = client.get(case).json()["opened"]
    return {**OUTCOME, "closed": opened, **changes}


def test_a_closed_case_teaches_and_opening_it_again_takes_that_back(client, case):
    before = client.get(case + "/diagnosis").json()
    closed = client.put(case + "/outcome", json=outcome_of(client, case))
    assert closed.status_code == 200
    assert closed.json()["confirmed"][0]["cause"] == "seat-recession"
    learned = client.get("/api/lessons").json()
    assert (learned["cases"], learned["share"]) == (1, pytest.approx(1 / 21))
    seats = learned["causes"][0]
    assert (seats["cause"], seats["found"]) == ("seat-recession", 1.0)
    assert seats["now"] > seats["stated"]
    after = client.get(case + "/diagnosis").json()
    top = next(
        one for one in after["causes"] if one["cause"] == "seat-recession" and one["where"] == "exhaust"
    )
    was = next(
        one for one in before["causes"] if one["cause"] == "seat-recession" and one["where"] == "exhaust"
    )
    assert top["prior"] > was["prior"]
    assert (top["own_share"], after["learned_cases"]) == (pytest.approx(1 / 21), 1)
    assert any(one["own_share"] > 0.05 for one in top["for"])
    book = client.get("/api/handbook").json()
    page = next(one for one in book["causes"] if one["id"] == "seat-recession")
    assert page["prior"] > page["stated_prior"]
    assert any(link["own_share"] > 0 for link in page["links"])
    # The case is no longer among the open ones, and its record carries what was found.
    assert client.get(case).json()["closed"] is not None
    again = client.delete(case + "/outcome").json()
    assert (again["closed"], again["confirmed"]) == (None, None)
    assert client.get("/api/lessons").json()["cases"] == 0
    assert client.get(case + "/diagnosis").json() == before


def test_closing_twice_counts_once_and_the_record_says_what_was_found(client, case):
    client.put(case + "/outcome", json=outcome_of(client, case, confirmed=[]))
    assert client.get("/api/lessons").json()["nothing_found"] == 1
    client.put(case + "/outcome", json=outcome_of(client, case))
    learned = client.get("/api/lessons").json()
    assert (learned["cases"], learned["nothing_found"]) == (1, 0)
    engine, case_id = case.split("/")[3], case.split("/")[5]
    record = client.get(f"/api/engines/{engine}/record").json()
    kept = next(one for one in record["cases"] if one["id"] == case_id)
    assert kept["confirmed"] == OUTCOME["confirmed"]


@pytest.mark.parametrize(
    ("changes", "path"),
    [
        ({"closed": "2999-01-01"}, "$.closed"),
        ({"closed": "1999-01-01"}, "$.closed"),
        ({"confirmed": [{"cause": "gremlins"}]}, "$.confirmed[0].cause"),
        ({"confirmed": [{"cause": "something-else"}]}, "$.confirmed[0].note"),
        ({"confirmed": [{"cause": "seat-recession"}]}, "$.confirmed[0].side"),
        ({"confirmed": [{"cause": "rings-worn"}]}, "$.confirmed[0].cylinder"),
        ({"confirmed": [{"cause": "rings-worn", "cylinder": 63}]}, "$.confirmed[0].cylinder"),
        ({"confirmed": [{"cause": "held-open", "side": "exhaust"}]}, "$.confirmed[0].cylinder"),
    ],
)
def test_an_outcome_that_cannot_be_is_refused_with_its_place(client, case, changes, path):
    answer = client.put(case + "/outcome", json=outcome_of(client, case, **changes))
    assert answer.status_code == 422
    assert path in [fault["path"] for fault in answer.json()["faults"]]
    assert client.get(case).json()["closed"] is None


def test_a_closed_case_takes_no_finding_until_it_is_opened_again(client, case):
    client.put(case + "/outcome", json=outcome_of(client, case))
    refused = client.put(case + "/findings/bog", json={"state": "present"})
    assert refused.status_code == 422
    assert "reopen it first" in refused.json()["detail"]
    client.delete(case + "/outcome")
    assert client.put(case + "/findings/bog", json={"state": "present"}).status_code == 200


def test_lessons_go_to_another_workshop_and_count_once(client, case, empty_client):
    client.put(case + "/outcome", json=outcome_of(client, case))
    handed_on = client.get("/api/lessons/file")
    assert "attachment" in handed_on.headers["content-disposition"]
    engine = case.split("/")[3]
    assert engine not in handed_on.text
    document = handed_on.json()
    brought = empty_client.post("/api/lessons/file?name=north.json", json=document)
    assert brought.json() == {"new": 1, "known": 0}
    assert empty_client.post("/api/lessons/file?name=again.json", json=document).json() == {
        "new": 0,
        "known": 1,
    }
    assert empty_client.get("/api/lessons/file").json() == document
    learned = empty_client.get("/api/lessons").json()
    assert learned["brought"] == [{"brought_from": "north.json", "lessons": 1}]
    # Its own lessons brought back to the workshop are known there.
    assert client.post("/api/lessons/file?name=own.json", json=document).json() == {"new": 0, "known": 1}
    assert empty_client.delete("/api/lessons/file?name=north.json").status_code == 204
    assert empty_client.get("/api/lessons").json()["cases"] == 0


@pytest.mark.parametrize(
    "change",
    [
        {"version": 2},
        {"format": "something"},
        {
            "lessons": [
                {
                    "id": "a",
                    "closed": "2026-01-01",
                    "expected": [{"cause": "tick", "share": 2.0}],
                    "found": [],
                    "shown": [],
                }
            ]
        },
        {"lessons": [{"id": "a", "closed": "soon", "expected": [], "found": [], "shown": []}]},
        {"extra": 1},
    ],
)
def test_a_faulty_file_of_lessons_brings_nothing_in(empty_client, change):
    document = {"format": "pronostico/lessons", "version": 1, "lessons": [], **change}
    assert empty_client.post("/api/lessons/file?name=x", json=document).status_code == 422
    assert empty_client.get("/api/lessons").json()["cases"] == 0


def picture(kind="JPEG", size=(40, 30)):
    content = io.BytesIO()
    Image.new("RGB", size, "brown").save(content, kind)
    return content.getvalue()


def test_a_note_and_a_photograph_are_kept_shown_and_taken_out(client, case):
    book = case + "/notebook"
    assert client.put(book + "/n1", json={"text": " rod rolls true "}).json()[0]["text"] == "rod rolls true"
    # Sent twice, noted once.
    assert len(client.put(book + "/n1", json={"text": "rod rolls true"}).json()) == 1
    assert client.put(book + "/n1", json={"text": "another"}).status_code == 409
    kept = client.put(book + "/p1/photograph?text=the+lobe", content=picture()).json()
    assert [(one["text"], one["media_type"]) for one in kept[1:]] == [("the lobe", "image/jpeg")]
    shown = client.get(book + "/p1/photograph")
    assert shown.content == developed(picture()).content
    assert shown.headers["content-type"] == "image/jpeg"
    assert shown.headers["x-content-type-options"] == "nosniff"
    assert client.delete(book + "/p1").json() == kept[:1]
    assert client.get(book + "/p1/photograph").status_code == 404
    assert client.delete(book + "/p1").status_code == 200
    assert client.delete(book + "/never").status_code == 404


@pytest.mark.parametrize(
    ("content", "says"),
    [
        (b"no picture at all", "JPEG, PNG or WebP"),
        (b"", "JPEG, PNG or WebP"),
        (picture()[:200], "damaged"),
        (b"<svg xmlns='http://www.w3.org/2000/svg'><script/></svg>", "JPEG, PNG or WebP"),
        (picture("GIF"), "JPEG, PNG or WebP"),
        (picture("PNG", (12_000, 12_000)), "megapixels"),
        (b"\xff\xd8" + bytes(20_000_001), "larger than 20 MB"),
    ],
    ids=["words", "nothing", "cut off", "svg", "gif", "too many pixels", "too large"],
)
def test_what_is_no_photograph_is_refused(client, case, content, says, demo_path):
    answer = client.put(case + "/notebook/p1/photograph", content=content)
    assert answer.status_code == 422
    assert says in answer.json()["detail"]
    assert client.get(case + "/notebook").json() == []
    folder = demo_path.with_name(f"{demo_path.stem}-photographs")
    assert not folder.exists() or not list(folder.iterdir())


def test_an_empty_note_is_refused(client, case):
    assert client.put(case + "/notebook/n1", json={"text": "  "}).status_code == 422
    assert json.loads(client.get(case + "/notebook").text) == []


def test_an_identifier_of_a_photograph_never_replaces_another(client, case):
    book = case + "/notebook"
    client.put(book + "/p1/photograph?text=lobe", content=picture())
    another = client.put(book + "/p1/photograph?text=lobe", content=picture(size=(50, 30)))
    assert another.status_code == 409
    assert client.get(book + "/p1/photograph").content == developed(picture()).content
    assert client.put(book + "/p1/photograph?text=lobe", content=picture()).status_code == 200
