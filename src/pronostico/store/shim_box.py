"""The workshop's box of shims: how many there are of each thickness and diameter."""

from collections.abc import Mapping

from sqlalchemy import select
from sqlalchemy.orm import Session

from pronostico.record.models import BoxedShim
from pronostico.store.tables import ShimRow


def size_of(shim_mm: float) -> float:
    """A thickness as the box tells sizes apart: to the tenth of a micrometre, for sums leave dust behind."""
    # A record may hold anything over nothing.
    return round(shim_mm, 4) or shim_mm


def shim_box(session: Session) -> list[BoxedShim]:
    """Every size, by diameter and thickness; those that have run out included."""
    rows = session.scalars(select(ShimRow).order_by(ShimRow.diameter_mm.nulls_first(), ShimRow.shim_mm))
    return [BoxedShim(shim_mm=row.shim_mm, count=row.count, diameter_mm=row.diameter_mm) for row in rows]


def _row(session: Session, shim_mm: float, diameter_mm: float | None) -> ShimRow | None:
    known = select(ShimRow).where(
        ShimRow.shim_mm == size_of(shim_mm), ShimRow.diameter_mm.is_not_distinct_from(diameter_mm)
    )
    return session.scalars(known).one_or_none()


def count_of(session: Session, shim_mm: float, diameter_mm: float | None) -> int | None:
    """How many there are of a size; None where the box never had any."""
    row = _row(session, shim_mm, diameter_mm)
    return None if row is None else row.count


def put_count(session: Session, shim_mm: float, diameter_mm: float | None, count: int | None) -> None:
    """Set how many there are of a size; None: strike the size out."""
    row = _row(session, shim_mm, diameter_mm)
    if row is None and count is not None:
        session.add(ShimRow(shim_mm=size_of(shim_mm), diameter_mm=diameter_mm, count=count))
    elif row is not None and count is None:
        session.delete(row)
    elif row is not None and count is not None:
        row.count = count
    session.flush()


def change_counts(session: Session, diameter_mm: float | None, changes: Mapping[float, int]) -> float | None:
    """Put shims of one diameter in (over 0) and take them out (under 0), by thickness: all, or none.

    Returns:
        The thickness of which there are not so many; None where it was done.
    """
    after = {
        shim_mm: (count_of(session, shim_mm, diameter_mm) or 0) + by for shim_mm, by in changes.items() if by
    }
    short = next((shim_mm for shim_mm, count in after.items() if count < 0), None)
    if short is None:
        for shim_mm, count in after.items():
            put_count(session, shim_mm, diameter_mm, count)
    return short


def shelve_shims(session: Session, shims: list[BoxedShim]) -> None:
    """Take in the box that came with a record: sizes that this box has keep its own count."""
    for shim in shims:
        if count_of(session, shim.shim_mm, shim.diameter_mm) is None:
            put_count(session, shim.shim_mm, shim.diameter_mm, shim.count)
