"""Results kept beside what they were computed from."""

from dataclasses import dataclass
from typing import Any

from sqlalchemy import select
from sqlalchemy.orm import Session

from pronostico.store.rows import BY_NAME
from pronostico.store.tables import EngineRow, Json, ResultRow


@dataclass(frozen=True, slots=True)
class Result:
    """What was computed of an engine: the whole report, and what the workshop page shows of it; both JSON.

    `summary`: what its own record says for its sisters; `priors`: what theirs made expected of it.
    """

    report: str
    timeline: str
    summary: Json
    priors: list[Any]


def changes_of(session: Session, engine_id: str) -> int | None:
    """How often what a result of an engine rests on was changed; None where there is no such engine."""
    return session.scalar(select(EngineRow.changed).where(EngineRow.id == engine_id))


def current_result(session: Session, engine_id: str, model: str) -> Result | None:
    """The current result of an engine; None where there is none or it is older than the data."""
    row = session.execute(
        select(ResultRow)
        .join(EngineRow, EngineRow.id == ResultRow.engine_id)
        .where(
            ResultRow.engine_id == engine_id, ResultRow.model == model, ResultRow.changed == EngineRow.changed
        )
    ).scalar_one_or_none()
    return None if row is None else _result(row)


def _result(row: ResultRow) -> Result:
    return Result(row.report, row.timeline, row.summary or {}, row.priors or [])


def result_of_data(session: Session, engine_id: str, model: str, digest: str) -> Result | None:
    """A result that was computed from the very same data, whatever was changed to and fro since."""
    row = session.get(ResultRow, engine_id)
    if row is None or (row.model, row.digest) != (model, digest):
        return None
    return _result(row)


def put_result(
    session: Session, engine_id: str, result: Result, *, changed: int, model: str, digest: str
) -> str | None:
    """Keep a result in place of the one before. An engine that is gone meanwhile keeps none.

    Returns:
        The engine's kind, where what it says for its sisters is another than before; else None.
    """
    engine = session.get(EngineRow, engine_id)
    if engine is None:
        return None
    row = session.get(ResultRow, engine_id)
    before = None if row is None else row.summary
    if row is None:
        row = ResultRow(engine_id=engine_id)
        session.add(row)
    row.changed, row.model, row.digest = changed, model, digest
    row.report, row.timeline = result.report, result.timeline
    row.summary, row.priors = result.summary, result.priors
    session.flush()
    return engine.kind if before != result.summary else None


def stale_engines(session: Session, model: str) -> list[tuple[str, int]]:
    """The engines without a current result, by name, each with how often it was changed."""
    return [
        (engine_id, changed)
        for engine_id, changed in session.execute(
            select(EngineRow.id, EngineRow.changed)
            .outerjoin(
                ResultRow,
                (ResultRow.engine_id == EngineRow.id)
                & (ResultRow.changed == EngineRow.changed)
                & (ResultRow.model == model),
            )
            .where(ResultRow.engine_id.is_(None))
            .order_by(*BY_NAME)
        )
    ]
