"""The bin: what is deleted with something, deleting it, and restoring it whole."""

from typing import Annotated

from fastapi import APIRouter, Depends, Path

from pronostico.api.deps import FoldersDep, NowDep, SessionDep, WriteSessionDep
from pronostico.api.models import NewIdentifier, RequestModel
from pronostico.api.who_asks import owners_only
from pronostico.record.base import Identifier
from pronostico.services.workshop import bin as bins
from pronostico.services.workshop.bin import BeforeRemovalOut, InBinOut
from pronostico.store.removals import Kind

router = APIRouter(prefix="/bin", tags=["bin"])
of_engine_router = APIRouter(prefix="/engines/{engine_id}/removals", tags=["bin"])
RemovalId = Annotated[NewIdentifier, Path()]


class RemovalIn(RequestModel):
    """What is deleted: the engine, or of it the visit or the case `part`."""

    kind: Kind
    part: Identifier | None = None


@of_engine_router.get("/before")
def get_before_removal(
    engine_id: str, session: SessionDep, kind: Kind, part: str | None = None
) -> BeforeRemovalOut:
    """What would be deleted with something; nothing is changed."""
    return bins.before_removal(session, kind, engine_id, part)


@of_engine_router.put("/{removal_id}")
def put_removal(
    engine_id: str,
    removal_id: RemovalId,
    body: RemovalIn,
    session: WriteSessionDep,
    folders: FoldersDep,
    now: NowDep,
) -> list[InBinOut]:
    """Delete an engine, a visit or a case: into the bin, with all that hangs on it."""
    bins.remove(session, removal_id, body.kind, engine_id, body.part, now=now)
    bins.empty_old(session, folders=folders, now=now)
    return bins.in_bin(session, now=now)


@router.get("")
def get_bin(session: SessionDep, now: NowDep) -> list[InBinOut]:
    """What is in the bin, the last first."""
    return bins.in_bin(session, now=now)


@router.post("/{removal_id}/restored")
def post_restored(removal_id: str, session: WriteSessionDep, now: NowDep) -> list[InBinOut]:
    """Take something out of the bin, whole."""
    bins.restore(session, removal_id)
    return bins.in_bin(session, now=now)


@router.delete("/{removal_id}", dependencies=[Depends(owners_only)])
def delete_removal(
    removal_id: str, session: WriteSessionDep, folders: FoldersDep, now: NowDep
) -> list[InBinOut]:
    """Delete something that is in the bin for good."""
    bins.delete_for_good(session, removal_id, folders=folders)
    return bins.in_bin(session, now=now)
