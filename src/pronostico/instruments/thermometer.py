"""A thermometer for the head and the air: two readings that settle."""

from collections.abc import Iterator
from typing import Protocol

import numpy as np

from pronostico.core.simulation.condition import Condition
from pronostico.instruments.samples import Channel, Sample, settling

CHANNELS = (Channel("head_c", "head", "\u00b0C"), Channel("air_c", "air", "\u00b0C"))
_NOISE_K = 0.3
_IN_HAND_C = 24.0


class Thermometer(Protocol):
    """What is held to the head, and into the air beside it."""

    name: str

    def settle(self) -> Iterator[Sample]:
        """Head and air, degrees Celsius, while the readings settle."""


class SimulatedThermometer:
    """A thermometer on an engine that is truly so."""

    name = "simulated thermometer"

    def __init__(self, condition: Condition, rng: np.random.Generator) -> None:
        self._condition = condition
        self._rng = rng

    def settle(self) -> Iterator[Sample]:
        """As the protocol has it."""
        head = settling(self._condition.head_c, _IN_HAND_C, over_s=0.8, for_s=5.0, step_s=0.2)
        air = settling(self._condition.air_c, _IN_HAND_C, over_s=0.8, for_s=5.0, step_s=0.2)
        for (at, of_head), (_, of_air) in zip(head, air, strict=True):
            values = (of_head + self._rng.normal(0.0, _NOISE_K), of_air + self._rng.normal(0.0, _NOISE_K))
            yield Sample(round(at, 3), tuple(round(float(one), 1) for one in values))
