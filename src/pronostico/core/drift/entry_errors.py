"""Which tries may be entry errors: most are trusted, the doubtful ones are hypotheses of their own.

A likely entry error makes a valve's posterior bimodal, which one normal cannot approximate: each mode
is a configuration of its own. An unlikely entry error becomes a small component of the mixture later.
"""

from collections.abc import Mapping, Sequence
from itertools import chain, combinations

import numpy as np

from pronostico.core.arrays import FloatArray
from pronostico.core.drift.gap_prior import Config, EntryError
from pronostico.core.drift.likelihood_tables import Tables
from pronostico.core.drift.posterior import Posterior

EntryErrorChances = Mapping[EntryError, float]


def entry_error_chances(
    posterior: Posterior, before: Sequence[EntryErrorChances] = (), *, since: int = 0
) -> list[dict[EntryError, float]]:
    """For each chain, the probability that each try is an entry error, given all the others.

    Args:
        before: what was known of them before the visit `since`; only later readings are asked then.
    """
    base = posterior.base
    chances: list[dict[EntryError, float]] = [dict(one) for one in before] or [{} for _ in base.chains]
    forked = _of_forks(posterior)
    for at, known in enumerate(forked):
        chances[at].update(known)
    places, tables, ratios = [], [], []
    for at, config in enumerate(posterior.configs):
        for index, taken in enumerate(base.chains[config.chain].readings):
            if taken.visit >= posterior.upto:
                break
            if taken.visit < since:
                continue
            table, ratio = base.entry_error_table(config.chain, index)
            places.append((at, index))
            tables.append(table)
            ratios.append(ratio)
    if not places:
        return chances
    joined = Tables.join(tables)
    mean, variance = _cavity_means(posterior, places)
    weight, _ = joined.weights(mean, variance)
    ends = np.append(joined.starts[1:], len(weight))
    for (at, index), ratio, start, end in zip(places, ratios, joined.starts, ends, strict=True):
        config = posterior.configs[at]
        here = chances[config.chain]
        share = float(posterior.tau_weight @ posterior.config_weight[:, at])
        for one, p in enumerate(ratio @ weight[start:end]):
            if (index, one) not in forked[config.chain]:
                here[index, one] = here.get((index, one), 0.0) + share * float(p)
    return chances


def _of_forks(posterior: Posterior) -> list[dict[EntryError, float]]:
    """Probabilities of the tries that are hypotheses already: the weights of those hypotheses.

    One that was taken for an entry error in every case is asked about anew.
    """
    chances: list[dict[EntryError, float]] = [{} for _ in posterior.base.chains]
    sure: list[frozenset[EntryError] | None] = [None for _ in posterior.base.chains]
    for config in posterior.configs:
        known = sure[config.chain]
        sure[config.chain] = config.entry_errors if known is None else known & config.entry_errors
    for at, config in enumerate(posterior.configs):
        share = float(posterior.tau_weight @ posterior.config_weight[:, at])
        for entry_error in config.entry_errors - (sure[config.chain] or frozenset()):
            chances[config.chain][entry_error] = chances[config.chain].get(entry_error, 0.0) + share
    return chances


def _cavity_means(posterior: Posterior, places: list[tuple[int, int]]) -> tuple[FloatArray, FloatArray]:
    """Cavity mean and variance of the observed gap of each reading, averaged over the drift spreads."""
    base = posterior.base
    rows, columns = (np.array(part) for part in zip(*places, strict=True))
    at = (slice(None), rows, columns)
    precision = 1.0 / posterior.variance[at] - posterior.sites.precision[at]
    weighted = posterior.mean[at] / posterior.variance[at] - posterior.sites.weighted[at]
    precision = np.maximum(precision, 1.0 / 4.0)
    means, variances = weighted / precision, 1.0 / precision
    tau = posterior.tau_weight[:, None] * posterior.config_weight[:, rows]
    tau = tau / np.maximum(tau.sum(axis=0), 1e-300)
    mean = (tau * means).sum(axis=0)
    variance = (tau * (variances + (means - mean) ** 2)).sum(axis=0)
    chains = np.array([config.chain for config in posterior.configs])[rows]
    noise = base.constants.reading_sd_mm**2
    return mean + base.correction[chains, columns], variance + noise


def configs_for(posterior: Posterior, chances: list[dict[EntryError, float]]) -> tuple[Config, ...]:
    """The hypotheses of every chain, given the probabilities of its entry errors."""
    constants = posterior.base.constants
    configs: list[Config] = []
    for at, known in enumerate(chances):
        ranked = sorted(known, key=lambda entry_error: known[entry_error], reverse=True)
        live = [entry_error for entry_error in ranked if known[entry_error] >= constants.live_entry_error][
            : constants.most_live_entry_errors
        ]
        sure = frozenset(
            entry_error for entry_error in live if known[entry_error] > 1.0 - constants.doubted_entry_error
        )
        open_ones = [entry_error for entry_error in live if entry_error not in sure]
        subsets = chain.from_iterable(combinations(open_ones, n) for n in range(len(open_ones) + 1))
        configs.extend(Config(at, sure | frozenset(subset)) for subset in subsets)
    return tuple(configs)


def entry_errors_of(posterior: Posterior, chain: int) -> dict[EntryError, float]:
    """The tries of a valve that may be entry errors, each with how likely, all readings known."""
    known = dict(posterior.entry_error_chances[chain]) if posterior.entry_error_chances else {}
    for at, config in enumerate(posterior.configs):
        if config.chain == chain:
            share = float(posterior.tau_weight @ posterior.config_weight[:, at])
            for entry_error in config.entry_errors:
                known[entry_error] = known.get(entry_error, 0.0) + share
    return known


def doubts(
    configs: tuple[Config, ...], chances: list[dict[EntryError, float]], least: float
) -> list[dict[EntryError, float]]:
    """Tries that may be entry errors, though not likely enough to be hypotheses of their own."""
    cases = {(config.chain, entry_error) for config in configs for entry_error in config.entry_errors}
    return [
        {entry_error: p for entry_error, p in known.items() if p >= least and (at, entry_error) not in cases}
        for at, known in enumerate(chances)
    ]
