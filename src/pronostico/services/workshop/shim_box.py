"""The workshop's box of shims: counted by hand, taken from and given back to as valves are set."""

from collections import Counter
from collections.abc import Iterable

from sqlalchemy.orm import Session

from pronostico.errors import Stale
from pronostico.record.engine import EngineModel
from pronostico.record.faults import Fault
from pronostico.record.models import BoxedShim
from pronostico.record.visit import SettingModel
from pronostico.store import shim_box as store


def list_box(session: Session) -> list[BoxedShim]:
    """Every size of the box."""
    return store.shim_box(session)


def put_count(
    session: Session, *, shim_mm: float, diameter_mm: float | None, count: int | None, was: int | None
) -> list[BoxedShim]:
    """Count the shims of one size anew; None strikes the size out.

    Args:
        was: the count that the page showed; None: the size was not there.

    Raises:
        Stale: somebody took or brought some meanwhile.
    """
    now = store.count_of(session, shim_mm, diameter_mm)
    if now not in (was, count):
        message = "has been removed" if now is None else f"has been changed to {now}"
        raise Stale([Fault("$.count", message)])
    store.put_count(session, shim_mm, diameter_mm, count)
    session.commit()
    return list_box(session)


def diameter_of(engine: EngineModel) -> float | None:
    """The diameter of an engine's shims, where it is known."""
    return None if engine.shim_series is None else engine.shim_series.diameter_mm


def from_box(setting: SettingModel) -> bool:
    """Whether the shim of a setting was taken from the box."""
    return setting.shim_source == "stock"


def _effect(settings: Iterable[SettingModel]) -> Counter[float]:
    """What the settings of a visit do to the box: old shims go in unless they went on to another valve."""
    known = list(settings)
    went_on = {setting.moved_from for setting in known}
    effect: Counter[float] = Counter()
    for setting in known:
        if setting.shim_from_mm is not None and setting.valve not in went_on:
            effect[store.size_of(setting.shim_from_mm)] += 1
        if setting.shim_to_mm is not None and from_box(setting):
            effect[store.size_of(setting.shim_to_mm)] -= 1
    return effect


def follow(
    session: Session, engine: EngineModel, before: list[SettingModel], after: list[SettingModel]
) -> None:
    """Change the box as the settings of a visit change.

    Raises:
        Stale: the box has not so many of a size: somebody else took the last one.
    """
    changes = _effect(after)
    changes.subtract(_effect(before))
    short = store.change_counts(session, diameter_of(engine), changes)
    if short is not None:
        message = (
            f"the box has no shim of {short:g} mm left: somebody took the last one, or it has been fitted"
        )
        raise Stale([Fault("$.shim_to_mm", message)])
