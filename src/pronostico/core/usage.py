"""Usage as a running total, though meters are replaced and roll over."""

from collections.abc import Iterable
from dataclasses import dataclass
from datetime import date


@dataclass(frozen=True, slots=True)
class MeterChange:
    """The meter went from showing `old` to showing `new` on a day."""

    day: date
    old: float
    new: float


def meter_offset(changes: Iterable[MeterChange], on: date) -> float:
    """What has to be added to the meter's figure on a day for the running total.

    >>> meter_offset([MeterChange(date(2025, 5, 1), 1990.0, 0.0)], date(2025, 6, 1))
    1990.0
    """
    return sum(change.old - change.new for change in changes if change.day <= on)
