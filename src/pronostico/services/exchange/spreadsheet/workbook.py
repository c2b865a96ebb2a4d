"""The sheets of a workbook (Office Open XML, ECMA-376) as text, cell by cell."""

import io
import zipfile
from datetime import date, datetime, time

from openpyxl import Workbook, load_workbook
from openpyxl.utils.exceptions import InvalidFileException

from pronostico.errors import Refused
from pronostico.limits import SHEET_ROWS, UNPACKED_SHEET_BYTES
from pronostico.record.faults import Fault

Table = tuple[str, list[tuple[int, tuple[str, ...]]]]
"""A sheet: its name, and its rows that are not empty by their numbers."""


def is_workbook(content: bytes) -> bool:
    """Whether a file is a workbook, and no text."""
    return content.startswith(b"PK\x03\x04")


def _text(value: object) -> str:
    """A cell as somebody would have typed it."""
    if value is None:
        return ""
    if isinstance(value, datetime):
        return value.date().isoformat() if value.time() == time() else value.isoformat(" ", "seconds")
    if isinstance(value, date):
        return value.isoformat()
    if isinstance(value, float):
        # What was typed as 0.2 is kept as 0.200000000000000011.
        return f"{value:.10g}"
    return str(value)


def _checked(content: bytes) -> None:
    """Refuse what unpacks to far more than it is."""
    with zipfile.ZipFile(io.BytesIO(content)) as archive:
        if sum(one.file_size for one in archive.infolist()) > UNPACKED_SHEET_BYTES:
            megabytes = UNPACKED_SHEET_BYTES // 1_000_000
            raise Refused([Fault("$", f"unpacks to over {megabytes} MB; save the sheet as CSV")])


def tables_of(content: bytes) -> list[Table]:
    """All sheets of a workbook that hold anything.

    Raises:
        Refused: it cannot be read as one, or is too large.
    """
    try:
        _checked(content)
        # Read row by row, formulas as what they came to; nothing of it is run.
        book = load_workbook(io.BytesIO(content), read_only=True, data_only=True)
        try:
            return _tables(book)
        finally:
            book.close()
    # A file that only looks like a workbook fails in many ways, all of them the file's.
    except (InvalidFileException, zipfile.BadZipFile, KeyError, ValueError, OSError, SyntaxError) as error:
        raise Refused(
            [Fault("$", "cannot be read as a workbook; save it anew as .xlsx, or as 'CSV, UTF-8'")]
        ) from error


def _tables(book: Workbook) -> list[Table]:
    tables: list[Table] = []
    count = 0
    for sheet in book.worksheets:
        rows = []
        for number, values in enumerate(sheet.iter_rows(values_only=True), start=1):
            cells = [_text(value) for value in values]
            while cells and not cells[-1].strip():
                cells.pop()
            if cells:
                rows.append((number, tuple(cells)))
        count += len(rows)
        if count > SHEET_ROWS:
            raise Refused([Fault("$", f"has more than {SHEET_ROWS} rows; import it in parts")])
        if rows:
            tables.append((sheet.title, rows))
    return tables
