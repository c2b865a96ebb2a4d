"""What any JSON text must be before it is looked at: text that can be stored, and figures that can be.

A lone surrogate is no character and cannot be written to any file; a figure with hundreds of digits is no
measurement of anything.
"""

import json
from collections.abc import Iterator
from math import isfinite
from typing import NoReturn

from pronostico.limits import JSON_DEPTH, json_depth
from pronostico.record.faults import Fault, Step, json_path

LARGEST_FIGURE = 1e15
"""No figure here is larger: above it neighbouring numbers can no longer be told apart."""
LONGEST_TEXT = 100_000
"""Characters of one text."""


class NotPlain(ValueError):
    """The text is no JSON, or (`is_json`) holds what cannot be kept; `faults` says where."""

    def __init__(self, faults: list[Fault], *, is_json: bool = False) -> None:
        self.faults = faults
        self.is_json = is_json
        super().__init__("\n".join(str(fault) for fault in faults))


def _refuse_constant(name: str) -> NoReturn:
    raise ValueError(f"{name} is not a JSON number")


def _whole_number(digits: str) -> int | float:
    # More digits than a float has make a number that is refused anyway, and would take long to read.
    return int(digits) if len(digits) <= 20 else float(digits)


def _is_storable(text: str) -> bool:
    try:
        text.encode("utf-8")
    except UnicodeEncodeError:
        return False
    return True


def _text_fault(text: str, steps: tuple[Step, ...]) -> Fault | None:
    if not _is_storable(text):
        return Fault(json_path(steps), "holds half of a character (a lone surrogate), which cannot be stored")
    if len(text) > LONGEST_TEXT:
        return Fault(json_path(steps), f"is {len(text)} characters long; at most {LONGEST_TEXT}")
    return None


def _faults(value: object, steps: tuple[Step, ...]) -> Iterator[Fault]:
    if isinstance(value, dict):
        for key, one in value.items():
            if not _is_storable(key):
                yield Fault(json_path(steps), "has a field whose name holds half of a character")
            else:
                yield from _faults(one, (*steps, key))
    elif isinstance(value, list):
        for index, one in enumerate(value):
            yield from _faults(one, (*steps, index))
    elif isinstance(value, str):
        fault = _text_fault(value, steps)
        if fault is not None:
            yield fault
    elif isinstance(value, int | float) and not (isfinite(value) and abs(value) <= LARGEST_FIGURE):
        yield Fault(json_path(steps), f"is too large; it must lie within ±{LARGEST_FIGURE:g}")


def plain_json(text: str | bytes) -> object:
    """A JSON text as plain Python values.

    Raises:
        NotPlain: it is no JSON, with line and column, or holds figures or texts that cannot be kept.
    """
    repeated: list[str] = []

    def no_repeats(pairs: list[tuple[str, object]]) -> dict[str, object]:
        seen: set[str] = set()
        for key, _ in pairs:
            if key in seen:
                repeated.append(key)
            seen.add(key)
        return dict(pairs)

    # Before it is parsed: what is nested thousands deep exhausts the parser's stack.
    if json_depth(text) > JSON_DEPTH:
        raise NotPlain(
            [Fault("$", f"is nested too deeply: more than {JSON_DEPTH} brackets within each other")]
        )
    try:
        document: object = json.loads(
            text,
            object_pairs_hook=no_repeats,
            parse_constant=_refuse_constant,
            parse_int=_whole_number,
        )
    except json.JSONDecodeError as error:
        where = f"line {error.lineno}, column {error.colno}"
        raise NotPlain([Fault("$", f"is not JSON: {where}: {error.msg.lower()}")]) from error
    except ValueError as error:
        raise NotPlain([Fault("$", f"is not JSON: {error}")]) from error
    if repeated:
        names = ", ".join(f"'{key}'" for key in dict.fromkeys(repeated))
        raise NotPlain([Fault("$", f"the same field occurs twice in one object: {names}")])
    faults = list(_faults(document, ()))
    if faults:
        raise NotPlain(faults, is_json=True)
    return document
