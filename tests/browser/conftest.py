"""The real page in Debian's Chromium, over a demonstration served on a port of its own."""

import os
import shutil
import threading
from collections.abc import Callable, Iterator
from contextlib import AbstractContextManager
from pathlib import Path
from typing import Any

import pytest
import uvicorn
from fastapi import FastAPI
from playwright.sync_api import Page, expect
from sqlalchemy import delete, select
from sqlalchemy.orm import Session

from pronostico.api.app import attach, build_app, detach
from pronostico.serving import WebServer, bind
from pronostico.settings import Settings
from pronostico.store.database import Database
from pronostico.store.tables import ResultRow, VisitRow
from tests.conftest import own_copy, the_app

# Keep Chromium from calling anywhere by itself.
ARGS = [
    "--no-sandbox",
    "--disable-gpu",
    "--disable-quic",
    "--no-first-run",
    "--disable-background-networking",
    "--disable-component-update",
    "--disable-sync",
]


# The machine may be shared and slow; nothing here is about speed.
LIMIT_MS = int(os.environ.get("EXPECT_MS", "30000"))
expect.set_options(timeout=LIMIT_MS)


@pytest.fixture(autouse=True)
def _limited(context):
    """No press waits for ever for its button."""
    context.set_default_timeout(LIMIT_MS)


@pytest.fixture(scope="session")
def browser_type_launch_args(browser_type_launch_args):
    return {
        **browser_type_launch_args,
        # The same engine without the window that nobody sees: a quarter faster, where it is installed.
        "executable_path": shutil.which("chromium-headless-shell") or shutil.which("chromium"),
        "args": [*browser_type_launch_args.get("args", []), *ARGS],
    }


@pytest.fixture(scope="session")
def browser_context_args(browser_context_args):
    return {
        **browser_context_args,
        "viewport": {"width": 1280, "height": 800},
        "reduced_motion": "reduce",
        # What it fetches is not seen by the tests that stand in for the server.
        "service_workers": "block",
    }


@pytest.fixture(scope="session")
def base_url():
    # Each test has a server, and so an address, of its own; the plug-in's fixture warns under this pytest.
    return ""


class Server:
    """The application in a thread of its own; it can be stopped and started again on the same port."""

    def __init__(self, database_path: Path, app: FastAPI | None = None) -> None:
        self.path, self.app = database_path, app or the_app(Settings().static)
        # Any free port: several of these run beside each other.
        listener = bind(0)
        self.port = listener.getsockname()[1]
        self._run(listener)

    @property
    def address(self) -> str:
        return f"http://127.0.0.1:{self.port}"

    def _run(self, listener) -> None:
        self._database = Database(self.path)
        attach(self.app, self._database)
        self._server = WebServer(uvicorn.Config(self.app, log_level="warning"))
        self._thread = threading.Thread(target=self._server.run, kwargs={"sockets": [listener]}, daemon=True)
        self._thread.start()

    def stop(self) -> None:
        self._server.should_exit = True
        self._thread.join(timeout=20)
        detach(self.app)
        self.app.dependency_overrides.clear()
        self._database.close()

    def override(self, depended: Callable[..., Any], by: Callable[..., Any]) -> None:
        """Give the routes something else to depend on."""
        self.app.dependency_overrides[depended] = by

    def writing(self) -> AbstractContextManager[Session]:
        """A session to change what is stored behind the pages' back."""
        return self._database.writing()

    def forget_results(self, session: Session) -> None:
        """As if nothing had been computed yet."""
        session.execute(delete(ResultRow))
        session.commit()

    def forget_visits(self, session: Session, engine_id: str) -> None:
        """As if an engine had never been looked at."""
        for row in session.scalars(select(VisitRow).where(VisitRow.engine_id == engine_id)):
            for reading in row.readings:
                for one in reading.tries:
                    session.delete(one)
            session.flush()
            for part in (*row.readings, *row.settings, *row.findings):
                session.delete(part)
            session.flush()
            session.delete(row)
        session.commit()

    def start_again(self) -> None:
        listener = bind(self.port)
        assert listener.getsockname()[1] == self.port
        self._run(listener)


@pytest.fixture
def server(computed: Path, tmp_path: Path) -> Iterator[Server]:
    running = Server(own_copy(computed, tmp_path))
    yield running
    running.stop()


@pytest.fixture(scope="module")
def reading_server(computed: Path, tmp_path_factory: pytest.TempPathFactory) -> Iterator[Server]:
    """One server for all tests of a file that only look."""
    running = Server(own_copy(computed, tmp_path_factory.mktemp("reading")), app=build_app(Settings().static))
    yield running
    running.stop()


@pytest.fixture
def watched(page: Page, server: Server) -> Iterator[Page]:
    """A page on which an error in the console, or a request to any other host, fails the test."""
    wrong: list[str] = []

    def on_console(message) -> None:
        # The tests' own doing.
        if message.type in ("error", "warning") and "blocked by Playwright" not in message.text:
            wrong.append(f"console: {message.text}")

    page.on("console", on_console)
    page.on("pageerror", lambda error: wrong.append(f"page: {error}"))

    def on_request(request) -> None:
        if not request.url.startswith((server.address, "data:", "blob:")):
            wrong.append(f"request to {request.url}")

    page.on("request", on_request)
    yield page
    assert wrong == []
