"""Answers in the language that is asked for."""

from typing import TypeVar

from pydantic import BaseModel
from starlette.datastructures import Headers, MutableHeaders
from starlette.types import ASGIApp, Message, Receive, Scope, Send

from pronostico.language import SOURCE, speaking, spoken, wanted

_Model = TypeVar("_Model", bound=BaseModel)


class InTheirLanguage:
    """What is said while a request is answered is said in the language that its header asks for."""

    def __init__(self, app: ASGIApp) -> None:
        self._app = app

    async def __call__(self, scope: Scope, receive: Receive, send: Send) -> None:
        """Handle one connection."""
        if scope["type"] != "http" or not scope["path"].startswith("/api"):
            await self._app(scope, receive, send)
            return

        async def send_with_language(message: Message) -> None:
            if message["type"] == "http.response.start":
                MutableHeaders(scope=message).add_vary_header("Accept-Language")
            await send(message)

        with speaking(wanted(Headers(scope=scope).get("accept-language"))):
            await self._app(scope, receive, send_with_language)


def kept_document(document: str, model: type[_Model]) -> str:
    """A document that is kept as text, in the language that is asked for."""
    if spoken() == SOURCE:
        return document
    return model.model_validate_json(document).model_dump_json(by_alias=True)
