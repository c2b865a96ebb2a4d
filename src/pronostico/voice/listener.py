"""Hears commands in the sound of a workshop.

Three searches of one acoustic model: a spotter waits for the prefix all the time; from there on the grammar
of the set is followed while the phrase is said, until one stands there with silence behind; and a free loop
over all phones says how well anything at all would fit. The logarithm of the likelihood ratio of the two,
per hundredth of a second, tells a command from other speech (Rose and Paul, A hidden Markov model based
keyword recognition system, ICASSP 1990), of the prefix and of what follows it alone. Blades differ by one
short syllable, which noise covers: which one it was is asked once more of the sound without the noise.
"""

import tempfile
from collections.abc import Sequence
from dataclasses import dataclass
from itertools import pairwise
from pathlib import Path

import numpy as np

from pronostico.core.gauge.blade_list import BladeUnit
from pronostico.voice.cleaned import cleaned
from pronostico.voice.following import (
    FRAMES_PER_S,
    RATE_HZ,
    Following,
    Grammar,
    Part,
    Phones,
    Samples,
    Search,
    Words,
    new_decoder,
)
from pronostico.voice.grammar import PREFIX, Command, command_of, phrases

LEAST_LOG_RATIO = {"feeler": -2.5, "gauge": -4.4}
"""Of each word of the prefix: in benchmarks/voice.py it lies above where it is said, below in other talk."""
LEAST_LOG_RATIO_OF_COMMAND = -3.65
_DOUBTFUL = 0.5
"""So far below somebody may have meant us: it is said that it was not understood."""
_NEAR = 0.9
"""So far below under way it may still be a command at its end."""
_CLEARLY_NOT = 1.0
"""So far below, the prefix was not said: in benchmarks/voice.py it lies at +0.3 or more where it was. What is
said next is then for somebody else."""
_TIMES_NOT = 2
"""Running: what stands at the edge of the sound may be aligned better with more of it."""
_FRAMES_A_PHONE = (5.0, 25.0)
"""How fast anybody speaks, from hurried to slow."""
_SPOT_THRESHOLD = 1e-50
_SPOTTER_S = 8.0
"""The spotter is begun anew that often: its threshold is for short stretches."""
_MOST_PHRASES = 3
"""A false spotting must not hide the true one behind it."""
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
_PIECE = RATE_HZ // 10
_KEPT = int(_PROMPTED_S * RATE_HZ)


@dataclass(frozen=True, slots=True)
class Heard:
    """A command; without one: something was meant for us and not understood.

    `over`: how far the least certain of its words is above its least log ratio, per 0.01 s.
    """

    command: Command | None
    over: float


@dataclass(slots=True)
class _Phrase:
    """Where a command may have begun, and from when on it is followed, in samples since the beginning."""

    begin: int
    follow_from: int
    with_prefix: bool = True
    following: Following | None = None
    doubtful: Heard | None = None
    meant: bool = False
    """Whether the prefix was said there, as far as is known yet."""
    times_not: int = 0
    """How often running it was clearly not."""

    @property
    def search(self) -> Search:
        """Which search follows it."""
        return "with" if self.with_prefix else "without"

    @property
    def end(self) -> int:
        """Until when it is followed."""
        return self.begin + int((_LONGEST_S if self.with_prefix else _PROMPTED_S) * RATE_HZ)


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
        self._grammar = Grammar(list(self._known))
        self._idle = [Following(list(self._known))]
        self._spotter = new_decoder()
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
            self._await(_Phrase(self._now, self._now + int(_FIRST_S * RATE_HZ), with_prefix=False))

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
        for one in over:
            self._leave(one)
        for one in list(self._phrases):
            if self._now < one.follow_from:
                continue
            heard = self._try(one, self._followed(one, samples))
            if heard is not None and heard.command is not None:
                self._begin_anew()
                return heard
            # More of it may make it clear.
            one.doubtful = heard or one.doubtful
            if one.times_not == _TIMES_NOT:
                self._leave(one)
        return next((one.doubtful for one in over if one.doubtful is not None), None)

    def _spot(self, samples: Samples) -> None:
        if self._now - self._spotting_since > _SPOTTER_S * RATE_HZ:
            # The prefix may lie across the seam.
            self._restart_spotter(self._buffer[-RATE_HZ:])
        self._spotter.process_raw(samples.tobytes(), False, False)
        if self._spotter.hyp() is not None:
            self._restart_spotter(self._buffer[:0])
            begin = self._now - min(len(self._buffer), int(_PREFIX_S * RATE_HZ))
            self._await(_Phrase(begin, self._now + int(_FIRST_S * RATE_HZ)))

    def _restart_spotter(self, again: Samples) -> None:
        self._spotter.end_utt()
        self._spotter.start_utt()
        self._spotting_since = self._now
        if len(again):
            self._spotter.process_raw(again.tobytes(), False, False)

    def _await(self, phrase: _Phrase) -> None:
        if len(self._phrases) == _MOST_PHRASES:
            self._leave(self._phrases[0])
        self._phrases.append(phrase)

    def _leave(self, phrase: _Phrase) -> None:
        self._phrases.remove(phrase)
        if phrase.following is not None:
            self._idle.append(phrase.following)

    def _begin_anew(self) -> None:
        for one in list(self._phrases):
            self._leave(one)
        self._buffer = self._buffer[:0]
        self._restart_spotter(self._buffer)

    def _sound_of(self, phrase: _Phrase) -> Samples:
        return self._buffer[-(self._now - phrase.begin) :]

    def _followed(self, one: _Phrase, samples: Samples) -> Following:
        """The searches of a phrase, which have heard it up to now."""
        if one.following is not None:
            one.following.more(samples)
            return one.following
        one.following = self._idle.pop() if self._idle else Following(list(self._known))
        one.following.begin(one.search, self._sound_of(one))
        return one.following

    def _try(self, one: _Phrase, following: Following) -> Heard | None:
        """What was said, where a phrase stands there with silence behind it."""
        words, phones = following.words(), following.phones()
        if one.with_prefix and not one.meant:
            _look_at_prefix(one, words, phones)
        over = self._over(one, words, phones)
        if over is None or over < -_NEAR:
            return None
        sound = self._sound_of(one)
        words = self._grammar.heard(one.search, sound)
        over, command = self._over(one, words, phones), self._command(one, words)
        if over is None or command is None:
            return None
        if over >= 0.0:
            return Heard(self._once_more(one, command, sound), over)
        return Heard(None, over) if one.with_prefix and over >= -_DOUBTFUL else None

    def _over(self, one: _Phrase, words: Words, phones: Phones) -> float | None:
        """How far the least certain word is above its least log ratio; None: no phrase, or not over yet."""
        parts = words.parts
        if self._command(one, words) is None or words.silent_frames < _SILENCE_S * FRAMES_PER_S:
            return None
        pauses_s = [(b.first - a.last) / FRAMES_PER_S for a, b in pairwise(parts)]
        if max(pauses_s, default=0.0) > _PAUSE_S or not all(map(_is_speakable, parts)):
            return None
        if phones.share_silent(parts[-1].last) < _LEAST_SILENT_SHARE:
            return None
        # Each for itself: much that is said ends like a command, and little of it begins like the prefix.
        return min(phones.log_ratio(word) - _least(word) for word in parts)

    def _command(self, one: _Phrase, words: Words) -> Command | None:
        return command_of([word.spoken for word in words.parts], self._known, prefix_wanted=one.with_prefix)

    def _once_more(self, one: _Phrase, command: Command, sound: Samples) -> Command:
        """Of a blade: the one that is heard without the noise, where it is another.

        Of blades alone: *next valve* lives by faint consonants, and these go with the noise.
        """
        if command.name != "blade":
            return command
        again = self._command(one, self._grammar.heard(one.search, cleaned(sound, self._buffer)))
        return again if again is not None and again.name == "blade" else command


def _look_at_prefix(one: _Phrase, words: Words, phones: Phones) -> None:
    """Find out whether the prefix was said, where it stands among the words already."""
    prefix = [word for word in words.parts if word.spoken in PREFIX.split()]
    if len(prefix) < len(PREFIX.split()):
        return
    one.meant = min(phones.log_ratio(word) - _least(word) for word in prefix) >= -_CLEARLY_NOT
    one.times_not = 0 if one.meant else one.times_not + 1


def _is_speakable(word: Part) -> bool:
    """Whether a word lasts neither shorter nor longer than anybody would speak it."""
    shortest, longest = _FRAMES_A_PHONE
    return shortest <= word.frames / word.phones <= longest


def _least(word: Part) -> float:
    """The least ratio of a word."""
    return LEAST_LOG_RATIO.get(word.spoken, LEAST_LOG_RATIO_OF_COMMAND)
