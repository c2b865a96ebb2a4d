"""Finding single rows, and their order; rows stay within the store."""

from sqlalchemy import func, select
from sqlalchemy.orm import Session

from pronostico.store.tables import CaseRow, EngineRow, VisitRow

BY_NAME = (func.coalesce(EngineRow.name, EngineRow.id), EngineRow.id)
"""The order of engines by the name that they go by."""


def visit_row(session: Session, engine_id: str, visit_id: str) -> VisitRow | None:
    """One visit's row; its parts are read when they are asked for."""
    query = select(VisitRow).where(VisitRow.engine_id == engine_id, VisitRow.visit_id == visit_id)
    return session.scalar(query)


def case_row(session: Session, engine_id: str, case_id: str) -> CaseRow | None:
    """One case's row."""
    query = select(CaseRow).where(CaseRow.engine_id == engine_id, CaseRow.case_id == case_id)
    return session.scalar(query)
