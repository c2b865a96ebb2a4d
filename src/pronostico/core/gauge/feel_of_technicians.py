"""Whether a technician feels a blade otherwise than the others of a workshop. F-30.

The common offset of a visit is that of the technician's feel against those who measured the engine before,
and the visit's own. A normal linear model (Gelman and others, Bayesian Data Analysis, 3rd ed., section 14.8).
"""

from collections import Counter
from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
from scipy.special import ndtr

from pronostico.core.constants import DEFAULT, Constants


@dataclass(frozen=True, slots=True)
class OffsetOfVisit:
    """The offset that a visit's readings say, mm, and who measured it and the visits before."""

    technician: str
    before: tuple[str, ...]
    mean_mm: float
    sd_mm: float


@dataclass(frozen=True, slots=True)
class Feel:
    """How a technician's readings differ from the average of the others', mm.

    `p_apart`: the probability that they differ by more than `feel_apart_mm` in the sense of the mean.
    """

    technician: str
    visits: int
    mean_mm: float
    sd_mm: float
    p_apart: float
    apart: bool


def feel_of_technicians(visits: Sequence[OffsetOfVisit], constants: Constants = DEFAULT) -> list[Feel]:
    """The feel of each technician who measured after another one; empty where only one did."""
    told = [one for one in visits if set(one.before) - {one.technician}]
    names = sorted({one.technician for one in told} | {who for one in told for who in one.before})
    if len(names) < 2:
        return []
    at = {name: index for index, name in enumerate(names)}
    rows = np.zeros((len(told), len(names)))
    for row, one in zip(rows, told, strict=True):
        row[at[one.technician]] += 1.0
        for who, count in Counter(one.before).items():
            row[at[who]] -= count / len(one.before)
    noise = np.array([one.sd_mm**2 + constants.visit_shift_sd_mm**2 for one in told])
    offsets = np.array([one.mean_mm for one in told])
    precision = (rows.T / noise) @ rows + np.eye(len(names)) / constants.feel_between_sd_mm**2
    cov = np.linalg.inv(precision)
    mean = cov @ (rows.T @ (offsets / noise))
    counts = Counter(one.technician for one in visits)
    found = []
    for name in names:
        against = np.full(len(names), -1.0 / (len(names) - 1))
        against[at[name]] = 1.0
        apart, sd = float(against @ mean), float(np.sqrt(against @ cov @ against))
        p_apart = float(ndtr((abs(apart) - constants.feel_apart_mm) / sd))
        found.append(Feel(name, counts[name], apart, sd, p_apart, p_apart >= constants.feel_probability))
    return found
