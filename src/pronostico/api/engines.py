"""Engines and their records."""

from dataclasses import asdict
from typing import Annotated, Any
from urllib.parse import quote

from fastapi import APIRouter, Query, Response
from sqlalchemy.orm import Session

from pronostico.analysis.cautions import cautions_for
from pronostico.analysis.check_price import price_of
from pronostico.analysis.comparison import ComparisonOut, Side, When, compare
from pronostico.analysis.crank_plan import CrankOut, crank_stations
from pronostico.analysis.developing_faults import DevelopingFaultsOut, developing_faults
from pronostico.analysis.engine_report import analyse_record
from pronostico.analysis.money import CostEstimateOut, cost_estimate
from pronostico.analysis.positions import suggested_school
from pronostico.analysis.report import AnalysisOut
from pronostico.analysis.valve_life import ValveLifeOut, valve_life
from pronostico.analysis.what_if import WhatIfOut, what_if
from pronostico.api.deps import DatabaseDep, NowDep, RawBody, SessionDep, TodayDep, WriteSessionDep
from pronostico.api.language import kept_document
from pronostico.api.models import (
    ArchivedIn,
    CaseOut,
    CautionOut,
    EngineChangeIn,
    EngineIn,
    EngineOut,
    KitIn,
    LeftOutIn,
    PriceOut,
    UsageReadingIn,
)
from pronostico.core.crank.stations import School
from pronostico.core.visits import THICKEST_BLADE_MM
from pronostico.record.engine import MeterChange, UsageReading
from pronostico.record.models import Record
from pronostico.services.engines import edit, load
from pronostico.services.engines.results import result_of
from pronostico.services.engines.sisters import SistersOut, known_kinds, leave_out, sisters_of
from pronostico.services.engines.usage_meter import (
    note_meter_change,
    note_usage_reading,
    take_back_meter_change,
    take_back_usage_reading,
)
from pronostico.services.exchange.record_import import RecordChangeOut, import_record, preview_record
from pronostico.services.instruments.simulated_truth import SimulatedTruthOut, simulated_truth_of
from pronostico.services.settings import workshop_settings
from pronostico.services.workshop.customers import customer_of
from pronostico.services.workshop.timelines import EngineNameOut, engine_names
from pronostico.store.customers import plate_photograph

router = APIRouter(tags=["engines"])


def _engine_out(session: Session, record: Record) -> EngineOut:
    return EngineOut(
        engine=record.engine,
        identity=record.engine.identity,
        customer=customer_of(session, record.engine.id),
        plate_photograph=plate_photograph(session, record.engine.id),
        revision=edit.revision_of(session, record.engine.id),
        cautions=[CautionOut.model_validate(one) for one in cautions_for(record.engine)],
        gauge_set=record.gauge_set,
        cases=[CaseOut.model_validate(case) for case in record.cases],
    )


@router.get("/engines")
def get_engines(session: SessionDep) -> list[EngineNameOut]:
    """Every engine of the workshop by name."""
    return engine_names(session)


@router.get("/engines/{engine_id}")
def get_engine(engine_id: str, session: SessionDep) -> EngineOut:
    """An engine's data, blades and cases."""
    return _engine_out(session, load.engine_record(session, engine_id))


@router.post("/engines", status_code=201)
def post_engine(body: EngineIn, session: WriteSessionDep, today: TodayDep, now: NowDep) -> EngineOut:
    """Describe a new engine."""
    record = edit.create_engine(session, body.engine, confirmed=body.confirmed, today=today, now=now)
    return _engine_out(session, record)


@router.put("/engines/{engine_id}")
def put_engine(engine_id: str, body: EngineChangeIn, session: WriteSessionDep, today: TodayDep) -> EngineOut:
    """Change an engine's data."""
    record = edit.change_engine(
        session, engine_id, body.engine, revision=body.revision, confirmed=body.confirmed, today=today
    )
    return _engine_out(session, record)


@router.post("/engines/{engine_id}/meter-changes", status_code=201)
def post_meter_change(
    engine_id: str, body: MeterChange, session: WriteSessionDep, today: TodayDep
) -> EngineOut:
    """Note that the usage meter was replaced or rolled over."""
    note_meter_change(session, engine_id, body, today=today)
    return _engine_out(session, load.engine_record(session, engine_id))


@router.post("/engines/{engine_id}/meter-changes/taken-back")
def post_meter_change_taken_back(engine_id: str, body: MeterChange, session: WriteSessionDep) -> EngineOut:
    """Take such a change back, while no visit was computed with it."""
    take_back_meter_change(session, engine_id, body)
    return _engine_out(session, load.engine_record(session, engine_id))


@router.post("/engines/{engine_id}/usage-readings", status_code=201)
def post_usage_reading(
    engine_id: str, body: UsageReadingIn, session: WriteSessionDep, today: TodayDep
) -> EngineOut:
    """Note what the usage meter showed on a day without a visit."""
    note_usage_reading(session, engine_id, body.date, body.meter, confirmed=body.confirmed, today=today)
    return _engine_out(session, load.engine_record(session, engine_id))


@router.post("/engines/{engine_id}/usage-readings/taken-back")
def post_usage_reading_taken_back(engine_id: str, body: UsageReading, session: WriteSessionDep) -> EngineOut:
    """Take such a reading back."""
    take_back_usage_reading(session, engine_id, body)
    return _engine_out(session, load.engine_record(session, engine_id))


@router.get("/engines/{engine_id}/price")
def get_price(
    engine_id: str, session: SessionDep, usage: Annotated[float | None, Query(ge=0, le=1e9)] = None
) -> PriceOut:
    """What a check costs, what a check with setting costs, and how likely the second is."""
    at = price_of(load.engine_record(session, engine_id), workshop_settings(session), usage=usage)
    return PriceOut.model_validate({**asdict(at.price), **asdict(at)})


@router.get("/engines/{engine_id}/analysis")
def get_analysis(engine_id: str, session: SessionDep) -> AnalysisOut:
    """Readings, history and what is ahead, valve by valve."""
    return analyse_record(load.engine_record(session, engine_id))


@router.get("/engines/{engine_id}/drift", response_model=AnalysisOut)
def get_drift(engine_id: str, database: DatabaseDep) -> Response:
    """The same with what the drift model says: all valves together, what is ahead, when to check next."""
    # Kept as the text that it leaves as.
    report = kept_document(result_of(database, engine_id).report, AnalysisOut)
    return Response(report, media_type="application/json")


@router.get("/kinds")
def get_kinds(session: SessionDep) -> list[str]:
    """The kinds that engines of this workshop are of."""
    return known_kinds(session)


@router.get("/engines/{engine_id}/sisters")
def get_sisters(engine_id: str, session: SessionDep) -> SistersOut:
    """The other engines of an engine's kind, and what they make expected of it."""
    return sisters_of(session, load.engine_record(session, engine_id).engine)


@router.put("/engines/{engine_id}/left-out")
def put_left_out(engine_id: str, body: LeftOutIn, session: WriteSessionDep) -> SistersOut:
    """Compare an engine with the others of its kind, and them with it, or leave it out."""
    leave_out(session, load.engine_record(session, engine_id), left_out=body.left_out)
    return sisters_of(session, load.engine_record(session, engine_id).engine)


@router.put("/engines/{engine_id}/archived")
def put_archived(engine_id: str, body: ArchivedIn, session: WriteSessionDep, today: TodayDep) -> EngineOut:
    """Have an engine be looked after no more, or again."""
    edit.set_archived(session, engine_id, archived=body.archived, today=today)
    return _engine_out(session, load.engine_record(session, engine_id))


@router.put("/engines/{engine_id}/kit")
def put_kit(engine_id: str, body: KitIn, session: WriteSessionDep) -> EngineOut:
    """Say what to have ready before an engine is opened: parts and tools."""
    edit.set_kit(session, engine_id, body.kit, shown=None if body.was is None else (body.was,))
    return _engine_out(session, load.engine_record(session, engine_id))


@router.get("/engines/{engine_id}/cost-estimate")
def get_cost_estimate(
    engine_id: str, session: SessionDep, usage: Annotated[float | None, Query(ge=0, le=1e9)] = None
) -> CostEstimateOut:
    """The two prices of the next check, line by line."""
    return cost_estimate(load.engine_record(session, engine_id), workshop_settings(session), usage=usage)


@router.get("/engines/{engine_id}/valves/{valve}/life")
def get_valve_life(engine_id: str, valve: str, session: SessionDep) -> ValveLifeOut:
    """All that was measured, set, changed and seen at one valve, era by era."""
    return valve_life(load.engine_record(session, engine_id), valve)


@router.get("/engines/{engine_id}/visits/{visit_id}/compared")
def get_compared(
    engine_id: str,
    visit_id: str,
    session: SessionDep,
    with_engine: str,
    with_visit: str,
    when: When = "found",
    with_when: When = "found",
) -> ComparisonOut:
    """One visit beside another, of the same engine or of a sister."""
    first = Side(load.engine_record(session, engine_id), visit_id, when)
    return compare(first, Side(load.engine_record(session, with_engine), with_visit, with_when))


@router.get("/engines/{engine_id}/simulated-truth")
def get_simulated_truth(engine_id: str, database: DatabaseDep) -> SimulatedTruthOut | None:
    """What a demonstration was simulated from; null for every other engine."""
    return simulated_truth_of(database.path, engine_id)


@router.get("/engines/{engine_id}/developing-faults")
def get_developing_faults(engine_id: str, session: SessionDep) -> DevelopingFaultsOut:
    """What is developing, from the readings alone, and what is likely out one interval on."""
    return developing_faults(load.engine_record(session, engine_id))


@router.get("/engines/{engine_id}/what-if")
def get_what_if(
    engine_id: str,
    session: SessionDep,
    valve: str | None = None,
    target_mm: Annotated[float | None, Query(ge=0, le=THICKEST_BLADE_MM)] = None,
    check_at: Annotated[float | None, Query(ge=0, le=1e7)] = None,
    interval: Annotated[float | None, Query(gt=0, le=1e6)] = None,
) -> WhatIfOut:
    """A valve set elsewhere, a check at another usage, another interval: answered, nothing kept."""
    record, workshop = load.engine_record(session, engine_id), workshop_settings(session)
    return what_if(record, workshop, valve=valve, target_mm=target_mm, check_at=check_at, interval=interval)


@router.get(
    "/engines/{engine_id}/record",
    response_class=Response,
    responses={200: {"content": {"application/json": {"schema": {"type": "object"}}}}},
)
def get_record(engine_id: str, session: SessionDep) -> Response:
    """The engine's record, for keeping or for another workshop."""
    record = load.engine_record(session, engine_id)
    return Response(
        record.model_dump_json(indent=2, exclude_none=True),
        media_type="application/json",
        # An identifier may hold letters that a header cannot: written as RFC 5987 has it.
        headers={"Content-Disposition": f"attachment; filename*=UTF-8''{quote(engine_id)}.record.json"},
    )


@router.get("/engines/{engine_id}/crank")
def get_crank(engine_id: str, session: SessionDep, school: School | None = None) -> CrankOut:
    """Where to turn the crank, and what to measure there; without a school by that of the engine."""
    record = load.engine_record(session, engine_id)
    return crank_stations(record.engine, school or suggested_school(record))


# The text is taken as it came: only so can a fault in the JSON be located by line and column.
_RECORD: dict[str, Any] = {
    "requestBody": {"required": True, "content": {"application/json": {"schema": {"type": "object"}}}}
}


@router.post("/records/preview", openapi_extra=_RECORD)
def post_record_preview(text: RawBody, session: SessionDep, today: TodayDep) -> RecordChangeOut:
    """What a record would change: new, changed or refused, with every fault; nothing is stored."""
    return preview_record(session, text, today=today)


@router.post("/records", status_code=201, openapi_extra=_RECORD)
def post_record(
    text: RawBody, session: WriteSessionDep, today: TodayDep, now: NowDep, into_existing: bool = False
) -> EngineOut:
    """Take a record in as a new engine, or what is new in it into one that is there."""
    engine_id = import_record(session, text, into_existing=into_existing, today=today, now=now)
    return _engine_out(session, load.engine_record(session, engine_id))
