"""The posterior of the clearance from the tries of one reading, and the verdict.

The gap currently is z = c + correction + delta, with c the clearance at the reference temperature,
c ~ N(middle of spec, prior_sd^2), and delta ~ N(0, uncertainty^2) what the temperature correction may
be off by. Tries are independent given z. The posterior of z is taken on a fine grid and carried over to
c exactly: given z, c is normal. F-01 and F-02 in docs/formulas.md.
"""

from dataclasses import dataclass
from functools import lru_cache
from typing import Literal

import numpy as np
from scipy.special import ndtr

from pronostico.core.arrays import FloatArray
from pronostico.core.constants import DEFAULT, Constants
from pronostico.core.engine import Spec
from pronostico.core.gauge.feel import log_likelihood_of_try, log_likelihood_with_entry_error
from pronostico.core.thermal import Correction
from pronostico.core.visits import Access, Reading, Try

Class = Literal["tight", "in", "loose"]
Verdict = Literal["tight", "in", "loose", "open"]
CLASSES: tuple[Class, Class, Class] = ("tight", "in", "loose")

_STEP_MM = 0.001  # a sixth of the sharpest thing on the grid, the feel of a blade
_REACH_SD = 8.0
_QUANTILE_TOLERANCE_MM = 1e-7
_AROUND_BLADES_MM = 0.25
# Where the best single gap is looked for when tries are held against each other.
_LOWEST_GAP_MM, _HIGHEST_GAP_MM = -0.25, 2.50


@dataclass(frozen=True, slots=True)
class Bracket:
    """What went and what did not, mm; None where nothing did."""

    went_mm: float | None
    refused_mm: float | None


@dataclass(frozen=True, slots=True)
class Estimate:
    """One reading on its own: the clearance at the reference temperature, mm, and its verdict.

    `gives_number`: whether the clearance is known well enough to choose a shim or a turn by; a verdict may
    rest on a bound alone, and then the mean is the prior's and no figure to compute with. The `bracket` is of
    the gap as it was felt, `correction_mm` over the clearance. `verdict_as_read`: the verdict without the
    correction, where that is large enough to be shown, else None.
    """

    mean_mm: float
    sd_mm: float
    q05_mm: float
    q95_mm: float
    p_tight: float
    p_in: float
    p_loose: float
    verdict: Verdict
    leaning: Class
    contradiction: bool
    bracket: Bracket
    gives_number: bool
    correction_mm: float
    verdict_as_read: Verdict | None

    def probability(self, which: Class) -> float:
        """Probability of a class."""
        return {"tight": self.p_tight, "in": self.p_in, "loose": self.p_loose}[which]


@dataclass(frozen=True, slots=True)
class ClearancePosterior:
    """Distribution of a clearance: cells of even mass, each spread by the same normal.

    `low_mm`, `high_mm`, `mass`: shape (cells,); masses sum to one. `spread_mm` >= 0.
    """

    low_mm: FloatArray
    high_mm: FloatArray
    mass: FloatArray
    spread_mm: float

    @property
    def mean_mm(self) -> float:
        """Mean, mm."""
        return float(self.mass @ (0.5 * (self.low_mm + self.high_mm)))

    @property
    def sd_mm(self) -> float:
        """Standard deviation, mm; the cells' own width and the spread counted in."""
        middle = 0.5 * (self.low_mm + self.high_mm)
        cell = (self.high_mm - self.low_mm) ** 2 / 12.0
        variance = self.mass @ ((middle - self.mean_mm) ** 2 + cell) + self.spread_mm**2
        return float(np.sqrt(variance))

    def share_below(self, clearance_mm: float) -> FloatArray:
        """How much of each cell lies below a figure in mm, 0 to 1; shape (cells,)."""
        return self._share_and_slope(clearance_mm)[0]

    def _share_and_slope(self, clearance_mm: float) -> tuple[FloatArray, FloatArray]:
        """How much of each cell lies below a figure in mm, and how fast that rises, per mm; (cells,) each."""
        width = self.high_mm - self.low_mm
        if self.spread_mm < 1e-9:
            share = (clearance_mm - self.low_mm) / width
            return np.clip(share, 0.0, 1.0), np.where((share > 0.0) & (share < 1.0), 1.0 / width, 0.0)
        # The mean of Phi over a cell: the integral of Phi(u) is u Phi(u) + phi(u).
        u = (clearance_mm - self.low_mm) / self.spread_mm
        v = (clearance_mm - self.high_mm) / self.spread_mm
        phi_u, phi_v = ndtr(u), ndtr(v)
        area = u * phi_u - v * phi_v + (np.exp(-0.5 * u * u) - np.exp(-0.5 * v * v)) / np.sqrt(2.0 * np.pi)
        return np.clip(area / (u - v), 0.0, 1.0), (phi_u - phi_v) / width

    def below(self, clearance_mm: float) -> float:
        """Probability that the clearance is below a figure in mm."""
        return float(np.clip(self.mass @ self.share_below(clearance_mm), 0.0, 1.0))

    def quantile_mm(self, probability: float) -> float:
        """The clearance below which that probability lies, mm.

        Newton's method, kept within the interval that is known to hold the root (Press and others, Numerical
        Recipes, 3rd edition, section 9.4).
        """
        # By hand: a root finder's package would double the time that the command line starts in.
        margin = 10.0 * self.spread_mm + 1e-6
        low, high = float(self.low_mm[0]) - margin, float(self.high_mm[-1]) + margin
        cell = min(int(np.searchsorted(np.cumsum(self.mass), probability)), len(self.mass) - 1)
        at = 0.5 * float(self.low_mm[cell] + self.high_mm[cell])
        while high - low > _QUANTILE_TOLERANCE_MM:
            share, slope = self._share_and_slope(at)
            missing, density = probability - float(self.mass @ share), float(self.mass @ slope)
            low, high = (at, high) if missing > 0.0 else (low, at)
            step = missing / density if density > 0.0 else np.inf
            if abs(step) < _QUANTILE_TOLERANCE_MM:
                return at + step
            at = at + step if low < at + step < high else 0.5 * (low + high)
        return at


def bracket(tries: tuple[Try, ...]) -> Bracket:
    """The thickest blade that went in and the thinnest that did not."""
    went = [one.thickness_mm for one in tries if one.felt != "no-go"]
    refused = [one.thickness_mm for one in tries if one.felt == "no-go"]
    return Bracket(max(went, default=None), min(refused, default=None))


def bounded_both_ways(tries: tuple[Try, ...]) -> bool:
    """Whether at least one try bounds the clearance from above and one from below; a drag does both."""
    felt = {one.felt for one in tries}
    return bool(felt & {"no-go", "drag"}) and bool(felt & {"drag", "free", "go"})


def _gap_grid(tries: tuple[Try, ...], mean_mm: float, sd_mm: float) -> FloatArray:
    """Evenly spaced gaps that hold both what was believed and what was tried; shape (n,)."""
    thicknesses = [one.thickness_mm for one in tries]
    low = min([mean_mm - _REACH_SD * sd_mm, *(mm - _AROUND_BLADES_MM for mm in thicknesses)])
    high = max([mean_mm + _REACH_SD * sd_mm, *(mm + _AROUND_BLADES_MM for mm in thicknesses)])
    return np.arange(low, high + _STEP_MM, _STEP_MM)


def _log_likelihood(
    tries: tuple[Try, ...], access: Access, gap_mm: FloatArray, constants: Constants
) -> FloatArray:
    total = np.zeros_like(gap_mm)
    for one in tries:
        total += log_likelihood_of_try(one, gap_mm, access, constants)
    return total


@dataclass(frozen=True, slots=True)
class Prior:
    """What is believed of a clearance before a reading, mm."""

    mean_mm: float
    sd_mm: float


def posterior_of(
    tries: tuple[Try, ...],
    access: Access,
    prior: Prior,
    correction: Correction,
    constants: Constants = DEFAULT,
) -> ClearancePosterior:
    """Distribution of the clearance after some tries (none: the prior), the tries at their word."""
    gap_mm = _gap_grid(tries, prior.mean_mm + correction.correction_mm, prior.sd_mm)
    log_likelihood = _log_likelihood(tries, access, gap_mm, constants)
    return _posterior(gap_mm, log_likelihood, prior, correction)


def _posterior(
    gap_mm: FloatArray, log_likelihood: FloatArray, prior: Prior, correction: Correction
) -> ClearancePosterior:
    gap_mean = prior.mean_mm + correction.correction_mm
    gap_variance = prior.sd_mm**2 + correction.uncertainty_mm**2
    log_density = log_likelihood - 0.5 * (gap_mm - gap_mean) ** 2 / gap_variance
    mass = np.exp(log_density - log_density.max())
    keep = mass > 1e-14
    gap_mm, mass = gap_mm[keep], mass[keep] / mass[keep].sum()
    # Given the gap, the clearance is normal: share k of a surprise is the clearance's, the rest delta's.
    share = prior.sd_mm**2 / gap_variance
    spread = prior.sd_mm * correction.uncertainty_mm / gap_variance**0.5
    centre = prior.mean_mm + share * (gap_mm - gap_mean)
    half = 0.5 * share * _STEP_MM
    return ClearancePosterior(centre - half, centre + half, mass, spread)


def _best_explanation(
    gap_mm: FloatArray, log_likelihood: FloatArray, lower_mm: float, upper_mm: float
) -> dict[Class, float]:
    """Largest log likelihood of the tries over the gaps of each class.

    Limits belong to both neighbours here: a class that is open at its limit comes as near as one likes.
    """
    return {
        "tight": float(log_likelihood[gap_mm <= lower_mm].max()),
        "in": float(log_likelihood[(gap_mm >= lower_mm) & (gap_mm <= upper_mm)].max()),
        "loose": float(log_likelihood[gap_mm >= upper_mm].max()),
    }


def contradicts(tries: tuple[Try, ...], access: Access, constants: Constants = DEFAULT) -> bool:
    """Whether no single gap can well explain all the tries together."""
    gap_mm = np.arange(_LOWEST_GAP_MM, _HIGHEST_GAP_MM + _STEP_MM, _STEP_MM)
    each = [log_likelihood_with_entry_error(one, gap_mm, access, constants) for one in tries]
    together = float(np.sum(each, axis=0).max())
    apart = sum(float(one.max()) for one in each)
    return together - apart < float(np.log(constants.contradiction_ratio))


@lru_cache(maxsize=8192)
def estimate(
    reading: Reading, spec: Spec, correction: Correction, constants: Constants = DEFAULT
) -> Estimate | None:
    """The estimate from a reading on its own; None for a reading without tries.

    The answer follows from the arguments alone, so those of readings that did not change are kept.
    """
    tries, access = reading.tries, reading.access
    if not tries:
        return None
    lower, upper = spec.min_mm + correction.correction_mm, spec.max_mm + correction.correction_mm
    prior = Prior(spec.middle_mm, constants.prior_sd_mm)
    grid = _gap_grid(tries, prior.mean_mm + correction.correction_mm, prior.sd_mm)
    # The limits come last, off the even grid: only the comparison of classes looks at them.
    gap_mm = np.append(grid, [lower, upper])
    log_likelihood = _log_likelihood(tries, access, gap_mm, constants)
    posterior = _posterior(grid, log_likelihood[:-2], prior, correction)
    p_tight = posterior.below(spec.min_mm)
    p_loose = 1.0 - posterior.below(spec.max_mm)
    probability: dict[Class, float] = {
        "tight": p_tight,
        "in": max(0.0, 1.0 - p_tight - p_loose),
        "loose": p_loose,
    }
    leaning = max(CLASSES, key=lambda which: probability[which])
    best = _best_explanation(gap_mm, log_likelihood, lower, upper)
    rival = max(best[which] for which in CLASSES if which != leaning)
    settled = probability[leaning] >= constants.verdict_probability and rival - best[leaning] < float(
        np.log(constants.verdict_rival_ratio)
    )
    as_read: Verdict | None = None
    if abs(correction.correction_mm) > constants.temperature_tells_share * spec.width_mm:
        uncorrected = estimate(reading, spec, Correction(0.0, correction.uncertainty_mm), constants)
        as_read = None if uncorrected is None else uncorrected.verdict
    q05, q95 = posterior.quantile_mm(0.05), posterior.quantile_mm(0.95)
    widest = max(constants.number_width_mm, spec.width_mm)
    return Estimate(
        mean_mm=posterior.mean_mm,
        sd_mm=posterior.sd_mm,
        q05_mm=q05,
        q95_mm=q95,
        p_tight=p_tight,
        p_in=probability["in"],
        p_loose=p_loose,
        verdict=leaning if settled else "open",
        leaning=leaning,
        contradiction=contradicts(tries, access, constants),
        bracket=bracket(tries),
        correction_mm=correction.correction_mm,
        verdict_as_read=as_read,
        gives_number=bounded_both_ways(tries) and q95 - q05 <= widest,
    )
