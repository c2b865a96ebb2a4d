"""What is evidence for causes: noted, measured with instruments, or following from how it all began."""

from datetime import date

import pytest

from pronostico.analysis.case_time import case_time
from pronostico.analysis.diagnosis import diagnose_record
from pronostico.analysis.evidence import evidence_of, measured_evidence
from pronostico.analysis.neighbours import neighbours_of
from pronostico.core.causes.places import Place
from pronostico.core.constants import DEFAULT
from pronostico.record.models import Record
from tests.builders import record_document

SPEC = {"min": 900, "max": 1250, "wet_only_below_min": True, "max_spread_fraction": 0.25}


def record(visit=None, *, engine=None, findings=None, first=None):
    """The small record, its last visit and its case as they are asked for."""
    document = record_document()
    document["engine"].update({"compression_spec_kpa": SPEC, **(engine or {})})
    document["visits"][0].update(first or {})
    document["visits"][-1].update(visit or {})
    document["cases"] = [
        {"id": "c", "opened": "2025-06-10", "visit": "v2", "findings": findings or [], "confirmed": None}
    ]
    return Record.model_validate(document)


def evidence(*args, **kwargs):
    of = record(*args, **kwargs)
    return {(one.finding, one.place.name): one.presence for one in evidence_of(of, of.cases[0])}


def ranked(*args, **kwargs):
    """The causes, likeliest first, no clearance having been read."""
    of = record(*args, **kwargs)
    visits = [visit.model_copy(update={"readings": [], "settings": []}) for visit in of.visits]
    found = diagnose_record(of.model_copy(update={"visits": visits})).causes
    return [(one.cause, one.where) for one in found]


def test_low_compression_that_oil_brings_up_is_rings():
    read = {
        "compression": [{"cylinder": 1, "dry_kpa": 600, "wet_kpa": 800}, {"cylinder": 2, "dry_kpa": 1100}]
    }
    found = evidence(read)
    assert found["compression-low", "cylinder 1"] > 0.99 and found["compression-low", "cylinder 2"] < 0.01
    assert found["wet-gain", "cylinder 1"] > 0.99 and found["compression-spread", "engine"] > 0.99
    assert ranked(read)[0] == ("rings-worn", "cylinder 1")


def test_the_altitude_of_the_visit_is_allowed_for():
    read = [{"cylinder": 1, "dry_kpa": 800}]
    assert evidence({"compression": read})["compression-low", "cylinder 1"] > 0.99
    high = evidence({"compression": read, "altitude_m": 1500})
    assert high["compression-low", "cylinder 1"] < 0.05


def test_two_neighbours_low_and_bubbles_are_the_gasket():
    read = {
        "compression": [{"cylinder": n, "dry_kpa": 600, "wet_kpa": 605} for n in (1, 2)],
        "leakdown": [{"cylinder": 1, "percent": 55, "heard": ["coolant"]}],
    }
    found = evidence(read)
    assert found["neighbours-low", "cylinder 1"] > 0.99
    assert (found["leak-coolant", "cylinder 1"], found["leak-exhaust", "cylinder 1"]) == (1.0, 0.0)
    assert ("gasket-leak", "cylinder 1") in ranked(read)[:2]


def test_neighbours_stand_side_by_side_in_their_own_bank():
    engine = record().engine
    assert neighbours_of(engine) == [(1, 2)]
    banks = {"kind": "v", "banks": [[1], [2]], "front": "left"}
    assert neighbours_of(record(engine={"layout": banks}).engine) == []


def test_a_little_air_lost_is_no_leak_wherever_it_is_heard():
    sound = evidence({"leakdown": [{"cylinder": 1, "percent": 8, "heard": ["exhaust"]}]})
    assert sound["leak-exhaust", "cylinder 1"] == 0.0


@pytest.mark.parametrize(
    ("number", "finding", "where", "least", "most"),
    [
        ({"id": "trims-long", "value": -14}, "trims-rich", "engine", 0.95, 1.0),
        ({"id": "trims-long", "value": -14}, "trims-lean", "engine", 0.0, 0.01),
        ({"id": "trims-long", "value": 8}, "trims-lean", "engine", 0.49, 0.51),
        ({"id": "battery-rest", "value": 11.6}, "battery-weak", "engine", 0.99, 1.0),
        ({"id": "misfires", "value": 40, "cylinder": 2}, "misfire-count", "cylinder 2", 1.0, 1.0),
    ],
)
def test_figures_speak_of_what_they_show(number, finding, where, least, most):
    assert least <= evidence({"numbers": [number]})[finding, where] <= most


def test_a_figure_from_after_the_work_says_nothing_of_what_was_wrong():
    after = evidence({"numbers": [{"id": "trims-long", "value": -14, "phase": "after"}]})
    assert ("trims-rich", "engine") not in after


def test_how_a_complaint_began_is_a_finding_of_its_own():
    def began(*onsets):
        noted = [
            {"id": name, "state": "present", "onset": onset}
            for name, onset in zip(("tick", "low-power"), onsets, strict=False)
        ]
        return evidence(findings=noted).get(("began-suddenly", "engine"))

    assert (began("sudden"), began("gradual"), began(None)) == (1.0, 0.0, None)
    assert began("gradual", "sudden") == 1.0


def test_head_work_not_long_ago_is_known_without_anybody_ticking_it():
    assert evidence(first={"work": "head-work"})["after-head-work", "engine"] == 1.0
    assert ("after-head-work", "engine") not in evidence()
    long_ago = evidence({"usage": 900}, first={"work": "head-work"})
    assert ("after-head-work", "engine") not in long_ago


def test_what_was_noted_goes_before_what_is_computed_of_the_same_kind():
    noted = [{"id": "compression-low", "state": "absent", "cylinder": 1}]
    found = evidence({"compression": [{"cylinder": 1, "dry_kpa": 500}]}, findings=noted)
    assert found["compression-low", "cylinder 1"] == 0.0


def test_without_a_complaint_what_has_not_come_yet_says_nothing():
    of = record(findings=[{"id": "tick", "state": "present"}])
    alone = measured_evidence(of)
    assert not {"tick", "began-suddenly"} & {one.finding for one in alone}
    assert all(one.presence >= 0.5 for one in alone if one.finding == "clearance-tight")
    everything = evidence_of(of, of.cases[0])
    assert any(one.finding == "tick" and one.place == Place() for one in everything)


# A bound is no figure


def one_reading(*answers, **fields):
    read = {
        "valve": "1E",
        "phase": "found",
        "tries": [{"blades_mm": [blade], "felt": felt} for blade, felt in answers],
    }
    # The other valve of the position is in spec: the crank stood where it should.
    beside = {"valve": "1I", "phase": "found", "tries": [{"blades_mm": [0.17], "felt": "drag"}]}
    return {"readings": [read, beside], "settings": [], **fields}


def test_a_valve_known_only_as_a_bound_may_be_held_open():
    found = evidence(one_reading((0.15, "no-go")))
    assert found["clearance-tight", "1E"] > 0.9
    # Nobody tried a thin blade: whether there is no clearance at all was not looked for.
    assert ("clearance-none", "1E") not in found and found["clearance-very-loose", "1E"] == 0.0


@pytest.mark.parametrize(("blade", "presence"), [(0.35, None), (0.65, 1.0)])
def test_very_loose_is_said_only_where_the_bound_shows_it(blade, presence):
    found = evidence(one_reading((blade, "free")))
    assert found.get(("clearance-very-loose", "1E")) == presence


def test_the_next_test_is_to_measure_that_valve_further():
    of = record(one_reading((0.15, "no-go")), findings=[{"id": "cold-miss", "state": "present"}])
    tests = {(one.test, one.where) for one in diagnose_record(of).next_tests}
    assert ("measure-further", "1E") in tests
    known = record(one_reading((0.15, "no-go"), (0.10, "drag")))
    assert "measure-further" not in {one.test for one in diagnose_record(known).next_tests}


def test_an_engine_without_any_compression_is_data():
    read = {"compression": [{"cylinder": n, "dry_kpa": 0, "wet_kpa": 0} for n in (1, 2)]}
    found = evidence(read)
    assert found["compression-low", "cylinder 1"] > 0.99 and found["compression-spread", "engine"] < 0.01
    assert ranked(read)


# Old readings are old


def old_case(*, opened, findings=(), **fields):
    """A case without a visit, opened long after the last one."""
    of = record(**fields)
    case = {"id": "late", "opened": opened, "findings": list(findings), "confirmed": None}
    document = of.model_dump(mode="json")
    document["cases"] = [case]
    return Record.model_validate(document)


def test_a_case_years_after_the_last_visit_does_not_take_its_readings_for_todays():
    at_visit = record(findings=[{"id": "tick", "state": "present"}])
    assert ("clearance-tight", "1E") in {
        (one.finding, one.place.name) for one in evidence_of(at_visit, at_visit.cases[0])
    }
    late = old_case(opened="2040-01-05", findings=[{"id": "tick", "state": "present"}])
    carried = {(one.finding, one.place.name): one.presence for one in evidence_of(late, late.cases[0])}
    # Nobody has looked since: the forecast may name what wear brought, and is evidence against nothing.
    level = [name for name, presence in carried.items() if presence < 0.5 and "clearance" in name[0]]
    assert level == []
    assert ("clearance-none", "1E") not in carried and ("break-tight", "1E") not in carried
    report = diagnose_record(late)
    assert report.carried is not None and report.carried.days > 5000
    assert "blade-check" in {one.test for one in report.next_tests}


def test_an_adjuster_that_backed_off_since_is_not_ruled_out_by_an_old_reading():
    sudden = [{"id": "tick", "state": "present", "onset": "sudden"}]
    late = old_case(opened="2035-01-05", findings=sudden)
    backed_off = next(
        one
        for one in diagnose_record(late).causes
        if one.cause == "adjuster-backed-off" and one.where == "1E"
    )
    assert not [one for one in backed_off.against if one.finding.startswith("clearance")]


def test_a_case_opened_within_days_of_a_visit_is_of_that_visit():
    near = old_case(opened="2025-06-12")
    assert diagnose_record(near).carried is None


def test_access_is_charged_once_and_the_cover_is_what_was_noted_of_it():
    def minutes(**noted):
        of = record(noted, findings=[{"id": "cold-miss", "state": "present"}])
        return {one.test: one.minutes for one in diagnose_record(of).next_tests}

    on, off = minutes(), minutes(cover_off=True)
    assert on["waggle"] - off["waggle"] == pytest.approx(on["blade-check"] - off["blade-check"])
    assert on["waggle"] > off["waggle"] == 2.0
    # With the cover off it is the test that needs it on which pays for fitting it.
    assert off["compression-dry"] > on["compression-dry"]


def test_head_work_counts_for_one_check_interval_and_not_for_the_visit_itself():
    # Every 100 h, the last visit at 180.5 h.
    for usage, counts in ((81.0, True), (80.0, False)):
        first = {"work": "head-work", "usage": usage}
        assert (("after-head-work", "engine") in evidence(first=first)) is counts
    assert ("after-head-work", "engine") not in evidence({"work": "head-work"})


def test_so_much_air_lost_is_a_leak_and_less_is_not():
    for percent, presence in ((15.0, 0.0), (15.5, 1.0)):
        found = evidence({"leakdown": [{"cylinder": 1, "percent": percent, "heard": ["exhaust"]}]})
        assert found["leak-exhaust", "cylinder 1"] == presence


@pytest.mark.parametrize(
    ("opened", "visits", "days", "is_at_visit"),
    [
        ("2025-01-09", 0, 0, True),
        ("2025-01-10", 1, 0, True),
        ("2025-01-17", 1, 7, True),
        ("2025-01-18", 1, 8, False),
        ("2025-06-10", 2, 0, True),
    ],
)
def test_a_case_is_of_the_visit_of_its_own_day_or_the_week_before(opened, visits, days, is_at_visit):
    of = record()
    case = of.cases[0].model_copy(update={"visit": None, "opened": date.fromisoformat(opened)})
    at = case_time(of, case, DEFAULT)
    assert (at.visits, at.days, at.is_at_visit) == (visits, days, is_at_visit)


@pytest.mark.parametrize(
    ("blade_mm", "least", "most"), [(0.29, 0.0, 0.02), (0.34, 0.1, 0.9), (0.40, 0.98, 1.0)]
)
def test_a_release_is_swallowed_where_a_tenth_of_its_lift_is_left(blade_mm, least, most):
    answers = ((blade_mm, "drag"), (blade_mm + 0.02, "no-go"))
    tries = [{"blades_mm": [round(mm, 3)], "felt": felt} for mm, felt in answers]
    read = {"valve": "1E", "phase": "found", "tries": tries}
    found = evidence({"readings": [read]}, engine={"decompression_lift_mm": 0.45})
    assert least <= found["release-swallowed", "cylinder 1"] <= most
