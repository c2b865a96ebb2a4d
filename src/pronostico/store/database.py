"""Opening the database: SQLite that loses nothing it has acknowledged, at the newest migration."""

from collections.abc import Iterator
from contextlib import contextmanager
from pathlib import Path

from alembic import command
from alembic.config import Config
from sqlalchemy import Engine, create_engine, event
from sqlalchemy.engine.interfaces import DBAPIConnection
from sqlalchemy.orm import Session, sessionmaker
from sqlalchemy.pool import ConnectionPoolEntry

_BUSY_TIMEOUT_MS = 5000


def _on_connect(connection: DBAPIConnection, _entry: ConnectionPoolEntry) -> None:
    cursor = connection.cursor()
    # FULL: an answer that was acknowledged is on the disk, whatever happens to the process or the power.
    for pragma in (
        "journal_mode = WAL",
        "synchronous = FULL",
        "foreign_keys = ON",
        f"busy_timeout = {_BUSY_TIMEOUT_MS}",
    ):
        cursor.execute(f"PRAGMA {pragma}")
    cursor.close()


class Database:
    """One SQLite file, migrated to the newest tables when opened."""

    def __init__(self, path: Path) -> None:
        path.parent.mkdir(parents=True, exist_ok=True)
        self.path = path
        self._engine: Engine = create_engine(f"sqlite:///{path}")
        event.listen(self._engine, "connect", _on_connect)
        self._sessions = sessionmaker(self._engine)
        self._upgrade()

    def _upgrade(self) -> None:
        config = Config()
        config.set_main_option("script_location", str(Path(__file__).parent / "migrations"))
        with self._engine.begin() as connection:
            config.attributes["connection"] = connection
            command.upgrade(config, "head")

    @contextmanager
    def session(self) -> Iterator[Session]:
        """A session for one use; what was not committed is rolled back."""
        with self._sessions() as session:
            yield session

    def close(self) -> None:
        """Give the file back."""
        self._engine.dispose()
