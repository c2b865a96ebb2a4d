"""Tests with numbers at a visit."""

from typing import Annotated

from fastapi import APIRouter
from pydantic import Field

from pronostico.analysis.cylinder_tests import CylinderTestsOut
from pronostico.api.deps import SessionDep, WriteSessionDep
from pronostico.api.models import Confirmed, NoGuessing, RequestModel, ShownFigure, shown
from pronostico.record.base import CylinderNumber, Identifier
from pronostico.record.visit import Heard
from pronostico.services.visits import cylinder_tests

router = APIRouter(prefix="/engines/{engine_id}/visits/{visit_id}/tests", tags=["visits"])
Figure = Annotated[float, Field(ge=-1e6, le=1e6), NoGuessing] | None
Pressure = Annotated[float, Field(ge=0, le=1e5), NoGuessing] | None


class CylinderFiguresIn(RequestModel):
    """The figures of one cylinder, kPa gauge and per cent of the air lost; null: not taken."""

    dry_kpa: Pressure = None
    wet_kpa: Pressure = None
    throttle_open: bool | None = None
    leak_percent: Annotated[float, Field(ge=0, le=100), NoGuessing] | None = None
    heard: list[Heard] = Field(default_factory=list, max_length=5)
    misfires: Figure = None

    def figures(self) -> cylinder_tests.CylinderFigures:
        """The same without the request."""
        return cylinder_tests.CylinderFigures(
            **{name: getattr(self, name) for name in CylinderFiguresIn.model_fields}
        )


class CylinderTestIn(CylinderFiguresIn):
    """The same; and `was`: what the page showed before."""

    was: CylinderFiguresIn | None = None
    confirmed: Confirmed


class EngineFigureIn(RequestModel):
    """A figure of the engine as a whole, null strikes it out; `was`: what the page showed before."""

    value: Figure
    was: ShownFigure = None


class AltitudeIn(RequestModel):
    """How high the engine stood, m, null: not known; `was`: what the page showed before."""

    altitude_m: Annotated[float, Field(ge=-500, le=6000), NoGuessing] | None
    was: ShownFigure = None


@router.get("")
def get_cylinder_tests(engine_id: str, visit_id: str, session: SessionDep) -> CylinderTestsOut:
    """The tests with numbers of a visit, judged."""
    return cylinder_tests.tested(session, engine_id, visit_id)


@router.put("/cylinders/{cylinder}")
def put_cylinder(
    engine_id: str,
    visit_id: str,
    cylinder: CylinderNumber,
    body: CylinderTestIn,
    writing: WriteSessionDep,
    session: SessionDep,
) -> CylinderTestsOut:
    """Note the figures of one cylinder in place of those before."""
    cylinder_tests.note_cylinder(
        writing,
        engine_id,
        visit_id,
        cylinder,
        body.figures(),
        confirmed=body.confirmed,
        shown=None if body.was is None else body.was.figures(),
    )
    return cylinder_tests.tested(session, engine_id, visit_id)


@router.put("/figures/{figure_id}")
def put_engine_figure(
    engine_id: str,
    visit_id: str,
    figure_id: Identifier,
    body: EngineFigureIn,
    writing: WriteSessionDep,
    session: SessionDep,
) -> CylinderTestsOut:
    """Note a figure of the engine as a whole."""
    cylinder_tests.note_engine_figure(
        writing, engine_id, visit_id, figure_id, body.value, shown=shown(body, body.was)
    )
    return cylinder_tests.tested(session, engine_id, visit_id)


@router.put("/altitude")
def put_altitude(
    engine_id: str, visit_id: str, body: AltitudeIn, writing: WriteSessionDep, session: SessionDep
) -> CylinderTestsOut:
    """Note how high the engine stood: compression and vacuum fall with the air outside."""
    cylinder_tests.note_altitude(writing, engine_id, visit_id, body.altitude_m, shown=shown(body, body.was))
    return cylinder_tests.tested(session, engine_id, visit_id)
