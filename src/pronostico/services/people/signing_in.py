"""Signing in: by password, or with a link that pairs a device; and ending it again.

A device keeps a random token of 256 bits; the workshop keeps its digest, so that a copy of the database
signs nobody in (OWASP, Session Management Cheat Sheet).
"""

import hashlib
from dataclasses import dataclass
from datetime import datetime, timedelta
from secrets import token_urlsafe
from uuid import uuid4

from sqlalchemy.orm import Session

from pronostico.analysis.report_model import ReportModel
from pronostico.errors import NotThere, Refused, ServiceError
from pronostico.record.faults import Fault
from pronostico.services.people.passwords import is_password
from pronostico.services.people.people import PersonOut, Role, add_person, person_out
from pronostico.services.people.slowing import Slowing
from pronostico.store import people
from pronostico.store.audit import ACTING
from pronostico.store.people_tables import PairingRow, PersonRow, SignInRow

UNUSED_DAYS = 30
"""After so long without use a device is signed out."""
LINK_MINUTES = 10
_NOTED_EVERY = timedelta(hours=1)
"""How exactly it is kept when a sign-in was last used: not every request writes."""


class NotSignedIn(ServiceError):
    """Name and password do not belong together, or a code is none that is valid."""


class DeviceOut(ReportModel):
    """A device on which somebody is signed in; `this`: the one that asks."""

    id: str
    device: str
    person: str
    begun_at: datetime
    used_at: datetime
    this: bool


@dataclass(frozen=True, slots=True)
class SignedIn:
    """Who asks, on which device."""

    sign_in_id: str
    device: str
    person: PersonOut

    @property
    def role(self) -> Role:
        """What they may do."""
        return self.person.role


def _digest(token: str) -> str:
    return hashlib.sha256(token.encode()).hexdigest()


def begin(session: Session, row: PersonRow, device: str, *, now: datetime) -> str:
    """Sign somebody in on a device; returns the token that the device keeps."""
    token = token_urlsafe(32)
    device = " ".join(device.split())[:80] or "a device without a name"
    acting = ACTING.get()
    if acting is not None:
        acting.person_id, acting.person, acting.device = row.id, row.name, device
    session.add(
        SignInRow(
            id=uuid4().hex,
            token_digest=_digest(token),
            person_id=row.id,
            device=device,
            begun_at=now,
            used_at=now,
        )
    )
    session.commit()
    return token


def sign_in(
    session: Session,
    reading: Session,
    slowing: Slowing,
    *,
    name: str,
    password: str,
    device: str,
    address: str,
    now: datetime,
) -> str:
    """Sign in by name and password; returns the token that the device keeps.

    Whether there is somebody of that name is not to be told from the answer, nor from how long it takes. The
    password is weighed before anything is written: nobody who saves something waits for that.

    Raises:
        NotSignedIn: the two do not belong together.
        TooSoon: after wrong ones, before it may be tried again.
    """
    keys = (f"name {people.folded_name(name)}", f"address {address}")
    slowing.check(keys, now)
    known = people.person_named(reading, name)
    right = is_password(password, None if known is None else known.password_hash)
    row = people.person_row(session, known.id) if right and known is not None else None
    if row is None:
        slowing.wrong(keys, now)
        raise NotSignedIn("name and password do not belong together")
    slowing.right(keys)
    return begin(session, row, device, now=now)


def check_own_password(
    session: Session, slowing: Slowing, person_id: str, password: str | None, *, now: datetime
) -> None:
    """Whoever sits at a device that is signed in need not be its owner: the old password is asked for.

    Raises:
        Refused: it is another.
        TooSoon: after wrong ones, before it may be tried again.
    """
    row = people.person_row(session, person_id)
    if row is None or row.password_hash is None:
        return
    keys = (f"name {row.name_folded}",)
    slowing.check(keys, now)
    if not is_password(password or "", row.password_hash):
        slowing.wrong(keys, now)
        raise Refused([Fault("$.old", "is not the password until now")])


def first_owner(
    session: Session, *, code: str, expected: str, name: str, password: str, device: str, now: datetime
) -> str:
    """The workshop's first person, who has the code that the start has printed; returns the device's token.

    Raises:
        NotSignedIn: the code is another, or there is an owner already.
        Refused: the password is soon guessed.
    """
    if people.owners(session) or not _same_code(code, expected):
        raise NotSignedIn("the code is not the one that 'pronostico serve --lan' has printed")
    owner = add_person(session, name=name, role="owner", password=password, now=now)
    row = people.person_row(session, owner.id)
    assert row is not None
    return begin(session, row, device, now=now)


def _same_code(given: str, expected: str) -> bool:
    plain = "".join(one for one in given.upper() if one.isalnum())
    return _digest(plain) == _digest(expected.replace("-", ""))


def who(session: Session, token: str, *, now: datetime) -> tuple[SignedIn, bool] | None:
    """Who keeps a token; None where nobody does any more.

    Returns:
        Who asks, and whether it is time to note that the sign-in was used.
    """
    found = people.sign_in_row(session, _digest(token))
    if found is None:
        return None
    row, person = found
    idle = now - people.utc(row.used_at)
    if idle > timedelta(days=UNUSED_DAYS):
        return None
    return SignedIn(row.id, row.device, person_out(person)), idle > _NOTED_EVERY


def note_used(session: Session, sign_in_id: str, *, now: datetime) -> None:
    """Note that a sign-in was used."""
    row = session.get(SignInRow, sign_in_id)
    if row is not None and row.ended_at is None:
        row.used_at = now
        session.commit()


def end(session: Session, sign_in_id: str, *, person_id: str | None, now: datetime) -> None:
    """Sign a device out.

    Args:
        person_id: whose it has to be; None: anybody's.

    Raises:
        NotThere: there is no such sign-in.
    """
    row = session.get(SignInRow, sign_in_id)
    if row is None or (person_id is not None and row.person_id != person_id):
        raise NotThere("device", sign_in_id)
    row.ended_at = row.ended_at or now
    session.commit()


def devices(session: Session, *, person_id: str | None, this: str | None, now: datetime) -> list[DeviceOut]:
    """The devices that are signed in, of one person or of all."""
    since = now - timedelta(days=UNUSED_DAYS)
    names = {row.id: row.name for row in people.people_rows(session)}
    return [
        DeviceOut(
            id=row.id,
            device=row.device,
            person=names.get(row.person_id, ""),
            begun_at=people.utc(row.begun_at),
            used_at=people.utc(row.used_at),
            this=row.id == this,
        )
        for row in people.sign_in_rows(session, person_id)
        if people.utc(row.used_at) >= since
    ]


def new_link(session: Session, person_id: str, *, now: datetime) -> str:
    """A code that signs one device in as somebody, once and within ten minutes.

    Raises:
        NotThere: there is nobody of that id.
    """
    if people.person_row(session, person_id) is None:
        raise NotThere("person", person_id)
    code = token_urlsafe(16)
    until = now + timedelta(minutes=LINK_MINUTES)
    session.add(PairingRow(code_digest=_digest(code), person_id=person_id, until=until))
    session.commit()
    return code


def use_link(
    session: Session, slowing: Slowing, *, code: str, device: str, address: str, now: datetime
) -> str:
    """Sign a device in with a link; returns the token that it keeps.

    Raises:
        Refused: the link was used already, or is too old; what to do.
        NotSignedIn: there is no such link.
        TooSoon: after wrong ones, before it may be tried again.
    """
    keys = (f"address {address}",)
    slowing.check(keys, now)
    row = session.get(PairingRow, _digest(code))
    person = None if row is None else people.person_row(session, row.person_id)
    if row is None or person is None:
        slowing.wrong(keys, now)
        raise NotSignedIn("this link is not known here; make a new one on the Bench page")
    if row.used_at is not None:
        raise Refused([Fault("$.code", "this link has been used; each pairs one device: make a new one")])
    if people.utc(row.until) < now:
        message = f"this link is older than {LINK_MINUTES} minutes; make a new one on the Bench page"
        raise Refused([Fault("$.code", message)])
    row.used_at = now
    return begin(session, person, device, now=now)
