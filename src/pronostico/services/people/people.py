"""Who works here, and what each of them may do."""

from collections.abc import Sequence
from datetime import datetime
from typing import Literal, get_args
from uuid import uuid4

from sqlalchemy.orm import Session

from pronostico.analysis.report_model import ReportModel
from pronostico.errors import AlreadyThere, NotThere, Refused
from pronostico.record.faults import Fault
from pronostico.services.people.passwords import check_password, hash_password
from pronostico.store import people
from pronostico.store.people_tables import PersonRow

Role = Literal["reader", "technician", "owner"]
"""A reader changes nothing; an owner also sees to people, backups, knowledge and the workshop's figures."""
ROLES: tuple[Role, ...] = get_args(Role)
Mark = Literal["disc", "square", "diamond", "triangle", "ring", "cross", "bar", "hexagon"]
MARKS: tuple[Mark, ...] = get_args(Mark)


class PersonOut(ReportModel):
    """Somebody who works here; `mark`: the shape beside the initials, for colour is not seen by all."""

    id: str
    name: str
    initials: str
    mark: Mark
    role: Role
    has_password: bool


def person_out(row: PersonRow) -> PersonOut:
    """A person as others see them."""
    return PersonOut(
        id=row.id,
        name=row.name,
        initials=row.initials,
        mark=next((one for one in MARKS if one == row.mark), MARKS[0]),
        role=next(one for one in ROLES if one == row.role),
        has_password=row.password_hash is not None,
    )


def list_people(session: Session) -> list[PersonOut]:
    """Everybody, by name."""
    return [person_out(row) for row in people.people_rows(session)]


def initials_of(name: str) -> str:
    """The first letters of the first and the last word.

    >>> initials_of("mira von Sand"), initials_of("Ole")
    ('MS', 'OL')
    """
    words = name.split()
    return (words[0][:2] if len(words) == 1 else words[0][0] + words[-1][0]).upper()


def add_person(
    session: Session,
    *,
    name: str,
    role: Role,
    now: datetime,
    initials: str | None = None,
    password: str | None = None,
    id: str | None = None,
) -> PersonOut:
    """Somebody new; sent again with the same identifier it changes nothing.

    Args:
        password: None: they sign in with a paired device alone.

    Raises:
        AlreadyThere: the name is taken, or the identifier is somebody else's.
        Refused: the password is soon guessed, or the name says nothing.
    """
    name = " ".join(name.split())
    if not name:
        raise Refused([Fault("$.name", "is empty; expected a name")])
    there = people.person_named(session, name)
    if there is not None and there.id == id:
        return person_out(there)
    if there is not None or (id is not None and session.get(PersonRow, id) is not None):
        raise AlreadyThere(f"there is somebody called '{name}' already; add something to tell the two apart")
    if password is not None:
        check_password(password, known=name.split())
    everybody = people.people_rows(session)
    row = PersonRow(
        id=id or uuid4().hex,
        name=name,
        name_folded=people.folded_name(name),
        initials=(initials or initials_of(name))[:4],
        mark=_rarest_mark(everybody),
        role=role,
        password_hash=None if password is None else hash_password(password),
        added_at=now,
    )
    session.add(row)
    session.commit()
    return person_out(row)


def _rarest_mark(everybody: Sequence[PersonRow]) -> str:
    used = [row.mark for row in everybody]
    return min(MARKS, key=used.count)


def _known(session: Session, person_id: str) -> PersonRow:
    row = people.person_row(session, person_id)
    if row is None:
        raise NotThere("person", person_id)
    return row


def _keep_an_owner(session: Session, row: PersonRow) -> None:
    if row.role == "owner" and people.owners(session) == 1:
        message = f"{row.name} is the only owner; make somebody else an owner first"
        raise Refused([Fault("$.role", message)])


def change_role(session: Session, person_id: str, role: Role) -> PersonOut:
    """Give somebody another role.

    Raises:
        NotThere: there is nobody of that id.
        Refused: nobody would be left who is an owner.
    """
    row = _known(session, person_id)
    if role != "owner":
        _keep_an_owner(session, row)
    row.role = role
    session.commit()
    return person_out(row)


def set_password(
    session: Session, person_id: str, password: str, *, now: datetime, staying: str | None = None
) -> PersonOut:
    """A new password; every device is signed out.

    Args:
        staying: the sign-in that stays: that of whoever changes their own password.

    Raises:
        NotThere: there is nobody of that id.
        Refused: the password is soon guessed.
    """
    row = _known(session, person_id)
    check_password(password, known=row.name.split())
    row.password_hash = hash_password(password)
    people.end_sign_ins(session, person_id, now=now, but=staying)
    session.commit()
    return person_out(row)


def remove_person(session: Session, person_id: str, *, now: datetime) -> None:
    """Take somebody off the list, and sign all their devices out; what they did goes on naming them.

    Raises:
        NotThere: there is nobody of that id.
        Refused: nobody would be left who is an owner.
    """
    row = _known(session, person_id)
    _keep_an_owner(session, row)
    row.removed_at = now
    people.end_sign_ins(session, person_id, now=now)
    session.commit()
