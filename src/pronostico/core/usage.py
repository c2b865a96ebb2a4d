"""Usage as a running total, though meters are replaced and roll over."""

from collections.abc import Iterable
from dataclasses import dataclass
from datetime import date, timedelta

from pronostico.core.constants import DEFAULT, Constants
from pronostico.core.engine import UsageUnit


def recheck_after_head_work(unit: UsageUnit, constants: Constants = DEFAULT) -> float:
    """After how much usage the clearances are checked again when a head was worked on, in that unit.

    Clearances close as a new head settles in its first hours; a maker's own figure goes before this.
    """
    match unit:
        case "h":
            return constants.recheck_after_head_work_h
        case "km":
            return constants.recheck_after_head_work_km
        case "mi":
            return constants.recheck_after_head_work_mi


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


def usage_per_day(history: Iterable[tuple[date, float]], constants: Constants = DEFAULT) -> float | None:
    """How much an engine is used, from its visits' days and running totals, usage units a day.

    None where they span less than a fortnight, or nothing was used in between.
    """
    points = sorted(history)
    if not points:
        return None
    days, used = (points[-1][0] - points[0][0]).days, points[-1][1] - points[0][1]
    return used / days if days >= constants.least_history_days and used > 0.0 else None


@dataclass(frozen=True, slots=True)
class Pace:
    """How an engine is used: usage units a day, from where it stood last."""

    last_day: date
    last_usage: float
    per_day: float

    def usage_on(self, day: date) -> float:
        """The running total that is likely by a day, not less than the last."""
        return self.last_usage + self.per_day * max((day - self.last_day).days, 0)

    def day_of(self, usage: float) -> date | None:
        """The day on which a running total is likely reached, the last day at the earliest; None: too far."""
        ahead = (usage - self.last_usage) / self.per_day
        return (
            self.last_day + timedelta(days=round(max(ahead, 0.0)))
            if ahead <= DEFAULT.furthest_date_days
            else None
        )


def pace_of(history: Iterable[tuple[date, float]]) -> Pace | None:
    """The pace of an engine from its visits' days and running totals; None where the history is too short."""
    points = sorted(history)
    rate = usage_per_day(points)
    return None if rate is None else Pace(points[-1][0], points[-1][1], rate)


def day_of_usage(usage: float, history: Iterable[tuple[date, float]]) -> date | None:
    """The day on which a running total is likely reached, at the rate of use so far; None where unknown."""
    pace = pace_of(history)
    return None if pace is None else pace.day_of(usage)


def meter_reading_due(
    history: Iterable[tuple[date, float]], check_interval: float, constants: Constants = DEFAULT
) -> date | None:
    """The day from which on a usage is too old to plan by, and the meter wants reading; None: never read.

    Half a check interval later by the engine's own rate of use; half a year later where that is not known,
    or the engine hardly runs.
    """
    points = sorted(history)
    if not points:
        return None
    days, pace = constants.latest_meter_reading_days, pace_of(points)
    if pace is not None:
        by_use = constants.meter_reading_share * check_interval / pace.per_day
        days = int(min(max(by_use, constants.soonest_meter_reading_days), days))
    return points[-1][0] + timedelta(days=days)
