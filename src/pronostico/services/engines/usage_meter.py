"""The usage meter replaced or rolled over: an event of its own, with what it showed before and after."""

from datetime import date

from sqlalchemy.orm import Session

from pronostico.analysis.meter import offset_on
from pronostico.errors import Refused
from pronostico.record.engine import MeterChange
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
