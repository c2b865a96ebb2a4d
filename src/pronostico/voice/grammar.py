"""What can be said while measuring, as a grammar of the blades of one set; and what it means."""

from collections.abc import Iterable, Iterator, Sequence
from dataclasses import dataclass
from typing import Literal

from pronostico.core.gauge.blade_list import BladeUnit
from pronostico.core.units import MM_PER_THOU

PREFIX = "feeler gauge"
"""Words that nothing else in a workshop sounds like: what does not begin with them is for somebody else."""
CommandName = Literal["no-go", "drag", "free", "next", "undo", "repeat", "skip", "blade", "stop"]

_PHRASES: dict[str, CommandName] = {
    "will not go": "no-go",
    "won't go": "no-go",
    "it drags": "drag",
    "falls free": "free",
    "slides freely": "free",
    "next valve": "next",
    "take that off": "undo",
    "say again": "repeat",
    "skip this valve": "skip",
    "stop listening": "stop",
}
_ONES = ("zero", "one", "two", "three", "four", "five", "six", "seven", "eight", "nine")
_TEENS = (
    *("ten", "eleven", "twelve", "thirteen", "fourteen"),
    *("fifteen", "sixteen", "seventeen", "eighteen", "nineteen"),
)
_TENS = ("zero", "ten", "twenty", "thirty", "forty", "fifty", "sixty", "seventy", "eighty", "ninety")


@dataclass(frozen=True, slots=True)
class Command:
    """What was said; `blade_mm` with the name 'blade'."""

    name: CommandName
    text: str
    blade_mm: float | None = None


def _below_hundred(number: int) -> str:
    if number < 10:
        return _ONES[number]
    if number < 20:
        return _TEENS[number - 10]
    tens, ones = divmod(number, 10)
    return _TENS[tens] + (f" {_ONES[ones]}" if ones else "")


def _millimetres(blade_mm: float) -> Iterator[str]:
    """'point one five', 'point three zero', 'point oh five'.

    Never 'point three' alone: it is the beginning of others, and would be taken for the whole.
    """
    whole, hundredths = divmod(round(blade_mm * 100), 100)
    before = f"{_below_hundred(whole)} " if whole else ""
    tenth, hundredth = divmod(hundredths, 10)
    yield f"{before}point {_ONES[tenth]} {_ONES[hundredth]}"
    if tenth == 0:
        yield f"{before}point oh {_ONES[hundredth]}"


def _thou(blade_mm: float) -> Iterator[str]:
    """'six', 'fourteen', 'two point five'."""
    whole, tenth = divmod(round(blade_mm / MM_PER_THOU * 10), 10)
    if whole < 100:
        yield _below_hundred(whole) + (f" point {_ONES[tenth]}" if tenth else "")


def phrases(blades_mm: Iterable[float], unit: BladeUnit) -> dict[str, Command]:
    """Every phrase after the prefix, and what it means.

    Args:
        blades_mm: the blades of the set, mm; only these can be named.
        unit: in which they are marked.
    """
    known = {text: Command(name, text) for text, name in _PHRASES.items()}
    words = _thou if unit == "thou" else _millimetres
    for blade_mm in blades_mm:
        for said in words(blade_mm):
            # Of two blades that would be called the same the first is meant.
            known.setdefault(f"blade {said}", Command("blade", f"blade {said}", blade_mm))
    return known


def one_word(phrase: str) -> str:
    """A phrase as a single word of the recogniser.

    Word by word it would also end in the middle of one: 'take that' is a better fit for much than any whole
    phrase. And within a word each sound is modelled by its neighbours.
    """
    return phrase.replace(" ", "_").replace("'", "")


def jsgf(known: Iterable[str], *, prefix_wanted: bool) -> str:
    """The grammar in the JSpeech Grammar Format (W3C note, 2000).

    Args:
        known: what may be said, as in `phrases`.
        prefix_wanted: whether the prefix has to be said, or may be.
    """
    prefix = PREFIX if prefix_wanted else f"[{PREFIX}]"
    words = " | ".join(map(one_word, known))
    return f"#JSGF V1.0;\ngrammar measuring;\npublic <said> = {prefix} ( {words} );\n"


def command_of(heard: Sequence[str], known: dict[str, Command], *, prefix_wanted: bool) -> Command | None:
    """What the words of a recogniser mean; None where they are only a part of a phrase."""
    prefix, said = PREFIX.split(), list(heard)
    if said[: len(prefix)] == prefix:
        said = said[len(prefix) :]
    elif prefix_wanted:
        return None
    by_word = {one_word(phrase): command for phrase, command in known.items()}
    return by_word.get(said[0]) if len(said) == 1 else None
