"""The server begins: on a free port, over built pages."""

import http.client
import os
import ssl
import subprocess
import sys
import time
from contextlib import closing

import httpx2
import pytest
import typer
from cryptography import x509

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


# Looks for another certificate more often than each minute.
SERVES = """
from pronostico.network import renewal
renewal._LOOKED_EVERY_S = 0.5
from pronostico.cli import main
main()
"""


def serial_number(port):
    """Of the certificate that a new connection is given."""
    shown = ssl.get_server_certificate(("127.0.0.1", port), timeout=20)
    return x509.load_pem_x509_certificate(shown.encode()).serial_number


@pytest.mark.file_only
def test_on_the_network_it_is_served_encrypted_and_says_how_the_first_owner_begins(tmp_path):
    database, port = tmp_path / "workshop.sqlite", free_port()
    command = [sys.executable, "-c", SERVES, "serve", "--lan", "--port", str(port)]
    server = subprocess.Popen(
        [*command, "--database", str(database)],
        stdout=subprocess.PIPE,
        text=True,
        env={**os.environ, "PYTHONUNBUFFERED": "1"},
    )
    try:
        assert server.stdout is not None
        printed = []
        while not printed or "with the code" not in printed[-1]:
            printed.append(server.stdout.readline())
            assert printed[-1], printed
        code = printed[-1].split()[-1]
        here = f"https://localhost:{port}"
        trusted = ssl.create_default_context(cafile=tmp_path / "workshop-certificates" / "authority.crt")
        with httpx2.Client(base_url=here, verify=trusted, headers={"Origin": here}, timeout=20) as phone:
            assert phone.get("/").status_code == 200
            assert phone.get("/authority.crt").content.startswith(b"-----BEGIN CERTIFICATE")
            assert phone.get("/api/engines").status_code == 401
            owner = {"code": code, "name": "Mira Sand", "password": "gasket blue winter"}
            assert phone.post("/api/session/first-owner", json=owner).status_code == 204
            assert phone.get("/api/engines").json() == []
        with closing(http.client.HTTPSConnection("localhost", port, timeout=20, context=trusted)) as kept:
            for pause_s in (6, 0):
                kept.request("GET", "/")
                assert kept.getresponse().read()
                # What stands between keeps connections for longer than the five seconds that are usual.
                time.sleep(pause_s)
        with pytest.raises(httpx2.HTTPError):
            httpx2.get(f"http://localhost:{port}/", timeout=5)
        # One that is gone is made anew, and served with while the server runs.
        before = serial_number(port)
        (tmp_path / "workshop-certificates" / "server.crt").unlink()
        end = time.monotonic() + 60
        while serial_number(port) == before:
            assert time.monotonic() < end, "it was never renewed"
            time.sleep(0.2)
    finally:
        server.kill()
        server.wait()
        server.stdout.close()
