"""What the guided form of an engine is helped by: patterns, usual firing orders, the valves of a head."""

from typing import Annotated, Literal

from fastapi import APIRouter
from pydantic import Field

from pronostico.analysis.report_model import ReportModel
from pronostico.api.models import NoGuessing, RequestModel
from pronostico.core.engine import Side
from pronostico.core.head import MOST_CYLINDERS, MOST_VALVES_A_SIDE, valves_of_head
from pronostico.knowledge import load_firing_orders, load_patterns
from pronostico.language import Text
from pronostico.record.engine import EngineModel

router = APIRouter(tags=["engine form"])

CylinderIn = Annotated[int, Field(ge=1, le=MOST_CYLINDERS), NoGuessing]
CountIn = Annotated[int, Field(ge=1, le=MOST_VALVES_A_SIDE), NoGuessing]


class HeadIn(RequestModel):
    """How the valves of a head stand; `along` for each bank, such as 'E I I E', or null."""

    banks: Annotated[list[list[CylinderIn]], Field(min_length=1, max_length=2)]
    intakes: CountIn
    exhausts: CountIn
    along: list[Annotated[str, Field(max_length=400)]] | None = None


class PlacedValveOut(ReportModel):
    """A valve of the head."""

    id: str
    cylinder: int
    side: Side
    place: int


class PatternOut(ReportModel):
    """A made-up pattern to begin with."""

    id: str
    label: Text
    engine: EngineModel


class FiringOrderOut(ReportModel):
    """A firing order that is usual for a layout."""

    layout: Literal["in-line", "v", "flat"]
    firing_order: list[int]
    intervals_deg: list[float] | None
    banks: list[list[int]] | None
    note: Text | None


class FormHelpOut(ReportModel):
    """Patterns and firing orders to choose from."""

    patterns: list[PatternOut]
    firing_orders: list[FiringOrderOut]


@router.get("/engine-form")
def get_engine_form() -> FormHelpOut:
    """What the form offers."""
    patterns = [
        PatternOut(
            id=one.id, label=one.label, engine=EngineModel.model_validate(one.document(), strict=False)
        )
        for one in load_patterns()
    ]
    orders = [FiringOrderOut.model_validate(one) for one in load_firing_orders()]
    return FormHelpOut(patterns=patterns, firing_orders=orders)


@router.post("/heads")
def post_head(body: HeadIn) -> list[PlacedValveOut]:
    """The valves of a head as it is described so far; nothing is stored."""
    placed = valves_of_head(body.banks, intakes=body.intakes, exhausts=body.exhausts, along=body.along)
    return [PlacedValveOut.model_validate(valve) for valve in placed]
