"""The stories of the demonstration told by their causes, and the handbook."""

from itertools import pairwise

import pytest

from pronostico.knowledge import load_knowledge, load_tests
from tests.api.workshop import timelines_of


def diagnosis(client, engine, case="c1"):
    return client.get(f"/api/engines/{engine}/cases/{case}/diagnosis").json()


def likelihoods(told):
    return {(one["cause"], one["where"]): one["probability"] for one in told["causes"]}


@pytest.mark.parametrize(
    ("engine", "cause", "where", "least"),
    [
        ("resurfacer-1", "seat-recession", "exhaust", 0.95),
        ("groomer", "adjuster-backed-off", "4I", 0.6),
        ("thrower", "release-lost", "cylinder 1", 0.6),
    ],
)
def test_each_story_has_its_cause(client, engine, cause, where, least):
    told = diagnosis(client, engine)
    assert likelihoods(told)[cause, where] > least
    top = [(one["cause"], one["where"]) for one in told["causes"][:2]]
    assert (cause, where) in top


def test_a_lifter_is_suspected_where_there_are_lifters(client):
    told = diagnosis(client, "standby-drive")
    assert {one["cause"] for one in told["causes"][:16]} == {"lifter-collapsed"}
    assert not {one["cause"] for one in told["causes"]} & {"worn-train", "held-open", "adjuster-backed-off"}


def note(client, engine, finding, state="present", **place):
    body = {"state": state, **place}
    answer = client.put(f"/api/engines/{engine}/cases/c1/findings/{finding}", json=body)
    assert answer.status_code == 200, answer.text


def test_a_rod_that_runs_out_explains_power_that_is_down_though_the_clearance_looks_right(client):
    before = likelihoods(diagnosis(client, "gun-pump"))
    note(client, "gun-pump", "rod-runs-out", cylinder=2, side="intake")
    told = diagnosis(client, "gun-pump")
    assert (told["causes"][0]["cause"], told["causes"][0]["where"]) == ("rod-bent", "2I")
    assert told["causes"][0]["probability"] > 5 * before["rod-bent", "2I"]


def test_the_next_test_is_worth_its_minutes_and_says_what_it_would_do(client):
    told = diagnosis(client, "groomer")
    first = told["next_tests"][0]
    assert first["test"] in {"thread-look", "waggle"}
    assert first["bits_per_hour"] == pytest.approx(first["gain_bits"] / first["minutes"] * 60.0)
    # The cover is off: the valves were read at this visit.
    assert first["minutes"] == 2
    rates = [one["bits_per_hour"] for one in told["next_tests"]]
    assert all(later <= earlier / 0.95 + 1e-9 for earlier, later in pairwise(rates))
    outcome = first["outcomes"][0]
    assert 0.0 < outcome["probability"] < 1.0 and outcome["cause_label"] and outcome["where"]
    # Once it is made it is not asked again.
    for finding in ("thread-sticks-out", "thread-run-down", "locknut-loose", "stud-loose"):
        note(client, "groomer", finding, "absent")
    assert "thread-look" not in {one["test"] for one in diagnosis(client, "groomer")["next_tests"]}


def test_an_engine_with_a_knock_is_not_cranked(client):
    note(client, "groomer", "deep-knock")
    note(client, "groomer", "copper-flakes")
    told = diagnosis(client, "groomer")
    assert told["causes"][0]["cause"] == "bottom-end"
    assert "Do not run or crank" in told["causes"][0]["caution"]
    cranking = {test.id for test in load_tests() if test.cranks or test.runs}
    assert not cranking & {one["test"] for one in told["next_tests"]}


def test_how_it_began_speaks_too(client):
    told = diagnosis(client, "groomer")
    backed_off = next(one for one in told["causes"] if one["cause"] == "adjuster-backed-off")
    assert "began-suddenly" in {one["finding"] for one in backed_off["for"]}


def test_the_handbook_has_every_page_with_its_reasons(client):
    book = client.get("/api/handbook").json()
    knowledge = load_knowledge()
    assert {one["id"] for one in book["causes"]} == set(knowledge.causes)
    assert {one["id"] for one in book["findings"]} == set(knowledge.findings)
    assert {one["id"] for one in book["tests"]} == {test.id for test in load_tests()}
    seats = next(one for one in book["causes"] if one["id"] == "seat-recession")
    assert seats["links"][0]["strength"] == "always" and all(link["why"] for link in seats["links"])
    assert [link["finding"] for link in seats["links"] if link["says"] == "against"]


def test_developing_faults_is_named_in_the_workshop_without_any_complaint(client):
    timelines = {timeline["id"]: timeline["result"]["developing"] for timeline in timelines_of(client)}
    seats = timelines["resurfacer-1"][0]
    assert (seats["cause"], seats["where"]) == ("seat-recession", "exhaust") and seats["probability"] > 0.9
    # Far looser at once: the nut first, the stud after it, and nothing at any other valve.
    assert next(one["cause"] for one in timelines["groomer"]) == "adjuster-backed-off"
    assert {one["where"] for one in timelines["groomer"]} == {"4I"}
    # A steady engine, and one that was read warm once, raise no alarm; nor does ordinary wear.
    assert timelines["resurfacer-2"] == timelines["quad"] == []
    assert "worn-train" not in {one["cause"] for one in timelines["thrower"]}
