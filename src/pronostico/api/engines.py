"""Engines and their records."""

from urllib.parse import quote

from fastapi import APIRouter, Response

from pronostico.api.deps import NowDep, RawBody, SessionDep, TodayDep, WriteSessionDep
from pronostico.api.models import BladesIn, CaseOut, EngineOut, EngineSummaryOut
from pronostico.core.crank import School
from pronostico.record.models import Record
from pronostico.services import engines
from pronostico.services.analysis import analyse_record
from pronostico.services.analysis_report import AnalysisOut
from pronostico.services.cranking import CrankOut, crank_stations

router = APIRouter(tags=["engines"])


def _engine_out(record: Record) -> EngineOut:
    cases = [CaseOut.model_validate(case) for case in record.cases]
    return EngineOut(engine=record.engine, gauge_set=record.gauge_set, cases=cases)


@router.get("/engines")
def get_engines(session: SessionDep) -> list[EngineSummaryOut]:
    """Every engine of the shop, one line each."""
    return [EngineSummaryOut.model_validate(one) for one in engines.list_engines(session)]


@router.get("/engines/{engine_id}")
def get_engine(engine_id: str, session: SessionDep) -> EngineOut:
    """An engine's data, blades and cases."""
    return _engine_out(engines.engine_record(session, engine_id))


@router.get("/engines/{engine_id}/analysis")
def get_analysis(engine_id: str, session: SessionDep) -> AnalysisOut:
    """Readings, history and what is ahead, valve by valve."""
    return analyse_record(engines.engine_record(session, engine_id))


@router.get(
    "/engines/{engine_id}/record",
    response_class=Response,
    responses={200: {"content": {"application/json": {"schema": {"type": "object"}}}}},
)
def get_record(engine_id: str, session: SessionDep) -> Response:
    """The engine's record, for keeping or for another shop."""
    record = engines.engine_record(session, engine_id)
    return Response(
        record.model_dump_json(indent=2, exclude_none=True),
        media_type="application/json",
        # An identifier may hold letters that a header cannot: written as RFC 5987 has it.
        headers={"Content-Disposition": f"attachment; filename*=UTF-8''{quote(engine_id)}.record.json"},
    )


@router.put("/engines/{engine_id}/blades")
def put_blades(engine_id: str, body: BladesIn, writing: WriteSessionDep, session: SessionDep) -> EngineOut:
    """Note which blades are at hand for an engine."""
    engines.set_blades(writing, engine_id, name=body.name, text=body.text, unit=body.unit)
    return _engine_out(engines.engine_record(session, engine_id))


@router.get("/engines/{engine_id}/crank")
def get_crank(engine_id: str, session: SessionDep, school: School = "two-turn") -> CrankOut:
    """Where to turn the crank, and which valves to measure there."""
    return crank_stations(engines.engine_record(session, engine_id).engine, school)


# The text is taken as it came: only so can broken JSON be told by line and column.
@router.post(
    "/records",
    status_code=201,
    openapi_extra={
        "requestBody": {"required": True, "content": {"application/json": {"schema": {"type": "object"}}}}
    },
)
def post_record(text: RawBody, session: WriteSessionDep, today: TodayDep, now: NowDep) -> EngineOut:
    """Take a record in as a new engine."""
    return _engine_out(engines.import_record(session, text, today=today, now=now))
