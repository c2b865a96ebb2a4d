"""Tables that leave as CSV (RFC 4180, UTF-8), each with its Table Schema that documents it."""

import csv
import io
from collections.abc import Iterable, Sequence
from dataclasses import dataclass
from typing import Any, Literal

Cell = str | float | int | bool | None
Row = Sequence[Cell]
ColumnType = Literal["string", "number", "integer", "boolean", "date"]


@dataclass(frozen=True, slots=True)
class Column:
    """A column: its name with the unit in it, its type, and what it says; `needed`: never empty."""

    name: str
    type: ColumnType
    description: str
    needed: bool = False


@dataclass(frozen=True, slots=True)
class Table:
    """A table: its columns, and those that together name one row of it.

    `parents`: columns that name a row of another table, by that table's name.
    """

    name: str
    title: str
    columns: tuple[Column, ...]
    key: tuple[str, ...]
    parents: tuple[tuple[str, str], ...] = ()


_RUN_BY_SPREADSHEETS = ("=", "+", "-", "@", "\t", "\r")
_QUOTE = "'"


def safe_text(text: str) -> str:
    """A text that no spreadsheet takes for a formula: one that begins like one has an apostrophe before it.

    So has one that begins with an apostrophe and could be taken for such a text when it is read again.

    >>> safe_text("=1+1"), safe_text("-0.1 with the head off"), safe_text("plain"), safe_text("'=x")
    ("'=1+1", "'-0.1 with the head off", 'plain', "''=x")
    """
    begins = text.lstrip(_QUOTE)[:1]
    return _QUOTE + text if begins in _RUN_BY_SPREADSHEETS and text else text


def text_of_safe(text: str) -> str:
    """The text that `safe_text` made safe.

    >>> [text_of_safe(safe_text(one)) for one in ("=1", "'=1", "'quoted'", "plain", "")]
    ['=1', "'=1", "'quoted'", 'plain', '']
    """
    begins = text.lstrip(_QUOTE)[:1]
    return text[1:] if text.startswith(_QUOTE) and begins in _RUN_BY_SPREADSHEETS and begins else text


def _cell(value: Cell) -> Cell:
    if isinstance(value, bool):
        return str(value).lower()
    if isinstance(value, str):
        return safe_text(value)
    # No more digits than are known: lengths to a ten-thousandth, probabilities likewise.
    return round(value, 4) if isinstance(value, float) else value


def csv_text(table: Table, rows: Iterable[Row]) -> str:
    """The rows under the table's head, lines ended as RFC 4180 has it."""
    text = io.StringIO()
    writer = csv.writer(text)
    writer.writerow([column.name for column in table.columns])
    writer.writerows([[_cell(cell) for cell in row] for row in rows])
    return text.getvalue()


def _field(column: Column) -> dict[str, Any]:
    field = {"name": column.name, "type": column.type, "description": column.description}
    return {**field, "constraints": {"required": True}} if column.needed else field


def table_schema(table: Table) -> dict[str, Any]:
    """The table's Table Schema, as the data package standard (version 1) has it."""
    schema = {
        "fields": [_field(column) for column in table.columns],
        "missingValues": [""],
        "primaryKey": list(table.key),
    }
    if table.parents:
        schema["foreignKeys"] = [
            {"fields": column, "reference": {"resource": parent, "fields": column}}
            for column, parent in table.parents
        ]
    return schema
