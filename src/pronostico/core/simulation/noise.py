"""The noise that a made-up engine makes, from its true state: what a simulated microphone hears.

A valve with more clearance than it should have strikes as its clearance is taken up, and again as it closes;
the closing is the louder one. The figures are plausible, not measured on an engine.
"""

from typing import Literal

import numpy as np

from pronostico.core.engine import Valve
from pronostico.core.simulation.condition import Condition
from pronostico.core.sound.engine import SoundEngine, SoundValve
from pronostico.core.sound.simulated import Blow, Scene

_IDLE_RPM, _SMALL_IDLE_RPM = 850.0, 1300.0
_SMALL = 2  # cylinders and fewer
_SLACK_DEG = 3.0
_JITTER_DEG = 1.0
# Within its spec a valve is lost among the combustion; beyond it grows louder by so much a millimetre.
_AT_MAX_DB, _DB_PER_MM, _LOUDEST_DB = 0.0, 90.0, 14.0


def sound_engine(condition: Condition) -> SoundEngine:
    """A made-up engine as far as its sound goes."""
    engine, firing = condition.engine, condition.firing
    order = sorted(firing.angle_deg, key=lambda cylinder: firing.angle_deg[cylinder])
    angles = [firing.angle_deg[cylinder] for cylinder in order]
    intervals = tuple(float(one) for one in np.diff([*angles, angles[0] + 720.0]))
    return SoundEngine(
        tuple(order),
        intervals,
        tuple(SoundValve(valve.id, valve.cylinder, valve.side) for valve in engine.valves),
        {side: (one.opens_deg, one.closes_deg) for side, one in condition.events.items()},
    )


def idle_rpm(condition: Condition) -> float:
    """The speed at which such an engine idles."""
    return _SMALL_IDLE_RPM if len(condition.firing.angle_deg) <= _SMALL else _IDLE_RPM


def loudness_db(condition: Condition, valve: Valve) -> float:
    """How loud a valve strikes against all else, dB within 3 ms; `-inf` where nothing of it is heard."""
    spec = condition.engine.latest_spec_of(valve)
    if spec is None:
        return -np.inf
    # A bent rod shows every other turn of its cam what it adds.
    play = condition.clearance_mm[valve.id] + 0.5 * condition.swing_mm.get(valve.id, 0.0)
    over_mm = play - spec.max_mm
    return min(_AT_MAX_DB + _DB_PER_MM * over_mm, _LOUDEST_DB) if over_mm > 0.0 else -np.inf


def _blow(condition: Condition, valve: Valve, level_db: float) -> Blow:
    closes = condition.events[valve.side].closes_deg - _SLACK_DEG
    at_deg = (condition.firing.angle_deg[valve.cylinder] + closes) % 720.0
    return Blow("tick", at_deg, level_db, _JITTER_DEG)


def noise_of(
    condition: Condition,
    *,
    seconds: float,
    rpm: float | None = None,
    spark_every_deg: Literal[360, 720] | None = None,
    rate_hz: int = 22_050,
    character: int = 0,
) -> Scene:
    """What there is to be heard of an engine that idles.

    Args:
        spark_every_deg: an ignition clip is on, and so often it sparks.
        character: what is this very engine's own.
    """
    levels = {valve: loudness_db(condition, valve) for valve in condition.engine.valves}
    return Scene(
        sound_engine(condition),
        idle_rpm(condition) if rpm is None else rpm,
        seconds=seconds,
        rate_hz=rate_hz,
        blows=tuple(_blow(condition, valve, level) for valve, level in levels.items() if np.isfinite(level)),
        spark_every_deg=spark_every_deg,
        character=character,
    )
