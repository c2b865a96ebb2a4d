"""Tests with numbers at a visit: compression and leak-down by cylinder, and other figures, each judged."""

from collections.abc import Iterable, Iterator

from scipy.special import ndtr
from sqlalchemy.orm import Session

from pronostico.core.causes import Evidence, Place
from pronostico.core.cylinder import (
    DEFAULT_SPREAD,
    SEA_LEVEL_KPA,
    Compression,
    Judged,
    at_altitude,
    judge_compression,
    pressure_at,
    spread_of,
)
from pronostico.core.doubts import compression_doubt
from pronostico.knowledge import load_knowledge
from pronostico.knowledge.figures import Limit, TestFigure, load_figures
from pronostico.record.faults import Fault
from pronostico.record.models import Compression as CompressionModel
from pronostico.record.models import EngineModel, Leakdown, Number, VisitModel
from pronostico.services.engines import engine_record
from pronostico.services.errors import Question, Refused, ask
from pronostico.services.heads import neighbours_of
from pronostico.services.preparing import visit_of
from pronostico.services.report_model import ReportModel
from pronostico.store.visit_data import put_visit_data

_HEARD = ("exhaust", "intake", "crankcase", "coolant")
SOUND_LEAK_PERCENT = 15.0
"""Less lost than this is what a sound cylinder loses; per cent of the test air."""
_HIGHEST_KPA = 10_000.0


class SaysOut(ReportModel):
    """What figures show: a finding, and how surely it is there, 0 to 1."""

    finding: str
    label: str
    presence: float


class CylinderTestOut(ReportModel):
    """The figures of one cylinder, kPa gauge; `wet_called_for`: dry is low, so oil would tell why."""

    cylinder: int
    dry_kpa: float | None
    wet_kpa: float | None
    leak_percent: float | None
    heard: list[str]
    misfires: float | None
    wet_called_for: bool
    says: list[SaysOut]


class FigureOut(ReportModel):
    """A figure of the engine as a whole; `limits` in words."""

    id: str
    label: str
    unit: str
    value: float | None
    limits: list[str]
    says: list[SaysOut]


class TestedOut(ReportModel):
    """All tests with numbers of a visit.

    `least_kpa`: the spec's least at sea level, `least_here_kpa` at the visit's altitude; null where the
    engine's data name none. `spread`: the highest less the lowest, as a share of the highest.
    """

    __test__ = False  # to pytest this is no test

    altitude_m: float | None
    least_kpa: float | None
    least_here_kpa: float | None
    spread: float | None
    spread_limit: float
    spread_is_default: bool
    cylinders: list[CylinderTestOut]
    figures: list[FigureOut]
    says: list[SaysOut]


def _judged(engine: EngineModel, visit: VisitModel) -> Judged:
    spec = engine.compression_spec_kpa
    return judge_compression(
        [Compression(one.cylinder, one.dry_kpa, one.wet_kpa) for one in visit.compression],
        least_kpa=None if spec is None else spec.min,
        most_spread=None if spec is None else spec.max_spread_fraction,
        neighbours=neighbours_of(engine),
        altitude_m=visit.altitude_m or 0.0,
    )


def _compression(engine: EngineModel, visit: VisitModel) -> Iterator[Evidence]:
    judged = _judged(engine, visit)
    for finding, by_cylinder in (
        ("compression-low", judged.low),
        ("wet-gain", judged.wet_gain),
        ("wet-no-gain", judged.wet_no_gain),
        ("neighbours-low", judged.neighbours_low),
    ):
        for cylinder, presence in by_cylinder.items():
            yield Evidence(finding, Place(cylinder=cylinder), presence)
    if judged.spread is not None:
        yield Evidence("compression-spread", Place(), judged.spread)


def _leakdown(visit: VisitModel) -> Iterator[Evidence]:
    for one in visit.leakdown:
        lost = one.percent > SOUND_LEAK_PERCENT
        for where in _HEARD:
            heard = lost and where in one.heard
            yield Evidence(f"leak-{where}", Place(cylinder=one.cylinder), 1.0 if heard else 0.0)


def _limit_at(figure: TestFigure, limit: Limit, altitude_m: float) -> float:
    at = limit.below if limit.below is not None else limit.above
    assert at is not None
    return at * pressure_at(altitude_m) / SEA_LEVEL_KPA if figure.falls_with_altitude else at


def _beyond(figure: TestFigure, limit: Limit, value: float, altitude_m: float) -> float:
    off = (value - _limit_at(figure, limit, altitude_m)) / limit.spread
    return float(ndtr(-off if limit.below is not None else off))


def _numbers(visit: VisitModel) -> Iterator[Evidence]:
    """Figures as they were before the work; those after it belong to what was proved."""
    figures = load_figures()
    for one in visit.numbers:
        figure = figures.get(one.id)
        if one.phase == "after" or figure is None or (figure.per == "cylinder") != (one.cylinder is not None):
            continue
        for limit in figure.limit:
            presence = _beyond(figure, limit, one.value, visit.altitude_m or 0.0)
            yield Evidence(limit.finding, Place(cylinder=one.cylinder), presence)


def tested_evidence(engine: EngineModel, visit: VisitModel) -> list[Evidence]:
    """What the figures of a visit show, each as likely as they make it."""
    return [*_compression(engine, visit), *_leakdown(visit), *_numbers(visit)]


def _says(evidence: Iterable[Evidence]) -> list[SaysOut]:
    kinds = load_knowledge().findings
    return [
        SaysOut(finding=one.finding, label=kinds[one.finding].label, presence=one.presence)
        for one in evidence
        if one.finding in kinds and one.presence >= 0.5
    ]


def _number(visit: VisitModel, figure: str, cylinder: int | None) -> float | None:
    for one in reversed(visit.numbers):
        if (one.id, one.cylinder, one.phase or "before") == (figure, cylinder, "before"):
            return one.value
    return None


def _cylinder(engine: EngineModel, visit: VisitModel, cylinder: int, judged: Judged) -> CylinderTestOut:
    pressure = next((one for one in reversed(visit.compression) if one.cylinder == cylinder), None)
    leak = next((one for one in reversed(visit.leakdown) if one.cylinder == cylinder), None)
    here = [one for one in tested_evidence(engine, visit) if one.place == Place(cylinder=cylinder)]
    return CylinderTestOut(
        cylinder=cylinder,
        dry_kpa=None if pressure is None else pressure.dry_kpa,
        wet_kpa=None if pressure is None else pressure.wet_kpa,
        leak_percent=None if leak is None else leak.percent,
        heard=[] if leak is None else list(leak.heard),
        misfires=_number(visit, "misfires", cylinder),
        wet_called_for=judged.low.get(cylinder, 0.0) >= 0.5,
        says=_says(here),
    )


def _limit_text(figure: TestFigure, limit: Limit, altitude_m: float) -> str:
    word = "below" if limit.below is not None else "above"
    label = load_knowledge().findings[limit.finding].label
    return f"{word} {_limit_at(figure, limit, altitude_m):.3g} {figure.unit}: {label}. {limit.why}"


def tested(session: Session, engine_id: str, visit_id: str) -> TestedOut:
    """The tests with numbers of a visit.

    Raises:
        NotThere: there is no such engine or visit.
    """
    record = engine_record(session, engine_id)
    engine, visit = record.engine, visit_of(record, visit_id)
    judged, spec = _judged(engine, visit), engine.compression_spec_kpa
    altitude_m = visit.altitude_m or 0.0
    dry = [one.dry_kpa for one in visit.compression if one.dry_kpa is not None]
    least = None if spec is None else spec.min
    own_spread = None if spec is None else spec.max_spread_fraction
    whole = [one for one in tested_evidence(engine, visit) if one.place == Place()]
    return TestedOut(
        altitude_m=visit.altitude_m,
        least_kpa=least,
        least_here_kpa=None if least is None else at_altitude(least, altitude_m),
        spread=spread_of(dry) if len(dry) > 1 else None,
        spread_limit=DEFAULT_SPREAD if own_spread is None else own_spread,
        spread_is_default=own_spread is None,
        cylinders=[
            _cylinder(engine, visit, cylinder, judged)
            for cylinder in sorted({valve.cylinder for valve in engine.valves})
        ],
        figures=[
            FigureOut(
                id=figure.id,
                label=figure.label,
                unit=figure.unit,
                value=_number(visit, figure.id, None),
                limits=[_limit_text(figure, limit, altitude_m) for limit in figure.limit],
                says=_says(one for one in whole if one.finding in {limit.finding for limit in figure.limit}),
            )
            for figure in load_figures().values()
            if figure.per == "engine"
        ],
        says=_says(one for one in whole if one.finding == "compression-spread"),
    )


def _with_number(
    visit: VisitModel, figure: TestFigure, cylinder: int | None, value: float | None
) -> list[Number]:
    rest = [
        one
        for one in visit.numbers
        if (one.id, one.cylinder, one.phase or "before") != (figure.id, cylinder, "before")
    ]
    if value is None:
        return rest
    return [*rest, Number(id=figure.id, value=value, unit=figure.unit, cylinder=cylinder, phase="before")]


def _bounds(figure: TestFigure, value: float | None, path: str) -> list[Fault]:
    if value is None or figure.min <= value <= figure.max:
        return []
    return [Fault(path, f"must lie from {figure.min:g} to {figure.max:g} {figure.unit}")]


def note_cylinder(
    session: Session,
    engine_id: str,
    visit_id: str,
    test: CompressionModel,
    leak: Leakdown | None,
    misfires: float | None,
    *,
    confirmed: list[str],
) -> None:
    """Note the figures of one cylinder in place of those before; what is None is struck out.

    Raises:
        NotThere: there is no such engine or visit.
        Refused: there is no such cylinder, or a figure cannot be.
        Asked: a compression that may have been read in another unit.
    """
    record = engine_record(session, engine_id)
    visit, cylinder = visit_of(record, visit_id), test.cylinder
    cylinders = sorted({valve.cylinder for valve in record.engine.valves})
    faults = []
    if cylinder not in cylinders:
        faults.append(Fault("$.cylinder", f"must be one of {', '.join(map(str, cylinders))}"))
    pressures = (("$.dry_kpa", test.dry_kpa), ("$.wet_kpa", test.wet_kpa))
    for path, kpa in pressures:
        if kpa is not None and kpa > _HIGHEST_KPA:
            faults.append(Fault(path, f"must lie from 0 to {_HIGHEST_KPA:g} kPa"))
    counted = load_figures()["misfires"]
    faults.extend(_bounds(counted, misfires, "$.misfires"))
    if faults:
        raise Refused(faults)
    doubts = [(path, compression_doubt(kpa)) for path, kpa in pressures]
    ask([Question(path, one.question, one.suggestion) for path, one in doubts if one is not None], confirmed)
    kept = [one for one in visit.compression if one.cylinder != cylinder]
    if test.dry_kpa is not None or test.wet_kpa is not None:
        kept.append(test)
    leaks = [one for one in visit.leakdown if one.cylinder != cylinder]
    if leak is not None:
        leaks.append(leak)
    changed = visit.model_copy(
        update={
            "compression": sorted(kept, key=lambda one: one.cylinder),
            "leakdown": sorted(leaks, key=lambda one: one.cylinder),
            "numbers": _with_number(visit, counted, cylinder, misfires),
        }
    )
    put_visit_data(session, engine_id, changed)
    session.commit()


def note_engine_figure(
    session: Session, engine_id: str, visit_id: str, figure_id: str, value: float | None
) -> None:
    """Note a figure of the engine as a whole; None strikes it out.

    Raises:
        NotThere: there is no such engine or visit.
        Refused: there is no such figure, or it cannot be so large or small.
    """
    record = engine_record(session, engine_id)
    visit = visit_of(record, visit_id)
    known = {one.id: one for one in load_figures().values() if one.per == "engine"}
    figure = known.get(figure_id)
    if figure is None:
        raise Refused([Fault("$.id", f"there is no figure '{figure_id}'; there are {', '.join(known)}")])
    faults = _bounds(figure, value, "$.value")
    if faults:
        raise Refused(faults)
    changed = visit.model_copy(update={"numbers": _with_number(visit, figure, None, value)})
    put_visit_data(session, engine_id, changed)
    session.commit()


def note_altitude(session: Session, engine_id: str, visit_id: str, altitude_m: float | None) -> None:
    """Note how high the engine stood; None strikes it out.

    Raises:
        NotThere: there is no such engine or visit.
    """
    record = engine_record(session, engine_id)
    visit = visit_of(record, visit_id)
    put_visit_data(session, engine_id, visit.model_copy(update={"altitude_m": altitude_m}))
    session.commit()
