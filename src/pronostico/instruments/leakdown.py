"""A leak-down tester: air put into a cylinder at top on compression, and how much of it goes."""

from collections.abc import Iterator
from typing import Protocol

import numpy as np

from pronostico.core.simulation.condition import Condition
from pronostico.instruments.samples import Channel, Sample, settling

CHANNELS = (Channel("lost_percent", "leak-down", "%"),)
_NOISE_PERCENT = 0.6


class LeakdownTester(Protocol):
    """What holds air in a cylinder."""

    name: str

    def hold(self, cylinder: int) -> Iterator[Sample]:
        """Air lost, per cent, while the tester settles."""

    def heard(self, cylinder: int) -> tuple[str, ...]:
        """Where the air is heard meanwhile: intake, exhaust, crankcase."""


class SimulatedLeakdownTester:
    """A leak-down tester on an engine that is truly so.

    `crank_deg`: where the crank stands; None: brought to each cylinder's top on compression.
    """

    name = "simulated leak-down tester"

    def __init__(
        self, condition: Condition, rng: np.random.Generator, *, crank_deg: float | None = None
    ) -> None:
        self._condition = condition
        self._rng = rng
        self._crank_deg = crank_deg

    def hold(self, cylinder: int) -> Iterator[Sample]:
        """As the protocol has it."""
        lost = self._condition.leak_percent(cylinder, crank_deg=self._crank_deg)
        lost += self._rng.normal(0.0, _NOISE_PERCENT)
        for at, value in settling(lost, 100.0, over_s=0.5, for_s=4.0, step_s=0.1):
            noisy = value + self._rng.normal(0.0, 0.5 * _NOISE_PERCENT)
            yield Sample(round(at, 3), (round(float(np.clip(noisy, 0.0, 100.0)), 1),))

    def heard(self, cylinder: int) -> tuple[str, ...]:
        """As the protocol has it."""
        return self._condition.heard(cylinder, crank_deg=self._crank_deg)
