"""What a visit under way shows: the answers at every valve, what they say, and what to offer next."""

from dataclasses import dataclass

from sqlalchemy.orm import Session

from pronostico.core.advice import Advice, next_blade, prior_for_advice
from pronostico.core.analysis import analyse_valve
from pronostico.core.constants import DEFAULT, Constants
from pronostico.core.engine import Spec, Valve
from pronostico.core.history import at_visit
from pronostico.core.line import LineForecast
from pronostico.core.reading import Estimate
from pronostico.core.thermal import correction_at
from pronostico.core.visits import Phase, Reading
from pronostico.record.conversion import engine_from, visit_from
from pronostico.record.models import Record, VisitModel
from pronostico.services.errors import NotThere
from pronostico.store import tries
from pronostico.store.tries import StoredTry


@dataclass(frozen=True, slots=True)
class MeasuredPhase:
    """The tries of a valve in one phase, what they say, and what to offer next.

    `advice` is None where there is no spec to judge by or no set of blades to choose from.
    """

    tries: tuple[StoredTry, ...]
    estimate: Estimate | None
    advice: Advice | None


@dataclass(frozen=True, slots=True)
class MeasuredValve:
    """One valve at the visit under way."""

    valve: str
    found: MeasuredPhase
    left: MeasuredPhase


@dataclass(frozen=True, slots=True)
class OpenVisit:
    """A visit with all valves of its engine, read or not."""

    visit: VisitModel
    valves: tuple[MeasuredValve, ...]


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
        self.engine = engine_from(record.engine, constants)
        self.model = record.visits[at]
        self.visit = visit_from(self.model)
        self.stored = tries.stored_tries(session, record.engine.id, visit_id)
        self.blades_mm = tuple(record.gauge_set.blades_mm) if record.gauge_set is not None else ()
        self._access = self.model.access or "straight"
        self._before = tuple(visit_from(visit) for visit in record.visits[:at])

    def _forecast(self, valve: Valve, spec: Spec) -> LineForecast | None:
        """What the visits before foretell of a valve as found at this one."""
        line = analyse_valve(self.engine, valve, self._before, at=(), constants=self.constants).line
        return None if line is None else line.at(self.visit.usage, spec)

    def _advice(self, valve: Valve, phase: Phase) -> Advice | None:
        spec = self.engine.spec_of(valve, self.visit.day)
        if spec is None or not self.blades_mm:
            return None
        reading = self.visit.reading_of(valve.id, phase) or Reading(valve.id, phase, (), self._access)
        # What was set is no longer what the past foretold.
        forecast = self._forecast(valve, spec) if phase == "found" else None
        correction = correction_at(self.engine, valve.side, self.visit.temperature_c, self.constants)
        prior = prior_for_advice(spec, forecast)
        return next_blade(reading, self.blades_mm, spec, correction, prior, self.constants)

    def measured(self, valve_id: str) -> MeasuredValve:
        """One valve in both phases."""
        valve = self.engine.valve(valve_id)
        state = at_visit(self.engine, valve, self.visit, self.constants)

        def phase(name: Phase, estimate: Estimate | None) -> MeasuredPhase:
            return MeasuredPhase(self.stored.get((valve_id, name), ()), estimate, self._advice(valve, name))

        return MeasuredValve(valve_id, phase("found", state.found), phase("left", state.left))

    def opened(self) -> OpenVisit:
        """The visit with all its valves."""
        return OpenVisit(self.model, tuple(self.measured(valve.id) for valve in self.engine.valves))
