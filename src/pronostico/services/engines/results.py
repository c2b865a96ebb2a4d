"""Results that are kept: under a digest of their data, of everything assumed, and of the model's version."""

import hashlib
import json
from dataclasses import asdict
from functools import cache

from pronostico.analysis.engine_report import analyse_ahead
from pronostico.analysis.report import AnalysisOut
from pronostico.analysis.simulated_parts import simulated_parts
from pronostico.analysis.sisters import summary_of, with_sisters
from pronostico.analysis.timeline import TimelineResult, timeline_of
from pronostico.analysis.workshop_settings import WorkshopSettings
from pronostico.core.constants import DEFAULT, MODEL_VERSION, Constants
from pronostico.core.engine import SidePriors
from pronostico.knowledge import knowledge_texts
from pronostico.language import SOURCE, speaking
from pronostico.record.models import Record
from pronostico.services.engines.load import engine_record
from pronostico.services.engines.sisters import priors_document, refresh_kind
from pronostico.services.settings import workshop_settings
from pronostico.store.database import Database
from pronostico.store.results import Result, changes_of, current_result, put_result, result_of_data


def _digest(document: object) -> str:
    text = json.dumps(document, sort_keys=True, separators=(",", ":"))
    return hashlib.sha256(text.encode()).hexdigest()


@cache
def _shape() -> str:
    """A digest of the fields of a result, so that one of another shape is not taken for current."""
    return _digest([AnalysisOut.model_json_schema(), TimelineResult.model_json_schema()])


@cache
def _knowledge() -> str:
    """A digest of what is known of causes: another strength is another result."""
    return _digest(knowledge_texts())


def model_digest(workshop: WorkshopSettings, constants: Constants = DEFAULT) -> str:
    """A digest of the model's version and of every figure that it assumes, the workshop's own among them."""
    assumed = asdict(constants)
    return _digest(
        [
            MODEL_VERSION,
            _shape(),
            _knowledge(),
            assumed,
            workshop.next_check_risk,
            workshop.next_check_margin_mm,
        ]
    )


# What a visit keeps of the work without any result resting on it; of traces only what was taken over counts.
_WITHOUT = {"parts", "ticks", "quick_checks", "outcomes", "minutes", "traces"}


def data_digest(record: Record) -> str:
    """A digest of what a result rests on: the engine, its sisters, what its visits measured and decided."""
    return _digest(
        [
            record.engine.model_dump(mode="json", exclude_none=True),
            priors_document(record.engine.side_priors),
            [
                (visit.model_dump(mode="json", exclude=_WITHOUT, exclude_none=True), simulated_parts(visit))
                for visit in record.visits
            ],
        ]
    )


def compute_result(record: Record, workshop: WorkshopSettings) -> Result:
    """Compute the result of a record."""
    report = analyse_ahead(record, risk=workshop.next_check_risk, margin_mm=workshop.next_check_margin_mm)
    # What is kept is kept in one language, whoever's request brought it about.
    with speaking(SOURCE):
        return Result(
            report.model_dump_json(by_alias=True),
            timeline_of(record, report).model_dump_json(),
            summary_of(record).model_dump(mode="json"),
            priors_document(record.engine.side_priors),
        )


def compute_document(document: str, priors: SidePriors, workshop: str) -> Result:
    """The same for another process: a record and settings as JSON, and what its sisters make expected."""
    record = with_sisters(Record.model_validate_json(document), priors)
    return compute_result(record, WorkshopSettings.model_validate_json(workshop))


def result_of(database: Database, engine_id: str) -> Result:
    """The current result of an engine: what is kept where it is current, else computed now and kept.

    Raises:
        NotThere: there is no engine of that id.
    """
    with database.reading() as session:
        workshop = workshop_settings(session)
        model = model_digest(workshop)
        kept = current_result(session, engine_id, model)
        if kept is not None:
            return kept
        changed = changes_of(session, engine_id)
        record = engine_record(session, engine_id)
        digest = data_digest(record)
        # Changed to and fro, or in what no result rests on: the old result only gets its new count.
        result = result_of_data(session, engine_id, model, digest)
    if result is None:
        result = compute_result(record, workshop)
    with database.writing() as session:
        moved = put_result(session, engine_id, result, changed=changed or 0, model=model, digest=digest)
        refresh_kind(session, moved)
        session.commit()
    return result
