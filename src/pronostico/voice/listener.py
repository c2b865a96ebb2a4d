"""Hears commands in the sound of a workshop.

Three searches of one acoustic model (PocketSphinx): a spotter waits for the prefix all the time; from there
on the grammar of the set is tried on what was said until a phrase stands in it with silence behind; and a
free loop over all phones says how well anything at all would fit. The logarithm of the likelihood ratio of
the two, per hundredth of a second, tells a command from other speech (Rose and Paul, A hidden Markov model
based keyword recognition system, ICASSP 1990), of the prefix and of what follows it alone. Blades differ by
one short syllable, which noise covers: which one it was is asked once more of the sound without the noise.
"""

import math
import tempfile
from collections.abc import Sequence
from dataclasses import dataclass
from itertools import pairwise, product
from pathlib import Path
from typing import TYPE_CHECKING

import numpy as np
from numpy.typing import NDArray

from pronostico.core.gauge.blade_list import BladeUnit
from pronostico.voice.cleaned import cleaned
from pronostico.voice.grammar import PREFIX, Command, command_of, jsgf, one_word, phrases

if TYPE_CHECKING:
    from pocketsphinx import Decoder, Segment

RATE_HZ = 16_000
LEAST_LOG_RATIO = {"feeler": -2.5, "gauge": -4.4}
"""Of each word of the prefix: in benchmarks/voice.py it lies above where it is said, below in other talk."""
LEAST_LOG_RATIO_OF_COMMAND = -3.65
_DOUBTFUL = 0.5
"""So far below somebody may have meant us: it is said that it was not understood."""
_CLEARLY_NOT = 1.0
"""So far below, the prefix was not said: in benchmarks/voice.py it lies at +0.3 or more where it was, from
its first try on. Listening on to what follows would cost half a core while others talk."""
_TIMES_NOT = 2
"""Running: what stands at the edge of the sound may be aligned better with more of it."""
_FRAMES_A_PHONE = (5.0, 25.0)
"""How fast anybody speaks, from hurried to slow."""
_SPOT_THRESHOLD = 1e-50
_SPOTTER_S = 8.0
"""The spotter is begun anew that often: its threshold is for short stretches."""
_MOST_PHRASES = 3
"""A false spotting must not hide the true one behind it."""
_FRAMES_PER_S = 100
_STEP_S = 0.12
_PREFIX_S = 1.2
"""So long before it was spotted the prefix began, at most."""
_FIRST_S = 0.45
"""The shortest command is not over earlier than that after its prefix."""
_LONGEST_S = 5.0
"""From where the prefix may have begun to behind the longest command, slowly said."""
_PROMPTED_S = 6.0
_SILENCE_S = 0.18
"""Behind the last word: less, and 'point three' of 'point three five' would do."""
_LEAST_SILENT_SHARE = 0.45
"""Of the sound behind the last word: where somebody still speaks, another phrase is on its way."""
_PAUSE_S = 0.5
"""Between two words, at most: who speaks to us goes on."""
# The recogniser's scale of a phone's score against that of a word's.
_PHONE_SCALE = 1024
_LEAST_SCORE = 1e-300
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
_SILENT = frozenset({"SIL", "+NSN+", "+SPN+"})
_PIECE = RATE_HZ // 10
_KEPT = int(_PROMPTED_S * RATE_HZ)
Samples = NDArray[np.int16]


@dataclass(frozen=True, slots=True)
class Heard:
    """A command; without one: something was meant for us and not understood.

    `over`: how far the least certain of its words is above its least log ratio, per 0.01 s.
    """

    command: Command | None
    over: float


@dataclass(slots=True)
class _Phrase:
    """Where a command may have begun and when it is tried next, in samples since the beginning."""

    begin: int
    try_at: int
    with_prefix: bool = True
    doubtful: Heard | None = None
    meant: bool = False
    """Whether the prefix was said there, as far as is known yet."""
    times_not: int = 0
    """How often running it was clearly not."""

    @property
    def end(self) -> int:
        """Until when it is tried."""
        return self.begin + int((_LONGEST_S if self.with_prefix else _PROMPTED_S) * RATE_HZ)


def _new_decoder(*, all_states: bool = False) -> "Decoder":
    # The package is an extra, and slow to load.
    from pocketsphinx import Decoder

    return Decoder(lm=None, loglevel="FATAL", samprate=RATE_HZ, compallsen=all_states)


def _ways_of(decoder: "Decoder", word: str) -> list[str]:
    """How a word is said: the dictionary's ways, numbered from 2 on, and ours."""
    ways = []
    number = 1
    while (phones := decoder.lookup_word(word if number == 1 else f"{word}({number})")) is not None:
        ways.append(phones)
        number += 1
    return [*ways, *_ALSO_SAID.get(word, ())]


def _teach(decoder: "Decoder", phrase: str) -> dict[str, int]:
    """Make a phrase known as a single word; how many phones each of its ways has."""
    count = {}
    ways = product(*(_ways_of(decoder, word) for word in phrase.split()))
    for number, phones in enumerate(ways, start=1):
        word = one_word(phrase) if number == 1 else f"{one_word(phrase)}({number})"
        if decoder.lookup_word(word) is None:
            decoder.add_word(word, " ".join(phones), False)
        count[word] = len(" ".join(phones).split())
    return count


class Listener:
    """Takes sound as it comes, and says what was commanded; 16,000 samples a second, one channel."""

    def __init__(self, blades_mm: Sequence[float], unit: BladeUnit, *, prefix_always: bool = True) -> None:
        """Begin to listen.

        Args:
            blades_mm: the set in use, mm; only its blades can be named.
            unit: in which they are marked.
            prefix_always: whether the prefix is wanted even right after a prompt.
        """
        self._known = phrases(blades_mm, unit)
        self._prefix_always = prefix_always
        # All states are scored alike in both searches, so that their scores can be compared.
        self._decoder = _new_decoder(all_states=True)
        self._phone_count: dict[str, int] = {}
        for phrase in (*PREFIX.split(), *self._known):
            self._phone_count |= _teach(self._decoder, phrase)
        self._decoder.add_jsgf_string("with", jsgf(self._known, prefix_wanted=True))
        self._decoder.add_jsgf_string("without", jsgf(self._known, prefix_wanted=False))
        self._decoder.add_allphone_file("loop", None)
        self._spotter = _new_decoder()
        with tempfile.TemporaryDirectory() as folder:
            path = Path(folder) / "prefix"
            path.write_text(f"{PREFIX} /{_SPOT_THRESHOLD}/\n")
            self._spotter.add_kws("prefix", str(path))
        self._spotter.activate_search("prefix")
        self._spotter.start_utt()
        self._dither = np.random.default_rng(0)
        # The last seconds of sound; it ends at `_now`, counted in samples since the beginning.
        self._buffer: Samples = np.zeros(0, dtype=np.int16)
        self._now = 0
        self._spotting_since = 0
        self._phrases: list[_Phrase] = []

    def prompted(self) -> None:
        """The product has just spoken the next blade: for some seconds the prefix may be left out."""
        if not self._prefix_always:
            self._phrases.append(_Phrase(self._now, self._now, with_prefix=False))

    def feed(self, samples: Samples) -> list[Heard]:
        """The next piece of sound; what was understood by its end."""
        if not samples.any():
            # Pure digital silence has no spectrum to be compared.
            samples = self._dither.integers(-1, 2, len(samples)).astype(np.int16)
        pieces = (samples[start : start + _PIECE] for start in range(0, len(samples), _PIECE))
        return [heard for piece in pieces if (heard := self._feed_piece(piece)) is not None]

    def _feed_piece(self, samples: Samples) -> Heard | None:
        self._buffer = np.concatenate([self._buffer, samples])[-_KEPT:]
        self._now += len(samples)
        self._spot(samples)
        over = [one for one in self._phrases if self._now >= one.end]
        self._phrases = [one for one in self._phrases if self._now < one.end]
        for one in self._phrases:
            if self._now < one.try_at:
                continue
            one.try_at = self._now + int(_STEP_S * RATE_HZ)
            heard = self._try(one)
            if heard is not None and heard.command is not None:
                self._begin_anew()
                return heard
            # More of it may make it clear.
            one.doubtful = heard or one.doubtful
        self._phrases = [one for one in self._phrases if one.times_not < _TIMES_NOT]
        return next((one.doubtful for one in over if one.doubtful is not None), None)

    def _spot(self, samples: Samples) -> None:
        if self._now - self._spotting_since > _SPOTTER_S * RATE_HZ:
            # The prefix may lie across the seam.
            self._restart_spotter(self._buffer[-RATE_HZ:])
        self._spotter.process_raw(samples.tobytes(), False, False)
        if self._spotter.hyp() is not None:
            self._restart_spotter(self._buffer[:0])
            begin = self._now - min(len(self._buffer), int(_PREFIX_S * RATE_HZ))
            one = _Phrase(begin, self._now + int(_FIRST_S * RATE_HZ))
            self._phrases = [*self._phrases, one][-_MOST_PHRASES:]

    def _restart_spotter(self, again: Samples) -> None:
        self._spotter.end_utt()
        self._spotter.start_utt()
        self._spotting_since = self._now
        if len(again):
            self._spotter.process_raw(again.tobytes(), False, False)

    def _begin_anew(self) -> None:
        self._phrases = []
        self._buffer = self._buffer[:0]
        self._restart_spotter(self._buffer)

    def _decoded(self, search: str, sound: Samples) -> "list[Segment]":
        decoder = self._decoder
        decoder.activate_search(search)
        decoder.start_utt()
        decoder.process_raw(sound.tobytes(), False, True)
        decoder.end_utt()
        return [] if decoder.hyp() is None else list(decoder.seg())

    def _try(self, one: _Phrase) -> Heard | None:
        """What stands in the sound since its beginning, where a phrase does, with silence behind it."""
        prefix_wanted = one.with_prefix
        sound = self._buffer[-(self._now - one.begin) :] if self._now > one.begin else self._buffer[:0]
        if not len(sound):
            return None
        found = self._decoded("with" if prefix_wanted else "without", sound)
        words = _words(found)
        if prefix_wanted and not one.meant:
            self._look_at_prefix(one, words, sound)
        command = self._command(words, prefix_wanted=prefix_wanted)
        if command is None:
            return None
        last_frame = words[-1].end_frame
        silent_frames = sum(
            one.end_frame - one.start_frame + 1 for one in found if one.start_frame > last_frame
        )
        if silent_frames < _SILENCE_S * _FRAMES_PER_S:
            return None
        pauses_s = [(b.start_frame - a.end_frame) / _FRAMES_PER_S for a, b in pairwise(words)]
        if max(pauses_s, default=0.0) > _PAUSE_S or not all(self._is_speakable(one) for one in words):
            return None
        phones = self._decoded("loop", sound)
        if _share_silent(phones, last_frame) < _LEAST_SILENT_SHARE:
            return None
        # Each for itself: much that is said ends like a command, and little of it begins like the prefix.
        over = min(_log_ratio(one, phones) - _least(one) for one in words)
        if over >= 0.0:
            return Heard(self._once_more(command, sound, prefix_wanted=prefix_wanted), over)
        return Heard(None, over) if prefix_wanted and over >= -_DOUBTFUL else None

    def _look_at_prefix(self, one: _Phrase, words: "Sequence[Segment]", sound: Samples) -> None:
        """Find out whether the prefix was said, where it stands among the words already."""
        prefix = [word for word in words if _spoken(word) in PREFIX.split()]
        if len(prefix) < len(PREFIX.split()):
            return
        phones = self._decoded("loop", sound)
        one.meant = min(_log_ratio(word, phones) - _least(word) for word in prefix) >= -_CLEARLY_NOT
        one.times_not = 0 if one.meant else one.times_not + 1

    def _command(self, words: "Sequence[Segment]", *, prefix_wanted: bool) -> Command | None:
        return command_of([_spoken(one) for one in words], self._known, prefix_wanted=prefix_wanted)

    def _once_more(self, command: Command, sound: Samples, *, prefix_wanted: bool) -> Command:
        """Of a blade: the one that is heard without the noise, where it is another.

        Of blades alone: *next valve* lives by faint consonants, and these go with the noise.
        """
        if command.name != "blade":
            return command
        found = self._decoded("with" if prefix_wanted else "without", cleaned(sound, self._buffer))
        again = self._command(_words(found), prefix_wanted=prefix_wanted)
        return again if again is not None and again.name == "blade" else command

    def _is_speakable(self, word: "Segment") -> bool:
        """Whether a word lasts neither shorter nor longer than anybody would speak it."""
        frames = word.end_frame - word.start_frame + 1
        shortest, longest = _FRAMES_A_PHONE
        return bool(shortest <= frames / self._phone_count[word.word] <= longest)


def _words(found: "Sequence[Segment]") -> "list[Segment]":
    """Without silences and noises."""
    return [one for one in found if one.word[0] not in "<[("]


def _spoken(word: "Segment") -> str:
    """Which word, however it was said."""
    return str(word.word).split("(")[0]


def _least(word: "Segment") -> float:
    """The least ratio of a word."""
    return LEAST_LOG_RATIO.get(_spoken(word), LEAST_LOG_RATIO_OF_COMMAND)


def _share_silent(phones: "Sequence[Segment]", after: int) -> float:
    """The share of the frames after one that the free loop takes for silence or noise."""
    behind = [one for one in phones if one.end_frame > after]
    if not behind:
        return 0.0
    silent = sum(one.end_frame - max(one.start_frame, after + 1) + 1 for one in behind if one.word in _SILENT)
    return float(silent / (behind[-1].end_frame - after))


def _log_ratio(word: "Segment", phones: "Sequence[Segment]") -> float:
    """Per frame of a word, the logarithm of its likelihood over that of whatever phones fit best."""
    free = 0.0
    for one in phones:
        shared = min(one.end_frame, word.end_frame) - max(one.start_frame, word.start_frame) + 1
        if shared > 0:
            length = one.end_frame - one.start_frame + 1
            free += _PHONE_SCALE * math.log(one.ascore) * shared / length
    whole = math.log(max(word.ascore, _LEAST_SCORE))
    return float((whole - free) / (word.end_frame - word.start_frame + 1))
