"""Targets by each policy, and turns of the screw by hand-worked examples."""

import pytest
from hypothesis import given
from hypothesis import strategies as st

from pronostico.core.adjust.preload import plunger_travel_mm, preload
from pronostico.core.adjust.screws import lash_per_turn_mm, turn_deg, usual_place
from pronostico.core.adjust.targets import (
    POLICIES,
    Drift,
    intervals_in_spec,
    p_in_after_setting,
    target_mm,
)
from pronostico.core.constants import DEFAULT
from pronostico.core.engine import Spec
from pronostico.core.errors import ImpossibleValue

SPEC = Spec(0.25, 0.31)


def test_the_policies_by_hand():
    assert target_mm("middle", SPEC, "exhaust") == pytest.approx(0.28)
    assert target_mm("lean-loose", SPEC, "exhaust") == pytest.approx(0.29)
    assert target_mm("lean-loose", SPEC, "intake") == pytest.approx(0.28)
    assert target_mm("figure", SPEC, "exhaust", figure_mm=0.26) == 0.26
    # A manual that gives a range alone has no figure to take.
    assert target_mm("figure", SPEC, "exhaust") == pytest.approx(0.28)


def test_a_valve_that_tightens_is_set_loose_and_the_other_way_round_a_guard_from_the_limit():
    guard = DEFAULT.target_guard_mm
    assert target_mm("drift-aware", SPEC, "exhaust", drift=Drift(-0.02, 0.001)) == pytest.approx(
        0.31 - guard, abs=0.002
    )
    assert target_mm("drift-aware", SPEC, "exhaust", drift=Drift(0.02, 0.001)) == pytest.approx(
        0.25 + guard, abs=0.002
    )
    assert target_mm("drift-aware", SPEC, "exhaust", drift=Drift(0.0, 0.01)) == pytest.approx(0.28, abs=0.001)
    assert target_mm("drift-aware", SPEC, "exhaust") == pytest.approx(0.28)
    # Too narrow for a guard on both sides: the middle.
    assert target_mm("drift-aware", Spec(0.10, 0.12), "intake", drift=Drift(-0.1, 0.0)) == pytest.approx(0.11)


@given(st.sampled_from(POLICIES), st.floats(-0.1, 0.1), st.floats(0.0, 0.05), st.floats(0.03, 0.2))
def test_a_target_is_always_within_the_spec(policy, slope, doubt, width):
    spec = Spec(0.10, 0.10 + width)
    for side in ("intake", "exhaust"):
        assert spec.min_mm < target_mm(policy, spec, side, drift=Drift(slope, doubt)) < spec.max_mm


@pytest.mark.parametrize(
    ("at", "pitch_mm", "ratio", "change_mm", "degrees"),
    [
        # At the valve the thread moves the gap itself: 0.255 of 0.75 mm is 0.34 of a turn back.
        ("valve", 0.75, None, 0.255, -122.4),
        # At the pushrod the rocker multiplies: 1.0 * 1.5 = 1.5 mm a turn.
        ("pushrod", 1.0, 1.5, -0.10, 24.0),
        # At the pivot both arms move: 0.8 * (1 + 1.5) = 2 mm a turn.
        ("pivot", 0.8, 1.5, 0.05, -9.0),
    ],
)
def test_turns_by_hand(at, pitch_mm, ratio, change_mm, degrees):
    lash = lash_per_turn_mm(pitch_mm=pitch_mm, at=at, rocker_ratio=ratio)
    assert turn_deg(change_mm, lash) == pytest.approx(degrees)
    assert turn_deg(change_mm, lash, left_hand=True) == pytest.approx(-degrees)


def test_a_turn_that_cannot_be_reported_is_not_guessed_and_a_thread_has_a_pitch():
    assert lash_per_turn_mm(pitch_mm=1.0, at="pivot", rocker_ratio=None) is None
    with pytest.raises(ImpossibleValue, match="adjuster pitch"):
        lash_per_turn_mm(pitch_mm=0.0, at="valve", rocker_ratio=None)
    with pytest.raises(ImpossibleValue, match="rocker ratio"):
        lash_per_turn_mm(pitch_mm=1.0, at="pivot", rocker_ratio=0.0)
    assert [usual_place(kind) for kind in ("screw-rocker", "screw-pushrod", "pivot-nut")] == [
        "valve",
        "pushrod",
        "pivot",
    ]


def test_a_set_valve_is_in_spec_the_surer_the_nearer_the_middle():
    chances = [p_in_after_setting(target, SPEC) for target in (0.28, 0.29, 0.30, 0.31)]
    assert chances == sorted(chances, reverse=True)
    assert chances[0] > 0.999 and chances[-1] == pytest.approx(0.5, abs=1e-6)


def test_preload_leaves_the_plunger_between_a_quarter_and_three_quarters():
    assert preload(0.5, 0.9, 1.8).sound is True
    assert preload(0.5, 0.9, 1.8).plunger_travel_mm == pytest.approx(0.9)
    assert preload(1.0, 1.8, 2.0).sound is False
    assert preload(1.0, None, 2.0).sound is None and preload(1.0, 1.8, None).share_of_stroke is None


# By hand: with the tip held still, the far end of the lever moves by both arms over the valve's.
@pytest.mark.parametrize(
    ("at", "ratio", "travel"),
    [
        ("pivot", 1.6, 0.795 * 2.6 / 1.6),
        ("pushrod", None, 0.795),
        ("valve", 1.5, 0.53),
        ("pivot", None, None),
    ],
)
def test_preload_moves_the_plunger_by_the_levers_of_the_rocker(at, ratio, travel):
    found = plunger_travel_mm(0.75, pitch_mm=1.06, at=at, rocker_ratio=ratio)
    assert found == (None if travel is None else pytest.approx(travel))


def test_how_long_a_target_lasts_by_hand():
    # Without drift only the scatter of locking and the process noise: in spec with 0.9 while 0.03 mm is
    # 1.645 sd, so 0.006^2 x^3 / 3 = (0.03 / 1.645)^2 - 0.006^2, x = 2.91; followed in steps of 0.05.
    assert intervals_in_spec(0.28, SPEC, Drift(0.0, 0.0)) == pytest.approx(2.90)
    # A drift of 0.01 an interval towards the limit, and hardly any noise before it: at 0.0184 mm from there
    # the probability is 0.9 (locking and 0.006^2 x^3 / 3, x = 1.0), 0.28 + 0.01 x = 0.31 - 1.282 sd.
    assert intervals_in_spec(0.28, SPEC, Drift(0.01, 0.0)) == pytest.approx(1.70, abs=0.051)
    assert intervals_in_spec(1.5, Spec(0.0, 3.0), Drift(0.0, 0.0)) is None
    assert intervals_in_spec(0.40, SPEC, Drift(0.0, 0.0)) == 0.0
