"""The notebook of a case: notes and photographs."""

from typing import Annotated

from fastapi import APIRouter, Path, Query
from fastapi.responses import FileResponse
from pydantic import Field

from pronostico.api.deps import NowDep, PhotographsDep, SessionDep, WriteSessionDep
from pronostico.api.models import NewIdentifier, RequestModel
from pronostico.api.pictures import PICTURE_BODY, PictureDep, picture_file
from pronostico.services.cases import notes
from pronostico.services.cases.notes import NotebookEntryOut

router = APIRouter(prefix="/engines/{engine_id}/cases/{case_id}/notebook", tags=["cases"])
EntryId = Annotated[NewIdentifier, Path()]


class NoteIn(RequestModel):
    """What is noted."""

    text: Annotated[str, Field(max_length=10_000)]


@router.get("")
def get_notebook(engine_id: str, case_id: str, session: SessionDep) -> list[NotebookEntryOut]:
    """What stands in the notebook, the oldest first."""
    return notes.notebook(session, engine_id, case_id)


@router.put("/{entry_id}")
def put_note(
    engine_id: str, case_id: str, entry_id: EntryId, body: NoteIn, session: WriteSessionDep, now: NowDep
) -> list[NotebookEntryOut]:
    """Note something in words."""
    notes.add_note(session, engine_id, case_id, entry_id, body.text, now=now)
    return notes.notebook(session, engine_id, case_id)


@router.put("/{entry_id}/photograph", openapi_extra=PICTURE_BODY)
def put_photograph(
    engine_id: str,
    case_id: str,
    entry_id: EntryId,
    picture: PictureDep,
    session: WriteSessionDep,
    folder: PhotographsDep,
    now: NowDep,
    text: Annotated[str, Query(max_length=500)] = "",
) -> list[NotebookEntryOut]:
    """Keep a photograph with what stands under it."""
    notes.add_photograph(session, engine_id, case_id, entry_id, picture, text, folder=folder, now=now)
    return notes.notebook(session, engine_id, case_id)


@router.get("/{entry_id}/photograph", response_class=FileResponse)
def get_photograph(
    engine_id: str, case_id: str, entry_id: EntryId, session: SessionDep, folder: PhotographsDep
) -> FileResponse:
    """The photograph itself."""
    return picture_file(*notes.photograph(session, engine_id, case_id, entry_id, folder=folder))


@router.delete("/{entry_id}")
def delete_entry(
    engine_id: str, case_id: str, entry_id: EntryId, session: WriteSessionDep, now: NowDep
) -> list[NotebookEntryOut]:
    """Take an entry out of the notebook."""
    notes.remove(session, engine_id, case_id, entry_id, now=now)
    return notes.notebook(session, engine_id, case_id)
