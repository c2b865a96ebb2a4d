"""Who computes which result, where several processes of the application share a database.

A claim lasts for a while: that of a process that was ended falls to the next one that looks.
"""

from collections.abc import Collection, Iterator, Sequence
from datetime import UTC, datetime, timedelta
from typing import Literal

from sqlalchemy import delete, func, select, update
from sqlalchemy.dialects.postgresql import insert
from sqlalchemy.orm import Session

from pronostico.store.database import Database
from pronostico.store.tables import ClaimRow

Work = Literal["results", "reviews"]
# A result takes seconds at most, and a process claims few at once.
_LASTS = timedelta(seconds=90)
_AT_ONCE = 6
_NEVER = datetime(1970, 1, 1, tzinfo=UTC)


def claimed(database: Database, work: Work, engine_ids: Sequence[str]) -> Iterator[tuple[str, bool]]:
    """Engines one after another, each with whether it is ours to do; claimed a few at a time.

    Where nobody else serves the database all are.
    """
    if not database.shared:
        yield from ((one, True) for one in engine_ids)
        return
    for start in range(0, len(engine_ids), _AT_ONCE):
        some = engine_ids[start : start + _AT_ONCE]
        with database.claiming() as session:
            ours = claim(session, work, some)
            session.commit()
        left = set(ours)
        try:
            for one in some:
                yield one, one in ours
                left.discard(one)
        finally:
            if left:
                with database.claiming() as session:
                    release(session, work, left)
                    session.commit()


def claim(session: Session, work: Work, engine_ids: Sequence[str]) -> set[str]:
    """Those of some engines that nobody else is at; on PostgreSQL alone, and by its clock."""
    now = func.clock_timestamp()
    these = ClaimRow.work == work, ClaimRow.engine_id.in_(engine_ids)
    known = set(session.scalars(select(ClaimRow.engine_id).where(*these)))
    new = [{"work": work, "engine_id": one, "until": _NEVER} for one in sorted(set(engine_ids) - known)]
    if new:
        # Only those: an insert of what another process is claiming would wait for it.
        session.execute(insert(ClaimRow).on_conflict_do_nothing(), new)
    # What another process is claiming at this moment is passed over, not waited for.
    free = select(ClaimRow.engine_id).where(*these, ClaimRow.until < now).with_for_update(skip_locked=True)
    ours = set(session.scalars(free))
    session.execute(update(ClaimRow).where(*these, ClaimRow.engine_id.in_(ours)).values(until=now + _LASTS))
    return ours


def release(session: Session, work: Work, engine_ids: Collection[str]) -> None:
    """Let go of some engines, whether they were claimed or not."""
    session.execute(delete(ClaimRow).where(ClaimRow.work == work, ClaimRow.engine_id.in_(engine_ids)))
