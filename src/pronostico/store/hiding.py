"""What was deleted is in no answer, without every statement having to say so."""

from weakref import WeakKeyDictionary

from sqlalchemy import Executable, event
from sqlalchemy.orm import ORMExecuteState, Session, sessionmaker, with_loader_criteria

from pronostico.store.tables import CaseRow, EngineRow, LessonRow, VisitRow

REMOVED_TOO = {"removed_too": True}
"""Execution options of a statement that also finds what was deleted."""
_REMOVABLE = (EngineRow, VisitRow, CaseRow, LessonRow)
# Built once: every statement gets them.
_NOT_REMOVED = tuple(
    with_loader_criteria(row, row.removal_id.is_(None), include_aliases=True) for row in _REMOVABLE
)

# Statements that every answer runs are built once, and so is what they become; others are let go of.
_HIDING: WeakKeyDictionary[Executable, Executable] = WeakKeyDictionary()


def hide_removed(sessions: sessionmaker[Session]) -> None:
    """Have every SELECT of these sessions leave out deleted rows (SQLAlchemy's manual, soft delete)."""

    def executing(state: ORMExecuteState) -> None:
        if state.is_select and not state.is_column_load and not state.execution_options.get("removed_too"):
            hiding = _HIDING.get(state.statement)
            if hiding is None:
                hiding = _HIDING[state.statement] = state.statement.options(*_NOT_REMOVED)
            state.statement = hiding

    event.listen(sessions, "do_orm_execute", executing)
