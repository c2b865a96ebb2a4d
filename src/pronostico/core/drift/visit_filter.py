"""The visits filtered in order: each predicted from those before it, then included."""

from collections.abc import Sequence

from pronostico.core.constants import Constants
from pronostico.core.drift.chain import Shared, ValveChain
from pronostico.core.drift.entry_errors import configs_for, doubts, entry_error_chances
from pronostico.core.drift.gap_prior import Config, EntryError, GapSite
from pronostico.core.drift.inference import Inference
from pronostico.core.drift.posterior import Posterior, Sites

_MOST_ROUNDS = 3


class VisitFilter:
    """The posterior after each visit in turn, the sites and hypotheses carried from one to the next."""

    def __init__(self, chains: Sequence[ValveChain], shared: Shared, constants: Constants) -> None:
        self.base = GapSite(chains, shared, constants)
        self.configs: tuple[Config, ...] = tuple(Config(at) for at in range(len(chains)))
        self.sites: Sites | None = None
        self.chances: list[dict[EntryError, float]] = []

    def _carried(self, inference: Inference) -> Sites:
        """Initial sites: those known from the nearest hypothesis of the same valve."""
        sites = inference.start()
        if self.sites is None:
            return sites
        size = min(self.sites.precision.shape[2], inference.size)
        for at, config in enumerate(inference.configs):
            like = min(
                (index for index, one in enumerate(self.configs) if one.chain == config.chain),
                key=lambda index: len(self.configs[index].entry_errors ^ config.entry_errors),
            )
            sites.precision[:, at, :size] = self.sites.precision[:, like, :size]
            sites.weighted[:, at, :size] = self.sites.weighted[:, like, :size]
        return sites

    def _keep(self, inference: Inference, posterior: Posterior) -> None:
        self.configs, self.sites = inference.configs, posterior.sites

    def posterior_before(self, upto: int) -> Posterior:
        """The posterior of the visits before `upto`, with the hypotheses that its entry errors call for."""
        inference = Inference(self.base, self.configs, upto)
        # The new readings are held against what was predicted before they are believed.
        posterior = inference.predicted(self._carried(inference))
        # What the readings before may be is known well enough until the new ones have been imported.
        chances = entry_error_chances(posterior, self.chances, since=upto - 1 if self.chances else 0)
        for round_ in range(_MOST_ROUNDS):
            if round_ > 0:
                chances = entry_error_chances(posterior)
            configs = configs_for(posterior, chances)
            nearly = upto < self.base.shared.visits
            if configs == inference.configs:
                if posterior.sweeps > 0:
                    break
                # No new case to weigh: what was predicted is where settling begins.
                posterior = inference.settle(posterior.sites, nearly=nearly, begin=posterior)
                continue
            self._keep(inference, posterior)
            inference = Inference(self.base, configs, upto)
            posterior = inference.settle(self._carried(inference), nearly=nearly)
        self.chances = chances
        posterior.entry_error_chances = doubts(
            inference.configs, chances, self.base.constants.doubted_entry_error
        )
        self._keep(inference, posterior)
        return posterior
