"""Compression, leak-down and other measured values of a visit, judged, and the findings they amount to."""

from collections.abc import Iterable, Iterator

from scipy.special import ndtr

from pronostico.analysis.neighbours import neighbours_of
from pronostico.analysis.report_model import ReportModel
from pronostico.core.causes.model import Evidence
from pronostico.core.causes.places import Place
from pronostico.core.constants import DEFAULT
from pronostico.core.cylinder import (
    SEA_LEVEL_KPA,
    Assessed,
    Compression,
    assess_compression,
    pressure_at,
)
from pronostico.knowledge import load_knowledge
from pronostico.knowledge.figures import Limit, TestFigure, load_figures
from pronostico.language import Text
from pronostico.record.engine import EngineModel
from pronostico.record.visit import VisitModel

_HEARD = ("exhaust", "intake", "crankcase", "coolant")


class SaysOut(ReportModel):
    """What figures show: a finding, and how surely it is there, 0 to 1."""

    finding: str
    label: Text
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
    label: Text
    unit: str
    value: float | None
    limits: list[Text]
    says: list[SaysOut]


class CylinderTestsOut(ReportModel):
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


def _assessed(engine: EngineModel, visit: VisitModel) -> Assessed:
    spec = engine.compression_spec_kpa
    return assess_compression(
        [Compression(one.cylinder, one.dry_kpa, one.wet_kpa) for one in visit.compression],
        least_kpa=None if spec is None else spec.min,
        most_spread=None if spec is None else spec.max_spread_fraction,
        neighbours=neighbours_of(engine),
        altitude_m=visit.altitude_m or 0.0,
    )


def _compression(engine: EngineModel, visit: VisitModel) -> Iterator[Evidence]:
    assessed = _assessed(engine, visit)
    for finding, by_cylinder in (
        ("compression-low", assessed.low),
        ("wet-gain", assessed.wet_gain),
        ("wet-no-gain", assessed.wet_no_gain),
        ("neighbours-low", assessed.neighbours_low),
    ):
        for cylinder, presence in by_cylinder.items():
            yield Evidence(finding, Place(cylinder=cylinder), presence)
    if assessed.spread is not None:
        yield Evidence("compression-spread", Place(), assessed.spread)


def _leakdown(visit: VisitModel) -> Iterator[Evidence]:
    for one in visit.leakdown:
        lost = one.percent > DEFAULT.sound_leak_percent
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


def cylinder_test_evidence(engine: EngineModel, visit: VisitModel) -> list[Evidence]:
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


def _cylinder(engine: EngineModel, visit: VisitModel, cylinder: int, assessed: Assessed) -> CylinderTestOut:
    pressure = next((one for one in reversed(visit.compression) if one.cylinder == cylinder), None)
    leak = next((one for one in reversed(visit.leakdown) if one.cylinder == cylinder), None)
    here = [one for one in cylinder_test_evidence(engine, visit) if one.place == Place(cylinder=cylinder)]
    return CylinderTestOut(
        cylinder=cylinder,
        dry_kpa=None if pressure is None else pressure.dry_kpa,
        wet_kpa=None if pressure is None else pressure.wet_kpa,
        leak_percent=None if leak is None else leak.percent,
        heard=[] if leak is None else list(leak.heard),
        misfires=_number(visit, "misfires", cylinder),
        wet_called_for=assessed.low.get(cylinder, 0.0) >= 0.5,
        says=_says(here),
    )


def _limit_text(figure: TestFigure, limit: Limit, altitude_m: float) -> str:
    word = "below" if limit.below is not None else "above"
    label = load_knowledge().findings[limit.finding].label
    return f"{word} {_limit_at(figure, limit, altitude_m):.3g} {figure.unit}: {label}. {limit.why}"
