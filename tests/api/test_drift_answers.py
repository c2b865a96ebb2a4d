"""What-if, the tables, and what a figure rests on, against the core and against each other."""

import csv
import io

import pytest

from pronostico.core.drift.forecast import ahead, as_set, risk_ahead
from pronostico.core.drift.model import drifts
from pronostico.record.conversion import engine_from, visits_from
from pronostico.record.models import Record

ONE = "/api/engines/resurfacer-1"
TWO = "/api/engines/resurfacer-2"


@pytest.fixture
def two(client):
    # Its sister resurfacer would be in what the pages say, and is not in the record.
    client.put(f"{TWO}/left-out", json={"left_out": True})
    record = Record.model_validate_json(client.get(f"{TWO}/record").text)
    engine, visits = engine_from(record.engine), visits_from(record)
    return engine, visits, drifts(engine, visits)


def what_if(client, engine=TWO, **asked):
    return client.get(f"{engine}/what-if", params=asked)


def test_a_valve_set_to_a_target_lasts_as_its_own_drift_lets_it(client, two):
    engine, visits, known = two
    asked = what_if(client, valve="2E", target_mm=0.27).json()["set_to"]
    state = as_set(known.valves["2E"].state, 0.27, 0.006)
    later = ahead(state, 1.0)
    assert asked["p_in_next"] == pytest.approx(later.below(0.30) - later.below(0.25))
    assert asked["p_in_now"] > 0.98
    assert asked["next_usage"] == visits[-1].usage + engine.check_interval
    at_limit = what_if(client, valve="2E", target_mm=0.25).json()["set_to"]
    assert at_limit["p_in_now"] == pytest.approx(0.5, abs=0.01)
    assert at_limit["lasts_until"] == visits[-1].usage and at_limit["side"] == "tight"


def test_a_later_look_is_a_greater_risk_and_agrees_with_the_next_check(client, two):
    _, visits, known = two
    last = visits[-1].usage
    risks = [what_if(client, check_at=last + more).json()["check_at"]["p_any_out"] for more in (0, 150, 600)]
    assert risks == sorted(risks)
    check = risk_ahead(known, margin_mm=0.03).next_check(0.1)
    at = what_if(client, check_at=last + 250.0 * check.intervals).json()["check_at"]
    assert at["p_any_out"] == pytest.approx(0.1, abs=0.005)
    assert at["valves"] == sorted(at["valves"], key=lambda one: -one["p_out"])


def test_a_shorter_interval_is_the_smaller_risk_at_each_of_three_checks(client, two):
    last = two[1][-1].usage
    usual, half = (what_if(client, interval=every).json()["every"] for every in (250, 125))
    assert [one["usage"] for one in half] == [last + 125, last + 250, last + 375]
    assert all(a["p_any_out"] <= b["p_any_out"] for a, b in zip(half, usual, strict=True))
    assert half[1]["p_any_out"] == pytest.approx(usual[0]["p_any_out"], abs=0.01)


@pytest.mark.parametrize(
    ("asked", "said"),
    [
        ({"check_at": 1}, "the last visit's"),
        ({"check_at": 90_000}, "ten intervals"),
        ({"interval": 2000}, "ten intervals"),
        ({"valve": "9X", "target_mm": 0.2}, "9X"),
    ],
)
def test_what_cannot_be_asked_is_refused_with_what_could(client, asked, said):
    answer = what_if(client, **asked)
    assert answer.status_code == 422 and said in answer.text


def test_of_an_engine_without_visits_nothing_is_known(client):
    begun = client.get(ONE).json()["engine"]
    fresh = {**begun, "id": "fresh", "name": "Fresh"}
    assert client.post("/api/engines", json={"engine": fresh, "confirmed": []}).status_code == 201
    answer = what_if(client, "/api/engines/fresh", check_at=100, interval=250, valve="1E", target_mm=0.27)
    assert answer.json() == {"set_to": None, "check_at": None, "every": None}


def table(client, name):
    answer = client.get(f"{ONE}/{name}.csv")
    assert answer.headers["content-type"] == "text/csv; charset=utf-8"
    assert f"resurfacer-1.{name}.csv" in answer.headers["content-disposition"]
    return list(csv.DictReader(io.StringIO(answer.text)))


def test_the_table_of_drifts_has_the_figures_of_the_page(client):
    rows = {row["valve"]: row for row in table(client, "drift")}
    shown = {one["valve"]: one for one in client.get(f"{ONE}/drift").json()["valves"]}
    assert list(rows) == list(shown)
    for name, row in rows.items():
        one = shown[name]
        assert float(row["now_mm"]) == pytest.approx(one["now"]["mean_mm"], abs=6e-5)
        assert row["trend"] == one["drift"]["trend"]
        assert row["break_visit"] == (one["break"] or {"visit": ""})["visit"]
        tight = one["crossing"]["tight"]
        assert row["tight_q10"] == ("" if tight is None else str(round(tight["q10"], 4)))


def test_the_table_of_readings_has_every_reading_once(client):
    rows = table(client, "readings")
    shown = client.get(f"{ONE}/drift").json()["valves"]
    kept = {(row["valve"], row["visit"], row["phase"]): row for row in rows}
    assert len(kept) == len(rows)
    for one in shown:
        for state in one["history"]:
            for phase in ("found", "left"):
                row = kept.get((one["valve"], state["visit"], phase))
                if state[phase] is not None:
                    assert float(row["mean_mm"]) == pytest.approx(state[phase]["mean_mm"], abs=6e-5)
                elif row is not None:
                    assert row["mean_mm"] == "" and row["target_mm"]


def test_a_figure_says_what_it_rests_on(client):
    third = next(one for one in client.get(f"{ONE}/drift").json()["valves"] if one["valve"] == "3E")
    rests = third["rests_on"]
    assert rests["visits_read"] == 8 and rests["since"] is None
    told = {one["visit"]: one for one in rests["predicted"]}
    assert "v1" not in told and set(told) == {f"v{n}" for n in range(2, 9)}
    # A sudden change at the last visit: the reading is far from its prediction.
    assert told["v8"]["z"] == pytest.approx(third["break"]["z"])
    assert rests["side_drift_mm_per_interval"]["mean_mm"] < -0.01
