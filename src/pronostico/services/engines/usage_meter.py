"""The usage meter: read between visits, replaced, or rolled over, each an event of its own."""

from datetime import date

from sqlalchemy.orm import Session

from pronostico.analysis.meter import offset_on, usage_history
from pronostico.core.plausibility import usage_query
from pronostico.errors import Question, Refused, ask
from pronostico.record.engine import MeterChange, UsageReading
from pronostico.record.faults import Fault
from pronostico.record.models import Record
from pronostico.services.engines.load import engine_record
from pronostico.store import records


def _faults(record: Record, change: MeterChange, today: date) -> list[Fault]:
    faults = []
    if change.date > today:
        faults.append(Fault("$.date", f"{change.date} lies in the future (today is {today})"))
    last = record.visits[-1] if record.visits else None
    if last is not None and change.date < last.date:
        why = f"{change.date} is before the last visit ({last.date}), whose total was calculated without it"
        faults.append(Fault("$.date", why))
    shown = None if last is None else last.usage - offset_on(record.engine, change.date)
    if shown is not None and change.old < shown:
        faults.append(Fault("$.old", f"is {change.old:g}; at the last visit it showed {shown:g}"))
    if change.new >= change.old:
        why = f"is {change.new:g}, not below the {change.old:g} before; this is not a new meter"
        faults.append(Fault("$.new", why))
    return faults


def note_meter_change(session: Session, engine_id: str, change: MeterChange, *, today: date) -> None:
    """Note that the meter showed `old` last and went on from `new`; the same sent twice is noted once.

    Raises:
        NotThere: there is no such engine.
        Refused: it lies ahead, before the last visit, or the figures cannot be.
    """
    record = engine_record(session, engine_id)
    if change in record.engine.meter_changes:
        return
    faults = _faults(record, change, today)
    if faults:
        raise Refused(faults)
    changes = [*record.engine.meter_changes, change]
    records.put_meter_changes(session, engine_id, changes)
    session.commit()


def take_back_meter_change(session: Session, engine_id: str, change: MeterChange) -> None:
    """Take the change noted last back, while no visit was computed with it; one that is gone is no fault.

    Raises:
        NotThere: there is no such engine.
        Refused: a visit since then was computed with it.
    """
    record = engine_record(session, engine_id)
    if change not in record.engine.meter_changes:
        return
    since = [visit.id for visit in record.visits if visit.date >= change.date]
    if since:
        raise Refused([Fault("$", f"visit {since[0]} was calculated with it; correct that visit first")])
    changes = [one for one in record.engine.meter_changes if one != change]
    records.put_meter_changes(session, engine_id, changes)
    session.commit()


def note_usage_reading(
    session: Session,
    engine_id: str,
    day: date,
    meter: float,
    *,
    confirmed: list[str],
    today: date,
) -> None:
    """Note what the meter showed on a day without a visit; the same sent twice is noted once.

    Raises:
        NotThere: there is no such engine.
        Refused: it lies ahead, or the usage would run backwards.
        Asked: it lies very far from the reading before.
    """
    record = engine_record(session, engine_id)
    reading = UsageReading(date=day, usage=meter + offset_on(record.engine, day))
    if reading in record.engine.usage_readings:
        return
    faults = [Fault("$.date", f"{day} lies in the future (today is {today})")] if day > today else []
    known = usage_history(record)
    before = max((one for one in known if one[0] <= day), default=None)
    after = min((one for one in known if one[0] > day), default=None)
    if before is not None and reading.usage < before[1]:
        why = f"gives {reading.usage:g} in all, less than the {before[1]:g} of {before[0]}"
        faults.append(Fault("$.meter", f"{why}; a new meter is entered with the engine's data"))
    if after is not None and reading.usage > after[1]:
        faults.append(
            Fault("$.meter", f"gives {reading.usage:g} in all, more than the {after[1]:g} of {after[0]}")
        )
    if faults:
        raise Refused(faults)
    if before is not None:
        query = usage_query(reading.usage, before[1], record.engine.check_interval)
        ask([] if query is None else [Question("$.meter", query.question)], confirmed)
    records.put_usage_readings(
        session,
        engine_id,
        sorted([*record.engine.usage_readings, reading], key=lambda one: (one.date, one.usage)),
    )
    session.commit()


def take_back_usage_reading(session: Session, engine_id: str, reading: UsageReading) -> None:
    """Take a reading of the meter back; one that is gone is no fault.

    Raises:
        NotThere: there is no such engine.
    """
    readings = engine_record(session, engine_id).engine.usage_readings
    if reading in readings:
        records.put_usage_readings(session, engine_id, [one for one in readings if one != reading])
        session.commit()
