"""Sound recordings of a whole workshop: their files, and the closed cases that had any."""

from sqlalchemy import String, cast, func, select
from sqlalchemy.orm import Session

from pronostico.store.hiding import REMOVED_TOO
from pronostico.store.tables import CaseRow, RemovalRow, VisitRow


def others_with_file(session: Session, file: str) -> int:
    """How many visits have a recording in a file, those in the bin among them."""
    # A file's name is a hash: it stands nowhere else.
    named = cast(VisitRow.data, String).contains(file)
    count = session.scalar(
        select(func.count()).select_from(VisitRow).where(named), execution_options=REMOVED_TOO
    )
    return count or 0


def files_of_removed(session: Session, removal_id: str) -> set[str]:
    """The files of recordings at visits that lie in the bin together."""
    removed = session.get_one(RemovalRow, removal_id)
    of_it = VisitRow.removal_id == removal_id
    if removed.kind == "engine":
        of_it = VisitRow.engine_id == removed.engine_id
    kept = session.scalars(select(VisitRow.data).where(of_it), execution_options=REMOVED_TOO)
    return {
        one["file"] for data in kept for one in data.get("recordings") or () if one.get("file") is not None
    }


def closed_with_sound(session: Session) -> list[tuple[str, str]]:
    """Engine and case of the closed cases of visits at which sound was recorded, by engine."""
    recorded = cast(VisitRow.data, String).contains('"recordings"')
    rows = session.execute(
        select(CaseRow.engine_id, CaseRow.case_id)
        .join(
            VisitRow,
            (VisitRow.engine_id == CaseRow.engine_id)
            & (VisitRow.visit_id == CaseRow.data["visit"].as_string()),
        )
        .where(CaseRow.closed.is_not(None), recorded)
        .order_by(CaseRow.engine_id, CaseRow.pk)
    )
    return [(engine_id, case_id) for engine_id, case_id in rows]
