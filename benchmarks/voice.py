"""Spoken commands in a workshop's noise: how many are understood, wrongly taken, and how soon.

The voices are synthetic and the noise is our own; a real voice in a real workshop may differ.
"""

import time
from collections.abc import Iterator
from dataclasses import dataclass, field

import numpy as np
from tests.spoken import VOICES, in_noise, pause, said, spoken_span

from pronostico.voice.following import RATE_HZ, Samples
from pronostico.voice.grammar import PREFIX, Command, phrases
from pronostico.voice.listener import Heard, Listener

BLADES_MM = (0.04, 0.05, 0.08, 0.10, 0.13, 0.15, 0.18, 0.20, 0.23, 0.25, 0.28, 0.30, 0.35, 0.40)
SAID = (
    *("it drags", "will not go", "falls free", "next valve", "take that off", "say again"),
    *("skip this valve", "blade point one five", "blade point two eight", "won't go", "slides freely"),
    *("stop listening", "blade point oh eight"),
)
OTHER_TALK = (
    "Can you hand me the ten millimetre socket from the drawer",
    "The customer said it starts badly when it is cold",
    "I will have a look at the carburettor after lunch",
    "Turn the crank one more time please",
    "Where did you put the torque wrench",
    "It is raining again so close the door",
    "That one is out of spec I think",
    "The number two cylinder has low compression",
    "We need new gaskets for the valve cover",
    "Call him back before five o'clock",
    "There is coffee in the kitchen",
    "The dial says fourteen newton metres",
    "Put the blades back in the box",
    "Did you check the exhaust side as well",
    "Next week we are closed on Monday",
    "The belt falls off again and again",
    "Nobody takes that seriously",
    "It drags behind the trailer",
    "I would not go there myself",
    "Say it again please I did not hear you",
)
_PIECE = RATE_HZ // 10


@dataclass
class Tally:
    """Of commands: understood, taken for another, not taken; the delays of those understood, s."""

    right: int = 0
    wrong: int = 0
    missed: int = 0
    delay_s: list[float] = field(default_factory=list)
    taken: list[str] = field(default_factory=list)
    seconds: float = 0.0
    busy_s: float = 0.0


def _fed(listener: Listener, sound: Samples, tally: Tally) -> Iterator[tuple[int, Heard, float]]:
    """What is heard: with the sample at which it is, and how long the last piece took."""
    tally.seconds += len(sound) / RATE_HZ
    for start in range(0, len(sound), _PIECE):
        begun = time.perf_counter()
        heard = listener.feed(sound[start : start + _PIECE])
        took_s = time.perf_counter() - begun
        tally.busy_s += took_s
        for one in heard:
            yield start + _PIECE, one, took_s


def _meaning(command: Command | None) -> tuple[str, float | None] | None:
    """Several phrases mean the same."""
    return None if command is None else (command.name, command.blade_mm)


def commands(seed: int, voices: tuple[str, ...] = VOICES) -> Tally:
    """Each command by each voice, one after the other, 10 dB above the noise."""
    rng, tally = np.random.default_rng(seed), Tally()
    known = phrases(BLADES_MM, "mm")
    listener = Listener(BLADES_MM, "mm")
    for voice in voices:
        parts, spans, at = [], [], 0
        for command in SAID:
            spoken, gap = said(f"{PREFIX}, {command}", voice), pause(rng.uniform(1.8, 2.6))
            first, last = spoken_span(spoken)
            spans.append((at + len(gap) + first, at + len(gap) + last))
            parts += [gap, spoken]
            at += len(gap) + len(spoken)
        sound = in_noise(np.concatenate([*parts, pause(3)]), rng)
        heard = [one for one in _fed(listener, sound, tally) if one[1].command is not None]
        ends = [*(first for first, _ in spans[1:]), len(sound) + _PIECE]
        for command, (first, last), end in zip(SAID, spans, ends, strict=True):
            here = [one for one in heard if first < one[0] <= end]
            if [_meaning(one.command) for _, one, _ in here] == [_meaning(known[command])]:
                tally.right += 1
                tally.delay_s.append((here[0][0] - last) / RATE_HZ + here[0][2])
            elif here:
                tally.wrong += 1
                tally.taken += [
                    f"{voice}: {command} > {one.command and one.command.text}" for _, one, _ in here
                ]
            else:
                tally.missed += 1
                tally.taken.append(f"{voice}: {command} > nothing")
    return tally


def babble(minutes: float, seed: int) -> Tally:
    """One to three people who talk of other things at once over hammering: what is taken for a command."""
    rng, tally = np.random.default_rng(seed), Tally()
    listener = Listener(BLADES_MM, "mm")
    while tally.seconds < 60 * minutes:
        talk = [
            np.concatenate([said(OTHER_TALK[rng.integers(20)], VOICES[rng.integers(8)]) for _ in range(4)])
            for _ in range(rng.integers(1, 4))
        ]
        longest = max(map(len, talk))
        sound = in_noise(np.sum([np.pad(one, (0, longest - len(one))) for one in talk], axis=0), rng)
        for _, one, _ in _fed(listener, sound, tally):
            if one.command is not None:
                tally.wrong += 1
                tally.taken.append(f"{one.command.text} ({one.over:.2f})")
    return tally


def lines() -> Iterator[str]:
    """What was measured, to be read."""
    told = commands(31)
    count = told.right + told.wrong + told.missed
    delay = np.quantile(told.delay_s, (0.5, 0.95))
    yield (
        f"{count} commands: {told.right} right, {told.wrong} wrong, {told.missed} not taken; "
        f"{delay[0]:.2f} s after their end at the median, {delay[1]:.2f} s at 95 of 100; "
        f"{told.busy_s / told.seconds:.2f} of a core"
    )
    yield from (f"  {one}" for one in told.taken)
    other = babble(10, 41)
    yield f"{other.seconds / 60:.0f} minutes of other talk and hammering: {other.wrong} commands taken"
    yield from (f"  {one}" for one in other.taken)


if __name__ == "__main__":
    for line in lines():
        print(line, flush=True)
