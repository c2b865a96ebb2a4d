"""One valve through its visits: what was read, what was set, and how it was left."""

from dataclasses import dataclass
from datetime import date

from pronostico.core.constants import DEFAULT, Constants
from pronostico.core.engine import Engine, Spec, Valve
from pronostico.core.gauge.reading import Estimate, estimate
from pronostico.core.thermal import correction_at
from pronostico.core.visits import Phase, Setting, Visit


@dataclass(frozen=True, slots=True)
class ValveAtVisit:
    """What a visit knows of one valve."""

    valve: str
    visit: str
    day: date
    usage: float
    spec: Spec | None
    found: Estimate | None
    left: Estimate | None
    settings: tuple[Setting, ...]
    head_work: bool
    renewed: bool

    @property
    def touched(self) -> bool:
        """Whether the clearance after this visit is not the one found at it."""
        return bool(self.settings) or self.head_work or self.renewed

    @property
    def standing(self) -> Estimate | None:
        """The estimate that holds after the visit: as left, else as found where nothing was adjusted."""
        return self.left if self.touched or self.left is not None else self.found


def at_visit(engine: Engine, valve: Valve, visit: Visit, constants: Constants = DEFAULT) -> ValveAtVisit:
    """The readings of one valve at one visit, estimated each on its own."""
    spec = engine.spec_of(valve, visit.day)
    correction = correction_at(engine, valve.side, visit.temperature_c, constants)

    def estimate_of(phase: Phase) -> Estimate | None:
        reading = visit.reading_of(valve.id, phase)
        return None if reading is None or spec is None else estimate(reading, spec, correction, constants)

    return ValveAtVisit(
        valve=valve.id,
        visit=visit.id,
        day=visit.day,
        usage=visit.usage,
        spec=spec,
        found=estimate_of("found"),
        left=estimate_of("left"),
        settings=visit.settings_of(valve.id),
        head_work=visit.work == "head-work",
        renewed=valve.id in visit.renewed,
    )
