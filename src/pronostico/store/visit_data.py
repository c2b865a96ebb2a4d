"""Editing what a visit says of itself; readings, settings, findings and traces have their own ways."""

from sqlalchemy.orm import Session

from pronostico.record.visit import VisitModel
from pronostico.store.records import visit_data
from pronostico.store.rows import visit_row


def put_visit_data(session: Session, engine_id: str, visit: VisitModel) -> bool:
    """A visit's own fields in place of those before; False where there is no such visit."""
    row = visit_row(session, engine_id, visit.id)
    if row is None:
        return False
    row.day, row.usage = visit.date, visit.usage
    row.data = visit_data(visit)
    return True


def note_cover_off(session: Session, engine_id: str, visit_id: str) -> None:
    """Note that the valve cover is off, without reading the whole visit, for speed."""
    row = visit_row(session, engine_id, visit_id)
    if row is not None and row.data.get("cover_off") is not True:
        row.data = {**row.data, "cover_off": True}
