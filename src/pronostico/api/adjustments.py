"""The Adjust step of a visit: the plan, the choice, what was set."""

from typing import Annotated

from fastapi import APIRouter, Path
from pydantic import Field

from pronostico.api.deps import NowDep, SessionDep, WriteSessionDep
from pronostico.api.models import Blade, Confirmed, NewIdentifier, NoGuessing, RequestModel
from pronostico.core.visits import Felt
from pronostico.record.base import Identifier
from pronostico.record.visit import SettingModel
from pronostico.record.work import AdjustmentChoice, ShimSeen, ShimSource, ValvePart
from pronostico.services.visits import adjust, locking
from pronostico.services.visits.adjust import AdjustStepOut

LockUpIndex = Annotated[int, Path(ge=0, le=99)]
router = APIRouter(prefix="/engines/{engine_id}/visits/{visit_id}", tags=["setting"])

Length = Annotated[float, Field(ge=0, le=10), NoGuessing]


class ChoiceIn(RequestModel):
    """The choice, and the one that the page showed before."""

    choice: AdjustmentChoice
    was: AdjustmentChoice


class SettingIn(RequestModel):
    """A valve was set: by its screw towards a target, or by another shim."""

    valve: Identifier
    target_mm: Length | None = None
    turn_deg: Annotated[float, Field(ge=-3600, le=3600), NoGuessing] | None = None
    shim_from_mm: Annotated[float, Field(gt=0, le=10), NoGuessing] | None = None
    shim_to_mm: Annotated[float, Field(gt=0, le=10), NoGuessing] | None = None
    source: ShimSource | None = None
    moved_from: Identifier | None = None
    reason: Annotated[str, Field(max_length=300)] = ""
    confirmed: Confirmed


class LockUpIn(RequestModel):
    """The blade that dragged before the nut was locked, the one tried after, and how that felt."""

    set_with_mm: Annotated[list[Blade], Field(min_length=1, max_length=6)]
    blades_mm: Annotated[list[Blade], Field(min_length=1, max_length=6)]
    felt: Felt


class ShimSeenIn(RequestModel):
    """What is printed on a shim and what it measures, and what the page showed before."""

    seen: ShimSeen
    was: ShimSeen


class PartsChangedIn(RequestModel):
    """Which parts of a valve were changed; `was`: what the page showed."""

    parts: Annotated[list[ValvePart], Field(max_length=20)]
    was: list[ValvePart] | None = None


@router.get("/setting")
def get_setting(engine_id: str, visit_id: str, session: SessionDep) -> AdjustStepOut:
    """What to set, by the policy that is chosen, and what was set."""
    return adjust.adjust_step(session, engine_id, visit_id)


@router.put("/setting")
def put_choice(
    engine_id: str, visit_id: str, body: ChoiceIn, writing: WriteSessionDep, session: SessionDep
) -> AdjustStepOut:
    """Choose where in the spec to set to and which valves to touch."""
    adjust.choose(writing, engine_id, visit_id, body.choice, was=body.was)
    return adjust.adjust_step(session, engine_id, visit_id)


@router.put("/parts-changed/{valve}")
def put_parts_changed(
    engine_id: str,
    visit_id: str,
    valve: Identifier,
    body: PartsChangedIn,
    writing: WriteSessionDep,
    session: SessionDep,
) -> AdjustStepOut:
    """Note which parts of a valve were changed; an empty list takes it back."""
    shown = None if body.was is None else (body.was,)
    adjust.change_parts(writing, engine_id, visit_id, valve, body.parts, shown=shown)
    return adjust.adjust_step(session, engine_id, visit_id)


@router.put("/settings/{setting_id}")
def put_setting(
    engine_id: str,
    visit_id: str,
    setting_id: NewIdentifier,
    body: SettingIn,
    writing: WriteSessionDep,
    session: SessionDep,
    now: NowDep,
) -> AdjustStepOut:
    """Note that a valve was set."""
    doing = adjust.Doing(body.source, body.moved_from, body.reason)
    done = SettingModel(**body.model_dump(exclude={"confirmed", "source", "moved_from", "reason"}))
    adjust.note_setting(
        writing, engine_id, visit_id, setting_id, done, doing=doing, confirmed=body.confirmed, now=now
    )
    return adjust.adjust_step(session, engine_id, visit_id)


@router.delete("/settings/{setting_id}")
def delete_setting(
    engine_id: str, visit_id: str, setting_id: str, writing: WriteSessionDep, session: SessionDep
) -> AdjustStepOut:
    """Take back that a valve was set."""
    adjust.take_back_setting(writing, engine_id, visit_id, setting_id)
    return adjust.adjust_step(session, engine_id, visit_id)


@router.put("/settings/{setting_id}/lock-ups/{index}")
def put_lock_up(
    engine_id: str,
    visit_id: str,
    setting_id: str,
    index: LockUpIndex,
    body: LockUpIn,
    writing: WriteSessionDep,
    session: SessionDep,
    now: NowDep,
) -> AdjustStepOut:
    """Note that the nut was locked, and how a blade felt after it."""
    locking.note_lock_up(
        writing,
        engine_id,
        visit_id,
        setting_id,
        index,
        set_with_mm=body.set_with_mm,
        blades_mm=body.blades_mm,
        felt=body.felt,
        now=now,
    )
    return adjust.adjust_step(session, engine_id, visit_id)


@router.delete("/settings/{setting_id}/lock-ups/{index}")
def delete_lock_up(
    engine_id: str,
    visit_id: str,
    setting_id: str,
    index: LockUpIndex,
    writing: WriteSessionDep,
    session: SessionDep,
    now: NowDep,
) -> AdjustStepOut:
    """Take a setting's last lock-up back: the one of that number, counted from 0."""
    locking.take_back_lock_up(writing, engine_id, visit_id, setting_id, index, now=now)
    return adjust.adjust_step(session, engine_id, visit_id)


@router.put("/valves/{valve}/shim")
def put_shim_seen(
    engine_id: str, visit_id: str, valve: str, body: ShimSeenIn, writing: WriteSessionDep, session: SessionDep
) -> AdjustStepOut:
    """Note the shim that was found in a valve."""
    adjust.see_shim(writing, engine_id, visit_id, valve, body.seen, was=body.was)
    return adjust.adjust_step(session, engine_id, visit_id)
