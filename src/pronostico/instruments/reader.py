"""A code reader on an engine that idles: speed, trims, manifold pressure, misfires by cylinder, over time."""

from collections.abc import Iterator
from typing import Protocol

import numpy as np

from pronostico.core.cylinder import pressure_at
from pronostico.core.simulation.condition import Condition
from pronostico.instruments.samples import Channel, Sample

_FIRST = (
    Channel("idle_per_min", "idle speed", "1/min"),
    Channel("trim_short_percent", "trim, short term", "%"),
    Channel("trim_long_percent", "trim, long term", "%"),
    Channel("manifold_kpa", "manifold pressure", "kPa"),
)
_FOR_S, _STEP_S = 20.0, 0.5
_IDLE_PER_MIN, _VACUUM_KPA = 850.0, 64.0


def channels_of(cylinders: tuple[int, ...]) -> tuple[Channel, ...]:
    """The channels on an engine: what it has once, then the misfires of each cylinder."""
    return (*_FIRST, *(Channel(f"misfires_{n}", f"misfires, cylinder {n}", "counted") for n in cylinders))


class CodeReader(Protocol):
    """What reads the engine's own control."""

    name: str

    def stream(self) -> Iterator[Sample]:
        """Idle speed, trims in per cent, manifold pressure in kPa, misfires counted by cylinder."""


class SimulatedCodeReader:
    """A code reader on an engine that is truly so."""

    name = "simulated code reader"

    def __init__(self, condition: Condition, rng: np.random.Generator) -> None:
        self._condition = condition
        self._rng = rng

    def stream(self) -> Iterator[Sample]:
        """As the protocol has it."""
        condition, rng = self._condition, self._rng
        cylinders = condition.engine.cylinders
        miss = {n: condition.misfire_share(n) for n in cylinders}
        weak = sum(miss.values()) / len(cylinders)
        outside = pressure_at(condition.altitude_m)
        counted = dict.fromkeys(cylinders, 0)
        for index in range(round(_FOR_S / _STEP_S) + 1):
            idle = _IDLE_PER_MIN * (1.0 - 0.25 * weak) + rng.normal(0.0, 8.0 + 120.0 * weak)
            if index:
                for n in cylinders:
                    counted[n] += int(rng.poisson(miss[n] * idle / 120.0 * _STEP_S))
            vacuum = _VACUUM_KPA * outside / 101.325 * (1.0 - 0.35 * weak) + rng.normal(0.0, 0.5 + 6.0 * weak)
            long = condition.trim_percent + 8.0 * weak
            values = (
                round(float(idle), 0),
                round(float(0.3 * long + rng.normal(0.0, 1.5)), 1),
                round(float(long + rng.normal(0.0, 0.3)), 1),
                round(float(outside - vacuum), 1),
                *(float(counted[n]) for n in cylinders),
            )
            yield Sample(round(index * _STEP_S, 3), values)
