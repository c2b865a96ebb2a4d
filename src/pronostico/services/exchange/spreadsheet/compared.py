"""Readings of a spreadsheet held against an engine's visits: what is new, the same, or cannot be."""

from bisect import bisect_right
from collections.abc import Iterable, Sequence
from dataclasses import dataclass, field
from datetime import date
from math import inf

from pronostico.core.visits import Phase
from pronostico.record.models import Record
from pronostico.record.visit import SettingModel, TryModel, VisitModel
from pronostico.services.exchange.spreadsheet.columns import ROLE_WORDS, Role
from pronostico.services.exchange.spreadsheet.report import (
    AmbiguityOut,
    ColumnOut,
    ReadingsOut,
    RowFaultOut,
    RowOut,
    VisitChangeOut,
    VisitState,
)
from pronostico.services.exchange.spreadsheet.row_reader import RowFault, RowRead
from pronostico.services.exchange.spreadsheet.understood import Ambiguity, Understood

SHOWN_FAULTS, _SHOWN_VISITS, _SHOWN_ROWS = 1000, 300, 8


@dataclass(slots=True)
class BroughtVisit:
    """One visit of the sheet: the workshop's visit that it is (None: new), and its readings, line by line."""

    id: str
    day: date
    usage: float
    known: VisitModel | None
    temperature_c: float | None = None
    readings: dict[tuple[str, Phase], list[TryModel]] = field(default_factory=dict)
    lines: dict[tuple[str, Phase], int] = field(default_factory=dict)
    all_lines: list[int] = field(default_factory=list)
    targets: dict[str, float] = field(default_factory=dict)
    shims_before: dict[str, float] = field(default_factory=dict)
    shims: dict[str, float] = field(default_factory=dict)
    settings: list[SettingModel] = field(default_factory=list)
    same: int = 0

    @property
    def state(self) -> VisitState:
        """Whether the visit is new, added to, or the same."""
        if self.known is None:
            return "new"
        return "added to" if self.readings or self.settings else "same"


def _alike(a: Iterable[TryModel], b: Iterable[TryModel]) -> bool:
    return [(one.blades_mm, one.felt) for one in a] == [(one.blades_mm, one.felt) for one in b]


def longest_rise(values: Sequence[float]) -> list[int]:
    """The places of a longest subsequence that never goes back (patience sorting).

    >>> longest_rise([100, 9000, 200, 300])
    [0, 2, 3]
    """
    tails: list[float] = []
    places: list[int] = []
    before: list[int | None] = []
    for index, value in enumerate(values):
        at = bisect_right(tails, value)
        before.append(places[at - 1] if at else None)
        tails[at : at + 1] = [value]
        places[at : at + 1] = [index]
    chain: list[int] = []
    place = places[-1] if places else None
    while place is not None:
        chain.append(place)
        place = before[place]
    return chain[::-1]


class ComparedSheet:
    """A sheet held against a record."""

    def __init__(self, record: Record, known: Understood, *, remembered: bool) -> None:
        self.record = record
        self.remembered = remembered
        self._cells: dict[int, tuple[str, ...]] = {}
        self.known = known
        self.faults = list(known.faults)
        self._by_day = {(visit.date, visit.usage): visit for visit in record.visits}
        self._by_id = {visit.id: visit for visit in record.visits}
        self.visits: dict[tuple[date, float, str | None], BroughtVisit] = {}
        # A sheet with a feel beside one figure has a line an answer: then a valve stands on several.
        self._line_an_answer = {"felt", "clearance"} <= set(known.columns)
        self._ids = set(self._by_id)
        for row in known.rows:
            self._take(row)
        self._check_order()
        self._hold()
        self._set()
        # Of a row with a column a valve, what is wrong for the whole row is said once.
        self._more = len(self.faults) - len(known.faults)
        self.faults = list(dict.fromkeys(self.faults))

    def _fault(self, line: int, role: Role, message: str) -> None:
        index, sheet = self.known.named.get(role), self.known.sheet
        head = sheet.head if sheet.origin is None else sheet.origin.head
        rows = sheet.rows if sheet.origin is None else sheet.origin.rows
        if index is None:
            self.faults.append(RowFault(line, ROLE_WORDS[role], message))
            return
        if not self._cells:
            self._cells = dict(rows)
        cells = self._cells[line]
        text = cells[index] if index < len(cells) else ""
        self.faults.append(RowFault(line, head[index], message, index, text))

    def _visit(self, row: RowRead) -> BroughtVisit | None:
        key = (row.day, row.usage, row.visit)
        if key in self.visits:
            return self.visits[key]
        known = self._by_day.get((row.day, row.usage))
        named = None if row.visit is None else self._by_id.get(row.visit)
        if named is not None and named is not known:
            message = f"visit {named.id} exists already, of {named.date} at {named.usage:g}"
            self._fault(row.line, "visit", message)
            return None
        id = known.id if known is not None else self._free_id(row)
        brought = BroughtVisit(id, row.day, row.usage, known)
        self.visits[key] = brought
        return brought

    def _free_id(self, row: RowRead) -> str:
        wanted = row.visit or f"t{row.day.isoformat()}"
        id, number = wanted, 2
        while id in self._ids:
            id, number = f"{wanted}-{number}", number + 1
        self._ids.add(id)
        return id

    def _take(self, row: RowRead) -> None:
        visit = self._visit(row)
        if visit is None:
            return
        if visit.temperature_c is None:
            visit.temperature_c = row.temperature_c
        read: tuple[tuple[Phase, tuple[TryModel, ...]], ...] = (("found", row.tries), ("left", row.left))
        for phase, answers in read:
            key = (row.valve, phase)
            if not answers:
                continue
            if key in visit.lines and not self._line_an_answer:
                there = self.known.sheet.place(visit.lines[key])
                message = f"{row.valve} as {phase} on {row.day} is on {there} already"
                self._fault(row.line, "valve", message)
                return
            visit.lines.setdefault(key, row.line)
            visit.readings.setdefault(key, []).extend(answers)
        visit.all_lines.append(row.line)
        for kept, figure in (
            (visit.targets, row.target_mm),
            (visit.shims_before, row.shim_before_mm),
            (visit.shims, row.shim_mm),
        ):
            if figure is not None:
                kept[row.valve] = figure

    def _check_order(self) -> None:
        """The running total never goes back: a visit out of line is a fault in each of its rows."""
        workshop = sorted((visit.date, visit.usage) for visit in self.record.visits)
        fitting = []
        for key, visit in list(self.visits.items()):
            before = max((usage for day, usage in workshop if day < visit.day), default=0.0)
            after = min((usage for day, usage in workshop if day > visit.day), default=inf)
            if before <= visit.usage <= after:
                fitting.append(key)
            else:
                message = f"your visits have {before:g} before that day"
                message += "" if after == inf else f" and {after:g} after it"
                self._leave_out(key, f"{visit.usage:g} on {visit.day} does not fit: {message}")
        # Read from the end, so that of two that contradict each other the earlier is believed.
        fitting.sort(key=lambda key: key[:2], reverse=True)
        in_line = set(longest_rise([-self.visits[key].usage for key in fitting]))
        for index, key in enumerate(fitting):
            if index not in in_line:
                visit = self.visits[key]
                message = "does not fit the days around it: the running total cannot go back"
                self._leave_out(key, f"{visit.usage:g} on {visit.day} {message}")

    def _leave_out(self, key: tuple[date, float, str | None], message: str) -> None:
        for line in self.visits.pop(key).all_lines:
            self._fault(line, "usage", message)

    def _hold(self) -> None:
        """What is there already is passed over; what differs from it is a fault."""
        for visit in self.visits.values():
            if visit.known is None:
                continue
            for key in list(visit.readings):
                there = [
                    one
                    for reading in visit.known.readings
                    if (reading.valve, reading.phase) == key
                    for one in reading.tries
                ]
                if not there:
                    continue
                if _alike(there, visit.readings.pop(key)):
                    visit.same += 1
                else:
                    message = f"{key[0]} as {key[1]} at visit {visit.id} differs from yours, which is kept"
                    self._fault(visit.lines[key], "valve", message)

    def _set(self) -> None:
        """What was done to the valves: a target, another shim than before, or a reading as left that differs.

        A column of shims says which shim is in, at every visit: only where it is another was it changed.
        """
        shims: dict[str, float] = {}
        for visit in sorted(self.visits.values(), key=lambda one: (one.day, one.usage)):
            known = set() if visit.known is None else {one.valve for one in visit.known.settings}
            read_left = {valve for valve, phase in visit.readings if phase == "left"}
            for valve in sorted(read_left | set(visit.targets) | set(visit.shims) | set(visit.shims_before)):
                before = visit.shims_before.get(valve, shims.get(valve))
                after = visit.shims.get(valve)
                latest = before if after is None else after
                if latest is not None:
                    shims[valve] = latest
                if valve in known:
                    continue
                changed = before is not None and after is not None and before != after
                # A reading as left that says the same again was not preceded by any work.
                found = visit.readings.get((valve, "found"), [])
                moved = valve in read_left and not _alike(found, visit.readings[valve, "left"])
                if changed:
                    visit.settings.append(SettingModel(valve=valve, shim_from_mm=before, shim_to_mm=after))
                elif valve in visit.targets or moved:
                    target = visit.targets.get(valve)
                    visit.settings.append(SettingModel(valve=valve, target_mm=target))

    def out(self) -> ReadingsOut:
        """What of the sheet is new, for the page."""
        known, sheet = self.known, self.known.sheet
        by_index = {index: role for role, index in known.named.items()}
        of_valve = {one.index: one for one in known.of_valves}
        head = sheet.head if sheet.origin is None else sheet.origin.head
        visits = sorted(self.visits.values(), key=lambda one: (one.day, one.usage))
        faults = sorted(self.faults, key=lambda one: one.line)
        return ReadingsOut(
            sheets=list(sheet.sheets),
            sheets_read=list(sheet.read),
            remembered=self.remembered,
            encoding=sheet.encoding,
            not_utf_8=sheet.not_utf_8,
            delimiter=sheet.delimiter,
            decimal_comma=known.decimal_comma,
            unit=known.unit,
            dates=known.dates,
            columns=[
                ColumnOut(
                    index=index,
                    head=name,
                    role=of_valve[index].what if index in of_valve else by_index.get(index),
                    valve=of_valve[index].valve if index in of_valve else None,
                    example=_first_in(known, index),
                )
                for index, name in enumerate(head)
            ],
            missing=known.missing,
            ambiguities=[_ambiguity_out(ambiguity) for ambiguity in known.ambiguities],
            rows=len(sheet.rows if sheet.origin is None else sheet.origin.rows),
            rows_good=len(known.rows) - self._more,
            rows_empty=known.empty,
            rows_of_other_engines=known.of_other_engines,
            readings_new=sum(len(one.readings) for one in visits),
            readings_same=sum(one.same for one in visits),
            settings_new=sum(len(one.settings) for one in visits),
            visits=[_visit_out(one) for one in visits[:_SHOWN_VISITS]],
            visit_count=len(visits),
            sample=[_row_out(known, row) for row in known.rows[:_SHOWN_ROWS]],
            faults=[
                RowFaultOut(
                    place=sheet.place(one.line),
                    line=one.line,
                    column=one.column,
                    message=one.message,
                    index=one.index,
                    text=one.text,
                )
                for one in faults[:SHOWN_FAULTS]
            ],
            fault_count=len(faults),
        )


def _first_in(known: Understood, index: int) -> str:
    sheet = known.sheet
    rows = sheet.rows if sheet.origin is None else sheet.origin.rows
    cells = (cells[index] for _, cells in rows if index < len(cells) and cells[index])
    return next(cells, "")[:60]


def _ambiguity_out(ambiguity: Ambiguity) -> AmbiguityOut:
    return AmbiguityOut.model_validate(ambiguity)


def _visit_out(one: BroughtVisit) -> VisitChangeOut:
    return VisitChangeOut(
        id=one.id, date=one.day, usage=one.usage, state=one.state, readings=len(one.readings)
    )


def _row_out(known: Understood, row: RowRead) -> RowOut:
    return RowOut(
        place=known.sheet.place(row.line),
        line=row.line,
        valve=row.valve,
        day=row.day,
        usage=row.usage,
        found=list(row.tries),
        left=list(row.left),
        target_mm=row.target_mm,
        shim_mm=row.shim_mm,
    )
