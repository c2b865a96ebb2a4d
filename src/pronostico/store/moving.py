"""All rows of a workshop from one database into another, as one moment has them."""

import hashlib
import json
import sqlite3
from collections.abc import Mapping, Sequence
from contextlib import closing
from datetime import datetime
from pathlib import Path

from psycopg import DataError as DriverDataError
from sqlalchemy import Connection, Table, func, insert, select, text
from sqlalchemy.orm import Session

from pronostico.errors import Refused
from pronostico.record.faults import Fault
from pronostico.store.change_counts import COUNTED, NOT_COUNTED
from pronostico.store.database import Database
from pronostico.store.tables import Base, ClaimRow

_AT_ONCE = 1_000
TABLES: Sequence[Table] = [one for one in Base.metadata.sorted_tables if one.name != ClaimRow.__tablename__]
"""All tables of a workshop, those that others refer to first."""


def row_counts(session: Session) -> dict[str, int]:
    """How many rows each table has."""
    return {one.name: session.scalar(select(func.count()).select_from(one)) or 0 for one in TABLES}


def digests(session: Session) -> dict[str, str]:
    """A digest of what each table holds, whatever the order of its rows."""
    return {table.name: _digest(session, table) for table in TABLES}


def _digest(session: Session, table: Table) -> str:
    total = 0
    rows = session.execute(select(table), execution_options={"yield_per": _AT_ONCE})
    for row in rows:
        # SQLite keeps no zone: all times are in UTC.
        values = [one.replace(tzinfo=None) if isinstance(one, datetime) else one for one in row]
        text = json.dumps(values, default=str, sort_keys=True)
        total += int.from_bytes(hashlib.sha256(text.encode()).digest(), "big")
    return f"{total % 2**256:064x}"


def counted_columns(table: Table) -> dict[str, str]:
    """The columns of a table that hold counted keys, each with the table whose keys they are."""
    own = {"pk": table.name} if "pk" in table.columns else {}
    of_others = {
        column.name: key.column.table.name
        for column in table.columns
        for key in column.foreign_keys
        if column.name.endswith("_pk")
    }
    return own | of_others


def columns_moved(table: Table, offsets: Mapping[str, int]) -> tuple[str, str]:
    """SQL for the names of a table's columns, and for their values as they are put into another database.

    Args:
        offsets: what is added to the counted keys of each table.
    """
    counted = counted_columns(table)
    names = [f'"{column.name}"' for column in table.columns]
    added = [offsets.get(counted.get(column.name, ""), 0) for column in table.columns]
    values = [f"{name} + {more}" if more else name for name, more in zip(names, added, strict=True)]
    return ", ".join(names), ", ".join(values)


def copy_from_file(
    connection: Connection, file: Path, tables: Sequence[Table], offsets: Mapping[str, int]
) -> None:
    """Rows of a SQLite file into a PostgreSQL database, as the file has them (COPY, PostgreSQL's manual).

    Args:
        tables: those that others refer to first.
        offsets: what is added to the counted keys of each table.

    Raises:
        Refused: there is something in them that PostgreSQL does not keep.
    """
    try:
        connection.execute(text(NOT_COUNTED))
        _copy_from_file(connection, file, tables, offsets)
        connection.execute(text(COUNTED))
    except DriverDataError as error:
        fault = Fault("$", f"holds what a PostgreSQL database cannot keep: {' '.join(str(error).split())}")
        raise Refused([fault]) from error


def _copy_from_file(
    connection: Connection, file: Path, tables: Sequence[Table], offsets: Mapping[str, int]
) -> None:
    driver = connection.connection.driver_connection
    assert driver is not None
    with closing(sqlite3.connect(f"{file.resolve().as_uri()}?mode=ro", uri=True)) as reading:
        for table in tables:
            names, values = columns_moved(table, offsets)
            with driver.cursor() as cursor, cursor.copy(f'COPY "{table.name}" ({names}) FROM STDIN') as copy:
                for row in reading.execute(f'SELECT {values} FROM "{table.name}"'):
                    copy.write_row(row)
            if "pk" in table.columns:
                connection.execute(
                    text(
                        f"SELECT setval(pg_get_serial_sequence('{table.name}', 'pk'),"
                        f' (SELECT coalesce(max(pk), 0) + 1 FROM "{table.name}"), false)'
                    )
                )


def _into_file(source: Session, target: Session) -> None:
    target.execute(text("PRAGMA defer_foreign_keys = ON"))
    # Those referred to last: the triggers, which count every change of an engine, find nothing to count.
    for table in reversed(TABLES):
        rows = source.execute(select(table), execution_options={"yield_per": _AT_ONCE})
        for some in rows.mappings().partitions():
            target.execute(insert(table), [dict(row) for row in some])


def copy_workshop(source: Database, target: Database) -> dict[str, int]:
    """Copy everything into a database that nothing is in yet, in one step.

    One of the two is on a server, the other in a file.

    Returns:
        How many rows each table has now; the same as in the source at the moment of the copy.
    """
    with source.reading() as reading, target.writing() as writing:
        if target.shared:
            copy_from_file(writing.connection(), source.path, TABLES, {})
        else:
            _into_file(reading, writing)
        writing.flush()
        counts = row_counts(writing)
        writing.commit()
    return counts
