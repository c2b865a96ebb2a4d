"""Only the product's own pages change anything, and only with the kind of body that a route takes."""

import json

import pytest

from tests.builders import record_document
from tests.conftest import OURS

RECORD = json.dumps(record_document()).encode()
JSON = {"content-type": "application/json"}


def told(client, headers, *, path="/api/records", method="POST", content=RECORD):
    """The answer to a request with exactly these headers of where it comes from."""
    client.headers.pop("origin", None)
    return client.request(method, path, content=content, headers=headers)


@pytest.mark.parametrize(
    "source",
    [
        {},
        {"Origin": "http://elsewhere.test"},
        {"Origin": "null"},
        {"Origin": "https://127.0.0.1"},
        {"Origin": "http://127.0.0.1:8080"},
        {"Origin": "http://127.0.0.1.elsewhere.test"},
        {"Sec-Fetch-Site": "cross-site"},
        {"Sec-Fetch-Site": "same-site"},
        # What a browser says of itself counts for more than what a page could have made up.
        {"Sec-Fetch-Site": "cross-site", "Origin": OURS},
    ],
)
def test_a_page_of_another_site_changes_nothing(empty_client, source):
    for kind in ("text/plain", "application/json", "application/x-www-form-urlencoded"):
        answer = told(empty_client, {**source, "content-type": kind})
        assert answer.status_code == 403
        assert answer.json()["type"].endswith("other-origin")
    assert empty_client.get("/api/engines").json() == []


@pytest.mark.parametrize(
    "source", [{"Origin": OURS}, {"Sec-Fetch-Site": "same-origin"}, {"Sec-Fetch-Site": "none"}]
)
def test_our_own_pages_do(empty_client, source):
    assert told(empty_client, {**source, **JSON}).status_code == 201


@pytest.mark.parametrize("method", ["PUT", "PATCH", "DELETE"])
def test_every_way_of_changing_something_is_looked_at(client, method):
    answer = told(client, {"Origin": "http://elsewhere.test", **JSON}, method=method, path="/api/nowhere")
    assert answer.status_code == 403


def test_reading_is_open_to_whoever_reaches_the_address(client):
    client.headers.pop("origin", None)
    assert client.get("/api/engines", headers={"Origin": "http://elsewhere.test"}).status_code == 200
    # And yet no page of another site is allowed to see the answer.
    assert "access-control-allow-origin" not in client.get("/api/engines").headers


@pytest.mark.parametrize(
    ("path", "kind", "expected"),
    [
        ("/api/records", "text/plain", "application/json"),
        ("/api/records", "", "application/json"),
        ("/api/records/preview", "application/x-www-form-urlencoded", "application/json"),
        ("/api/backup", "application/json", "application/zip"),
        ("/api/backup", "text/plain", "application/zip"),
        ("/api/engines/resurfacer-1/readings-sheet", "text/plain", "text/csv"),
        ("/api/engines/resurfacer-1/cases", "text/plain", "application/json"),
    ],
)
def test_a_body_of_another_kind_is_refused_with_what_would_be_right(client, path, kind, expected):
    answer = client.post(path, content=b"{}", headers={"content-type": kind})
    assert answer.status_code == 415
    assert expected in answer.json()["title"]


def test_the_host_is_one_that_we_are_served_from(client):
    for host in ("testserver", "elsewhere.test", "127.0.0.1.elsewhere.test"):
        assert client.get("/api/engines", headers={"host": host}).status_code == 400
    assert client.get("/api/engines", headers={"host": "localhost"}).status_code == 200
