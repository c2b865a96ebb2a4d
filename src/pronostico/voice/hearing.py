"""A listener in a process of its own: it takes a third of a core, and the answers of others must not wait.

Talks by its standard input and output. In: one line of JSON with the settings, then pieces, each one byte of
kind, four of length (big-endian), the content. Out: one line of JSON for whatever was heard. It ends with its
input, so none outlives the server that began it.
"""

import json
import struct
import sys
from dataclasses import dataclass
from importlib.util import find_spec
from typing import BinaryIO, TextIO

import numpy as np

from pronostico.core.gauge.blade_list import BladeUnit
from pronostico.voice.listener import Heard, Listener

COMMAND = (sys.executable, "-m", "pronostico.voice.hearing")
SOUND, PROMPTED = b"s", b"p"
MOST_BYTES = 64_000
"""Of one piece of sound: two seconds."""
_HEAD = struct.Struct(">cI")


@dataclass(frozen=True, slots=True)
class Settings:
    """What a listener is begun with."""

    blades_mm: tuple[float, ...]
    unit: BladeUnit
    prefix_always: bool

    def line(self) -> bytes:
        """As the process takes it."""
        own = {"blades_mm": self.blades_mm, "unit": self.unit, "prefix_always": self.prefix_always}
        return json.dumps(own).encode() + b"\n"


def missing_package() -> str | None:
    """The package without which nothing can be heard on this machine; None: it can."""
    return next((name for name in ("pocketsphinx", "websockets") if find_spec(name) is None), None)


def piece(kind: bytes, content: bytes = b"") -> bytes:
    """One piece of input."""
    return _HEAD.pack(kind, len(content)) + content


def heard_line(heard: Heard) -> dict[str, object]:
    """What is told of something that was heard."""
    if heard.command is None:
        return {"kind": "not-understood"}
    return {
        "kind": "command",
        "name": heard.command.name,
        "text": heard.command.text,
        "blade_mm": heard.command.blade_mm,
    }


def listen(given: BinaryIO, told: TextIO) -> None:
    """Hear what is given until it ends."""

    def tell(what: dict[str, object]) -> None:
        told.write(json.dumps(what) + "\n")
        told.flush()

    settings = json.loads(given.readline())
    listener = Listener(settings["blades_mm"], settings["unit"], prefix_always=settings["prefix_always"])
    tell({"kind": "ready"})
    while len(head := given.read(_HEAD.size)) == _HEAD.size:
        kind, length = _HEAD.unpack(head)
        content = given.read(length)
        if kind == PROMPTED:
            listener.prompted()
        for heard in listener.feed(np.frombuffer(content[: len(content) // 2 * 2], dtype="<i2")):
            tell(heard_line(heard))


if __name__ == "__main__":
    listen(sys.stdin.buffer, sys.stdout)
