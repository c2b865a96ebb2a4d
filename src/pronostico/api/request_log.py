"""Every request has an id; a failure of ours is logged with it and answered as problem+json that names it."""

import logging
import time
from uuid import uuid4

from starlette.datastructures import MutableHeaders
from starlette.types import ASGIApp, Message, Receive, Scope, Send

from pronostico.api.errors import problem_response

_LOG = logging.getLogger("pronostico.api")


class RequestLog:
    """Logs requests at level 'info', failures with their traceback at 'error'; the id is also a header."""

    def __init__(self, app: ASGIApp) -> None:
        self.app = app

    async def __call__(self, scope: Scope, receive: Receive, send: Send) -> None:
        """Handle one connection."""
        if scope["type"] != "http":
            await self.app(scope, receive, send)
            return
        request_id, begun, status = uuid4().hex[:12], time.perf_counter(), 0

        async def send_with_id(message: Message) -> None:
            nonlocal status
            if message["type"] == "http.response.start":
                status = message["status"]
                MutableHeaders(scope=message)["x-request-id"] = request_id
            await send(message)

        facts = {"request_id": request_id, "method": scope["method"], "path": scope["path"]}
        try:
            await self.app(scope, receive, send_with_id)
        except Exception:
            _LOG.exception("request failed", extra=facts)
            if status:
                # Part of the answer is out already: all that is left is to break it off.
                raise
            answer = problem_response(
                500, "failure", "Something went wrong", f"See the log, request {request_id}", id=request_id
            )
            await answer(scope, receive, send_with_id)
            return
        duration_ms = round(1000.0 * (time.perf_counter() - begun), 1)
        _LOG.info("request", extra={**facts, "status": status, "duration_ms": duration_ms})
