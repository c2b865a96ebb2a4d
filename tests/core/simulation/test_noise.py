"""The noise of a made-up engine: loose valves strike where they close, and are found there."""

from dataclasses import replace

import numpy as np
import pytest

from pronostico.core.crank.events import DEFAULT_EVENTS, Firing
from pronostico.core.simulation.condition import sound
from pronostico.core.simulation.noise import idle_rpm, loudness_db, noise_of, sound_engine
from pronostico.core.sound.listen import Said, listen
from pronostico.core.sound.simulated import simulate_sound
from pronostico.core.sound.wav import Samples
from tests.builders import engine


def condition(cylinders=4, order=(1, 3, 4, 2), **clearances):
    made = sound(engine(cylinders), Firing.from_order(order), DEFAULT_EVENTS)
    return replace(made, clearance_mm={**made.clearance_mm, **clearances})


def heard_of(made, seed=3):
    scene = noise_of(made, seconds=10.0, spark_every_deg=720)
    recorded = simulate_sound(scene, np.random.default_rng(seed))
    said = Said(rpm=idle_rpm(made), engine=sound_engine(made), clip=2)
    return listen(Samples(recorded.rate_hz, recorded.samples), said)


def test_an_engine_with_nothing_wrong_has_no_valve_that_strikes():
    assert noise_of(condition(), seconds=5.0).blows == ()


def test_a_valve_is_the_louder_the_looser_it_is_and_no_louder_than_can_be():
    levels = [
        loudness_db(condition(**{"2I": mm}), condition().engine.valve("2I")) for mm in (0.21, 0.26, 0.3, 0.9)
    ]
    assert levels == sorted(levels) and levels[-1] == 14.0
    assert levels[1] - levels[0] == pytest.approx(4.5)


def test_a_bent_rod_strikes_by_what_it_swings():
    bent = replace(condition(**{"2I": 0.2}), swing_mm={"2I": 0.1})
    assert loudness_db(bent, bent.engine.valve("2I")) == pytest.approx(4.5)


def test_it_strikes_where_its_lobe_lets_go_of_it():
    (blow,) = noise_of(condition(**{"3E": 0.5}), seconds=5.0).blows
    # Cylinder 3 fires second, at 180 degrees.
    assert blow.at_deg == pytest.approx((180.0 + DEFAULT_EVENTS["exhaust"].closes_deg - 3.0) % 720.0)


def test_a_loose_valve_is_named_by_its_recording():
    found = heard_of(condition(**{"3I": 0.45}))
    assert found.answer == "valve-train"
    assert found.ticks[0].valves[0].id == "3I"


def test_small_engines_idle_faster_and_the_firing_follows_the_order():
    single = condition(1, (1,))
    assert idle_rpm(single) > idle_rpm(condition())
    assert sound_engine(condition()).firing_angles_deg() == {1: 0.0, 3: 180.0, 4: 360.0, 2: 540.0}


def test_the_first_cylinder_is_where_the_angles_begin_wherever_it_stands_in_the_order():
    assert sound_engine(condition(4, (3, 4, 2, 1))).firing_angles_deg()[1] == 0.0
