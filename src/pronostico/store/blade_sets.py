"""The workshop's sets of blades, and which of them a visit uses."""

from datetime import datetime
from uuid import uuid4

from sqlalchemy import select
from sqlalchemy.orm import Session

from pronostico.record.models import GaugeSet
from pronostico.store.records import dump
from pronostico.store.rows import visit_row
from pronostico.store.tables import BladeSetRow, EngineRow


def _set_of(row: BladeSetRow) -> GaugeSet:
    return GaugeSet.model_validate({**row.data, "id": row.id})


def blade_sets(session: Session) -> list[GaugeSet]:
    """All sets that were not put away, by name."""
    rows = session.scalars(select(BladeSetRow).where(BladeSetRow.removed_at.is_(None)))
    return sorted((_set_of(row) for row in rows), key=lambda one: (one.name or "", one.id))


def blade_set(session: Session, set_id: str) -> GaugeSet | None:
    """One set, also where it was put away since."""
    row = session.get(BladeSetRow, set_id)
    return None if row is None else _set_of(row)


def put_blade_set(session: Session, gauge_set: GaugeSet) -> None:
    """A set in place of the one of its id, or as a new one."""
    row = session.get(BladeSetRow, gauge_set.id)
    if row is None:
        row = BladeSetRow(id=gauge_set.id)
        session.add(row)
    row.data, row.removed_at = dump(gauge_set, "id"), None


def shelve_blades(session: Session, gauge_set: GaugeSet) -> None:
    """A set that came with a record, kept as one of the workshop's where none has the same blades."""
    blades = sorted(gauge_set.blades_mm)
    if all(sorted(known.blades_mm) != blades for known in blade_sets(session)):
        put_blade_set(session, gauge_set.model_copy(update={"id": str(uuid4())}))


def remove_blade_set(session: Session, set_id: str, *, now: datetime) -> bool:
    """Put a set away; visits that used it keep theirs. False where there is none of that id."""
    row = session.get(BladeSetRow, set_id)
    if row is None:
        return False
    row.removed_at = row.removed_at or now
    return True


def use_at_visit(session: Session, engine_id: str, visit_id: str, gauge_set: GaugeSet) -> bool:
    """Note the set in use at a visit; the engine begins its next visit with it. False: no such visit."""
    visit, engine = visit_row(session, engine_id, visit_id), session.get(EngineRow, engine_id)
    if visit is None or engine is None:
        return False
    visit.gauge_set = engine.gauge_set = dump(gauge_set)
    return True


def set_at_visit(session: Session, engine_id: str, visit_id: str) -> GaugeSet | None:
    """The set that was chosen at a visit; None where none was."""
    visit = visit_row(session, engine_id, visit_id)
    return None if visit is None or visit.gauge_set is None else GaugeSet.model_validate(visit.gauge_set)
