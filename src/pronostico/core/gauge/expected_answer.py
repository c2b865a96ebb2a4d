"""Which answer a blade is expected to give, by what was believed of the clearance and read of it so far.

F-09 in docs/formulas.md; the probability of an answer in a given gap is that of F-01.
"""

import numpy as np
from scipy.special import ndtr

from pronostico.core.arrays import FloatArray
from pronostico.core.constants import DEFAULT, Constants
from pronostico.core.gauge.feel import feel_sd_mm
from pronostico.core.gauge.reading import ClearancePosterior, Prior, posterior_of
from pronostico.core.thermal import Correction
from pronostico.core.visits import Felt, Reading


def answers_by_gap(
    gap_mm: FloatArray, thickness_mm: FloatArray, sd_mm: FloatArray, constants: Constants
) -> tuple[FloatArray, FloatArray, FloatArray]:
    """Probability of refused, dragging and free for each candidate in each gap; (candidates, cells)."""
    margin = gap_mm[None, :] - thickness_mm[:, None]
    refused = ndtr((-constants.refuse_below_mm - margin) / sd_mm[:, None])
    not_free = ndtr((constants.free_above_mm - margin) / sd_mm[:, None])
    return refused, np.clip(not_free - refused, 0.0, 1.0), 1.0 - not_free


def gap_of_cells(posterior: ClearancePosterior, prior: Prior, correction: Correction) -> FloatArray:
    """The current gap in each cell: the share that the posterior's cells were scaled by, undone."""
    middle = 0.5 * (posterior.low_mm + posterior.high_mm)
    share = prior.sd_mm**2 / (prior.sd_mm**2 + correction.uncertainty_mm**2)
    return np.asarray(prior.mean_mm + correction.correction_mm + (middle - prior.mean_mm) / share)


def probability_of_answers(
    reading: Reading,
    blades_mm: tuple[float, ...],
    correction: Correction,
    prior: Prior,
    constants: Constants = DEFAULT,
) -> dict[Felt, float]:
    """The probability of each answer that a stack of blades may give next; of three, they sum to 1.

    Args:
        reading: the tries so far (none yet is well) and the access.
        blades_mm: what is tried next, mm.
        prior: what was believed of the clearance before the first try.
    """
    posterior = posterior_of(reading.tries, reading.access, prior, correction, constants)
    answers = answers_by_gap(
        gap_of_cells(posterior, prior, correction),
        np.array([sum(blades_mm)]),
        np.array([feel_sd_mm(len(blades_mm), reading.access, constants)]),
        constants,
    )
    refused, dragging, free = (float(one[0] @ posterior.mass) for one in answers)
    whole = refused + dragging + free
    return {"no-go": refused / whole, "drag": dragging / whole, "free": free / whole}
