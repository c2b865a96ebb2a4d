"""The price of a check and of a check with adjustment, before the cover comes off."""

from dataclasses import dataclass

from pronostico.analysis.drift_cache import drifts_of
from pronostico.analysis.workshop_settings import WorkshopSettings
from pronostico.core.adjust.price import Price, price
from pronostico.core.constants import DEFAULT, Constants
from pronostico.core.drift.forecast import ahead
from pronostico.core.drift.results import ValveDrift
from pronostico.record.conversion import engine_from, visits_from
from pronostico.record.models import Record


@dataclass(frozen=True, slots=True)
class PriceAt:
    """A price, the usage that it is predicted for, and on how many valves the chance of setting rests."""

    price: Price
    usage: float | None
    predicted: int
    valves: int
    access_minutes: float
    access_is_known: bool
    currency: str


def _p_out(valve: ValveDrift, intervals: float) -> float:
    """P(a valve is out of spec) some check intervals after the last visit, without adjustment."""
    spec = valve.chain.specs[-1]
    if spec is None:
        return 0.0
    later = ahead(valve.state, intervals)
    return later.below(spec.min_mm) + 1.0 - later.below(spec.max_mm)


def _was_read(valve: ValveDrift) -> bool:
    return bool(valve.chain.readings)


def price_of(
    record: Record,
    workshop: WorkshopSettings,
    *,
    usage: float | None = None,
    constants: Constants = DEFAULT,
) -> PriceAt:
    """The price of the next check of an engine.

    Args:
        workshop: its rate and labour times.
        usage: the running total it is asked for; None: as at the last visit.
    """
    engine = engine_from(record.engine, constants)
    visits = visits_from(record)
    last = visits[-1].usage if visits else None
    at = last if usage is None else usage
    p_out = []
    if at is not None and last is not None:
        intervals = max(0.0, (at - last) / engine.check_interval)
        known = drifts_of(engine, visits, constants).valves.values()
        p_out = [_p_out(valve, intervals) for valve in known if _was_read(valve)]
    access = record.engine.access_minutes
    priced = price(
        adjustment=engine.adjustment,
        valves=len(engine.valves),
        access_minutes=access,
        p_out=p_out,
        rate_per_hour=workshop.rate_per_hour,
        times=workshop.times,
    )
    return PriceAt(
        price=priced,
        usage=at,
        predicted=len(p_out),
        valves=len(engine.valves),
        access_minutes=DEFAULT.access_minutes if access is None else access,
        access_is_known=access is not None,
        currency=workshop.currency,
    )
