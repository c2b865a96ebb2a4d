"""Simulated hands that set as advised: in spec in two lock-ups or fewer."""

import numpy as np
import pytest

from pronostico.core.engine import Spec
from pronostico.core.simulation.locking_trial import Hand, set_until_it_holds

BLADES = [0.04, 0.05, 0.08, 0.10, 0.13, 0.15, 0.18, 0.20, 0.23, 0.25, 0.28, 0.30, 0.35, 0.40]
SPEC = Spec(0.25, 0.30)


def test_hands_that_differ_in_their_habit_leave_95_of_100_valves_in_spec():
    rng = np.random.default_rng(11)
    gaps = []
    for _ in range(40):
        hand, learned = Hand(float(rng.normal(0.0, 0.015)), 0.006), []
        for _ in range(6):
            trial = set_until_it_holds(SPEC, BLADES, hand, rng=rng, learned=learned, most=2)
            assert len(trial.lock_ups) <= 2
            learned.extend(trial.lock_ups)
            gaps.append(trial.gap_mm)
    assert np.mean([SPEC.min_mm <= gap <= SPEC.max_mm for gap in gaps]) >= 0.95


def test_a_strong_habit_is_allowed_for_once_it_is_known():
    hand = Hand(-0.030, 0.002)
    rng = np.random.default_rng(3)
    first = set_until_it_holds(SPEC, BLADES, hand, rng=rng, most=1)
    learned = list(first.lock_ups)
    for _ in range(6):
        learned.extend(set_until_it_holds(SPEC, BLADES, hand, rng=rng, learned=learned).lock_ups)
    later = [set_until_it_holds(SPEC, BLADES, hand, rng=rng, learned=learned, most=1) for _ in range(30)]
    assert first.gap_mm < 0.26
    assert np.mean([one.gap_mm for one in later]) == pytest.approx(SPEC.middle_mm, abs=0.012)


def test_without_blades_nothing_is_locked():
    assert set_until_it_holds(SPEC, [], Hand(0.0, 0.0), rng=np.random.default_rng(1)).lock_ups == ()
