"""The workshop's sets of blades."""

from fastapi import APIRouter, Response

from pronostico.api.blade_models import BladeSetIn, BladeSetOut
from pronostico.api.deps import NowDep, SessionDep, WriteSessionDep
from pronostico.api.models import NewIdentifier
from pronostico.services.workshop import blade_sets

router = APIRouter(tags=["blade sets"])


@router.get("/blade-sets")
def get_blade_sets(session: SessionDep, engine: str | None = None) -> list[BladeSetOut]:
    """The sets; held against an engine's spec where one is named."""
    return [BladeSetOut.model_validate(one) for one in blade_sets.list_blade_sets(session, engine)]


@router.put("/blade-sets/{set_id}")
def put_blade_set(set_id: NewIdentifier, body: BladeSetIn, session: WriteSessionDep) -> BladeSetOut:
    """Keep a set."""
    was = body.was
    kept = blade_sets.put_blade_set(
        session,
        set_id,
        blade_sets.TypedSet(body.name, body.text, body.unit),
        shown=None if was is None else blade_sets.TypedSet(was.name, was.text, was.unit),
    )
    return BladeSetOut.model_validate(kept)


@router.delete("/blade-sets/{set_id}", status_code=204, response_class=Response)
def delete_blade_set(set_id: str, session: WriteSessionDep, now: NowDep) -> None:
    """Put a set away; visits that used it keep it."""
    blade_sets.remove_blade_set(session, set_id, now=now)
