"""JSON bodies are looked at before any route: what cannot be stored or computed with is refused."""

from starlette.types import ASGIApp, Message, Receive, Scope, Send

from pronostico.api.errors import problem_response
from pronostico.limits import JSON_BYTES, MEGABYTE
from pronostico.record.plain_json import NotPlain, plain_json


def _is_json(scope: Scope) -> bool:
    headers = dict(scope["headers"])
    kind = headers.get(b"content-type", b"application/json").split(b";")[0].strip()
    return scope["method"] in ("POST", "PUT", "PATCH", "DELETE") and kind.endswith(b"json")


class PlainBodies:
    """Refuses JSON bodies with lone surrogates, endless texts, and figures beyond any measurement."""

    def __init__(self, app: ASGIApp) -> None:
        self._app = app

    async def __call__(self, scope: Scope, receive: Receive, send: Send) -> None:
        """Look at a request's body, then hand it on."""
        if scope["type"] != "http" or not _is_json(scope):
            await self._app(scope, receive, send)
            return
        parts: list[bytes] = []
        size, more = 0, True
        while more:
            message = await receive()
            if message["type"] != "http.request":
                return
            parts.append(message.get("body", b""))
            size += len(parts[-1])
            more = message.get("more_body", False)
            if size > JSON_BYTES:
                detail = f"the body is larger than {JSON_BYTES // MEGABYTE} MB"
                await problem_response(413, "too-large", "The body is too large", detail)(
                    scope, receive, send
                )
                return
        body = b"".join(parts)
        try:
            if body:
                plain_json(body)
        except NotPlain as error:
            # What is no JSON at all is refused by the route, with line and column.
            if error.is_json:
                faults = error.faults
                detail = "; ".join(fault.message for fault in faults)
                refusal = problem_response(422, "faulty-input", "Please fix the errors", detail, faults)
                await refusal(scope, receive, send)
                return
        except UnicodeDecodeError:
            pass

        async def again() -> Message:
            if parts:
                parts.clear()
                return {"type": "http.request", "body": body, "more_body": False}
            return await receive()

        await self._app(scope, again, send)
