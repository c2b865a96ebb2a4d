"""One engine through all its visits: every valve's readings, each judged on its own."""

from dataclasses import dataclass

from pronostico.core.constants import DEFAULT, Constants
from pronostico.core.engine import Engine, Spec, Valve
from pronostico.core.gauge.reading import Estimate
from pronostico.core.gauge.valve_history import ValveAtVisit, at_visit
from pronostico.core.visits import Visit


@dataclass(frozen=True, slots=True)
class ValveAnalysis:
    """All that is known of one valve; `states` has one entry a visit, in the order of the visits."""

    valve: Valve
    spec: Spec | None
    states: tuple[ValveAtVisit, ...]

    @property
    def found(self) -> Estimate | None:
        """The reading as found at the last visit."""
        return self.states[-1].found if self.states else None

    @property
    def left(self) -> Estimate | None:
        """The reading as left at the last visit."""
        return self.states[-1].left if self.states else None

    @property
    def standing(self) -> Estimate | None:
        """The estimate that holds for the valve after its last visit.

        As left, else as found where nothing was set after it.
        """
        return self.states[-1].standing if self.states else None


@dataclass(frozen=True, slots=True)
class Analysis:
    """An engine's valves in the engine's own order; usage None where there was no visit."""

    engine: Engine
    as_of_usage: float | None
    valves: tuple[ValveAnalysis, ...]

    def of(self, valve_id: str) -> ValveAnalysis:
        """The analysis of one valve.

        Raises:
            UnknownValve: the engine has none of that name.
        """
        wanted = self.engine.valve(valve_id)
        return next(item for item in self.valves if item.valve == wanted)


def analyse(engine: Engine, visits: tuple[Visit, ...], *, constants: Constants = DEFAULT) -> Analysis:
    """The readings of an engine, from its visits in their order.

    Raises:
        UnknownValve: a reading or a setting names a valve that the engine does not have.
    """
    for visit in visits:
        named = [reading.valve for reading in visit.readings] + [one.valve for one in visit.settings]
        for valve_id in named:
            engine.valve(valve_id)
    valves = []
    for valve in engine.valves:
        states = tuple(at_visit(engine, valve, visit, constants) for visit in visits)
        spec = states[-1].spec if states else engine.latest_spec_of(valve)
        valves.append(ValveAnalysis(valve, spec, states))
    return Analysis(engine, visits[-1].usage if visits else None, tuple(valves))
