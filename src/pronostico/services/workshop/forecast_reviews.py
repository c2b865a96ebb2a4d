"""How the workshop's forecasts did: computed in the background when somebody asks, and kept."""

import logging
from collections.abc import Callable

from sqlalchemy.orm import Session

from pronostico.analysis.forecast_review import (
    EngineReview,
    ForecastReviewOut,
    forecast_review,
    review_record,
)
from pronostico.analysis.sisters import with_sisters
from pronostico.errors import NotThere
from pronostico.record.models import Record
from pronostico.services.engines.background import Progress, Stale
from pronostico.services.engines.load import engine_record
from pronostico.services.engines.results import data_digest, model_digest
from pronostico.services.engines.workers import Workers
from pronostico.services.settings import workshop_settings
from pronostico.store.claims import claimed, release
from pronostico.store.database import Database
from pronostico.store.forecast_reviews import all_reviews, kept_review, put_review, stale_reviews
from pronostico.store.kinds import folded
from pronostico.store.results import changes_of

_LOG = logging.getLogger("pronostico.background")


def stale(session: Session) -> list[Stale]:
    """The engines whose forecasts were not looked back on since they were changed."""
    return stale_reviews(session, model_digest(workshop_settings(session)))


def review_of_workshop(session: Session) -> ForecastReviewOut:
    """How the forecasts of all engines did, as far as that is computed."""
    written: dict[str, str] = {}
    reviews = []
    for kind, review in all_reviews(session):
        same = folded(kind)
        name = None if same is None else written.setdefault(same, str(kind).strip())
        reviews.append((name, EngineReview.model_validate(review)))
    return forecast_review(reviews)


def _digests(record: Record) -> list[str]:
    """A digest of each visit but the first with all before it."""
    alone = with_sisters(record, ())
    return [
        data_digest(alone.model_copy(update={"visits": alone.visits[: at + 1]}))
        for at in range(1, len(alone.visits))
    ]


def _compute(database: Database, engine_id: str, model: str) -> None:
    with database.reading() as session:
        changed = changes_of(session, engine_id)
        try:
            record = engine_record(session, engine_id)
        except NotThere:
            return
        kept = kept_review(session, engine_id, model)
    digests = _digests(record)
    same, before = 0, []
    if kept is not None:
        known, review = kept
        while same < min(len(known), len(digests)) and known[same] == digests[same]:
            same += 1
        before = EngineReview.model_validate(review).visits[:same]
    review_now = review_record(record, before).model_dump(mode="json")
    with database.writing() as session:
        put_review(session, engine_id, review_now, changed=changed or 0, model=model, digests=digests)
        if database.shared:
            release(session, "reviews", [engine_id])
        session.commit()


def compute_reviews(
    database: Database,
    *,
    processes: int = 1,
    workers: Workers | None = None,
    on_progress: Callable[[Progress], None] = lambda _: None,
    stopped: Callable[[], bool] = lambda: False,
    hopeless: frozenset[Stale] = frozenset(),
) -> Progress:
    """Look back on the forecasts of every engine that was changed since; one after the other.

    What is known of a visit stays as long as neither it nor a visit before it changes. It is seldom asked
    for, and done here whatever `processes` and `workers`.
    """
    with database.reading() as session:
        model = model_digest(workshop_settings(session))
        todo = [one for one in stale(session) if one not in hopeless]
    failed: set[Stale] = set()
    progress = Progress(0, len(todo))
    on_progress(progress)
    todo_ids = [engine_id for engine_id, _ in todo]
    for done, (engine_id, ours) in enumerate(claimed(database, "reviews", todo_ids), start=1):
        if stopped():
            break
        try:
            if ours:
                _compute(database, engine_id, model)
        except Exception:  # whatever it was, it must not hold up the other engines
            _LOG.exception("forecasts could not be looked back on", extra={"engine": engine_id})
            failed.add(todo[done - 1])
        progress = Progress(done, len(todo), frozenset(failed))
        on_progress(progress)
    return progress
