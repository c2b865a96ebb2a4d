"""Editing what a visit says of itself; readings, settings and findings have their own ways."""

from sqlalchemy.orm import Session

from pronostico.record.models import VisitModel
from pronostico.store.records import dump
from pronostico.store.rows import visit_row


def put_visit_data(session: Session, engine_id: str, visit: VisitModel) -> bool:
    """A visit's own fields in place of those before; False where there is no such visit."""
    row = visit_row(session, engine_id, visit.id)
    if row is None:
        return False
    row.day, row.usage = visit.date, visit.usage
    row.data = dump(visit, "id", "date", "usage", "readings", "settings", "findings")
    return True
