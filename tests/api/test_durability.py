"""An answer that was acknowledged outlives the server, however it ends."""

import signal

import httpx2
import pytest
import typer

from pronostico.serving import bind, serve_application
from tests.served import end, free_port, get, start

VISIT = "/api/engines/resurfacer-1/visits/v8"
ANSWER = {"valve": "4E", "phase": "found", "blades_mm": [0.20], "felt": "drag"}


def test_an_acknowledged_answer_survives_a_killed_server(demo_path):
    port = free_port()
    server = start(demo_path, port)
    get(port, "/api/engines")
    ours = f"http://127.0.0.1:{port}"
    kept = httpx2.put(f"{ours}{VISIT}/tries/a1", json=ANSWER, timeout=10, headers={"Origin": ours})
    end(server, signal.SIGKILL)
    assert kept.status_code == 200

    again = free_port()
    server = start(demo_path, again)
    try:
        visit = get(again, VISIT).json()
    finally:
        end(server, signal.SIGTERM)
    valve = next(one for one in visit["valves"] if one["valve"] == "4E")
    assert [one["id"] for one in valve["found"]["tries"]] == ["a1"]


def test_a_busy_port_is_reported_and_the_next_free_one_taken(capsys):
    first = bind(free_port())
    busy = first.getsockname()[1]
    second = bind(busy)
    try:
        taken = second.getsockname()[1]
        assert taken > busy
        assert second.getsockname()[0] == "127.0.0.1"
        assert f"Port {busy} is busy; serving on {taken} instead." in capsys.readouterr().out
    finally:
        first.close()
        second.close()


def test_without_built_pages_serving_says_what_to_do(tmp_path, capsys):
    with pytest.raises(typer.Exit):
        serve_application(tmp_path / "x.sqlite", tmp_path, 8341)
    assert "make setup" in capsys.readouterr().err
