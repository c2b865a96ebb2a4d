"""What instruments give: samples over time, by channel; and what can go wrong on the way."""

from collections.abc import Iterable, Iterator
from dataclasses import dataclass

import numpy as np


@dataclass(frozen=True, slots=True)
class Channel:
    """One thing that an instrument shows: its id stands over its column in a recorded file."""

    id: str
    label: str
    unit: str


@dataclass(frozen=True, slots=True)
class Sample:
    """What an instrument shows at a time, seconds from the start; None: nothing came of that channel."""

    at_s: float
    values: tuple[float | None, ...]


class InstrumentLost(Exception):
    """The instrument went silent; what came before it stands."""


@dataclass(frozen=True, slots=True)
class Trouble:
    """What goes wrong with a simulated instrument.

    `dropped`: share of samples that do not arrive. `lead_off`: a lead is not connected, so that no channel
    shows anything. `lost_after_s`: it goes silent then.
    """

    dropped: float = 0.0
    lead_off: bool = False
    lost_after_s: float | None = None


def troubled(samples: Iterable[Sample], trouble: Trouble, rng: np.random.Generator) -> Iterator[Sample]:
    """Samples as they arrive where something is wrong.

    Raises:
        InstrumentLost: the instrument went silent.
    """
    for sample in samples:
        if trouble.lost_after_s is not None and sample.at_s >= trouble.lost_after_s:
            raise InstrumentLost(f"no signal since {trouble.lost_after_s:.1f} s")
        if rng.random() < trouble.dropped:
            continue
        if trouble.lead_off:
            sample = Sample(sample.at_s, (None,) * len(sample.values))  # noqa: PLW2901
        yield sample


def settling(
    towards: float, start: float, *, over_s: float, for_s: float, step_s: float
) -> Iterator[tuple[float, float]]:
    """Times and values of a needle that goes to its reading exponentially."""
    for index in range(round(for_s / step_s) + 1):
        at = index * step_s
        yield at, towards + (start - towards) * float(np.exp(-at / over_s))
