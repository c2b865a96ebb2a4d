"""A compression gauge in the plug hole: the pressure that it holds, stroke by stroke of cranking."""

from collections.abc import Iterator
from typing import Protocol

import numpy as np

from pronostico.core.simulation.condition import Condition
from pronostico.instruments.samples import Channel, Sample

CHANNELS = (Channel("stroke", "stroke", ""), Channel("pressure_kpa", "pressure", "kPa"))
_STROKES, _STROKE_S, _STEP_S, _RISE_S = 8, 0.6, 0.05, 0.15
# What the first stroke lacks of the whole, and what each further one leaves of that.
_FIRST_LACKS, _LEFT_EACH = 0.5, 0.4
_GAUGE_SHARE = 0.01


class CompressionGauge(Protocol):
    """What is screwed into a plug hole."""

    name: str

    def strokes(self, cylinder: int, *, oiled: bool) -> Iterator[Sample]:
        """Stroke counted and pressure held, kPa gauge, while the engine is cranked."""


class SimulatedCompressionGauge:
    """A compression gauge on an engine that is truly so."""

    name = "simulated compression gauge"

    def __init__(self, condition: Condition, rng: np.random.Generator) -> None:
        self._condition = condition
        self._rng = rng

    def strokes(self, cylinder: int, *, oiled: bool) -> Iterator[Sample]:
        """As the protocol has it."""
        whole = self._condition.compression_kpa(cylinder, oiled=oiled)
        whole *= 1.0 + self._rng.normal(0.0, _GAUGE_SHARE)
        held = 0.0
        steps = round(_STROKE_S / _STEP_S)
        for stroke in range(1, _STROKES + 1):
            peak = whole * (1.0 - _FIRST_LACKS * _LEFT_EACH ** (stroke - 1))
            for step in range(steps):
                rising = min(1.0, step * _STEP_S / _RISE_S)
                shown = held + (peak - held) * rising + self._rng.normal(0.0, 2.0)
                at = ((stroke - 1) * steps + step) * _STEP_S
                yield Sample(round(at, 3), (float(stroke), round(max(0.0, float(shown)), 1)))
            held = peak
