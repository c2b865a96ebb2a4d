"""Photographs in requests and answers."""

from pathlib import Path
from typing import Annotated, Any

import anyio.to_thread
from fastapi import Depends, Request
from fastapi.responses import FileResponse

from pronostico.limits import PICTURE_BYTES
from pronostico.services.pictures import Picture, developed, too_large

_BINARY = {"schema": {"type": "string", "format": "binary"}}
# A browser that does not know a picture's type says that it is of no particular one.
PICTURE_BODY: dict[str, Any] = {
    "requestBody": {"content": {"image/*": _BINARY, "application/octet-stream": _BINARY}}
}


async def _picture(request: Request) -> Picture:
    """The photograph of the body, made ready before a session is taken: that is a tenth of a second's work.

    Raises:
        Refused: it is too large (then it is not read to its end), or no picture.
    """
    content = bytearray()
    async for part in request.stream():
        content += part
        if len(content) > PICTURE_BYTES:
            raise too_large()
    return await anyio.to_thread.run_sync(developed, bytes(content))


PictureDep = Annotated[Picture, Depends(_picture)]


def picture_file(path: Path, media_type: str) -> FileResponse:
    """The answer that is a photograph."""
    return FileResponse(path, media_type=media_type, headers={"x-content-type-options": "nosniff"})
