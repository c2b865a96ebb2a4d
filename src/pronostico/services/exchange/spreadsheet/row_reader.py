"""One row of a sheet read: what it says of one valve at one visit, or why it cannot be taken."""

from collections.abc import Iterator
from dataclasses import dataclass
from datetime import date

from pronostico.core.units import KM_PER_MILE
from pronostico.core.visits import Felt, Phase
from pronostico.record.engine import EngineModel
from pronostico.record.visit import TryModel
from pronostico.services.exchange.spreadsheet.cells import (
    CellFault,
    DateOrder,
    Unit,
    Valves,
    blades_of,
    day_of,
    felt_of,
    phase_of,
    range_of,
    shim_of,
    temperature_of,
    usage_of,
)
from pronostico.services.exchange.spreadsheet.columns import (
    ROLE_WORDS,
    Role,
    in_hundredths,
    usage_unit_of,
)
from pronostico.services.exchange.spreadsheet.sheet import DELIMITERS, Sheet

READ_ROLES: tuple[Role, ...] = ("went", "refused", "clearance", "left", "target")
_NOTHING = ("-", "\u2013", "\u2014", "n/a", "?")


@dataclass(frozen=True, slots=True)
class RowFault:
    """Why a row cannot be taken: its line in the file, the column, and what would be right.

    `index`, `text`: the column's number and what stands there, where the fault is one cell's.
    """

    line: int
    column: str
    message: str
    index: int | None = None
    text: str = ""


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
    left: tuple[TryModel, ...] = ()
    target_mm: float | None = None
    shim_before_mm: float | None = None
    shim_mm: float | None = None


class Rows:
    """The rows of a sheet by what their columns are."""

    def __init__(self, sheet: Sheet, columns: dict[Role, int]) -> None:
        self.sheet = sheet
        self.columns = columns

    def cell(self, cells: tuple[str, ...], role: Role) -> str:
        """What stands in a row's cell; empty where the row or the sheet has none."""
        index = self.columns.get(role)
        return "" if index is None or index >= len(cells) else cells[index]

    def all_of(self, *roles: Role) -> Iterator[str]:
        """Everything that stands in some columns, line by line."""
        for _, cells in self.sheet.rows:
            for role in roles:
                if text := self.cell(cells, role):
                    yield text

    def own_column(self, cells: tuple[str, ...], role: Role) -> int | None:
        """The column of the file in which a row has something."""
        index = self.columns.get(role)
        return None if index is None else self.sheet.own_column(cells, index)

    def name(self, role: Role, cells: tuple[str, ...] = ()) -> str:
        """What the column is called in the file."""
        index = self.own_column(cells, role) if cells else self.columns.get(role)
        if index is None:
            return ROLE_WORDS[role]
        origin = self.sheet.origin
        return (self.sheet.head if origin is None or not cells else origin.head)[index]


_BRACKET: tuple[Felt, Felt] = ("go", "no-go")


def head_of(rows: Rows, role: Role) -> str:
    """The head of a role's column in the file; where each valve has one, that of the first."""
    index, origin = rows.columns.get(role), rows.sheet.origin
    if index is None:
        return ""
    if origin is None:
        return rows.sheet.head[index]
    return next((origin.head[own] for (_, at), own in origin.places.items() if at == index), "")


def _usage_factor(head: str, engine: EngineModel) -> float:
    """What turns the sheet's running total into the engine's unit: miles and kilometres are one another's."""
    named = usage_unit_of(head)
    if (named, engine.usage_unit) == ("mi", "km"):
        return KM_PER_MILE
    return 1.0 / KM_PER_MILE if (named, engine.usage_unit) == ("km", "mi") else 1.0


class RowReader:
    """Reads rows one by one once everything is settled."""

    def __init__(
        self, rows: Rows, engine: EngineModel, today: date, unit: Unit, dates: DateOrder, comma: bool
    ) -> None:
        self._rows = rows
        self._engine = engine
        self._valves = Valves(engine.valves)
        self._today = today
        self._unit = unit
        self._dates = dates
        self._comma = comma
        self._per_unit = _usage_factor(head_of(rows, "usage"), engine)
        self._in_hundredths = frozenset(role for role in READ_ROLES if in_hundredths(head_of(rows, role)))
        head = head_of(rows, "temperature").lower()
        self._fahrenheit = any(mark in head for mark in ("\u00b0f", "(f)", "_f", "fahrenheit"))
        self._at: Role = "valve"

    def of_this_engine(self, cells: tuple[str, ...]) -> bool:
        """Whether a row names this engine, or none."""
        named = self._rows.cell(cells, "engine").lower()
        return not named or named in (self._engine.id.lower(), (self._engine.name or "").lower())

    def row(self, line: int, cells: tuple[str, ...]) -> RowRead | RowFault | None:
        """A row read, why it cannot be, or None: nothing was read at its valve."""
        if self._rows.sheet.delimiter is None:
            return self._row(line, cells)
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
        return self._row(line, cells)

    def _row(self, line: int, cells: tuple[str, ...]) -> RowRead | RowFault | None:
        try:
            tries, left = self._tries(cells), self._left(cells)
            setting = self._target(cells), self._shim(cells, "shim_before"), self._shim(cells, "shim")
            if not tries and not left and setting == (None, None, None):
                return None
            return self._read(line, cells, tries, left, *setting)
        except CellFault as fault:
            text = self._rows.cell(cells, self._at)
            index = self._rows.own_column(cells, self._at)
            return RowFault(line, self._rows.name(self._at, cells), str(fault), index, text)

    def _runs_on(self, cells: tuple[str, ...]) -> bool:
        """Whether a cell has swallowed the line after it: a remark of two lines has no delimiters in it."""
        used = set(self._rows.columns.values())
        delimiter = self._rows.sheet.delimiter
        if delimiter is None:
            return False
        mark = DELIMITERS[delimiter]
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

    def _read(
        self,
        line: int,
        cells: tuple[str, ...],
        tries: tuple[TryModel, ...],
        left: tuple[TryModel, ...],
        target_mm: float | None,
        shim_before_mm: float | None,
        shim_mm: float | None,
    ) -> RowRead:
        if "valve" in self._rows.columns:
            valve = self._valves.named(self._needed(cells, "valve"))
        else:
            side = self._needed(cells, "side")
            valve = self._valves.at(self._needed(cells, "cylinder"), side)
        day = day_of(self._needed(cells, "date"), self._dates)
        if day > self._today:
            raise CellFault(f"{day} lies in the future (today is {self._today})")
        usage = round(usage_of(self._needed(cells, "usage"), decimal_comma=self._comma) * self._per_unit, 1)
        phase = self._cell(cells, "phase")
        read_phase: Phase = phase_of(phase) if phase else "found"
        warmth = self._cell(cells, "temperature")
        temperature = temperature_of(warmth, fahrenheit=self._fahrenheit) if warmth else None
        visit = self._cell(cells, "visit")
        if "/" in visit or len(visit) > 80:
            raise CellFault(f"'{visit[:30]}' cannot name a visit: at most 80 characters, no slash")
        found, after = (tries, left) if read_phase == "found" or left else ((), tries)
        return RowRead(
            line,
            valve,
            read_phase,
            day,
            usage,
            visit or None,
            temperature,
            found,
            after,
            target_mm,
            shim_before_mm,
            shim_mm,
        )

    def _tries(self, cells: tuple[str, ...]) -> tuple[TryModel, ...]:
        feel = self._cell(cells, "felt")
        felt: Felt | None = felt_of(feel) if feel else None
        tries = []
        if went := self._read_cell(cells, "went"):
            if felt == "no-go":
                raise CellFault(f"{went} went in, so it cannot be felt as 'no-go'")
            tries.append(self._try(went, felt or "go", "went"))
        if refused := self._read_cell(cells, "refused"):
            tries.append(self._try(refused, "no-go", "refused"))
        if len(tries) == 2 and sum(tries[0].blades_mm) >= sum(tries[1].blades_mm):
            raise CellFault(
                f"{went} went in although {refused} would not; the one that would not should be thicker"
            )
        if figure := self._read_cell(cells, "clearance"):
            tries.extend(self._figure(figure, felt, "clearance"))
        return tuple(tries)

    def _left(self, cells: tuple[str, ...]) -> tuple[TryModel, ...]:
        figure = self._read_cell(cells, "left")
        return self._figure(figure, None, "left") if figure else ()

    def _figure(self, figure: str, felt: Felt | None, role: Role) -> tuple[TryModel, ...]:
        """One figure on paper is the blade that dragged; 'under' and 'over' say so, two are a bracket."""
        between = range_of(figure)
        if between is not None:
            went, refused = (self._try(one, how, role) for one, how in zip(between, _BRACKET, strict=True))
            if sum(went.blades_mm) >= sum(refused.blades_mm):
                raise CellFault(
                    f"'{figure}': the second figure, which would not go, should be the thicker one"
                )
            return went, refused
        noted: Felt = "no-go" if figure.startswith("<") else "free" if figure.startswith(">") else "drag"
        return (self._try(figure, felt or noted, role),)

    def _try(self, text: str, felt: Felt, role: Role) -> TryModel:
        return TryModel(blades_mm=list(blades_of(text, self._unit_of(role))), felt=felt, entered=text)

    def _unit_of(self, role: Role) -> Unit:
        return "0.01 mm" if role in self._in_hundredths else self._unit

    def _target(self, cells: tuple[str, ...]) -> float | None:
        text = self._read_cell(cells, "target")
        return sum(blades_of(text, self._unit_of("target"))) if text else None

    def _shim(self, cells: tuple[str, ...], role: Role) -> float | None:
        text = self._read_cell(cells, role)
        return shim_of(text) if text else None
