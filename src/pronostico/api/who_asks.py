"""Who asks: nobody need say so on this machine alone; on the network everybody signs in, and has a role."""

from dataclasses import dataclass, field
from datetime import UTC, datetime
from pathlib import Path
from typing import Annotated

import anyio.to_thread
from fastapi import Depends, HTTPException, Request
from starlette.datastructures import Headers
from starlette.requests import cookie_parser
from starlette.status import WS_1008_POLICY_VIOLATION
from starlette.types import ASGIApp, Receive, Scope, Send

from pronostico.api.errors import problem_response
from pronostico.network.addresses import Reachable
from pronostico.services.people import signing_in
from pronostico.services.people.signing_in import SignedIn
from pronostico.services.people.slowing import Slowing
from pronostico.store.audit import ACTING, Acting
from pronostico.store.database import Database
from pronostico.store.people import person_row

COOKIE = "__Host-pronostico"
"""A browser takes a cookie of that name from this very host alone, over TLS, for all paths (RFC 6265bis)."""
ACTING_HEADER = "x-technician"
"""Who of several at one device answers now; what they may do is what the one signed in may."""
PAGE_HEADER = "x-page"
"""Which open page asks, by a name that it gave itself."""
_READING = frozenset({"GET", "HEAD", "OPTIONS"})
# A calendar's address has a secret of its own in it.
_OPEN = ("/api/session", "/api/calendar/")
# What everybody may do for themselves; the routes see to it that it is for themselves.
_OWN = ("/api/people/", "/api/devices/")
_SIGNED_IN = "signed_in"
_KEPT_BYTES = 16_000
"""Of what came with a change; more than that is a file, not something typed."""


@dataclass(frozen=True, slots=True)
class Network:
    """Set where the application is served beyond this machine.

    `owner_code`: lets whoever read it off the console become the first owner. `authority`: the certificate to
    be trusted; None: it is not of our making.
    """

    reachable: Reachable
    owner_code: str
    authority: Path | None = None
    slowing: Slowing = field(default_factory=Slowing)


def network_of(scope: Scope) -> Network | None:
    """How the application is served beyond this machine; None: it is not."""
    network: Network | None = scope["app"].state.network
    return network


class WhoAsks:
    """Finds out who asks; on the network it refuses who is not signed in, and readers who would write."""

    def __init__(self, app: ASGIApp) -> None:
        self._app = app

    async def __call__(self, scope: Scope, receive: Receive, send: Send) -> None:
        """Hand on what may be asked."""
        if scope["type"] == "lifespan" or network_of(scope) is None or not scope["path"].startswith("/api"):
            await self._app(scope, receive, send)
            return
        known = await anyio.to_thread.run_sync(_who, scope)
        if scope["type"] == "websocket":
            # Only who may answer is listened to.
            if known is None or known.role == "reader":
                await send({"type": "websocket.close", "code": WS_1008_POLICY_VIOLATION})
            else:
                await self._app(scope, receive, send)
            return
        scope.setdefault("state", {})[_SIGNED_IN] = known
        changes, free = scope["method"] not in _READING, scope["path"].startswith(_OPEN)
        if known is None and not free:
            refusal = problem_response(401, "not-signed-in", "Please sign in", "nobody is signed in here")
            await refusal(scope, receive, send)
        elif (
            known is not None
            and known.role == "reader"
            and changes
            and not (free or scope["path"].startswith(_OWN))
        ):
            detail = f"{known.person.name} may look at everything and change nothing; an owner can alter that"
            await problem_response(403, "not-allowed", "Not allowed", detail)(scope, receive, send)
        else:
            await self._app(scope, receive, send)


def still_signed_in(request: Request) -> bool:
    """Whether whoever began to listen may go on; asked on a thread."""
    return network_of(request.scope) is None or _who(request.scope) is not None


def _who(scope: Scope) -> SignedIn | None:
    token = cookie_parser(Headers(scope=scope).get("cookie", "")).get(COOKIE)
    if not token:
        return None
    database: Database = scope["app"].state.database
    now = datetime.now(UTC)
    with database.reading() as session:
        found = signing_in.who(session, token, now=now)
    if found is None:
        return None
    known, to_be_noted = found
    if to_be_noted:
        with database.writing() as session:
            signing_in.note_used(session, known.sign_in_id, now=now)
    return known


async def signed_in(request: Request) -> SignedIn | None:
    """Who is signed in; None on this machine alone."""
    known: SignedIn | None = getattr(request.state, _SIGNED_IN, None)
    return known


async def owners_only(request: Request) -> None:
    """Refuse everybody but owners; on this machine alone whoever sits at it is one.

    Raises:
        HTTPException: 403.
    """
    if network_of(request.scope) is None:
        return
    known = await signed_in(request)
    if known is None or known.role != "owner":
        raise HTTPException(403, "only an owner of the workshop can do this")


async def name_who_changes(request: Request) -> None:
    """Have whatever this request changes say who did it, on which device, and what was sent."""
    if request.method in _READING:
        return
    known = await signed_in(request)
    acting = Acting(
        person_id=None if known is None else known.person.id,
        person=None if known is None else known.person.name,
        device=_device(request) if known is None else known.device,
        engine_id=request.path_params.get("engine_id"),
        route=getattr(request.scope.get("route"), "name", ""),
        place=request.url.path,
        page=request.headers.get(PAGE_HEADER, "")[:80] or None,
    )
    chosen = request.headers.get(ACTING_HEADER)
    if chosen:
        name = await anyio.to_thread.run_sync(_name_of, request.app.state.database, chosen)
        if name is not None:
            acting.person_id, acting.person = chosen, name
    kind = request.headers.get("content-type", "")
    size = request.headers.get("content-length", "")
    # What is sent about people has passwords in it; what is typed at an engine has none.
    if (
        acting.engine_id
        and kind.startswith("application/json")
        and size.isdigit()
        and int(size) <= _KEPT_BYTES
    ):
        acting.sent = (await request.body()).decode(errors="replace")
    ACTING.set(acting)


def _device(request: Request) -> str:
    if network_of(request.scope) is None or request.client is None:
        return "this machine"
    return f"not signed in, at {request.client.host}"


def _name_of(database: Database, person_id: str) -> str | None:
    with database.reading() as session:
        row = person_row(session, person_id)
        return None if row is None else row.name


SignedInDep = Annotated[SignedIn | None, Depends(signed_in)]
