"""Recordings of made-up engines: what each is said to be, and what leaves the answer as it is."""

import numpy as np
import pytest

from pronostico.core.sound.engine import SoundEngine, SoundValve
from pronostico.core.sound.faults import SoundFault
from pronostico.core.sound.listen import Said, compare, listen
from pronostico.core.sound.simulated import Accessory, Blow, Scene, simulate_sound
from pronostico.core.sound.wav import Samples

ORDERS = {1: (1,), 2: (1, 2), 3: (1, 3, 2), 4: (1, 3, 4, 2), 6: (1, 5, 3, 6, 2, 4)}
RATE = 22050


def engine(cylinders, intervals=None):
    valves = tuple(
        SoundValve(f"{n}{side}", n, "intake" if side == "I" else "exhaust")
        for n in range(1, cylinders + 1)
        for side in "IE"
    )
    return SoundEngine(ORDERS[cylinders], intervals, valves)


FOUR = engine(4)


def clicks(cylinders_rpm, *, every, hz, seconds=10.0, seed=0, clip=False):
    """A train of clicks once in so many cycles in white noise, at a steady speed."""
    rng = np.random.default_rng(seed)
    count = int(seconds * RATE)
    t = np.arange(count) / RATE
    cycle = 120.0 / cylinders_rpm
    samples = 0.02 * rng.normal(size=count)
    for begin in np.arange(0.31 * cycle, seconds - 0.1, every * cycle):
        at = int(begin * RATE)
        part = t[: int(0.01 * RATE)]
        samples[at : at + len(part)] += 0.5 * np.exp(-part / 0.0008) * np.sin(2.0 * np.pi * hz * part)
    channels = [samples]
    if clip:
        marks = np.zeros(count)
        marks[(np.arange(0.05, seconds, cycle) * RATE).astype(int)] = 0.8
        channels.append(marks + 0.001 * rng.normal(size=count))
    return Samples(RATE, np.array(channels))


def heard(scene, seed=0, **said):
    made = simulate_sound(scene, np.random.default_rng(seed))
    rpm = said.pop("rpm", made.rpm * 1.03)
    return made, listen(Samples(made.rate_hz, made.samples), Said(engine=scene.engine, rpm=rpm, **said))


class TestTrainsOfClicks:
    def test_once_in_two_turns_is_the_valve_train(self):
        assert listen(clicks(900, every=1.0, hz=5000), Said(rpm=900, engine=FOUR)).findings.half.p >= 0.8

    def test_with_a_clip_its_angle_is_known(self):
        said = Said(rpm=900, engine=FOUR, clip=2, advance_deg=0.0, mic_distance_m=0.0)
        known = listen(clicks(900, every=1.0, hz=5000, clip=True), said)
        cycle_ms = 120_000.0 / 900
        true_deg = (0.31 * cycle_ms - 50.0 - 0.4) / cycle_ms * 720.0 % 720.0
        off = abs((known.ticks[0].at_deg - true_deg + 360.0) % 720.0 - 360.0)
        assert off < 5.0
        assert (known.sparks.every_deg, known.rpm.by) == (720, "clip")

    def test_once_a_turn_and_low_is_the_bottom_end(self):
        known = listen(clicks(900, every=0.5, hz=1400), Said(rpm=900, engine=engine(3)))
        assert known.findings.crank.p >= 0.8

    @pytest.mark.parametrize("seed", range(5))
    def test_white_noise_says_nothing(self, seed):
        noise = np.random.default_rng(seed).normal(size=(1, 8 * RATE)) * 0.1
        assert listen(Samples(RATE, noise), Said(rpm=900, engine=FOUR)).answer in ("nothing", "cannot-tell")


class TestWhatLeavesTheAnswer:
    scene = Scene(FOUR, 900, blows=(Blow("tick", 400, 6),), spark_every_deg=720)

    def test_gain_steps(self):
        made, known = heard(self.scene)
        steps = np.where(np.arange(made.samples.shape[1]) // (2 * RATE) % 2 == 0, 1.0, 0.25)
        again = listen(Samples(RATE, made.samples[:1] * steps), Said(rpm=made.rpm, engine=FOUR))
        assert again.answer == known.answer == "valve-train"

    def test_channels_the_other_way_round(self):
        made, _ = heard(self.scene)
        said = {"rpm": made.rpm, "engine": FOUR}
        one = listen(Samples(RATE, made.samples), Said(clip=2, **said))
        other = listen(Samples(RATE, made.samples[::-1].copy()), Said(clip=1, **said))
        assert (one.answer, one.findings) == (other.answer, other.findings)
        assert (one.sound_channel, other.sound_channel) == (1, 2)

    def test_the_same_twice(self):
        made, known = heard(self.scene)
        again = listen(Samples(RATE, made.samples), Said(rpm=made.rpm * 1.03, engine=FOUR))
        assert (again.findings, again.rpm, again.ticks) == (known.findings, known.rpm, known.ticks)


def share_right(scenes, answer, **said):
    answers = [heard(scene, seed, **said)[1].answer for seed, scene in enumerate(scenes)]
    return answers.count(answer) / len(answers), answers


class TestMadeUpEngines:
    """The method's own figures are 0.77 and 0.90 on recordings of its kind; here a little less will do."""

    def test_most_ticks_are_found_and_none_is_called_a_knock(self):
        scenes = [
            Scene(engine(n), rpm, blows=(Blow("tick", at, 9),), character=at)
            for n, rpm in ((1, 1400), (2, 1000), (3, 900), (4, 800))
            for at in (100, 250, 400)
        ]
        right, answers = share_right(scenes, "valve-train")
        assert right >= 0.6
        assert not any("bottom-end" in one for one in answers)

    def test_accessories_are_unrelated_and_their_rate_is_told(self):
        scenes = [Scene(FOUR, 850, accessory=Accessory(1.37, 6, own_time=own)) for own in (False, True) * 3]
        right, answers = share_right(scenes, "unrelated")
        assert right >= 0.8, answers
        _, known = heard(scenes[0])
        assert known.strange.per_turn == pytest.approx(1.37, rel=0.01)
        assert known.strange.hz == pytest.approx(1.37 * 850 / 60, rel=0.02)

    def test_a_healthy_engine_has_no_fault_found(self):
        scenes = [
            Scene(engine(n), rpm) for n, rpm in ((1, 1500), (3, 900), (4, 800), (6, 700)) for _ in range(3)
        ]
        _, answers = share_right(scenes, "nothing")
        assert set(answers) <= {"nothing", "cannot-tell"}

    def test_a_knock_comes_once_a_turn(self):
        scenes = [Scene(FOUR, 750 + 40 * k, blows=(Blow("knock", 60 + 20 * k, 9),)) for k in range(6)]
        right, answers = share_right(scenes, "bottom-end")
        assert right >= 0.5, answers
        assert "valve-train" not in answers

    def test_the_speed_is_followed_and_found_without_being_told(self):
        for seed, rpm in enumerate((620, 900, 1450)):
            made, known = heard(Scene(FOUR, rpm, hunting=0.02), seed)
            assert known.rpm.mean == pytest.approx(made.rpm, rel=1e-3)
        made, known = heard(Scene(FOUR, 900), 3, rpm=None)
        assert known.rpm.mean == pytest.approx(made.rpm, rel=1e-2) or "rpm-not-sure" in known.warnings
        assert "no-rpm" in known.warnings

    def test_the_valve_that_closes_there_is_named(self):
        right = 0
        for seed, (valve, at) in enumerate((("1I", 587), ("3E", 372 + 180), ("4I", 587 + 360 - 720))):
            scene = Scene(FOUR, 900, blows=(Blow("tick", at % 720, 9),), spark_every_deg=720)
            _, known = heard(scene, seed, clip=2, advance_deg=10.0, mic_distance_m=0.5)
            if known.ticks:
                assert abs((known.ticks[0].at_deg - at + 360.0) % 720.0 - 360.0) < 8.0
                right += known.ticks[0].valves[0].id == valve
        assert right >= 2

    def test_a_wasted_spark_does_not_tell_the_turns_apart(self):
        scene = Scene(FOUR, 900, blows=(Blow("tick", 587, 9),), spark_every_deg=360)
        _, known = heard(scene, 1, clip=2)
        assert known.sparks.every_deg == 360
        assert known.ticks[0].at_deg < 360.0
        assert {one.id for one in known.ticks[0].valves[:2]} == {"1I", "4I"}
        _, told = heard(scene, 1, clip=2, spark_every_deg=720)
        assert told.sparks.told_otherwise is True

    def test_a_tick_that_fades_with_time(self):
        scene = Scene(FOUR, 900, seconds=30.0, blows=(Blow("tick", 400, 12, fades_db=14),))
        _, known = heard(scene, 2)
        assert known.ticks[0].tick.over_time.verdict == "fades"


class TestBeforeAndAfter:
    def both(self, after_blows, seed=1):
        _, before = heard(Scene(FOUR, 900, blows=(Blow("tick", 400, 9),)), seed)
        _, after = heard(Scene(FOUR, 900, blows=after_blows), seed + 10)
        return compare(before, after)

    def test_a_tick_that_was_set_is_gone(self):
        assert self.both(()).verdict in ("gone", "cannot-tell")
        verdicts = [self.both((), seed).verdict for seed in range(1, 7)]
        assert verdicts.count("gone") >= 3 and not {"still-there", "louder"} & set(verdicts)

    def test_one_that_is_there_still_is_not_called_gone(self):
        verdicts = [self.both((Blow("tick", 400, 9),), seed).verdict for seed in range(1, 7)]
        assert "gone" not in verdicts
        assert sum(one in ("still-there", "quieter", "louder") for one in verdicts) >= 3

    def test_without_a_tick_before_nothing_is_said(self):
        _, quiet = heard(Scene(FOUR, 900), 3)
        assert compare(quiet, quiet).verdict == "cannot-tell"


class TestEngines:
    def test_an_even_twin_fires_once_a_turn(self):
        _, known = heard(Scene(engine(2), 1000, blows=(Blow("tick", 300, 9),)))
        assert "crank-speed-and-firing-alike" in known.warnings
        assert (known.findings.crank.p, known.findings.crank.log_ratio) == (0.15, 0.0)

    def test_one_cylinder_has_nothing_alike(self):
        _, known = heard(Scene(engine(1), 1200))
        assert known.findings.alike is None

    def test_without_an_engine_the_evidence_counts_half(self):
        made, known = heard(Scene(FOUR, 900, blows=(Blow("tick", 400, 9),)), 1)
        alone = listen(Samples(RATE, made.samples), Said(rpm=made.rpm))
        assert {"no-engine"} <= set(alone.warnings) and alone.findings.alike is None
        assert 0.0 < alone.findings.half.log_ratio <= 2.3 < known.findings.half.log_ratio

    def test_uneven_firing(self):
        odd = engine(2, (270.0, 450.0))
        _, known = heard(Scene(odd, 1000, blows=(Blow("tick", 500, 9),)), 1)
        assert known.findings.half.p >= 0.5 and "crank-speed-and-firing-alike" not in known.warnings


@pytest.mark.parametrize(
    ("code", "said", "samples"),
    [
        ("silent", {}, np.zeros((1, 6 * RATE))),
        ("silent", {}, np.full((1, 6 * RATE), 0.5)),
        ("no-such-channel", {"clip": 3}, np.ones((2, 6 * RATE))),
        ("no-such-channel", {"sound": 0}, np.ones((1, 6 * RATE))),
        ("no-sound-channel", {"clip": 1}, np.ones((1, 6 * RATE))),
        ("no-sound-channel", {"clip": 1, "sound": 1}, np.ones((2, 6 * RATE))),
        ("no-sparks", {"clip": 2}, None),
    ],
)
def test_what_cannot_be_used_is_said(code, said, samples):
    if samples is None:
        samples = np.random.default_rng(0).normal(size=(2, 6 * RATE)) * 0.1
    with pytest.raises(SoundFault) as refused:
        listen(Samples(RATE, samples), Said(rpm=900, engine=FOUR, **said))
    assert refused.value.code == code and len(str(refused.value)) > 10


def test_too_few_cycles_and_speeds_that_cannot_be():
    noise = np.random.default_rng(0).normal(size=(1, 4 * RATE)) * 0.1
    with pytest.raises(SoundFault, match="whole cycles"):
        listen(Samples(RATE, noise), Said(rpm=300, engine=FOUR))
    for rpm in (100.0, 20_000.0, float("nan")):
        with pytest.raises(SoundFault, match="rpm"):
            Said(rpm=rpm)
    with pytest.raises(SoundFault, match="one a step"):
        SoundEngine((1, 2), (720.0,))
    with pytest.raises(SoundFault, match="not to 720"):
        SoundEngine((1, 2), (300.0, 300.0))
