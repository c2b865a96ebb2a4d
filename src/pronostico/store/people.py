"""Rows of people, of the devices they are signed in on, and of links that sign a device in."""

from collections.abc import Sequence
from datetime import UTC, datetime

from sqlalchemy import func, select, update
from sqlalchemy.orm import Session

from pronostico.store.people_tables import PairingRow, PersonRow, SignInRow


def utc(time: datetime) -> datetime:
    """A time from a row with its zone; SQLite keeps none, and all times are in UTC."""
    return time.replace(tzinfo=UTC) if time.tzinfo is None else time


def folded_name(name: str) -> str:
    """A name as it is compared: case and spaces do not matter."""
    return " ".join(name.casefold().split())[:80]


def person_row(session: Session, person_id: str) -> PersonRow | None:
    """Somebody who was not removed."""
    row = session.get(PersonRow, person_id)
    return row if row is not None and row.removed_at is None else None


def person_named(session: Session, name: str) -> PersonRow | None:
    """Somebody who was not removed, by name."""
    query = select(PersonRow).where(
        PersonRow.name_folded == folded_name(name), PersonRow.removed_at.is_(None)
    )
    return session.scalar(query)


def people_rows(session: Session) -> Sequence[PersonRow]:
    """Everybody who was not removed, by name."""
    return session.scalars(
        select(PersonRow).where(PersonRow.removed_at.is_(None)).order_by(PersonRow.name_folded)
    ).all()


def owners(session: Session) -> int:
    """How many owners there are."""
    query = select(func.count()).select_from(PersonRow)
    return session.scalar(query.where(PersonRow.role == "owner", PersonRow.removed_at.is_(None))) or 0


def sign_in_row(session: Session, token_digest: str) -> tuple[SignInRow, PersonRow] | None:
    """A device's sign-in that was not ended, and whose it is."""
    query = (
        select(SignInRow, PersonRow)
        .join(PersonRow, PersonRow.id == SignInRow.person_id)
        .where(SignInRow.token_digest == token_digest, SignInRow.ended_at.is_(None))
        .where(PersonRow.removed_at.is_(None))
    )
    found = session.execute(query).one_or_none()
    return None if found is None else (found[0], found[1])


def sign_in_rows(session: Session, person_id: str | None) -> Sequence[SignInRow]:
    """All sign-ins that were not ended, of one person or of all, the last used first."""
    query = select(SignInRow).where(SignInRow.ended_at.is_(None)).order_by(SignInRow.used_at.desc())
    if person_id is not None:
        query = query.where(SignInRow.person_id == person_id)
    return session.scalars(query).all()


def end_sign_ins(session: Session, person_id: str, *, now: datetime, but: str | None = None) -> None:
    """End every sign-in of a person, and every link for one.

    Args:
        but: the sign-in that stays.
    """
    ended = update(SignInRow).where(SignInRow.person_id == person_id, SignInRow.ended_at.is_(None))
    session.execute((ended if but is None else ended.where(SignInRow.id != but)).values(ended_at=now))
    links = update(PairingRow).where(PairingRow.person_id == person_id, PairingRow.used_at.is_(None))
    session.execute(links.values(used_at=now))
