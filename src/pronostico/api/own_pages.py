"""Only the product's own pages change anything: a page of another site is refused before any route.

A browser says where a request comes from in `Sec-Fetch-Site` (W3C, Fetch Metadata Request Headers) or, where
it is too old for that, in `Origin` (RFC 6454). A program that is no browser has to name our address itself.
"""

from fastapi import Request
from starlette.datastructures import Headers
from starlette.exceptions import HTTPException
from starlette.middleware.trustedhost import TrustedHostMiddleware
from starlette.status import WS_1008_POLICY_VIOLATION
from starlette.types import ASGIApp, Receive, Scope, Send

from pronostico.api.errors import problem_response
from pronostico.api.who_asks import Network
from pronostico.settings import HOST

_READING = frozenset({"GET", "HEAD", "OPTIONS"})
_OURS = frozenset({"same-origin", "none"})
_JSON = "application/json"


def _is_ours(scope: Scope) -> bool:
    headers = Headers(scope=scope)
    site, origin = headers.get("sec-fetch-site"), headers.get("origin")
    if site is not None:
        return site in _OURS
    scheme = {"ws": "http", "wss": "https"}.get(scope.get("scheme", "http"), scope.get("scheme", "http"))
    return origin == f"{scheme}://{headers.get('host', '')}"


class OwnHostsOnly(TrustedHostMiddleware):
    """Answers only under the addresses that this machine has by now."""

    def __init__(self, app: ASGIApp, network: Network | None) -> None:
        super().__init__(app, allowed_hosts=[HOST, "localhost"])
        self._network = network

    async def __call__(self, scope: Scope, receive: Receive, send: Send) -> None:
        """Hand on what was asked under an address of ours."""
        if self._network is not None:
            self.allowed_hosts = self._network.reachable.hosts
        await super().__call__(scope, receive, send)


class OwnPagesOnly:
    """Refuses requests that change something unless they come from the product's own pages."""

    def __init__(self, app: ASGIApp) -> None:
        self._app = app

    async def __call__(self, scope: Scope, receive: Receive, send: Send) -> None:
        """Hand on what only reads, and what comes from our own pages."""
        if scope["type"] == "websocket" and not _is_ours(scope):
            await send({"type": "websocket.close", "code": WS_1008_POLICY_VIOLATION})
            return
        if scope["type"] == "http" and scope["method"] not in _READING and not _is_ours(scope):
            refusal = problem_response(
                403,
                "other-origin",
                "Not from here",
                "only the product's own pages change anything; a program has to send the product's address "
                "as Origin",
            )
            await refusal(scope, receive, send)
            return
        await self._app(scope, receive, send)


async def expected_content(request: Request) -> None:
    """Refuse a body of another type than its route takes: what it is has to be said.

    Raises:
        HTTPException: 415, with what would be right.
    """
    if request.method in _READING or not _has_body(request):
        return
    stated = (getattr(request.scope.get("route"), "openapi_extra", None) or {}).get("requestBody", {})
    taken = set(stated.get("content", {})) or {_JSON}
    kind = request.headers.get("content-type", "").split(";")[0].strip().lower()
    if kind not in taken and f"{kind.split('/')[0]}/*" not in taken:
        given = f"is '{kind}'" if kind else "is not given"
        raise HTTPException(415, f"the content type {given}; expected {' or '.join(sorted(taken))}")


def _has_body(request: Request) -> bool:
    return request.headers.get("content-length", "0") != "0" or "transfer-encoding" in request.headers
