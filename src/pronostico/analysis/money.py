"""The estimate before a check, and the account after it."""

from collections import Counter

from pronostico.analysis.check_price import price_of
from pronostico.analysis.report_model import ReportModel
from pronostico.analysis.workshop_settings import WorkshopSettings
from pronostico.core.adjust.account import Line, account
from pronostico.core.adjust.price import work_minutes
from pronostico.language import Text
from pronostico.record.engine import EngineModel
from pronostico.record.models import Record
from pronostico.record.visit import VisitModel


class MoneyLineOut(ReportModel):
    """A line: so much of something at a price each; null where the price is not known."""

    what: Text
    quantity: float
    unit: Text
    each: float | None
    amount: float | None


class MoneyOut(ReportModel):
    """Lines and their sums in the workshop's currency; `missing`: lines without a price, in no sum."""

    title: Text
    lines: list[MoneyLineOut]
    net: float
    tax_percent: float | None
    tax: float | None
    total: float
    currency: str
    missing: list[Text]


class CostEstimateOut(ReportModel):
    """The two prices of the next check; the second, with its chance, is null while nothing is predicted."""

    check: MoneyOut
    check_and_adjust: MoneyOut | None
    p_set: float | None


def _money(title: str, lines: list[Line], workshop: WorkshopSettings) -> MoneyOut:
    done = account(lines, workshop.tax_percent)
    return MoneyOut(
        title=title,
        lines=[
            MoneyLineOut(what=one.what, quantity=one.quantity, unit=one.unit, each=one.each, amount=amount)
            for one, amount in zip(lines, done.amounts, strict=True)
        ],
        net=done.net,
        tax_percent=workshop.tax_percent,
        tax=done.tax,
        total=done.total,
        currency=workshop.currency,
        missing=list(done.missing),
    )


def _labour(minutes: float, workshop: WorkshopSettings) -> Line:
    # On paper stand hours with two decimals, and their product is what is charged.
    return Line("labour", round(minutes / 60.0, 2), "h", workshop.rate_per_hour)


def _kit(engine: EngineModel) -> list[Line]:
    return [Line(one.what, one.count, "", one.price) for one in engine.kit if one.kind == "part"]


def cost_estimate(
    record: Record, workshop: WorkshopSettings, *, usage: float | None = None
) -> CostEstimateOut:
    """What the next check costs, and what it costs with adjustment.

    Args:
        usage: the running total it is asked for; None: as at the last visit.
    """
    at = price_of(record, workshop, usage=usage).price
    kit = _kit(record.engine)
    adjusted = None
    if at.set_minutes is not None:
        lines = [_labour(at.set_minutes, workshop), *kit]
        if record.engine.adjustment.startswith("shim"):
            count = max(1, round(at.valves_to_set or 1.0))
            lines.append(Line("shims, about", count, "", workshop.shim_price))
        adjusted = _money("Check and adjust", lines, workshop)
    check = _money("Check", [_labour(at.check_minutes, workshop), *kit], workshop)
    return CostEstimateOut(check=check, check_and_adjust=adjusted, p_set=at.p_set)


def labour_minutes(record: Record, visit: VisitModel, workshop: WorkshopSettings) -> float:
    """How long the work of a visit took: by the clock, else by the workshop's times."""
    if visit.minutes is not None:
        return visit.minutes
    return work_minutes(
        adjustment=record.engine.adjustment,
        checked=len({one.valve for one in visit.readings if one.phase == "found" and one.tries}),
        set_valves=len({one.valve for one in visit.settings}),
        access_minutes=record.engine.access_minutes,
        times=workshop.times,
    )


def account_of(record: Record, visit: VisitModel, workshop: WorkshopSettings) -> MoneyOut:
    """What the work of a visit costs: labour, parts used, and the last new shim of each valve."""
    fitted = {one.valve: one for one in visit.settings if one.shim_to_mm is not None}
    shims = Counter(one.shim_to_mm for one in fitted.values() if one.shim_source != "moved")
    lines = [
        _labour(labour_minutes(record, visit, workshop), workshop),
        *(Line(one.what, one.count, "", one.price) for one in visit.parts_used),
        *(
            Line(f"shim {size:.3f} mm", count, "", workshop.shim_price)
            for size, count in sorted(shims.items(), key=lambda item: item[0] or 0.0)
            if size is not None
        ),
    ]
    return _money("Account", lines, workshop)
