"""What stands in a cell: a length in mm, thou or inches, a figure, a day, a valve, what was felt.

Each function raises CellFault, which says what would be right.
"""

import re
from collections.abc import Iterable
from dataclasses import dataclass
from datetime import date
from functools import lru_cache
from typing import Literal

from pronostico.core.engine import Side
from pronostico.core.units import MM_PER_INCH, MM_PER_THOU
from pronostico.core.visits import THICKEST_BLADE_MM, Felt, Phase
from pronostico.record.engine import ValveModel

LengthIn = Literal["mm", "0.01 mm", "thou", "inch"]
Unit = Literal["mm", "0.01 mm", "thou", "inch", "by-size"]
DateOrder = Literal["day-first", "month-first"]
_MM: dict[LengthIn, float] = {"mm": 1.0, "0.01 mm": 0.01, "thou": MM_PER_THOU, "inch": MM_PER_INCH}
# No blade is thinner than this, and no clearance of an engine that is adjusted reaches the other.
_THINNEST_MM, _WIDEST_MM = 0.015, 1.3
_INCH_BELOW, _THOU_FROM = 0.02, 1.0
_SUFFIX: dict[str, LengthIn] = {
    "mm": "mm",
    "thou": "thou",
    "th": "thou",
    "in": "inch",
    "inch": "inch",
    '"': "inch",
}


class CellFault(ValueError):
    """A cell that cannot be taken as what its column is."""


@lru_cache(4096)
def plain_number(text: str) -> float | None:
    """A number with a point or a comma as its decimal mark, spaces between thousands; None: it is none.

    >>> plain_number("1 820,5")
    1820.5
    """
    packed = re.sub(r"(?<=\d)[\s\u00a0\u202f'](?=\d{3}\b)", "", text.strip())
    if not re.fullmatch(r"[+-]?(\d+[.,]?\d*|[.,]\d+)", packed):
        return None
    return float(packed.replace(",", "."))


@lru_cache(4096)
def usage_of(text: str, *, decimal_comma: bool) -> float:
    """A running total, whatever parts its thousands and follows its figure.

    Args:
        decimal_comma: the sheet writes decimals with a comma, so that a point parts thousands.

    Raises:
        CellFault: it is none.
    """
    bare = re.sub(
        r"\s*(h|hrs?|hours?|std|stunden|ore|km|mi|miles)\.?$", "", text.strip(), flags=re.IGNORECASE
    )
    point, thousands = (",", ".") if decimal_comma else (".", ",")
    if re.fullmatch(rf"\d{{1,3}}({re.escape(thousands)}\d{{3}})+({re.escape(point)}\d+)?", bare):
        bare = bare.replace(thousands, "")
    number = plain_number(bare)
    if number is None or number < 0:
        raise CellFault(f"'{text}' is not a running total such as 1820")
    return number


def temperature_of(text: str, *, fahrenheit: bool) -> float:
    """A temperature, deg C.

    Raises:
        CellFault: it is none, or none of an engine.
    """
    bare = re.sub(r"\s*(\u00b0|deg\.?)?\s*[CcFf]$", "", text.strip())
    number = plain_number(bare)
    if text.strip()[-1:] in ("F", "f"):
        fahrenheit = True
    celsius = None if number is None else (number - 32.0) / 1.8 if fahrenheit else number
    if celsius is None or not -90.0 <= celsius <= 250.0:
        raise CellFault(f"'{text}' is not an engine temperature such as 18")
    return round(celsius, 1)


def unit_by_size(number: float) -> LengthIn:
    """The unit in which a clearance of that size is written.

    >>> [unit_by_size(one) for one in (0.2, 8, 0.008)]
    ['mm', 'thou', 'inch']
    """
    if number >= _THOU_FROM:
        return "thou"
    return "mm" if number >= _INCH_BELOW else "inch"


def _parts(text: str) -> list[tuple[float, LengthIn | None]]:
    """The blades of a cell (a stack has a plus between), each with the unit written to it."""
    found: list[tuple[float, LengthIn | None]] = []
    for part in text.split("+"):
        match = re.fullmatch(r"\s*([\d.,\s\u00a0]+?)\s*(mm|thou|th|inch|in|\")?\.?\s*", part, re.IGNORECASE)
        number = None if match is None else plain_number(match.group(1))
        if match is None or number is None:
            raise CellFault(f"'{text}' is not a clearance such as 0.20")
        found.append((number, _SUFFIX[match.group(2).lower()] if match.group(2) else None))
    written = next((unit for _, unit in reversed(found) if unit is not None), None)
    return [(number, unit or written) for number, unit in found]


@lru_cache(4096)
def units_by_size(text: str) -> frozenset[LengthIn]:
    """The units that the bare figures of a cell look like; none of one that says its own or is no figure."""
    try:
        bare = [number for number, unit in _parts(_bare(text)) if unit is None and number > 0]
        return frozenset(unit_by_size(number) for number in bare)
    except CellFault:
        return frozenset()


def _bare(text: str) -> str:
    return text.strip().lstrip("<>").strip()


def _blade_mm(text: str, number: float, written: LengthIn | None, unit: Unit) -> float:
    taken = written or (unit_by_size(number) if unit == "by-size" else unit)
    blade_mm = round(number * _MM[taken], 4)
    if _THINNEST_MM <= blade_mm <= min(_WIDEST_MM, THICKEST_BLADE_MM):
        return blade_mm
    if number == 0:
        raise CellFault(
            f"'{text}' is not a blade; for no clearance write '<' and the thinnest blade that would not go"
        )
    likely = unit_by_size(number)
    if written is None and likely != taken:
        raise CellFault(
            f"{number:g} {taken} would be {blade_mm:g} mm; as {likely} it is {number * _MM[likely]:.3f} mm"
        )
    raise CellFault(f"'{text}' is {blade_mm:g} mm; blades are {_THINNEST_MM:g} to {_WIDEST_MM:g} mm thick")


# Sheets say the same few figures again and again.
@lru_cache(4096)
def blades_of(text: str, unit: Unit) -> tuple[float, ...]:
    """The blade or the stack of a cell, mm.

    Args:
        unit: of figures that do not say their own.

    Raises:
        CellFault: it is no thickness of blades.
    """
    return tuple(_blade_mm(text, number, written, unit) for number, written in _parts(_bare(text)))


def shim_of(text: str) -> float:
    """The thickness of a shim, mm; three digits without a mark are its print: 265 is 2.65 mm.

    Raises:
        CellFault: it is no thickness of a shim.
    """
    bare = re.sub(r"\s*mm$", "", text.strip(), flags=re.IGNORECASE)
    number = plain_number(bare)
    if number is not None and re.fullmatch(r"\d{3}", bare):
        number /= 100.0
    if number is None or not 0.5 <= number <= 6.0:
        raise CellFault(f"'{text}' is not a shim such as 2.65")
    return number


def range_of(text: str) -> tuple[str, str] | None:
    """The two figures of a cell that says what went and what would not: '0.13-0.15'; None: it is none."""
    match = re.fullmatch(
        r"\s*([\d.,]+)\s*(mm|thou|th|in|\")?\s*[-\u2013/]\s*([\d.,]+)\s*(mm|thou|th|in|\")?\s*", text
    )
    if match is None:
        return None
    unit = match.group(4) or match.group(2) or ""
    return match.group(1) + unit, match.group(3) + unit


_FELT: dict[str, Felt] = {
    **dict.fromkeys(("drag", "drags", "dragging", "slight drag", "firm", "snug"), "drag"),
    **dict.fromkeys(("free", "falls free", "falls in", "loose", "easy"), "free"),
    **dict.fromkeys(
        ("no-go", "no go", "nogo", "refused", "wont go", "won't go", "will not go", "no"), "no-go"
    ),
    **dict.fromkeys(("go", "goes", "went", "yes"), "go"),
}


def felt_of(text: str) -> Felt:
    """What the hand felt.

    Raises:
        CellFault: it is no such word.
    """
    felt = _FELT.get(" ".join(text.lower().replace("\u2019", "'").split()))
    if felt is None:
        raise CellFault(f"'{text}' is not a feel such as drag, free, go or no-go")
    return felt


def phase_of(text: str) -> Phase:
    """As found or as left.

    Raises:
        CellFault: it is neither.
    """
    word = text.lower().removeprefix("as ").strip()
    if word in ("found", "before", "f"):
        return "found"
    if word in ("left", "after", "set", "l"):
        return "left"
    raise CellFault(f"'{text}' is neither found nor left")


_SIDES: dict[str, Side] = {
    **dict.fromkeys(("i", "in", "int", "intake", "inlet"), "intake"),
    **dict.fromkeys(("einlass", "ein", "aspirazione", "asp", "admission", "admision", "inlaat"), "intake"),
    **dict.fromkeys(("e", "x", "ex", "exh", "exhaust"), "exhaust"),
    **dict.fromkeys(("auslass", "aus", "scarico", "scar", "echappement", "escape", "uitlaat"), "exhaust"),
}


_NO_SIDE = frozenset(
    (
        "cyl",
        "cylinder",
        "valve",
        "zyl",
        "zylinder",
        "ventil",
        "cil",
        "cilindro",
        "valvola",
        "cylindre",
        "soupape",
        "valvula",
        "cilinder",
        "klep",
    )
)


class Valves:
    """The engine's valves by what a sheet may call them."""

    def __init__(self, valves: Iterable[ValveModel]) -> None:
        self._valves = tuple(valves)
        self._by_id = {valve.id.lower(): valve.id for valve in self._valves}

    def _known(self) -> str:
        return ", ".join(valve.id for valve in self._valves)

    def named(self, text: str) -> str:
        """The valve that a cell names: by its own name, or as cylinder and side where that is one valve.

        Raises:
            CellFault: the engine has no such valve, or more than one.
        """
        own = self._by_id.get(text.lower())
        if own is not None:
            return own
        number = re.search(r"\d+", text)
        words = [word for word in re.findall(r"[a-z]+", text.lower()) if word not in _NO_SIDE]
        if number is None or len(words) != 1 or words[0] not in _SIDES:
            raise CellFault(f"there is no valve '{text}'; the engine has {self._known()}")
        return self.at(number.group(), words[0], written=text)

    def at(self, cylinder: str, side: str, *, written: str | None = None) -> str:
        """The valve of a cylinder on a side.

        Args:
            written: how the cell names it.

        Raises:
            CellFault: there is none, or more than one.
        """
        number, on = plain_number(re.sub(r"[^\d]", "", cylinder)), _SIDES.get(side.lower())
        named = f"{cylinder} {side}" if written is None else written
        found = [one.id for one in self._valves if one.cylinder == number and one.side == on]
        if len(found) == 1:
            return found[0]
        if not found:
            raise CellFault(f"there is no valve '{named}'; the engine has {self._known()}")
        raise CellFault(f"'{named}' could be {' or '.join(found)}; name the valve")


@dataclass(frozen=True, slots=True)
class _Numbers:
    """A day in numbers whose first two may stand either way round."""

    first: int
    second: int
    year: int


@lru_cache(4096)
def _numbers(text: str) -> _Numbers | None:
    match = re.fullmatch(r"(\d{1,2})[/-](\d{1,2})[/-](\d{4}|\d{2})", text)
    if match is None:
        return None
    first, second, year = (int(part) for part in match.groups())
    return _Numbers(first, second, year if year > 99 else 2000 + year)


@lru_cache(4096)
def _without_time(text: str) -> str:
    return re.sub(r"[ T]\d{1,2}:\d\d(:\d\d(\.\d+)?)?$", "", text.strip())


def date_orders(texts: Iterable[str]) -> set[DateOrder]:
    """The orders in which days in numbers can stand, from those that are a date in one order only."""
    orders: set[DateOrder] = set()
    for text in texts:
        numbers = _numbers(_without_time(text))
        if numbers is not None and max(numbers.first, numbers.second) > 12:
            orders.add("day-first" if numbers.first > 12 else "month-first")
    return orders


@lru_cache(4096)
def needs_order(text: str) -> bool:
    """Whether a day reads differently in either order."""
    numbers = _numbers(_without_time(text))
    return numbers is not None and numbers.first != numbers.second


@lru_cache(4096)
def day_of(text: str, order: DateOrder) -> date:
    """A day: 2026-01-31, 31.01.2026, or in numbers in the order that is given.

    Raises:
        CellFault: it is none.
    """
    bare = _without_time(text)
    numbers = _numbers(bare)
    try:
        if numbers is not None:
            day, month = (numbers.first, numbers.second)[:: 1 if order == "day-first" else -1]
            return date(numbers.year, month, day)
        dotted = re.fullmatch(r"(\d{1,2})\.\s?(\d{1,2})\.\s?(\d{4})", bare)
        if dotted is not None:
            return date(int(dotted.group(3)), int(dotted.group(2)), int(dotted.group(1)))
        if re.fullmatch(r"\d{4}[-/.]\d{1,2}[-/.]\d{1,2}", bare):
            year, month, day = (int(part) for part in re.split(r"[-/.]", bare))
            return date(year, month, day)
    except ValueError as error:
        way = "" if numbers is None else f" with the {order.split('-')[0]} first"
        raise CellFault(f"'{text}' is not a date{way}") from error
    raise CellFault(f"'{text}' is not a date such as 2026-01-31")
