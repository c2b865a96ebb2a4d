"""Editing what a visit says of itself; readings, settings and findings have their own ways."""

from sqlalchemy.orm import Session

from pronostico.record.models import VisitModel
from pronostico.store.records import dump
from pronostico.store.rows import visit_row
from pronostico.store.tables import Json


def put_visit_data(session: Session, engine_id: str, visit: VisitModel) -> bool:
    """A visit's own fields in place of those before; False where there is no such visit."""
    row = visit_row(session, engine_id, visit.id)
    if row is None:
        return False
    row.day, row.usage = visit.date, visit.usage
    row.data = dump(visit, "id", "date", "usage", "readings", "settings", "findings")
    return True


def put_entered(session: Session, engine_id: str, visit_id: str, facts: Json) -> None:
    """Some facts among what was entered at a visit, without reading its whole record, for speed."""
    row = visit_row(session, engine_id, visit_id)
    entered = row.data.get("entered") if row is not None else None
    if row is None or not (entered is None or isinstance(entered, dict)):
        return
    changed = {**(entered or {}), **facts}
    if changed != entered:
        row.data = {**row.data, "entered": changed}
