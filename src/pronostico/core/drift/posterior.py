"""The parts of a posterior: sites, messages between valves, marginals and the weights of hypotheses."""

from dataclasses import dataclass, field

import numpy as np

from pronostico.core.arrays import BoolArray, FloatArray
from pronostico.core.drift.gap_prior import Config, EntryError, GapSite


@dataclass(slots=True)
class Sites:
    """The normal site of each reading: precision and precision-weighted mean; (taus, configs, n)."""

    precision: FloatArray
    weighted: FloatArray

    @classmethod
    def none(cls, shape: tuple[int, ...]) -> "Sites":
        """Sites of zero precision."""
        return cls(np.zeros(shape), np.zeros(shape))


@dataclass(slots=True)
class Message:
    """The message of each hypothesis about the shared normals, and its covariances given those.

    `precision` (T, C, s, s), `weighted` (T, C, s), `constant` (T, C): log evidence as a function of them.
    `gain` (T, C, n, n) is I - K W, `own` (T, C, n, n) the posterior covariance given the shared normals,
    `pull` (T, C, n, n) is W.
    """

    precision: FloatArray
    weighted: FloatArray
    constant: FloatArray
    gain: FloatArray
    own: FloatArray
    pull: FloatArray


@dataclass(slots=True)
class Moments:
    """Cavity and tilted moments of gaps; each (T, readings of the tables).

    `weighted`, `precision`: of the gap without; `seen_mean`, `seen_variance`: of what a hand then meets;
    `mean`, `variance`, `evidence`: with the reading.
    """

    weighted: FloatArray
    precision: FloatArray
    sound: BoolArray
    seen_mean: FloatArray
    seen_variance: FloatArray
    mean: FloatArray
    variance: FloatArray
    evidence: FloatArray


@dataclass(slots=True)
class Marginal:
    """Marginals of each hypothesis, given the messages of all other valves.

    `mean`, `variance` (T, C, n): of the gaps. Of the shared normals that were met so far: `cov` (T, C, m, m),
    `centre` (T, C, m) with the config, `without_*` (T, V, ...) by the other valves alone; `precision`
    (T, D, m, m), `weighted` (T, D, m) once for all valves with one config, then for each other config.
    """

    message: Message
    mean: FloatArray
    variance: FloatArray
    precision: FloatArray
    weighted: FloatArray
    cov: FloatArray
    centre: FloatArray
    without_precision: FloatArray
    without_weighted: FloatArray
    weighed: Moments | None


@dataclass(slots=True)
class CaseWeights:
    """Weights of the drift spreads and of the hypotheses within a valve; the shared normals given all.

    `tau_weight` (T,); `config_weight` (T, C); `mean` (T, m), `cov` (T, m, m). `log_evidence`: of all
    readings, up to a constant that depends on the readings alone.
    """

    tau_weight: FloatArray
    config_weight: FloatArray
    mean: FloatArray
    cov: FloatArray
    log_evidence: float


@dataclass(slots=True)
class Posterior:
    """The posterior given all readings.

    `mean`, `variance` (T, C, n): of the gaps. `tau_weight` (T,); `config_weight` (T, C) within each valve;
    `shared_mean` (T, C, s) and `shared_cov` (T, C, s, s) as each config believes them; `all_mean` and
    `all_cov` of all valves together. `log_evidence`: of all readings, up to a constant that depends on the
    readings alone. `entry_error_chances`: by chain, those outside the configs.
    """

    base: GapSite
    configs: tuple[Config, ...]
    upto: int
    sites: Sites
    believed: Marginal
    shared_mean: FloatArray
    shared_cov: FloatArray
    all_mean: FloatArray
    all_cov: FloatArray
    config_weight: FloatArray
    tau_weight: FloatArray
    log_evidence: float
    converged: bool
    sweeps: int
    entry_error_chances: list[dict[EntryError, float]] = field(default_factory=list)

    @property
    def message(self) -> Message:
        """The messages of the hypotheses."""
        return self.believed.message

    @property
    def mean(self) -> FloatArray:
        """Means of the gaps."""
        return self.believed.mean

    @property
    def variance(self) -> FloatArray:
        """Variances of the gaps."""
        return self.believed.variance

    @property
    def size(self) -> int:
        """The largest number of readings of a chain."""
        return int(self.mean.shape[-1])


@dataclass(slots=True)
class Messages:
    """The message of each valve about the shared normals: precision (T, V, s, s), weighted mean (T, V, s)."""

    precision: FloatArray
    weighted: FloatArray
