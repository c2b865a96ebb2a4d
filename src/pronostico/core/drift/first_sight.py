"""How likely the readings are under another regime, in closed form, as far as normal sites tell.

The sites of the steady computation are taken as normal measurements of the gaps. A regime changes the
variances of shared normals and adds a multiple of one vector to the gaps of some valves: what the readings
bear on follows by the matrix inversion lemma (Rasmussen and Williams, Gaussian Processes for Machine
Learning, appendix A.3). F-27 in docs/formulas.md.
"""

from dataclasses import dataclass

import numpy as np

from pronostico.core.arrays import BoolArray, FloatArray
from pronostico.core.drift.added_drift import Added
from pronostico.core.drift.gaussians import log_partition_of
from pronostico.core.drift.inference import Inference
from pronostico.core.drift.posterior import Posterior


@dataclass(frozen=True, slots=True)
class _AlongVector:
    """What the sites tell along one vector of gaps: its own precision, and with the shared normals.

    `own` (T, V), `cross` (T, V, m), `weighted` (T, V).
    """

    own: FloatArray
    cross: FloatArray
    weighted: FloatArray


class FirstSight:
    """The log evidence of regimes against that of a settled posterior, its sites kept.

    Where a valve has several hypotheses of its entry errors, its likeliest stands for them.
    """

    def __init__(self, settled: Posterior) -> None:
        inference = Inference(settled.base, settled.configs, settled.upto)
        self.met, self.variance = inference.met, settled.base.shared.variance
        self.tau_weight = settled.tau_weight
        share = settled.tau_weight @ settled.config_weight
        chosen = np.array(
            [
                max(np.flatnonzero(inference.groups == valve), key=lambda config: share[config])
                for valve in range(len(settled.base.chains))
            ]
        )
        message = settled.message
        self.size = inference.size
        self.pull, self.loads = message.pull[:, chosen], inference.loads[chosen]
        towards = np.einsum("tvji,tvj->tvi", message.gain[:, chosen], settled.sites.weighted[:, chosen])
        self.residual = towards - np.einsum("tvij,vj->tvi", self.pull, inference.mean[chosen])
        self.precision = message.precision[:, chosen].sum(axis=1)
        self.weighted = message.weighted[:, chosen].sum(axis=1)
        self.log_settled = self._log_partition(self.precision, self.weighted, self.variance[self.met])

    @staticmethod
    def _log_partition(precision: FloatArray, weighted: FloatArray, variance: FloatArray) -> FloatArray:
        """Of the shared normals, their prior included: (T, m, m), (T, m), (m,) to (T,)."""
        whole = precision + np.diag(1.0 / variance)
        return log_partition_of(weighted, whole) - 0.5 * float(np.log(variance).sum())

    def _along(self, moved: FloatArray) -> _AlongVector:
        pulled = np.einsum("tvij,vj->tvi", self.pull, moved)
        return _AlongVector(
            np.einsum("tvi,vi->tv", pulled, moved),
            np.einsum("vim,tvi->tvm", self.loads, pulled),
            np.einsum("tvi,vi->tv", self.residual, moved),
        )

    def log_ratio(
        self, variance: FloatArray, added: Added | None, moved: FloatArray, has: BoolArray
    ) -> float:
        """Log of the evidence under a regime over that of the settled posterior.

        Args:
            variance: of the shared normals, those that the settled posterior has; mm^2.
            added: the drift beside the steady one, if any.
            moved: how far that moves each gap that was read by an amplitude of one; (V, n).
            has: which valves have it; (V,).
        """
        of_shared = variance[self.met]
        if added is None:
            return self._mixed(self._log_partition(self.precision, self.weighted, of_shared))
        along = self._along(moved[:, : self.size])
        own, cross = along.own[:, has], along.cross[:, has]
        apart = 1.0 / (1.0 + added.own_sd**2 * own)
        share = added.own_sd**2 * apart
        off = along.weighted[:, has] - added.mean * own
        constant = (
            added.mean * along.weighted[:, has]
            - 0.5 * added.mean**2 * own
            + 0.5 * share * off**2
            + 0.5 * np.log(apart)
        ).sum(axis=1)
        count = len(self.met)
        precision = np.zeros((len(self.tau_weight), count + 1, count + 1))
        precision[:, :count, :count] = self.precision - np.einsum("tv,tvm,tvk->tmk", share, cross, cross)
        precision[:, :count, count] = added.shared_sd * (apart[..., None] * cross).sum(axis=1)
        precision[:, count, :count] = precision[:, :count, count]
        precision[:, count, count] = added.shared_sd**2 * (apart * own).sum(axis=1)
        weighted = np.zeros((len(self.tau_weight), count + 1))
        weighted[:, :count] = self.weighted - ((added.mean + share * off)[..., None] * cross).sum(axis=1)
        weighted[:, count] = added.shared_sd * (apart * off).sum(axis=1)
        return self._mixed(constant + self._log_partition(precision, weighted, np.append(of_shared, 1.0)))

    def _mixed(self, log_evidence: FloatArray) -> float:
        """Over the drift spreads, each weighted as the settled posterior has it."""
        logs = log_evidence - self.log_settled
        top = float(logs.max())
        return top + float(np.log(self.tau_weight @ np.exp(logs - top)))
