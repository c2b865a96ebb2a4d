"""The Set stop of a visit: the plan, the choice, what was set."""

from typing import Annotated

from fastapi import APIRouter
from pydantic import Field

from pronostico.api.deps import SessionDep, WriteSessionDep
from pronostico.api.models import Confirmed, NewIdentifier, NoGuessing, RequestModel
from pronostico.record.models import Identifier, SettingModel
from pronostico.services import setting
from pronostico.services.setting import SetStopOut
from pronostico.services.visit_notes import SettingChoice

router = APIRouter(prefix="/engines/{engine_id}/visits/{visit_id}", tags=["setting"])

Length = Annotated[float, Field(ge=0, le=10), NoGuessing]


class ChoiceIn(RequestModel):
    """The choice, and the one that the page showed before."""

    choice: SettingChoice
    was: SettingChoice


class SettingIn(RequestModel):
    """A valve was set: by its screw towards a target, or by another shim."""

    valve: Identifier
    target_mm: Length | None = None
    turn_deg: Annotated[float, Field(ge=-3600, le=3600), NoGuessing] | None = None
    shim_from_mm: Annotated[float, Field(gt=0, le=10), NoGuessing] | None = None
    shim_to_mm: Annotated[float, Field(gt=0, le=10), NoGuessing] | None = None
    confirmed: Confirmed


@router.get("/setting")
def get_setting(engine_id: str, visit_id: str, session: SessionDep) -> SetStopOut:
    """What to set, by the policy that is chosen, and what was set."""
    return setting.set_stop(session, engine_id, visit_id)


@router.put("/setting")
def put_choice(
    engine_id: str, visit_id: str, body: ChoiceIn, writing: WriteSessionDep, session: SessionDep
) -> SetStopOut:
    """Choose where in the spec to set to and which valves to touch."""
    setting.choose(writing, engine_id, visit_id, body.choice, was=body.was)
    return setting.set_stop(session, engine_id, visit_id)


@router.put("/settings/{setting_id}")
def put_setting(
    engine_id: str,
    visit_id: str,
    setting_id: NewIdentifier,
    body: SettingIn,
    writing: WriteSessionDep,
    session: SessionDep,
) -> SetStopOut:
    """Note that a valve was set."""
    done = SettingModel(**body.model_dump(exclude={"confirmed"}))
    setting.note_setting(writing, engine_id, visit_id, setting_id, done, confirmed=body.confirmed)
    return setting.set_stop(session, engine_id, visit_id)


@router.delete("/settings/{setting_id}")
def delete_setting(
    engine_id: str, visit_id: str, setting_id: str, writing: WriteSessionDep, session: SessionDep
) -> SetStopOut:
    """Take back that a valve was set."""
    setting.take_back_setting(writing, engine_id, visit_id, setting_id)
    return setting.set_stop(session, engine_id, visit_id)
