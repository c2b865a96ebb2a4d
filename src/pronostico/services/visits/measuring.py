"""What a visit under way shows: the answers at every valve, what they say, and what to offer next."""

from dataclasses import dataclass

from sqlalchemy.orm import Session

from pronostico.analysis.drift_cache import predicted_at
from pronostico.analysis.positions import PositionCheck, PositionOut, check_visit
from pronostico.core.assessment import TurnChange, turn_change_of
from pronostico.core.constants import DEFAULT, Constants
from pronostico.core.engine import SHIMMED, Valve
from pronostico.core.gauge.advice import Advice, next_blade, prior_for_advice
from pronostico.core.gauge.expected_answer import probability_of_answers
from pronostico.core.gauge.reading import Estimate, Prior, estimate
from pronostico.core.gauge.valve_history import at_visit
from pronostico.core.thermal import correction_at
from pronostico.core.visits import Felt, Phase, Reading, Try
from pronostico.errors import NotThere
from pronostico.record.conversion import engine_from, visit_from
from pronostico.record.models import GaugeSet, Record
from pronostico.record.visit import VisitModel
from pronostico.store import tries
from pronostico.store.blade_sets import set_at_visit
from pronostico.store.tries import StoredReading, StoredTry


@dataclass(frozen=True, slots=True)
class MeasuredTurn:
    """An earlier reading of a valve: before the crank was turned round again, or by somebody else."""

    crank_turn: int
    technician: str | None
    tries: tuple[StoredTry, ...]
    estimate: Estimate | None


@dataclass(frozen=True, slots=True)
class MeasuredPhase:
    """The tries of a valve in one phase, what they say, and what to offer next.

    They are those of the last turn of the crank at which it was measured, by whoever answered last; the
    others stand in `earlier`.
    `advice` is None where there is no spec to judge by or no set of blades to choose from.
    """

    crank_turn: int
    technician: str | None
    tries: tuple[StoredTry, ...]
    estimate: Estimate | None
    advice: Advice | None
    skipped: str | None
    earlier: tuple[MeasuredTurn, ...]


@dataclass(frozen=True, slots=True)
class MeasuredValve:
    """One valve at the visit under way; `swing` is None before it was measured at two turns of the crank."""

    valve: str
    found: MeasuredPhase
    left: MeasuredPhase
    swing: TurnChange | None


@dataclass(frozen=True, slots=True)
class OpenVisit:
    """A visit with all valves of its engine, read or not, and the feeler gauge set in use."""

    visit: VisitModel
    gauge_set: GaugeSet | None
    valves: tuple[MeasuredValve, ...]
    positions: tuple[PositionOut, ...]


class Measuring:
    """A visit under way with all that judging and advising at it needs."""

    def __init__(
        self, session: Session, record: Record, visit_id: str, constants: Constants = DEFAULT
    ) -> None:
        """Take up a visit of a record.

        Raises:
            NotThere: there is no such visit.
        """
        ids = [visit.id for visit in record.visits]
        if visit_id not in ids:
            raise NotThere("visit", visit_id)
        at = ids.index(visit_id)
        self.constants = constants
        self.model_of_engine = record.engine
        self.engine = engine_from(record.engine, constants)
        self.model = record.visits[at]
        self.visit = visit_from(self.model)
        self.stored = tries.stored_readings(session, record.engine.id, visit_id)
        self.gauge_set = set_at_visit(session, record.engine.id, visit_id) or record.gauge_set
        self.blades_mm = tuple(self.gauge_set.blades_mm) if self.gauge_set is not None else ()
        self._access = self.model.access or "straight"
        self.before = tuple(visit_from(visit) for visit in record.visits[:at])

    def _forecast(self, valve: Valve) -> Prior | None:
        """What the visits before predict of a valve as found at this one; None where it was never read."""
        return predicted_at(self.engine, self.before, self.visit.usage, valve, self.constants)

    def positions(self) -> PositionCheck:
        """Whether the crank stood where it should, by what was read so far."""
        visits = (*self.before, self.visit)
        return check_visit(self.model_of_engine, self.engine, self.model, visits, self.constants)

    def _advice(self, valve: Valve, phase: Phase) -> Advice | None:
        spec = self.engine.spec_of(valve, self.visit.day)
        if spec is None or not self.blades_mm:
            return None
        reading = self.visit.reading_of(valve.id, phase) or Reading(valve.id, phase, (), self._access)
        # What was set is no longer what the past predicted.
        forecast = self._forecast(valve) if phase == "found" else None
        correction = correction_at(self.engine, valve.side, self.visit.temperature_c, self.constants)
        prior = prior_for_advice(spec, forecast)
        by_amount = phase == "found" and self.engine.adjustment in SHIMMED
        return next_blade(
            reading, self.blades_mm, spec, correction, prior, by_amount=by_amount, constants=self.constants
        )

    def expected_answers(
        self, valve_id: str, phase: Phase, blades_mm: tuple[float, ...]
    ) -> dict[Felt, float] | None:
        """How likely each answer of a stack of blades is; None where there is no spec to begin from."""
        valve = self.engine.valve(valve_id)
        spec = self.engine.spec_of(valve, self.visit.day)
        if spec is None:
            return None
        reading = self.visit.reading_of(valve.id, phase) or Reading(valve.id, phase, (), self._access)
        correction = correction_at(self.engine, valve.side, self.visit.temperature_c, self.constants)
        prior = prior_for_advice(spec, self._forecast(valve) if phase == "found" else None)
        return probability_of_answers(reading, blades_mm, correction, prior, self.constants)

    def measured(self, valve_id: str) -> MeasuredValve:
        """One valve in both phases."""
        valve = self.engine.valve(valve_id)
        state = at_visit(self.engine, valve, self.visit, self.constants)

        def phase(name: Phase, known: Estimate | None) -> MeasuredPhase:
            stored = self.stored.get((valve_id, name), ())
            read = [one for one in stored if one.tries]
            last = read[-1] if read else None
            return MeasuredPhase(
                crank_turn=last.crank_turn if last else 1,
                technician=last.technician if last else None,
                tries=last.tries if last else (),
                estimate=known,
                advice=self._advice(valve, name),
                skipped=next((one.skipped for one in stored if one.skipped), None),
                earlier=tuple(self._turn(valve, one) for one in read[:-1]),
            )

        swing = turn_change_of(self.engine, valve, self.visit, self.constants)
        return MeasuredValve(valve_id, phase("found", state.found), phase("left", state.left), swing)

    def _turn(self, valve: Valve, reading: StoredReading) -> MeasuredTurn:
        spec = self.engine.spec_of(valve, self.visit.day)
        known = None
        if spec is not None:
            answers = tuple(Try(one.blades_mm, one.felt) for one in reading.tries)
            correction = correction_at(self.engine, valve.side, self.visit.temperature_c, self.constants)
            # The phase says nothing of the figure: the same answers come to the same estimate.
            read = Reading(valve.id, "found", answers, self._access)
            known = estimate(read, spec, correction, self.constants)
        return MeasuredTurn(reading.crank_turn, reading.technician, reading.tries, known)

    def opened(self) -> OpenVisit:
        """The visit with all its valves."""
        return OpenVisit(
            self.model,
            self.gauge_set,
            tuple(self.measured(valve.id) for valve in self.engine.valves),
            tuple(self.positions().out()),
        )
