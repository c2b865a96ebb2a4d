"""The figures of the demonstration's results, kept to be compared (`make golden` renews them)."""

import json
from collections.abc import Iterator
from datetime import date
from pathlib import Path
from typing import Any

from pydantic import BaseModel

from pronostico.analysis.adjustment_plan import plan_adjustment
from pronostico.analysis.crank_plan import crank_stations
from pronostico.analysis.diagnosis import diagnose_record
from pronostico.analysis.engine_report import analyse_with_drift
from pronostico.core.constants import MODEL_VERSION
from pronostico.demo.scenario import demo_machines
from pronostico.record.models import Record

FILE = Path(__file__).parent / "results.json"
DAY = date(2026, 11, 28)
# What somebody reads, and what only says again what stands elsewhere.
LEFT_OUT = {
    *("label", "help", "why", "advice", "caution", "note", "mark", "history", "outcomes"),
    *("for", "against", "bracket", "where", "unit", "standing", "prior", "own_share", "elsewhere", "place"),
}


def _figures(path: str, value: Any) -> Iterator[tuple[str, float | str | bool]]:
    if isinstance(value, dict):
        for name, one in value.items():
            if name not in LEFT_OUT:
                yield from _figures(f"{path}.{name}", one)
    elif isinstance(value, list) and not all(isinstance(one, str) for one in value):
        for index, one in enumerate(value):
            yield from _figures(f"{path}[{index}]", one)
    elif isinstance(value, float):
        yield path, float(f"{value:.10g}")
    elif isinstance(value, str | bool | int) and "date" not in path and "day" not in path:
        yield path, value


def _reports(record: Record) -> Iterator[tuple[str, BaseModel]]:
    yield "analyse", analyse_with_drift(record)
    yield "diagnose", diagnose_record(record)
    yield "crank", crank_stations(record.engine, "two-turn")
    yield "set", plan_adjustment(record, record.visits[-1].id, policy="drift-aware", which="all")


def figures() -> dict[str, float | str | bool]:
    """Every figure by its path: the engine, the report, the place in it."""
    found: dict[str, float | str | bool] = {}
    for machine in demo_machines(DAY):
        for name, report in _reports(machine.record):
            document = report.model_dump(mode="json", by_alias=True)
            found.update(_figures(f"{machine.record.engine.id}.{name}", document))
    return found


if __name__ == "__main__":
    kept = {"model_version": MODEL_VERSION, "figures": figures()}
    FILE.write_text(json.dumps(kept, indent=0, ensure_ascii=False) + "\n", "utf-8")
