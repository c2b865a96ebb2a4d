"""Hearing in a workshop's noise; how well in figures is for benchmarks/voice.py."""

import numpy as np
import pytest

from pronostico.voice.following import RATE_HZ, Grammar
from pronostico.voice.listener import Listener
from tests.spoken import in_noise, pause, said, spoken_span

BLADES_MM = (0.05, 0.08, 0.10, 0.13, 0.15, 0.18, 0.20, 0.23, 0.25, 0.28, 0.30)


def heard(sound, *, prefix_always: bool = True, prompted_s: float | None = None, unit="mm"):
    """What is understood of a sound, fed as a page does."""
    listener = Listener(BLADES_MM, unit, prefix_always=prefix_always)
    found = []
    for start in range(0, len(sound), 1600):
        if prompted_s is not None and start == int(prompted_s * RATE_HZ):
            listener.prompted()
        found += listener.feed(sound[start : start + 1600])
    return [one.command and (one.command.name, one.command.blade_mm) for one in found]


def shop(*parts, noise: int = 4) -> np.ndarray:
    return in_noise(np.concatenate([pause(1), *parts, pause(1.5)]), np.random.default_rng(noise))


def test_commands_are_heard_over_the_noise_of_a_workshop():
    spoken = ("it drags", "will not go", "slides freely", "blade point one five")
    sound = shop(*(part for one in spoken for part in (said(f"feeler gauge, {one}"), pause(1.5))))
    assert heard(sound) == [("drag", None), ("no-go", None), ("free", None), ("blade", 0.15)]


@pytest.mark.parametrize("voice", ["en-gb", "en-gb+f2", "en-us"])
def test_the_british_oh_of_a_thin_blade_is_not_taken_for_two(voice):
    assert heard(shop(said("feeler gauge, blade point oh eight", voice))) == [("blade", 0.08)]


def test_blades_that_differ_by_a_syllable_are_told_apart_without_the_noise():
    spoken = said("feeler gauge, blade point two eight", "en-gb-scotland")
    assert heard(shop(spoken, noise=1)) == [("blade", 0.28)]


def test_a_command_said_slowly_is_heard_to_its_end():
    spoken = said("feeler gauge, blade point two three", "en-us", words_a_minute=100)
    assert heard(shop(spoken)) == [("blade", 0.23)]


@pytest.mark.parametrize(
    "talk",
    [
        "It drags behind the trailer, and the belt falls off again.",
        "I will not go there. Say it again please.",
    ],
)
def test_what_others_say_is_no_command(talk):
    assert heard(shop(said(talk, "en-gb+m4"))) == []


def test_without_the_prefix_it_answers_only_to_a_prompt_and_only_if_so_set():
    sound = shop(said("it drags"))
    assert heard(sound, prefix_always=False, prompted_s=0.8) == [("drag", None)]
    assert heard(sound, prefix_always=False) == []
    assert heard(sound, prompted_s=0.8) == []


def test_a_blade_that_the_set_has_not_is_never_taken_for_one():
    sound = shop(said("feeler gauge, blade point seven seven"))
    assert ("blade", 0.77) not in heard(sound)


def test_silence_of_a_microphone_that_is_switched_off_is_nothing():
    assert heard(np.zeros(10 * RATE_HZ, dtype=np.int16)) == []


def test_a_long_phrase_is_searched_as_it_comes_and_as_a_whole_only_where_it_may_be_over(monkeypatch):
    honest, lengths_s = Grammar.heard, []

    def noted(grammar, search, sound):
        lengths_s.append(len(sound) / RATE_HZ)
        return honest(grammar, search, sound)

    monkeypatch.setattr(Grammar, "heard", noted)
    spoken = said("feeler gauge, blade point two three", "en-us", words_a_minute=100)
    sound = shop(spoken)
    assert heard(sound) == [("blade", 0.23)]
    # What is long is the whole: once or twice for the answer, and once without the noise.
    whole_s = [one for one in lengths_s if one > 2.5]
    assert 2 <= len(whole_s) <= 3
    # It begins a second before the phrase, which was over soon after its end.
    begin, end = spoken_span(spoken)
    assert whole_s[-1] < (end - begin) / RATE_HZ + 1.6
