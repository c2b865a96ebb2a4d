"""Whether the crank stood where it should when a group of valves was read.

One turn off the valves are on their lobes and no blade goes: it looks like valves that have closed up. For
the valves read at one position two hypotheses are compared by Bayes' rule, the right position and one
turn off; F-26 in docs/formulas.md.
"""

from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass

import numpy as np

from pronostico.core.arrays import FloatArray
from pronostico.core.constants import DEFAULT, Constants
from pronostico.core.gauge.feel import log_likelihood_of_try
from pronostico.core.gauge.reading import Prior
from pronostico.core.visits import Access, Reading, Try

_STEP_MM = 0.001
_REACH_SD = 6.0
_LEAST = 1e-300
_CANNOT_BE = 1e-12


@dataclass(frozen=True, slots=True)
class ReadAtPosition:
    """One valve's reading as found, and what it would be at the right position.

    `expected`: called only where it matters, the gap as the visits before predict it, at today's temperature,
    None without history. `usual`: the gap of any valve of that spec. `rests_there_too`: the valve is at rest
    a turn further as well.
    """

    reading: Reading
    expected: Callable[[], Prior | None]
    usual: Prior
    rests_there_too: bool


@dataclass(frozen=True, slots=True)
class Position:
    """One position of the crank: the valves read there, and how likely it stood one turn off.

    `crank_deg` is None where no plan of positions is known.
    """

    crank_deg: float | None
    valves: tuple[str, ...]
    p_one_turn_off: float
    suspect: bool


def _likelihood(
    tries: Sequence[Try], access: Access, parts: Mapping[Prior, float], constants: Constants
) -> float:
    """Probability of the tries where the gap is a mixture of normals, by the trapezoidal rule."""
    total = 0.0
    for prior, share in parts.items():
        reach = _REACH_SD * prior.sd_mm
        gap_mm: FloatArray = np.arange(prior.mean_mm - reach, prior.mean_mm + reach, _STEP_MM)
        log_p = np.zeros_like(gap_mm)
        for one in tries:
            log_p += log_likelihood_of_try(one, gap_mm, access, constants)
        density = np.exp(-0.5 * ((gap_mm - prior.mean_mm) / prior.sd_mm) ** 2)
        total += share * float(np.exp(log_p) @ density / density.sum())
    return max(total, _LEAST)


def _at_right(one: ReadAtPosition, constants: Constants) -> float:
    far, expected = constants.far_off_share, one.expected()
    parts = {one.usual: 1.0} if expected is None else {expected: 1.0 - far, one.usual: far}
    return _likelihood(one.reading.tries, one.reading.access, parts, constants)


def _on_lobe(one: ReadAtPosition, constants: Constants) -> float:
    gap_mm = np.array([constants.on_lobe_mm])
    log_p = sum(
        float(log_likelihood_of_try(each, gap_mm, one.reading.access, constants)[0])
        for each in one.reading.tries
    )
    return float(np.exp(log_p))


def p_one_turn_off(
    readings: Sequence[ReadAtPosition], *, prior: float, constants: Constants = DEFAULT
) -> float:
    """Probability that the crank stood one turn off while these valves were read, 0 to 1.

    Args:
        prior: the probability of it before any of the readings.
    """
    log_odds = float(np.log(prior) - np.log1p(-prior))
    for one in readings:
        if one.rests_there_too:
            # At rest either way: what was read there tells the two apart in nothing.
            continue
        on_lobe = _on_lobe(one, constants)
        if on_lobe < _CANNOT_BE:
            # A blade went in: then it hardly matters how likely the reading is otherwise.
            log_odds += float(np.log1p(-constants.lobe_shows))
            continue
        right = _at_right(one, constants)
        off = constants.lobe_shows * on_lobe + (1.0 - constants.lobe_shows) * right
        log_odds += float(np.log(off) - np.log(right))
    return float(1.0 / (1.0 + np.exp(-log_odds)))


def check_positions(
    groups: Sequence[tuple[float | None, Sequence[ReadAtPosition]]],
    *,
    confirmed: frozenset[str] = frozenset(),
    constants: Constants = DEFAULT,
) -> tuple[Position, ...]:
    """Every position at which valves were read, in the order in which the crank came to them.

    Args:
        groups: the angle of each position (None where no plan is known) with the readings taken there.
        confirmed: valves whose readings were confirmed; a position is suspect no more once all of its are.

    Once one position is suspect the next ones are likelier to be: the count of the turns went wrong.
    """
    positions: list[Position] = []
    again = False
    for crank_deg, readings in groups:
        prior = constants.one_turn_off_again_prior if again else constants.one_turn_off_prior
        p = p_one_turn_off(readings, prior=prior, constants=constants)
        valves = tuple(one.reading.valve for one in readings)
        suspect = p >= constants.position_suspect and not confirmed.issuperset(valves)
        again = again or suspect
        positions.append(Position(crank_deg, valves, p, suspect))
    return tuple(positions)
