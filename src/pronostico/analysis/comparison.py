"""Two states of engines side by side: two visits, before and after work on the head, two sister engines."""

from dataclasses import dataclass
from datetime import date
from typing import Literal

from pronostico.analysis.drift_cache import drifts_of
from pronostico.analysis.drift_report import SpreadOut
from pronostico.analysis.report import EstimateOut, SpecOut, estimate_out
from pronostico.analysis.report_model import ReportModel
from pronostico.core.drift.forecast import Trend, trend_of
from pronostico.core.engine import Engine, Valve
from pronostico.core.gauge.difference import Change, difference
from pronostico.core.gauge.reading import Estimate
from pronostico.core.gauge.valve_history import at_visit
from pronostico.core.visits import Visit
from pronostico.errors import NotThere, Refused
from pronostico.record.conversion import engine_from, visits_from
from pronostico.record.faults import Fault
from pronostico.record.models import Record

When = Literal["found", "after"]
"""As found at a visit, or as it stood after it: as left, else as found where nothing was done."""


@dataclass(frozen=True, slots=True)
class Side:
    """One of the two: an engine at a visit, as found there or after it."""

    record: Record
    visit: str
    when: When


class ComparedDriftOut(ReportModel):
    """The drift up to a visit, mm an interval."""

    drift_mm: SpreadOut
    trend: Trend


class ComparedSideOut(ReportModel):
    """What one of the two was: the engine, the visit, and how."""

    engine: str
    name: str
    visit: str
    when: When
    date: date
    usage: float
    usage_unit: str
    temperature_c: float | None
    technician: str | None


class ComparedStateOut(ReportModel):
    """One valve in one of the two; null what was not measured or is not known."""

    spec: SpecOut | None
    estimate: EstimateOut | None
    drift: ComparedDriftOut | None


class ComparedValveOut(ReportModel):
    """One valve in both; a difference only where both are known well enough to subtract, mm.

    `change`: from the first to the second; `none shown`: no more than the readings' own error.
    """

    valve: str
    cylinder: int
    side: str
    first: ComparedStateOut
    second: ComparedStateOut
    difference_mm: float | None
    sd_mm: float | None
    change: Change | None


class ComparisonOut(ReportModel):
    """Both sides, and every valve that both engines have."""

    first: ComparedSideOut
    second: ComparedSideOut
    valves: list[ComparedValveOut]
    only_in_one: list[str]


@dataclass(frozen=True, slots=True)
class _State:
    """One of the two as the computation sees it."""

    side: Side
    engine: Engine
    visits: tuple[Visit, ...]

    @property
    def visit(self) -> Visit:
        return self.visits[-1]

    def estimate(self, valve: Valve) -> Estimate | None:
        at = at_visit(self.engine, valve, self.visit)
        return at.found if self.side.when == "found" else at.standing

    def spec(self, valve: Valve) -> SpecOut | None:
        spec = self.engine.spec_of(valve, self.visit.day)
        return None if spec is None else SpecOut.model_validate(spec)

    def drift(self, valve: Valve) -> ComparedDriftOut | None:
        known, spec = drifts_of(self.engine, self.visits).valves.get(valve.id), None
        if known is not None:
            spec = known.chain.specs[-1]
        if known is None or spec is None or len({one.visit for one in known.chain.readings}) < 2:
            return None
        drift = known.state.of(0.0, 1.0)
        return ComparedDriftOut(
            drift_mm=SpreadOut(mean_mm=drift.average, sd_mm=drift.sd), trend=trend_of(drift, spec)
        )

    def of(self, valve: Valve) -> ComparedStateOut:
        """All that is compared of one valve."""
        return ComparedStateOut(
            spec=self.spec(valve), estimate=estimate_out(self.estimate(valve)), drift=self.drift(valve)
        )

    def out(self) -> ComparedSideOut:
        record, visit = self.side.record, self.visit
        model = next(one for one in record.visits if one.id == visit.id)
        return ComparedSideOut(
            engine=record.engine.id,
            name=record.engine.name or record.engine.id,
            visit=visit.id,
            when=self.side.when,
            date=visit.day,
            usage=visit.usage,
            usage_unit=record.engine.usage_unit,
            temperature_c=visit.temperature_c,
            technician=model.technician,
        )


def _state(side: Side) -> _State:
    visits = visits_from(side.record)
    upto = next((index for index, one in enumerate(visits) if one.id == side.visit), None)
    if upto is None:
        raise NotThere("visit", side.visit)
    # A comparison tells two engines apart: what sisters make expected of either is left out.
    return _State(side, engine_from(side.record.engine).alone, visits[: upto + 1])


def compare(first: Side, second: Side) -> ComparisonOut:
    """Two states valve by valve, from the first to the second.

    Raises:
        NotThere: an engine has no such visit.
        Refused: the two engines have no valve in common.
    """
    one, other = _state(first), _state(second)
    same_visit = (first.record.engine.id, first.visit) == (second.record.engine.id, second.visit)
    theirs = {valve.id: valve for valve in other.engine.valves}
    common = [valve for valve in one.engine.valves if valve.id in theirs]
    if not common:
        raise Refused([Fault("$", "the two engines have no valve of the same name; compare sister engines")])
    valves = []
    for valve in common:
        twin = theirs[valve.id]
        before, after = one.estimate(valve), other.estimate(twin)
        apart = None if before is None or after is None else difference(before, after, same_visit=same_visit)
        valves.append(
            ComparedValveOut(
                valve=valve.id,
                cylinder=valve.cylinder,
                side=valve.side,
                first=one.of(valve),
                second=other.of(twin),
                difference_mm=None if apart is None else apart.mean_mm,
                sd_mm=None if apart is None else apart.sd_mm,
                change=None if apart is None else apart.change,
            )
        )
    names = {valve.id for valve in one.engine.valves}
    return ComparisonOut(
        first=one.out(),
        second=other.out(),
        valves=valves,
        only_in_one=sorted(names.symmetric_difference(theirs)),
    )
