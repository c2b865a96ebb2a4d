"""Photographs of a visit: at a step and a valve, with a caption, on the job card."""

import io

import pytest
from PIL import Image

VISIT = "/api/engines/resurfacer-1/visits/v8"
PHOTOGRAPHS = f"{VISIT}/photographs"


def picture(colour="sienna"):
    made = io.BytesIO()
    Image.new("RGB", (60, 40), colour).save(made, "PNG")
    return made.getvalue()


def put(client, id="p1", colour="sienna", where="step=measure&valve=4E&text=seat"):
    return client.put(f"{PHOTOGRAPHS}/{id}?{where}", content=picture(colour))


def test_it_is_kept_with_its_step_valve_and_caption_and_shown(client):
    (kept,) = put(client).json()
    assert (kept["id"], kept["step"], kept["valve"], kept["text"]) == ("p1", "measure", "4E", "seat")
    assert not kept["on_card"]
    shown = client.get(f"{PHOTOGRAPHS}/p1/picture")
    assert shown.headers["content-type"] == "image/jpeg"
    assert Image.open(io.BytesIO(shown.content)).size == (60, 40)
    # Another visit has none of it.
    assert client.get("/api/engines/resurfacer-1/visits/v7/photographs").json() == []


def test_sent_twice_it_is_kept_once_and_another_never_replaces_it(client):
    put(client)
    assert len(put(client).json()) == 1
    assert put(client, colour="navy").status_code == 409
    # A repeat that comes after the caption was changed changes nothing back.
    body = {"valve": None, "text": "burnt", "on_card": True}
    client.put(f"{PHOTOGRAPHS}/p1/caption", json=body)
    (kept,) = put(client).json()
    assert {key: kept[key] for key in body} == body


def test_captions_of_two_people_meet_and_clashing_ones_are_refused(client):
    put(client)
    was = {"valve": "4E", "text": "seat", "on_card": False}
    path = f"{PHOTOGRAPHS}/p1/caption"
    assert client.put(path, json={**was, "on_card": True, "was": was}).status_code == 200
    (kept,) = client.put(path, json={**was, "text": "seat, burnt", "was": was}).json()
    assert kept["on_card"] and kept["text"] == "seat, burnt"
    clash = client.put(path, json={**was, "text": "worn", "was": was})
    assert clash.status_code == 409 and "changed to seat, burnt" in clash.text


def test_a_removed_one_is_gone_and_removing_it_again_is_no_error(client):
    put(client)
    for _ in range(2):
        assert client.delete(f"{PHOTOGRAPHS}/p1").json() == []
    assert client.get(f"{PHOTOGRAPHS}/p1/picture").status_code == 404
    caption = {"valve": None, "text": "", "on_card": True}
    assert client.put(f"{PHOTOGRAPHS}/p1/caption", json=caption).status_code == 404


@pytest.mark.parametrize(
    ("method", "path", "status", "says"),
    [
        ("PUT", f"{PHOTOGRAPHS}/p1?step=measure&valve=9X", 422, "no valve '9X'"),
        ("PUT", f"{PHOTOGRAPHS}/p1?step=lunch", 422, "step"),
        ("PUT", "/api/engines/resurfacer-1/visits/v99/photographs/p1?step=measure", 404, "v99"),
        ("DELETE", f"{PHOTOGRAPHS}/never", 404, "never"),
    ],
)
def test_what_cannot_be_is_refused_with_its_reason(client, method, path, status, says):
    content = picture() if method == "PUT" else None
    answer = client.request(method, path, content=content)
    assert answer.status_code == status and says in answer.text


def test_no_picture_is_refused_and_nothing_is_kept(client):
    answer = client.put(f"{PHOTOGRAPHS}/p1?step=measure", content=b"<svg/>")
    assert answer.status_code == 422 and "JPEG, PNG or WebP" in answer.text
    assert client.get(PHOTOGRAPHS).json() == []


def test_the_job_card_shows_the_chosen_ones_alone(client):
    without = client.get(f"{VISIT}/card.pdf").content
    put(client)
    assert abs(len(client.get(f"{VISIT}/card.pdf").content) - len(without)) < 200
    client.put(f"{PHOTOGRAPHS}/p1/caption", json={"valve": "4E", "text": "seat", "on_card": True})
    card = client.get(f"{VISIT}/card.pdf").content
    assert card.count(b"/Subtype /Image") == 1 and without.count(b"/Subtype /Image") == 0
