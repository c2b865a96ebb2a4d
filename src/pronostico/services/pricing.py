"""The price of a check and of a check with setting, said before the cover comes off."""

from dataclasses import dataclass

from sqlalchemy.orm import Session

from pronostico.core.analysis import ValveAnalysis, analyse
from pronostico.core.constants import DEFAULT, Constants
from pronostico.core.price import DEFAULT_ACCESS_MINUTES, Price, price
from pronostico.record.conversion import engine_from, visits_from
from pronostico.services.engines import engine_record
from pronostico.services.shop import shop_settings


@dataclass(frozen=True, slots=True)
class PriceAt:
    """A price, the usage that it is foretold for, and on how many valves the chance of setting rests."""

    price: Price
    usage: float | None
    foretold: int
    valves: int
    access_minutes: float
    access_is_known: bool
    currency: str


def _p_out(valve: ValveAnalysis, usage: float) -> float | None:
    """How likely a valve is out of spec at a usage; by its line, else as it stood when last read."""
    if valve.spec is None:
        return None
    if valve.line is not None:
        return 1.0 - valve.line.at(usage, valve.spec).p_in
    standing = next((one for at in reversed(valve.states) if (one := at.standing) is not None), None)
    return None if standing is None else 1.0 - standing.p_in


def price_of(
    session: Session, engine_id: str, *, usage: float | None = None, constants: Constants = DEFAULT
) -> PriceAt:
    """The price of the next check of an engine.

    Args:
        usage: the running total it is asked for; None: as at the last visit.

    Raises:
        NotThere: there is no such engine.
    """
    record = engine_record(session, engine_id)
    engine = engine_from(record.engine, constants)
    analysis = analyse(engine, visits_from(record), at=(), constants=constants)
    at = analysis.as_of_usage if usage is None else usage
    p_out = [] if at is None else [p for valve in analysis.valves if (p := _p_out(valve, at)) is not None]
    shop = shop_settings(session)
    access = record.engine.access_minutes
    priced = price(
        adjustment=engine.adjustment,
        valves=len(engine.valves),
        access_minutes=access,
        p_out=p_out,
        rate_per_hour=shop.rate_per_hour,
        times=shop.times,
    )
    return PriceAt(
        price=priced,
        usage=at,
        foretold=len(p_out),
        valves=len(engine.valves),
        access_minutes=DEFAULT_ACCESS_MINUTES if access is None else access,
        access_is_known=access is not None,
        currency=shop.currency,
    )
