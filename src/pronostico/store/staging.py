"""New rows of many engines in a file of their own, until all are put into the workshop's in one short step.

To write a thousand engines takes a minute, in which nobody else could save an answer; to copy their finished
rows takes about a second.
"""

from collections.abc import Iterator, Sequence
from contextlib import contextmanager
from dataclasses import dataclass, field
from datetime import datetime
from pathlib import Path

from psycopg import IntegrityError as DriverIntegrityError
from sqlalchemy import Connection, Engine, create_engine, event, text, update
from sqlalchemy.engine.interfaces import DBAPIConnection
from sqlalchemy.exc import IntegrityError
from sqlalchemy.orm import Session
from sqlalchemy.pool import ConnectionPoolEntry

from pronostico.record.models import CaseModel, Record
from pronostico.record.visit import VisitModel
from pronostico.store import records
from pronostico.store.audit import wrote
from pronostico.store.database import STAGED, Database
from pronostico.store.moving import TABLES, columns_moved, copy_from_file
from pronostico.store.results import changes_of
from pronostico.store.tables import (
    Base,
    CaseFindingRow,
    CaseRow,
    EngineRow,
    ReadingRow,
    SettingRow,
    TraceRow,
    TryRow,
    ValveRow,
    VisitFindingRow,
    VisitRow,
)

_STAGED = {
    row.__tablename__
    for row in (
        *(VisitRow, VisitFindingRow, ReadingRow, TryRow, SettingRow, TraceRow),
        *(CaseRow, CaseFindingRow, ValveRow, EngineRow),
    )
}
_TABLES = [table for table in TABLES if table.name in _STAGED]


class ChangedMeanwhile(Exception):
    """An engine is no longer as it was when the rows for it were made."""


@dataclass(slots=True)
class StagedRows:
    """What is to be put in: the file with the rows, and what it was made for.

    `expected`: for each engine how often it had been changed, None: it was not there. `moved`: visits that
    are there already, each with its new place among those of its engine.
    """

    path: Path
    expected: dict[str, int | None] = field(default_factory=dict)
    moved: list[dict[str, int]] = field(default_factory=list)


def _on_connect(connection: DBAPIConnection, _entry: ConnectionPoolEntry) -> None:
    # Nobody else sees this file, and one that was cut off is thrown away.
    cursor = connection.cursor()
    cursor.execute("PRAGMA journal_mode = OFF")
    cursor.execute("PRAGMA synchronous = OFF")
    cursor.close()


class Staging:
    """Writes rows into a file of their own."""

    def __init__(self, path: Path) -> None:
        """Begin with an empty file.

        Args:
            path: where there is no file yet.
        """
        self.staged = StagedRows(path)
        self._engine: Engine = create_engine(f"sqlite:///{path}")
        event.listen(self._engine, "connect", _on_connect)
        Base.metadata.create_all(self._engine, tables=_TABLES)
        self._session = Session(self._engine)

    def _flush(self) -> None:
        self._session.commit()
        self._session.expunge_all()

    def new_engine(self, record: Record, *, now: datetime) -> None:
        """A whole record as a new engine; its shims and blades are not staged."""
        records.add_record(self._session, record.model_copy(update={"shim_box": None}), now=now)
        self.staged.expected[record.engine.id] = None
        self._flush()

    def add_to_engine(
        self,
        workshop: Session,
        engine_id: str,
        visits: Sequence[VisitModel],
        cases: Sequence[CaseModel],
        *,
        now: datetime,
    ) -> None:
        """Visits and cases of an engine that is there already."""
        moved, placed = records.places_among(workshop, engine_id, visits)
        for position, visit in placed:
            records.add_visit(self._session, engine_id, visit, position=position, now=now)
        for case in cases:
            records.add_case(self._session, engine_id, case)
        self.staged.moved += moved
        self.staged.expected[engine_id] = changes_of(workshop, engine_id)
        self._flush()

    def close(self) -> StagedRows:
        """Finish the file."""
        self._session.close()
        self._engine.dispose()
        return self.staged


def _offsets(connection: Connection) -> dict[str, int]:
    """The highest counted key of each table, from which those of the staged rows go on."""
    return {
        table.name: connection.scalar(text(f'SELECT coalesce(max(pk), 0) FROM "{table.name}"')) or 0
        for table in _TABLES
        if "pk" in table.columns
    }


def _copy_attached(connection: Connection, offsets: dict[str, int]) -> None:
    connection.execute(text("PRAGMA defer_foreign_keys = ON"))
    # Engines last: the triggers, which count every change of an engine, find nothing to count before.
    for table in reversed(_TABLES):
        names, values = columns_moved(table, offsets)
        connection.execute(
            text(f'INSERT INTO main."{table.name}" ({names}) SELECT {values} FROM {STAGED}."{table.name}"')
        )


def _prepare(session: Session, staged: StagedRows) -> dict[str, int]:
    for engine_id, changes in staged.expected.items():
        if changes_of(session, engine_id) != changes:
            raise ChangedMeanwhile
    if staged.moved:
        session.execute(update(VisitRow), staged.moved)
    return _offsets(session.connection())


@contextmanager
def put_in(database: Database, staged: StagedRows) -> Iterator[Session]:
    """A writing session in which all that was staged is in the workshop; it is the caller who commits.

    Raises:
        ChangedMeanwhile: an engine of it was changed, added or removed since.
        Refused: there is something in it that the database does not keep.
    """
    with database.writing() if database.shared else database.writing_beside(staged.path) as session:
        try:
            offsets = _prepare(session, staged)
            if database.shared:
                copy_from_file(session.connection(), staged.path, _TABLES, offsets)
                # What the triggers would have counted.
                known = [one for one, changes in staged.expected.items() if changes is not None]
                session.execute(
                    update(EngineRow).where(EngineRow.id.in_(known)).values(changed=EngineRow.changed + 1)
                )
            else:
                _copy_attached(session.connection(), offsets)
            wrote(session)
        except (IntegrityError, DriverIntegrityError) as error:
            raise ChangedMeanwhile from error
        yield session
