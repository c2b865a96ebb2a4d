"""Answers in the language that is asked for."""

from typing import TypeVar

from pydantic import BaseModel
from starlette.datastructures import Headers, QueryParams
from starlette.types import ASGIApp, Receive, Scope, Send

from pronostico.language import SOURCE, speaking, spoken, wanted

_Model = TypeVar("_Model", bound=BaseModel)


class InTheirLanguage:
    """What is said while a request is answered is said in the language that its header asks for.

    What a page listens to (server-sent events, WebSockets) can send no such header: there `language` in the
    address says it, since a browser's own language need not be the one that was chosen on the device.
    Answers are kept by no cache on the way (SafeHeaders), so none has to be told what they vary by; a page
    that keeps the last one for when the server is away keeps it whatever the language.
    """

    def __init__(self, app: ASGIApp) -> None:
        self._app = app

    async def __call__(self, scope: Scope, receive: Receive, send: Send) -> None:
        """Handle one connection."""
        if scope["type"] == "lifespan" or not scope["path"].startswith("/api"):
            await self._app(scope, receive, send)
            return
        chosen = QueryParams(scope["query_string"]).get("language")
        with speaking(wanted(chosen or Headers(scope=scope).get("accept-language"))):
            await self._app(scope, receive, send)


def kept_document(document: str, model: type[_Model]) -> str:
    """A document that is kept as text, in the language that is asked for."""
    if spoken() == SOURCE:
        return document
    return model.model_validate_json(document).model_dump_json(by_alias=True)
