"""The whole workshop as one file: saved, looked at, imported."""

import os
import tempfile
from collections.abc import AsyncIterator
from dataclasses import dataclass
from datetime import date, datetime
from pathlib import Path
from typing import Annotated, Any

from fastapi import APIRouter, Depends, Query, Request
from fastapi.responses import FileResponse
from sqlalchemy.orm import Session
from starlette.background import BackgroundTask

from pronostico.analysis.report_model import ReportModel
from pronostico.api.deps import DatabaseDep, NowDep, PhotographsDep, SessionDep, TodayDep, WriteSessionDep
from pronostico.errors import Refused
from pronostico.record.faults import Fault
from pronostico.services.exchange.backup import write_backup
from pronostico.services.exchange.full_copy import LastCopy, last_copy
from pronostico.services.exchange.restore import ImportOut, import_backup
from pronostico.services.staging import temporary_folder
from pronostico.settings import Settings

router = APIRouter(prefix="/backup", tags=["backup"])
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


async def _sent_file(request: Request, photographs: PhotographsDep) -> AsyncIterator[Path]:
    """The body as a file: a workshop may be larger than what should stand in memory."""
    with temporary_folder(photographs.parent) as folder:
        path, size = folder / "backup.zip", 0
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
def get_backup(database: DatabaseDep, photographs: PhotographsDep, today: TodayDep) -> FileResponse:
    """The workshop as a zip: records, blade sets, shim box, lessons, notebooks with their photographs."""
    photographs.parent.mkdir(parents=True, exist_ok=True)
    with tempfile.NamedTemporaryFile(
        prefix=f".incoming-{os.getpid()}-", suffix=".zip", dir=photographs.parent, delete=False
    ) as made:
        path = Path(made.name)
    # Closed before the first byte is sent: who fetches it may take long.
    with database.reading() as session:
        write_backup(session, path, today=today, photographs=photographs, knowledge=Settings().knowledge)
    return FileResponse(
        path,
        media_type="application/zip",
        filename=f"backup-{today}.zip",
        background=BackgroundTask(path.unlink, missing_ok=True),
    )


@dataclass(slots=True)
class Progress:
    """How far taking in or looking at a backup file has come; the page asks for it meanwhile."""

    done: int = 0
    total: int = 0

    def tell(self, done: int, total: int) -> None:
        """So many engines of so many were held against the workshop."""
        self.done, self.total = done, total


class ProgressOut(ReportModel):
    """How many engines of a file are done, of how many; 0 of 0 while none is under way."""

    done: int
    total: int


@dataclass(frozen=True, slots=True)
class Taking:
    """What a backup file is held against, and what is to be done with it."""

    path: Path
    photographs: Path
    today: date
    now: datetime
    leave_out: frozenset[str]
    progress: Progress

    def run(self, session: Session, *, store: bool) -> ImportOut:
        """Look at the file, or store it; the progress is reported meanwhile."""
        try:
            return import_backup(
                session,
                self.path,
                photographs=self.photographs,
                knowledge=Settings().knowledge,
                today=self.today,
                now=self.now,
                store=store,
                leave_out=self.leave_out,
                on_progress=self.progress.tell,
            )
        finally:
            self.progress.tell(0, 0)


def _progress(request: Request) -> Progress:
    progress: Progress = request.app.state.backup_progress
    return progress


ProgressDep = Annotated[Progress, Depends(_progress)]


def _taking(
    path: SentFile,
    photographs: PhotographsDep,
    today: TodayDep,
    now: NowDep,
    progress: ProgressDep,
    leave_out: Engines = [],  # noqa: B006 - FastAPI copies it
) -> Taking:
    return Taking(path, photographs, today, now, frozenset(leave_out), progress)


TakingDep = Annotated[Taking, Depends(_taking)]


@router.get("/progress")
def get_progress(progress: ProgressDep) -> ProgressOut:
    """How far a backup file that is being held against the workshop has come."""
    return ProgressOut(done=progress.done, total=progress.total)


@router.get("/last-copy")
def get_last_copy(database: DatabaseDep) -> LastCopy | None:
    """When the last full copy was made by `pronostico backup`, and where; null where none is known."""
    return last_copy(database.path)


@router.post("/preview", openapi_extra=_ZIP)
def post_preview(taking: TakingDep, session: SessionDep) -> ImportOut:
    """What a backup file would change; nothing is stored."""
    return taking.run(session, store=False)


@router.post("", openapi_extra=_ZIP)
def post_backup(taking: TakingDep, session: WriteSessionDep) -> ImportOut:
    """Take a backup file in: all of it, or nothing."""
    return taking.run(session, store=True)
