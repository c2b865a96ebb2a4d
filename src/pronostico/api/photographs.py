"""Photographs of a visit: taken at a step, of a valve or of none."""

from typing import Annotated

from fastapi import APIRouter, Path, Query
from fastapi.responses import FileResponse
from pydantic import Field

from pronostico.api.deps import NowDep, PhotographsDep, SessionDep, WriteSessionDep
from pronostico.api.models import NewIdentifier, RequestModel
from pronostico.api.pictures import PICTURE_BODY, PictureDep, picture_file
from pronostico.record.base import Identifier
from pronostico.services.visits import photographs
from pronostico.services.visits.photographs import Caption, VisitPhotographOut
from pronostico.services.visits.steps import Step

router = APIRouter(prefix="/engines/{engine_id}/visits/{visit_id}/photographs", tags=["visits"])
PhotographId = Annotated[NewIdentifier, Path()]
_TEXT_LENGTH = 500


class CaptionIn(RequestModel):
    """What is said of a photograph."""

    valve: Identifier | None
    text: Annotated[str, Field(max_length=_TEXT_LENGTH)]
    on_card: bool


class CaptionChangeIn(CaptionIn):
    """The same, and what the page showed before."""

    was: CaptionIn | None = None


@router.get("")
def get_photographs(engine_id: str, visit_id: str, session: SessionDep) -> list[VisitPhotographOut]:
    """The photographs of a visit, the oldest first."""
    return photographs.photographs(session, engine_id, visit_id)


@router.put("/{photograph_id}", openapi_extra=PICTURE_BODY)
def put_visit_photograph(
    engine_id: str,
    visit_id: str,
    photograph_id: PhotographId,
    picture: PictureDep,
    session: WriteSessionDep,
    folder: PhotographsDep,
    now: NowDep,
    step: Step,
    valve: Annotated[Identifier | None, Query()] = None,
    text: Annotated[str, Query(max_length=_TEXT_LENGTH)] = "",
) -> list[VisitPhotographOut]:
    """Keep a photograph under the identifier that the page gave it."""
    photographs.add_photograph(
        session,
        engine_id,
        visit_id,
        photograph_id,
        picture,
        step=step,
        valve=valve,
        text=text,
        folder=folder,
        now=now,
    )
    return photographs.photographs(session, engine_id, visit_id)


@router.put("/{photograph_id}/caption")
def put_caption(
    engine_id: str,
    visit_id: str,
    photograph_id: PhotographId,
    body: CaptionChangeIn,
    session: WriteSessionDep,
) -> list[VisitPhotographOut]:
    """Change what is said of a photograph."""
    new = Caption(valve=body.valve, text=body.text, on_card=body.on_card)
    was = None if body.was is None else Caption(**body.was.model_dump())
    photographs.caption(session, engine_id, visit_id, photograph_id, new, was=was)
    return photographs.photographs(session, engine_id, visit_id)


@router.get("/{photograph_id}/picture", response_class=FileResponse)
def get_picture(
    engine_id: str, visit_id: str, photograph_id: str, session: SessionDep, folder: PhotographsDep
) -> FileResponse:
    """The photograph itself."""
    return picture_file(*photographs.picture_of(session, engine_id, visit_id, photograph_id, folder=folder))


@router.delete("/{photograph_id}")
def delete_visit_photograph(
    engine_id: str, visit_id: str, photograph_id: PhotographId, session: WriteSessionDep, now: NowDep
) -> list[VisitPhotographOut]:
    """Remove a photograph."""
    photographs.remove(session, engine_id, visit_id, photograph_id, now=now)
    return photographs.photographs(session, engine_id, visit_id)
