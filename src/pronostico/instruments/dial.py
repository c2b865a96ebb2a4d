"""A dial indicator on the valve's tip: how far the valve lifts over two turns, and its clearance."""

from collections.abc import Iterator
from typing import Protocol

import numpy as np

from pronostico.core.simulation.condition import Condition
from pronostico.instruments.samples import Channel, Sample, settling

LIFT_CHANNELS = (Channel("crank_deg", "crank", "degrees"), Channel("lift_mm", "lift", "mm"))
CLEARANCE_CHANNELS = (Channel("clearance_mm", "play at the tip", "mm"),)
_STEP_DEG, _STEP_S = 6.0, 0.05
_NOISE_MM = 0.004


class DialIndicator(Protocol):
    """What reads the tip of a valve."""

    name: str

    def lift(self, valve: str) -> Iterator[Sample]:
        """Crank degrees and lift, mm, while the crank is turned twice the running way."""

    def clearance(self, valve: str, crank_deg: float) -> Iterator[Sample]:
        """Play at the tip, mm, while the rocker is rocked, the crank at rest."""


class SimulatedDial:
    """A dial indicator on an engine that is truly so."""

    name = "simulated dial indicator"

    def __init__(self, condition: Condition, rng: np.random.Generator) -> None:
        self._condition = condition
        self._rng = rng

    def lift(self, valve: str) -> Iterator[Sample]:
        """As the protocol has it."""
        on = self._condition.engine.valve(valve)
        for index in range(int(720.0 / _STEP_DEG) + 1):
            deg = index * _STEP_DEG
            shown = self._condition.valve_lift_mm(on, deg) + self._rng.normal(0.0, _NOISE_MM)
            yield Sample(round(index * _STEP_S, 3), (deg, round(float(shown), 3)))

    def clearance(self, valve: str, crank_deg: float) -> Iterator[Sample]:
        """As the protocol has it."""
        play = max(0.0, self._condition.play_mm(self._condition.engine.valve(valve), crank_deg))
        # The tip is set down a little differently each time.
        shown = max(0.0, play + self._rng.normal(0.0, _NOISE_MM))
        for at, value in settling(shown, 0.0, over_s=0.4, for_s=3.0, step_s=0.1):
            noisy = max(0.0, value + self._rng.normal(0.0, 0.3 * _NOISE_MM))
            yield Sample(round(at, 3), (round(float(noisy), 3),))
