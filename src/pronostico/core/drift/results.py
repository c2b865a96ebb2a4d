"""What the drift model answers: every valve after its last visit, the visits' shifts, and the regimes."""

from dataclasses import dataclass, field
from typing import Literal

from pronostico.core.drift.chain import ValveChain
from pronostico.core.drift.moving import MovingMixture
from pronostico.core.drift.normal_mixture import Mixture
from pronostico.core.drift.posterior import Posterior
from pronostico.core.drift.regimes import Regime


@dataclass(frozen=True, slots=True)
class Spread:
    """A figure and its sd."""

    mean: float
    sd: float


@dataclass(frozen=True, slots=True)
class ChangePoint:
    """A reading far from what the visits before it predicted, in sd of the difference."""

    visit: int
    z: float
    direction: Literal["tight", "loose"]


@dataclass(frozen=True, slots=True)
class Predicted:
    """The one-step prediction of a clearance as found, mm, and the standardised innovation of its reading.

    `z` in sd of the difference; None where the reading only bounds it, on the side that was predicted.
    `own_mm`: the reading on its own.
    """

    visit: int
    mean_mm: float
    sd_mm: float
    z: float | None
    own_mm: float


@dataclass(frozen=True, slots=True)
class PossibleEntryError:
    """A try that may be an entry error: the reading of the valve's chain, the try, how likely."""

    reading: int
    try_number: int
    probability: float


@dataclass(frozen=True, slots=True)
class VisitShift:
    """The shift common to all readings of a visit, mm; suspect: large beyond chance."""

    mean_mm: float
    sd_mm: float
    suspect: bool


@dataclass(frozen=True, slots=True)
class ValveDrift:
    """One valve after its last visit.

    `state`: the clearance as left, the drift an interval and what of it passes or grows, together; `sink`:
    the net closing movement over the era, None with less than two visits of it, and `lasting_sink` without
    what bedding in moved; `broke`: where it changed suddenly last. `predicted`: each reading but the first
    against its prediction; `possible_entry_errors`: those tries. `side_drift`: what its side shares of its
    drift, mm an interval.
    """

    chain: ValveChain
    state: MovingMixture
    sink: Mixture | None
    lasting_sink: Mixture | None
    broke: ChangePoint | None
    predicted: tuple[Predicted, ...]
    possible_entry_errors: tuple[PossibleEntryError, ...]
    side_drift: Spread


@dataclass(frozen=True, slots=True)
class Component:
    """One regime of the drift: its probability, its posterior, and each valve's state under it.

    `states`: empty until they are asked for.
    """

    regime: Regime
    weight: float
    posterior: Posterior
    chains: tuple[ValveChain, ...]
    states: dict[str, MovingMixture] = field(default_factory=dict)


@dataclass(frozen=True, slots=True, eq=False)
class Drifts:
    """All valves that have a spec, and each visit's shift; `converged`: whether the computation settled.

    One is the same as itself alone: what follows from it is kept beside it.

    `components`: the regimes that are likely, their probabilities summing to one; empty without a valve.
    """

    valves: dict[str, ValveDrift]
    shifts: tuple[VisitShift, ...]
    components: tuple[Component, ...]
    converged: bool

    def probability(self, kind: str, *, side: str | None = None, valve: str | None = None) -> float:
        """Probability of a kind of regime at a place."""
        return sum(
            one.weight
            for one in self.components
            if one.regime.kind == kind and one.regime.side == side and one.regime.valve == valve
        )
