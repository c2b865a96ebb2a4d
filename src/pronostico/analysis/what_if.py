"""What would be if a valve were set elsewhere, the next check were at another usage, the interval another."""

from pronostico.analysis.drift_cache import drifts_of
from pronostico.analysis.report_model import ReportModel
from pronostico.analysis.workshop_settings import WorkshopSettings
from pronostico.core.constants import DEFAULT, Constants
from pronostico.core.drift.forecast import ahead, as_set, crossings, risk_ahead
from pronostico.core.drift.results import Drifts, ValveDrift
from pronostico.core.engine import Engine
from pronostico.core.errors import ImpossibleValue
from pronostico.record.conversion import engine_from, visits_from
from pronostico.record.models import Record


class ValveAtOut(ReportModel):
    """A valve and how likely it is out."""

    valve: str
    p_out: float


class CheckAtOut(ReportModel):
    """A look at a usage: how likely any valve is out by more than the margin, and which."""

    usage: float
    p_any_out: float
    valves: list[ValveAtOut]


class SetToOut(ReportModel):
    """A valve set to a target now: in spec at the usual next check, and how long it stays in, usage.

    `lasts_until`: the usage at which it is out with probability one in ten; null: not within ten intervals.
    """

    valve: str
    target_mm: float
    p_in_now: float
    p_in_next: float
    next_usage: float
    lasts_until: float | None
    side: str | None


class WhatIfOut(ReportModel):
    """The answers to what was asked; null where it was not asked, or nothing is known to answer it from."""

    set_to: SetToOut | None
    check_at: CheckAtOut | None
    every: list[CheckAtOut] | None


class _Asked:
    """The engine that the questions are about."""

    def __init__(
        self, engine: Engine, known: Drifts, last: float, workshop: WorkshopSettings, constants: Constants
    ) -> None:
        self.engine, self.known, self.last = engine, known, last
        self.margin_mm, self.constants = workshop.next_check_margin_mm, constants

    def intervals(self, usage: float, what: str) -> float:
        """How far ahead a usage is, in check intervals."""
        ahead_of_it = (usage - self.last) / self.engine.check_interval
        if not 0.0 <= ahead_of_it <= self.constants.furthest_what_if_intervals:
            furthest = self.last + self.constants.furthest_what_if_intervals * self.engine.check_interval
            raise ImpossibleValue(
                what, usage, f"from {self.last:g}, the last visit's, to {furthest:g}, ten intervals on"
            )
        return ahead_of_it

    def checks(self, usages: list[float], what: str) -> list[CheckAtOut] | None:
        """A look at each of some usages, nothing touched before."""
        most = [self.intervals(usage, what) for usage in usages]
        risk = risk_ahead(
            self.known, margin_mm=self.margin_mm, most=max(*most, 0.02), constants=self.constants
        )
        if risk is None:
            return None
        checks = []
        for usage, at in zip(usages, most, strict=True):
            each = sorted(risk.each_at(at).items(), key=lambda one: -one[1])
            valves = [
                ValveAtOut(valve=name, p_out=p)
                for name, p in each
                if p >= self.constants.named_valve_probability
            ]
            checks.append(CheckAtOut(usage=usage, p_any_out=risk.at(at), valves=valves))
        return checks

    def set_to(self, valve: ValveDrift, target_mm: float) -> SetToOut:
        """A valve set to a target now."""
        spec = valve.chain.specs[-1]
        assert spec is not None  # a chain has a spec at every visit
        state = as_set(valve.state, target_mm, self.constants.locking_sd_mm)
        later = ahead(state, 1.0, self.constants)
        reached = [
            (one.q10, side)
            for side, one in zip(("tight", "loose"), crossings(state, spec, self.constants), strict=True)
            if one is not None
        ]
        first = min(reached, default=None)
        return SetToOut(
            valve=valve.chain.valve.id,
            target_mm=target_mm,
            p_in_now=state.below(spec.max_mm) - state.below(spec.min_mm),
            p_in_next=later.below(spec.max_mm) - later.below(spec.min_mm),
            next_usage=self.last + self.engine.check_interval,
            lasts_until=None if first is None else self.last + first[0] * self.engine.check_interval,
            side=None if first is None else first[1],
        )


def what_if(
    record: Record,
    workshop: WorkshopSettings,
    *,
    valve: str | None = None,
    target_mm: float | None = None,
    check_at: float | None = None,
    interval: float | None = None,
    constants: Constants = DEFAULT,
) -> WhatIfOut:
    """The answers to questions about an engine; nothing is stored.

    Args:
        valve, target_mm: a valve, and the clearance that it is set to now.
        check_at: the running total at the next check.
        interval: the usage between checks; the next three are predicted, with no work in between.

    Raises:
        UnknownValve: the engine has no such valve.
        ImpossibleValue: a usage that is past, or more than ten check intervals ahead.
    """
    engine, visits = engine_from(record.engine, constants), visits_from(record)
    if valve is not None:
        engine.valve(valve)
    if not visits:
        return WhatIfOut(set_to=None, check_at=None, every=None)
    known = drifts_of(engine, visits, constants)
    asked = _Asked(engine, known, visits[-1].usage, workshop, constants)
    drifting = known.valves.get(valve) if valve is not None else None
    checks = None if check_at is None else asked.checks([check_at], "usage of the next check")
    every = None
    if interval is not None:
        every = asked.checks([asked.last + interval * n for n in (1, 2, 3)], "third check at that interval")
    return WhatIfOut(
        set_to=None if drifting is None or target_mm is None else asked.set_to(drifting, target_mm),
        check_at=None if checks is None else checks[0],
        every=every,
    )
