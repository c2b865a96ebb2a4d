"""What the server says, in the language of whoever asks.

Inside everything is said in English: reports are computed once, kept and compared. A sentence changes as it
leaves, where its field is a `Text`: the message catalogue (gettext's PO) holds whole sentences, and patterns
of sentences with places for what is filled in.
"""

import re
from collections.abc import Iterator
from contextlib import contextmanager
from contextvars import ContextVar
from dataclasses import dataclass
from functools import cache, lru_cache
from importlib.resources import files
from typing import Annotated

from babel.messages.pofile import read_po
from pydantic import PlainSerializer

SOURCE = "en"
_SPOKEN: ContextVar[str] = ContextVar("language", default=SOURCE)
_PLACE = re.compile(r"\{\w*(?::[^}]*)?\}")
_DECIMAL = re.compile(r"(?<![\d.\w-])(\d+)\.(\d+)(?![\d.\w-])")
_WORD = re.compile("[a-z]{3}")
_SENTENCE_ENDS = re.compile(r"(?<=[.!?]) (?=[A-Z0-9])")
# What is filled in is never more than one sentence.
_FILLED = r"((?:(?!\. ).)+?)"
# A sentence with something filled in is short; what a person pasted in may be of any length.
_LONGEST = 300
_MOST_KEPT = 20_000
_DEEPEST = 4


@dataclass(frozen=True, slots=True)
class _Pattern:
    """A sentence with places; `surest`: the longest run of letters that it needs."""

    surest: str
    said: re.Pattern[str]
    meant: str


@dataclass(frozen=True, slots=True)
class Catalogue:
    """Whole sentences by what they are in English, and patterns, the most particular first."""

    sentences: dict[str, str]
    patterns: tuple[_Pattern, ...]


def catalogue_of(messages: dict[str, str]) -> Catalogue:
    """A catalogue from messages by their English; a place is `{0}`, `{1}` and so on, or has a name."""
    sentences = {said: meant for said, meant in messages.items() if not _PLACE.search(said)}
    patterns = []
    for said, meant in messages.items():
        between = _PLACE.split(said)
        if len(between) < 2 or not any(part.strip() for part in between):
            continue
        expression = _FILLED.join(re.escape(part) for part in between)
        # Places are taken in their order; a translation says by its own numbers where each belongs.
        names = [place[1:-1].split(":")[0] for place in _PLACE.findall(said)]
        numbered = meant
        for number, name in enumerate(names):
            numbered = re.sub(r"\{" + re.escape(name) + r"(?::[^}]*)?\}", f"\x00{number}\x00", numbered)
        patterns.append(_Pattern(max(between, key=len), re.compile(expression + r"\Z", re.DOTALL), numbered))
    patterns.sort(key=lambda one: -len(one.said.pattern))
    return Catalogue(sentences, tuple(patterns))


@cache
def catalogue(language: str) -> Catalogue | None:
    """The catalogue of a language; None: there is none."""
    path = files("pronostico.language").joinpath(f"{language}.po")
    if not re.fullmatch("[a-z]{2}", language) or not path.is_file():
        return None
    with path.open("rb") as stream:
        known = read_po(stream, locale=language)
    return catalogue_of({str(one.id): str(one.string) for one in known if one.id and one.string})


def _in(known: Catalogue, text: str, depth: int = 0) -> str:
    whole = known.sentences.get(text)
    if whole is not None or depth > _DEEPEST:
        return text if whole is None else whole
    for one in known.patterns:
        if one.surest in text and (found := one.said.match(text)):
            filled = one.meant
            for number, value in enumerate(found.groups()):
                filled = filled.replace(f"\x00{number}\x00", _in(known, value, depth + 1))
            return filled
    parts = text.split(", ")
    if len(parts) > 1 and all(one in known.sentences or not _WORD.search(one) for one in parts):
        return ", ".join(known.sentences.get(one, one) for one in parts)
    sentences = _SENTENCE_ENDS.split(text)
    if len(sentences) > 1:
        return " ".join(_in(known, one, depth + 1) for one in sentences)
    return _DECIMAL.sub(r"\1,\2", text)


@lru_cache(_MOST_KEPT)
def _kept(language: str, text: str) -> str:
    known = catalogue(language)
    return text if known is None else _in(known, text)


def translated(language: str, text: str) -> str:
    """A text in a language; as it is where the catalogue has nothing for it."""
    if len(text) <= _LONGEST:
        return _kept(language, text)
    known = catalogue(language)
    return text if known is None else known.sentences.get(text, text)


def as_spoken(text: str) -> str:
    """A text in the language of whoever asks."""
    language = _SPOKEN.get()
    return text if language == SOURCE else translated(language, text)


Text = Annotated[str, PlainSerializer(as_spoken, return_type=str, when_used="json-unless-none")]
"""What the server says to a person; never a key, nor what a person wrote and may send back."""


def spoken() -> str:
    """The language of whoever asks."""
    return _SPOKEN.get()


def wanted(header: str | None) -> str:
    """The first language of an Accept-Language header that there is (RFC 9110, 12.5.4), else English."""
    for part in (header or "").split(","):
        language = part.split(";")[0].strip().lower()[:2]
        if language == SOURCE or (re.fullmatch("[a-z]{2}", language) and catalogue(language) is not None):
            return language
    return SOURCE


@contextmanager
def speaking(language: str) -> Iterator[None]:
    """Everything that is said meanwhile is said in a language."""
    token = _SPOKEN.set(language)
    try:
        yield
    finally:
        _SPOKEN.reset(token)
