"""Two readings of a clearance held side by side: is the difference more than the readings' own error?

F-34 in docs/formulas.md.
"""

from dataclasses import dataclass
from math import hypot, sqrt
from typing import Literal

from pronostico.core.constants import DEFAULT, Constants
from pronostico.core.gauge.reading import Estimate

Change = Literal["tighter", "looser", "none shown"]

_SHOWN_AT_SD = 2.0


@dataclass(frozen=True, slots=True)
class Difference:
    """The second clearance less the first, mm, its sd, and whether that is more than their error."""

    mean_mm: float
    sd_mm: float
    change: Change


def difference(
    first: Estimate, second: Estimate, *, same_visit: bool, constants: Constants = DEFAULT
) -> Difference | None:
    """The difference of two readings of different visits, or of one: None where either is only a bound.

    Args:
        same_visit: what all readings of a visit share is then in both, and cancels.
    """
    if not (first.gives_number and second.gives_number):
        return None
    shared = 0.0 if same_visit else sqrt(2.0) * constants.visit_shift_sd_mm
    own = sqrt(2.0) * constants.reading_sd_mm
    mean, sd = second.mean_mm - first.mean_mm, hypot(first.sd_mm, second.sd_mm, own, shared)
    change: Change = "none shown"
    if abs(mean) > _SHOWN_AT_SD * sd:
        change = "tighter" if mean < 0.0 else "looser"
    return Difference(mean, sd, change)
