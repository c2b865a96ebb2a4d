"""From evidence to ranked causes, each with its ledger. The inference itself is in `cause_network`."""

from collections.abc import Sequence
from math import isclose, log

from pronostico.core.causes.model import Diagnosis, Evidence, Knowledge, RankedCause, Weight
from pronostico.core.causes.network import Network, States
from pronostico.core.engine import Engine

_DECIBANS_PER_NAT = 10.0 / log(10.0)


def _weights(network: Network, states: States, c: int) -> list[Weight]:
    weights = []
    for e, one in enumerate(network.evidence):
        link = network.links.get((c, e))
        decibans = float(states.single[c, e]) * _DECIBANS_PER_NAT
        if link is not None and not isclose(decibans, 0.0, abs_tol=0.05):
            weights.append(Weight(one, decibans, link.why))
    return sorted(weights, key=lambda weight: -abs(weight.decibans))


def ranked(network: Network, states: States) -> Diagnosis:
    """The candidates of a network, most probable first."""
    marginals = states.marginals(len(network.candidates))
    kinds = [one.kind.id for one in network.candidates]
    anywhere = {kind: states.any_of([one == kind for one in kinds]) for kind in set(kinds)}
    causes = []
    for c, probability in enumerate(marginals):
        weights = _weights(network, states, c)
        causes.append(
            RankedCause(
                candidate=network.candidates[c],
                probability=float(probability),
                anywhere=anywhere[kinds[c]],
                speaks_for=tuple(weight for weight in weights if weight.decibans > 0.0),
                speaks_against=tuple(weight for weight in weights if weight.decibans < 0.0),
                together_decibans=float(states.alone[c]) * _DECIBANS_PER_NAT,
            )
        )
    causes.sort(key=lambda cause: -cause.probability)
    in_valve_train = states.any_of([not one.kind.elsewhere for one in network.candidates])
    return Diagnosis(tuple(causes), float(states.mass[0]), in_valve_train)


def diagnose(engine: Engine, knowledge: Knowledge, evidence: Sequence[Evidence]) -> Diagnosis:
    """Probability of every cause at every place, given what was found.

    Findings that the knowledge does not have say nothing. Places must be of this engine.

    Raises:
        UnknownValve: evidence names a valve that the engine does not have.
    """
    network = Network(engine, knowledge, evidence)
    return ranked(network, network.weigh())
