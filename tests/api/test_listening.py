"""The way of sound to the recogniser and back: who may use it, how many, and what happens to it."""

import io
import json
import sys
import time
from contextlib import contextmanager

import pytest
from starlette.testclient import WebSocketDenialResponse
from starlette.websockets import WebSocketDisconnect

from pronostico.api import listening
from pronostico.voice import hearing
from tests.conftest import OURS

VISIT = "/api/engines/resurfacer-1/visits/v8"
PIECE = bytes(3200)
# Stands in for the recogniser: tells what it was begun with, then one word for each piece of sound.
ECHO = """
import sys, json, struct
settings = json.loads(sys.stdin.buffer.readline())
print(json.dumps({"kind": "ready", "settings": settings}), flush=True)
while len(head := sys.stdin.buffer.read(5)) == 5:
    kind, length = struct.unpack(">cI", head)
    sys.stdin.buffer.read(length)
    print(json.dumps({"kind": kind.decode(), "length": length}), flush=True)
"""
READY = "import json, time; print(json.dumps({'kind': 'ready'}), flush=True); "
DEAF, ENDING = READY + "time.sleep(30)", READY


@pytest.fixture
def stands_in(monkeypatch):
    def put(script: str) -> None:
        monkeypatch.setattr(hearing, "COMMAND", (sys.executable, "-c", script))

    put(ECHO)
    return put


@contextmanager
def listened(client, query: str = "", visit: str = VISIT, **how):
    address = f"{OURS.replace('http', 'ws')}{visit}/listening{query}"
    with client.websocket_connect(address, **how) as socket:
        yield socket


def test_it_is_said_whether_anything_can_be_heard(client, monkeypatch):
    assert client.get("/api/listening").json() == {"missing": None}
    monkeypatch.setattr(hearing, "missing_package", lambda: "pocketsphinx")
    missing = client.get("/api/listening").json()["missing"]
    assert "'pocketsphinx'" in missing and "make setup" in missing
    with listened(client) as socket:
        assert socket.receive_json() == {"kind": "refused", "detail": missing}


def test_sound_goes_to_a_recogniser_of_the_set_in_use(client, stands_in):
    blades_mm = client.get(VISIT).json()["blade_set"]["blades_mm"]
    with listened(client, "?prefix_always=false") as socket:
        began = socket.receive_json()
        assert began["settings"] == {"blades_mm": blades_mm, "unit": "mm", "prefix_always": False}
        socket.send_bytes(PIECE)
        assert socket.receive_json() == {"kind": "s", "length": 3200}
        socket.send_text("prompted")
        assert socket.receive_json() == {"kind": "p", "length": 0}


@pytest.mark.parametrize(
    ("visit", "why"),
    [(VISIT.replace("v8", "v99"), "no visit 'v99'"), (VISIT.replace("resurfacer-1", "none"), "no engine")],
)
def test_nobody_listens_at_a_visit_that_is_not_there(client, stands_in, visit, why):
    with listened(client, visit=visit) as socket:
        refused = socket.receive_json()
    assert refused["kind"] == "refused" and why in refused["detail"]


def test_pages_of_other_sites_hear_nothing(client, stands_in):
    for headers in ({"origin": "http://elsewhere.example"}, {"sec-fetch-site": "cross-site"}):
        with pytest.raises((WebSocketDenialResponse, WebSocketDisconnect)), listened(client, headers=headers):
            pass


def test_a_recogniser_that_falls_behind_is_spared_and_that_is_said(client, stands_in):
    stands_in(DEAF)
    with listened(client) as socket:
        assert socket.receive_json()["kind"] == "ready"
        for _ in range(60):
            socket.send_bytes(PIECE)
        assert socket.receive_json() == {"kind": "late"}


def test_a_piece_too_large_ends_it(client, stands_in):
    with listened(client) as socket:
        assert socket.receive_json()["kind"] == "ready"
        socket.send_bytes(bytes(hearing.MOST_BYTES + 2))
        with pytest.raises(WebSocketDisconnect):
            socket.receive_json()


def test_a_recogniser_that_breaks_off_is_told(client, stands_in):
    stands_in(ENDING)
    with listened(client) as socket:
        assert socket.receive_json()["kind"] == "ready"
        assert "start it again" in socket.receive_json()["detail"]


def test_so_many_are_listened_to_and_those_who_go_make_room(client, stands_in, monkeypatch):
    monkeypatch.setattr(listening, "MOST_LISTENERS", 1)
    with listened(client) as first:
        assert first.receive_json()["kind"] == "ready"
        with listened(client) as second:
            assert "1 devices are listened to" in second.receive_json()["detail"]
    for _ in range(100):
        if client.app.state.listeners.count == 0:
            break
        time.sleep(0.05)
    with listened(client) as third:
        assert third.receive_json()["kind"] == "ready"


def test_the_recogniser_talks_by_lines_and_ends_with_its_input():
    settings = hearing.Settings((0.1, 0.15), "mm", prefix_always=True)
    given = io.BytesIO(
        settings.line() + hearing.piece(hearing.SOUND, PIECE) + hearing.piece(hearing.PROMPTED) + b"s\x00\x00"
    )
    told = io.StringIO()
    hearing.listen(given, told)
    assert [json.loads(line) for line in told.getvalue().splitlines()] == [{"kind": "ready"}]


def test_an_answer_is_expected_by_what_was_read_before(client):
    def asked(**query):
        return client.get(f"{VISIT}/valves/4E/expected-answers", params={"phase": "found", **query})

    thick, thin = asked(blades_mm=0.4).json(), asked(blades_mm=[0.02]).json()
    assert thick["probability"]["no-go"] > 0.9 and "free" in thick["unlikely"]
    assert sum(thin["probability"].values()) == pytest.approx(1.0)
    assert asked(blades_mm=[0.2, 0.04]).json()["probability"] != thick["probability"]
    assert asked(blades_mm=7).status_code == 422
    assert client.get(f"{VISIT}/valves/9X/expected-answers?phase=found&blades_mm=0.1").status_code == 422
