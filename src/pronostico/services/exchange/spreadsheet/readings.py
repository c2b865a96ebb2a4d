"""Readings of a spreadsheet held against an engine's visits, and stored: all of them or none."""

import csv
import io
from bisect import bisect_right
from collections.abc import Iterable, Sequence
from dataclasses import dataclass, field
from datetime import date, datetime
from math import inf
from uuid import uuid4

from sqlalchemy.orm import Session

from pronostico.core.visits import Phase
from pronostico.errors import Refused
from pronostico.record.faults import Fault
from pronostico.record.models import Record
from pronostico.record.reading_in import NotARecord, read_record
from pronostico.record.visit import ReadingModel, TryModel, VisitModel
from pronostico.services.engines.load import engine_record
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
from pronostico.services.exchange.spreadsheet.understood import (
    Ambiguity,
    Choices,
    RowFault,
    RowRead,
    Understood,
    understand,
)
from pronostico.store import records, tries

_SHOWN_FAULTS, _SHOWN_VISITS, _SHOWN_ROWS = 1000, 300, 8


@dataclass(slots=True)
class _Brought:
    """One visit of the sheet: the workshop's visit that it is (None: new), and its readings, line by line."""

    id: str
    day: date
    usage: float
    known: VisitModel | None
    temperature_c: float | None = None
    readings: dict[tuple[str, Phase], list[TryModel]] = field(default_factory=dict)
    lines: dict[tuple[str, Phase], int] = field(default_factory=dict)
    all_lines: list[int] = field(default_factory=list)
    same: int = 0

    @property
    def state(self) -> VisitState:
        if self.known is None:
            return "new"
        return "added to" if self.readings else "same"


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


class _Held:
    """A sheet held against a record."""

    def __init__(self, record: Record, known: Understood) -> None:
        self.record = record
        self.known = known
        self.faults = list(known.faults)
        self._by_day = {(visit.date, visit.usage): visit for visit in record.visits}
        self._by_id = {visit.id: visit for visit in record.visits}
        self.visits: dict[tuple[date, float, str | None], _Brought] = {}
        # A sheet with a feel beside one figure has a line an answer: then a valve stands on several.
        self._line_an_answer = {"felt", "clearance"} <= set(known.columns)
        self._ids = set(self._by_id)
        for row in known.rows:
            self._take(row)
        self._check_order()
        self._hold()

    def _fault(self, line: int, role: Role, message: str) -> None:
        index = self.known.columns.get(role)
        column = ROLE_WORDS[role] if index is None else self.known.sheet.head[index]
        self.faults.append(RowFault(line, column, message))

    def _visit(self, row: RowRead) -> _Brought | None:
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
        brought = _Brought(id, row.day, row.usage, known)
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
        key = (row.valve, row.phase)
        if key in visit.lines and not self._line_an_answer:
            message = f"{row.valve} as {row.phase} on {row.day} is on line {visit.lines[key]} already"
            self._fault(row.line, "valve", message)
            return
        visit.lines.setdefault(key, row.line)
        visit.all_lines.append(row.line)
        visit.readings.setdefault(key, []).extend(row.tries)

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

    def out(self) -> ReadingsOut:
        known, sheet = self.known, self.known.sheet
        by_index = {index: role for role, index in known.columns.items()}
        visits = sorted(self.visits.values(), key=lambda one: (one.day, one.usage))
        faults = sorted(self.faults, key=lambda one: one.line)
        return ReadingsOut(
            encoding=sheet.encoding,
            not_utf_8=sheet.not_utf_8,
            delimiter=sheet.delimiter,
            decimal_comma=known.decimal_comma,
            unit=known.unit,
            dates=known.dates,
            columns=[
                ColumnOut(index=index, head=head, role=by_index.get(index), example=_first_in(known, index))
                for index, head in enumerate(sheet.head)
            ],
            missing=known.missing,
            ambiguities=[_ambiguity_out(ambiguity) for ambiguity in known.ambiguities],
            rows=len(sheet.rows),
            rows_good=len(known.rows) - (len(self.faults) - len(known.faults)),
            rows_empty=known.empty,
            rows_of_other_engines=known.of_other_engines,
            readings_new=sum(len(one.readings) for one in visits),
            readings_same=sum(one.same for one in visits),
            visits=[_visit_out(one) for one in visits[:_SHOWN_VISITS]],
            visit_count=len(visits),
            sample=[_row_out(row) for row in known.rows[:_SHOWN_ROWS]],
            faults=[RowFaultOut.model_validate(one) for one in faults[:_SHOWN_FAULTS]],
            fault_count=len(faults),
        )


def _first_in(known: Understood, index: int) -> str:
    cells = (cells[index] for _, cells in known.sheet.rows if index < len(cells) and cells[index])
    return next(cells, "")[:60]


def _ambiguity_out(ambiguity: Ambiguity) -> AmbiguityOut:
    return AmbiguityOut.model_validate(ambiguity)


def _visit_out(one: _Brought) -> VisitChangeOut:
    return VisitChangeOut(
        id=one.id, date=one.day, usage=one.usage, state=one.state, readings=len(one.readings)
    )


def _row_out(row: RowRead) -> RowOut:
    return RowOut(
        line=row.line, valve=row.valve, phase=row.phase, day=row.day, usage=row.usage, answers=list(row.tries)
    )


def preview_readings(
    session: Session, engine_id: str, content: bytes, choices: Choices, *, today: date
) -> ReadingsOut:
    """What a spreadsheet would bring; nothing is stored.

    Raises:
        NotThere: there is no such engine.
        Refused: the file cannot be read at all.
    """
    record = engine_record(session, engine_id)
    return _Held(record, understand(content, record.engine, choices, today=today)).out()


def import_readings(
    session: Session,
    engine_id: str,
    content: bytes,
    choices: Choices,
    *,
    leave_out_faulty: bool,
    today: date,
    now: datetime,
) -> ReadingsOut:
    """Store the readings of a spreadsheet: all of them or none.

    Args:
        leave_out_faulty: rows with faults are passed over; else a fault refuses the whole.

    Raises:
        NotThere: there is no such engine.
        Refused: the file cannot be read, something is not chosen yet, or a row has a fault.
    """
    record = engine_record(session, engine_id)
    known = understand(content, record.engine, choices, today=today)
    held = _Held(record, known)
    open_ones = [f"no column gives {what}" for what in known.missing]
    open_ones += [ambiguity.message for ambiguity in known.ambiguities]
    if open_ones:
        raise Refused([Fault("$", message) for message in open_ones])
    if held.faults and not leave_out_faulty:
        first = sorted(held.faults, key=lambda one: one.line)[:_SHOWN_FAULTS]
        raise Refused([Fault(f"line {one.line}, {one.column}", one.message) for one in first])
    _store(session, held, today=today, now=now)
    out = held.out()
    session.commit()
    return out


def _store(session: Session, held: _Held, *, today: date, now: datetime) -> None:
    engine_id = held.record.engine.id
    new = [one for one in held.visits.values() if one.known is None and one.readings]
    visits = [_new_visit(one) for one in new]
    together = sorted([*held.record.visits, *visits], key=lambda visit: (visit.usage, visit.date))
    whole = held.record.model_copy(update={"visits": together})
    try:
        read_record(whole.model_dump_json(exclude_none=True), today=today)
    except NotARecord as error:
        raise Refused(error.faults) from error
    records.add_visits(session, engine_id, visits, now=now)
    for one in held.visits.values():
        if one.known is None:
            continue
        for (valve, phase), answers in one.readings.items():
            for answer in answers:
                tries.add_try(
                    session,
                    engine_id,
                    one.id,
                    f"table-{uuid4()}",
                    valve=valve,
                    phase=phase,
                    crank_turn=1,
                    one=answer,
                    now=now,
                )


def _new_visit(one: _Brought) -> VisitModel:
    return VisitModel(
        id=one.id,
        date=one.day,
        usage=one.usage,
        temperature_c=one.temperature_c,
        work="check-and-set" if any(phase == "left" for _, phase in one.readings) else "check",
        readings=[
            ReadingModel(valve=valve, phase=phase, tries=answers)
            for (valve, phase), answers in one.readings.items()
        ],
        notes="Imported from a spreadsheet.",
    )


def example_sheet(session: Session, engine_id: str, *, today: date) -> str:
    """A spreadsheet to start from: the columns, and a line for each of the engine's valves, as of today.

    Raises:
        NotThere: there is no such engine.
    """
    record = engine_record(session, engine_id)
    unit, engine = record.engine.usage_unit, record.engine
    text = io.StringIO()
    writer = csv.writer(text)
    writer.writerow(
        [
            "valve",
            "date",
            f"usage ({unit})",
            "found or left",
            "went (mm)",
            "did not go (mm)",
            "felt",
            "temperature (C)",
        ]
    )
    usage = record.visits[-1].usage if record.visits else engine.check_interval
    for valve in engine.valves:
        spec = valve.spec or getattr(engine.spec, valve.side)
        middle = spec.figure_mm or ((spec.min_mm or 0.1) + (spec.max_mm or 0.2)) / 2.0
        went = round(middle, 2)
        writer.writerow(
            [
                valve.id,
                today.isoformat(),
                f"{usage:g}",
                "found",
                f"{went:.2f}",
                f"{went + 0.03:.2f}",
                "drag",
                "18",
            ]
        )
    return text.getvalue()
