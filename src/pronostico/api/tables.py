"""An engine's tables: out as CSV one by one or all in a zip with their descriptor; readings in."""

from typing import Annotated, Any, Literal
from urllib.parse import quote

from fastapi import APIRouter, Depends, Query, Response
from pydantic import Field

from pronostico.analysis.report import AnalysisOut
from pronostico.analysis.tables.data_package import TABLES, package, table_text
from pronostico.api.deps import DatabaseDep, NowDep, RawBody, SessionDep, TodayDep, WriteSessionDep
from pronostico.services.engines.load import engine_record
from pronostico.services.engines.results import result_of
from pronostico.services.exchange.spreadsheet.cells import DateOrder, Unit
from pronostico.services.exchange.spreadsheet.columns import ROLES
from pronostico.services.exchange.spreadsheet.readings import (
    example_sheet,
    import_readings,
    preview_readings,
)
from pronostico.services.exchange.spreadsheet.report import ReadingsOut
from pronostico.services.exchange.spreadsheet.sheet import Delimiter, Encoding
from pronostico.services.exchange.spreadsheet.understood import Choices
from pronostico.services.exchange.spreadsheet.wide import WHATS, ValveColumn

router = APIRouter(prefix="/engines/{engine_id}", tags=["tables"])
CSV: dict[int | str, dict[str, Any]] = {200: {"content": {"text/csv": {"schema": {"type": "string"}}}}}
_ZIP: dict[int | str, dict[str, Any]] = {
    200: {"content": {"application/zip": {"schema": {"type": "string", "format": "binary"}}}}
}
# A role and the number of its column, counted from nought.
ChosenColumn = Annotated[str, Field(pattern=rf"^({'|'.join(ROLES)}):(0|[1-9][0-9]{{0,2}})$")]
TableName = Literal["visits", "readings", "drift", "cases"]


def attachment(name: str) -> dict[str, str]:
    """The header that has a browser keep an answer as a file; the name as RFC 5987 has it."""
    return {"Content-Disposition": f"attachment; filename*=UTF-8''{quote(name)}"}


@router.get("/{table}.csv", response_class=Response, responses=CSV)
def get_table(engine_id: str, table: TableName, database: DatabaseDep) -> Response:
    """One table of an engine: visits, readings, drift or cases."""
    report = AnalysisOut.model_validate_json(result_of(database, engine_id).report)
    with database.reading() as session:
        text = table_text(TABLES[table], engine_record(session, engine_id), report)
    return Response(
        text, media_type="text/csv; charset=utf-8", headers=attachment(f"{engine_id}.{table}.csv")
    )


@router.get("/tables.zip", response_class=Response, responses=_ZIP)
def get_tables(engine_id: str, database: DatabaseDep, now: NowDep) -> Response:
    """Every table of an engine with its data package descriptor."""
    report = AnalysisOut.model_validate_json(result_of(database, engine_id).report)
    with database.reading() as session:
        content = package(engine_record(session, engine_id), report, now=now)
    return Response(content, media_type="application/zip", headers=attachment(f"{engine_id}.tables.zip"))


@router.get("/readings-sheet/example.csv", response_class=Response, responses=CSV)
def get_readings_example(engine_id: str, session: SessionDep, today: TodayDep) -> Response:
    """A spreadsheet of readings to start from: a line for each valve."""
    return Response(
        example_sheet(session, engine_id, today=today),
        media_type="text/csv; charset=utf-8",
        headers=attachment(f"{engine_id}.example.csv"),
    )


_SHEET: dict[str, Any] = {
    "requestBody": {
        "required": True,
        "content": {"text/csv": {"schema": {"type": "string", "format": "binary"}}},
    }
}


# A column of one valve: its number, what it is, the valve.
ChosenValveColumn = Annotated[str, Field(pattern=rf"^(0|[1-9][0-9]{{0,2}}):({'|'.join(WHATS)}):.{{1,80}}$")]
# A cell said otherwise: its line, its column, the text.
Correction = Annotated[str, Field(pattern=r"^[1-9][0-9]{0,15}:(0|[1-9][0-9]{0,2}):.{0,200}$")]


def _choices(
    unit: Unit | None = None,
    dates: DateOrder | None = None,
    encoding: Encoding | None = None,
    delimiter: Delimiter | None = None,
    sheet: Annotated[str | None, Query(max_length=100)] = None,
    column: Annotated[list[ChosenColumn], Query(max_length=200)] = [],  # noqa: B006 - FastAPI copies it
    valve_column: Annotated[list[ChosenValveColumn], Query(max_length=200)] = [],  # noqa: B006
    correction: Annotated[list[Correction], Query(max_length=200)] = [],  # noqa: B006
) -> Choices:
    chosen = [one.split(":") for one in column]
    columns = {role: int(index) for name, index in chosen for role in ROLES if role == name}
    of_valves = []
    for one in valve_column:
        index, named, valve = one.split(":", 2)
        of_valves += [ValveColumn(int(index), valve, what) for what in WHATS if what == named]
    corrections = []
    for one in correction:
        line, index, text = one.split(":", 2)
        corrections.append((int(line), int(index), text))
    return Choices(
        unit,
        dates,
        encoding,
        delimiter,
        columns or ({} if of_valves else None),
        tuple(of_valves),
        sheet,
        tuple(corrections),
    )


ChoicesDep = Annotated[Choices, Depends(_choices)]


@router.post("/readings-sheet/preview", openapi_extra=_SHEET)
def post_readings_preview(
    engine_id: str, content: RawBody, choices: ChoicesDep, session: SessionDep, today: TodayDep
) -> ReadingsOut:
    """What a spreadsheet would bring: columns, faults by row, visits; nothing is stored."""
    return preview_readings(session, engine_id, content, choices, today=today)


@router.post("/readings-sheet", openapi_extra=_SHEET)
def post_readings(
    engine_id: str,
    content: RawBody,
    choices: ChoicesDep,
    session: WriteSessionDep,
    today: TodayDep,
    now: NowDep,
    leave_out_faulty: bool = False,
) -> ReadingsOut:
    """Take the readings of a spreadsheet in: all of them, or none."""
    return import_readings(
        session, engine_id, content, choices, leave_out_faulty=leave_out_faulty, today=today, now=now
    )
