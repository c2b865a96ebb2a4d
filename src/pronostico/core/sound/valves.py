"""Which valve opens or closes where a tick was heard. F-43 in docs/formulas.md."""

from dataclasses import dataclass
from typing import Literal

import numpy as np

from pronostico.core.sound.engine import Side, SoundEngine

Event = Literal["opens", "closes"]
_USUAL_DEG: dict[Side, tuple[float, float]] = {"intake": (345.0, 590.0), "exhaust": (130.0, 375.0)}
# A valve closes louder than it opens, and slack has it close early and open late.
_SHARES: dict[Event, float] = {"closes": 0.85, "opens": 0.15}
_LATER_DEG: dict[Event, float] = {"closes": -3.0, "opens": 4.0}
_SD_USUAL_DEG: dict[Event, float] = {"closes": 9.0, "opens": 11.0}
_SD_TOLD_DEG: dict[Event, float] = {"closes": 5.0, "opens": 6.0}
_SOME_VALVE = 0.94
_LEAST = 0.02


@dataclass(frozen=True, slots=True)
class NamedValve:
    """A valve, how likely it is the one that ticks, and whether it closes or opens there."""

    id: str
    p: float
    event: Event


def _density(angle_deg: float, at_deg: float, sd_deg: float, around_deg: float) -> float:
    off = np.mod(angle_deg - at_deg + around_deg / 2.0, around_deg) - around_deg / 2.0
    return float(np.exp(-0.5 * (off / sd_deg) ** 2) / (sd_deg * np.sqrt(2.0 * np.pi)))


def valves_at(engine: SoundEngine, at_deg: float, sd_deg: float, *, every_deg: int) -> list[NamedValve]:
    """The valves that may tick at an angle, the likeliest first.

    Args:
        at_deg: after the first cylinder's top on compression.
        every_deg: 360 where the spark does not tell the turns apart.
    """
    angles = engine.firing_angles_deg()
    likelihoods: list[tuple[str, dict[Event, float]]] = []
    for valve in engine.valves:
        if valve.cylinder not in angles:
            continue
        events = (engine.events_deg or _USUAL_DEG)[valve.side]
        sds = _SD_USUAL_DEG if engine.events_deg is None else _SD_TOLD_DEG
        of_event: dict[Event, float] = {}
        pairs: tuple[tuple[Event, float], ...] = (("opens", events[0]), ("closes", events[1]))
        for event, nominal in pairs:
            where = angles[valve.cylinder] + nominal + _LATER_DEG[event]
            sd = float(np.hypot(sds[event], sd_deg))
            turns = (0.0,) if every_deg == 720 else (0.0, 360.0)
            mean = np.mean([_density(at_deg + turn, where, sd, 720.0) for turn in turns])
            of_event[event] = _SHARES[event] * float(mean)
        likelihoods.append((valve.id, of_event))
    if not likelihoods:
        return []
    prior = _SOME_VALVE / len(likelihoods)
    total = prior * sum(sum(one.values()) for _, one in likelihoods) + (1.0 - _SOME_VALVE) / 720.0
    named = [
        NamedValve(name, prior * sum(one.values()) / total, max(one, key=lambda event: one[event]))
        for name, one in likelihoods
    ]
    return sorted((one for one in named if one.p > _LEAST), key=lambda one: -one.p)
