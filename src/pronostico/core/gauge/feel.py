"""The likelihood of a try with a blade: the probability of each answer for a given gap.

The hand feels m = z - t + e: the gap currently, less the blade, with the hand's own scatter.
Refused below -d0, dragging up to d1, free from there on; 'go' is 'it went in', felt not noted.
"""

import numpy as np
from scipy.special import log_ndtr

from pronostico.core.arrays import FloatArray
from pronostico.core.constants import DEFAULT, Constants
from pronostico.core.visits import Access, Felt, Try


def feel_sd_mm(blades: int, access: Access, constants: Constants = DEFAULT) -> float:
    """Standard deviation of the feel, mm, for a number of stacked blades."""
    feel = constants.feel_sd_straight_mm if access == "straight" else constants.feel_sd_awkward_mm
    return float(np.hypot(feel, np.sqrt(blades - 1) * constants.stack_sd_mm))


def _log_interval(low: FloatArray, high: FloatArray) -> FloatArray:
    """log(Phi(high) - Phi(low)), exact in both tails; shape as given."""
    # Mirror intervals above zero: near 1 two values of Phi differ only in lost digits.
    above = low > 0.0
    a, b = np.where(above, -high, low), np.where(above, -low, high)
    log_b = log_ndtr(b)
    result: FloatArray = log_b + np.log1p(-np.exp(log_ndtr(a) - log_b))
    return result


def log_probability(
    felt: Felt, gap_mm: FloatArray, thickness_mm: float, *, sd_mm: float, constants: Constants = DEFAULT
) -> FloatArray:
    """Log probability of an answer for each gap; same shape as `gap_mm`, natural log.

    >>> gap = np.array([0.20])
    >>> [round(float(np.exp(log_probability(f, gap, 0.20, sd_mm=0.006))[0]), 3)
    ...  for f in ("no-go", "drag", "free", "go")]
    [0.309, 0.685, 0.006, 0.691]
    """
    margin_mm = gap_mm - thickness_mm
    refused: FloatArray = (-constants.refuse_below_mm - margin_mm) / sd_mm
    freed: FloatArray = (constants.free_above_mm - margin_mm) / sd_mm
    match felt:
        case "no-go":
            return np.asarray(log_ndtr(refused))
        case "drag":
            return _log_interval(refused, freed)
        case "free":
            return np.asarray(log_ndtr(-freed))
        case "go":
            return np.asarray(log_ndtr(-refused))


def log_likelihood_of_try(
    one: Try, gap_mm: FloatArray, access: Access, constants: Constants = DEFAULT
) -> FloatArray:
    """Log likelihood of a try for each gap, the try taken at its word; same shape as `gap_mm`."""
    sd_mm = feel_sd_mm(len(one.blades_mm), access, constants)
    return log_probability(one.felt, gap_mm, one.thickness_mm, sd_mm=sd_mm, constants=constants)


def log_likelihood_with_entry_error(
    one: Try, gap_mm: FloatArray, access: Access, constants: Constants = DEFAULT
) -> FloatArray:
    """As `log_likelihood_of_try`, but the answer may have been noted wrongly."""
    entry_error = constants.entry_error_probability
    answers = 2.0 if one.felt == "go" else 1.0  # 'go' covers two of the three answers
    plain = np.exp(log_likelihood_of_try(one, gap_mm, access, constants))
    return np.asarray(np.log((1.0 - entry_error) * plain + entry_error * answers / 3.0))
