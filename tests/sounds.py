"""Recordings of a made-up engine for the tests: a four-cylinder at 900 rpm with an ignition clip."""

from functools import cache

import numpy as np

from pronostico.core.sound.engine import SoundEngine
from pronostico.core.sound.simulated import Blow, Scene, simulate_sound
from tests.waves import wav

ORDER = (1, 3, 4, 2)


@cache
def recorded(*, tick_deg=None, seed=1, clip=True, seconds=8.0, rate_hz=22_050):
    """A WAV file with one tick, or without."""
    blows = () if tick_deg is None else (Blow("tick", tick_deg, 12.0),)
    spark = 720 if clip else None
    scene = Scene(
        SoundEngine(ORDER), 900.0, seconds=seconds, rate_hz=rate_hz, blows=blows, spark_every_deg=spark
    )
    made = simulate_sound(scene, np.random.default_rng(seed))
    return wav(made.samples.T, rate=made.rate_hz)


def closing_deg(engine, valve):
    """Where a valve of an engine's data closes, taken up as its slack is."""
    one = next(each for each in engine["valves"] if each["id"] == valve)
    usual = {"intake": 590.0, "exhaust": 375.0}
    events = engine.get("events_deg") or {}
    closes = events[one["side"]][1] if events else usual[one["side"]]
    fires = dict(zip(engine["firing_order"], (0.0, 180.0, 360.0, 540.0), strict=True))
    return (fires[one["cylinder"]] + closes - 3.0) % 720.0
