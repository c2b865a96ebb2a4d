"""Signing in and out, the people of the workshop, their devices, and who changed what."""

import html
import io
from datetime import timedelta
from typing import Annotated, Any, Literal

from fastapi import APIRouter, Depends, HTTPException, Query, Request, Response
from pydantic import Field

from pronostico.analysis.report_model import ReportModel
from pronostico.api.demonstration import offered_to
from pronostico.api.deps import NowDep, SessionDep, WriteSessionDep
from pronostico.api.models import NewIdentifier, RequestModel
from pronostico.api.tables import attachment
from pronostico.api.who_asks import COOKIE, Network, SignedInDep, network_of, owners_only
from pronostico.network.certificates import fingerprint_of
from pronostico.services.demonstration import MadeUp
from pronostico.services.people import people, signing_in
from pronostico.services.people.audit import TrailOut, read_trail, trail_csv
from pronostico.services.people.passwords import MOST_CHARACTERS
from pronostico.services.people.people import PersonOut, Role
from pronostico.services.people.signing_in import DeviceOut
from pronostico.store.people import owners

router = APIRouter(tags=["people"])
OWNERS = [Depends(owners_only)]
_CSV: dict[int | str, dict[str, Any]] = {200: {"content": {"text/csv": {"schema": {"type": "string"}}}}}

Name = Annotated[str, Field(min_length=1, max_length=80, pattern=r"^[^\x00-\x1f\x7f]+$")]
# Longer ones are refused with a sentence of their own; this is what is read at all.
Password = Annotated[str, Field(max_length=4 * MOST_CHARACTERS)]
Device = Annotated[str, Field(max_length=200)]
Code = Annotated[str, Field(min_length=1, max_length=200)]
# A key of the trail: 32 bits in every database.
Before = Annotated[int | None, Query(ge=1, le=2**31 - 1)]


class MadeUpOut(ReportModel):
    """The workshop is the demonstration; `back`: the address of one's own, null where it stands alone."""

    back: str | None


class SessionOut(ReportModel):
    """Who asks. `needs`: what has to be done first: the first owner made, signing in, or nothing.

    `people`: who can be chosen as the one at work; empty before signing in. `can_look_around`: whether the
    demonstration can be started beside this workshop from here.
    """

    on_network: bool
    needs: Literal["first-owner", "sign-in", "nothing"]
    person: PersonOut | None
    device: str | None
    people: list[PersonOut]
    made_up: MadeUpOut | None
    can_look_around: bool


class SignInIn(RequestModel):
    """Who signs in, on a device of that name."""

    name: Name
    password: Password
    device: Device = ""


class FirstOwnerIn(SignInIn):
    """The first owner, with the code off the console."""

    code: Code


class LinkIn(RequestModel):
    """A link's code, used on a device of that name."""

    code: Code
    device: Device = ""


class PersonIn(RequestModel):
    """Somebody new."""

    name: Name
    initials: Annotated[str, Field(min_length=1, max_length=4, pattern=r"^[^\x00-\x20\x7f]+$")] | None = None
    role: Role = "technician"
    password: Password | None = None


class RoleIn(RequestModel):
    """Another role."""

    role: Role


class PasswordIn(RequestModel):
    """A new password; whoever changes their own gives the old one too."""

    password: Password
    old: Password | None = None


class NetworkOut(ReportModel):
    """How other devices reach the workshop; without links they do not."""

    links: list[str]
    authority: str | None
    fingerprint: str | None


class PairingOut(ReportModel):
    """A link that pairs one device, and the same as a QR code (SVG)."""

    link: str
    minutes: int
    qr: str


def _network(request: Request) -> Network:
    network = network_of(request.scope)
    if network is None:
        raise HTTPException(409, "served on this machine alone; start it with 'pronostico serve --lan'")
    return network


NetworkDep = Annotated[Network, Depends(_network)]


def _signed_in(token: str) -> Response:
    """The answer that has a device keep its token."""
    response = Response(status_code=204)
    response.set_cookie(
        COOKIE,
        token,
        max_age=int(timedelta(days=180).total_seconds()),
        path="/",
        secure=True,
        httponly=True,
        samesite="lax",
    )
    return response


def _address(request: Request) -> str:
    return request.client.host if request.client is not None else ""


@router.get("/session")
def get_session(request: Request, session: SessionDep, known: SignedInDep) -> SessionOut:
    """Who is signed in here, and what has to be done first."""
    on_network = network_of(request.scope) is not None
    state: MadeUp | None = request.app.state.made_up
    made_up = None if state is None else MadeUpOut(back=state.back)
    if on_network and known is None:
        needs: Literal["first-owner", "sign-in"] = "sign-in" if owners(session) else "first-owner"
        return SessionOut(
            on_network=True,
            needs=needs,
            person=None,
            device=None,
            people=[],
            made_up=made_up,
            can_look_around=False,
        )
    return SessionOut(
        on_network=on_network,
        needs="nothing",
        person=None if known is None else known.person,
        device=None if known is None else known.device,
        people=people.list_people(session),
        made_up=made_up,
        can_look_around=offered_to(request),
    )


@router.post("/session", status_code=204)
def post_session(
    body: SignInIn,
    request: Request,
    network: NetworkDep,
    session: WriteSessionDep,
    reading: SessionDep,
    now: NowDep,
) -> Response:
    """Sign in by name and password."""
    token = signing_in.sign_in(
        session, reading, network.slowing, **body.model_dump(), address=_address(request), now=now
    )
    return _signed_in(token)


@router.post("/session/first-owner", status_code=204)
def post_first_owner(
    body: FirstOwnerIn, request: Request, network: NetworkDep, session: WriteSessionDep, now: NowDep
) -> Response:
    """Become the first owner with the code that the start has printed."""
    keys = (f"address {_address(request)}", "first owner")
    network.slowing.check(keys, now)
    try:
        token = signing_in.first_owner(session, **body.model_dump(), expected=network.owner_code, now=now)
    except signing_in.NotSignedIn:
        network.slowing.wrong(keys, now)
        raise
    return _signed_in(token)


@router.post("/session/link", status_code=204)
def post_link(
    body: LinkIn, request: Request, network: NetworkDep, session: WriteSessionDep, now: NowDep
) -> Response:
    """Sign this device in with a link."""
    token = signing_in.use_link(
        session, network.slowing, **body.model_dump(), address=_address(request), now=now
    )
    return _signed_in(token)


@router.delete("/session", status_code=204)
def delete_session(session: WriteSessionDep, known: SignedInDep, now: NowDep) -> Response:
    """Sign out here."""
    if known is not None:
        signing_in.end(session, known.sign_in_id, person_id=known.person.id, now=now)
    response = Response(status_code=204)
    response.delete_cookie(COOKIE, path="/", secure=True, httponly=True, samesite="lax")
    return response


@router.get("/network")
def get_network(request: Request) -> NetworkOut:
    """How other devices reach the workshop."""
    network = network_of(request.scope)
    if network is None:
        return NetworkOut(links=[], authority=None, fingerprint=None)
    links = network.reachable.links
    if network.authority is None:
        return NetworkOut(links=links, authority=None, fingerprint=None)
    # Read each time: it may have been made anew since the start.
    fingerprint = fingerprint_of(network.authority)
    return NetworkOut(links=links, authority="/authority.crt", fingerprint=fingerprint)


@router.get("/people")
def get_people(session: SessionDep) -> list[PersonOut]:
    """Everybody who works here."""
    return people.list_people(session)


@router.put("/people/{person_id}", dependencies=OWNERS)
def put_person(person_id: NewIdentifier, body: PersonIn, session: WriteSessionDep, now: NowDep) -> PersonOut:
    """Add somebody; sent twice it adds one."""
    return people.add_person(session, **body.model_dump(), id=person_id, now=now)


@router.put("/people/{person_id}/role", dependencies=OWNERS)
def put_role(person_id: str, body: RoleIn, session: WriteSessionDep) -> PersonOut:
    """Give somebody another role."""
    return people.change_role(session, person_id, body.role)


@router.put("/people/{person_id}/password")
def put_password(
    person_id: str,
    body: PasswordIn,
    request: Request,
    session: WriteSessionDep,
    known: SignedInDep,
    now: NowDep,
) -> PersonOut:
    """A new password: an owner for anybody, everybody for themselves."""
    network = network_of(request.scope)
    own = known is not None and known.person.id == person_id
    staying = known.sign_in_id if own and known is not None else None
    if network is not None:
        if known is None or not (own or known.role == "owner"):
            raise HTTPException(403, "only an owner of the workshop can do this")
        if own:
            signing_in.check_own_password(session, network.slowing, person_id, body.old, now=now)
    return people.set_password(session, person_id, body.password, now=now, staying=staying)


@router.delete("/people/{person_id}", status_code=204, dependencies=OWNERS)
def delete_person(person_id: str, session: WriteSessionDep, now: NowDep) -> None:
    """Take somebody off the list; their devices are signed out."""
    people.remove_person(session, person_id, now=now)


@router.get("/devices")
def get_devices(session: SessionDep, known: SignedInDep, now: NowDep) -> list[DeviceOut]:
    """The devices that are signed in: an owner sees all, everybody else their own."""
    if known is None:
        return signing_in.devices(session, person_id=None, this=None, now=now)
    whose = None if known.role == "owner" else known.person.id
    return signing_in.devices(session, person_id=whose, this=known.sign_in_id, now=now)


@router.delete("/devices/{device_id}", status_code=204)
def delete_device(device_id: str, session: WriteSessionDep, known: SignedInDep, now: NowDep) -> None:
    """Sign a device out."""
    whose = None if known is None or known.role == "owner" else known.person.id
    signing_in.end(session, device_id, person_id=whose, now=now)


@router.post("/people/{person_id}/pairing")
def post_pairing(
    person_id: str,
    request: Request,
    network: NetworkDep,
    session: WriteSessionDep,
    known: SignedInDep,
    now: NowDep,
) -> PairingOut:
    """A link that signs one device in: an owner for anybody, everybody for themselves."""
    if known is None or not (known.person.id == person_id or known.role == "owner"):
        raise HTTPException(403, "only an owner can pair a device for somebody else")
    code = signing_in.new_link(session, person_id, now=now)
    host = request.headers.get("host", "")
    links = network.reachable.links
    base = next((one for one in links if one == f"https://{host}/"), links[0])
    # After the number sign: that part is sent to no server, and stands in no log.
    link = f"{base}pair#{code}"
    return PairingOut(link=link, minutes=signing_in.LINK_MINUTES, qr=_qr(link))


def _qr(link: str) -> str:
    import segno

    picture = io.BytesIO()
    segno.make(link, error="m").save(
        picture, kind="svg", scale=6, border=4, title=html.escape("QR code of the link"), xmldecl=False
    )
    return picture.getvalue().decode()


@router.get("/changes", dependencies=OWNERS)
def get_changes(session: SessionDep, before: Before = None) -> TrailOut:
    """Who changed what in the whole workshop, the last first."""
    return read_trail(session, None, before=before)


@router.get("/changes.csv", response_class=Response, responses=_CSV, dependencies=OWNERS)
def get_changes_csv(session: SessionDep) -> Response:
    """The same as CSV, whole."""
    return _csv(trail_csv(session, None), "changes.csv")


@router.get("/engines/{engine_id}/changes")
def get_engine_changes(engine_id: str, session: SessionDep, before: Before = None) -> TrailOut:
    """Who changed what at an engine, the last first."""
    return read_trail(session, engine_id, before=before)


@router.get("/engines/{engine_id}/changes.csv", response_class=Response, responses=_CSV)
def get_engine_changes_csv(engine_id: str, session: SessionDep) -> Response:
    """The same as CSV, whole."""
    return _csv(trail_csv(session, engine_id), f"{engine_id}.changes.csv")


def _csv(text: str, name: str) -> Response:
    return Response(text, media_type="text/csv; charset=utf-8", headers=attachment(name))
