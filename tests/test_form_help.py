"""What ships for the engine form: every pattern and every firing order can really be worked with."""

import json
from datetime import date

import pytest

from pronostico.analysis.crank_plan import crank_stations
from pronostico.core.crank.events import DEFAULT_EVENTS, Firing
from pronostico.core.crank.stations import SCHOOLS, CrankTask, crank_plan
from pronostico.core.engine import Valve
from pronostico.core.errors import KnowledgeFault
from pronostico.knowledge import load_cautions, load_firing_orders, load_first_looks, load_patterns
from pronostico.knowledge.first_looks import parse_first_looks
from pronostico.record.conversion import engine_from
from pronostico.record.models import FORMAT
from pronostico.record.reading_in import read_record

PATTERNS = {one.id: one for one in load_patterns()}
ORDERS = {
    f"{one.layout} {'-'.join(map(str, one.firing_order))} {one.intervals_deg or ''}": one
    for one in load_firing_orders()
}


def record_of(pattern):
    document = {"format": FORMAT, "version": 1, "engine": pattern.document()}
    return read_record(json.dumps(document), today=date(2026, 1, 1))


@pytest.mark.parametrize("name", PATTERNS)
def test_a_pattern_is_a_whole_engine_of_without_a_source(name):
    engine = record_of(PATTERNS[name]).engine
    # Made up: no manual may stand behind its figures.
    assert engine.source is None
    assert len({valve.id for valve in engine.valves}) == len(engine.valves)
    core = engine_from(engine)
    for valve in core.valves:
        spec = core.spec_of(valve, date(2026, 1, 1))
        assert spec is not None or engine.adjustment == "hydraulic"


@pytest.mark.parametrize("school", SCHOOLS)
@pytest.mark.parametrize("name", PATTERNS)
def test_the_crank_plan_of_a_pattern_frees_every_valve_once(name, school):
    engine = record_of(PATTERNS[name]).engine
    plan = crank_stations(engine, school)
    freed = [valve for station in plan.stations for valve in station.valves]
    assert sorted(freed) == sorted(valve.id for valve in engine.valves)


@pytest.mark.parametrize("school", SCHOOLS)
@pytest.mark.parametrize("name", ORDERS)
def test_every_usual_firing_order_has_a_crank_plan(name, school):
    order = ORDERS[name]
    valves = tuple(
        valve
        for n in sorted(order.firing_order)
        for valve in (Valve(f"{n}I", n, "intake"), Valve(f"{n}E", n, "exhaust"))
    )
    stations = crank_plan(
        CrankTask(valves, Firing.from_order(order.firing_order, order.intervals_deg), DEFAULT_EVENTS), school
    )
    freed = [valve for station in stations for valve in station.valves]
    assert sorted(freed) == sorted(valve.id for valve in valves)
    if school == "two-turn" and order.intervals_deg is None:
        # A single has all its valves at rest at its one top; two to eight cylinders take a turn more.
        assert len(stations) == (1 if len(order.firing_order) == 1 else 2)
    if school == "each-cylinder":
        assert len(stations) == len(order.firing_order)


@pytest.mark.parametrize("name", ORDERS)
def test_the_banks_of_an_order_hold_each_of_its_cylinders_once(name):
    order = ORDERS[name]
    assert sorted(order.firing_order) == list(range(1, len(order.firing_order) + 1))
    assert order.intervals_deg is None or sum(order.intervals_deg) == 720
    if order.banks is not None:
        assert sorted(one for bank in order.banks for one in bank) == sorted(order.firing_order)
    assert (order.banks is None) == (order.layout == "in-line")


def test_cautions_fit_the_machine_they_are_shown_for():
    def texts(fuel, adjustment="screw-rocker"):
        return " ".join(one.text for one in load_cautions() if one.applies(fuel=fuel, adjustment=adjustment))

    assert "Gaseous fuel" in texts("propane") and "Gaseous fuel" not in texts("diesel")
    assert "Diesel" in texts("diesel") and "Diesel" not in texts("petrol")
    assert "Shims and buckets" in texts("petrol", "shim-under-bucket")
    assert "Shims and buckets" not in texts("petrol")
    # What holds for every machine is said also where nothing is known of it.
    assert "Ignition off" in texts(None)
    # A diesel has no spark to take away: what stops it is its stop control.
    assert "lug lead" in texts("petrol") and "gnition" in texts("petrol")
    assert "lug lead" not in texts("diesel") and "gnition" not in texts("diesel")
    assert texts("diesel").count("top control") == 4


def test_quicker_looks_come_quickest_first_and_for_every_complaint():
    checks = load_first_looks()
    assert [one.minutes for one in checks] == sorted(one.minutes for one in checks)
    assert all(0 < one.minutes <= 30 for one in checks)


LOOK = '[[look]]\nid = "a"\nlabel = "a"\nwhat = "a"\nminutes = 3\ncomplaints = ["{complaint}"]\n'


def test_a_look_of_no_known_complaint_is_a_fault_and_a_complaint_without_one_too():
    with pytest.raises(KnowledgeFault, match="there is no complaint tickk"):
        parse_first_looks(LOOK.format(complaint="tickk"), frozenset({"tick"}))
    with pytest.raises(KnowledgeFault, match="no quick check is listed for stall"):
        parse_first_looks(LOOK.format(complaint="tick"), frozenset({"tick", "stall"}))
