"""What became of the forecasts of each engine, kept beside the data that it was computed from."""

from sqlalchemy import select
from sqlalchemy.orm import Session

from pronostico.store.kinds import WRITTEN
from pronostico.store.rows import BY_NAME
from pronostico.store.tables import EngineRow, ForecastReviewRow, Json


def stale_reviews(session: Session, model: str) -> list[tuple[str, int]]:
    """The engines without a current review, by name, each with how often it was changed."""
    rows = session.execute(
        select(EngineRow.id, EngineRow.changed)
        .outerjoin(
            ForecastReviewRow,
            (ForecastReviewRow.engine_id == EngineRow.id)
            & (ForecastReviewRow.changed == EngineRow.changed)
            & (ForecastReviewRow.model == model),
        )
        .where(ForecastReviewRow.engine_id.is_(None))
        .order_by(*BY_NAME)
    )
    return [(engine_id, changed) for engine_id, changed in rows]


def kept_review(session: Session, engine_id: str, model: str) -> tuple[list[str], Json] | None:
    """The digests of the visits that a review covers, and the review; None where the model is another."""
    row = session.get(ForecastReviewRow, engine_id)
    return None if row is None or row.model != model else (row.digests, row.review)


def put_review(
    session: Session, engine_id: str, review: Json, *, changed: int, model: str, digests: list[str]
) -> None:
    """Keep a review in place of the one before. An engine that is gone meanwhile keeps none."""
    if session.get(EngineRow, engine_id) is None:
        return
    row = session.get(ForecastReviewRow, engine_id) or ForecastReviewRow(engine_id=engine_id)
    session.add(row)
    row.changed, row.model, row.digests, row.review = changed, model, digests, review


def all_reviews(session: Session) -> list[tuple[str | None, Json]]:
    """Every review, with the kind of its engine as it was written."""
    rows = session.execute(
        select(WRITTEN, ForecastReviewRow.review)
        .join(ForecastReviewRow, ForecastReviewRow.engine_id == EngineRow.id)
        .order_by(EngineRow.id)
    )
    return [(kind, review) for kind, review in rows]
