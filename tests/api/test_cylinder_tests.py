"""Measurements and tests: entered by cylinder, assessed, queried in the wrong unit, used in the case."""

import pytest

TESTS = "/api/engines/resurfacer-1/visits/v8/tests"
DIAGNOSIS = "/api/engines/resurfacer-1/cases/c1/diagnosis"


def cylinder(answer, number):
    return next(one for one in answer.json()["cylinders"] if one["cylinder"] == number)


def says(part):
    return {one["finding"]: one["presence"] for one in part["says"]}


def test_nothing_is_said_before_anything_was_tried(client):
    answer = client.get(TESTS).json()
    assert [one["cylinder"] for one in answer["cylinders"]] == [1, 2, 3, 4]
    assert (answer["least_kpa"], answer["spread"], answer["says"]) == (900, None, [])
    assert all(one["dry_kpa"] is None and not one["says"] for one in answer["cylinders"])


def test_low_dry_calls_for_oil_and_oil_tells_valves_from_rings(client):
    for number, kpa in ((1, 1010), (2, 600), (3, 980), (4, 1000)):
        answer = client.put(f"{TESTS}/cylinders/{number}", json={"dry_kpa": kpa})
    assert [one["wet_called_for"] for one in answer.json()["cylinders"]] == [False, True, False, False]
    assert answer.json()["spread"] == pytest.approx((1010 - 600) / 1010)
    assert says(answer.json())["compression-spread"] > 0.9
    valves = cylinder(client.put(f"{TESTS}/cylinders/2", json={"dry_kpa": 600, "wet_kpa": 605}), 2)
    assert says(valves)["wet-no-gain"] > 0.9
    rings = cylinder(client.put(f"{TESTS}/cylinders/2", json={"dry_kpa": 600, "wet_kpa": 760}), 2)
    assert says(rings)["wet-gain"] > 0.9
    assert "wet-no-gain" not in says(rings)
    causes = client.get(DIAGNOSIS).json()["causes"]
    worn = next(one for one in causes if (one["cause"], one["where"]) == ("rings-worn", "cylinder 2"))
    assert {one["finding"] for one in worn["for"]} >= {"compression-low", "wet-gain"}


def test_at_height_less_is_enough(client):
    client.put(f"{TESTS}/cylinders/1", json={"dry_kpa": 790})
    assert "compression-low" in says(cylinder(client.get(TESTS), 1))
    high = client.put(f"{TESTS}/altitude", json={"altitude_m": 2000})
    # (900 + 101.3) kPa absolute times 79.5 / 101.3, less the 79.5 outside.
    assert high.json()["least_here_kpa"] == pytest.approx(706, abs=2)
    assert "compression-low" not in says(cylinder(high, 1))
    assert client.get("/api/engines/resurfacer-1/record").json()["visits"][-1]["altitude_m"] == 2000


@pytest.mark.parametrize(
    ("field", "figure", "meant"), [("dry_kpa", 130, 896), ("wet_kpa", 140, 965), ("dry_kpa", 9.5, 950)]
)
def test_a_figure_of_another_unit_is_asked_about_and_kept_once_confirmed(client, field, figure, meant):
    asked = client.put(f"{TESTS}/cylinders/3", json={field: figure})
    assert (asked.status_code, asked.json()["type"].rsplit(":", 1)[1]) == (422, "asked")
    fault = asked.json()["faults"][0]
    assert (fault["path"], fault["suggestion"]) == (f"$.{field}", meant)
    assert cylinder(client.get(TESTS), 3)[field] is None
    kept = client.put(f"{TESTS}/cylinders/3", json={field: figure, "confirmed": [f"$.{field}"]})
    assert cylinder(kept, 3)[field] == figure


def test_lost_air_speaks_where_it_is_heard_and_is_struck_out_again(client):
    leaking = {"leak_percent": 40, "heard": ["exhaust"], "misfires": 30}
    found = cylinder(client.put(f"{TESTS}/cylinders/3", json=leaking), 3)
    assert (found["leak_percent"], found["heard"]) == (40, ["exhaust"])
    assert set(says(found)) == {"leak-exhaust", "misfire-count"}
    sound = cylinder(client.put(f"{TESTS}/cylinders/3", json={"leak_percent": 8, "heard": ["exhaust"]}), 3)
    assert says(sound) == {}
    assert cylinder(client.put(f"{TESTS}/cylinders/3", json={}), 3)["leak_percent"] is None


@pytest.mark.parametrize(
    ("figure", "value", "finding"),
    [
        ("battery-rest", 11.8, "battery-weak"),
        ("battery-rest", 12.7, None),
        ("crank-speed", 90, "crank-slow"),
        ("vacuum", 35, "vacuum-low-steady"),
        ("vacuum", 65, None),
        ("trims-long", -16, "trims-rich"),
        ("trims-long", 14, "trims-lean"),
        ("trims-long", 2, None),
    ],
)
def test_figures_of_the_engine_are_held_against_their_limits(client, figure, value, finding):
    answer = client.put(f"{TESTS}/figures/{figure}", json={"value": value})
    shown = next(one for one in answer.json()["figures"] if one["id"] == figure)
    assert shown["value"] == value
    assert set(says(shown)) == ({finding} if finding else set())
    assert all(figure_text for figure_text in shown["limits"])
    struck = client.put(f"{TESTS}/figures/{figure}", json={"value": None}).json()
    assert next(one for one in struck["figures"] if one["id"] == figure)["value"] is None


def test_the_same_figure_is_the_one_before_at_the_verify_step(client):
    client.put(f"{TESTS}/figures/trims-long", json={"value": -12})
    verification = client.get("/api/engines/resurfacer-1/visits/v8/verification").json()
    assert next(one for one in verification["figures"] if one["id"] == "trims-long")["before"] == -12


@pytest.mark.parametrize(
    ("path", "body", "fault"),
    [
        ("/cylinders/9", {"dry_kpa": 1000}, "$.cylinder"),
        ("/cylinders/1", {"dry_kpa": 50_000}, "$.dry_kpa"),
        ("/cylinders/1", {"leak_percent": 140}, "$.leak_percent"),
        ("/cylinders/1", {"misfires": -3}, "$.misfires"),
        ("/figures/battery-rest", {"value": 400}, "$.value"),
        ("/figures/oil", {"value": 4}, "$.id"),
        ("/altitude", {"altitude_m": 20_000}, "$.altitude_m"),
    ],
)
def test_what_cannot_be_is_refused_with_its_place(client, path, body, fault):
    before = client.get(TESTS).json()
    answer = client.put(TESTS + path, json=body)
    assert answer.status_code == 422
    assert fault in [one["path"] for one in answer.json()["faults"]]
    assert client.get(TESTS).json() == before
