"""Whether the crank stood where it should when the valves of a visit were read."""

from collections.abc import Sequence
from dataclasses import dataclass, replace

from pronostico.analysis.crank_plan import assumed_school, crank_stations, events_of, firing_of, usual_school
from pronostico.analysis.drift_cache import predicted_at
from pronostico.analysis.report_model import ReportModel
from pronostico.core.constants import DEFAULT, Constants
from pronostico.core.crank.events import WHOLE_TURN_DEG
from pronostico.core.crank.position_check import Position, ReadAtPosition, check_positions
from pronostico.core.crank.stations import School
from pronostico.core.engine import SIDES, Engine, Spec, Valve
from pronostico.core.errors import ImpossibleValue
from pronostico.core.gauge.reading import Prior
from pronostico.core.thermal import correction_at
from pronostico.core.units import cycle_angle_deg
from pronostico.core.visits import Reading, Visit
from pronostico.record.engine import EngineModel
from pronostico.record.models import Record
from pronostico.record.visit import VisitModel


class PositionOut(ReportModel):
    """A position of the crank at a visit, the valves read there, and how likely it stood one turn off."""

    visit: str
    crank_deg: float | None
    valves: list[str]
    p_one_turn_off: float
    suspect: bool


@dataclass(frozen=True, slots=True)
class PositionCheck:
    """The positions of a visit at which valves were read."""

    visit: str
    positions: tuple[Position, ...]

    @property
    def suspect(self) -> frozenset[str]:
        """Valves read at a suspect position: read again or confirmed before they count."""
        return frozenset(valve for one in self.positions if one.suspect for valve in one.valves)

    @property
    def p_any(self) -> float:
        """How likely the most suspect position was one turn off; 0 where none is suspect."""
        return max((one.p_one_turn_off for one in self.positions if one.suspect), default=0.0)

    def out(self) -> list[PositionOut]:
        """The positions on their way out."""
        return [
            PositionOut(
                visit=self.visit,
                crank_deg=one.crank_deg,
                valves=list(one.valves),
                p_one_turn_off=one.p_one_turn_off,
                suspect=one.suspect,
            )
            for one in self.positions
        ]


def school_of(engine: EngineModel, visit: VisitModel) -> School:
    """The turning method of a visit: as it was chosen there, else the one that is assumed."""
    return visit.school or assumed_school(engine)


def suggested_school(record: Record) -> School:
    """The turning method for a new visit: the one last chosen at this engine, else the usual one."""
    chosen = (visit.school for visit in reversed(record.visits))
    return next((one for one in chosen if one is not None), None) or usual_school(record.engine)


def _planned(engine: EngineModel, school: School) -> list[tuple[float | None, list[str]]]:
    """The positions of the plan in use; none where no plan can be made."""
    try:
        plan = crank_stations(engine, school)
    except ImpossibleValue:
        return []
    return [(one.crank_deg, one.valves) for one in plan.stations]


def _groups(engine: EngineModel, school: School) -> list[tuple[float | None, list[str]]]:
    """Valves by the position that they are read at; those that no plan names, by their cylinder."""
    groups = _planned(engine, school)
    named = {valve for _, valves in groups for valve in valves}
    rest = [valve for valve in engine.valves if valve.id not in named]
    for cylinder in dict.fromkeys(valve.cylinder for valve in rest):
        groups.append((None, [valve.id for valve in rest if valve.cylinder == cylinder]))
    return groups


def _rests_a_turn_on(engine: EngineModel, valve: Valve, crank_deg: float | None) -> bool:
    """Whether a valve is at rest a whole turn from where it was read, too."""
    if crank_deg is None:
        # Its own cylinder at top on compression: a turn on both of its valves are open a little.
        own_deg = 0.0
    else:
        try:
            own_deg = crank_deg - firing_of(engine).angle_deg[valve.cylinder]
        except (ImpossibleValue, KeyError):
            own_deg = 0.0
    return events_of(engine)[valve.side].at_rest(cycle_angle_deg(own_deg + WHOLE_TURN_DEG))


class _Checking:
    """One visit and those before it."""

    def __init__(
        self, model: EngineModel, engine: Engine, visits: Sequence[Visit], constants: Constants
    ) -> None:
        self.model, self.engine, self.constants = model, engine, constants
        self.before, self.visit = tuple(visits[:-1]), visits[-1]
        heat = max(
            correction_at(engine, side, self.visit.temperature_c, constants).uncertainty_mm for side in SIDES
        )
        # What a reading shares with its visit, and its own scatter.
        self.variance = constants.visit_shift_sd_mm**2 + heat**2 + constants.reading_sd_mm**2

    def read(self, valve: Valve, reading: Reading, spec: Spec, crank_deg: float | None) -> ReadAtPosition:
        """A reading with what it would be at the right position."""
        correction_mm = correction_at(
            self.engine, valve.side, self.visit.temperature_c, self.constants
        ).correction_mm

        def expected() -> Prior | None:
            known = predicted_at(self.engine, self.before, self.visit.usage, valve, self.constants)
            if known is None:
                return None
            return Prior(known.mean_mm + correction_mm, (known.sd_mm**2 + self.variance) ** 0.5)

        usual = Prior(spec.middle_mm + correction_mm, self.constants.prior_sd_mm)
        return ReadAtPosition(reading, expected, usual, _rests_a_turn_on(self.model, valve, crank_deg))

    def group(self, valves: Sequence[str], crank_deg: float | None) -> list[ReadAtPosition]:
        """The readings as found of the valves of one position, as far as there are any."""
        taken = []
        for name in valves:
            valve = self.engine.valve(name)
            reading, spec = (
                self.visit.reading_of(name, "found"),
                self.engine.spec_of(valve, self.visit.day),
            )
            if reading is not None and spec is not None:
                taken.append(self.read(valve, reading, spec, crank_deg))
        return taken


def check_visit(
    model: EngineModel,
    engine: Engine,
    visit: VisitModel,
    visits: Sequence[Visit],
    constants: Constants = DEFAULT,
) -> PositionCheck:
    """The positions at which the valves of a visit were read.

    Args:
        visit: the visit as it is noted.
        visits: as the computation sees it, after those before it.

    What was confirmed currently is suspect no more.
    """
    if not visits or engine.adjustment == "hydraulic":
        return PositionCheck(visit.id, ())
    checking = _Checking(model, engine, visits, constants)
    groups = [
        (crank_deg, read)
        for crank_deg, valves in _groups(model, school_of(model, visit))
        if (read := checking.group(valves, crank_deg))
    ]
    confirmed = frozenset(visit.positions_confirmed)
    return PositionCheck(visit.id, check_positions(groups, confirmed=confirmed, constants=constants))


def checked(
    record: Record, engine: Engine, visits: Sequence[Visit], constants: Constants = DEFAULT
) -> PositionCheck:
    """The positions of the last of some visits of a record, as many as are given."""
    if not visits:
        return PositionCheck("", ())
    return check_visit(record.engine, engine, record.visits[len(visits) - 1], visits, constants)


def without_suspect(visits: tuple[Visit, ...], suspect: frozenset[str]) -> tuple[Visit, ...]:
    """The visits, what the last one found of suspect valves left out."""
    if not suspect:
        return visits
    last = visits[-1]
    kept = tuple(one for one in last.readings if one.phase != "found" or one.valve not in suspect)
    return (*visits[:-1], replace(last, readings=kept))
