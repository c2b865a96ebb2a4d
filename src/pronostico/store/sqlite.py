"""A workshop in a SQLite file, which loses nothing that it has acknowledged."""

import sqlite3
import threading
from pathlib import Path

from sqlalchemy import Connection, Engine, create_engine, event
from sqlalchemy.engine.interfaces import DBAPIConnection
from sqlalchemy.pool import ConnectionPoolEntry

from pronostico.store.opening import look_at

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


class SqliteStorage:
    """Connections to one SQLite file: many that read, one that writes.

    Raises:
        UnusableDatabase: the file is none that this version can use.
    """

    shared = False

    def __init__(self, path: Path) -> None:
        look_at(path)
        self.name = str(path)
        self.readers = self._connected(path, _READERS)
        self.writer = self._connected(path, 1).execution_options(writes=True)
        self.claiming = self.writer
        self.migrations = self.readers
        # Never writes, so that it sees what every other connection commits.
        self._watching = sqlite3.connect(path, check_same_thread=False)
        self._watch_lock = threading.Lock()

    def _connected(self, path: Path, most: int) -> Engine:
        engine = create_engine(f"sqlite:///{path}", pool_size=most, max_overflow=0, pool_timeout=_WAITS_S)
        event.listen(engine, "connect", _on_connect)
        event.listen(engine, "begin", _on_begin)
        return engine

    def version(self) -> str:
        """A text that is another after every commit."""
        with self._watch_lock:
            (version,) = self._watching.execute("PRAGMA data_version").fetchone()
        return str(version)

    def close(self) -> None:
        """Give the file back."""
        with self._watch_lock:
            self._watching.close()
        self.readers.dispose()
        self.writer.dispose()
