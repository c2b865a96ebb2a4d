"""A whole set of blades from a line of text, as a technician would write it.

'0.05 0.10 0.15', '0.05, 0.10', or a row: '0.05 to 0.50 by 0.05'; the two may be mixed. In mm, in thou, or
as a blade that carries both is printed: '0.152/6'.
"""

import re
from typing import Literal

from pronostico.core.errors import ImpossibleValue
from pronostico.core.units import mm_from_thou
from pronostico.core.visits import THICKEST_BLADE_MM

BladeUnit = Literal["mm", "thou", "both"]
"""What is printed on the blades; 'both' is mm and thou on each, written mm/thou."""

MOST_BLADES = 120
"""More than any set holds: a mistake in the step would otherwise make thousands."""

_NUMBER = r"\d+(?:[.]\d+)?|[.]\d+"
_ROW = re.compile(rf"({_NUMBER})\s*to\s*({_NUMBER})\s*by\s*({_NUMBER})")
_SHAPE = "thicknesses such as 0.05 0.10 0.15, or a series such as 0.05 to 0.50 by 0.05"
# Two prints of one thickness, in mm, closer than any two blades are made.
_SAME_MM = 1e-4
# How far the two prints of one blade may lie apart, mm: thou are rounded to halves on many sets.
_PRINTS_APART_MM = 0.008


def _row(first: float, last: float, step: float) -> list[float]:
    if step <= 0.0 or last < first:
        raise ImpossibleValue(
            "series of blades", f"{first:g} to {last:g} by {step:g}", "upwards, by a step over 0"
        )
    count = int((last - first) / step + 1e-6) + 1
    if count > MOST_BLADES:
        raise ImpossibleValue(
            "series of blades", f"{count} blades", f"at most {MOST_BLADES}; is the step right?"
        )
    return [first + index * step for index in range(count)]


def _figure(word: str, shape: str) -> float:
    if not re.fullmatch(_NUMBER, word):
        raise ImpossibleValue("blade", f"'{word}'", shape)
    return float(word)


def _both(word: str) -> float:
    """The thickness in mm of a blade that carries mm and thou; the mm, where the two agree."""
    shape = "mm/thou as marked on the blade, such as 0.152/6"
    mm_print, slash, thou_print = word.partition("/")
    if not slash:
        raise ImpossibleValue("blade", f"'{word}'", shape)
    mm, thou = _figure(mm_print, shape), _figure(thou_print, shape)
    if abs(mm - mm_from_thou(thou)) > _PRINTS_APART_MM:
        raise ImpossibleValue(
            "blade", f"'{word}'", f"one thickness: {thou:g} thou is {mm_from_thou(thou):.3f} mm"
        )
    return mm


def parse_blades(text: str, unit: BladeUnit) -> tuple[float, ...]:
    """Thicknesses in mm, thinnest first, each once.

    >>> parse_blades("0.05 to 0.15 by 0.05, 0.40", "mm")
    (0.05, 0.1, 0.15, 0.4)

    Raises:
        ImpossibleValue: something in the text is no thickness, or no blade is that thick.
    """
    # A comma between digits is a decimal point in half of the world; elsewhere it parts the figures.
    plain = re.sub(r"(?<=\d),(?=\d)", ".", text.strip().lower())
    found: list[float] = []
    for row in _ROW.finditer(plain) if unit != "both" else ():
        found.extend(_row(*(float(part) for part in row.groups())))
    for word in re.split(r"[\s,;]+", plain if unit == "both" else _ROW.sub(" ", plain)):
        if word:
            found.append(_both(word) if unit == "both" else _figure(word, _SHAPE))
    in_mm = sorted(round(mm_from_thou(value) if unit == "thou" else value, 4) for value in found)
    if not in_mm:
        raise ImpossibleValue("feeler gauge set", "empty", _SHAPE)
    for thickness in in_mm:
        if not 0.0 < thickness <= THICKEST_BLADE_MM:
            allowed = f"over 0 and at most {THICKEST_BLADE_MM:g} mm (is the unit right?)"
            raise ImpossibleValue("blade thickness", f"{thickness:g} mm", allowed)
    return tuple(b for i, b in enumerate(in_mm) if i == 0 or b - in_mm[i - 1] > _SAME_MM)
