"""What a recording says, in the words of the page, the job card and the command line."""

from collections.abc import Iterable, Mapping
from typing import Protocol

from pronostico.analysis.chances import chance, percent
from pronostico.core.sound.verdict import Verdict

LIMITS = (
    "Developed on simulated sound; a real engine may differ. A recording is no reason to skip the blade.",
    "A knock that is hidden under the combustion of one turn looks like a tick, or is not heard. Two like "
    "ticks one turn apart are the twin of a knock.",
    "Most faint ticks are not heard: silence is no proof. A tick at the moment another cylinder fires is "
    "heard late.",
    "Over some 3000 rpm with six or more cylinders events run together. Rooms that ring, and phones whose "
    "microphone ends at 3.4 kHz, cost most of the sharpness.",
    "Two valves of one cylinder and side cannot be told apart; nor, with a wasted spark, the two cylinders "
    "of a pair.",
)
"""What a recording cannot do, the first of all first."""

_NAMES = {
    "sound-half-speed": "Noise at half crank speed (valve train)",
    "sound-crank-speed": "Noise at crank speed (bottom end)",
    "sound-unrelated": "Noise not tied to crank speed (an accessory)",
}
_HEARD = {
    "valve-train": "Valve train: it comes once in two turns of the crank.",
    "bottom-end": "Bottom end: it comes once in each turn of the crank. Find out why before it runs again.",
    "unrelated": "Not the crank: it keeps no time with it. Look at what is driven or bolted on.",
    "nothing": "Nothing regular that this recording could show.",
    "cannot-tell": "Cannot tell from this recording.",
}
_WARNINGS = {
    "rpm-not-sure": "The crank speed is not sure: read it and enter it.",
    "crank-speed-and-firing-alike": "It fires once a turn: crank speed cannot be told from firing.",
    "clipped": "The recording is too loud and cut off: hold the microphone further away.",
    "no-engine": "Nothing is known of the engine: the evidence counts half.",
    "no-rpm": "No speed was entered; it was found from the sound.",
}
_BECAME: dict[Verdict, str] = {
    "gone": "The tick is gone.",
    "still-there": "The tick is still there.",
    "quieter": "The tick is still there, quieter.",
    "louder": "The tick is still there, louder.",
    "cannot-tell": "Whether the tick is gone cannot be told.",
}
_ALIKE_FROM, _SAID_FROM = 0.8, 0.02


class _Finding(Protocol):
    @property
    def p(self) -> float: ...
    @property
    def log10_lr(self) -> float: ...


class _Valve(Protocol):
    @property
    def id(self) -> str: ...
    @property
    def p(self) -> float: ...
    @property
    def event(self) -> str: ...


def headline(answer: str) -> str:
    """The answer in a sentence for each thing that was heard.

    >>> headline("nothing")
    'Nothing regular that this recording could show.'
    """
    return " ".join(_HEARD[one] for one in answer.split("+"))


def finding_words(findings: Mapping[str, _Finding]) -> list[str]:
    """How likely each finding is, and what the recording makes of it."""
    lines = []
    for name, one in findings.items():
        ratio = 10.0 ** abs(one.log10_lr)
        way = "likelier" if one.log10_lr >= 0.0 else "less likely"
        said = f"{ratio:.0f}" if ratio >= 9.95 else f"{ratio:.1f}"
        lines.append(f"{_NAMES[name]}: {chance(one.p)}; the recording makes it {said} times {way}")
    return lines


def alike_words(all_alike: float | None) -> list[str]:
    """That all valves tick alike, where they do."""
    if all_alike is None or all_alike < _ALIKE_FROM:
        return []
    return ["All valves tick alike: usual for solid lifters, and no evidence against a single valve."]


def tick_words(
    strength_db: float, at_deg: float | None, at_sd_deg: float | None, valves: Iterable[_Valve]
) -> str:
    """One tick: how strong, where in the cycle, at which valves."""
    line = f"A tick that stands {strength_db:.0f} dB out"
    if at_deg is not None and at_sd_deg is not None:
        line += f", at {at_deg:.0f}° ± {at_sd_deg:.0f} after cylinder 1 at top on compression"
    named = [f"{one.id} as it {one.event} ({percent(one.p)})" for one in valves if one.p >= _SAID_FROM]
    return f"{line}: {', '.join(named)}" if named else line


def warning_words(warnings: Iterable[str]) -> list[str]:
    """What to know of a recording before it is believed."""
    return [_WARNINGS[one] for one in warnings]


def became_words(verdict: Verdict, p_gone: float) -> str:
    """What became of a tick after setting."""
    return f"{_BECAME[verdict]} That it is gone is {chance(p_gone)}."
