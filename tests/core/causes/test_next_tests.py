"""The next test: its worth by plain enumeration, and what is not asked of an engine that it would harm."""

from dataclasses import replace
from itertools import product
from math import log2

import pytest

from pronostico.core.causes.model import CauseKind, Evidence, FindingKind, Knowledge, Link
from pronostico.core.causes.network import Network
from pronostico.core.causes.next_tests import TestKind, check_tests, next_tests
from pronostico.core.causes.places import Place
from pronostico.core.constants import DEFAULT
from pronostico.core.errors import KnowledgeFault
from tests.builders import engine

WHY = "made up"


def cause(name, prior, *, place="engine", no_cranking=False, **links):
    made = tuple(Link(f.replace("_", "-"), s, WHY) for f, s in links.items())
    return CauseKind(name, name, "", "", place, prior, (), made, no_cranking=no_cranking)


def knowledge(*causes):
    ids = sorted({link.finding for one in causes for link in one.links})
    return Knowledge(
        {i: FindingKind(i, i, "", "starting", i, 0.05) for i in ids}, {one.id: one for one in causes}
    )


def kind(name, minutes, *shows, **fields):
    return TestKind(name, name, "", minutes, "engine", shows, **fields)


KNOWN = knowledge(
    cause("a", 0.2, sign=0.8, other=0.55), cause("b", 0.1, sign=0.25, third=0.97), cause("c", 0.05, other=0.8)
)


def asked(tests, evidence=(), known=KNOWN, **fields):
    network = Network(engine(1), known, evidence)
    said = {"cover_is_off": True, "access_minutes": 30.0, **fields}
    return next_tests(network, network.weigh(), tests, **said)


def entropy(masses):
    return -sum(p * log2(p) for p in masses if p > 0.0)


def gain_by_enumeration(shows):
    """Entropy of the sets of causes before, less its average after, outcome by outcome."""
    causes = list(KNOWN.causes.values())
    sets = [s for s in product((0, 1), repeat=3) if sum(s) <= 2]

    def prior(s):
        p = 1.0
        for here, one in zip(s, causes, strict=True):
            p *= one.prior if here else 1.0 - one.prior
        return p

    def chance(s, finding):
        absent = 0.95
        for here, one in zip(s, causes, strict=True):
            for link in one.links:
                if here and link.finding == finding:
                    absent *= 1.0 - link.strength
        return 1.0 - absent

    total = sum(prior(s) for s in sets)
    before = {s: prior(s) / total for s in sets}
    after = 0.0
    for outcome in product((True, False), repeat=len(shows)):
        joint = {}
        for s in sets:
            p = before[s]
            for here, finding in zip(outcome, shows, strict=True):
                p *= chance(s, finding) if here else 1.0 - chance(s, finding)
            joint[s] = p
        mass = sum(joint.values())
        after += mass * entropy([p / mass for p in joint.values()])
    return entropy(before.values()) - after


@pytest.mark.parametrize("shows", [("sign",), ("third",), ("sign", "third"), ("sign", "other", "third")])
def test_the_worth_of_a_test_is_what_enumeration_says(shows):
    (one,) = asked([kind("t", 6.0, *shows)])
    assert one.gain_bits == pytest.approx(gain_by_enumeration(shows), abs=2e-4)
    assert one.bits_per_hour == pytest.approx(10.0 * one.gain_bits)


def test_the_most_reported_a_minute_comes_first_and_getting_at_it_counts():
    quick, slow = kind("quick", 5.0, "sign", cover="off"), kind("slow", 12.0, "sign", cover="on")
    assert [one.test.id for one in asked([slow, quick])] == ["quick", "slow"]
    on = asked([slow, quick], cover_is_off=False)
    assert [(one.test.id, one.minutes) for one in on] == [("slow", 12.0), ("quick", 35.0)]


def test_what_is_known_already_is_not_asked_again():
    tests = [kind("t", 6.0, "sign"), kind("u", 6.0, "third")]
    assert [one.test.id for one in asked(tests, [Evidence("sign", Place(), 1.0)])] == ["u"]


def test_an_engine_that_cranking_would_harm_is_not_cranked():
    harmful = knowledge(
        cause("damaged", 0.05, no_cranking=True, knock=0.8, sign=0.55), cause("weak", 0.2, sign=0.8)
    )
    tests = [
        kind("crank", 2.0, "sign", cranks=True),
        kind("run", 2.0, "sign", runs=True),
        kind("look", 9.0, "sign"),
    ]
    unsuspected = asked(tests, known=harmful)
    assert {one.test.id for one in unsuspected} == {"crank", "run", "look"}
    suspected = asked(tests, [Evidence("knock", Place(), 1.0)], known=harmful)
    assert [one.test.id for one in suspected] == ["look"]


def test_of_near_equals_the_one_that_needs_no_engine_comes_first():
    tests = [kind("run", 6.0, "sign", runs=True), kind("look", 6.1, "sign")]
    assert [one.test.id for one in asked(tests)] == ["look", "run"]


def test_one_test_may_wait_for_what_another_shows():
    tests = [kind("wet", 6.0, "third", after="sign")]
    assert asked(tests) == ()
    assert asked(tests, [Evidence("sign", Place(), 0.9)])[0].test.id == "wet"


def test_an_outcome_says_what_the_picture_would_then_be():
    (one,) = asked([kind("t", 6.0, "third")])
    (outcome,) = one.outcomes
    assert (outcome.finding, outcome.cause_if_present) == ("third", "b")
    # P(b | third) by Bayes, two causes at most; within a hundredth of one at a time.
    assert outcome.probability_if_present == pytest.approx(
        0.1 * 0.9715 / (0.1 * 0.9715 + 0.9 * 0.05), abs=0.01
    )


def test_tests_that_do_not_fit_the_engine_are_left_out():
    shims = kind("t", 6.0, "sign", only_with_adjustment=("shim-under-bucket",))
    diesel = kind("u", 6.0, "sign", not_with_fuel=("propane",))
    network = Network(engine(1, fuel="propane"), KNOWN, [])
    said = {"cover_is_off": True, "access_minutes": 30.0}
    assert next_tests(network, network.weigh(), [shims, diesel], **said) == ()


@pytest.mark.parametrize(
    ("tests", "says"),
    [
        ((kind("quick", 0.0, "a"),), "minutes is 0.0, must be over 0"),
        ((kind("quick", 1.0, "a"), kind("quick", 2.0, "a")), "named twice"),
        ((kind("quick", 1.0, "z"),), "no finding z"),
        ((kind("quick", 1.0),), "no finding that it shows"),
    ],
)
def test_a_test_that_cannot_be_is_refused(tests, says):
    with pytest.raises(KnowledgeFault, match=says):
        check_tests(tests, ["a"])
    check_tests([kind("quick", 0.5, "a")], ["a"])


def test_what_settles_less_than_a_quarter_of_the_best_is_left_out():
    tests = [kind("good", 10.0, "sign", "other"), kind("quick", 0.5, "third")]
    every = asked(tests, constants=replace(DEFAULT, least_test_share=0.0))
    best, least = sorted((one.gain_bits for one in every), reverse=True)
    for share, kept in ((0.99 * least / best, 2), (1.01 * least / best, 1)):
        left = asked(tests, constants=replace(DEFAULT, least_test_share=share))
        assert len(left) == kept and max(one.gain_bits for one in left) == best
    assert DEFAULT.least_test_share == 0.25
