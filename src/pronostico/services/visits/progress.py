"""How far the work of a visit is: open, waiting for parts, ready to continue, done."""

from collections import Counter
from datetime import date

from sqlalchemy.orm import Session

from pronostico.analysis.lookup import visit_of
from pronostico.errors import Refused
from pronostico.record.faults import Fault
from pronostico.record.work import Progress
from pronostico.services.engines.load import engine_record
from pronostico.services.merging import merged
from pronostico.store.shim_box import count_of, put_count, size_of
from pronostico.store.visit_data import put_visit_data

_BEGUN = Progress(state="open")


def _faults(new: Progress, began: date, today: date) -> list[Fault]:
    faults = []
    if new.state == "waiting" and not new.awaited:
        faults.append(Fault("$.progress.awaited", "name the part that is waited for"))
    for index, part in enumerate(new.awaited):
        at = f"$.progress.awaited[{index}]"
        for key, day in (("ordered", part.ordered), ("arrived", part.arrived)):
            if day is not None and day > today:
                faults.append(Fault(f"{at}.{key}", f"{day} lies in the future (today is {today})"))
        if part.ordered is not None and part.arrived is not None and part.arrived < part.ordered:
            faults.append(Fault(f"{at}.arrived", f"{part.arrived} is before it was ordered ({part.ordered})"))
    if new.ended is not None and not began <= new.ended <= today:
        faults.append(Fault("$.progress.ended", f"must be from the visit's day ({began}) to today ({today})"))
    return faults


def _settled(new: Progress, today: date) -> Progress:
    """What follows from what was said: work that has its parts is ready, work that is done ended on a day."""
    waits = any(part.arrived is None for part in new.awaited)
    if new.state == "waiting" and not waits:
        return new.model_copy(update={"state": "ready", "ended": None})
    if new.state == "done":
        return new.model_copy(update={"ended": new.ended or today})
    return new.model_copy(update={"ended": None})


def _arrived_shims(progress: Progress) -> Counter[tuple[float, float | None]]:
    """How many shims of each size and diameter have come."""
    counts: Counter[tuple[float, float | None]] = Counter()
    for part in progress.awaited:
        if part.shim_mm is not None and part.arrived is not None:
            counts[size_of(part.shim_mm), part.diameter_mm] += part.count
    return counts


def _into_box(
    session: Session,
    before: Counter[tuple[float, float | None]],
    after: Counter[tuple[float, float | None]],
) -> None:
    """Put shims that have come into the box, and take out those that had not come after all."""
    for size in before.keys() | after.keys():
        more = after[size] - before[size]
        if more:
            put_count(session, *size, max(0, (count_of(session, *size) or 0) + more))


def keep_progress(
    session: Session,
    engine_id: str,
    visit_id: str,
    new: Progress,
    *,
    shown: Progress | None = None,
    today: date,
) -> None:
    """Say how far the work of a visit is; shims that have come since go into the box.

    Args:
        shown: what the page showed; None: it did not say.

    Raises:
        NotThere: there is no such engine or visit.
        Refused: a day cannot be right, or it waits for nothing.
        Stale: somebody else said otherwise of the same meanwhile.
    """
    visit = visit_of(engine_record(session, engine_id), visit_id)
    now = visit.progress or _BEGUN
    if shown is not None:
        new = Progress.model_validate(merged(dict(now), dict(shown), dict(new), at="$.progress"))
    faults = _faults(new, visit.date, today)
    if faults:
        raise Refused(faults)
    progress = _settled(new, today)
    _into_box(session, _arrived_shims(now), _arrived_shims(progress))
    put_visit_data(session, engine_id, visit.model_copy(update={"progress": progress}))
    session.commit()
