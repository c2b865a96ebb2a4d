"""The Shop: every engine a lane along time, its visits behind it and its next look ahead."""

from dataclasses import dataclass
from datetime import date

from sqlalchemy.orm import Session

from pronostico.core.usage import day_of_usage, usage_per_day
from pronostico.services.lane import LaneResult
from pronostico.services.report_model import ReportModel
from pronostico.services.results import model_digest
from pronostico.services.shop import shop_settings
from pronostico.store import records
from pronostico.store.lanes import StoredLane, open_cases, stored_lanes


class LaneVisitOut(ReportModel):
    """A visit on a lane."""

    id: str
    day: date
    usage: float
    work: str | None


class OpenCaseOut(ReportModel):
    """A case that is not closed; complaints by the id of their finding."""

    id: str
    opened: date
    complaints: tuple[str, ...]


class FanDayOut(ReportModel):
    """The day on which the chance that a valve is out exceeds a risk."""

    risk: float
    day: date


class LaneOut(ReportModel):
    """One engine; `result` is null until it is reckoned, `look_day` where the rate of use is not known.

    `usage_per_day`: the engine's own, from its visits; `look_day` is `now` at the earliest.
    """

    id: str
    name: str
    usage_unit: str
    fuel: str | None
    adjustment: str
    visits: list[LaneVisitOut]
    cases: list[OpenCaseOut]
    usage_per_day: float | None
    result: LaneResult | None
    look_day: date | None
    look_is_recheck: bool
    fan: list[FanDayOut]


@dataclass(frozen=True, slots=True)
class _Look:
    usage: float
    is_recheck: bool


def _look(result: LaneResult | None) -> _Look | None:
    """The next look: at the risk, or at the recheck that was asked for where that comes first."""
    if result is None:
        return None
    looks = []
    if result.next_look is not None:
        looks.append(_Look(result.next_look.usage, is_recheck=False))
    if result.recheck is not None:
        looks.append(_Look(result.recheck.usage, is_recheck=True))
    return min(looks, key=lambda look: look.usage, default=None)


def _lane(stored: StoredLane) -> LaneOut:
    result = None if stored.result is None else LaneResult.model_validate(stored.result)
    history = [(one.day, one.usage) for one in stored.visits]
    look = _look(result)
    fan = []
    for one in result.next_look.fan if result is not None and result.next_look is not None else []:
        day = None if one.usage is None else day_of_usage(one.usage, history)
        if day is not None:
            fan.append(FanDayOut(risk=one.risk, day=day))
    return LaneOut(
        id=stored.id,
        name=stored.name,
        usage_unit=stored.usage_unit,
        fuel=stored.fuel,
        adjustment=stored.adjustment,
        visits=[LaneVisitOut.model_validate(one) for one in stored.visits],
        cases=[OpenCaseOut.model_validate(one) for one in stored.cases],
        usage_per_day=usage_per_day(history),
        result=result,
        look_day=None if look is None else day_of_usage(look.usage, history),
        look_is_recheck=look is not None and look.is_recheck,
        fan=fan,
    )


class EngineNameOut(ReportModel):
    """An engine of the shop by name, with its open cases."""

    id: str
    name: str
    open_cases: list[OpenCaseOut]


def engine_names(session: Session) -> list[EngineNameOut]:
    """Every engine of the shop, by name."""
    cases = open_cases(session)
    return [
        EngineNameOut(
            id=id, name=name, open_cases=[OpenCaseOut.model_validate(one) for one in cases.get(id, ())]
        )
        for id, name in records.engine_names(session)
    ]


@dataclass(frozen=True, slots=True)
class Lanes:
    """Every engine of the shop, by name; `stale`: those without a current result."""

    lanes: list[LaneOut]
    stale: list[tuple[str, int]]


def shop_lanes(session: Session) -> Lanes:
    """The Shop from what is kept: nothing is reckoned here."""
    stored = stored_lanes(session, model_digest(shop_settings(session)))
    return Lanes(
        [_lane(one) for one in stored],
        [(one.id, one.changed) for one in stored if one.result is None],
    )
