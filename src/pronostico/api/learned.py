"""What the workshop's closed cases have taught: shown, handed on, brought in, taken back."""

from typing import Annotated

from fastapi import APIRouter, Depends, Query, Response

from pronostico.api.deps import SessionDep, WriteSessionDep
from pronostico.api.tables import CSV, attachment
from pronostico.api.who_asks import owners_only
from pronostico.services.cases import learning
from pronostico.services.cases.learning import BroughtInOut, LearnedOut, LessonsDocument
from pronostico.services.cases.recordings_found import (
    RecordingsFoundOut,
    recordings_found,
    recordings_found_text,
)

router = APIRouter(prefix="/lessons", tags=["lessons"])
FileName = Annotated[str, Query(min_length=1, max_length=200)]


@router.get("")
def get_learned(session: SessionDep) -> LearnedOut:
    """What all closed cases have taught."""
    return learning.what_was_learned(session)


@router.get("/file")
def get_lessons_file(session: SessionDep, response: Response) -> LessonsDocument:
    """All lessons as a file for another workshop; it does not say whose engines they were."""
    response.headers["content-disposition"] = 'attachment; filename="lessons.json"'
    return learning.lessons_document(session)


@router.get("/recordings")
def get_recordings_found(session: SessionDep) -> RecordingsFoundOut:
    """What sound recordings said in closed cases, against what was found."""
    return recordings_found(session)


@router.get("/recordings.csv", response_class=Response, responses=CSV)
def get_recordings_found_table(session: SessionDep) -> Response:
    """The same case by case; it does not say whose engines they were."""
    return Response(
        recordings_found_text(session),
        media_type="text/csv; charset=utf-8",
        headers=attachment("sound-recordings.csv"),
    )


@router.post("/file", dependencies=[Depends(owners_only)])
def post_lessons_file(body: LessonsDocument, name: FileName, session: WriteSessionDep) -> BroughtInOut:
    """Bring in the lessons of a file; those that are there already count once."""
    return learning.import_learned(session, body, name)


@router.delete("/file", status_code=204, dependencies=[Depends(owners_only)])
def delete_lessons_file(name: FileName, session: WriteSessionDep) -> None:
    """Take back what was brought in from a file of that name."""
    learning.take_back(session, name)
