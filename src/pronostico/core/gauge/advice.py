"""Which blade to offer next: the one expected to take away most uncertainty about the class.

The uncertainty is the entropy, in bits, of tight / in / loose. For each blade and each stack of two available
the three answers are weighed by how likely they are, and the entropy left after each is averaged
(expected information gain, as in textbooks of experimental design). F-09 in docs/formulas.md.
"""

from collections import Counter
from collections.abc import Callable
from dataclasses import dataclass, replace
from itertools import combinations
from typing import Literal

import numpy as np

from pronostico.core.arrays import FloatArray
from pronostico.core.constants import DEFAULT, Constants
from pronostico.core.engine import Spec
from pronostico.core.gauge.expected_answer import answers_by_gap, gap_of_cells
from pronostico.core.gauge.feel import feel_sd_mm
from pronostico.core.gauge.reading import ClearancePosterior, Prior, estimate, posterior_of
from pronostico.core.thermal import Correction
from pronostico.core.visits import Reading, Try

End = Literal["settled", "no-gain", "enough-tries", "no-number"]

GainsOf = Callable[[FloatArray, list[int]], FloatArray]
"""Bits gained by candidates, from their thicknesses in mm and how many blades each is made of."""

_REACH_SD = 4.0
_THICKNESS_STEP_MM = 0.01  # how finely a thickness that is not in the set is looked for


@dataclass(frozen=True, slots=True)
class Advice:
    """The next blade or stack, or why there is none.

    `would_settle_mm`: where no blade helps, the most informative thickness, mm. `for_number`: the
    class is known, and it is the clearance itself that is asked for, to adjust the valve by.
    """

    blades_mm: tuple[float, ...] | None
    gain_bits: float
    end: End | None
    would_settle_mm: float | None = None
    for_number: bool = False


def prior_for_advice(spec: Spec, forecast: Prior | None) -> Prior:
    """What is believed before the first try: the forecast where there is history, else the spec."""
    if forecast is None:
        return Prior(spec.middle_mm, spec.width_mm)
    return Prior(forecast.mean_mm, max(forecast.sd_mm, 0.5 * spec.width_mm))


def _entropy_bits(mass: FloatArray) -> FloatArray:
    """Entropy over the last axis of masses that need not sum to one; shape without that axis."""
    total = mass.sum(axis=-1, keepdims=True)
    share = np.divide(mass, total, out=np.zeros_like(mass), where=total > 0.0)
    logs = np.log2(share, out=np.zeros_like(share), where=share > 0.0)
    return np.asarray(-(share * logs).sum(axis=-1))


def _class_masses(posterior: ClearancePosterior, spec: Spec) -> FloatArray:
    """Mass of each cell in tight, in and loose; shape (cells, 3)."""
    tight, not_loose = posterior.share_below(spec.min_mm), posterior.share_below(spec.max_mm)
    shares = np.stack([tight, not_loose - tight, 1.0 - not_loose], axis=-1)
    return np.asarray(posterior.mass[:, None] * np.clip(shares, 0.0, 1.0))


def expected_gain_bits(
    posterior: ClearancePosterior,
    gap_mm: FloatArray,
    spec: Spec,
    *,
    thickness_mm: FloatArray,
    sd_mm: FloatArray,
    constants: Constants = DEFAULT,
) -> FloatArray:
    """Bits that each candidate is expected to take away, >= 0 but for rounding.

    Args:
        gap_mm: shape (cells,), the gap that goes with each cell of the posterior.
        thickness_mm, sd_mm: shape (candidates,), each candidate's thickness and its feel's scatter.
    """
    masses = _class_masses(posterior, spec)
    left = np.zeros(len(thickness_mm))
    for answer in answers_by_gap(gap_mm, thickness_mm, sd_mm, constants):
        after = answer @ masses
        left += after.sum(axis=-1) * _entropy_bits(after)
    return np.asarray(_entropy_bits(masses.sum(axis=0)) - left)


def expected_variance_share(
    posterior: ClearancePosterior,
    gap_mm: FloatArray,
    *,
    thickness_mm: FloatArray,
    sd_mm: FloatArray,
    constants: Constants = DEFAULT,
) -> FloatArray:
    """The share of the clearance's variance that each candidate is expected to take away, 0 to 1.

    By the law of total variance; arguments as for `expected_gain_bits`.
    """
    middle = 0.5 * (posterior.low_mm + posterior.high_mm) - posterior.mean_mm
    explained = np.zeros(len(thickness_mm))
    for answer in answers_by_gap(gap_mm, thickness_mm, sd_mm, constants):
        share = answer @ posterior.mass
        mean = np.divide(answer @ (posterior.mass * middle), share, out=np.zeros_like(share), where=share > 0)
        explained += share * mean**2
    return np.asarray(np.clip(explained / posterior.sd_mm**2, 0.0, 1.0))


def available_stacks(blades_mm: tuple[float, ...]) -> list[tuple[float, ...]]:
    """Every single blade and every stack of two different ones, thinnest first."""
    singles: list[tuple[float, ...]] = [(blade,) for blade in sorted(set(blades_mm))]
    pairs: list[tuple[float, ...]] = list(combinations(sorted(set(blades_mm)), 2))
    return sorted([*singles, *pairs], key=sum)


def _worth_weighing(
    blades_mm: tuple[float, ...],
    tries: tuple[Try, ...],
    spec: Spec,
    correction: Correction,
    constants: Constants,
) -> list[tuple[float, ...]]:
    """The stacks that can separate the classes and were not offered too often yet.

    A stack whose every answer leaves the gap on one side of both limits tells nothing.
    """
    reach = _REACH_SD * (constants.feel_sd_awkward_mm + correction.uncertainty_mm)
    low = spec.min_mm + correction.correction_mm - constants.free_above_mm - reach
    high = spec.max_mm + correction.correction_mm + constants.refuse_below_mm + reach
    return _offered(blades_mm, tries, low, high, constants)


def _thickness(stack: tuple[float, ...]) -> float:
    return round(sum(stack), 6)


def _offered(
    blades_mm: tuple[float, ...], tries: tuple[Try, ...], low_mm: float, high_mm: float, constants: Constants
) -> list[tuple[float, ...]]:
    """The stacks of a range of thickness not tried too often; of one thickness that of the fewest blades."""
    tried = Counter(round(one.thickness_mm, 6) for one in tries)
    by_thickness: dict[float, tuple[float, ...]] = {}
    for stack in available_stacks(blades_mm):
        thickness = _thickness(stack)
        if low_mm <= thickness <= high_mm and tried[thickness] < constants.most_times_one_blade:
            kept = by_thickness.setdefault(thickness, stack)
            if len(stack) < len(kept):
                by_thickness[thickness] = stack
    return list(by_thickness.values())


def _preferred(
    stacks: list[tuple[float, ...]],
    gains: FloatArray,
    tries: tuple[Try, ...],
    start_mm: float,
    *,
    least: float,
    constants: Constants,
) -> int | None:
    """The best stack that gains enough; None where none does.

    A thickness already tried has to tell a good deal more than the best untried one. Near-ties go to the
    single blade, then to the one nearest the last that was tried.
    """
    tried = {round(one.thickness_mm, 6) for one in tries}
    enough = [i for i in range(len(stacks)) if gains[i] >= least]
    new = [i for i in enough if _thickness(stacks[i]) not in tried]
    repeat_from = constants.repeat_gain * max((float(gains[i]) for i in new), default=0.0)
    again = [i for i in enough if i not in new and gains[i] >= repeat_from]
    open_ones = again or new
    if not open_ones:
        return None
    last = tries[-1].thickness_mm if tries else start_mm
    best = max(float(gains[i]) for i in open_ones)
    close = [i for i in open_ones if gains[i] >= (1.0 - constants.near_tie) * best]
    return min(close, key=lambda i: (len(stacks[i]), abs(sum(stacks[i]) - last), -gains[i]))


def next_blade(
    reading: Reading,
    blades_mm: tuple[float, ...],
    spec: Spec,
    correction: Correction,
    prior: Prior,
    *,
    by_amount: bool = False,
    constants: Constants = DEFAULT,
) -> Advice:
    """The blade or stack to offer next at a reading, or why none.

    Args:
        reading: the tries so far (none yet is well) and the access.
        blades_mm: the set in use, mm.
        prior: what was believed of the clearance before the first try.
        by_amount: the valve is adjusted by a computed amount, so that one that is out, or inconclusive,
            has to be read until there is a number to compute with.
    """
    advice = _for_class(reading, blades_mm, spec, correction, prior, constants)
    if advice.end is None or not by_amount:
        return advice
    known = estimate(reading, spec, correction, constants)
    if known is None or known.verdict == "in" or known.gives_number:
        return advice
    further = number_advice(reading, blades_mm, spec, correction, prior, constants)
    return further if further.blades_mm is not None or advice.end == "settled" else advice


def _for_class(
    reading: Reading,
    blades_mm: tuple[float, ...],
    spec: Spec,
    correction: Correction,
    prior: Prior,
    constants: Constants,
) -> Advice:
    """The blade that tells most of the class, until there is a verdict."""
    known = estimate(reading, spec, correction, constants)
    if known is not None and known.verdict != "open":
        return Advice(None, 0.0, "settled")
    if len(reading.tries) >= constants.most_tries:
        return Advice(None, 0.0, "enough-tries")
    advice = _most_telling(reading, blades_mm, spec, correction, prior, constants)
    by_spec = prior_for_advice(spec, None)
    if advice.blades_mm is None and prior != by_spec:
        # The past may leave no doubt before the first try; the verdict needs this visit's tries all the same.
        advice = _most_telling(reading, blades_mm, spec, correction, by_spec, constants)
    return advice


def _most_telling(
    reading: Reading,
    blades_mm: tuple[float, ...],
    spec: Spec,
    correction: Correction,
    prior: Prior,
    constants: Constants,
) -> Advice:
    """The stack that tells most under a prior; where none tells enough, the thickness that would."""
    tries, access = reading.tries, reading.access
    posterior = posterior_of(tries, access, prior, correction, constants)
    gap_mm = gap_of_cells(posterior, prior, correction)

    def gains_of(thickness_mm: FloatArray, blades: list[int]) -> FloatArray:
        scatter = np.array([feel_sd_mm(count, access, constants) for count in blades])
        return expected_gain_bits(
            posterior, gap_mm, spec, thickness_mm=thickness_mm, sd_mm=scatter, constants=constants
        )

    stacks = _worth_weighing(blades_mm, tries, spec, correction, constants)
    if stacks:
        gains = gains_of(np.array([sum(stack) for stack in stacks]), [len(stack) for stack in stacks])
        least = constants.least_gain_bits
        at = _preferred(stacks, gains, tries, prior.mean_mm, least=least, constants=constants)
        if at is not None:
            return Advice(stacks[at], float(gains[at]), None)
    return Advice(None, 0.0, "no-gain", _thickness_that_tells(gains_of, spec, correction, constants))


def _thickness_that_tells(
    gains_of: GainsOf, spec: Spec, correction: Correction, constants: Constants
) -> float | None:
    """The most informative thickness, in hundredths; None where no thickness would be informative."""
    around = spec.width_mm + constants.number_width_mm
    low = spec.min_mm + correction.correction_mm - around
    high = spec.max_mm + correction.correction_mm + around
    thickness = np.arange(max(_THICKNESS_STEP_MM, round(low, 2)), high, _THICKNESS_STEP_MM)
    gains = gains_of(thickness, [1] * len(thickness))
    at = int(gains.argmax())
    return round(float(thickness[at]), 2) if gains[at] >= constants.least_gain_bits else None


def thinnest_refused(tries: tuple[Try, ...], blades_mm: tuple[float, ...]) -> bool:
    """Whether even the thinnest blade of the set would not go: then no blade gives a number."""
    refused = [one.thickness_mm for one in tries if one.felt == "no-go"]
    return bool(blades_mm and refused) and min(refused) <= min(blades_mm) + 1e-9


def _tries_for_class(reading: Reading, spec: Spec, correction: Correction, constants: Constants) -> int:
    """After how many tries the class was known, or was given up."""
    for count in range(1, min(len(reading.tries), constants.most_tries) + 1):
        known = estimate(replace(reading, tries=reading.tries[:count]), spec, correction, constants)
        if known is not None and known.verdict != "open":
            return count
    return min(len(reading.tries), constants.most_tries)


def number_advice(
    reading: Reading,
    blades_mm: tuple[float, ...],
    spec: Spec,
    correction: Correction,
    prior: Prior,
    constants: Constants = DEFAULT,
) -> Advice:
    """The blade that is expected to take away most of the clearance's variance, until there is a number.

    Arguments as for `next_blade`; it is asked once the class is known, or was given up.
    """
    nothing = Advice(None, 0.0, "no-number", for_number=True)
    tries, access = reading.tries, reading.access
    since = _tries_for_class(reading, spec, correction, constants)
    if thinnest_refused(tries, blades_mm) or len(tries) - since >= constants.most_tries_for_number:
        return nothing
    posterior = posterior_of(tries, access, prior, correction, constants)
    gap_mm = gap_of_cells(posterior, prior, correction)

    def shares_of(thickness_mm: FloatArray, blades: list[int]) -> FloatArray:
        scatter = np.array([feel_sd_mm(count, access, constants) for count in blades])
        return expected_variance_share(
            posterior, gap_mm, thickness_mm=thickness_mm, sd_mm=scatter, constants=constants
        )

    low, high = float(gap_mm[0]), float(gap_mm[-1])
    stacks = _offered(blades_mm, tries, low, high, constants)
    least = constants.least_variance_share
    if stacks:
        shares = shares_of(np.array([sum(stack) for stack in stacks]), [len(stack) for stack in stacks])
        at = _preferred(stacks, shares, tries, prior.mean_mm, least=least, constants=constants)
        if at is not None:
            return Advice(stacks[at], 0.0, None, for_number=True)
    thickness = np.arange(max(_THICKNESS_STEP_MM, round(low, 2)), max(high, 0.02), _THICKNESS_STEP_MM)
    shares = shares_of(thickness, [1] * len(thickness))
    best = int(shares.argmax())
    return replace(
        nothing, would_settle_mm=round(float(thickness[best]), 2) if shares[best] >= least else None
    )
