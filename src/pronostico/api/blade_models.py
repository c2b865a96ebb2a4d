"""Sets of blades on their way in and out."""

from typing import Annotated

from pydantic import Field

from pronostico.analysis.report import SpecOut
from pronostico.analysis.report_model import ReportModel
from pronostico.api.models import RequestModel
from pronostico.core.gauge.blade_list import BladeUnit


class TypedSetIn(RequestModel):
    """A set as it is said: '0.05 0.10', '0.05 to 0.50 by 0.05', or with both prints '0.152/6'."""

    name: Annotated[str, Field(min_length=1, max_length=80)]
    text: Annotated[str, Field(max_length=2000)]
    unit: BladeUnit


class BladeSetIn(TypedSetIn):
    """The same; and `was`: what the page showed before, null of a new one."""

    was: TypedSetIn | None = None


class BladeGapOut(ReportModel):
    """A step of a set that is too wide, mm, and the stacks of two that fall within it."""

    from_mm: float
    to_mm: float
    stacks: list[list[float]]


class SpecGapsOut(ReportModel):
    """The gaps of a set about one spec of an engine."""

    valves: list[str]
    spec: SpecOut
    gaps: list[BladeGapOut]


class BladeSetOut(ReportModel):
    """A set of blades; `unit` is what is printed on them."""

    id: str
    name: str
    blades_mm: list[float]
    unit: BladeUnit
    text: str
    gaps: list[SpecGapsOut]
