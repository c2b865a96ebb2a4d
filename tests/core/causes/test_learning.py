"""What closed cases teach: priors and strengths by hand on small knowledge."""

import pytest
from hypothesis import given
from hypothesis import strategies as st

from pronostico.core.causes.learning import Lesson, Shown, learned, lesson_of
from pronostico.core.causes.model import CauseKind, Evidence, FindingKind, Knowledge, Link, candidates_for
from pronostico.core.causes.places import Place
from pronostico.core.engine import Engine, Spec, Valve
from pronostico.knowledge import load_knowledge

ENGINE = Engine(
    "e",
    "h",
    250.0,
    "screw-rocker",
    (Valve("1I", 1, "intake"), Valve("1E", 1, "exhaust")),
    Spec(0.15, 0.20),
    Spec(0.25, 0.30),
)


def finding(name, leak=0.1):
    return FindingKind(name, name, "", "complaint", "noise", leak)


def cause(name, place, prior, *links):
    return CauseKind(name, name, "", "", place, prior, (), tuple(Link(f, s, "why") for f, s in links))


SMALL = Knowledge(
    {"tick": finding("tick"), "miss": finding("miss", 0.2)},
    {
        "worn": cause("worn", "engine", 0.2, ("tick", 0.8)),
        "burnt": cause("burnt", "valve", 0.1, ("miss", 0.5), ("tick", None)),
    },
)
WORN, BURNT = 0.25, 2 * (0.1 / 0.9)  # odds: one place, two places


def test_a_lesson_holds_what_was_expected_and_what_was_found():
    evidence = [Evidence("miss", Place(), 1.0), Evidence("tick", Place(), 0.0)]
    lesson = lesson_of(ENGINE, SMALL, evidence, [("burnt", Place(valve="1E"))])
    assert lesson.expected == pytest.approx(
        {"worn": WORN / (1 + WORN + BURNT), "burnt": BURNT / (1 + WORN + BURNT)}
    )
    assert lesson.found == {"burnt": 1.0}
    # What it prevents is not learned of.
    assert lesson.shown == (Shown("burnt", "miss", 1.0),)


def test_findings_elsewhere_say_nothing_of_a_cause_and_several_valves_are_one_case():
    evidence = [Evidence("miss", Place(valve="1I"), 1.0), Evidence("miss", Place(valve="1E"), 0.5)]
    lesson = lesson_of(ENGINE, SMALL, evidence, [("burnt", Place(valve="1E"))])
    assert lesson.shown == (Shown("burnt", "miss", 0.5),)
    both = lesson_of(ENGINE, SMALL, evidence, [("burnt", Place(cylinder=1))])
    assert both.shown == (Shown("burnt", "miss", 0.75),)


def test_two_causes_share_a_case_and_something_unknown_takes_its_part():
    lesson = lesson_of(ENGINE, SMALL, [], [("worn", Place()), ("something-else", Place())])
    assert lesson.found == {"worn": 0.5}
    assert lesson_of(ENGINE, SMALL, [], []).found == {}


def test_priors_follow_the_dirichlet():
    lessons = [lesson_of(ENGINE, SMALL, [], [("burnt", Place(valve="1E"))])] * 5
    known = learned(SMALL, lessons)
    share = BURNT / (1 + WORN + BURNT)
    times = (20 * share + 5) / 25 / share
    odds = 0.1 / 0.9 * times
    assert known.knowledge.causes["burnt"].prior == pytest.approx(odds / (1 + odds))
    worn = WORN * (20 / 25)
    assert known.knowledge.causes["worn"].prior == pytest.approx(worn / (1 + worn))
    assert (known.spread.share, known.spread.cases) == (pytest.approx(0.2), 5)


def test_cases_that_turn_out_as_expected_change_no_prior():
    expected = lesson_of(ENGINE, SMALL, [], []).expected
    known = learned(SMALL, [Lesson(expected, expected)] * 7)
    for name, kind in SMALL.causes.items():
        assert known.knowledge.causes[name].prior == pytest.approx(kind.prior)


def test_strengths_follow_the_beta_less_what_happens_anyway():
    shown = [Shown("burnt", "miss", 1.0), Shown("burnt", "miss", 1.0), Shown("burnt", "miss", 0.0)]
    known = learned(SMALL, [Lesson({"burnt": 0.2}, {"burnt": 1.0}, (one,)) for one in shown])
    # Half of what was there would have been there for a fifth of all engines anyway.
    caused = 2 * 0.5 / (1 - 0.8 * 0.5)
    link = known.knowledge.causes["burnt"].links[0]
    assert link.strength == pytest.approx((10 * 0.5 + caused) / 13)
    assert known.strengths["burnt", "miss"].share == pytest.approx(3 / 13)
    assert known.knowledge.causes["worn"].links == SMALL.causes["worn"].links


@given(
    st.lists(
        st.builds(
            Lesson,
            st.dictionaries(st.sampled_from(["worn", "burnt", "gone"]), st.floats(0, 1), max_size=3),
            st.dictionaries(st.sampled_from(["worn", "burnt", "gone"]), st.floats(0, 1), max_size=3),
            st.lists(
                st.builds(
                    Shown,
                    st.sampled_from(["worn", "burnt", "gone"]),
                    st.sampled_from(["tick", "miss", "gone"]),
                    st.floats(0, 1),
                ),
                max_size=4,
            ).map(tuple),
        ),
        max_size=8,
    )
)
def test_whatever_was_learned_is_knowledge(lessons):
    known = learned(SMALL, lessons)
    for kind in known.knowledge.causes.values():
        assert 0.0 < kind.prior < 1.0
    assert 0.0 <= known.spread.share < 1.0


def test_what_is_confirmed_again_and_again_comes_first():
    knowledge = load_knowledge()
    before = {c.kind.id: c.prior for c in candidates_for(ENGINE, knowledge)}
    lessons = [lesson_of(ENGINE, knowledge, [], [("lobe-worn", Place(valve="1E"))])] * 10
    after = {c.kind.id: c.prior for c in candidates_for(ENGINE, learned(knowledge, lessons).knowledge)}
    assert after["lobe-worn"] > 2 * before["lobe-worn"]
    assert all(after[name] < before[name] for name in before if name != "lobe-worn")


def test_the_registers_worked_example_of_a_strength():
    # F-20 in docs/formulas.md: strength 0.5, leak 0.2, there twice and once not.
    shown = [Shown("burnt", "miss", presence) for presence in (1.0, 1.0, 0.0)]
    lessons = [Lesson({"worn": 0.1, "burnt": 0.1}, {"burnt": 1.0}, (one,)) for one in shown]
    (link,) = [
        one for one in learned(SMALL, lessons).knowledge.causes["burnt"].links if one.finding == "miss"
    ]
    assert link.strength == pytest.approx((5 + 2 * 0.5 / 0.6) / 13)
    assert link.strength == pytest.approx(0.51, abs=0.005)
