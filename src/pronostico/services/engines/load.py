"""One engine's record, loaded once for each session that only reads."""

from sqlalchemy.orm import Session

from pronostico.errors import NotThere
from pronostico.record.models import Record
from pronostico.services.engines.sisters import with_priors
from pronostico.store import records
from pronostico.store.database import READS_ONLY

_LAST_RECORD = "last_record"


def engine_record(session: Session, engine_id: str) -> Record:
    """All that is known of an engine, with what its sister engines make expected of it.

    A session that only reads sees one state of the database, so that the record it loaded last still holds.

    Raises:
        NotThere: there is no such engine.
    """
    last: Record | None = session.info.get(_LAST_RECORD)
    if last is not None and last.engine.id == engine_id:
        return last
    record = records.load_record(session, engine_id)
    if record is None:
        raise NotThere("engine", engine_id)
    record.engine = with_priors(session, record.engine)
    if session.info.get(READS_ONLY):
        session.info[_LAST_RECORD] = record
    return record
