"""The practice engine as a learner meets it: every lesson can be passed, and what is hidden stays hidden."""

import itertools
import json

import pytest

from pronostico.api.practice import new_seed
from pronostico.core.errors import KnowledgeFault
from pronostico.knowledge.practice import load_practice, parse_practice

RUNS = "/api/practice/runs"


@pytest.fixture(autouse=True)
def _one_seed(client):
    """Each run is drawn from the count of those before it, so that a run that decides decides alike."""
    seeds = itertools.count(20)
    client.app.dependency_overrides[new_seed] = lambda: next(seeds)


class Learner:
    """Does things on the practice engine as the page would."""

    def __init__(self, client, run, **begin):
        self.client, self.run = client, run
        answer = client.put(f"{RUNS}/{run}", json={"learner": "Ada", **begin})
        assert answer.status_code == 200, answer.text
        self.shown = answer.json()

    def do(self, kind, **fields):
        body = {"number": self.shown["steps"], "kind": kind, **fields}
        answer = self.client.post(f"{RUNS}/{self.run}/steps", json=body)
        assert answer.status_code == 200, answer.text
        self.shown = answer.json()
        return self.shown

    def valve(self, name):
        return next(one for one in self.shown["valves"] if one["valve"] == name)

    def take(self, kind, **held):
        query = {"speed": 1000, **held}
        stream = self.client.get(f"{RUNS}/{self.run}/instruments/{kind}/trace", params=query)
        assert stream.status_code == 200, stream.text
        samples = [
            json.loads(block.split("data: ", 1)[1])
            for block in stream.text.split("\n\n")
            if "event: sample" in block
        ]
        body = {"number": self.shown["steps"], "kind": kind, "samples": samples, **held}
        answer = self.client.post(f"{RUNS}/{self.run}/traces", json=body)
        assert answer.status_code == 200, answer.text
        self.shown = answer.json()

    def turn_to(self, deg):
        by = (deg - self.shown["crank_deg"]) % 720
        if by:
            self.do("turn", by_deg=by)

    def measure(self, valve, phase="found"):
        while True:
            asked = {"valve": valve, "phase": phase}
            blades = self.client.get(f"{RUNS}/{self.run}/hint", params=asked).json()["blades_mm"]
            if blades is None:
                return self.valve(valve)[f"{phase}_says"]["verdict"]
            self.do("blade", valve=valve, blades_mm=blades)

    def each_station(self):
        for stop in self.shown["stations"]:
            self.turn_to(stop["crank_deg"])
            yield from stop["valves"]

    def end(self):
        answer = self.client.post(f"{RUNS}/{self.run}/end")
        assert answer.status_code == 200, answer.text
        self.shown = answer.json()
        return self.shown["review"]


def taught(client, lesson):
    """Work through a lesson as it asks; the cause is known to the test from the file."""
    known = load_practice().lesson_of(lesson)
    learner = Learner(client, f"run-{lesson}", lesson=lesson)
    goals = set(known.goals)
    learner.take("thermometer")
    verdicts = {}
    for valve in learner.each_station():
        learner.do("waggle", valve=valve)
        learner.do("look", valve=valve)
        verdicts[valve] = learner.measure(valve)
    if "second-turn" in goals:
        for valve in learner.each_station():
            learner.do("blade", valve=valve, blades_mm=[0.1])
    if "lift-taken" in goals:
        learner.take("dial-lift", valve=next(iter(verdicts)))
    if "oil-too" in goals:
        learner.take("compression", cylinder=1)
        learner.take("compression", cylinder=1, oiled=True)
    if "nothing-touched" not in goals:
        for valve in learner.each_station():
            spec, known_as = learner.valve(valve)["spec"], verdicts[valve]
            for _ in range(5):
                if known_as == "in":
                    break
                learner.do("set", valve=valve, target_mm=(spec["min_mm"] + spec["max_mm"]) / 2)
                learner.do("lock", valve=valve)
                known_as = learner.measure(valve, "left")
    learner.do("name", cause=known.fault or "")
    return learner


@pytest.mark.parametrize("lesson", [one.id for one in load_practice().lesson])
def test_every_lesson_can_be_passed_and_keeps_its_progress(client, lesson):
    learner = taught(client, lesson)
    assert learner.shown["review"] is None
    review = learner.end()
    assert review["passed"], (review["goals"], review["mistakes"])
    assert review["teaches"] and all(one["met"] for one in review["goals"])
    mine = client.get("/api/practice", params={"learner": "Ada"}).json()["lessons"]
    assert [one["id"] for one in mine if one["passed"]] == [lesson]
    others = client.get("/api/practice", params={"learner": "Bo"}).json()["lessons"]
    assert not any(one["passed"] or one["runs"] for one in others)


@pytest.mark.parametrize("seed", [105, 113])
@pytest.mark.parametrize("lesson", ["between-two-blades", "tight-is-quiet", "low-and-not-the-valves"])
def test_who_does_what_the_task_says_and_no_more_passes(client, lesson, seed):
    client.app.dependency_overrides[new_seed] = lambda: seed
    known = load_practice().lesson_of(lesson)
    learner = Learner(client, "told", lesson=lesson)
    if lesson == "between-two-blades":
        for valve in learner.each_station():
            learner.measure(valve)
    elif lesson == "tight-is-quiet":
        dead = []
        for valve in learner.each_station():
            learner.do("waggle", valve=valve)
            dead += [valve] if learner.valve(valve)["waggle"] == "dead" else []
        assert len(dead) == 1
    else:
        for oiled in (False, True):
            for cylinder in range(1, 5):
                learner.take("compression", cylinder=cylinder, oiled=oiled)
    if known.fault is not None:
        learner.do("name", cause=known.fault)
    review = learner.end()
    assert review["passed"] and review["mistakes"] == [], (review["goals"], review["mistakes"])


def test_a_rocking_on_the_wrong_stroke_is_no_rocking_with_the_lobe_away(client):
    learner = Learner(client, "r", lesson="tight-is-quiet")
    for valve in learner.each_station():
        learner.do("turn", by_deg=360)
        learner.do("waggle", valve=valve)
        learner.do("turn", by_deg=360)
    learner.do("name", cause="held-open")
    met = {one["words"]: one["met"] for one in learner.end()["goals"]}
    assert not met["every rocker arm rocked by hand with its lobe away"]


def test_the_hint_at_a_pressed_valve_says_to_turn_on(client):
    learner = Learner(client, "r", pattern="R4-26G", fault="none")
    stop = learner.shown["stations"][0]
    learner.turn_to(stop["crank_deg"])
    asked = {"valve": stop["valves"][0], "phase": "found"}
    away = client.get(f"{RUNS}/r/hint", params=asked).json()
    assert not away["pressed"] and away["blades_mm"]
    learner.do("turn", by_deg=360)
    pressed = [
        hint
        for valve in stop["valves"]
        if (hint := client.get(f"{RUNS}/r/hint", params={**asked, "valve": valve}).json())["pressed"]
    ]
    assert pressed and all(hint["blades_mm"] is None for hint in pressed)


def test_there_are_ten_lessons_of_rising_grade_each_with_its_caution(client):
    lessons = client.get("/api/practice").json()["lessons"]
    assert [one["grade"] for one in lessons] == list(range(1, 11))
    assert all(one["caution"] and one["task"] and one["goals"] for one in lessons)


def test_the_truth_stays_hidden_until_the_end(client):
    learner = Learner(client, "r", pattern="R4-26G", fault="held-open")
    assert "clearance_mm" not in json.dumps(learner.shown["valves"])
    assert learner.shown["review"] is None and "held-open" not in str(learner.shown["complaint"])
    learner.do("waggle", valve=learner.shown["stations"][0]["valves"][0])
    review = learner.end()
    assert review["cause"] == "held-open" and len(review["where"]) == 1
    assert {one["kind"] for one in review["mistakes"]} == {"not-measured"}
    assert not review["passed"]
    late = client.post(f"{RUNS}/r/steps", json={"number": 1, "kind": "turn", "by_deg": 10})
    assert late.status_code == 422 and "this run is finished" in late.text


def test_a_step_sent_twice_is_done_once_and_one_from_elsewhere_is_stale(client):
    learner = Learner(client, "r", pattern="S1-30", fault="none")
    body = {"number": 0, "kind": "turn", "by_deg": 30}
    first = client.post(f"{RUNS}/r/steps", json=body).json()
    assert client.post(f"{RUNS}/r/steps", json=body).json()["crank_deg"] == first["crank_deg"]
    other = client.post(f"{RUNS}/r/steps", json={**body, "by_deg": 60})
    assert other.status_code == 409 and "1 steps by now" in other.text
    assert client.get(f"{RUNS}/r").json()["log"] == ["turned 30 degrees"]
    again = Learner(client, "r", pattern="S1-30", fault="none")
    assert again.shown["steps"] == 1 and learner.run == again.run


@pytest.mark.parametrize(
    ("body", "said"),
    [
        ({"kind": "turn", "by_deg": -30}, "direction of rotation"),
        ({"kind": "blade", "valve": "1E", "blades_mm": []}, "at least one blade"),
        ({"kind": "blade", "valve": "1E", "blades_mm": [0.123]}, "no 0.123 mm blade"),
        ({"kind": "waggle", "valve": "9E"}, "9E"),
        ({"kind": "lock", "valve": "1E"}, "slackened"),
        ({"kind": "set", "valve": "1E"}, "over 0"),
        ({"kind": "name", "cause": "gremlins"}, "gremlins"),
    ],
)
def test_what_cannot_be_done_is_refused_and_not_counted(client, body, said):
    Learner(client, "r", pattern="S1-30", fault="none")
    answer = client.post(f"{RUNS}/r/steps", json={"number": 0, **body})
    assert answer.status_code == 422 and said in answer.text
    assert client.get(f"{RUNS}/r").json()["steps"] == 0


@pytest.mark.parametrize(
    ("begin", "status", "said"),
    [
        ({"lesson": "none-such"}, 404, "none-such"),
        ({"pattern": "V8-54"}, 422, "must be one of S1-30"),
        ({"pattern": "R4-26G", "fault": "release-lost"}, 422, "this engine can have"),
        ({}, 422, "must be one of"),
    ],
)
def test_what_cannot_be_practised_is_refused(client, begin, status, said):
    answer = client.put(f"{RUNS}/x", json={"learner": "Ada", **begin})
    assert answer.status_code == status and said in answer.text


def test_whatever_comes_is_something_and_now_and_then_nothing(client):
    causes = set()
    for n in range(25):
        causes.add(Learner(client, f"r{n}", pattern="S1-30").end()["cause"])
    assert len(causes) > 3


@pytest.mark.parametrize(
    ("change", "said"),
    [
        (('pattern = "S1-30"', 'pattern = "Z9-99"'), "no template 'Z9-99'"),
        (('fault = "held-open"', 'fault = "ghost"'), "there is no fault 'ghost'"),
        (('cause = "held-open"', 'cause = "ghost"'), "cannot have 'ghost'"),
        (('goals = ["right-stroke", "all-measured"]', 'goals = ["win"]'), "goals"),
    ],
)
def test_a_faulty_file_of_lessons_says_where(change, said):
    from pronostico.knowledge.entries import shipped_text

    text = shipped_text("practice.toml").replace(change[0], change[1], 1)
    with pytest.raises(KnowledgeFault, match=said):
        parse_practice(text)
