"""The application in a process of its own, for tests that end it or wear it out."""

import os
import signal
import socket
import subprocess
import sys
import time
from pathlib import Path

import httpx2


def free_port() -> int:
    with socket.socket() as probe:
        probe.bind(("127.0.0.1", 0))
        return int(probe.getsockname()[1])


def start(
    database: Path,
    port: int,
    *,
    through: tuple[str, ...] = (),
    address: str | None = None,
    module: str = "pronostico.cli",
) -> subprocess.Popen[str]:
    """A server, once it serves; `through`: a command that runs its own; `address`: on PostgreSQL."""
    command = [
        *through,
        sys.executable,
        "-m",
        module,
        "serve",
        "--port",
        str(port),
        *(("--database", str(database)) if address is None else ()),
    ]
    where = (
        {} if address is None else {"PRONOSTICO_DATABASE": str(database), "PRONOSTICO_DATABASE_URL": address}
    )
    server = subprocess.Popen(
        command,
        stdout=subprocess.PIPE,
        text=True,
        env={**os.environ, **where, "PYTHONUNBUFFERED": "1"},
    )
    assert server.stdout is not None
    line = server.stdout.readline()
    assert f"http://127.0.0.1:{port}/" in line
    return server


def end(server: subprocess.Popen[str], how: signal.Signals) -> None:
    server.send_signal(how)
    server.wait(timeout=20)
    assert server.stdout is not None
    server.stdout.close()


def get(port: int, path: str) -> httpx2.Response:
    for _ in range(100):
        try:
            return httpx2.get(f"http://127.0.0.1:{port}{path}", timeout=10)
        except httpx2.ConnectError:
            time.sleep(0.1)
    raise AssertionError("the server does not answer")
