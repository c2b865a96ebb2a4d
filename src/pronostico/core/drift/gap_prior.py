"""The prior of every gap that was read, valve by valve, and the likelihood table of each reading."""

from collections.abc import Sequence
from copy import copy
from dataclasses import dataclass

import numpy as np

from pronostico.core.arrays import FloatArray
from pronostico.core.constants import Constants
from pronostico.core.drift.added_drift import Added
from pronostico.core.drift.chain import Shared, ValveChain
from pronostico.core.drift.likelihood_tables import Table, entry_error_table_of, table_of

EntryError = tuple[int, int]
"""Which reading of a valve's chain, and which of its tries."""


@dataclass(frozen=True, slots=True)
class Config:
    """A hypothesis of one valve: which of its tries are entry errors."""

    chain: int
    entry_errors: frozenset[EntryError] = frozenset()

    def entry_errors_of(self, reading: int) -> frozenset[int]:
        """The tries of a reading that are entry errors."""
        return frozenset(one for of, one in self.entry_errors if of == reading)


class GapSite:
    """The prior of every gap that was read: means, loadings on the shared normals, covariances of each chain.

    Arrays by chain and reading, padded: `mean` (V, n), `own` (V, n, o), `loads` (V, n, shared), `fixed` and
    `by_tau` (V, n, n), `visit` (V, n), `correction` (V, n). `variance` (T, V, o): of the chains' own normals.
    """

    def __init__(self, chains: Sequence[ValveChain], shared: Shared, constants: Constants) -> None:
        self.chains = tuple(chains)
        self.shared = shared
        self.constants = constants
        self.taus = np.array(constants.valve_drift_sds_mm)
        most = max((len(one.readings) for one in chains), default=0)
        count = len(self.chains)
        self.mean = np.zeros((count, most))
        self.loads = np.zeros((count, most, shared.size))
        self.fixed = np.zeros((count, most, most))
        self.by_tau = np.zeros((count, most, most))
        normals = max((len(one.variance) for one in chains), default=0)
        self.own = np.zeros((count, most, normals))
        self.variance = np.zeros((len(self.taus), count, normals))
        self.visit = np.full((count, most), np.iinfo(np.int64).max)
        self.correction = np.zeros((count, most))
        self._tables: dict[tuple[int, int, frozenset[int]], Table] = {}
        self._entry_error_tables: dict[tuple[int, int], tuple[Table, FloatArray]] = {}
        for at, chain in enumerate(self.chains):
            self._fill(at, chain)

    def table(self, chain: int, reading: int, entry_errors: frozenset[int]) -> Table:
        """The likelihood table of a reading, given which of its tries are entry errors."""
        known = self._tables.get((chain, reading, entry_errors))
        if known is None:
            known = table_of(self.chains[chain].readings[reading].reading, entry_errors, self.constants)
            self._tables[chain, reading, entry_errors] = known
        return known

    def entry_error_table(self, chain: int, reading: int) -> tuple[Table, FloatArray]:
        """The likelihood table with entry errors marginalised, and P(entry error | gap) of each try."""
        known = self._entry_error_tables.get((chain, reading))
        if known is None:
            known = entry_error_table_of(self.chains[chain].readings[reading].reading, self.constants)
            self._entry_error_tables[chain, reading] = known
        return known

    def with_added(self, shared: Shared, added: Added | None, moved: FloatArray) -> "GapSite":
        """The prior with other shared normals, and a drift beside the steady one.

        Args:
            shared: with the common amplitude as its last normal where there is an added drift.
            moved: how far that moves each gap that was read, by an amplitude of one; (V, n).
        """
        other = copy(self)
        other.shared = shared
        if added is None:
            return other
        other.mean = self.mean + added.mean * moved
        common = (added.shared_sd * moved)[..., None]
        other.loads = np.concatenate([self.loads, common], axis=-1)
        own = added.own_sd * moved
        other.fixed = self.fixed + own[..., :, None] * own[..., None, :]
        return other

    def _fill(self, at: int, chain: ValveChain) -> None:
        readings = chain.readings
        self.variance[:, at, : len(chain.variance)] = chain.variance + self.taus[:, None] ** 2 * chain.by_tau
        if not readings:
            return
        here = slice(0, len(readings))
        own = np.array([one.latent.own[: len(chain.variance)] for one in readings])
        self.own[at, here, : len(chain.variance)] = own
        self.mean[at, here] = [one.latent.mean for one in readings]
        self.loads[at, here] = [one.latent.shared for one in readings]
        self.fixed[at, here, here] = (own * chain.variance) @ own.T
        self.by_tau[at, here, here] = (own * chain.by_tau) @ own.T
        self.visit[at, here] = [one.visit for one in readings]
        self.correction[at, here] = [one.correction_mm for one in readings]
