"""Lock-ups: the nut was locked, and what a blade said after it; again until it holds."""

from datetime import datetime
from uuid import uuid4

from sqlalchemy.orm import Session

from pronostico.analysis.lookup import visit_of
from pronostico.core.visits import Felt
from pronostico.errors import NotThere, Stale
from pronostico.record.faults import Fault
from pronostico.record.visit import Lockup, SettingModel, TryModel
from pronostico.services.engines.load import engine_record
from pronostico.store import settings, tries


def note_lock_up(
    session: Session,
    engine_id: str,
    visit_id: str,
    identifier: str,
    index: int,
    *,
    set_with_mm: list[float],
    blades_mm: list[float],
    felt: Felt,
    now: datetime,
) -> None:
    """Note that the nut was locked, and how a blade felt after it.

    It is a reading as left, in place of those before it. Sent again it changes nothing.

    Args:
        index: which lock-up of this setting it is, counted from 0.
        set_with_mm: the blade or stack that dragged before.
        blades_mm: the one that was tried after.

    Raises:
        NotThere: there is no such engine, visit or setting.
        Stale: another lock-up was noted there meanwhile.
    """
    setting = _setting_of(session, engine_id, visit_id, identifier)
    known = setting.lockup or []
    after = TryModel(blades_mm=blades_mm, felt=felt)
    lock_up = Lockup(before=[TryModel(blades_mm=set_with_mm, felt="drag")], after=[after])
    if index < len(known) and known[index] == lock_up:
        return
    if index != len(known):
        raise Stale([Fault("$.index", f"{len(known)} tightenings of {setting.valve} are entered already")])
    changed = setting.model_copy(update={"lockup": [*known, lock_up]})
    settings.put_setting(session, engine_id, visit_id, changed)
    _read_as_left(session, engine_id, visit_id, changed, now)
    session.commit()


def take_back_lock_up(
    session: Session, engine_id: str, visit_id: str, identifier: str, index: int, *, now: datetime
) -> None:
    """Take the last lock-up of a setting back; the one before it tells again how the valve was left.

    Sent again it changes nothing.

    Args:
        index: which lock-up of this setting it is, counted from 0.

    Raises:
        NotThere: there is no such engine, visit or setting.
        Stale: another lock-up was noted after it.
    """
    setting = _setting_of(session, engine_id, visit_id, identifier)
    known = setting.lockup or []
    if index >= len(known):
        return
    if index < len(known) - 1:
        raise Stale([Fault("$.index", f"{len(known)} tightenings of {setting.valve} are entered by now")])
    changed = setting.model_copy(update={"lockup": known[:-1] or None})
    settings.put_setting(session, engine_id, visit_id, changed)
    _read_as_left(session, engine_id, visit_id, changed, now)
    session.commit()


def _setting_of(session: Session, engine_id: str, visit_id: str, identifier: str) -> SettingModel:
    visit = visit_of(engine_record(session, engine_id), visit_id)
    for setting in visit.settings:
        if setting.id == identifier:
            return setting
    raise NotThere("setting", identifier)


def _read_as_left(
    session: Session, engine_id: str, visit_id: str, setting: SettingModel, now: datetime
) -> None:
    """The last lock-up's answers become the reading as left."""
    tries.take_back_phase(session, engine_id, visit_id, valve=setting.valve, phase="left", now=now)
    for one in setting.lockup[-1].after if setting.lockup else []:
        tries.add_try(
            session,
            engine_id,
            visit_id,
            str(uuid4()),
            valve=setting.valve,
            phase="left",
            crank_turn=1,
            one=one,
            now=now,
        )
