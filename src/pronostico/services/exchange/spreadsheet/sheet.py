"""A spreadsheet saved as CSV, whatever its encoding and delimiter: the head, and the rows by line."""

import codecs
import contextlib
import csv
import io
import re
from collections.abc import Iterable
from dataclasses import dataclass, replace
from functools import lru_cache
from typing import Literal

from pronostico.analysis.tables.table import text_of_safe
from pronostico.errors import Refused
from pronostico.limits import CELL_CHARACTERS, SHEET_COLUMNS, SHEET_ROWS
from pronostico.record.faults import Fault
from pronostico.services.exchange.spreadsheet.workbook import is_workbook, tables_of

Encoding = Literal["utf-8", "utf-16", "windows-1252"]
Delimiter = Literal["comma", "semicolon", "tab", "bar"]
DELIMITERS: dict[Delimiter, str] = {"comma": ",", "semicolon": ";", "tab": "\t", "bar": "|"}
_MARKS: tuple[tuple[bytes, Encoding], ...] = (
    (codecs.BOM_UTF8, "utf-8"),
    (codecs.BOM_UTF16_LE, "utf-16"),
    (codecs.BOM_UTF16_BE, "utf-16"),
)
_CODECS: dict[Encoding, str] = {"utf-8": "utf-8-sig", "utf-16": "utf-16", "windows-1252": "cp1252"}
_TRIED_ROWS = 60


Rows = tuple[tuple[int, tuple[str, ...]], ...]
_LINES_OF_A_SHEET = 10_000_000  # more than any has: sheets that are read together have numbers of their own


@dataclass(frozen=True, slots=True)
class Origin:
    """What a sheet was before it was given a row for each valve.

    `valve_at`: the column that names the valve; `places`: by valve and column, the column that it came from.
    """

    head: tuple[str, ...]
    rows: Rows
    valve_at: int
    places: dict[tuple[str, int], int]


@dataclass(frozen=True, slots=True)
class Sheet:
    """What a file holds: its head, and each row with the line it begins on (the head is line 1).

    `encoding`, `delimiter`: of text, None of a workbook. `not_utf_8`: the first line that is not UTF-8 where
    the encoding was only guessed. `sheets`: all of a workbook by name; `read`: those that are read.
    """

    head: tuple[str, ...]
    rows: Rows
    encoding: Encoding | None
    delimiter: Delimiter | None
    not_utf_8: int | None
    sheets: tuple[str, ...] = ()
    read: tuple[str, ...] = ()
    origin: Origin | None = None

    def place(self, line: int) -> str:
        """Where a row is, in words: 'line 7', of several sheets 'shed, line 7'."""
        sheet, number = divmod(line, _LINES_OF_A_SHEET)
        return f"line {number}" if len(self.read) < 2 else f"{self.read[sheet]}, line {number}"

    def own_column(self, cells: tuple[str, ...], index: int) -> int | None:
        """The column of the file that a cell came from."""
        if self.origin is None:
            return index
        return self.origin.places.get((cells[self.origin.valve_at], index))

    def corrected(self, corrections: Iterable[tuple[int, int, str]]) -> "Sheet":
        """The sheet with some cells said otherwise: line, column, text."""
        said: dict[int, dict[int, str]] = {}
        for line, index, text in corrections:
            said.setdefault(line, {})[index] = text
        if not said:
            return self
        rows = []
        for line, cells in self.rows:
            own = said.get(line, {})
            longer = cells + ("",) * (max(own, default=-1) + 1 - len(cells))
            rows.append((line, tuple(own.get(index, cell) for index, cell in enumerate(longer))))
        return replace(self, rows=tuple(rows))


def _refused(message: str) -> Refused:
    return Refused([Fault("$", message)])


def _decoded(content: bytes, encoding: Encoding) -> str:
    try:
        return content.decode(_CODECS[encoding])
    except UnicodeDecodeError as error:
        line = content.count(b"\n", 0, error.start) + 1
        raise _refused(
            f"line {line} is not {encoding}; save the sheet as 'CSV, UTF-8', or choose its encoding"
        ) from error


def _text_of(content: bytes, encoding: Encoding | None) -> tuple[str, Encoding, int | None]:
    """The text, what it was read as, and the first line that is not UTF-8 where that is a guess."""
    if encoding is not None:
        return _decoded(content, encoding), encoding, None
    for mark, marked in _MARKS:
        if content.startswith(mark):
            return _decoded(content, marked), marked, None
    try:
        return content.decode("utf-8"), "utf-8", None
    except UnicodeDecodeError as error:
        # What spreadsheets of before wrote; it is said and can be chosen otherwise.
        line = content.count(b"\n", 0, error.start) + 1
        return _decoded(content, "windows-1252"), "windows-1252", line


def _columns_with(text: str, delimiter: Delimiter) -> tuple[float, int]:
    """How steadily the first rows part with a delimiter, and into how many columns."""
    counts = []
    # A cell that is too long is reported when the sheet is read: here the rows before it are enough.
    with contextlib.suppress(csv.Error):
        for cells in csv.reader(io.StringIO(text, newline=""), delimiter=DELIMITERS[delimiter]):
            if any(cells):
                counts.append(len(cells))
            if len(counts) == _TRIED_ROWS:
                break
    if not counts or counts[0] < 2:
        return 0.0, 0
    return counts.count(counts[0]) / len(counts), counts[0]


def _found_delimiter(text: str) -> Delimiter:
    """The delimiter that parts the head, and most rows alike with it; the more columns the better."""
    names: tuple[Delimiter, ...] = ("semicolon", "tab", "comma", "bar")
    return max(names, key=lambda name: _columns_with(text, name))


# What a sheet says, it says many times over: here and below a text is looked at once.
@lru_cache(4096)
def _spaced(cell: str) -> str:
    """A cell with single spaces: more of them say the same, and make some patterns slow. Lines stay."""
    return "\n".join(" ".join(line.split()) for line in text_of_safe(cell.strip()).split("\n"))


def _too_long(line: int, most: int) -> str:
    return (
        f"line {line} has a cell of more than {most} characters, or cannot be parted into cells; a cell of a "
        "reading has a few"
    )


def _of_workbook(content: bytes, wanted: str | None) -> Sheet:
    """The rows of a workbook: of the sheet that is wanted, else of all that are headed like the fullest."""
    tables = tables_of(content)
    if not tables:
        raise _refused("is empty; the first line should name the columns")
    spaced = [
        (name, [(line, tuple(_spaced(cell) for cell in cells)) for line, cells in rows])
        for name, rows in tables
    ]
    names = tuple(name for name, _ in spaced)
    if wanted is not None:
        if wanted not in names:
            raise _refused(f"has no sheet '{wanted}'; it has {', '.join(names)}")
        chosen = [one for one in spaced if one[0] == wanted]
    else:
        head = max(spaced, key=lambda one: len(one[1]))[1][0][1]
        chosen = [one for one in spaced if one[1][0][1] == head]
    head = chosen[0][1][0][1]
    if len(head) > SHEET_COLUMNS:
        raise _refused(f"has {len(head)} columns; at most {SHEET_COLUMNS} can be read")
    rows = []
    for number, (name, own) in enumerate(chosen):
        for line, cells in own[1:]:
            if max(map(len, cells)) > CELL_CHARACTERS:
                raise _refused(f"{name}, {_too_long(line, CELL_CHARACTERS)}")
            rows.append((number * _LINES_OF_A_SHEET + line, cells))
    return Sheet(head, tuple(rows), None, None, None, names, tuple(name for name, _ in chosen))


def read_sheet(
    content: bytes,
    *,
    encoding: Encoding | None = None,
    delimiter: Delimiter | None = None,
    sheet: str | None = None,
) -> Sheet:
    """A spreadsheet's rows; what is not said of it is found out.

    Args:
        sheet: of a workbook the one to be read; None: all that are alike.

    Raises:
        Refused: it is no text, not in the encoding that was said, empty, or too large.
    """
    if is_workbook(content):
        return _of_workbook(content, sheet)
    text, encoding, not_utf_8 = _text_of(content, encoding)
    if "\x00" in text:
        raise _refused("is not text: save the sheet as .xlsx, or as 'CSV, UTF-8'")
    # Some spreadsheets say on a line of its own what parts the columns.
    said = re.match(r"sep=(.)\r?\n", text)
    skipped = 0
    if said is not None:
        text, skipped = text[said.end() :], 1
        named = [name for name, mark in DELIMITERS.items() if mark == said.group(1)]
        delimiter = delimiter or (named[0] if named else None)
    delimiter = delimiter or _found_delimiter(text[:200_000])
    rows: list[tuple[int, tuple[str, ...]]] = []
    # Not strict: somebody's sheet may hold a lone quotation mark, the inch sign among them.
    reader = csv.reader(io.StringIO(text, newline=""), delimiter=DELIMITERS[delimiter])
    begins = 1 + skipped
    try:
        for cells in reader:
            if any(cell.strip() for cell in cells):
                rows.append((begins, tuple(_spaced(cell) for cell in cells)))
                if max(map(len, cells)) > CELL_CHARACTERS:
                    raise _refused(_too_long(begins, CELL_CHARACTERS))
            begins = reader.line_num + 1 + skipped
            if len(rows) > SHEET_ROWS:
                raise _refused(f"has more than {SHEET_ROWS} rows; import it in parts")
    except csv.Error as error:
        raise _refused(_too_long(begins, csv.field_size_limit())) from error
    if not rows:
        raise _refused("is empty; the first line should name the columns")
    head = rows[0][1]
    if len(head) > SHEET_COLUMNS:
        raise _refused(f"has {len(head)} columns; at most {SHEET_COLUMNS} can be read")
    return Sheet(head, tuple(rows[1:]), encoding, delimiter, not_utf_8)
