"""The inference against plain enumeration, and the cases that the product promises."""

from itertools import product

import pytest
from hypothesis import given
from hypothesis import strategies as st

from pronostico.analysis.drift_cache import drifts_as_found
from pronostico.core.causes.computed_findings import computed_findings, none_left, probability_of_most
from pronostico.core.causes.model import (
    STRENGTHS,
    CauseKind,
    Evidence,
    FindingKind,
    Knowledge,
    Link,
    PriorFactor,
    candidates_for,
    finding_probability,
    temper,
)
from pronostico.core.causes.network import Network
from pronostico.core.causes.next_tests import next_tests
from pronostico.core.causes.places import Place, includes
from pronostico.core.causes.ranking import diagnose
from pronostico.core.errors import ImpossibleValue, KnowledgeFault, UnknownValve
from pronostico.core.gauge.engine_readings import analyse
from pronostico.core.gauge.reading import estimate
from pronostico.core.thermal import Correction
from pronostico.core.visits import Setting
from pronostico.knowledge import load_knowledge, load_tests
from tests.builders import EXHAUST, around, engine, found, left, visit

WHY = "made up"


def finding(name, family, leak=0.05):
    return FindingKind(name, name, "", "complaint", family, leak)


def cause(name, place, prior, **links):
    strengths = tuple(Link(f, s, WHY) for f, s in links.items())
    return CauseKind(name, name, "", "", place, prior, (), strengths)


def knowledge(*causes):
    # Each finding in a family of its own, so that nothing is tempered.
    ids = sorted({link.finding for one in causes for link in one.links})
    return Knowledge({i: finding(i, i) for i in ids}, {one.id: one for one in causes})


TWO = knowledge(
    cause("wear", "engine", 0.1, noise=0.8, weak=0.25),
    cause("sunk", "side", 0.05, weak=0.55, noise=None, cold=0.8),
)


def by_enumeration(engine_, known, evidence):
    """Marginals over all sets of at most two causes, by the definition, one product after another."""
    candidates = candidates_for(engine_, known)
    weights = {}
    for present in product([False, True], repeat=len(candidates)):
        chosen = [c for c, here in zip(candidates, present, strict=True) if here]
        if len(chosen) > 2:
            continue
        weight = 1.0
        for c, here in zip(candidates, present, strict=True):
            weight *= c.prior if here else 1.0 - c.prior
        for one in evidence:
            absent, damping = 1.0 - known.findings[one.finding].leak, 1.0
            for c in chosen:
                for link in c.kind.links:
                    if link.finding == one.finding and includes(engine_, c.place, one.place):
                        if link.strength is None:
                            damping *= 0.3
                        else:
                            absent *= 1.0 - link.strength
            p = (1.0 - absent) * damping
            weight *= one.presence * p + (1.0 - one.presence) * (1.0 - p)
        weights[present] = weight
    total = sum(weights.values())
    marginals = [sum(w for s, w in weights.items() if s[i]) / total for i in range(len(candidates))]
    named = {(c.kind.id, c.place.name): m for c, m in zip(candidates, marginals, strict=True)}
    return named, weights[tuple([False] * len(candidates))] / total


@given(
    noise=st.sampled_from([None, 0.0, 0.3, 1.0]),
    weak=st.sampled_from([None, 0.0, 1.0]),
    cold=st.sampled_from([None, 0.0, 0.7, 1.0]),
    where=st.sampled_from([Place(), Place(valve="1E"), Place(side="intake"), Place(cylinder=2)]),
)
def test_agrees_with_enumeration_where_nothing_is_tempered(noise, weak, cold, where):
    seen = [("noise", Place(), noise), ("weak", Place(), weak), ("cold", where, cold)]
    evidence = [Evidence(name, place, p) for name, place, p in seen if p is not None]
    got = diagnose(engine(), TWO, evidence)
    want, none = by_enumeration(engine(), TWO, evidence)
    for ranked in got.causes:
        key = (ranked.candidate.kind.id, ranked.candidate.place.name)
        assert ranked.probability == pytest.approx(want[key], abs=1e-12)
    assert got.none_of_these == pytest.approx(none, abs=1e-12)


def test_without_findings_each_cause_has_its_prior_but_for_three_at_once():
    got = diagnose(engine(), TWO, [])
    for ranked in got.causes:
        assert ranked.probability == pytest.approx(ranked.candidate.prior, abs=2e-3)


def test_noisy_or_by_hand():
    # 1 - 0.95 * 0.2 * 0.45 = 0.9145, damped by 0.3
    links = [Link("f", 0.8, WHY), Link("f", 0.55, WHY)]
    assert finding_probability(0.05, links) == pytest.approx(0.9145)
    assert finding_probability(0.05, [*links, Link("f", None, WHY)]) == pytest.approx(0.27435)
    assert finding_probability(0.05, []) == pytest.approx(0.05)


@given(st.lists(st.floats(0.01, 5.0), min_size=1, max_size=6))
def test_tempered_weight_lies_between_the_strongest_and_the_sum(weights):
    tempered = temper(weights)
    assert max(weights) - 1e-12 <= tempered <= sum(weights) + 1e-12
    assert temper([-w for w in weights]) == pytest.approx(-tempered)


def test_places_a_cause_speaks_to():
    e = engine()
    side, valve, cylinder = Place(side="exhaust"), Place(valve="1E"), Place(cylinder=1)
    assert includes(e, side, Place(valve="2E")) and not includes(e, side, Place(valve="2I"))
    assert includes(e, valve, Place(valve="1E")) and not includes(e, valve, Place(valve="1I"))
    assert includes(e, valve, cylinder) and not includes(e, valve, side)
    corner = Place(cylinder=1, side="exhaust")
    assert includes(e, valve, corner) and includes(e, side, corner) and includes(e, cylinder, corner)
    assert not includes(e, Place(valve="1I"), corner) and not includes(e, cylinder, side)
    assert includes(e, cylinder, Place(valve="1I")) and not includes(e, cylinder, Place(cylinder=2))
    assert all(
        includes(e, outer, Place()) and includes(e, Place(), outer) for outer in (side, valve, cylinder)
    )


def test_weight_is_ten_times_the_decimal_log_of_the_ratio():
    got = diagnose(engine(), TWO, [Evidence("cold", Place(side="exhaust"), 1.0)])
    top = got.causes[0]
    assert (top.candidate.kind.id, top.candidate.place.name) == ("sunk", "exhaust")
    # (1 - 0.95 * 0.2) / 0.05 = 16.2: 12.1 decibans
    assert top.speaks_for[0].decibans == pytest.approx(12.095, abs=0.001)


def test_what_speaks_against_is_listed_as_that():
    got = diagnose(engine(), TWO, [Evidence("noise", Place(), 1.0)])
    sunk = next(c for c in got.causes if c.candidate.place.name == "exhaust")
    assert [w.evidence.finding for w in sunk.speaks_against] == ["noise"]
    # prevented: 0.3 times as likely
    assert sunk.speaks_against[0].decibans == pytest.approx(-5.229, abs=0.001)


def test_evidence_at_an_unknown_valve_is_refused():
    with pytest.raises(UnknownValve):
        diagnose(engine(), TWO, [Evidence("cold", Place(valve="9X"), 1.0)])
    with pytest.raises(ImpossibleValue, match="presence"):
        Evidence("cold", Place(), 1.2)


@pytest.mark.parametrize(
    ("broken", "message"),
    [
        (cause("a", "engine", 1.0, f=0.5), "prior is 1.0"),
        (
            CauseKind("a", "a", "", "", "engine", 0.1, (), (Link("f", 0.5, " "),)),
            r"reason \(why\) is missing",
        ),
        (CauseKind("a", "a", "", "", "engine", 0.1, (), (Link("g", 0.5, WHY),)), "no finding of that id"),
        (CauseKind("a", "a", "", "", "engine", 0.1, (), (Link("f", 1.0, WHY),)), "strength is 1.0"),
        (CauseKind("a", "a", "", "", "engine", 0.1, (), (Link("f", 0.5, WHY),) * 2), "linked twice"),
    ],
)
def test_knowledge_that_cannot_be_right_is_refused(broken, message):
    with pytest.raises(KnowledgeFault, match=message):
        Knowledge({"f": finding("f", "f")}, {"a": broken})


def test_prior_factors_multiply_the_odds():
    kind = CauseKind(
        "a", "a", "", "", "side", 0.2, (PriorFactor("fuel", ("propane",), 4.0, WHY),), (Link("f", 0.5, WHY),)
    )
    known = Knowledge({"f": finding("f", "f")}, {"a": kind})
    assert candidates_for(engine(fuel="petrol"), known)[0].prior == pytest.approx(0.2)
    # odds 0.25 times 4 is even
    assert candidates_for(engine(fuel="propane"), known)[0].prior == pytest.approx(0.5)


# With the knowledge that ships


def seen(*present, absent=()):
    return [Evidence(f, Place(), 1.0) for f in present] + [Evidence(f, Place(), 0.0) for f in absent]


def top_of(result):
    ranked = result.causes[0]
    return ranked.candidate.kind.id, ranked.candidate.place.name, ranked.probability


def shown(of, visits):
    return computed_findings(analyse(of, visits), drifts_as_found(of, visits))


def read_once(**blades):
    readings = [around(valve.lstrip("v"), mm) for valve, mm in blades.items()]
    return shown(engine(4, fuel="propane"), (visit(1, 900.0, *readings),))


def test_stalling_and_a_cold_miss_with_tight_exhausts_point_to_sinking_seats_and_say_why():
    tight = read_once(v1E=0.20, v2E=0.18, v3E=0.20, v4E=0.18, v1I=0.16, v2I=0.16, v3I=0.16, v4I=0.16)
    got = diagnose(engine(4, fuel="propane"), load_knowledge(), [*tight, *seen("stall-at-idle", "cold-miss")])
    kind, where, probability = top_of(got)
    assert (kind, where) == ("seat-recession", "exhaust")
    assert probability > 0.9
    reasons = {weight.evidence.finding: weight.why for weight in got.causes[0].speaks_for}
    assert {"stall-at-idle", "cold-miss", "clearance-tight", "side-tight"} <= set(reasons)
    assert all(reasons.values())


def test_a_tick_with_a_loose_valve_does_not():
    loose = read_once(v1E=0.40, v2E=0.27, v3E=0.27, v4E=0.27, v1I=0.16, v2I=0.16, v3I=0.16, v4I=0.16)
    got = diagnose(engine(4, fuel="propane"), load_knowledge(), [*loose, *seen("tick")])
    sinking = [c.probability for c in got.causes if c.candidate.kind.id == "seat-recession"]
    assert max(sinking) < 0.02
    worn = next(c.probability for c in got.causes if c.candidate.kind.id == "worn-train")
    assert worn > 3 * max(sinking)


def test_all_loose_and_ticking_is_ordinary_wear():
    blades = {f"v{n}E": 0.35 for n in (1, 2, 3, 4)} | {f"v{n}I": 0.24 for n in (1, 2, 3, 4)}
    got = diagnose(engine(4), load_knowledge(), [*read_once(**blades), *seen("tick", "long-since-check")])
    assert top_of(got)[0] == "worn-train"
    assert top_of(got)[2] > 0.9


def test_one_valve_without_clearance_is_held_open_there():
    readings = [found("3E", (0.04, "no-go")), *(around(v, 0.27) for v in ("1E", "2E", "4E"))]
    evidence = shown(engine(4), (visit(1, 900.0, *readings),))
    got = diagnose(engine(4), load_knowledge(), [*evidence, *seen("cold-miss")])
    kind, where, probability = top_of(got)
    assert (kind, where) == ("held-open", "3E")
    # A stretched or a burnt valve would look much the same.
    assert probability > 0.55


def test_sinking_seats_show_in_the_sum_where_every_visit_looks_nearly_healthy():
    exhausts = [f"{n}E" for n in (1, 2, 3, 4)]
    visits = tuple(
        visit(
            n,
            250.0 * n,
            *(around(v, 0.25) for v in exhausts),
            *(left(v, (0.28, "drag"), (0.30, "no-go")) for v in exhausts),
            settings=tuple(Setting(v, 0.29) for v in exhausts),
        )
        for n in range(1, 6)
    )
    result = analyse(engine(4), visits)
    assert result.of("1E").found.p_in > 0.5
    evidence = shown(engine(4), visits)
    sunk = [one.presence for one in evidence if one.finding == "high-sink"]
    assert len(sunk) == 4 and min(sunk) > 0.9
    assert top_of(diagnose(engine(4), load_knowledge(), evidence))[:2] == ("seat-recession", "exhaust")


@pytest.mark.parametrize("work", ["check-and-set", "head-work"])
def test_setting_at_the_visit_does_not_hide_how_it_was_found(work):
    exhausts = [f"{n}E" for n in (1, 2, 3, 4)]
    before = visit(1, 250.0, *(around(v, 0.28) for v in exhausts))
    found_tight = [around(v, 0.20) for v in exhausts]
    looked = (before, visit(2, 500.0, *found_tight))
    put_right = (
        before,
        visit(2, 500.0, *found_tight, settings=tuple(Setting(v, 0.28) for v in exhausts), work=work),
    )
    only_looked, then_set = (shown(engine(4), visits) for visits in (looked, put_right))
    assert {e.finding for e in only_looked} >= {"tightening", "side-tightening", "high-sink"}
    assert then_set == only_looked


def test_hydraulic_engines_have_none_of_the_clearance_causes():
    hydraulic = {c.kind.id for c in candidates_for(engine(adjustment="hydraulic"), load_knowledge())}
    assert "lifter-collapsed" in hydraulic
    assert not hydraulic & {
        "seat-recession",
        "held-open",
        "worn-train",
        "settled-after-work",
        "checked-wrong",
    }


def test_a_cause_is_only_in_play_where_it_can_be():
    def kinds(**fields):
        return {c.kind.id for c in candidates_for(engine(**fields), load_knowledge())}

    screw, shim = kinds(adjustment="screw-rocker"), kinds(adjustment="shim-under-bucket")
    assert {"adjuster-backed-off", "rocker-cracked"} <= screw - shim
    assert "shim-misplaced" in shim - screw
    assert "rod-bent" in kinds(adjustment="screw-pushrod") - screw
    assert "release-lost" in kinds(decompression_lift_mm=0.4) - screw
    assert "gasket-leak" in kinds(cylinders=2) - kinds(cylinders=1)


def test_test_air_is_heard_where_the_burnt_valve_is():
    def burnt(heard, valve):
        evidence = [
            Evidence(heard, Place(cylinder=2), 1.0),
            Evidence("compression-low", Place(cylinder=2), 1.0),
        ]
        found = diagnose(engine(4), load_knowledge(), evidence).causes
        at = [c for c in found if (c.candidate.kind.id, c.candidate.place.name) == ("valve-burnt", valve)]
        return at[0].probability

    assert burnt("leak-intake", "2I") > 2 * burnt("leak-exhaust", "2I")
    assert burnt("leak-exhaust", "2E") > 2 * burnt("leak-intake", "2E")
    assert burnt("leak-exhaust", "2E") > 20 * burnt("leak-exhaust", "1E")


@pytest.mark.parametrize(
    ("p", "expected"),
    # By hand: two of three must come true; of two, both.
    [([0.5, 0.5, 0.5], 0.5), ([0.9, 0.8], 0.72), ([1.0, 1.0, 0.0], 1.0), ([0.2, 0.3, 0.4], 0.212)],
)
def test_most_of_several(p, expected):
    assert probability_of_most(p) == pytest.approx(expected)


def test_thinnest_refused_needs_a_thin_blade():
    def none(*answers):
        return none_left(estimate(found("1E", *answers), EXHAUST, Correction(0.0, 0.0)))

    assert none((0.04, "no-go")) == 1.0
    assert none((0.20, "no-go")) is None
    assert none((0.04, "drag"), (0.05, "no-go")) == 0.0


def test_a_valve_that_was_not_read_says_nothing():
    evidence = read_once(v1E=0.27)
    assert {one.place.valve for one in evidence} == {"1E"}


def test_strength_words():
    assert STRENGTHS == {"always": 0.97, "usually": 0.80, "often": 0.55, "sometimes": 0.25, "rarely": 0.07}


@pytest.mark.parametrize(
    ("blade_mm", "felt", "presence"),
    [(0.06, "no-go", 1.0), (0.061, "no-go", None), (0.05, "drag", 0.0)],
)
def test_only_a_thin_blade_shows_that_there_is_no_clearance(blade_mm, felt, presence):
    read = estimate(found("1E", (blade_mm, felt)), EXHAUST, Correction(0.0, 0.0))
    assert none_left(read) == presence


def test_at_a_visit_at_which_all_moved_the_visits_before_count_too():
    of = engine(4)
    clearances = {f"{n}{side}": mm for n in range(1, 5) for side, mm in (("I", 0.175), ("E", 0.275))}

    def read(moved_mm):
        return [
            found(valve, (round(mm + moved_mm - 0.004, 3), "drag"), (round(mm + moved_mm + 0.02, 3), "no-go"))
            for valve, mm in clearances.items()
        ]

    visits = (*(visit(n, 250.0 * n, *read(0.0)) for n in range(1, 4)), visit(4, 1000.0, *read(-0.06)))
    analysis, drifting = analyse(of, visits), drifts_as_found(of, visits)
    assert drifting.shifts[-1].suspect
    here = {(one.finding, one.place.name): one.presence for one in computed_findings(analysis, drifting)}
    known = drifting.valves["1I"].state.below(0.15)
    assert here["clearance-tight", "1I"] == pytest.approx(known)
    assert known != pytest.approx(analysis.valves[0].states[-1].found.p_tight, abs=1e-4)


@pytest.mark.parametrize(("strength", "more"), [(0.79, 0.81), (0.54, 0.56), (0.799, 0.801)])
def test_two_causes_that_share_their_findings_do_not_flip_on_a_small_change_of_one_strength(strength, more):
    def probabilities(of_sunk):
        known = knowledge(
            cause("wear", "engine", 0.05, noise=0.8, weak=0.55, cold=0.25),
            cause("sunk", "engine", 0.05, noise=of_sunk, weak=0.55, cold=0.55),
        )
        seen = [Evidence(name, Place(), 1.0) for name in ("noise", "weak", "cold")]
        found_ = diagnose(engine(1), known, seen)
        return {one.candidate.kind.id: one.probability for one in found_.causes}

    before, after = probabilities(strength), probabilities(more)
    for name, p in before.items():
        assert after[name] == pytest.approx(p, abs=0.02)


def test_what_one_cause_explains_is_no_reason_for_a_second():
    # Eight findings of one family: with either cause they are explained, with both hardly better.
    ids = [f"f{number}" for number in range(8)]
    links = dict.fromkeys(ids, 0.8)
    known = Knowledge(
        {one: finding(one, "facts") for one in ids},
        {one.id: one for one in (cause("a", "engine", 0.05, **links), cause("b", "engine", 0.05, **links))},
    )
    found_ = diagnose(engine(1), known, [Evidence(one, Place(), 1.0) for one in ids])
    assert [one.probability for one in found_.causes] == pytest.approx([0.52, 0.52], abs=0.04)


def test_what_slows_down_in_a_new_engine_settles_and_does_not_recede():
    of = engine(4)
    fall = [0.0, -0.03, -0.04, -0.045]
    visits = tuple(
        visit(
            number,
            25.0 + 200.0 * number,
            *(around(f"{n}I", round(0.19 + by, 3)) for n in (1, 2, 3, 4)),
            *(around(f"{n}E", round(0.28 + by, 3)) for n in (1, 2, 3, 4)),
        )
        for number, by in enumerate(fall)
    )
    evidence = shown(of, visits)
    slowing = next(one for one in evidence if one.finding == "drift-slowing")
    assert slowing.place == Place() and slowing.presence > 0.9
    got = diagnose(of, load_knowledge(), [*evidence, *seen("new-engine")])
    p = {}
    for one in got.causes:
        p[one.candidate.kind.id] = max(one.probability, p.get(one.candidate.kind.id, 0.0))
    assert p["settled-after-work"] > 0.8
    assert p["seat-recession"] < 0.3


def test_wear_that_speeds_up_is_evidence_only_once_it_is_likely():
    # Exhausts fall by 0.01, 0.02, 0.04 and 0.07 an interval.
    of = engine(4)
    gaps = [0.34, 0.33, 0.31, 0.27, 0.20]
    visits = tuple(
        visit(
            number,
            2000.0 + 250.0 * number,
            *(around(f"{n}I", 0.16) for n in (1, 2, 3, 4)),
            *(around(f"{n}E", gap) for n in (1, 2, 3, 4)),
        )
        for number, gap in enumerate(gaps)
    )
    late = [one for one in shown(of, visits) if one.finding == "drift-speeding-up"]
    assert [one.place for one in late] == [Place(side="exhaust")] and late[0].presence > 0.9
    assert not [one for one in shown(of, visits[:2]) if one.finding == "drift-speeding-up"]


def test_a_cause_that_may_be_at_any_valve_is_as_likely_anywhere_as_its_places_together():
    of = engine(2)
    heard = [Evidence("tick", Place(), 1.0), Evidence("low-lift", Place(), 1.0)]
    found = diagnose(of, load_knowledge(), heard)
    lobes = [one for one in found.causes if one.candidate.kind.id == "lobe-worn"]
    assert len(lobes) == 4
    each = [one.probability for one in lobes]
    assert max(each) < lobes[0].anywhere <= sum(each)
    assert {one.anywhere for one in lobes} == {lobes[0].anywhere}
    (side,) = [one for one in found.causes if one.candidate.kind.id == "worn-train"]
    assert side.anywhere == pytest.approx(side.probability)


def test_a_cracked_rocker_and_a_worn_lobe_are_told_apart_by_a_look_at_both():
    lift = [Evidence("tick", Place(), 1.0), Evidence("low-lift", Place(valve="2E"), 1.0)]
    network = Network(engine(2), load_knowledge(), lift)
    asked = next_tests(network, network.weigh(), load_tests(), cover_is_off=True, access_minutes=30.0)
    look = next(one for one in asked[:2] if one.test.id == "lobe-look")
    assert look.gain_bits == max(one.gain_bits for one in asked)
    then = {one.finding: one.cause_if_present for one in look.outcomes}
    assert then["rocker-cracked"] == "rocker-cracked" and then["lobe-scored"] == "lobe-worn"
