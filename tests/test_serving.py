"""The server begins: on a free port, over built pages."""

import pytest
import typer

from pronostico.serving import bind, serve_application
from tests.served import free_port

VISIT = "/api/engines/resurfacer-1/visits/v8"
ANSWER = {"valve": "4E", "phase": "found", "blades_mm": [0.20], "felt": "drag"}


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
