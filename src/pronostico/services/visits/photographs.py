"""Photographs of a visit, kept as files beside the database."""

from datetime import datetime
from pathlib import Path

from sqlalchemy.orm import Session

from pronostico.analysis.lookup import visit_of
from pronostico.analysis.report_model import ReportModel
from pronostico.errors import AlreadyThere, NotThere, Refused
from pronostico.record.faults import Fault
from pronostico.services.engines.load import engine_record
from pronostico.services.merging import merged
from pronostico.services.pictures import Picture, put_in_place
from pronostico.services.visits.steps import Step
from pronostico.store import photographs as store
from pronostico.store.photographs import VisitPhotograph


class Caption(ReportModel):
    """What is said of a photograph: of which valve, what stands under it, whether the job card shows it."""

    valve: str | None
    text: str
    on_card: bool


class VisitPhotographOut(Caption):
    """A photograph, and at which step it was taken."""

    id: str
    noted_at: datetime
    step: Step


def _check(session: Session, engine_id: str, visit_id: str, valve: str | None) -> None:
    record = engine_record(session, engine_id)
    visit_of(record, visit_id)
    if valve is not None and valve not in {one.id for one in record.engine.valves}:
        raise Refused([Fault("$.valve", f"this engine has no valve '{valve}'")])


def photographs(session: Session, engine_id: str, visit_id: str) -> list[VisitPhotographOut]:
    """The photographs of a visit, the oldest first.

    Raises:
        NotThere: there is no such engine or visit.
    """
    _check(session, engine_id, visit_id, None)
    kept = store.photographs(session, engine_id, visit_id)
    return [VisitPhotographOut.model_validate(one) for one in kept]


def add_photograph(
    session: Session,
    engine_id: str,
    visit_id: str,
    photograph_id: str,
    picture: Picture,
    *,
    step: Step,
    valve: str | None,
    text: str,
    folder: Path,
    now: datetime,
) -> None:
    """Keep a photograph; the same sent twice is kept once.

    Raises:
        NotThere: there is no such engine or visit.
        Refused: the engine has no such valve.
        AlreadyThere: something else has that identifier.
    """
    _check(session, engine_id, visit_id, valve)
    one = VisitPhotograph(photograph_id, now, step, valve, text.strip(), picture.name, picture.media_type)
    if not store.add_photograph(session, engine_id, visit_id, one):
        raise AlreadyThere(f"something else was saved as '{photograph_id}' already")
    put_in_place(picture, folder)
    session.commit()


def _kept(session: Session, engine_id: str, visit_id: str, photograph_id: str) -> VisitPhotograph:
    for one in store.photographs(session, engine_id, visit_id):
        if one.id == photograph_id:
            return one
    raise NotThere("photograph", photograph_id)


def caption(
    session: Session,
    engine_id: str,
    visit_id: str,
    photograph_id: str,
    new: Caption,
    *,
    was: Caption | None = None,
) -> None:
    """Change what is said of a photograph.

    Args:
        was: what the page showed before; None: nothing is compared.

    Raises:
        NotThere: there is no such engine, visit or photograph.
        Refused: the engine has no such valve.
        Stale: somebody else changed the same.
    """
    _check(session, engine_id, visit_id, new.valve)
    now = Caption.model_validate(_kept(session, engine_id, visit_id, photograph_id))
    shown = None if was is None else was.model_dump()
    fields = Caption.model_validate(merged(now.model_dump(), shown, new.model_dump()))
    store.change_photograph(
        session,
        engine_id,
        visit_id,
        photograph_id,
        valve=fields.valve,
        text=fields.text.strip(),
        on_card=fields.on_card,
    )
    session.commit()


def picture_of(
    session: Session, engine_id: str, visit_id: str, photograph_id: str, *, folder: Path
) -> tuple[Path, str]:
    """The file of a photograph, and its media type.

    Raises:
        NotThere: there is no such engine, visit or photograph, or its file is gone.
    """
    _check(session, engine_id, visit_id, None)
    one = _kept(session, engine_id, visit_id, photograph_id)
    path = folder / one.photograph
    if not path.is_file():
        raise NotThere("photograph", photograph_id)
    return path, one.media_type


def on_card(session: Session, engine_id: str, visit_id: str, *, folder: Path) -> list[tuple[str, Path]]:
    """The photographs that the job card shows: what stands under each, and its file."""
    return [
        (" · ".join(part for part in (one.valve, one.text) if part), folder / one.photograph)
        for one in store.photographs(session, engine_id, visit_id)
        if one.on_card and (folder / one.photograph).is_file()
    ]


def remove(session: Session, engine_id: str, visit_id: str, photograph_id: str, *, now: datetime) -> None:
    """Remove a photograph; it stays marked, and its file stays. Sent again it changes nothing.

    Raises:
        NotThere: there is no such engine or visit, or it never had a photograph of that identifier.
    """
    _check(session, engine_id, visit_id, None)
    if not store.remove_photograph(session, engine_id, visit_id, photograph_id, now=now):
        raise NotThere("photograph", photograph_id)
    session.commit()
