"""Where to turn the crank for an engine: the manual's own table where it has one, else a school's plan."""

from itertools import pairwise

from pronostico.analysis.report_model import ReportModel
from pronostico.core.crank.events import DEFAULT_EVENTS, Events, Firing
from pronostico.core.crank.stations import CrankTask, School, crank_plan, past_top_deg
from pronostico.core.engine import SHIMMED, Side
from pronostico.core.errors import ImpossibleValue
from pronostico.language import Text
from pronostico.record.conversion import engine_from
from pronostico.record.engine import EngineModel

FROM_MANUAL = "manual"
_EVEN_WITHIN_DEG = 1.0


class PastTopOut(ReportModel):
    """How far past each station's mark to turn on, so that the decompression cam has let go."""

    travel_mm: float
    crank_deg: float


class StationOut(ReportModel):
    """One crank position and the valves to measure there; no angle where no firing order is known."""

    crank_deg: float | None
    mark: Text
    valves: list[str]


class FiringOut(ReportModel):
    """When a cylinder is at top on compression, degrees after cylinder 1."""

    cylinder: int
    crank_deg: float


class CrankOut(ReportModel):
    """A plan of stations; `school` is 'manual' where the engine's own table overrides the schools."""

    school: str
    stations: list[StationOut]
    turns_between_deg: list[float]
    firing: list[FiringOut]
    past_top: PastTopOut | None
    lobe_position: str | None


def firing_of(engine: EngineModel) -> Firing:
    """When each cylinder fires.

    Raises:
        ImpossibleValue: several cylinders and no order is noted, or it cannot be.
    """
    order = engine.firing_order
    if order is None:
        cylinders = sorted({valve.cylinder for valve in engine.valves})
        if len(cylinders) > 1:
            raise ImpossibleValue("firing order", "not entered", f"an order of the cylinders {cylinders}")
        order = cylinders
    return Firing.from_order(order, engine.firing_intervals_deg)


def assumed_school(engine: EngineModel) -> School:
    """The turning method of a visit at which none was noted: the fewest positions where they are known."""
    try:
        firing_of(engine)
    except ImpossibleValue:
        return "each-cylinder"
    return "two-turn"


def usual_school(engine: EngineModel) -> School:
    """The turning method that is usual for such an engine, until another is chosen.

    Cylinder by cylinder where the firing order is not known, or the engine fires unevenly; each lobe opposite
    its follower where the cams bear on buckets and can be seen; else the fewest positions.
    """
    if assumed_school(engine) == "each-cylinder":
        return "each-cylinder"
    if engine.adjustment in SHIMMED:
        return "lobe-away"
    intervals = engine.firing_intervals_deg
    if intervals is not None and max(intervals) - min(intervals) > _EVEN_WITHIN_DEG:
        return "each-cylinder"
    return "two-turn"


def _firing_out(engine: EngineModel) -> list[FiringOut]:
    """The firing angles; none where the order is not known, which a manual's own table does without."""
    try:
        angles = firing_of(engine).angle_deg
    except ImpossibleValue:
        return []
    return [FiringOut(cylinder=cylinder, crank_deg=angle) for cylinder, angle in sorted(angles.items())]


def events_of(engine: EngineModel) -> dict[Side, Events]:
    """When valves open and close: as the engine's data have it, else as usual."""
    if engine.events_deg is None:
        return DEFAULT_EVENTS
    (opens_in, closes_in), (opens_ex, closes_ex) = engine.events_deg.intake, engine.events_deg.exhaust
    return {"intake": Events(opens_in, closes_in), "exhaust": Events(opens_ex, closes_ex)}


def _past_top(engine: EngineModel) -> PastTopOut | None:
    travel = engine.bump_release_travel_mm
    if not travel or engine.stroke_mm is None or engine.rod_length_mm is None:
        return None
    angle = past_top_deg(travel, stroke_mm=engine.stroke_mm, rod_length_mm=engine.rod_length_mm)
    return PastTopOut(travel_mm=travel, crank_deg=angle)


def _by_cylinder(engine: EngineModel) -> list[StationOut]:
    """Each cylinder at its own top, in the order of their numbers: that needs no firing order."""
    return [
        StationOut(
            crank_deg=None,
            mark=f"cylinder {cylinder} at TDC on compression",
            valves=[valve.id for valve in engine.valves if valve.cylinder == cylinder],
        )
        for cylinder in sorted({valve.cylinder for valve in engine.valves})
    ]


def crank_stations(engine: EngineModel, school: School) -> CrankOut:
    """The stations of an engine. Cylinder by cylinder needs no firing order; then no angles are known.

    Raises:
        ImpossibleValue: the firing order is not known, or with its events some valve never rests.
    """
    if engine.stations:
        stations = [
            StationOut(crank_deg=one.crank_deg, mark=one.mark or "as in the manual", valves=one.valves)
            for one in engine.stations
        ]
    elif school == "each-cylinder" and assumed_school(engine) == "each-cylinder":
        stations = _by_cylinder(engine)
    else:
        task = CrankTask(engine_from(engine).valves, firing_of(engine), events_of(engine))
        stations = [StationOut.model_validate(station) for station in crank_plan(task, school)]
    angles = [station.crank_deg for station in stations if station.crank_deg is not None]
    return CrankOut(
        school=FROM_MANUAL if engine.stations else school,
        stations=stations,
        turns_between_deg=[after - before for before, after in pairwise(angles)],
        firing=_firing_out(engine),
        past_top=_past_top(engine),
        lobe_position=engine.lobe_position,
    )
