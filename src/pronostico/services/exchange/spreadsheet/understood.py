"""A sheet understood: which columns, units and dates it has, what it leaves open, and then its rows."""

from dataclasses import dataclass, field
from datetime import date
from itertools import pairwise
from typing import Literal

from pronostico.record.engine import EngineModel
from pronostico.services.exchange.spreadsheet.cells import (
    CellFault,
    DateOrder,
    LengthIn,
    Unit,
    Valves,
    date_orders,
    day_of,
    needs_order,
    units_by_size,
    usage_of,
)
from pronostico.services.exchange.spreadsheet.columns import (
    Role,
    in_hundredths,
    missing,
    recognised,
    usage_unit_of,
)
from pronostico.services.exchange.spreadsheet.row_reader import (
    READ_ROLES,
    RowFault,
    RowRead,
    RowReader,
    Rows,
    head_of,
)
from pronostico.services.exchange.spreadsheet.sheet import Delimiter, Encoding, Sheet, read_sheet
from pronostico.services.exchange.spreadsheet.wide import ValveColumn, melted, valve_columns


@dataclass(frozen=True, slots=True)
class Choices:
    """What the user says of a sheet; None: as found."""

    unit: Unit | None = None
    dates: DateOrder | None = None
    encoding: Encoding | None = None
    delimiter: Delimiter | None = None
    columns: dict[Role, int] | None = None
    of_valves: tuple[ValveColumn, ...] = ()
    sheet: str | None = None
    corrections: tuple[tuple[int, int, str], ...] = ()


@dataclass(frozen=True, slots=True)
class Ambiguity:
    """What the sheet leaves open: which setting decides it, and what was probably meant."""

    setting: Literal["unit", "dates"]
    message: str
    suggestion: str | None


@dataclass(slots=True)
class Understood:
    """A sheet, as far as it can be understood; rows are only read once nothing is open.

    `columns`: of the rows as they are read; `named`: of the file, as they were recognised or chosen.
    """

    sheet: Sheet
    columns: dict[Role, int]
    of_valves: list[ValveColumn]
    named: dict[Role, int]
    missing: list[str]
    unit: Unit | None
    dates: DateOrder | None
    decimal_comma: bool
    ambiguities: list[Ambiguity] = field(default_factory=list)
    rows: list[RowRead] = field(default_factory=list)
    faults: list[RowFault] = field(default_factory=list)
    empty: int = 0
    of_other_engines: int = 0


def _unit(rows: Rows) -> tuple[Unit | None, Ambiguity | None]:
    """The unit that bare figures are in, from their size; asked where there are several."""
    lines: dict[LengthIn, int] = {}
    counts: dict[LengthIn, int] = {}
    # Where the head says hundredths, the size of a figure says nothing.
    looked_at = [role for role in READ_ROLES if not in_hundredths(head_of(rows, role))]
    for line, cells in rows.sheet.rows:
        for role in looked_at:
            for unit in units_by_size(rows.cell(cells, role)):
                lines.setdefault(unit, line)
                counts[unit] = counts.get(unit, 0) + 1
    if len(counts) < 2:
        return next(iter(counts), "mm"), None
    message = ", ".join(
        f"{count} look like {unit} (the first on line {lines[unit]})" for unit, count in counts.items()
    )
    message = f"Is each figure in the unit it looks like, or are all in one? {message}"
    return None, Ambiguity("unit", message, "by-size")


def _usage_order(rows: Rows, order: DateOrder, decimal_comma: bool) -> bool:
    """Whether the running total never goes back when days are read in an order."""
    points = []
    for _, cells in rows.sheet.rows:
        try:
            day = day_of(rows.cell(cells, "date"), order)
            points.append((day, usage_of(rows.cell(cells, "usage"), decimal_comma=decimal_comma)))
        except CellFault:
            continue
    points.sort()
    return all(a[1] <= b[1] for a, b in pairwise(points))


def _dates(rows: Rows, decimal_comma: bool) -> tuple[DateOrder | None, Ambiguity | None]:
    """The order of day and month, from those over twelve; asked where none is, or they disagree."""
    message = date_orders(rows.all_of("date"))
    if len(message) == 1:
        return next(iter(message)), None
    unclear = next((text for text in rows.all_of("date") if needs_order(text)), None)
    if unclear is None:
        return "day-first", None
    orders: tuple[DateOrder, ...] = ("day-first", "month-first")
    fits = [order for order in orders if _usage_order(rows, order, decimal_comma)]
    suggestion = fits[0] if len(fits) == 1 else None
    why = "Dates occur in both orders" if message else "No date tells which comes first"
    hint = f"; read {suggestion.replace('-', ' ')} the running total never goes back" if suggestion else ""
    return None, Ambiguity("dates", f"Is the day or the month first in '{unclear}'? {why}{hint}", suggestion)


def _comma(rows: Rows) -> bool:
    texts = list(rows.all_of(*READ_ROLES))
    return any("," in text for text in texts) and not any("." in text for text in texts)


def _wrong_usage(head: str, engine: EngineModel) -> list[str]:
    """Hours cannot be had from a distance, nor the other way round."""
    named = usage_unit_of(head)
    if named is None or (named == "h") == (engine.usage_unit == "h"):
        return []
    return [f"the running total in {engine.usage_unit}: '{head}' says {named}"]


def _empty_columns(sheet: Sheet) -> set[int]:
    filled: set[int] = set()
    for _, cells in sheet.rows:
        filled.update(index for index, cell in enumerate(cells) if cell)
        if len(filled) >= len(sheet.head):
            break
    return set(range(len(sheet.head))) - filled if sheet.rows else set()


def understand(content: bytes, engine: EngineModel, choices: Choices, *, today: date) -> Understood:
    """A spreadsheet as far as it can be understood.

    Args:
        today: days after it are faults.

    Raises:
        Refused: the file cannot be read at all.
    """
    sheet = read_sheet(
        content, encoding=choices.encoding, delimiter=choices.delimiter, sheet=choices.sheet
    ).corrected(choices.corrections)
    chosen = choices.columns
    named = (
        recognised(sheet.head, _empty_columns(sheet))
        if chosen is None
        else {role: index for role, index in chosen.items() if index < len(sheet.head)}
    )
    of_valves = list(choices.of_valves)
    in_rows = "valve" in named or {"cylinder", "side"} <= named.keys()
    if chosen is None and not of_valves and not in_rows:
        of_valves = valve_columns(sheet.head, Valves(engine.valves))
    columns = named
    if of_valves:
        taken = {one.index for one in of_valves}
        named = {role: index for role, index in named.items() if index not in taken}
        sheet, columns = melted(sheet, named, of_valves)
    rows = Rows(sheet, columns)
    comma = _comma(rows)
    unit, odd_unit = (choices.unit, None) if choices.unit else _unit(rows)
    dates, odd_dates = (choices.dates, None) if choices.dates else _dates(rows, comma)
    lacking = missing(columns) + _wrong_usage(head_of(rows, "usage"), engine)
    known = Understood(sheet, columns, of_valves, named, lacking, unit, dates, comma)
    known.ambiguities = [ambiguity for ambiguity in (odd_unit, odd_dates) if ambiguity is not None]
    if known.missing or unit is None or dates is None:
        return known
    reader = RowReader(rows, engine, today, unit, dates, comma)
    for line, cells in sheet.rows:
        if not reader.of_this_engine(cells):
            known.of_other_engines += 1
            continue
        read = reader.row(line, cells)
        if read is None:
            known.empty += 1
        elif isinstance(read, RowFault):
            known.faults.append(read)
        else:
            known.rows.append(read)
    return known
