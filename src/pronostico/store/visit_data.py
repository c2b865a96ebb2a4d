"""Editing what a visit says of itself; readings, settings, findings and traces have their own ways."""

from collections.abc import Mapping

from sqlalchemy.orm import Session

from pronostico.record.models import CaseModel
from pronostico.record.visit import VisitModel
from pronostico.store.records import dump, make_room, visit_data
from pronostico.store.rows import case_row, visit_row
from pronostico.store.tables import EngineRow


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


def move_visit(
    session: Session,
    engine_id: str,
    visit_id: str,
    *,
    to: str,
    visit: VisitModel,
    position: int,
    cases: Mapping[str, CaseModel],
) -> None:
    """Have a visit, with everything noted at it, be another engine's; both engines must be there.

    Args:
        visit: as it is to be there, `id`, `usage` and `entered`; its parts come along as they are.
        position: where it belongs there.
        cases: the cases that go with it, by their identifiers so far; each as it is to be there.
    """
    row = visit_row(session, engine_id, visit_id)
    assert row is not None
    if row.gauge_set is None:
        # Its answers were given with the blades of the engine that it leaves.
        row.gauge_set = session.get_one(EngineRow, engine_id).gauge_set
    make_room(session, to, position)
    row.engine_id, row.visit_id, row.position = to, visit.id, position
    row.usage, row.data = visit.usage, visit_data(visit)
    for case_id, case in cases.items():
        moved = case_row(session, engine_id, case_id)
        assert moved is not None
        moved.engine_id, moved.case_id = to, case.id
        moved.data = dump(case, "id", "opened", "closed", "findings")
    session.flush()
