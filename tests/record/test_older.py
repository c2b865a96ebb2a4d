"""Records of before some fields had a place of their own: read, converted, nothing lost."""

import json

from pronostico.record.reading_in import read_record
from tests.builders import TODAY, record_document, record_text

TRACE = {
    "id": "t1",
    "kind": "compression",
    "instrument": "own gauge",
    "at": "2026-01-12T09:30:00+00:00",
    "cylinder": 1,
    "channels": ["pressure_kpa"],
    "samples": [[0.0, 900.0], [0.5, None]],
    "ended": "whole",
    "taken": True,
    "replaced": {"compression": [{"cylinder": 1, "dry_kpa": 800.0}]},
}
OLD = {
    "meter": 12.0,
    "parts": [{"what": "plugs", "came_from": "head"}],
    "decisions": {"1E": {"decision": "set", "reason": "tight"}},
    "setting": {"policy": "lean-loose", "reason": "they tighten"},
    "shims": {"1I": {"printed_mm": 2.4}},
    "ticks": ["cover"],
    "outcomes": {"tick": {"outcome": "gone"}},
    "recheck": {"usage": 900.0, "reason": "owner asks"},
    "minutes": 42.0,
    "instruments": [TRACE],
    "school": "each-cylinder",
    "confirmed": ["1E"],
    "cover_off": True,
}
NEW_NAMES = {
    "setting": "adjustment_choice",
    "shims": "shims_seen",
    "instruments": "traces",
    "confirmed": "positions_confirmed",
}


def read(document):
    return read_record(record_text(document), today=TODAY)


def test_a_record_that_kept_them_among_what_was_typed_is_read_as_one_of_today():
    old, new = record_document(), record_document()
    old["visits"][0]["entered"] = OLD
    new["visits"][0]["entered"] = {"meter": 12.0}
    new["visits"][0].update({NEW_NAMES.get(key, key): value for key, value in OLD.items() if key != "meter"})
    old["visits"][1]["settings"] = [
        {"valve": "1E", "shim_to_mm": 2.4, "entered": {"id": "s1", "source": "moved", "moved_from": "2E"}}
    ]
    new["visits"][1]["settings"] = [
        {"valve": "1E", "shim_to_mm": 2.4, "id": "s1", "shim_source": "moved", "moved_from": "2E"}
    ]
    record = read(old)
    assert record == read(new)
    visit = record.visits[0]
    assert (
        visit.decisions["1E"].reason == "tight" and visit.traces[0].replaced.compression[0].dry_kpa == 800.0
    )
    assert record.visits[1].settings[0].entered is None


def test_what_another_program_typed_under_the_same_names_stays_where_it_was():
    document = record_document()
    document["visits"][0]["entered"] = {"parts": "3 boxes", "confirmed": 7, "recheck": {"usage": "later"}}
    document["visits"][1]["settings"] = [{"valve": "1E", "entered": {"reason": "own words"}}]
    record = read(document)
    assert record.visits[0].entered == document["visits"][0]["entered"]
    assert record.visits[0].parts == [] and record.visits[0].recheck is None
    assert record.visits[1].settings[0].entered == {"reason": "own words"}


def test_what_is_converted_goes_out_in_its_new_place_and_comes_in_again_the_same():
    document = record_document()
    document["visits"][0]["entered"] = OLD
    record = read(document)
    again = read_record(record.model_dump_json(exclude_none=True), today=TODAY)
    assert again == record
    sent = json.loads(record.model_dump_json(exclude_none=True))["visits"][0]
    assert sent["entered"] == {"meter": 12.0} and sent["minutes"] == 42.0
