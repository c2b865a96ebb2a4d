"""Developing faults of an engine, from its readings alone."""

from dataclasses import dataclass

from pronostico.analysis.adjustment_plan import shim_series_of
from pronostico.analysis.adjustment_state import shims_now
from pronostico.analysis.diagnosis_report import DevelopingFaultOut
from pronostico.analysis.drift_cache import drifts_of, risk_of
from pronostico.analysis.evidence import measured_evidence
from pronostico.analysis.report_model import ReportModel
from pronostico.core.adjust.shims import ShimSeries, intervals_left
from pronostico.core.causes.network import Network
from pronostico.core.causes.places import valves_at
from pronostico.core.causes.ranking import ranked
from pronostico.core.constants import DEFAULT, Constants
from pronostico.core.drift.results import Drifts, ValveDrift
from pronostico.knowledge import load_knowledge
from pronostico.record.conversion import engine_from, visits_from
from pronostico.record.models import Record


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
    """A cause that is developing, and the valves that show it."""

    cause: DevelopingFaultOut
    valves: list[ValveComingOut]
    thread_is_not_known: bool


class OutSoonOut(ReportModel):
    """A valve, and how likely it is out of spec one check interval on."""

    valve: str
    p_out: float


class DevelopingFaultsOut(ReportModel):
    """The developing faults; null where there are no visits.

    `p_any_out`: that any valve is out of spec one check interval after the last visit, nothing touched;
    `p_fault`: that any fault is there or developing.
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


def _coming(record: Record, known: Drifts, causes: list[DevelopingFaultOut]) -> list[ComingOut]:
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


def developing_faults(record: Record, constants: Constants = DEFAULT) -> DevelopingFaultsOut:
    """The developing faults of an engine, independent of any complaint."""
    if not record.visits:
        return DevelopingFaultsOut(coming=[], p_any_out=None, valves=[], p_fault=None)
    known = drifts_of(engine_from(record.engine, constants), tuple(visits_from(record)), constants)
    found = developing(record, constants)
    risk = risk_of(known, margin_mm=0.0, most=1.0, constants=constants)
    valves = []
    if risk is not None:
        each = sorted(risk.each_at(1.0).items(), key=lambda one: -one[1])
        valves = [
            OutSoonOut(valve=name, p_out=p) for name, p in each if p >= constants.named_valve_probability
        ]
    return DevelopingFaultsOut(
        coming=_coming(record, known, found.causes),
        p_any_out=None if risk is None else risk.at(1.0),
        valves=valves,
        p_fault=found.p_fault,
    )


@dataclass(frozen=True, slots=True)
class Developing:
    """Faults that the readings alone make likely; `p_fault`: that there is any of the valves at all."""

    causes: list[DevelopingFaultOut]
    p_fault: float


def developing(record: Record, constants: Constants = DEFAULT) -> Developing:
    """The causes that the readings alone make likely, with the stated knowledge."""
    knowledge = load_knowledge()
    engine = engine_from(record.engine, constants)
    network = Network(engine, knowledge, measured_evidence(record, constants), constants)
    states = network.weigh()
    found = ranked(network, states)
    faults = [not (one.kind.ordinary or one.kind.elsewhere) for one in network.candidates]
    causes = [
        DevelopingFaultOut(
            cause=cause.candidate.kind.id,
            label=cause.candidate.kind.label,
            where=cause.candidate.place.name,
            valves=[one.id for one in engine.valves if one.id in valves_at(engine, cause.candidate.place)],
            probability=cause.probability,
            advice=cause.candidate.kind.advice,
            caution=cause.candidate.kind.caution,
        )
        for cause in found.causes
        if cause.probability >= constants.developing_probability and not cause.candidate.kind.ordinary
    ]
    return Developing(causes, states.any_of(faults))
