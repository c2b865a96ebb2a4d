"""The record against its published schema, and its way into the core and back."""

import json
from pathlib import Path

import jsonschema
import pytest

from pronostico.core.engine import Spec
from pronostico.record.conversion import engine_from, model_of_visit, spec_from, visits_from
from pronostico.record.engine import SpecModel
from pronostico.record.models import Record
from pronostico.record.reading_in import read_record
from pronostico.record.schema import record_schema, record_schema_text
from tests.builders import TODAY, record_document, record_text

PUBLISHED = Path(__file__).parents[2] / "docs" / "schema" / "record-1.schema.json"


def test_the_published_schema_is_that_of_the_models():
    assert PUBLISHED.read_text("utf-8") == record_schema_text(), "run 'make schema'"


def test_the_schema_takes_a_valid_record_and_refuses_a_broken_one():
    validator = jsonschema.Draft202012Validator(record_schema())
    validator.check_schema(record_schema())
    assert validator.is_valid(record_document())
    broken = record_document()
    broken["engine"]["adjustment"] = "by eye"
    broken["surprise"] = 1
    broken["visits"][0]["readings"][0]["tries"][0]["felt"] = "tight"
    assert len(list(validator.iter_errors(broken))) == 3


FULL_ENGINE = {
    "source": {"title": "Manual", "page": "4-12"},
    "layout": {"kind": "in-line", "banks": [[1, 2]], "front": "left", "intake_side": "right"},
    "events_deg": {"intake": [345, 590], "exhaust": [130, 375]},
    "stations": [{"crank_deg": 0, "mark": "T", "valves": ["1I"]}],
    "lobe_position": "lobe away",
    "thread": {"hand": "left", "locks": "inner"},
    "hydraulic": {"preload_turns": 0.75, "plunger_stroke_mm": 4.0},
    "shim_series": {"from_mm": 1.2, "to_mm": 3.5, "step_mm": 0.05, "diameter_mm": 7.48},
    "torque": [{"part": "cover", "nm": 10, "stages": [5, 10], "sequence": "crosswise"}],
    "access_minutes": 30,
    "bump_release_travel_mm": 6.4,
    "meter_changes": [{"date": "2024-01-01", "old": 1990, "new": 0}],
    "spec_changes": [
        {
            "date": "2024-02-01",
            "spec": {"intake": {"figure_mm": 0.2}, "exhaust": {"min_mm": 0.2, "max_mm": 0.3}},
        }
    ],
    "compression_spec_kpa": {
        "min": 900,
        "max": 1250,
        "wet_only_below_min": True,
        "max_spread_fraction": 0.25,
    },
}
FULL_VISIT = {
    "last_run_hours_ago": 12,
    "duty": "hard",
    "technician": "A. B.",
    "notes": "hose brittle",
    "altitude_m": 1200,
    "leakdown": [{"cylinder": 1, "percent": 12, "heard": ["exhaust"]}],
    "findings": [{"id": "tick", "state": "present", "cylinder": None, "side": None, "note": ""}],
}


def test_every_optional_field_of_the_format_is_taken():
    document = record_document()
    document["engine"].update(FULL_ENGINE)
    document["visits"][0].update(FULL_VISIT)
    document["visits"][0]["readings"][0].update(
        {"access": "awkward", "entered": "2 thou", "instrument": "feeler", "crank_turn": 2}
    )
    document["visits"][0]["settings"][0]["lockup"] = [
        {"before": [{"blades_mm": [0.25], "felt": "drag"}], "after": [{"blades_mm": [0.25], "felt": "free"}]}
    ]
    document["cases"][0]["confirmed"] = [{"cause": "seat-recession", "side": "exhaust", "note": ""}]
    document["shim_box"] = [{"shim_mm": 2.45, "count": 3, "diameter_mm": 7.48}]
    record = read_record(record_text(document), today=TODAY)
    kept = json.loads(record.model_dump_json(exclude_none=True))
    assert kept["engine"]["torque"] == FULL_ENGINE["torque"]
    assert kept["visits"][0]["leakdown"] == FULL_VISIT["leakdown"]
    # Read, written and read again it is the same record.
    assert Record.model_validate_json(record.model_dump_json()) == record


@pytest.mark.parametrize(
    ("model", "spec"),
    [
        (SpecModel(min_mm=0.1, max_mm=0.2), Spec(0.1, 0.2)),
        (SpecModel(figure_mm=0.25), Spec(0.225, 0.275)),
        # Where both are given the range is the spec and the figure a target within it.
        (SpecModel(min_mm=0.1, max_mm=0.2, figure_mm=0.12), Spec(0.1, 0.2)),
        # A small figure keeps its middle, even where its range then begins below zero.
        (SpecModel(figure_mm=0.02), Spec(-0.005, 0.045)),
        (SpecModel(), None),
    ],
)
def test_a_spec_is_a_range_whichever_way_it_is_printed(model, spec):
    got = spec_from(model)
    assert (got is None) == (spec is None)
    if got is not None:
        assert (got.min_mm, got.max_mm) == pytest.approx((spec.min_mm, spec.max_mm))


def test_null_says_the_same_as_leaving_out():
    document, sparse = record_document(), record_document()
    for key in ("settings", "compression", "findings", "access", "work", "leakdown", "numbers"):
        document["visits"][1][key] = None
        sparse["visits"][1].pop(key, None)
    document["engine"].update(meter_changes=None, spec_changes=None, layout=None, firing_order=None)
    sparse["engine"]["firing_order"] = None
    assert jsonschema.Draft202012Validator(record_schema()).is_valid(document)
    assert read_record(record_text(document), today=TODAY) == read_record(record_text(sparse), today=TODAY)


def test_what_was_typed_is_kept_beside_the_figure():
    document = record_document()
    document["visits"][0]["entered"] = {"meter": 12, "unit": "h"}
    document["visits"][0]["compression"][0]["entered"] = "157 psi"
    document["engine"]["spec"]["intake"]["entered"] = "6 to 8 thou"
    record = read_record(record_text(document), today=TODAY)
    kept = json.loads(record.model_dump_json(exclude_none=True))
    assert kept["visits"][0]["entered"] == {"meter": 12, "unit": "h"}
    assert kept["visits"][0]["compression"][0]["entered"] == "157 psi"


def test_a_readings_own_access_wins_over_the_visits():
    document = record_document()
    document["visits"][0]["access"] = "awkward"
    visits = visits_from(read_record(record_text(document), today=TODAY))
    assert visits[0].readings[0].access == "awkward"
    assert visits[1].readings[0].access == "awkward"
    assert visits_from(read_record(record_text(), today=TODAY))[0].readings[0].access == "straight"


def test_a_visit_survives_the_way_out_and_back():
    for visit in visits_from(read_record(record_text(), today=TODAY)):
        assert visits_from_one(visit) == visit


def visits_from_one(visit):
    document = record_document()
    document["visits"] = [json.loads(model_of_visit(visit).model_dump_json(exclude_none=True))]
    document["cases"] = []
    return visits_from(read_record(record_text(document), today=TODAY))[0]


def test_a_valves_own_spec_wins_over_its_sides():
    document = record_document()
    document["engine"]["valves"][0]["spec"] = {"figure_mm": 0.4}
    engine = engine_from(read_record(record_text(document), today=TODAY).engine)
    assert engine.spec_of(engine.valve("1I"), TODAY).max_mm == pytest.approx(0.425)
    assert engine.spec_of(engine.valve("2I"), TODAY).max_mm == pytest.approx(0.20)
