"""What locking moves, learned from what it moved; and the blade to set with."""

import pytest
from hypothesis import given
from hypothesis import strategies as st

from pronostico.core.adjust.locking import LockUp, lock_up_of, locking_allowance_mm, set_with_mm
from pronostico.core.visits import Try


def test_what_locking_moves_is_learned_and_shrunk_towards_nothing():
    assert locking_allowance_mm([]) == 0.0
    once = [LockUp(0.010, 0.0)]
    # The scatter of one lock-up is 0.006, hands differ by 0.015: 0.015^2 / (0.015^2 + 0.006^2) = 0.862 of it.
    assert locking_allowance_mm(once) == pytest.approx(0.00862, abs=1e-5)
    assert locking_allowance_mm(once * 9) == pytest.approx(0.00983, abs=1e-5)
    doubtful = [LockUp(0.010, 0.01)]
    assert 0.0 < locking_allowance_mm(doubtful) < 0.0005


@given(st.lists(st.floats(-0.02, 0.02), min_size=1, max_size=8))
def test_the_allowance_lies_between_nothing_and_what_was_seen(seen):
    allowance = locking_allowance_mm([LockUp(moved, 1e-5) for moved in seen])
    assert min(0.0, *seen) - 1e-12 <= allowance <= max(0.0, *seen) + 1e-12


def test_a_blade_that_is_refused_after_locking_tells_of_a_small_step():
    drags, refused, free = (Try((0.28,), felt) for felt in ("drag", "no-go", "free"))
    closed = lock_up_of((drags,), (refused,), "straight")
    held = lock_up_of((drags,), (drags,), "straight")
    opened = lock_up_of((drags,), (free,), "straight")
    assert -0.08 < closed.moved_mm < -0.01 < held.moved_mm < 0.01 < opened.moved_mm < 0.08
    assert held.moved_mm == pytest.approx(0.0, abs=0.001)
    # The one that drags again says most: it bounds the step on either side.
    assert held.variance < closed.variance and held.variance < opened.variance
    # Measured closely after, more is known.
    closer = lock_up_of((drags,), (refused, Try((0.26,), "drag")), "straight")
    assert closer.variance < closed.variance and closer.moved_mm == pytest.approx(-0.02, abs=0.006)


def test_a_tightening_without_tries_on_either_side_tells_nothing():
    assert lock_up_of((), (Try((0.28,), "drag"),), "straight") is None
    assert lock_up_of((Try((0.28,), "drag"),), (), "straight") is None


def test_the_blade_to_set_with_is_the_one_that_leaves_the_target():
    # A blade drags from 0.003 under to 0.015 over its thickness, 0.006 over it in the middle: for 0.175
    # wanted is 0.169. 0.17 is there; of 0.15 and 0.20 the nearer is 0.15; 0.05 and 0.12 stacked come nearer
    # still.
    assert set_with_mm(0.175, [0.10, 0.15, 0.17, 0.20]) == (0.17,)
    assert set_with_mm(0.175, [0.15, 0.20]) == (0.15,)
    assert set_with_mm(0.175, [0.05, 0.12, 0.15, 0.20]) == (0.05, 0.12)
    # Where locking opens the gap by 0.02, a blade that much thinner is set with.
    assert set_with_mm(0.175, [0.10, 0.15, 0.17, 0.20], allowance_mm=0.02) == (0.15,)
    assert set_with_mm(0.175, []) is None


@given(
    st.lists(st.sampled_from([0.04, 0.05, 0.1, 0.13, 0.15, 0.2, 0.25, 0.3]), min_size=1), st.floats(0.1, 0.4)
)
def test_no_blade_of_the_set_alone_comes_nearer(blades, target):
    chosen = sum(set_with_mm(target, blades))
    assert all(abs(chosen - target + 0.006) <= abs(blade - target + 0.006) + 1e-12 for blade in blades)


def test_what_is_not_known_of_the_gap_before_is_not_known_of_the_step():
    drags = Try((0.28,), "drag")
    sharp = (Try((0.28,), "drag"), Try((0.29,), "no-go"))
    # The same tries after; known better before, the step is known better.
    assert (
        lock_up_of(sharp, (drags,), "straight").variance < lock_up_of((drags,), (drags,), "straight").variance
    )
    # Nowhere is a step known better than the gap that it began from.
    vague = lock_up_of((Try((0.28,), "free"),), sharp, "straight")
    assert vague.variance > 0.01**2
