"""Readings of a spreadsheet looked at, and stored in the visits of an engine: all of them or none."""

import csv
import io
from dataclasses import replace
from datetime import date, datetime
from uuid import uuid4

from sqlalchemy.orm import Session

from pronostico.errors import Refused
from pronostico.record.faults import Fault
from pronostico.record.models import Record
from pronostico.record.reading_in import NotARecord, read_record
from pronostico.record.visit import ReadingModel, VisitModel
from pronostico.record.work import ShimSeen
from pronostico.services.engines.load import engine_record
from pronostico.services.exchange.spreadsheet.compared import SHOWN_FAULTS, BroughtVisit, ComparedSheet
from pronostico.services.exchange.spreadsheet.mappings import mapping_of, remember_mapping
from pronostico.services.exchange.spreadsheet.report import (
    ReadingsOut,
)
from pronostico.services.exchange.spreadsheet.sheet import read_sheet
from pronostico.services.exchange.spreadsheet.understood import (
    Choices,
    Understood,
    understand,
)
from pronostico.store import records, settings, tries


def preview_readings(
    session: Session, engine_id: str, content: bytes, choices: Choices, *, today: date
) -> ReadingsOut:
    """What a spreadsheet would bring; nothing is stored.

    Raises:
        NotThere: there is no such engine.
        Refused: the file cannot be read at all.
    """
    record = engine_record(session, engine_id)
    known, remembered = _understood(session, record, content, choices, today=today)
    return ComparedSheet(record, known, remembered=remembered).out()


def _understood(
    session: Session, record: Record, content: bytes, choices: Choices, *, today: date
) -> tuple[Understood, bool]:
    """A sheet understood; where nothing is chosen, as one with the same heads was when it was imported."""
    head = read_sheet(
        content, encoding=choices.encoding, delimiter=choices.delimiter, sheet=choices.sheet
    ).head
    kept = None if choices.columns is not None or choices.of_valves else mapping_of(session, head)
    if kept is None:
        return understand(content, record.engine, choices, today=today), False
    valves = {valve.id for valve in record.engine.valves}
    of_valves = tuple(one for one in kept.of_valves if one.valve in valves)
    again = replace(
        choices,
        columns=kept.columns,
        of_valves=of_valves,
        unit=choices.unit or kept.unit,
        dates=choices.dates or kept.dates,
    )
    return understand(content, record.engine, again, today=today), True


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
    known, remembered = _understood(session, record, content, choices, today=today)
    held = ComparedSheet(record, known, remembered=remembered)
    open_ones = [f"no column gives {what}" for what in known.missing]
    open_ones += [ambiguity.message for ambiguity in known.ambiguities]
    if open_ones:
        raise Refused([Fault("$", message) for message in open_ones])
    if held.faults and not leave_out_faulty:
        first = sorted(held.faults, key=lambda one: one.line)[:SHOWN_FAULTS]
        raise Refused([Fault(f"{known.sheet.place(one.line)}, {one.column}", one.message) for one in first])
    _store(session, held, today=today, now=now)
    sheet = known.sheet
    remember_mapping(
        session,
        sheet.head if sheet.origin is None else sheet.origin.head,
        replace(
            choices, columns=known.named, of_valves=tuple(known.of_valves), unit=known.unit, dates=known.dates
        ),
    )
    out = held.out()
    session.commit()
    return out


def _store(session: Session, held: ComparedSheet, *, today: date, now: datetime) -> None:
    engine_id = held.record.engine.id
    new = [one for one in held.visits.values() if one.known is None and (one.readings or one.settings)]
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
        for setting in one.settings:
            settings.put_setting(
                session, engine_id, one.id, setting.model_copy(update={"id": f"table-{uuid4()}"})
            )
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


def _new_visit(one: BroughtVisit) -> VisitModel:
    return VisitModel(
        id=one.id,
        date=one.day,
        usage=one.usage,
        temperature_c=one.temperature_c,
        work="check-and-set" if one.settings else "check",
        readings=[
            ReadingModel(valve=valve, phase=phase, tries=answers)
            for (valve, phase), answers in one.readings.items()
        ],
        settings=one.settings,
        shims_seen={valve: ShimSeen(printed_mm=shim) for valve, shim in one.shims.items()},
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
