"""The workshop's box of shims."""

from typing import Annotated

from fastapi import APIRouter
from pydantic import Field

from pronostico.api.deps import SessionDep, WriteSessionDep
from pronostico.api.models import NoGuessing, RequestModel
from pronostico.record.models import BoxedShim
from pronostico.services.workshop import shim_box

router = APIRouter(prefix="/shim-box", tags=["shim box"])

Thickness = Annotated[float, Field(ge=0.1, le=10), NoGuessing]
Count = Annotated[int, Field(ge=0, le=10_000), NoGuessing]


class CountIn(RequestModel):
    """How many shims of a size there are, null to strike it out; and the count that the page showed."""

    shim_mm: Thickness
    diameter_mm: Annotated[float, Field(ge=1, le=100), NoGuessing] | None = None
    count: Count | None
    was: Count | None


@router.get("")
def get_box(session: SessionDep) -> list[BoxedShim]:
    """Every size of the box, those that have run out included."""
    return shim_box.list_box(session)


@router.put("")
def put_count(body: CountIn, session: WriteSessionDep) -> list[BoxedShim]:
    """Count one size anew."""
    return shim_box.put_count(session, **body.model_dump())
