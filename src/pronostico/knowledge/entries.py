"""Reading a knowledge file: TOML of entries of one shape; a fault names the file, the line and the entry."""

import re
import tomllib
from collections.abc import Sequence
from importlib.resources import files
from typing import TypeVar

from pydantic import BaseModel, ConfigDict, ValidationError

from pronostico.core.errors import KnowledgeFault
from pronostico.limits import toml_fault

Model = TypeVar("Model", bound=BaseModel)
# Whoever made more faults than these has them told in turns.
_MOST_TOLD = 20
_HEADER = re.compile(r"\s*\[\[\s*([\w.-]+)\s*\]\]")


class Entry(BaseModel):
    """Base of what a file holds: no field that is not expected, nothing changed after reading."""

    model_config = ConfigDict(extra="forbid", frozen=True)


def _key(line: str) -> str | None:
    found = re.match(r"\s*([\w-]+)\s*=", line)
    return None if found is None else found.group(1)


def line_at(text: str, steps: Sequence[int | str]) -> int | None:
    """The line of a value, from 1, by its place: ('cause', 2, 'link', 0, 'why'); its entry's where it is not.

    None where the text has no such entry.
    """
    lines = text.splitlines()
    name, at, rest = "", None, list(steps)
    start, end = 0, len(lines)
    while len(rest) >= 2 and isinstance(rest[1], int):
        table, number = str(rest[0]), rest[1]
        name = f"{name}.{table}" if name else table
        heads = [n for n in range(start, end) if (head := _HEADER.match(lines[n])) and head.group(1) == name]
        if number >= len(heads):
            return at
        start = heads[number]
        # It ends where the next of its own kind begins.
        end = heads[number + 1] if number + 1 < len(heads) else end
        at, rest = start + 1, rest[2:]
    if rest:
        for n in range(start + 1 if at else start, end):
            if at and _HEADER.match(lines[n]):
                break
            if _key(lines[n]) == str(rest[0]):
                return n + 1
    return at


def line_of(text: str, entry: str, finding: str | None = None) -> int | None:
    """The line where an entry of that id begins, or within it the link to a finding; from 1."""
    lines = text.splitlines()
    wanted = f'id = "{entry}"'
    start = next((n for n, line in enumerate(lines) if line.strip() == wanted), None)
    if start is None or finding is None:
        return None if start is None else start + 1
    link = f'finding = "{finding}"'
    return next((n + 1 for n in range(start, len(lines)) if lines[n].strip() == link), start + 1)


def parse_file(name: str, text: str, model: type[Model]) -> Model:
    """The text of a file as its model.

    Raises:
        KnowledgeFault: it is not TOML, too large or too deep, or an entry is not of the expected shape.
    """
    beyond = toml_fault(text)
    if beyond is not None:
        raise KnowledgeFault(f"{name}: {beyond}")
    try:
        return model.model_validate(tomllib.loads(text))
    except ValidationError as error:
        raise KnowledgeFault(
            "; ".join(_told(name, text, fault["loc"], fault["msg"]) for fault in error.errors()[:_MOST_TOLD])
        ) from error
    # Beside a TOMLDecodeError, whole numbers of thousands of digits.
    except (ValueError, RecursionError) as error:
        raise KnowledgeFault(f"{name}: {error}") from error


def _told(name: str, text: str, steps: Sequence[int | str], message: str) -> str:
    line = line_at(text, steps)
    where = name if line is None else f"{name}, line {line}"
    return f"{where}: {'.'.join(str(step) for step in steps)}: {message}"


def shipped_text(name: str) -> str:
    """The text of a file that ships with the application."""
    return (files("pronostico.knowledge") / name).read_text("utf-8")
