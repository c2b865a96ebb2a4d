"""The shop's engines: records in and out."""

from datetime import date, datetime

from sqlalchemy.orm import Session

from pronostico.record.models import Record
from pronostico.record.reading_in import NotARecord, read_record
from pronostico.services.errors import AlreadyThere, NotThere, Refused
from pronostico.store import records
from pronostico.store.blade_sets import shelve_blades


def engine_record(session: Session, engine_id: str) -> Record:
    """The record of an engine.

    Raises:
        NotThere: there is no engine of that id.
    """
    record = records.load_record(session, engine_id)
    if record is None:
        raise NotThere("engine", engine_id)
    return record


def import_record(session: Session, text: bytes, *, today: date, now: datetime) -> Record:
    """Take a record in as a new engine.

    Raises:
        Refused: the text is no valid record; every fault with its JSON path.
        AlreadyThere: an engine of that id is in the shop.
    """
    try:
        record = read_record(text, today=today)
    except NotARecord as error:
        raise Refused(error.faults) from error
    if records.load_record(session, record.engine.id) is not None:
        raise AlreadyThere(
            f"an engine '{record.engine.id}' is in the shop already; give the record another engine.id"
        )
    records.add_record(session, record, now=now)
    if record.gauge_set is not None:
        shelve_blades(session, record.gauge_set)
    session.commit()
    return record
