"""The workshop's engines."""

from sqlalchemy.orm import Session

from pronostico.errors import NotThere
from pronostico.record.models import Record
from pronostico.store import records


def engine_record(session: Session, engine_id: str) -> Record:
    """The record of an engine.

    Raises:
        NotThere: there is no engine of that id.
    """
    record = records.load_record(session, engine_id)
    if record is None:
        raise NotThere("engine", engine_id)
    return record
