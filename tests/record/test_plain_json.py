"""Figures and texts that no engine has are refused with their place, by records and by every route."""

import json

import pytest

from pronostico.record.faults import Fault
from pronostico.record.labels import label_of
from pronostico.record.plain_json import LONGEST_TEXT, NotPlain, plain_json
from pronostico.record.reading_in import NotARecord, read_record
from tests.builders import TODAY, record_document

DIGITS = "9" * 400


@pytest.mark.parametrize(
    ("text", "place", "told"),
    [
        (f'{{"usage": {DIGITS}}}', "$.usage", "must lie within"),
        ('{"a": [1, 1e999]}', "$.a[1]", "must lie within"),
        ('{"a": {"b": 1e16}}', "$.a.b", "must lie within"),
        (r'{"name": "half \ud800"}', "$.name", "half of a character"),
        (r'{"\udfff": 1}', "$", "half of a character"),
        (json.dumps({"note": "x" * (LONGEST_TEXT + 1)}), "$.note", "characters long"),
        ('{"a": NaN}', "$", "NaN is not a JSON number"),
        ("[" * 100 + "]" * 100, "$", "nested too deeply"),
    ],
)
def test_what_cannot_be_kept_is_refused_with_its_place(text, place, told):
    with pytest.raises(NotPlain) as refused:
        plain_json(text)
    assert refused.value.faults[0].path == place and told in refused.value.faults[0].message


@pytest.mark.parametrize("text", ['"é😀"', "1e15", "-999999999999999", '{"a": [null, true]}'])
def test_what_can_be_kept_is_not(text):
    assert plain_json(text) == json.loads(text)


@pytest.mark.parametrize(
    ("steps", "value", "told"),
    [
        (("engine", "check_interval"), 1e-9, "0.001 or more"),
        (("visits", 1, "usage"), 1e12, "at most 1e+09"),
        (("visits", 1, "temperature_c"), 400, "at most 250 °C"),
        (("visits", 1, "altitude_m"), 1e6, "at most 9000 m"),
        (("shim_box", 0, "count"), 2**70, "must lie within"),
        (("shim_box", 0, "count"), 10**7, "at most 1e+06"),
        (("engine", "stroke_mm"), -1, "over 0 mm"),
    ],
)
def test_a_record_with_a_figure_beyond_its_limits_says_which_and_what_would_be_right(steps, value, told):
    document = record_document()
    document["shim_box"] = [{"shim_mm": 2.4, "count": 1}]
    part = document
    for step in steps[:-1]:
        part = part[step]
    part[steps[-1]] = value
    with pytest.raises(NotARecord) as refused:
        read_record(json.dumps(document), today=TODAY)
    assert any(told in fault.message for fault in refused.value.faults)


def test_a_person_is_reported_the_label_and_never_the_path():
    assert Fault("$.seen.printed_mm", "is -1, must be over 0 mm").sentence == (
        "the size marked on the shim: is -1, must be over 0 mm"
    )
    assert label_of("$.engine.valves[3].spec.min_mm") == "valves no. 4, clearance spec, the lower limit"
    assert label_of("settings.json $.next_check_risk") == "settings.json, the risk of the next check"
    assert label_of("$") == ""
