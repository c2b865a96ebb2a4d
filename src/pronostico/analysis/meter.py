"""What the usage meter showed against the running total."""

from datetime import date

from pronostico.core.usage import MeterChange, meter_offset
from pronostico.record.engine import EngineModel
from pronostico.record.models import Record


def offset_on(engine: EngineModel, day: date) -> float:
    """What to add to the meter's figure on a day for the running total."""
    changes = (MeterChange(one.date, one.old, one.new) for one in engine.meter_changes)
    return meter_offset(changes, day)


def usage_history(record: Record) -> list[tuple[date, float]]:
    """Days and running totals at which an engine's usage is known: its visits, and readings between them."""
    visits = [(one.date, one.usage) for one in record.visits]
    return sorted([*visits, *((one.date, one.usage) for one in record.engine.usage_readings)])
