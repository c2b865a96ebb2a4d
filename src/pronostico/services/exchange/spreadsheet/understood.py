"""The rows of a sheet understood: what each says of one valve at one visit, or why it cannot be taken."""

from collections.abc import Iterator
from dataclasses import dataclass, field
from datetime import date
from itertools import pairwise
from typing import Literal

from pronostico.core.visits import Felt, Phase
from pronostico.record.engine import EngineModel
from pronostico.record.visit import TryModel
from pronostico.services.exchange.spreadsheet.cells import (
    CellFault,
    DateOrder,
    LengthIn,
    Unit,
    Valves,
    blades_of,
    date_orders,
    day_of,
    felt_of,
    needs_order,
    phase_of,
    temperature_of,
    units_by_size,
    usage_of,
)
from pronostico.services.exchange.spreadsheet.columns import ROLE_WORDS, Role, missing, recognised
from pronostico.services.exchange.spreadsheet.sheet import DELIMITERS, Delimiter, Encoding, Sheet, read_sheet

_READ: tuple[Role, ...] = ("went", "refused", "clearance")
_NOTHING = ("-", "\u2013", "\u2014", "n/a", "?")


@dataclass(frozen=True, slots=True)
class Choices:
    """What the user says of a sheet; None: as found."""

    unit: Unit | None = None
    dates: DateOrder | None = None
    encoding: Encoding | None = None
    delimiter: Delimiter | None = None
    columns: dict[Role, int] | None = None


@dataclass(frozen=True, slots=True)
class RowFault:
    """Why a row cannot be taken: its line in the file, the column, and what would be right."""

    line: int
    column: str
    message: str


@dataclass(frozen=True, slots=True)
class RowRead:
    """What a row says."""

    line: int
    valve: str
    phase: Phase
    day: date
    usage: float
    visit: str | None
    temperature_c: float | None
    tries: tuple[TryModel, ...]


@dataclass(frozen=True, slots=True)
class Ambiguity:
    """What the sheet leaves open: which setting decides it, and what was probably meant."""

    setting: Literal["unit", "dates"]
    message: str
    suggestion: str | None


@dataclass(slots=True)
class Understood:
    """A sheet, as far as it can be understood; rows are only read once nothing is open."""

    sheet: Sheet
    columns: dict[Role, int]
    missing: list[str]
    unit: Unit | None
    dates: DateOrder | None
    decimal_comma: bool
    ambiguities: list[Ambiguity] = field(default_factory=list)
    rows: list[RowRead] = field(default_factory=list)
    faults: list[RowFault] = field(default_factory=list)
    empty: int = 0
    of_other_engines: int = 0


class _Rows:
    """The rows of a sheet by what their columns are."""

    def __init__(self, sheet: Sheet, columns: dict[Role, int]) -> None:
        self.sheet = sheet
        self.columns = columns

    def cell(self, cells: tuple[str, ...], role: Role) -> str:
        index = self.columns.get(role)
        return "" if index is None or index >= len(cells) else cells[index]

    def all_of(self, *roles: Role) -> Iterator[str]:
        for _, cells in self.sheet.rows:
            for role in roles:
                if text := self.cell(cells, role):
                    yield text

    def name(self, role: Role) -> str:
        index = self.columns.get(role)
        return ROLE_WORDS[role] if index is None else self.sheet.head[index]


def _unit(rows: _Rows) -> tuple[Unit | None, Ambiguity | None]:
    """The unit that bare figures are in, from their size; asked where there are several."""
    lines: dict[LengthIn, int] = {}
    counts: dict[LengthIn, int] = {}
    for line, cells in rows.sheet.rows:
        for role in _READ:
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


def _usage_order(rows: _Rows, order: DateOrder, decimal_comma: bool) -> bool:
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


def _dates(rows: _Rows, decimal_comma: bool) -> tuple[DateOrder | None, Ambiguity | None]:
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


def _comma(rows: _Rows) -> bool:
    texts = list(rows.all_of(*_READ))
    return any("," in text for text in texts) and not any("." in text for text in texts)


class _Reader:
    """Reads rows one by one once everything is settled."""

    def __init__(
        self, rows: _Rows, engine: EngineModel, today: date, unit: Unit, dates: DateOrder, comma: bool
    ) -> None:
        self._rows = rows
        self._engine = engine
        self._valves = Valves(engine.valves)
        self._today = today
        self._unit = unit
        self._dates = dates
        self._comma = comma
        head = rows.name("temperature").lower()
        self._fahrenheit = any(mark in head for mark in ("\u00b0f", "(f)", "_f", "fahrenheit"))
        self._at: Role = "valve"

    def of_this_engine(self, cells: tuple[str, ...]) -> bool:
        named = self._rows.cell(cells, "engine").lower()
        return not named or named in (self._engine.id.lower(), (self._engine.name or "").lower())

    def row(self, line: int, cells: tuple[str, ...]) -> RowRead | RowFault | None:
        """A row read, why it cannot be, or None: nothing was read at its valve."""
        width = len(self._rows.sheet.head)
        if len(cells) > width and any(cells[width:]):
            return RowFault(
                line,
                "the whole row",
                f"has {len(cells)} cells under {width} heads; is a decimal comma taken for a delimiter?",
            )
        if self._runs_on(cells):
            message = "runs on over a line's end; is a quotation mark not closed?"
            return RowFault(line, "the whole row", message)
        try:
            tries = self._tries(cells)
            return None if not tries else self._read(line, cells, tries)
        except CellFault as fault:
            return RowFault(line, self._rows.name(self._at), str(fault))

    def _runs_on(self, cells: tuple[str, ...]) -> bool:
        """Whether a cell has swallowed the line after it: a remark of two lines has no delimiters in it."""
        used = set(self._rows.columns.values())
        mark = DELIMITERS[self._rows.sheet.delimiter]
        if not any("\n" in cell for cell in cells):
            return False
        return any("\n" in cell and (index in used or mark in cell) for index, cell in enumerate(cells))

    def _cell(self, cells: tuple[str, ...], role: Role) -> str:
        """A cell; a fault from here on is one of it."""
        self._at = role
        return self._rows.cell(cells, role)

    def _read_cell(self, cells: tuple[str, ...], role: Role) -> str:
        """A cell of what was read; a dash says that nothing was."""
        text = self._cell(cells, role)
        return "" if text.lower() in _NOTHING else text

    def _needed(self, cells: tuple[str, ...], role: Role) -> str:
        text = self._cell(cells, role)
        if not text:
            raise CellFault(f"is empty; the {ROLE_WORDS[role]} belongs here")
        return text

    def _read(self, line: int, cells: tuple[str, ...], tries: tuple[TryModel, ...]) -> RowRead:
        if "valve" in self._rows.columns:
            valve = self._valves.named(self._needed(cells, "valve"))
        else:
            side = self._needed(cells, "side")
            valve = self._valves.at(self._needed(cells, "cylinder"), side)
        day = day_of(self._needed(cells, "date"), self._dates)
        if day > self._today:
            raise CellFault(f"{day} lies in the future (today is {self._today})")
        usage = usage_of(self._needed(cells, "usage"), decimal_comma=self._comma)
        phase = self._cell(cells, "phase")
        read_phase: Phase = phase_of(phase) if phase else "found"
        warmth = self._cell(cells, "temperature")
        temperature = temperature_of(warmth, fahrenheit=self._fahrenheit) if warmth else None
        visit = self._cell(cells, "visit")
        if "/" in visit or len(visit) > 80:
            raise CellFault(f"'{visit[:30]}' cannot name a visit: at most 80 characters, no slash")
        return RowRead(line, valve, read_phase, day, usage, visit or None, temperature, tries)

    def _tries(self, cells: tuple[str, ...]) -> tuple[TryModel, ...]:
        feel = self._cell(cells, "felt")
        felt: Felt | None = felt_of(feel) if feel else None
        tries = []
        if went := self._read_cell(cells, "went"):
            if felt == "no-go":
                raise CellFault(f"{went} went in, so it cannot be felt as 'no-go'")
            tries.append(self._try(went, felt or "go"))
        if refused := self._read_cell(cells, "refused"):
            tries.append(self._try(refused, "no-go"))
        if len(tries) == 2 and sum(tries[0].blades_mm) >= sum(tries[1].blades_mm):
            raise CellFault(
                f"{went} went in although {refused} would not; the one that would not should be thicker"
            )
        if figure := self._read_cell(cells, "clearance"):
            # One figure on paper is the blade that dragged; 'under' and 'over' say so.
            noted: Felt = "no-go" if figure.startswith("<") else "free" if figure.startswith(">") else "drag"
            tries.append(self._try(figure, felt or noted))
        return tuple(tries)

    def _try(self, text: str, felt: Felt) -> TryModel:
        return TryModel(blades_mm=list(blades_of(text, self._unit)), felt=felt, entered=text)


def understand(content: bytes, engine: EngineModel, choices: Choices, *, today: date) -> Understood:
    """A spreadsheet as far as it can be understood.

    Args:
        today: days after it are faults.

    Raises:
        Refused: the file cannot be read at all.
    """
    sheet = read_sheet(content, encoding=choices.encoding, delimiter=choices.delimiter)
    chosen = choices.columns
    columns = (
        recognised(sheet.head)
        if chosen is None
        else {role: index for role, index in chosen.items() if index < len(sheet.head)}
    )
    rows = _Rows(sheet, columns)
    comma = _comma(rows)
    unit, odd_unit = (choices.unit, None) if choices.unit else _unit(rows)
    dates, odd_dates = (choices.dates, None) if choices.dates else _dates(rows, comma)
    known = Understood(sheet, columns, missing(columns), unit, dates, comma)
    known.ambiguities = [ambiguity for ambiguity in (odd_unit, odd_dates) if ambiguity is not None]
    if known.missing or unit is None or dates is None:
        return known
    reader = _Reader(rows, engine, today, unit, dates, comma)
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
