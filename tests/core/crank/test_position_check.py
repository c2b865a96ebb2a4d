"""Whether the crank stood a turn off, against Bayes' rule by hand."""

import numpy as np
import pytest
from scipy.integrate import quad
from scipy.stats import norm

from pronostico.core.crank.position_check import ReadAtPosition, check_positions, p_one_turn_off
from pronostico.core.gauge.reading import Prior
from tests.builders import found

USUAL = Prior(0.175, 0.15)


EXPECTED = Prior(0.16, 0.012)


def read(valve, *answers, expected=EXPECTED, rests=False):
    return ReadAtPosition(found(valve, *answers), lambda: expected, USUAL, rests)


def refused(gap, blade):
    """The chance that a blade is refused: a feel of 0.006 mm about 0.003 mm below the blade."""
    return norm.cdf((-0.003 - (gap - blade)) / 0.006)


def test_bayes_rule_by_hand():
    """Two valves of which 0.05 is refused: the integrals by quadrature."""

    def right(blade):
        def mix(gap):
            return 0.99 * norm.pdf(gap, 0.16, 0.012) + 0.01 * norm.pdf(gap, 0.175, 0.15)

        return quad(lambda gap: refused(gap, blade) * mix(gap), -0.6, 0.8, points=[0.05, 0.16], limit=200)[0]

    factor = (0.95 * refused(-0.10, 0.05) + 0.05 * right(0.05)) / right(0.05)
    odds = 0.02 / 0.98 * factor**2
    found_p = p_one_turn_off([read("1I", (0.05, "no-go")), read("1E", (0.05, "no-go"))], prior=0.02)
    assert found_p == pytest.approx(odds / (1.0 + odds), rel=1e-3)
    assert found_p > 0.99


def test_one_blade_that_went_in_speaks_against_it_by_twenty():
    p = p_one_turn_off([read("1I", (0.15, "drag"))], prior=0.5)
    assert p == pytest.approx(0.05 / 1.05, rel=1e-6)


def test_a_valve_that_rests_either_way_says_nothing():
    assert p_one_turn_off([read("1I", (0.05, "no-go"), rests=True)], prior=0.02) == pytest.approx(0.02)


def test_without_history_two_refused_valves_are_not_enough():
    """They may be held open: a third of all clearances is thought to lie so low before any reading."""
    two = [read(name, (0.05, "no-go"), expected=None) for name in ("1I", "1E")]
    five = [read(name, (0.05, "no-go"), expected=None) for name in ("1I", "1E", "2I", "3E", "4E")]
    assert p_one_turn_off(two, prior=0.02) < 0.5 < p_one_turn_off(five, prior=0.02)


def test_a_suspect_position_makes_the_next_one_likelier_and_confirming_clears_it():
    off = [read(name, (0.05, "no-go")) for name in ("1I", "1E")]
    plain = [read("2I", (0.10, "no-go"), expected=None)]
    first, second = check_positions([(0.0, off), (360.0, plain)])
    assert first.suspect and first.crank_deg == 0.0 and first.valves == ("1I", "1E")
    alone = check_positions([(360.0, plain)])[0]
    odds = alone.p_one_turn_off / (1 - alone.p_one_turn_off) / (0.02 / 0.98) * (0.3 / 0.7)
    assert second.p_one_turn_off == pytest.approx(odds / (1 + odds), rel=1e-6)
    first, second = check_positions([(0.0, off), (360.0, plain)], confirmed=frozenset({"1I", "1E"}))
    assert not first.suspect and first.p_one_turn_off > 0.9
    assert second.p_one_turn_off == pytest.approx(alone.p_one_turn_off)


def test_what_was_predicted_is_only_asked_where_it_matters():
    def never():
        raise AssertionError("asked for a prediction")

    went = ReadAtPosition(found("1I", (0.15, "free"), (0.18, "no-go")), never, USUAL, rests_there_too=False)
    assert np.isfinite(p_one_turn_off([went], prior=0.02))
