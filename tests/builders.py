"""Small made-up engines, readings and records for the tests."""

import json
from datetime import date
from typing import Any

from pronostico.analysis.drift_cache import drifts_as_found
from pronostico.core.assessment import Assessment, assess
from pronostico.core.engine import Engine, Spec, Valve
from pronostico.core.visits import Felt, Reading, Setting, Try, Visit

TODAY = date(2026, 6, 1)
INTAKE = Spec(0.15, 0.20)
EXHAUST = Spec(0.25, 0.30)


def engine(cylinders: int = 2, **changes: Any) -> Engine:
    """An in-line engine with one intake and one exhaust valve a cylinder."""
    valves = tuple(
        valve
        for n in range(1, cylinders + 1)
        for valve in (Valve(f"{n}I", n, "intake"), Valve(f"{n}E", n, "exhaust"))
    )
    values: dict[str, Any] = {
        "id": "test-engine",
        "usage_unit": "h",
        "check_interval": 250.0,
        "adjustment": "screw-rocker",
        "valves": valves,
        "intake_spec": INTAKE,
        "exhaust_spec": EXHAUST,
        "reference_temperature_c": 20.0,
    }
    return Engine(**{**values, **changes})


def tries(*answers: tuple[float, Felt]) -> tuple[Try, ...]:
    """Single blades and what was felt."""
    return tuple(Try((blade,), felt) for blade, felt in answers)


def found(valve: str, *answers: tuple[float, Felt]) -> Reading:
    """A reading as found."""
    return Reading(valve, "found", tries(*answers))


def left(valve: str, *answers: tuple[float, Felt]) -> Reading:
    """A reading as left."""
    return Reading(valve, "left", tries(*answers))


def around(valve: str, blade_mm: float) -> Reading:
    """A reading as found that brackets a clearance just over a blade: it drags, the next does not go."""
    return found(valve, (blade_mm, "drag"), (round(blade_mm + 0.02, 3), "no-go"))


def visit(
    number: int, usage: float, *readings: Reading, settings: tuple[Setting, ...] = (), **more: Any
) -> Visit:
    """A visit; the number gives its name and its day."""
    return Visit(
        f"v{number}", date(2020 + number, 1, 1), usage, 20.0, readings=readings, settings=settings, **more
    )


def record_document() -> dict[str, Any]:
    """A small valid record as plain JSON."""
    return {
        "format": "pronostico/record",
        "version": 1,
        "engine": {
            "id": "mule",
            "name": "Test mule",
            "usage_unit": "h",
            "check_interval": 100,
            "adjustment": "screw-rocker",
            "firing_order": [1, 2],
            "reference_temperature_c": 20,
            "head_material": "aluminium",
            "valve_length_mm": 100,
            "spec": {
                "intake": {"min_mm": 0.15, "max_mm": 0.20, "figure_mm": None},
                "exhaust": {"min_mm": 0.25, "max_mm": 0.30, "figure_mm": None},
            },
            "valves": [
                {"id": "1I", "cylinder": 1, "side": "intake", "place": 1},
                {"id": "1E", "cylinder": 1, "side": "exhaust", "place": 2},
                {"id": "2I", "cylinder": 2, "side": "intake", "place": 3},
                {"id": "2E", "cylinder": 2, "side": "exhaust", "place": 4},
            ],
        },
        "gauge_set": {"id": "set", "name": "A set", "blades_mm": [0.05, 0.10, 0.15, 0.20, 0.25, 0.30]},
        "visits": [
            {
                "id": "v1",
                "date": "2025-01-10",
                "usage": 100,
                "temperature_c": 18,
                "work": "check-and-set",
                "readings": [
                    {"valve": "1E", "phase": "found", "tries": [{"blades_mm": [0.05], "felt": "no-go"}]},
                    {"valve": "1E", "phase": "left", "tries": [{"blades_mm": [0.25], "felt": "drag"}]},
                    {"valve": "1I", "phase": "found", "tries": [], "skipped": "hose in the way"},
                ],
                "settings": [{"valve": "1E", "target_mm": 0.27, "turn_deg": -120}],
                "compression": [{"cylinder": 1, "dry_kpa": 1080, "throttle_open": True}],
                "numbers": [{"id": "trims-long", "value": -16, "unit": "percent"}],
            },
            {
                "id": "v2",
                "date": "2025-06-10",
                "usage": 180.5,
                "readings": [
                    {
                        "valve": "1E",
                        "phase": "found",
                        "access": "awkward",
                        "tries": [
                            {"blades_mm": [0.20], "felt": "drag"},
                            {"blades_mm": [0.20, 0.05], "felt": "no-go", "entered": "8 + 2 thou"},
                        ],
                    }
                ],
            },
        ],
        "cases": [
            {
                "id": "c1",
                "opened": "2025-06-10",
                "visit": "v2",
                "findings": [{"id": "cold-miss", "state": "present", "when": ["cold"], "words": "coughs"}],
            }
        ],
    }


def record_text(document: dict[str, Any] | None = None) -> str:
    """A record as JSON text; the small valid one where none is given."""
    return json.dumps(record_document() if document is None else document)


def judgement_of(of: Engine, before: tuple[Visit, ...], now: Visit) -> Assessment:
    """A visit judged, with what the drift model says of it as it was found."""
    return assess(of, before, now, drifts_as_found(of, (*before, now)))
