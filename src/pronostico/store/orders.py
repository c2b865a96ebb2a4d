"""What visits wait for."""

from sqlalchemy import select
from sqlalchemy.orm import Session

from pronostico.store.rows import BY_NAME
from pronostico.store.tables import EngineRow, Json, VisitRow


def stored_progress(session: Session) -> list[tuple[str, str, str, Json]]:
    """Engine, its name, visit and progress of every visit whose work is not done, by the engine's name."""
    state = VisitRow.data["progress"]["state"].as_string()
    rows = session.execute(
        select(EngineRow.id, EngineRow.name, VisitRow.visit_id, VisitRow.data["progress"])
        .select_from(VisitRow)
        .join(EngineRow, EngineRow.id == VisitRow.engine_id)
        .where(state.is_not(None), state != "done")
        .order_by(*BY_NAME, VisitRow.position)
    )
    return [
        (engine_id, name or engine_id, visit_id, progress) for engine_id, name, visit_id, progress in rows
    ]
