"""Serves the application: on this machine alone, or on the network where everybody signs in."""

import gc
import os
import secrets
import signal
import socket
import sys
import threading
from collections.abc import Callable
from contextlib import nullcontext
from dataclasses import dataclass
from datetime import UTC, datetime
from functools import partial
from pathlib import Path

import typer
import uvicorn

from pronostico.api.app import create_app, detach
from pronostico.api.who_asks import Network
from pronostico.errors import UnusableDatabase
from pronostico.logs import configure_logs
from pronostico.network.addresses import Addresses, Reachable
from pronostico.network.certificates import (
    ServedWith,
    UnusableCertificate,
    given_certificate,
    own_certificate,
)
from pronostico.network.renewal import Renewal
from pronostico.services.demonstration import MadeUp
from pronostico.services.staging import clear_unfinished
from pronostico.services.workshop.bin import empty_old
from pronostico.settings import EVERYWHERE, HOST, Settings, certificates_of, folders_of
from pronostico.store.database import Database
from pronostico.store.opening import served_by_one
from pronostico.store.people import owners
from pronostico.voice.hearing import MOST_BYTES

_PORTS_TO_TRY = 50
_KEEP_ALIVE_S = 75
"""A connection that nobody uses is let go by whoever asks, or by what stands between (60 s is usual): let go
here first, it may be just when a request is on its way, which is then lost."""
# Without those that are taken for each other when read off a screen.
_CODE_LETTERS = "ABCDEFGHJKLMNPQRSTUVWXYZ23456789"


@dataclass(frozen=True, slots=True)
class OnNetwork:
    """To be served beyond this machine, with a certificate of one's own where one is given."""

    certificate: Path | None = None
    key: Path | None = None


def bind(port: int, host: str = HOST) -> socket.socket:
    """A listening socket on the port, or on the next free one, saying so.

    Raises:
        typer.Exit: none of the next ports is free.
    """
    for candidate in range(port, min(port + _PORTS_TO_TRY, 65536)):
        listener = socket.socket(socket.AF_INET, socket.SOCK_STREAM)
        listener.setsockopt(socket.SOL_SOCKET, socket.SO_REUSEADDR, 1)
        try:
            listener.bind((host, candidate))
            listener.listen()
        except OSError:
            listener.close()
            continue
        if candidate != port:
            typer.echo(f"Port {port} is busy; serving on {candidate} instead.")
        return listener
    typer.echo(
        f"No free port from {port} to {port + _PORTS_TO_TRY - 1}; choose another with --port.", err=True
    )
    raise typer.Exit(1)


def serve_application(
    database_path: Path,
    static: Path,
    port: int,
    *,
    address: str | None = None,
    on_network: OnNetwork | None = None,
    made_up: MadeUp | None = None,
) -> None:
    """Serve until interrupted.

    Args:
        made_up: the workshop is the demonstration.
        on_network: None: on this machine alone.
        address: of a PostgreSQL database in place of the file, which others may serve at the same time.
    """
    if not (static / "index.html").is_file():
        typer.echo("The pages are not built; run 'make setup' first.", err=True)
        raise typer.Exit(1)
    configure_logs(Settings().log_level)
    try:
        with served_by_one(database_path) if address is None else nullcontext():
            _serve(database_path, address, static, port, on_network, made_up)
    except (UnusableDatabase, UnusableCertificate) as error:
        typer.echo(str(error), err=True)
        raise typer.Exit(1) from error


class WebServer(uvicorn.Server):
    """A server that ends at once, though pages listen for what others change."""

    async def shutdown(self, sockets: list[socket.socket] | None = None) -> None:
        """End, pages let go first."""
        watch = getattr(getattr(self.config.app, "state", None), "watch", None)
        if watch is not None:
            watch.end()
        await super().shutdown(sockets)


@dataclass(frozen=True, slots=True)
class _Door:
    """Where the application listens, and how it is reached.

    `certificate`: reads or makes the one that is right by then for the addresses.
    """

    listener: socket.socket
    network: Network | None = None
    served_with: ServedWith | None = None
    certificate: Callable[[Addresses], ServedWith] | None = None


def _door(database: Database, port: int, on_network: OnNetwork | None) -> _Door:
    """Begin to listen, and say where.

    Raises:
        UnusableCertificate: the certificate cannot be served with.
    """
    if on_network is None:
        listener = bind(port)
        typer.echo(f"Pronostico is at http://{HOST}:{listener.getsockname()[1]}/ (Ctrl-C ends it)")
        return _Door(listener)
    listener = bind(port, EVERYWHERE)
    reachable = Reachable(listener.getsockname()[1])
    given, key = on_network.certificate, on_network.key
    if given is not None and key is not None:

        def certificate(_: Addresses) -> ServedWith:
            return given_certificate(given, key)
    else:
        certificate = partial(own_certificate, certificates_of(database.path))
    try:
        served_with = certificate(reachable.addresses)
    except UnusableCertificate:
        listener.close()
        raise
    code = "-".join("".join(secrets.choice(_CODE_LETTERS) for _ in range(4)) for _ in range(3))
    network = Network(reachable, code, served_with.authority)
    typer.echo("Pronostico is at (Ctrl-C ends it)")
    for link in reachable.links:
        typer.echo(f"  {link}")
    if served_with.fingerprint is not None:
        typer.echo("A phone trusts it once it trusts the certificate at /authority.crt, whose SHA-256 is")
        typer.echo(f"  {served_with.fingerprint}")
    with database.reading() as session:
        if not owners(session):
            typer.echo(
                f"Nobody can sign in yet. Whoever opens it first becomes the owner with the code {code}"
            )
    return _Door(listener, network, served_with, certificate)


def end_with_standard_input() -> None:
    """Have this process end, as by Ctrl-C, when whoever started it closes its standard input or ends."""

    def watch() -> None:
        while sys.stdin.readline():
            pass
        os.kill(os.getpid(), signal.SIGINT)

    threading.Thread(target=watch, daemon=True).start()


def _serve(
    database_path: Path,
    address: str | None,
    static: Path,
    port: int,
    on_network: OnNetwork | None,
    made_up: MadeUp | None,
) -> None:
    if address is None:
        # Where others serve too, what is unfinished may be theirs.
        folders = folders_of(database_path)
        for folder in (database_path.parent, folders.photographs, folders.recordings):
            clear_unfinished(folder)
    database = Database(database_path, address)
    try:
        door = _door(database, port, on_network)
    except UnusableCertificate:
        database.close()
        raise
    application = create_app(database, static, door.network)
    application.state.made_up = made_up
    # What was loaded so far stays: the collector need not scan it each time timelines are read.
    gc.freeze()
    application.state.background.ask()
    application.state.daily_copies.start()
    with database.writing() as session:
        empty_old(session, folders=folders_of(database_path), now=datetime.now(UTC))
    served_with = door.served_with
    renewal: Renewal | None = None
    try:
        # A trace that is still being drawn does not hold up the end.
        config = uvicorn.Config(
            application,
            log_level="warning",
            timeout_graceful_shutdown=3,
            timeout_keep_alive=_KEEP_ALIVE_S,
            # Sound comes in pieces of a few kilobytes.
            ws_max_size=2 * MOST_BYTES,
            ssl_certfile=None if served_with is None else served_with.certificate,
            ssl_keyfile=None if served_with is None else served_with.key,
        )
        config.load()
        if config.ssl and served_with and door.network and door.certificate:
            renewal = Renewal(config.ssl, served_with, door.network.reachable, door.certificate)
            renewal.start()
        WebServer(config).run(sockets=[door.listener])
    finally:
        if renewal is not None:
            renewal.close()
        detach(application)
        database.close()
