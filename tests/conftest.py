"""Databases and clients over the demonstration, fresh for each test that asks for one."""

import fcntl
import os
import shutil
import time
from collections.abc import Callable, Iterator
from datetime import UTC, date, datetime
from functools import cache
from pathlib import Path
from typing import Any

import hypothesis
import pytest
from fastapi import FastAPI
from fastapi.testclient import TestClient
from sqlalchemy import delete

from pronostico.api.app import attach, build_app, detach
from pronostico.demo.seed import seed_demo
from pronostico.services.engines.background import compute_stale
from pronostico.settings import Settings
from pronostico.store.database import Database
from pronostico.store.tables import ResultRow
from tests.databases import DATABASES, ON_POSTGRESQL, opened


def _far_from_midnight() -> None:
    """A zone in which the day of the tests has just begun, for this process and all that it starts.

    The demonstration ends yesterday and a visit has the day it was made on: a run over midnight would
    compare two days. ``TZ`` of one's own is left alone.
    """
    if "TZ" not in os.environ:
        east_h = 6 - datetime.now(UTC).hour
        east_h += 24 if east_h < -12 else 0
        # The sign in these names is that of POSIX: hours to the west.
        os.environ["TZ"] = f"Etc/GMT{-east_h:+d}"
        time.tzset()


_far_from_midnight()

# The machine may be shared and slow: how long an example takes says nothing about it.
hypothesis.settings.register_profile("unhurried", deadline=None)
# A run that decides over a change tries the same examples each time; runs at a desk look for new ones.
hypothesis.settings.register_profile("decisive", deadline=None, derandomize=True)
hypothesis.settings.load_profile("decisive" if os.environ.get("CI") else "unhurried")


def pytest_collection_modifyitems(items: list[pytest.Item]) -> None:
    """On a server, tests of what is SQLite's own have nothing to test."""
    for item in items:
        if ON_POSTGRESQL and item.get_closest_marker("file_only"):
            item.add_marker(pytest.mark.skip("of SQLite's own"))


@pytest.fixture(autouse=True, scope="session")
def _databases() -> Iterator[None]:
    yield
    DATABASES.close()


@pytest.fixture(autouse=True)
def _databases_of_a_test() -> Iterator[None]:
    yield
    DATABASES.forget()


@pytest.fixture(scope="session")
def whole_run(tmp_path_factory: pytest.TempPathFactory) -> Path:
    """A folder that all processes of a run share."""
    own = tmp_path_factory.getbasetemp()
    return own.parent if "PYTEST_XDIST_WORKER" in os.environ else own


def _made_once(folder: Path, make: Callable[[Path], None]) -> Path:
    """A folder filled by whichever process comes first; the others wait for it."""
    with folder.with_suffix(".lock").open("w") as lock:
        fcntl.flock(lock, fcntl.LOCK_EX)
        if not folder.exists():
            half = folder.with_suffix(".half")
            half.mkdir()
            make(half)
            half.rename(folder)
    return folder


@pytest.fixture(scope="session")
def seeded(whole_run: Path) -> Path:
    """The demonstration, made once; nothing of it is computed yet."""

    def make(folder: Path) -> None:
        seed_demo(folder, today=date.today(), now=datetime.now(UTC))

    return _the_database(_made_once(whole_run / "seeded", make))


@pytest.fixture(scope="session")
def computed(seeded: Path, whole_run: Path) -> Path:
    """The same with every result, as the pages find it a few seconds after the start."""

    def make(folder: Path) -> None:
        database = Database(own_copy(seeded, folder))
        assert not compute_stale(database, processes=1).failed
        database.close()

    return _the_database(_made_once(whole_run / "computed", make))


def _the_database(folder: Path) -> Path:
    (path,) = folder.glob("*.sqlite")
    return path


def own_copy(demo: Path, folder: Path) -> Path:
    """The demonstration's database and all that lies beside it, for one test to change."""
    shutil.copytree(demo.parent, folder, dirs_exist_ok=True)
    return folder / demo.name


@pytest.fixture
def demo_path(computed: Path, tmp_path: Path) -> Path:
    return own_copy(computed, tmp_path)


@pytest.fixture
def not_computed(demo_path: Path) -> None:
    """The demonstration as it is before anything of it was computed."""
    database = opened(demo_path)
    with database.writing() as session:
        session.execute(delete(ResultRow))
        session.commit()
    database.close()


OURS = "http://127.0.0.1"


class OwnPage(TestClient):
    """Asks as the product's own pages do: from their address, and saying of a file what it is."""

    _KINDS = (
        ("/photograph", "image/png"),
        ("/replay", "text/csv"),
        ("readings-sheet", "text/csv"),
        ("/api/backup", "application/zip"),
    )

    def __init__(self, app: FastAPI, *, raising: bool = True) -> None:
        super().__init__(app, base_url=OURS, headers={"Origin": OURS}, raise_server_exceptions=raising)

    def request(self, method: str, url: Any, **how: Any) -> Any:
        headers = {name.lower(): value for name, value in (how.pop("headers", None) or {}).items()}
        if how.get("content") is not None:
            kind = next((kind for part, kind in self._KINDS if part in str(url)), "application/json")
            headers.setdefault("content-type", kind)
        return super().request(method, url, headers=headers, **how)


NO_PAGES = Path(__file__).parent / "none"


@cache
def the_app(static: Path) -> FastAPI:
    """One application for all tests of a worker: its routes take longer to build than most tests to run."""
    return build_app(static)


def _served(database: Database, static: Path) -> Iterator[TestClient]:
    app = the_app(static)
    attach(app, database)
    yield OwnPage(app)
    detach(app)
    database.close()


@pytest.fixture
def client(demo_path: Path) -> Iterator[TestClient]:
    database = opened(demo_path)
    yield from _served(database, Settings().static)


@pytest.fixture
def empty_client(tmp_path: Path) -> Iterator[TestClient]:
    database = opened(tmp_path / "empty.sqlite")
    yield from _served(database, NO_PAGES)
