"""The whole shop as one file: saved, looked at, taken in."""

import tempfile
from collections.abc import AsyncIterator
from pathlib import Path
from typing import Annotated, Any

from fastapi import APIRouter, Depends, Query, Request
from fastapi.responses import FileResponse
from starlette.background import BackgroundTask

from pronostico.api.deps import NowDep, PhotographsDep, SessionDep, TodayDep, WriteSessionDep
from pronostico.record.faults import Fault
from pronostico.services.errors import Refused
from pronostico.services.shop_file import write_shop_file
from pronostico.services.shop_import import ImportOut, take_in
from pronostico.settings import Settings

router = APIRouter(prefix="/shop-file", tags=["shop"])
_LARGEST = 4_000_000_000  # bytes as sent
_ZIP: dict[str, Any] = {
    "requestBody": {
        "required": True,
        "content": {"application/zip": {"schema": {"type": "string", "format": "binary"}}},
    }
}
_SENT: dict[int | str, dict[str, Any]] = {
    200: {"content": {"application/zip": {"schema": {"type": "string", "format": "binary"}}}}
}


async def _sent_file(request: Request) -> AsyncIterator[Path]:
    """The body as a file: a shop may be larger than what should stand in memory."""
    with tempfile.TemporaryDirectory(prefix="pronostico-") as folder:
        path, size = Path(folder) / "shop.zip", 0
        with path.open("wb") as file:
            async for part in request.stream():
                size += len(part)
                if size > _LARGEST:
                    raise Refused([Fault("$", f"is larger than {_LARGEST // 1_000_000_000} GB")])
                file.write(part)
        yield path


SentFile = Annotated[Path, Depends(_sent_file)]
Engines = Annotated[list[str], Query(max_length=1000)]


@router.get("", response_class=FileResponse, responses=_SENT)
def get_shop_file(session: SessionDep, photographs: PhotographsDep, today: TodayDep) -> FileResponse:
    """The shop as a zip: records, blade sets, shim box, lessons, notebooks with their photographs."""
    with tempfile.NamedTemporaryFile(prefix="pronostico-", suffix=".zip", delete=False) as made:
        path = Path(made.name)
    write_shop_file(session, path, today=today, photographs=photographs, knowledge=Settings().knowledge)
    return FileResponse(
        path,
        media_type="application/zip",
        filename=f"shop-{today}.zip",
        background=BackgroundTask(path.unlink, missing_ok=True),
    )


@router.post("/preview", openapi_extra=_ZIP)
def post_preview(
    path: SentFile,
    session: SessionDep,
    photographs: PhotographsDep,
    today: TodayDep,
    now: NowDep,
    leave_out: Engines = [],  # noqa: B006 - FastAPI copies it
) -> ImportOut:
    """What a shop's file would change; nothing is stored."""
    return take_in(
        session,
        path,
        photographs=photographs,
        today=today,
        now=now,
        store=False,
        leave_out=frozenset(leave_out),
    )


@router.post("", openapi_extra=_ZIP)
def post_shop_file(
    path: SentFile,
    session: WriteSessionDep,
    photographs: PhotographsDep,
    today: TodayDep,
    now: NowDep,
    leave_out: Engines = [],  # noqa: B006 - FastAPI copies it
) -> ImportOut:
    """Take a shop's file in: all of it, or nothing."""
    return take_in(
        session,
        path,
        photographs=photographs,
        today=today,
        now=now,
        store=True,
        leave_out=frozenset(leave_out),
    )
