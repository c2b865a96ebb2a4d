"""What is building up on an engine, from its readings alone: named, how far it has come, what is left."""

from sqlalchemy.orm import Session

from pronostico.core.constants import DEFAULT, Constants
from pronostico.core.drift import Drifts, ValveDrift
from pronostico.core.forecast import risk_ahead
from pronostico.core.shims import ShimSeries, intervals_left
from pronostico.record.conversion import engine_from, visits_from
from pronostico.record.models import Record
from pronostico.services.analysis import building_up
from pronostico.services.diagnosis_report import BuildingUpOut
from pronostico.services.drifting import reckoned
from pronostico.services.engines import engine_record
from pronostico.services.report_model import ReportModel
from pronostico.services.setting_plan import shim_series_of
from pronostico.services.setting_state import shims_now

_LIKELY = 0.05  # a valve less likely out than this is not named


class ValveComingOut(ReportModel):
    """How far a valve has come: mm (sunk: net closing) with their sds, mm per check interval.

    `shim_intervals_left`: how long shims of the series make up for it; null: no shims, or not known.
    """

    valve: str
    sink_mm: float | None
    sink_sd_mm: float | None
    drift_mm_per_interval: float
    drift_sd_mm_per_interval: float
    shim_intervals_left: float | None


class ComingOut(ReportModel):
    """A cause that is building up, and the valves that it is told from."""

    cause: BuildingUpOut
    valves: list[ValveComingOut]
    thread_is_not_known: bool


class OutSoonOut(ReportModel):
    """A valve, and how likely it is out of spec one check interval on."""

    valve: str
    p_out: float


class OutlookOut(ReportModel):
    """What is ahead without any complaint; null where there are no visits to tell it from.

    `p_any_out`: that any valve is out of spec one check interval after the last visit, nothing touched;
    `p_fault`: that any fault is there or building up.
    """

    coming: list[ComingOut]
    p_any_out: float | None
    valves: list[OutSoonOut]
    p_fault: float | None


def _valve(valve: ValveDrift, shim_mm: float | None, series: ShimSeries | None) -> ValveComingOut:
    drift = valve.state.of(0.0, 1.0)
    left = None
    if shim_mm is not None and series is not None:
        left = intervals_left(shim_mm, series, drift_mm_per_interval=drift.average)
    return ValveComingOut(
        valve=valve.chain.valve.id,
        sink_mm=None if valve.sink is None else valve.sink.average,
        sink_sd_mm=None if valve.sink is None else valve.sink.sd,
        drift_mm_per_interval=drift.average,
        drift_sd_mm_per_interval=drift.sd,
        shim_intervals_left=left,
    )


def _coming(record: Record, known: Drifts, causes: list[BuildingUpOut]) -> list[ComingOut]:
    series = shim_series_of(record.engine)
    shims = shims_now(record, record.visits[-1]) if record.visits else {}
    by_screw = record.engine.adjustment not in ("shim-over-bucket", "shim-under-bucket", "hydraulic")
    return [
        ComingOut(
            cause=cause,
            valves=[
                _valve(known.valves[name], shims.get(name), series)
                for name in cause.valves
                if name in known.valves
            ],
            thread_is_not_known=by_screw,
        )
        for cause in causes
    ]


def outlook(session: Session, engine_id: str, constants: Constants = DEFAULT) -> OutlookOut:
    """What is ahead of an engine, whatever is complained of.

    Raises:
        NotThere: there is no such engine.
    """
    record = engine_record(session, engine_id)
    if not record.visits:
        return OutlookOut(coming=[], p_any_out=None, valves=[], p_fault=None)
    known = reckoned(engine_from(record.engine, constants), tuple(visits_from(record)), constants)
    found = building_up(record, constants)
    risk = risk_ahead(known, margin_mm=0.0, most=1.0, constants=constants)
    valves = []
    if risk is not None:
        each = sorted(risk.each_at(1.0).items(), key=lambda one: -one[1])
        valves = [OutSoonOut(valve=name, p_out=p) for name, p in each if p >= _LIKELY]
    return OutlookOut(
        coming=_coming(record, known, found.causes),
        p_any_out=None if risk is None else risk.at(1.0),
        valves=valves,
        p_fault=found.p_fault,
    )
