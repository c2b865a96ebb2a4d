"""Searches of one acoustic model (PocketSphinx) that follow a phrase while it is being said."""

import math
from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from itertools import product
from typing import TYPE_CHECKING, Literal

import numpy as np
from numpy.typing import NDArray

from pronostico.voice.grammar import PREFIX, jsgf, one_word

if TYPE_CHECKING:
    from pocketsphinx import Decoder, Segment

RATE_HZ = 16_000
FRAMES_PER_S = 100
Samples = NDArray[np.int16]
Search = Literal["with", "without"]
"""With the prefix, or where it may be left out."""

# The recogniser's scale of a score under way, and of a phone's always, against that of a word at the end.
_SCALE = 1024
_LEAST_SCORE = 1e-300
# Joins words, and takes no time.
_JOINT = "(NULL)"
_SILENT = frozenset({"SIL", "+NSN+", "+SPN+"})
# How the words are also said (ARPAbet); the dictionary has the American way alone. Without its British way
# "oh eight" is heard as "two eight".
_ALSO_SAID = {
    "drags": ("D R AA G Z", "D R AH G Z", "D R AW G Z"),
    "eight": ("EH T", "EY TH"),
    "feeler": ("F IY L AH", "F IH L ER", "F IY L AA"),
    "go": ("G AO",),
    "it": ("AH T",),
    "listening": ("L IH S AH N IH N", "L AH S AH N AH NG"),
    "oh": ("AH UW",),
    "stop": ("S T AO P",),
    "valve": ("V AO L V", "V AE L F"),
    "won't": ("W AO N T",),
}


@dataclass(frozen=True, slots=True)
class Part:
    """A word or phone and where it stands in the sound: frames of 0.01 s, first and last."""

    word: str
    first: int
    last: int
    log_likelihood: float
    phones: int = 1

    @property
    def spoken(self) -> str:
        """Which word, however it was said."""
        return self.word.split("(")[0]

    @property
    def frames(self) -> int:
        """How long it lasts."""
        return self.last - self.first + 1


@dataclass(frozen=True, slots=True)
class Words:
    """What seems to have been said, as words of the grammar; `silent_frames` behind the last of them.

    Where no path of the grammar is at an end now, no frame is silent.
    """

    parts: Sequence[Part]
    silent_frames: int


@dataclass(frozen=True, slots=True)
class Phones:
    """What seems to have been said, as any phones."""

    parts: Sequence[Part]

    def share_silent(self, after: int) -> float:
        """The share of the frames after one that are silence or noise."""
        behind = [one for one in self.parts if one.last > after]
        if not behind:
            return 0.0
        silent = sum(one.last - max(one.first, after + 1) + 1 for one in behind if one.word in _SILENT)
        return silent / (behind[-1].last - after)

    def log_ratio(self, word: Part) -> float:
        """Per frame of a word, the logarithm of its likelihood over that of whatever phones fit best."""
        free = 0.0
        for one in self.parts:
            shared = min(one.last, word.last) - max(one.first, word.first) + 1
            if shared > 0:
                free += one.log_likelihood * shared / one.frames
        return (word.log_likelihood - free) / word.frames


def new_decoder(*, all_states: bool = False) -> "Decoder":
    """A decoder with the model that ships with it.

    Args:
        all_states: score all states alike, so that the scores of two searches can be compared.
    """
    # The package is an extra, and slow to load.
    from pocketsphinx import Decoder

    return Decoder(lm=None, loglevel="FATAL", samprate=RATE_HZ, compallsen=all_states)


class Grammar:
    """The search for the phrases of a set, in a piece of sound or in one that is still growing."""

    def __init__(self, known: Sequence[str]) -> None:
        """Make ready.

        Args:
            known: the phrases that may be said after the prefix.
        """
        self.decoder = new_decoder(all_states=True)
        self._phone_count: dict[str, int] = {}
        for phrase in (*PREFIX.split(), *known):
            self._phone_count |= _teach(self.decoder, phrase)
        self.decoder.add_jsgf_string("with", jsgf(known, prefix_wanted=True))
        self.decoder.add_jsgf_string("without", jsgf(known, prefix_wanted=False))

    def heard(self, search: Search, sound: Samples) -> Words:
        """The words in a piece of sound that is there as a whole."""
        self.decoder.activate_search(search)
        self.decoder.start_utt()
        self.decoder.process_raw(sound.tobytes(), False, True)
        self.decoder.end_utt()
        return self.found(1)

    def found(self, scale: int = _SCALE) -> Words:
        """The words that the decoder has found."""
        found = _segments(self.decoder)
        silent_frames = 0
        for one in found:
            frames = 0 if one.word == _JOINT else one.end_frame - one.start_frame + 1
            silent_frames = 0 if _is_word(one) else silent_frames + frames
        words = [_part(one, scale, self._phone_count[one.word]) for one in found if _is_word(one)]
        return Words(words, silent_frames)


class Following:
    """Two searches at once, of each piece of sound as it comes: the grammar, and a free loop over all phones.

    What the grammar finds under way tells when a phrase may be over; what it was is more often right where
    the sound is there as a whole, and its loudness and colour can be taken from all of it.
    """

    def __init__(self, known: Sequence[str]) -> None:
        """Make ready; `known` as in `Grammar`."""
        self._grammar = Grammar(known)
        self._loop = new_decoder(all_states=True)
        self._loop.add_allphone_file("loop", None)
        self._loop.activate_search("loop")
        self._is_running = False

    def begin(self, search: Search, sound: Samples) -> None:
        """Follow a phrase from here on.

        Args:
            search: which phrases may be said.
            sound: of it so far; both searches take the loudness and colour of the voice from it.
        """
        grammar = self._grammar.decoder
        if self._is_running:
            for one in (grammar, self._loop):
                one.end_utt()
        self._grammar.heard(search, sound)
        means = grammar.get_cmn(False)
        for one in (grammar, self._loop):
            one.set_cmn(means)
            one.start_utt()
        self._is_running = True
        self.more(sound)

    def more(self, sound: Samples) -> None:
        """The next piece of the sound."""
        for one in (self._grammar.decoder, self._loop):
            one.process_raw(sound.tobytes(), False, False)

    def words(self) -> Words:
        """What was said, as it looks under way."""
        return self._grammar.found()

    def phones(self) -> Phones:
        """What was said, as any phones."""
        return Phones([_part(one, _SCALE) for one in _segments(self._loop)])


def _is_word(found: "Segment") -> bool:
    return found.word[0] not in "<[("


def _segments(decoder: "Decoder") -> "Sequence[Segment]":
    return [] if decoder.hyp() is None else list(decoder.seg())


def _part(found: "Segment", scale: int, phones: int = 1) -> Part:
    log_likelihood = scale * math.log(max(found.ascore, _LEAST_SCORE))
    return Part(found.word, found.start_frame, found.end_frame, log_likelihood, phones)


def _teach(decoder: "Decoder", phrase: str) -> Mapping[str, int]:
    """Make a phrase known as a single word; how many phones each of its ways has."""
    count = {}
    ways = product(*(_ways_of(decoder, word) for word in phrase.split()))
    for number, phones in enumerate(ways, start=1):
        word = one_word(phrase) if number == 1 else f"{one_word(phrase)}({number})"
        if decoder.lookup_word(word) is None:
            decoder.add_word(word, " ".join(phones), False)
        count[word] = len(" ".join(phones).split())
    return count


def _ways_of(decoder: "Decoder", word: str) -> list[str]:
    """How a word is said: the dictionary's ways, numbered from 2 on, and ours."""
    ways = []
    number = 1
    while (phones := decoder.lookup_word(word if number == 1 else f"{word}({number})")) is not None:
        ways.append(phones)
        number += 1
    return [*ways, *_ALSO_SAID.get(word, ())]
