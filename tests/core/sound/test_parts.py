"""The parts of the sound computation by themselves, with the examples of the formulas."""

import io

import numpy as np
import pytest

from pronostico.core.sound.crank_speed import best_path
from pronostico.core.sound.engine import SoundEngine, SoundValve, firing_of
from pronostico.core.sound.envelopes import ENVELOPE_HZ, POOL, Band, envelopes, spectrum_of
from pronostico.core.sound.evidence import log_bayes_factor
from pronostico.core.sound.faults import SoundFault
from pronostico.core.sound.ignition import spark_times, sparks_of
from pronostico.core.sound.probabilities import Finding, Findings, answer_of
from pronostico.core.sound.sharp import lag_one, places_for, sharp_parts, windows_for
from pronostico.core.sound.ticks import slope_of
from pronostico.core.sound.valves import valves_at
from pronostico.core.sound.wav import Samples, read_wav
from tests.waves import RATE, TONE, wav


def read(content):
    """A WAV file read whole: its rate, its length, its channels."""
    known = read_wav(io.BytesIO(content))
    samples = np.array([known.channel(number) for number in range(known.channels)])
    assert known.levels() == pytest.approx(samples.std(axis=1), rel=1e-3)
    return Samples(known.rate_hz, samples)


class TestWav:
    @pytest.mark.parametrize(
        "how",
        [
            {"bits": 8},
            {"bits": 16},
            {"bits": 24},
            {"bits": 32},
            {"bits": 32, "tag": 3},
            {"bits": 64, "tag": 3},
            {"bits": 24, "extensible": True},
        ],
    )
    def test_every_kind_of_sample(self, how):
        known = read(wav(TONE, **how))
        assert known.samples[0] == pytest.approx(TONE, abs=0.02)
        assert (known.rate_hz, known.seconds) == (RATE, 5.0)

    def test_four_channels_stay_apart_and_two_minutes_are_read(self):
        four = np.stack([TONE * k / 4 for k in range(1, 5)], axis=1)
        assert read(wav(four)).samples.std(axis=1) == pytest.approx(
            TONE.std() * np.arange(1, 5) / 4, rel=0.01
        )
        assert read(wav(np.tile(TONE, 30))).seconds == 120.0

    def test_a_header_that_promises_more_is_read_as_far_as_it_goes(self):
        assert read(wav(TONE, promised=0xFFFFFFFF)).seconds == 5.0
        assert read(wav(TONE)[:-1001]).seconds == pytest.approx(4.977, abs=0.001)

    @pytest.mark.parametrize(
        ("content", "code"),
        [
            (b"", "not-a-wav"),
            (b"ID3\x03" + b"\x00" * 100, "not-a-wav"),
            (b"RIFF\x10\x00\x00\x00WAVEfmt ", "not-a-wav"),
            (b"RIFF\x10\x00\x00\x00WAVEfmt \x04\x00\x00\x00\x01\x00\x01\x00", "not-a-wav"),
            (wav(TONE)[:44], "not-a-wav"),
            (wav(TONE, rate=4000), "rate-too-low"),
            (wav(TONE[: 3 * RATE]), "too-short"),
            (wav(np.full_like(TONE, np.inf), bits=32, tag=3), "not-finite"),
            (wav(TONE, tag=7), "not-a-wav"),
        ],
    )
    def test_what_is_none_is_said(self, content, code):
        with pytest.raises(SoundFault) as refused:
            read(content)
        assert refused.value.code == code


class TestEnvelopes:
    def test_a_tone_twice_as_loud_is_six_decibels_more(self):
        tone = np.sin(2 * np.pi * 3000 * np.arange(4 * RATE) / RATE)
        tone[2 * RATE :] *= 2.0
        level = envelopes(spectrum_of(tone, RATE)).band(3).level_db
        quiet, loud = level[2000:6000].mean(), level[10_000:14_000].mean()
        assert loud - quiet == pytest.approx(6.02, abs=0.05)

    def test_bands_that_the_rate_does_not_reach_are_left_out(self):
        noise = np.random.default_rng(0).normal(size=6 * 44100)
        assert [one.number for one in envelopes(spectrum_of(noise, 44100)).bands] == [0, 1, 2, 3, 4, 5, POOL]
        assert [one.number for one in envelopes(spectrum_of(noise, 8000)).bands] == [0, 1, 2]
        assert [one.number for one in envelopes(spectrum_of(noise, 11025)).bands] == [0, 1, 2, 3]


class TestSharpParts:
    def folded(self, level_of_cycle, cycles=40):
        """One band whose level is the same each cycle of 0.1 s, folded."""
        t = np.arange(int(cycles * 0.1 * ENVELOPE_HZ)) / ENVELOPE_HZ
        level = level_of_cycle(np.mod(t, 0.1))
        band = Band(3, 2800.0, 5200.0, level + 0.01 * np.random.default_rng(0).normal(size=len(level)))
        low = Band(1, 800.0, 2400.0, np.zeros(len(level)))
        where = (np.arange(1, cycles - 1)[:, None] + np.arange(360)[None, :] / 360.0) * 0.1 * ENVELOPE_HZ
        known = envelopes(spectrum_of(np.random.default_rng(1).normal(size=4 * RATE), RATE))
        known = type(known)(known.seconds, (low, band), known.low)
        return sharp_parts(known, where, windows_for(0.1, 4))[1]

    def test_an_exponential_decay_leaves_nothing(self):
        falling = self.folded(lambda t: 30.0 - 1000.0 * np.minimum(t, 0.03))
        assert falling.height[10:].max() < 0.5

    def test_a_blow_stands_out_where_it_is(self):
        known = self.folded(lambda t: 12.0 * (np.abs(t - 0.05) < 0.00075))
        assert abs(int(known.height.argmax()) - 180) <= 2
        assert 7.0 < known.height.max() <= 12.5

    def test_windows_shrink_where_cylinders_fire_closely(self):
        slow, fast = windows_for(0.133, 4), windows_for(0.03, 6)
        assert (slow.out_s, slow.gap_s, slow.half_s) == pytest.approx((0.0055, 0.00165, 0.00075))
        assert fast.out_s == pytest.approx(0.00225) and fast.half_s < fast.gap_s < fast.out_s
        assert [places_for(one) for one in (0.1, 0.06, 0.04)] == [360, 240, 120]

    def test_correlation_from_cycle_to_cycle(self):
        rng = np.random.default_rng(0)
        assert lag_one(rng.normal(size=(4000, 3))) < 0.05
        slow = np.repeat(rng.normal(size=(400, 1)), 10, axis=0)
        assert lag_one(slow) == 0.5


def test_the_bayes_factor_of_a_blow():
    assert log_bayes_factor(np.array([8.0]), np.array([1.0]))[0] == pytest.approx(29.56, abs=0.01)
    # Of nothing heard, no blow is likelier.
    assert log_bayes_factor(np.array([0.0]), np.array([1.0]))[0] < 0.0


def test_the_best_path_by_trying_all():
    rng = np.random.default_rng(0)
    reward, cost = rng.normal(size=(5, 4)), np.array([0.0, 0.7])
    found = best_path(reward, cost)

    def worth(path):
        steps = np.abs(np.diff(path))
        if steps.max() > 1:
            return -np.inf
        return reward[np.arange(5), path].sum() - cost[steps].sum()

    every = np.array(np.meshgrid(*[range(4)] * 5)).reshape(5, -1).T
    assert worth(found) == pytest.approx(max(worth(path) for path in every))


class TestIgnition:
    def marks(self, gap_s, *, weak=0.0, seconds=10.0):
        signal = 0.001 * np.random.default_rng(0).normal(size=int(seconds * RATE))
        signal[(np.arange(0.05, seconds, gap_s) * RATE).astype(int)] = 0.8
        if weak:
            signal[((np.arange(0.05, seconds, gap_s) + weak) * RATE).astype(int)] = 0.1
        return signal

    def test_a_spark_a_cycle_or_a_turn(self):
        for gap, every in ((120.0 / 900, 720), (60.0 / 900, 360)):
            sparks = sparks_of(spark_times(self.marks(gap), RATE), 7.5, None)
            assert (sparks.every_deg, sparks.told_otherwise) == (every, False)
            assert np.diff(sparks.phase).max() == every / 720.0

    def test_other_leads_and_gaps_do_not_matter(self):
        signal = self.marks(120.0 / 900, weak=0.04)
        signal[int(3.0 * RATE) : int(3.5 * RATE)] = 0.0
        sparks = sparks_of(spark_times(signal, RATE), 7.5, None)
        fit = np.polyfit(sparks.times_s, sparks.phase, 1)
        assert fit[0] == pytest.approx(7.5, rel=1e-4)

    def test_what_is_not_regular_is_no_ignition(self):
        times = np.cumsum(np.random.default_rng(0).uniform(0.05, 0.4, 60))
        with pytest.raises(SoundFault, match="regular"):
            sparks_of(times, 7.5, None)
        with pytest.raises(SoundFault, match="stands out"):
            spark_times(np.zeros(5 * RATE), RATE)


class TestProbabilities:
    def test_the_example(self):
        p = 1.0 / (1.0 + np.exp(-(2.0 + np.log(0.4 / 0.6))))
        assert p == pytest.approx(0.831, abs=0.001)
        assert Finding(p, 2.0).log10_ratio == pytest.approx(0.8686, abs=1e-4)

    @pytest.mark.parametrize(
        ("half", "crank", "strange", "answer"),
        [
            ((0.9, 3.0), (0.1, -1.0), (0.1, -1.0), "valve-train"),
            ((0.9, 3.0), (0.85, 3.0), (0.1, -1.0), "valve-train+bottom-end"),
            ((0.1, -1.0), (0.1, -0.5), (0.9, 3.0), "unrelated"),
            ((0.1, -1.0), (0.1, -0.5), (0.1, -1.0), "nothing"),
            ((0.1, -1.0), (0.15, 0.0), (0.1, -1.0), "cannot-tell"),
            ((0.5, 0.4), (0.1, -0.5), (0.1, -1.0), "cannot-tell"),
        ],
    )
    def test_answers(self, half, crank, strange, answer):
        assert answer_of(Findings(Finding(*half), Finding(*crank), Finding(*strange), None)) == answer


class TestValves:
    ENGINE = SoundEngine(
        (1, 3, 4, 2),
        None,
        tuple(
            SoundValve(f"{n}{s}", n, "intake" if s == "I" else "exhaust") for n in (1, 2, 3, 4) for s in "IE"
        ),
    )

    def test_delay_in_degrees(self):
        assert pytest.approx(10.0, abs=0.05) == (0.5 / 0.343 + 0.4) * 0.720 / (120.0 / 900)

    def test_the_one_that_closes_there_comes_first(self):
        first, *_ = valves_at(self.ENGINE, 587.0, 5.0, every_deg=720)
        assert (first.id, first.event) == ("1I", "closes") and first.p > 0.8
        # Far from every event of every valve none is named.
        assert valves_at(self.ENGINE, 272.0, 3.0, every_deg=720) == []

    def test_closely_known_events_are_surer(self):
        told = SoundEngine(
            self.ENGINE.firing_order,
            None,
            self.ENGINE.valves,
            {"intake": (345.0, 590.0), "exhaust": (130.0, 375.0)},
        )
        usual, own = (valves_at(one, 587.0, 3.0, every_deg=720)[0].p for one in (self.ENGINE, told))
        assert own > usual


def test_firing_seen_from_each_cylinder():
    assert firing_of(SoundEngine((1, 3, 4, 2))).offsets_deg.tolist() == [[0.0, 180.0, 360.0, 540.0]]
    uneven = firing_of(SoundEngine((1, 2), (270.0, 450.0)))
    assert sorted(map(sorted, uneven.offsets_deg.tolist())) == [[0.0, 270.0], [0.0, 450.0]]
    assert firing_of(None).count == 4 and not firing_of(None).known
    assert firing_of(SoundEngine((1, 2))).each_turn and not uneven.each_turn


def test_a_slope_with_its_sd():
    rng = np.random.default_rng(0)
    over = np.linspace(0.0, 30.0, 200)
    known = slope_of(-2.0 * over / 30.0 + 0.1 * rng.normal(size=200), over, 60.0)
    assert known.db == pytest.approx(-4.0, abs=3 * known.sd_db) and known.verdict == "fades"
    assert slope_of(0.3 * rng.normal(size=200), over, 60.0).verdict == "steady"
    assert slope_of(4.0 * rng.normal(size=20), over[:20], 60.0).verdict == "cannot-tell"
