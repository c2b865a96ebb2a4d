"""The notebook of a case: notes, and photographs kept as files beside the database."""

from datetime import datetime
from pathlib import Path

from sqlalchemy.orm import Session

from pronostico.analysis.lookup import case_of
from pronostico.analysis.report_model import ReportModel
from pronostico.errors import AlreadyThere, NotThere, Refused
from pronostico.record.faults import Fault
from pronostico.services.engines.load import engine_record
from pronostico.services.pictures import Picture, put_in_place
from pronostico.store import notebook as store
from pronostico.store.notebook import NotebookEntry


class NotebookEntryOut(ReportModel):
    """A note; where `media_type` is not null a photograph with what stands under it."""

    id: str
    noted_at: datetime
    text: str
    media_type: str | None


def _check_case(session: Session, engine_id: str, case_id: str) -> None:
    case_of(engine_record(session, engine_id), case_id)


def notebook(session: Session, engine_id: str, case_id: str) -> list[NotebookEntryOut]:
    """What stands in the notebook, the oldest first.

    Raises:
        NotThere: there is no such engine or case.
    """
    _check_case(session, engine_id, case_id)
    return [NotebookEntryOut.model_validate(one) for one in store.entries(session, engine_id, case_id)]


def _add(session: Session, engine_id: str, case_id: str, entry: NotebookEntry) -> None:
    if not store.add_entry(session, engine_id, case_id, entry):
        raise AlreadyThere(f"something else was saved as '{entry.id}' already")


def add_note(
    session: Session, engine_id: str, case_id: str, entry_id: str, text: str, *, now: datetime
) -> None:
    """Note something; the same sent twice is noted once.

    Raises:
        NotThere: there is no such engine or case.
        Refused: there are no words.
        AlreadyThere: something else has that identifier.
    """
    _check_case(session, engine_id, case_id)
    if not text.strip():
        raise Refused([Fault("$.text", "must not be empty")])
    _add(session, engine_id, case_id, NotebookEntry(entry_id, now, text.strip()))
    session.commit()


def add_photograph(
    session: Session,
    engine_id: str,
    case_id: str,
    entry_id: str,
    picture: Picture,
    text: str,
    *,
    folder: Path,
    now: datetime,
) -> None:
    """Keep a photograph with what stands under it; the same sent twice is kept once.

    Raises:
        NotThere: there is no such engine or case.
        AlreadyThere: something else has that identifier.
    """
    _check_case(session, engine_id, case_id)
    entry = NotebookEntry(entry_id, now, text.strip(), picture.name, picture.media_type)
    _add(session, engine_id, case_id, entry)
    put_in_place(picture, folder)
    session.commit()


def photograph(
    session: Session, engine_id: str, case_id: str, entry_id: str, *, folder: Path
) -> tuple[Path, str]:
    """The file of a photograph, and its media type.

    Raises:
        NotThere: there is no such engine, case or photograph, or its file is gone.
    """
    _check_case(session, engine_id, case_id)
    for one in store.entries(session, engine_id, case_id):
        if one.id == entry_id and one.photograph is not None and one.media_type is not None:
            path = folder / one.photograph
            if path.is_file():
                return path, one.media_type
    raise NotThere("photograph", entry_id)


def remove(session: Session, engine_id: str, case_id: str, entry_id: str, *, now: datetime) -> None:
    """Take an entry out of the notebook; it stays marked, and its file stays. Sent again it changes nothing.

    Raises:
        NotThere: there is no such engine or case, or its notebook never had anything of that identifier.
    """
    _check_case(session, engine_id, case_id)
    if not store.remove_entry(session, engine_id, case_id, entry_id, now=now):
        raise NotThere("entry", entry_id)
    session.commit()
