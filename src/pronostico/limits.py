"""How large and how deep what comes in from outside may be; looked at before it is parsed.

Far beyond anything that a workshop has, and small enough that no file of these sizes takes long or much
memory. docs/security.md lists them.
"""

import re

import numpy as np

MEGABYTE = 1_000_000
JSON_BYTES = 64 * MEGABYTE
"""Of a JSON body or a record."""
SHEET_BYTES = 32 * MEGABYTE
"""Of a spreadsheet."""
PICTURE_BYTES = 20 * MEGABYTE
"""A telephone's best pictures are half of that."""
SOUND_BYTES = 200 * MEGABYTE
"""Of a sound recording: two minutes of four channels at 96 kHz and 24 bits are 138 MB."""
SOUND_HERE_BYTES = 40 * MEGABYTE
"""Up to this a recording is listened to within two seconds; a larger one in a process of its own."""
KEPT_SOUND_BYTES = 160 * MEGABYTE
"""Of a recording as it is kept."""
KNOWLEDGE_BYTES = 2 * MEGABYTE
"""Of one file of knowledge."""
JSON_DEPTH = 60
TOML_DEPTH = 16
"""Brackets within brackets."""
TOML_DOTS = 100
"""Points in one line: each part of a dotted key is a table of its own."""
CELL_CHARACTERS = 2_000
"""Of one cell of a spreadsheet."""
UNPACKED_SHEET_BYTES = 200_000_000
SHEET_ROWS, SHEET_COLUMNS = 200_000, 200
ARCHIVE_FILES = 200_000
ARCHIVE_BYTES = 8_000 * MEGABYTE
ARCHIVE_TEXT_BYTES = 40 * MEGABYTE
"""Unpacked: of the whole archive, and of one text in it."""
ARCHIVE_RATIO = 200
"""How many times its packed size a file of an archive may have that unpacks to more than a megabyte."""
ARCHIVE_HERE_BYTES = MEGABYTE // 3
"""Unpacked: up to this an archive is read within a second; a larger one in a process of its own, so that
nobody waits for it and it can do no harm."""
APART_BYTES = 4_000 * MEGABYTE
APART_S = 1800
"""Address space and processor time of such a process."""

_JSON_TEXT = re.compile(rb'"(?:[^"\\]|\\.)*"', re.DOTALL)
_TOML_TEXT = re.compile(r'"(?:[^"\\\n]|\\.)*"|\'[^\'\n]*\'')
_CHUNK = 1 << 20


def depth_of(brackets: bytes) -> int:
    """How deep brackets of either kind are nested; everything else is passed over.

    >>> depth_of(b"[{}, [[1]]]")
    3
    """
    deepest = level = 0
    for start in range(0, len(brackets), _CHUNK):
        codes = np.frombuffer(brackets[start : start + _CHUNK], dtype=np.uint8)
        steps = np.isin(codes, (0x5B, 0x7B)).astype(np.int32) - np.isin(codes, (0x5D, 0x7D))
        levels = level + np.cumsum(steps)
        deepest, level = max(deepest, int(levels.max(initial=0))), int(levels[-1])
    return deepest


def json_depth(text: str | bytes) -> int:
    """How deep a JSON text is nested, brackets within texts left out.

    >>> json_depth('{"a": ["[[["]}')
    2
    """
    content = text.encode("utf-8", "surrogatepass") if isinstance(text, str) else text
    return depth_of(_JSON_TEXT.sub(b"", content))


def toml_fault(text: str) -> str | None:
    """Why a TOML text is not parsed at all; None where it is small and flat enough."""
    size = len(text.encode("utf-8", "surrogatepass"))
    if size > KNOWLEDGE_BYTES:
        return f"larger than {KNOWLEDGE_BYTES // MEGABYTE} MB"
    for number, line in enumerate(text.split("\n"), start=1):
        if line.count(".") > TOML_DOTS:
            return f"line {number} has more than {TOML_DOTS} points"
    if depth_of(_TOML_TEXT.sub("", text).encode("utf-8", "surrogatepass")) > TOML_DEPTH:
        return f"brackets are nested more than {TOML_DEPTH} deep"
    return None
