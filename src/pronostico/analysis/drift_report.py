"""The drift model's answers as they leave the product, in the shape of the record format."""

from collections.abc import Sequence
from dataclasses import dataclass

from pronostico.analysis.drift_cache import risk_of
from pronostico.analysis.report_model import ReportModel
from pronostico.core.constants import Constants
from pronostico.core.drift.chain import ValveChain
from pronostico.core.drift.forecast import Crossing, RiskAhead, Trend, ahead, crossings, trend_of
from pronostico.core.drift.normal_mixture import Mixture
from pronostico.core.drift.regimes import Regime, RegimeKind
from pronostico.core.drift.results import ChangePoint, Drifts, PossibleEntryError, ValveDrift
from pronostico.core.engine import Engine, Side, Spec
from pronostico.core.errors import ImpossibleValue
from pronostico.core.visits import Felt, Phase, Visit
from pronostico.language import Text

_FAN = (0.02, 0.05, 0.1, 0.25, 0.5)


class NowOut(ReportModel):
    """The current clearance, after the last visit, mm."""

    mean_mm: float
    sd_mm: float
    q05_mm: float
    q95_mm: float


class DriftOut(ReportModel):
    """How a clearance moves, mm per check interval, and what that amounts to."""

    mean_mm_per_interval: float
    sd_mm_per_interval: float
    trend: Trend


class SpreadOut(ReportModel):
    """A length and how surely it is known, mm."""

    mean_mm: float
    sd_mm: float


class ChangePointOut(ReportModel):
    """The visit at which a valve changed suddenly last."""

    visit: str
    z: float
    direction: str


class PredictedOut(ReportModel):
    """What was predicted of a reading as found, mm, and how many sd it lay from that; z null: not beyond."""

    visit: str
    mean_mm: float
    sd_mm: float
    z: float | None


class PossibleEntryErrorOut(ReportModel):
    """A try that may be an entry error."""

    visit: str
    phase: Phase
    blades_mm: tuple[float, ...]
    felt: Felt
    probability: float


class RestsOnOut(ReportModel):
    """What the figures of a valve rest on.

    `visits_read`, `readings`: of the era, which began at `since` (null: at the first visit);
    `side_drift`: what all valves of the side share of their drift.
    """

    since: str | None
    visits_read: int
    readings: int
    predicted: list[PredictedOut]
    possible_entry_errors: list[PossibleEntryErrorOut]
    side_drift_mm_per_interval: SpreadOut


class CrossingOut(ReportModel):
    """Usages at which a valve is out on one side with probability 0.1, 0.5 and 0.9."""

    q10: float
    q50: float | None
    q90: float | None


class CrossingsOut(ReportModel):
    """When a valve leaves its spec; null: not within ten check intervals."""

    tight: CrossingOut | None
    loose: CrossingOut | None


class ForecastOut(ReportModel):
    """A clearance ahead."""

    usage: float
    mean_mm: float
    sd_mm: float
    p_tight: float
    p_in: float
    p_loose: float


class RiskAtOut(ReportModel):
    """The usage at which the chance that a valve is out exceeds a risk; null: not within three intervals."""

    risk: float
    usage: float | None


class NextCheckOut(ReportModel):
    """When to check next at a risk, and the valves that are due at once; `fan`: at other risks."""

    usage: float
    risk: float
    margin_mm: float
    limiting_valve: str
    due_now: list[str]
    fan: list[RiskAtOut]


class ShiftOut(ReportModel):
    """What all readings of a visit share, mm."""

    mean_mm: float
    sd_mm: float
    suspect: bool


class RegimeOut(ReportModel):
    """What the drift may do since the last head work, and how likely that is.

    `side`, `valve`: where it speeds up; `visit`: the one measured warm; `label`: it in words.
    """

    kind: RegimeKind
    label: Text
    side: Side | None = None
    valve: str | None = None
    visit: str | None = None
    probability: float


@dataclass(frozen=True, slots=True)
class ValveDriftOut:
    """The drift of one valve."""

    now: NowOut
    drift: DriftOut
    sink: SpreadOut
    broke: ChangePointOut | None
    crossing: CrossingsOut
    forecast: list[ForecastOut]
    rests_on: RestsOnOut


class DriftReport:
    """The drift model's answers for one engine, in its own usage unit."""

    def __init__(
        self,
        engine: Engine,
        visits: Sequence[Visit],
        known: Drifts,
        constants: Constants,
        alone: Drifts | None = None,
    ) -> None:
        """`alone`: the same without sister engines, where `known` is with them."""
        self._visits, self._known, self.constants = visits, known, constants
        self._alone = alone
        self._interval = engine.check_interval
        self._last = visits[-1].usage if visits else 0.0

    def _usage(self, intervals: float | None) -> float | None:
        return None if intervals is None else self._last + intervals * self._interval

    @property
    def settled(self) -> bool:
        """Whether the computation settled."""
        return self._known.converged

    def shifts(self) -> dict[str, ShiftOut]:
        """Each visit's shift."""
        return {
            visit.id: ShiftOut.model_validate(shift)
            for visit, shift in zip(self._visits, self._known.shifts, strict=False)
        }

    def regimes(self) -> list[RegimeOut]:
        """The regimes of the drift, the likeliest first; one that differs only in its rate counts once."""
        found: dict[str, RegimeOut] = {}
        for part in self._known.components:
            one = part.regime
            visit = None if one.visit is None else self._visits[one.visit].id
            label = _regime_label(one, visit)
            known = found.get(label)
            found[label] = RegimeOut(
                kind=one.kind,
                label=label,
                side=one.side,
                valve=one.valve,
                visit=visit,
                probability=part.weight + (0.0 if known is None else known.probability),
            )
        return sorted(found.values(), key=lambda one: -one.probability)

    def valve(self, name: str, at: Sequence[float]) -> ValveDriftOut | None:
        """One valve; None where it has no drift.

        Args:
            at: usages to look ahead to.

        Raises:
            ImpossibleValue: a usage before the last visit's.
        """
        valve = self._known.valves.get(name)
        spec = None if valve is None else valve.chain.specs[-1]
        if valve is None or spec is None:
            return None
        drift = valve.state.of(0.0, 1.0)
        tight, loose = crossings(valve.state, spec, self.constants)
        return ValveDriftOut(
            now=_now_out(valve.state.of(1.0, 0.0)),
            drift=DriftOut(
                mean_mm_per_interval=drift.average,
                sd_mm_per_interval=drift.sd,
                trend=self._trend(name, drift, spec),
            ),
            sink=_sink_out(valve.sink),
            broke=self._change_point_out(valve.broke),
            crossing=CrossingsOut(tight=self._crossing_out(tight), loose=self._crossing_out(loose)),
            forecast=[self._forecast_out(valve, spec, usage) for usage in at],
            rests_on=self._rests_on(valve),
        )

    def _trend(self, name: str, drift: Mixture, spec: Spec) -> Trend:
        """The trend; with sisters the one that either computation names, and none from sisters alone."""
        pooled = trend_of(drift, spec, self.constants)
        if self._alone is None:
            return pooled
        valve = self._alone.valves[name]
        own = trend_of(valve.state.of(0.0, 1.0), spec, self.constants)
        start = valve.chain.era_start
        followed = len({one.visit for one in valve.chain.readings if one.visit >= start}) >= 2
        if own == pooled or not followed:
            return own
        moving = {"tightening", "loosening"} & {own, pooled}
        if len(moving) == 2:
            return "unclear"
        if moving:
            return own if own in moving else pooled
        return pooled

    def _rests_on(self, valve: ValveDrift) -> RestsOnOut:
        chain = valve.chain
        since = chain.era_start
        # What was found where an era begins belongs to the era before it.
        own = [one for one in chain.readings if one.visit > since or (one.visit == since and since == 0)]
        own += [one for one in chain.readings if one.visit == since > 0 and one.phase == "left"]
        return RestsOnOut(
            since=self._visits[since].id if since > 0 else None,
            visits_read=len({one.visit for one in own}),
            readings=len(own),
            predicted=[
                PredictedOut(visit=self._visits[one.visit].id, mean_mm=one.mean_mm, sd_mm=one.sd_mm, z=one.z)
                for one in valve.predicted
            ],
            possible_entry_errors=[
                self._possible_entry_error_out(chain, one)
                for one in valve.possible_entry_errors
                if one.probability >= self.constants.least_reported_entry_error
            ],
            side_drift_mm_per_interval=SpreadOut(mean_mm=valve.side_drift.mean, sd_mm=valve.side_drift.sd),
        )

    def _possible_entry_error_out(
        self, chain: ValveChain, possible_entry_errors: PossibleEntryError
    ) -> PossibleEntryErrorOut:
        read = chain.readings[possible_entry_errors.reading]
        answer = read.reading.tries[possible_entry_errors.try_number]
        return PossibleEntryErrorOut(
            visit=self._visits[read.visit].id,
            phase=read.phase,
            blades_mm=answer.blades_mm,
            felt=answer.felt,
            probability=possible_entry_errors.probability,
        )

    def _change_point_out(self, broke: ChangePoint | None) -> ChangePointOut | None:
        if broke is None:
            return None
        return ChangePointOut(visit=self._visits[broke.visit].id, z=broke.z, direction=broke.direction)

    def _crossing_out(self, crossing: Crossing | None) -> CrossingOut | None:
        if crossing is None:
            return None
        return CrossingOut(
            q10=self._last + crossing.q10 * self._interval,
            q50=self._usage(crossing.q50),
            q90=self._usage(crossing.q90),
        )

    def _forecast_out(self, valve: ValveDrift, spec: Spec, usage: float) -> ForecastOut:
        if usage < self._last:
            raise ImpossibleValue("usage to forecast", usage, f"{self._last:g} or more, the last visit's")
        later = ahead(valve.state, (usage - self._last) / self._interval, self.constants)
        tight, loose = later.below(spec.min_mm), 1.0 - later.below(spec.max_mm)
        return ForecastOut(
            usage=usage,
            mean_mm=later.average,
            sd_mm=later.sd,
            p_tight=tight,
            p_in=max(0.0, 1.0 - tight - loose),
            p_loose=loose,
        )

    def risk_ahead(self, margin_mm: float) -> RiskAhead | None:
        """How likely valves are out by more than a margin along the next intervals; None without valves."""
        return risk_of(self._known, margin_mm=margin_mm, constants=self.constants)

    def next_check(
        self, ahead_of_it: RiskAhead | None, *, risk: float, margin_mm: float, due_now: list[str]
    ) -> NextCheckOut | None:
        """When to check next; None without any valve that is known."""
        if ahead_of_it is None:
            return None
        found = ahead_of_it.next_check(risk)
        return NextCheckOut(
            usage=self._last + found.intervals * self._interval,
            risk=risk,
            margin_mm=margin_mm,
            limiting_valve=found.limiting_valve,
            due_now=due_now,
            fan=[RiskAtOut(risk=one, usage=self._usage(ahead_of_it.reaches(one))) for one in _FAN],
        )


def _regime_label(regime: Regime, visit: str | None) -> str:
    """A regime in words."""
    if regime.kind == "bedding-in":
        return "bedding in: slowing down"
    if regime.deposits:
        valves = " and ".join(name for name, _ in regime.deposits)
        # Carbon holds the valve off its seat, which opens the gap; it never closes it.
        opened = all(sense > 0 for _, sense in regime.deposits)
        return f"{valves} off for once" + (", as by carbon on the seat" if opened else "")
    if regime.kind == "warm-visit":
        return f"visit {visit} measured warm"
    if regime.kind == "speeding-up" and regime.added is not None:
        way = "closing" if regime.added.mean < 0.0 else "opening"
        place = f"{regime.side} side" if regime.valve is None else regime.valve
        return f"{place} {way} faster and faster"
    return "steady"


def _now_out(now: Mixture) -> NowOut:
    return NowOut(mean_mm=now.average, sd_mm=now.sd, q05_mm=now.quantile(0.05), q95_mm=now.quantile(0.95))


def _sink_out(sink: Mixture | None) -> SpreadOut:
    """What an era added up to; nothing moved yet where it has a single visit."""
    if sink is None:
        return SpreadOut(mean_mm=0.0, sd_mm=0.0)
    return SpreadOut(mean_mm=sink.average, sd_mm=sink.sd)
