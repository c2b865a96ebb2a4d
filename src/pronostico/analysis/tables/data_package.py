"""An engine's tables in one zip, with the data package descriptor (`datapackage.json`) that tells of them."""

import io
import json
import re
import zipfile
from collections.abc import Iterable
from datetime import datetime
from typing import Any

from pronostico.analysis.report import AnalysisOut
from pronostico.analysis.tables.engine_tables import (
    CASES,
    DRIFT,
    READINGS,
    VISITS,
    case_rows,
    drift_rows,
    reading_rows,
    visit_rows,
)
from pronostico.analysis.tables.table import Row, Table, csv_text, table_schema
from pronostico.record.models import Record

TABLES = {table.name: table for table in (VISITS, READINGS, DRIFT, CASES)}


def _rows(table: Table, record: Record, report: AnalysisOut) -> Iterable[Row]:
    match table.name:
        case "visits":
            return visit_rows(record, report)
        case "readings":
            return reading_rows(record, report)
        case "drift":
            return drift_rows(report)
        case _:
            return case_rows(record)


def table_text(table: Table, record: Record, report: AnalysisOut) -> str:
    """One table of an engine as CSV."""
    return csv_text(table, _rows(table, record, report))


def _resource(table: Table, content: bytes) -> dict[str, Any]:
    return {
        "name": table.name,
        "title": table.title,
        "path": f"{table.name}.csv",
        "profile": "tabular-data-resource",
        "format": "csv",
        "mediatype": "text/csv",
        "encoding": "utf-8",
        "bytes": len(content),
        "schema": table_schema(table),
    }


def package(record: Record, report: AnalysisOut, *, now: datetime) -> bytes:
    """A zip of every table and the descriptor beside them.

    Args:
        now: noted as the time at which the package was made.
    """
    files = {table.name: table_text(table, record, report).encode() for table in TABLES.values()}
    # A package's name has small letters, digits and a few marks only; the title has the rest.
    name = re.sub(r"[^a-z0-9._-]+", "-", record.engine.id.lower()).strip("-") or "engine"
    descriptor = {
        "profile": "tabular-data-package",
        "name": name,
        "title": record.engine.name or record.engine.id,
        "description": "Valve clearances of one engine: visits, readings, drift and cases. Lengths in mm.",
        "created": now.isoformat(timespec="seconds"),
        "resources": [_resource(table, files[table.name]) for table in TABLES.values()],
    }
    made = io.BytesIO()
    with zipfile.ZipFile(made, "w", zipfile.ZIP_DEFLATED) as archive:
        archive.writestr("datapackage.json", json.dumps(descriptor, indent=2, ensure_ascii=False))
        for name, content in files.items():
            archive.writestr(f"{name}.csv", content)
    return made.getvalue()
