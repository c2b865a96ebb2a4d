"""Databases and clients over the demonstration, fresh for each test that asks for one."""

import os
import shutil
from collections.abc import Iterator
from datetime import UTC, date, datetime
from functools import cache
from pathlib import Path

import hypothesis
import pytest
from fastapi import FastAPI
from fastapi.testclient import TestClient

from pronostico.api.app import attach, build_app
from pronostico.demo.seed import seed_demo
from pronostico.services.engines.background import compute_stale
from pronostico.settings import Settings
from pronostico.store.database import Database

# The machine may be shared and slow: how long an example takes says nothing about it.
hypothesis.settings.register_profile("unhurried", deadline=None)
# A run that decides over a change tries the same examples each time; runs at a desk look for new ones.
hypothesis.settings.register_profile("decisive", deadline=None, derandomize=True)
hypothesis.settings.load_profile("decisive" if os.environ.get("CI") else "unhurried")


@pytest.fixture(scope="session")
def seeded(tmp_path_factory: pytest.TempPathFactory) -> Path:
    """The demonstration, made once; nothing of it is computed yet."""
    return seed_demo(tmp_path_factory.mktemp("seeded"), today=date.today(), now=datetime.now(UTC))


@pytest.fixture(scope="session")
def computed(seeded: Path, tmp_path_factory: pytest.TempPathFactory) -> Path:
    """The same with every result, as the pages find it a few seconds after the start."""
    path = own_copy(seeded, tmp_path_factory.mktemp("computed"))
    database = Database(path)
    assert not compute_stale(database, processes=1).failed
    database.close()
    return path


def own_copy(demo: Path, folder: Path) -> Path:
    """The demonstration's database and all that lies beside it, for one test to change."""
    shutil.copytree(demo.parent, folder, dirs_exist_ok=True)
    return folder / demo.name


@pytest.fixture
def demo_path(seeded: Path, tmp_path: Path) -> Path:
    return own_copy(seeded, tmp_path)


NO_PAGES = Path(__file__).parent / "none"


@cache
def the_app(static: Path) -> FastAPI:
    """One application for all tests of a worker: its routes take longer to build than most tests to run."""
    return build_app(static)


def _served(database: Database, static: Path) -> Iterator[TestClient]:
    app = the_app(static)
    attach(app, database)
    yield TestClient(app)
    app.state.background.close()
    database.close()


@pytest.fixture
def client(demo_path: Path) -> Iterator[TestClient]:
    database = Database(demo_path)
    yield from _served(database, Settings().static)


@pytest.fixture
def empty_client(tmp_path: Path) -> Iterator[TestClient]:
    database = Database(tmp_path / "empty.sqlite")
    yield from _served(database, NO_PAGES)
