"""Databases and clients over the demonstration, fresh for each test that asks for one."""

import os
import shutil
from collections.abc import Iterator
from datetime import UTC, date, datetime
from pathlib import Path

import hypothesis
import pytest
from fastapi.testclient import TestClient

from pronostico.api.app import create_app
from pronostico.demo.seed import seed_demo
from pronostico.services.engines.background import reckon_stale
from pronostico.settings import Settings
from pronostico.store.database import Database

# The machine may be shared and slow: how long an example takes says nothing about it.
hypothesis.settings.register_profile("unhurried", deadline=None)
# A run that decides over a change tries the same examples each time; runs at a desk look for new ones.
hypothesis.settings.register_profile("decisive", deadline=None, derandomize=True)
hypothesis.settings.load_profile("decisive" if os.environ.get("CI") else "unhurried")


@pytest.fixture(scope="session")
def seeded(tmp_path_factory: pytest.TempPathFactory) -> Path:
    """The demonstration, made once; nothing of it is reckoned yet."""
    return seed_demo(tmp_path_factory.mktemp("seeded"), today=date.today(), now=datetime.now(UTC))


@pytest.fixture(scope="session")
def reckoned(seeded: Path, tmp_path_factory: pytest.TempPathFactory) -> Path:
    """The same with every result, as the pages find it a few seconds after the start."""
    path = own_copy(seeded, tmp_path_factory.mktemp("reckoned"))
    database = Database(path)
    assert not reckon_stale(database, processes=1).failed
    database.close()
    return path


def own_copy(demo: Path, folder: Path) -> Path:
    """The demonstration's database and all that lies beside it, for one test to change."""
    shutil.copytree(demo.parent, folder, dirs_exist_ok=True)
    return folder / demo.name


@pytest.fixture
def demo_path(seeded: Path, tmp_path: Path) -> Path:
    return own_copy(seeded, tmp_path)


def _served(database: Database, static: Path) -> Iterator[TestClient]:
    app = create_app(database, static)
    yield TestClient(app)
    app.state.reckoner.close()
    database.close()


@pytest.fixture
def client(demo_path: Path) -> Iterator[TestClient]:
    database = Database(demo_path)
    yield from _served(database, Settings().static)


@pytest.fixture
def empty_client(tmp_path: Path) -> Iterator[TestClient]:
    database = Database(tmp_path / "empty.sqlite")
    yield from _served(database, tmp_path)
