"""What follows from the kind of engine: how it is started, what its compression release lifts."""

import pytest

from pronostico.analysis.evidence import evidence_of
from pronostico.analysis.instrument_kinds import kinds_out
from pronostico.core.causes.model import candidates_for
from pronostico.knowledge import load_knowledge, load_tests
from pronostico.record.conversion import engine_from
from pronostico.record.models import Record
from tests.builders import record_document


def record(**engine):
    document = record_document()
    document["engine"].update(engine)
    document["cases"] = [
        {"id": "c", "opened": "2025-06-10", "visit": "v2", "findings": [], "confirmed": None}
    ]
    return Record.model_validate(document)


@pytest.mark.parametrize("starting", ["rope", "kick", "hand-crank"])
def test_what_is_started_by_hand_has_no_battery_or_starter_to_blame(starting):
    of = engine_from(record(starting=starting).engine)
    assert "start-circuit-weak" not in {one.kind.id for one in candidates_for(of, load_knowledge())}
    fitting = {one.id for one in load_tests() if one.fits(of)}
    assert "pull-slowly" in fitting and not fitting & {"battery-test", "crank-speed"}


@pytest.mark.parametrize("starting", ["electric", None])
def test_what_may_have_a_starter_has_them(starting):
    of = engine_from(record(starting=starting).engine)
    assert "start-circuit-weak" in {one.kind.id for one in candidates_for(of, load_knowledge())}
    fitting = {one.id for one in load_tests() if one.fits(of)}
    assert "pull-slowly" not in fitting and {"battery-test", "crank-speed"} <= fitting


@pytest.mark.parametrize(("fuel", "has"), [("Diesel ", False), ("petrol", True), (None, True)])
def test_a_diesel_has_no_spark_to_preview(fuel, has):
    of = engine_from(record(fuel=fuel).engine)
    assert ("spark-test" in {one.id for one in load_tests() if one.fits(of)}) is has


def test_no_instrument_asks_for_the_plugs_of_a_diesel():
    diesel = " ".join(f"{one.how} {one.caution}" for one in kinds_out((1, 2), "diesel"))
    petrol = " ".join(f"{one.how} {one.caution}" for one in kinds_out((1, 2), "petrol"))
    assert "lug lead" in petrol and "lug lead" not in diesel
    assert diesel.count("top control at stop") == 3


@pytest.mark.parametrize(("side", "asked"), [("intake", "intake"), ("exhaust", "exhaust"), (None, "exhaust")])
def test_the_compression_release_is_asked_of_the_valve_that_it_lifts(side, asked):
    of = record(decompression_lift_mm=0.3, decompression_side=side)
    readings = []
    for valve in of.engine.valves:
        # The valve of one side has swallowed the bump, the other has its clearance.
        blades = (0.35, 0.40) if valve.side == "intake" else (0.10, 0.13)
        tries = [
            {"blades_mm": [blades[0]], "felt": "free"},
            {"blades_mm": [blades[1]], "felt": "no-go"},
        ]
        readings.append({"valve": valve.id, "phase": "found", "tries": tries})
    document = of.model_dump(mode="json")
    document["visits"][-1]["readings"] = readings
    document["visits"][-1]["settings"] = []
    of = Record.model_validate(document)
    swallowed = [one.presence for one in evidence_of(of, of.cases[0]) if one.finding == "release-swallowed"]
    assert swallowed
    assert all((presence > 0.9) is (asked == "intake") for presence in swallowed)
