"""Opening the database: SQLite that loses nothing it has acknowledged, at the newest migration."""

import sqlite3
import threading
from collections.abc import Iterator
from contextlib import contextmanager
from pathlib import Path

from alembic import command
from alembic.config import Config
from sqlalchemy import Connection, Engine, create_engine, event
from sqlalchemy.engine.interfaces import DBAPIConnection
from sqlalchemy.exc import OperationalError
from sqlalchemy.orm import Session, sessionmaker
from sqlalchemy.pool import ConnectionPoolEntry

from pronostico.errors import UnusableDatabase
from pronostico.store.opening import MIGRATIONS, look_at

_BUSY_TIMEOUT_MS = 30_000  # a write takes milliseconds; this is for a machine that is busy otherwise
# Writers wait for the one connection that writes, in the order in which they came: SQLite itself would let
# them try again and again, and now and then one would wait for long.
_WAITS_S = 30.0
# More than the server has threads: who holds one to read and waits to write never keeps it from another.
_READERS = 64


def _on_connect(connection: DBAPIConnection, _entry: ConnectionPoolEntry) -> None:
    # The driver's own guess at when a transaction begins is switched off; `_on_begin` says it.
    connection.isolation_level = None
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


def _on_begin(connection: Connection) -> None:
    # Who means to write says so at once and waits for a turn: a reader that turns writer half way would be
    # refused if somebody else wrote in between.
    writes = connection.get_execution_options().get("writes", False)
    connection.exec_driver_sql("BEGIN IMMEDIATE" if writes else "BEGIN")


STAGED = "staged"
"""The name of the other file in a session of `writing_beside`."""
READS_ONLY = "reads_only"
"""In the `info` of a session that sees one state of the database for as long as it is open."""


class Database:
    """One SQLite file, migrated to the newest tables when opened.

    Raises:
        UnusableDatabase: the file is none that this version can use, or the disk is full.
    """

    def __init__(self, path: Path) -> None:
        look_at(path)
        self.path = path
        readers, writer = self._connected(_READERS), self._connected(1)
        self._engines = (readers, writer)
        self._writer = writer.execution_options(writes=True)
        self._reading = sessionmaker(readers, info={READS_ONLY: True})
        self._writing = sessionmaker(self._writer)
        try:
            self._upgrade()
        except OperationalError as error:
            self._dispose()
            raise UnusableDatabase(
                path, f"cannot be opened: {error.orig}", "see that there is room on the disk"
            ) from error
        # Never writes, so that it sees what every other connection commits.
        self._watching = sqlite3.connect(path, check_same_thread=False)
        self._watch_lock = threading.Lock()

    def _connected(self, most: int) -> Engine:
        engine = create_engine(
            f"sqlite:///{self.path}", pool_size=most, max_overflow=0, pool_timeout=_WAITS_S
        )
        event.listen(engine, "connect", _on_connect)
        event.listen(engine, "begin", _on_begin)
        return engine

    def _upgrade(self) -> None:
        config = Config()
        config.set_main_option("script_location", str(MIGRATIONS))
        with self._engines[0].begin() as connection:
            config.attributes["connection"] = connection
            command.upgrade(config, "head")

    @contextmanager
    def reading(self) -> Iterator[Session]:
        """A session that only reads; it never waits for writers."""
        with self._reading() as session:
            yield session

    @contextmanager
    def writing(self) -> Iterator[Session]:
        """A session that may write, one at a time; what was not committed is rolled back."""
        with self._writing() as session:
            yield session

    @contextmanager
    def writing_beside(self, path: Path) -> Iterator[Session]:
        """A session that may write, in which the tables of another file stand beside ours."""
        with self._writer.connect() as connection:
            driver = connection.connection
            # Not within a transaction: SQLite refuses that.
            driver.cursor().execute(f"ATTACH DATABASE ? AS {STAGED}", (str(path),))
            try:
                with Session(connection) as session:
                    yield session
            finally:
                connection.rollback()
                driver.cursor().execute(f"DETACH DATABASE {STAGED}")

    def version(self) -> int:
        """A figure that changes with every commit: what was read under the same figure still holds."""
        with self._watch_lock:
            (version,) = self._watching.execute("PRAGMA data_version").fetchone()
        return int(version)

    def close(self) -> None:
        """Give the file back."""
        with self._watch_lock:
            self._watching.close()
        self._dispose()

    def _dispose(self) -> None:
        for engine in self._engines:
            engine.dispose()
