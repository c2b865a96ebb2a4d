"""Everything that can be wrong with a record is said, with its place, at once."""

import json

import pytest

from pronostico.record.reading_in import NotARecord, read_record
from tests.builders import TODAY, record_document, record_text


def faults_of(text):
    with pytest.raises(NotARecord) as caught:
        read_record(text, today=TODAY)
    return {fault.path: fault.message for fault in caught.value.faults}


def put(document, path, value):
    *steps, last = path
    for step in steps:
        document = document[step]
    if value is ...:
        del document[last]
    else:
        document[last] = value


def test_a_valid_record_has_none():
    assert read_record(record_text(), today=TODAY).engine.id == "mule"


V, R = ("visits", 1), ("visits", 1, "readings", 0)
CASES = [
    (("engine", "id"), ..., "$.engine.id", "is missing"),
    (("engine", "check_intervall"), 3, "$.engine.check_intervall", "did you mean 'check_interval'"),
    (("engine", "adjustment"), "shims", "$.engine.adjustment", "must be 'screw-rocker'"),
    (("engine", "check_interval"), 0, "$.engine.check_interval", "must be 0.001 or more"),
    (("engine", "check_interval"), "100", "$.engine.check_interval", "must be a number"),
    (("engine", "valves"), [], "$.engine.valves", "at least 1"),
    (("engine", "valves", 1, "id"), "1I", "$.engine.valves[1].id", "valve '1I' is there already"),
    (
        ("engine", "valves", 0, "shares_rocker_with"),
        ["7I"],
        "$.engine.valves[0].shares_rocker_with[0]",
        "no valve '7I'",
    ),
    (("engine", "firing_order"), [1, 1], "$.engine.firing_order", "each cylinder (1, 2) once"),
    (("engine", "firing_order"), [1, 2, 4], "$.engine.firing_order", "permutation of 1 to 3"),
    (("engine", "firing_order"), [1], "$.engine.firing_order", "each cylinder (1, 2) once"),
    (("engine", "firing_intervals_deg"), [300, 300], "$.engine.firing_intervals_deg", "must be 720"),
    (("engine", "firing_intervals_deg"), [720], "$.engine.firing_intervals_deg", "1 angles for 2 steps"),
    (("engine", "spec", "intake", "min_mm"), 0.2, "$.engine.spec.intake", "not below max_mm"),
    (("engine", "spec", "intake", "max_mm"), None, "$.engine.spec.intake.max_mm", "needs both ends"),
    (("engine", "spec", "exhaust"), {}, "$.engine.spec.exhaust", "neither a range"),
    (("engine", "layout"), {"banks": [[1]]}, "$.engine.layout.banks", "each cylinder once"),
    (("visits", 1, "id"), "v1", "$.visits[1].id", "visit 'v1' is there already"),
    ((*V, "usage"), 99.0, "$.visits[1].usage", "less than the 100 of the visit before"),
    ((*V, "date"), "2024-01-01", "$.visits[1].date", "before the visit before it"),
    ((*V, "date"), "2026-06-02", "$.visits[1].date", "lies in the future"),
    ((*V, "date"), "10.6.2025", "$.visits[1].date", "must be a date such as"),
    ((*V, "temperature_c"), 900, "$.visits[1].temperature_c", "at most 250"),
    ((*R, "valve"), "9E", "$.visits[1].readings[0].valve", "it has 1E, 1I, 2E, 2I"),
    ((*R, "phase"), "before", "$.visits[1].readings[0].phase", "must be 'found' or 'left'"),
    ((*R, "tries", 0, "felt"), "stuck", "$.visits[1].readings[0].tries[0].felt", "must be 'no-go'"),
    ((*R, "tries", 0, "blades_mm"), [3.2], "$.visits[1].readings[0].tries[0].blades_mm[0]", "at most 3"),
    ((*R, "tries", 0, "blades_mm"), [0.1, -0.1], "$.visits[1].readings[0].tries[0].blades_mm[1]", "over 0"),
    ((*R, "tries", 0, "blades_mm"), [], "$.visits[1].readings[0].tries[0].blades_mm", "at least 1"),
    (("gauge_set", "blades_mm", 2), 0, "$.gauge_set.blades_mm[2]", "over 0"),
    (("visits", 0, "settings", 0, "valve"), "3I", "$.visits[0].settings[0].valve", "no valve '3I'"),
    (("visits", 0, "compression", 0, "cylinder"), 5, "$.visits[0].compression[0].cylinder", "no cylinder 5"),
    (("cases", 0, "visit"), "v7", "$.cases[0].visit", "no visit 'v7'"),
    (("cases", 0, "closed"), "2025-01-01", "$.cases[0].closed", "before it was opened"),
    (("cases", 0, "opened"), "2027-01-01", "$.cases[0].opened", "lies in the future"),
    (("cases", 0, "findings", 0, "cylinder"), 3, "$.cases[0].findings[0].cylinder", "no cylinder 3"),
    (("engine", "valve_length_mm"), 105_000, "$.engine.valve_length_mm", "at most 2000"),
    (("engine", "rocker_ratio"), 150, "$.engine.rocker_ratio", "at most 10"),
    (("engine", "reference_temperature_c"), 300, "$.engine.reference_temperature_c", "at most 250"),
    (("engine", "spec", "exhaust", "max_mm"), 300, "$.engine.spec.exhaust.max_mm", "at most 10"),
    (("version",), 2, "$.version", "must be 1"),
    (("format",), "other", "$.format", "must be 'pronostico/record'"),
    (("engine",), 7, "$.engine", "must be an object"),
    (("visits",), "none", "$.visits", "must be a list"),
]


@pytest.mark.parametrize(("path", "value", "place", "says"), CASES, ids=[f"{c[2]} {c[3]}" for c in CASES])
def test_one_fault_is_reported_at_its_place(path, value, place, says):
    document = record_document()
    put(document, path, value)
    faults = faults_of(record_text(document))
    assert says in faults[place]


def test_five_faults_are_reported_at_once_and_nothing_else_is():
    document = record_document()
    for path, value in (
        ((*R, "valve"), "9X"),
        ((*V, "usage"), 50),
        ((*R, "tries", 0, "blades_mm"), [4.0]),
        (("engine", "firing_order"), [2, 2]),
        ((*V, "surprise"), True),
    ):
        put(document, path, value)
    assert set(faults_of(record_text(document))) == {
        "$.visits[1].readings[0].valve",
        "$.visits[1].usage",
        "$.visits[1].readings[0].tries[0].blades_mm[0]",
        "$.engine.firing_order",
        "$.visits[1].surprise",
    }


def test_broken_json_names_line_and_column():
    text = json.dumps(record_document(), indent=1).replace('"usage": 100', '"usage": 100 oops')
    line = next(n for n, content in enumerate(text.splitlines(), 1) if "oops" in content)
    assert f"line {line}, column" in faults_of(text)["$"]


@pytest.mark.parametrize(
    ("text", "says"),
    [
        ("", "line 1, column 1"),
        ("[]", "must be an object"),
        ('{"version": NaN}', "NaN is not a JSON number"),
        ('{"version": 1, "version": 1}', "twice in one object: 'version'"),
        ("[" * 100_000, "nested too deeply"),
        (b"\xff\xfe{", "not UTF-8"),
    ],
)
def test_text_that_is_no_record_at_all(text, says):
    assert any(says in message for message in faults_of(text).values())


def test_an_editors_byte_order_mark_is_no_fault():
    assert read_record(b"\xef\xbb\xbf" + record_text().encode(), today=TODAY).engine.id == "mule"


def test_a_hydraulic_engine_may_have_no_figure():
    document = record_document()
    document["engine"]["adjustment"] = "hydraulic"
    document["engine"]["spec"] = {"intake": {}, "exhaust": {}}
    assert read_record(record_text(document), today=TODAY).engine.adjustment == "hydraulic"


def test_equal_usage_is_no_fault():
    document = record_document()
    document["visits"][1]["usage"] = 100
    assert len(read_record(record_text(document), today=TODAY).visits) == 2


@pytest.mark.parametrize("junk", [None, 3, "x", [1], {"engine": {"valves": [3, None]}}, {"visits": [[]]}])
def test_nothing_makes_the_checks_fall_over(junk):
    assert faults_of(json.dumps(junk))
