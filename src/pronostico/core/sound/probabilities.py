"""How likely each finding is, from the evidence: a logistic fit with its prior taken out. F-41."""

from dataclasses import dataclass

import numpy as np
from scipy.special import expit, logit

from pronostico.core.sound.engine import Firing
from pronostico.core.sound.evidence import Evidence
from pronostico.core.sound.unrelated import Unrelated

_MOST_LOG_RATIO = 4.6
_PRIORS = {"half": 0.4, "crank": 0.15, "unrelated": 0.2, "alike": 0.2}
# The prior logit of what they were fitted on, then the weights.
_HALF = (0.2924, (0.83389, 0.92412, -0.37001, 0.02583, 0.11724, 0.19144, -0.21339, 1.61302))
_CRANK = (-0.9238, (-0.93070, 0.19173, 0.11164, 0.50393, -0.05363, 0.10964, -0.49401, -0.98255))
_UNRELATED = (-1.8150, (-3.03262, 0.02128, 0.48550, -0.16788))
_ALIKE = (-1.8061, (-3.70947, 2.25625, 0.07458, 0.76759, -0.57541, -0.08563))


@dataclass(frozen=True, slots=True)
class Finding:
    """The probability of a finding with its usual prior, and the natural log of its likelihood ratio."""

    p: float
    log_ratio: float

    @property
    def log10_ratio(self) -> float:
        """The likelihood ratio as a power of ten."""
        return self.log_ratio / float(np.log(10.0))


@dataclass(frozen=True, slots=True)
class Findings:
    """The findings; `alike`: all tick alike, None where the cylinders are not known or there is one."""

    half: Finding
    crank: Finding
    unrelated: Finding
    alike: float | None


def _positive(x: float) -> float:
    return max(x, 0.0)


def _finding(
    name: str, fit: tuple[float, tuple[float, ...]], basis: tuple[float, ...], *, known: bool, p_right: float
) -> Finding:
    fitted_prior, weights = fit
    log_ratio = float(np.clip(np.dot(weights, basis) - fitted_prior, -_MOST_LOG_RATIO, _MOST_LOG_RATIO))
    if not known:
        log_ratio /= 2.0
    prior = _PRIORS[name]
    p = float(expit(log_ratio + logit(prior)))
    # As far as the crank speed may be wrong the recording says nothing.
    p = prior + (p - prior) * p_right
    return Finding(p, float(logit(p) - logit(prior)))


def findings(found: Evidence, strange: Unrelated, firing: Firing, *, p_right: float) -> Findings:
    """What the evidence comes to."""
    lt, lk = float(np.clip(found.half, -4.0, 14.0)), float(np.clip(found.crank, -4.0, 8.0))
    lb, l2 = float(np.clip(found.low, -4.0, 16.0)), float(np.clip(found.alike, -6.0, 14.0))
    hf, lu = float(np.clip(found.height_alike, 0.0, 6.0)), float(np.clip(strange.log_evidence, 5.0, 30.0))
    ev = min(found.events / firing.count, 3.0)
    above = _positive
    single = float(firing.known and firing.count == 1)
    half = (1.0, lt, above(lt) ** 0.5, above(l2), hf, above(hf - 1.5), above(lk), ev)
    crank = (1.0, lk, above(lk), above(lk - 2.0), above(lb) ** 0.5, above(lb - 4.0), above(lt) ** 0.5, single)
    alike = (1.0, ev, above(l2), hf, above(hf - 1.5), above(lt))
    other = (1.0, lu, above(lu - 14.0), above(lu - 20.0))
    known = firing.known
    of_crank = _finding("crank", _CRANK, crank, known=known, p_right=p_right)
    if firing.each_turn:
        of_crank = Finding(_PRIORS["crank"], 0.0)
    has_family = known and firing.count > 1
    return Findings(
        _finding("half", _HALF, half, known=known, p_right=p_right),
        of_crank,
        _finding("unrelated", _UNRELATED, other, known=known, p_right=p_right),
        _finding("alike", _ALIKE, alike, known=known, p_right=p_right).p if has_family else None,
    )


def answer_of(known: Findings) -> str:
    """What the recording says in one word, or several joined by a plus."""
    named = (("valve-train", known.half), ("bottom-end", known.crank), ("unrelated", known.unrelated))
    sure = [name for name, one in named if one.p >= 0.8]
    if sure:
        return "+".join(sure)
    if all(one.p <= 0.2 and one.log_ratio <= -0.3 for _, one in named):
        return "nothing"
    return "cannot-tell"
