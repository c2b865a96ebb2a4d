"""A recorded trace as CSV, out and in: seconds, then one column a channel under its id; empty: nothing came.

A file that stops half-way is read as far as it goes, and it is said where it stopped.
"""

import csv
import io
from collections.abc import Sequence
from dataclasses import dataclass
from math import isfinite

from pronostico.instruments.samples import Channel, Sample

_TIME = "at_s"
_MOST_SAMPLES = 20_000


class NotATrace(ValueError):
    """A file that is no trace of the instrument; says what, where, and what would be right."""


@dataclass(frozen=True, slots=True)
class Recorded:
    """A trace out of a file; `stopped`: why it ends before the file says so, None: it is whole."""

    samples: tuple[Sample, ...]
    stopped: str | None


def trace_text(channels: Sequence[Channel], samples: Sequence[Sample]) -> str:
    """A trace as CSV, with the instrument's channels as its head."""
    text = io.StringIO()
    writer = csv.writer(text)
    writer.writerow([_TIME, *(channel.id for channel in channels)])
    writer.writerows([sample.at_s, *sample.values] for sample in samples)
    return text.getvalue()


def _number(cell: str, line: int, column: str) -> float | None:
    if not cell.strip():
        return None
    try:
        number = float(cell)
    except ValueError as error:
        raise NotATrace(f"line {line}, {column}: '{cell[:30]}' is not a number") from error
    if not isfinite(number):
        raise NotATrace(f"line {line}, {column}: '{cell[:30]}' is not a finite number")
    return number


def read_trace(content: bytes, channels: Sequence[Channel]) -> Recorded:
    """A recorded trace.

    Args:
        channels: those of the instrument; each needs its column, others are passed over.

    Raises:
        NotATrace: no text, a column missing, a figure that is none, times that go back.
    """
    try:
        text = content.decode("utf-8-sig")
    except UnicodeDecodeError as error:
        raise NotATrace(f"is not UTF-8 text (byte {error.start})") from error
    try:
        rows = list(csv.reader(io.StringIO(text, newline="")))
    except csv.Error as error:
        raise NotATrace(
            f"a cell has more than {csv.field_size_limit()} characters; a sample has a few"
        ) from error
    if not rows:
        raise NotATrace(f"is empty; its first line should be {_head(channels)}")
    names = [name.strip() for name in rows[0]]
    lacking = [name for name in (_TIME, *(one.id for one in channels)) if name not in names]
    if lacking:
        raise NotATrace(f"line 1: there is no column {', '.join(lacking)}; it should be {_head(channels)}")
    places = [names.index(one.id) for one in channels]
    samples: list[Sample] = []
    for line, cells in enumerate(rows[1:], start=2):
        if not any(cells):
            continue
        if len(cells) < len(names):
            # Cut off in the middle of a line: what came before it stands.
            return Recorded(tuple(samples), f"the file stops in the middle of line {line}")
        at = _number(cells[names.index(_TIME)], line, _TIME)
        if at is None or at < (samples[-1].at_s if samples else 0.0):
            raise NotATrace(f"line {line}, {_TIME}: times must be there and never go back")
        values = tuple(_number(cells[place], line, names[place]) for place in places)
        samples.append(Sample(at, values))
        if len(samples) > _MOST_SAMPLES:
            raise NotATrace(f"has more than {_MOST_SAMPLES} samples")
    return Recorded(tuple(samples), None)


def _head(channels: Sequence[Channel]) -> str:
    return ",".join([_TIME, *(one.id for one in channels)])
