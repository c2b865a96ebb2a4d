"""Which tries may be slips of the pen: most are taken at their word, some are cases.

A slip that is likely makes a valve's posterior two-peaked, which one normal cannot stand in for: there each
of the two is a config of its own. Where a slip is hardly likely, it is a small part of the mixture later.
"""

from collections.abc import Mapping, Sequence
from itertools import chain, combinations

import numpy as np

from pronostico.core.arrays import FloatArray
from pronostico.core.drift.inference import Config, Posterior, Slip
from pronostico.core.drift.likelihood_tables import Tables

SlipChances = Mapping[Slip, float]


def slip_chances(
    posterior: Posterior, before: Sequence[SlipChances] = (), *, since: int = 0
) -> list[dict[Slip, float]]:
    """For each chain, how likely each try of the readings reckoned with is a slip, all the others known.

    Args:
        before: what was known of them before the visit `since`; only later readings are asked then.
    """
    base = posterior.base
    chances: list[dict[Slip, float]] = [dict(one) for one in before] or [{} for _ in base.chains]
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
            table, ratio = base.slip_table(config.chain, index)
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


def _of_forks(posterior: Posterior) -> list[dict[Slip, float]]:
    """The tries that are cases already: their chances are the weights of the cases.

    One that was taken for a slip in every case is asked about anew.
    """
    chances: list[dict[Slip, float]] = [{} for _ in posterior.base.chains]
    sure: list[frozenset[Slip] | None] = [None for _ in posterior.base.chains]
    for config in posterior.configs:
        known = sure[config.chain]
        sure[config.chain] = config.slips if known is None else known & config.slips
    for at, config in enumerate(posterior.configs):
        share = float(posterior.tau_weight @ posterior.config_weight[:, at])
        for slip in config.slips - (sure[config.chain] or frozenset()):
            chances[config.chain][slip] = chances[config.chain].get(slip, 0.0) + share
    return chances


def _cavity_means(posterior: Posterior, places: list[tuple[int, int]]) -> tuple[FloatArray, FloatArray]:
    """What a hand would meet at each reading, without that reading; averaged over the spreads of drifts."""
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


def configs_for(posterior: Posterior, chances: list[dict[Slip, float]]) -> tuple[Config, ...]:
    """The configs of every chain by how likely its slips are."""
    constants = posterior.base.constants
    configs: list[Config] = []
    for at, known in enumerate(chances):
        ranked = sorted(known, key=lambda slip: known[slip], reverse=True)
        live = [slip for slip in ranked if known[slip] >= constants.live_slip][: constants.most_live_slips]
        sure = frozenset(slip for slip in live if known[slip] > 1.0 - constants.doubted_slip)
        open_ones = [slip for slip in live if slip not in sure]
        subsets = chain.from_iterable(combinations(open_ones, n) for n in range(len(open_ones) + 1))
        configs.extend(Config(at, sure | frozenset(subset)) for subset in subsets)
    return tuple(configs)


def slips_of(posterior: Posterior, chain: int) -> dict[Slip, float]:
    """The tries of a valve that may be slips of the pen, each with how likely, all readings known."""
    known = dict(posterior.slip_chances[chain]) if posterior.slip_chances else {}
    for at, config in enumerate(posterior.configs):
        if config.chain == chain:
            share = float(posterior.tau_weight @ posterior.config_weight[:, at])
            for slip in config.slips:
                known[slip] = known.get(slip, 0.0) + share
    return known


def doubts(
    configs: tuple[Config, ...], chances: list[dict[Slip, float]], least: float
) -> list[dict[Slip, float]]:
    """Tries that may be slips, though not likely enough to be cases of their own."""
    cases = {(config.chain, slip) for config in configs for slip in config.slips}
    return [
        {slip: p for slip, p in known.items() if p >= least and (at, slip) not in cases}
        for at, known in enumerate(chances)
    ]
