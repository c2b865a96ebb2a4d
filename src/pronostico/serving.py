"""Serves the application on this machine alone, on the port asked for or the next free one."""

import gc
import socket
from contextlib import nullcontext
from pathlib import Path

import typer
import uvicorn

from pronostico.api.app import create_app, detach
from pronostico.errors import UnusableDatabase
from pronostico.logs import configure_logs
from pronostico.services.staging import clear_unfinished
from pronostico.settings import HOST, Settings, photographs_of
from pronostico.store.database import Database
from pronostico.store.opening import served_by_one

_PORTS_TO_TRY = 50


def bind(port: int) -> socket.socket:
    """A listening socket on the port, or on the next free one, saying so.

    Raises:
        typer.Exit: none of the next ports is free.
    """
    for candidate in range(port, min(port + _PORTS_TO_TRY, 65536)):
        listener = socket.socket(socket.AF_INET, socket.SOCK_STREAM)
        listener.setsockopt(socket.SOL_SOCKET, socket.SO_REUSEADDR, 1)
        try:
            listener.bind((HOST, candidate))
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


def serve_application(database_path: Path, static: Path, port: int, *, address: str | None = None) -> None:
    """Serve until interrupted.

    Args:
        address: of a PostgreSQL database in place of the file, which others may serve at the same time.
    """
    if not (static / "index.html").is_file():
        typer.echo("The pages are not built; run 'make setup' first.", err=True)
        raise typer.Exit(1)
    configure_logs(Settings().log_level)
    try:
        with served_by_one(database_path) if address is None else nullcontext():
            _serve(database_path, address, static, port)
    except UnusableDatabase as error:
        typer.echo(str(error), err=True)
        raise typer.Exit(1) from error


def _serve(database_path: Path, address: str | None, static: Path, port: int) -> None:
    if address is None:
        # Where others serve too, what is unfinished may be theirs.
        for folder in (database_path.parent, photographs_of(database_path)):
            clear_unfinished(folder)
    database = Database(database_path, address)
    listener = bind(port)
    typer.echo(f"Pronostico is at http://{HOST}:{listener.getsockname()[1]}/ (Ctrl-C ends it)")
    application = create_app(database, static)
    # What was loaded so far stays: the collector need not scan it each time timelines are read.
    gc.freeze()
    application.state.background.ask()
    application.state.daily_copies.start()
    try:
        # A trace that is still being drawn does not hold up the end.
        config = uvicorn.Config(application, log_level="warning", timeout_graceful_shutdown=3)
        uvicorn.Server(config).run(sockets=[listener])
    finally:
        detach(application)
        database.close()
