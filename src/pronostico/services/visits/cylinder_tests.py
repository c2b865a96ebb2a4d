"""Tests with numbers at a visit: compression and leak-down by cylinder, and other figures, each judged."""

from dataclasses import asdict, dataclass, field

from sqlalchemy.orm import Session

from pronostico.analysis.cylinder_tests import (
    CylinderTestsOut,
    FigureOut,
    _assessed,
    _cylinder,
    _limit_text,
    _number,
    _says,
    cylinder_test_evidence,
)
from pronostico.analysis.lookup import visit_of
from pronostico.core.causes.places import Place
from pronostico.core.constants import DEFAULT
from pronostico.core.cylinder import (
    at_altitude,
    spread_of,
)
from pronostico.core.plausibility import compression_query
from pronostico.errors import Question, Refused, ask
from pronostico.knowledge.figures import TestFigure, load_figures
from pronostico.record.faults import Fault
from pronostico.record.visit import Compression as CompressionModel
from pronostico.record.visit import Heard, Leakdown, Number, VisitModel
from pronostico.services.engines.load import engine_record
from pronostico.services.merging import merged, one_merged
from pronostico.store.visit_data import put_visit_data

_HIGHEST_KPA = 10_000.0


def tested(session: Session, engine_id: str, visit_id: str) -> CylinderTestsOut:
    """The tests with numbers of a visit.

    Raises:
        NotThere: there is no such engine or visit.
    """
    record = engine_record(session, engine_id)
    engine, visit = record.engine, visit_of(record, visit_id)
    assessed, spec = _assessed(engine, visit), engine.compression_spec_kpa
    altitude_m = visit.altitude_m or 0.0
    dry = [one.dry_kpa for one in visit.compression if one.dry_kpa is not None]
    least = None if spec is None else spec.min
    own_spread = None if spec is None else spec.max_spread_fraction
    whole = [one for one in cylinder_test_evidence(engine, visit) if one.place == Place()]
    return CylinderTestsOut(
        altitude_m=visit.altitude_m,
        least_kpa=least,
        least_here_kpa=None if least is None else at_altitude(least, altitude_m),
        spread=spread_of(dry) if len(dry) > 1 else None,
        spread_limit=DEFAULT.compression_spread_share if own_spread is None else own_spread,
        spread_is_default=own_spread is None,
        cylinders=[
            _cylinder(engine, visit, cylinder, assessed)
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


@dataclass(frozen=True, slots=True)
class CylinderFigures:
    """The figures of one cylinder, kPa gauge and per cent of the air lost; None: not taken."""

    dry_kpa: float | None = None
    wet_kpa: float | None = None
    throttle_open: bool | None = None
    leak_percent: float | None = None
    heard: list[Heard] = field(default_factory=list)
    misfires: float | None = None


def _figures_of(visit: VisitModel, cylinder: int) -> CylinderFigures:
    test = next((one for one in visit.compression if one.cylinder == cylinder), None)
    leak = next((one for one in visit.leakdown if one.cylinder == cylinder), None)
    return CylinderFigures(
        dry_kpa=None if test is None else test.dry_kpa,
        wet_kpa=None if test is None else test.wet_kpa,
        throttle_open=None if test is None else test.throttle_open,
        leak_percent=None if leak is None else leak.percent,
        heard=[] if leak is None else list(leak.heard),
        misfires=_number(visit, "misfires", cylinder),
    )


def note_cylinder(
    session: Session,
    engine_id: str,
    visit_id: str,
    cylinder: int,
    figures: CylinderFigures,
    *,
    confirmed: list[str],
    shown: CylinderFigures | None = None,
) -> None:
    """Note the figures of one cylinder in place of those before; what is None is struck out.

    Args:
        shown: what the page showed before; None: it did not say.

    Raises:
        NotThere: there is no such engine or visit.
        Stale: somebody else noted a figure otherwise meanwhile.
        Refused: there is no such cylinder, or a figure cannot be.
        Asked: a compression that may have been read in another unit.
    """
    record = engine_record(session, engine_id)
    visit = visit_of(record, visit_id)
    cylinders = sorted({valve.cylinder for valve in record.engine.valves})
    faults = []
    if cylinder not in cylinders:
        faults.append(Fault("$.cylinder", f"must be one of {', '.join(map(str, cylinders))}"))
    pressures = (("$.dry_kpa", figures.dry_kpa), ("$.wet_kpa", figures.wet_kpa))
    for path, kpa in pressures:
        if kpa is not None and kpa > _HIGHEST_KPA:
            faults.append(Fault(path, f"must lie from 0 to {_HIGHEST_KPA:g} kPa"))
    counted = load_figures()["misfires"]
    faults.extend(_bounds(counted, figures.misfires, "$.misfires"))
    if faults:
        raise Refused(faults)
    doubts = [(path, compression_query(kpa)) for path, kpa in pressures]
    ask([Question(path, one.question, one.suggestion) for path, one in doubts if one is not None], confirmed)
    now = _figures_of(visit, cylinder)
    kept = CylinderFigures(**merged(asdict(now), None if shown is None else asdict(shown), asdict(figures)))
    tests = [one for one in visit.compression if one.cylinder != cylinder]
    if kept.dry_kpa is not None or kept.wet_kpa is not None:
        tests.append(
            CompressionModel(
                cylinder=cylinder,
                dry_kpa=kept.dry_kpa,
                wet_kpa=kept.wet_kpa,
                throttle_open=kept.throttle_open,
            )
        )
    leaks = [one for one in visit.leakdown if one.cylinder != cylinder]
    if kept.leak_percent is not None:
        leaks.append(Leakdown(cylinder=cylinder, percent=kept.leak_percent, heard=kept.heard))
    changed = visit.model_copy(
        update={
            "compression": sorted(tests, key=lambda one: one.cylinder),
            "leakdown": sorted(leaks, key=lambda one: one.cylinder),
            "numbers": _with_number(visit, counted, cylinder, kept.misfires),
        }
    )
    put_visit_data(session, engine_id, changed)
    session.commit()


def note_engine_figure(
    session: Session,
    engine_id: str,
    visit_id: str,
    figure_id: str,
    value: float | None,
    *,
    shown: tuple[float | None] | None = None,
) -> None:
    """Note a figure of the engine as a whole; None strikes it out.

    Args:
        shown: what the page showed before; None: it did not say.

    Raises:
        NotThere: there is no such engine or visit.
        Stale: somebody else noted otherwise meanwhile.
        Refused: there is no such figure, or it is not possible large or small.
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
    value = one_merged("value", _number(visit, figure_id, None), shown, value)
    changed = visit.model_copy(update={"numbers": _with_number(visit, figure, None, value)})
    put_visit_data(session, engine_id, changed)
    session.commit()


def note_altitude(
    session: Session,
    engine_id: str,
    visit_id: str,
    altitude_m: float | None,
    *,
    shown: tuple[float | None] | None = None,
) -> None:
    """Note how high the engine stood; None strikes it out.

    Args:
        shown: what the page showed before; None: it did not say.

    Raises:
        NotThere: there is no such engine or visit.
        Stale: somebody else noted otherwise meanwhile.
    """
    record = engine_record(session, engine_id)
    visit = visit_of(record, visit_id)
    kept = one_merged("altitude_m", visit.altitude_m, shown, altitude_m)
    put_visit_data(session, engine_id, visit.model_copy(update={"altitude_m": kept}))
    session.commit()
