"""Opening a workshop's database, in a file or on a server, at the newest migration."""

from collections.abc import Iterator
from contextlib import contextmanager
from pathlib import Path

from alembic import command
from alembic.config import Config
from sqlalchemy.exc import OperationalError
from sqlalchemy.orm import Session, sessionmaker

from pronostico.errors import UnusableDatabase
from pronostico.store.audit import note_changes
from pronostico.store.hiding import hide_removed
from pronostico.store.opening import MIGRATIONS, make_folder
from pronostico.store.postgresql import PostgresqlStorage
from pronostico.store.sqlite import SqliteStorage

STAGED = "staged"
"""The name of the other file in a session of `writing_beside`."""
READS_ONLY = "reads_only"
"""In the `info` of a session that sees one state of the database for as long as it is open."""


class Database:
    """A workshop's database, migrated to the newest tables when opened.

    Raises:
        UnusableDatabase: it is none that this version can use, or the disk is full.
    """

    def __init__(self, path: Path, address: str | None = None) -> None:
        """Open it.

        Args:
            path: the SQLite file; with an address the file is not made, and only names what stands beside it:
                photographs, and the notes on full copies.
            address: of a PostgreSQL database; None: the file is the database.
        """
        self.path, self.address = path, address
        storage = SqliteStorage(path) if address is None else PostgresqlStorage(address)
        make_folder(path.parent)
        self._storage = storage
        self.shared, self.name = storage.shared, storage.name
        self._reading = sessionmaker(storage.readers, info={READS_ONLY: True})
        self._writing = sessionmaker(storage.writer)
        note_changes(self._writing)
        self._claiming = sessionmaker(storage.claiming)
        for sessions in (self._reading, self._writing, self._claiming):
            hide_removed(sessions)
        try:
            self._upgrade()
        except OperationalError as error:
            storage.close()
            raise UnusableDatabase(
                self.name, f"cannot be opened: {error.orig}", "see that there is room on the disk"
            ) from error

    def _upgrade(self) -> None:
        config = Config()
        config.set_main_option("script_location", str(MIGRATIONS))
        with self._storage.migrations.begin() as connection:
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
    def claiming(self) -> Iterator[Session]:
        """A session that writes claims alone; on a server it does not wait for those who save answers."""
        with self._claiming() as session:
            yield session

    @contextmanager
    def writing_beside(self, path: Path) -> Iterator[Session]:
        """A session that may write, in which the tables of another file stand beside ours; SQLite's alone."""
        with self._storage.writer.connect() as connection:
            driver = connection.connection
            # Not within a transaction: SQLite refuses that.
            driver.cursor().execute(f"ATTACH DATABASE ? AS {STAGED}", (str(path),))
            try:
                with self._writing(bind=connection) as session:
                    yield session
            finally:
                connection.rollback()
                driver.cursor().execute(f"DETACH DATABASE {STAGED}")

    def version(self) -> str:
        """A text that is another after every commit: what was read under the same one still holds."""
        return self._storage.version()

    def close(self) -> None:
        """Give the connections back."""
        self._storage.close()
