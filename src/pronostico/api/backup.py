"""The whole workshop as one file: saved, looked at, imported."""

import os
import tempfile
from collections.abc import AsyncIterator, Iterator
from contextlib import contextmanager
from dataclasses import dataclass
from pathlib import Path
from typing import Annotated, Any

from fastapi import APIRouter, Depends, Query, Request
from fastapi.responses import FileResponse
from starlette.background import BackgroundTask

from pronostico.analysis.report_model import ReportModel
from pronostico.api.deps import DatabaseDep, FoldersDep, NowDep, TodayDep
from pronostico.api.who_asks import owners_only
from pronostico.errors import Refused
from pronostico.language import Text
from pronostico.record.faults import Fault
from pronostico.services.exchange.backup import write_backup
from pronostico.services.exchange.daily_copies import DailyCopies, DailyCopy, daily_copy, set_daily_copy
from pronostico.services.exchange.full_copy import LastCopy, last_copy
from pronostico.services.exchange.restore import BackupImport, ImportOut, import_backup, preview_backup
from pronostico.services.staging import temporary_folder
from pronostico.settings import Settings

router = APIRouter(prefix="/backup", tags=["backup"], dependencies=[Depends(owners_only)])
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


async def _sent_file(request: Request, folders: FoldersDep) -> AsyncIterator[Path]:
    """The body as a file: a workshop may be larger than what should stand in memory."""
    with temporary_folder(folders.photographs.parent) as folder:
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
def get_backup(database: DatabaseDep, folders: FoldersDep, today: TodayDep) -> FileResponse:
    """The workshop as a zip: records, blade sets, shim box, lessons, notebooks, photographs, recordings."""
    folders.photographs.parent.mkdir(parents=True, exist_ok=True)
    with tempfile.NamedTemporaryFile(
        prefix=f".incoming-{os.getpid()}-", suffix=".zip", dir=folders.photographs.parent, delete=False
    ) as made:
        path = Path(made.name)
    # Closed before the first byte is sent: who fetches it may take long.
    with database.reading() as session:
        write_backup(session, path, today=today, folders=folders, knowledge=Settings().knowledge)
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

    @contextmanager
    def shown(self) -> Iterator[None]:
        """Nothing is under way any more at the end."""
        try:
            yield
        finally:
            self.tell(0, 0)


class ProgressOut(ReportModel):
    """How many engines of a file are done, of how many; 0 of 0 while none is under way."""

    done: int
    total: int


def _progress(request: Request) -> Progress:
    progress: Progress = request.app.state.backup_progress
    return progress


ProgressDep = Annotated[Progress, Depends(_progress)]


def _task(
    path: SentFile,
    folders: FoldersDep,
    today: TodayDep,
    now: NowDep,
    leave_out: Engines = [],  # noqa: B006 - FastAPI copies it
) -> BackupImport:
    return BackupImport(path, folders, Settings().knowledge, today, now, frozenset(leave_out))


TaskDep = Annotated[BackupImport, Depends(_task)]


@router.get("/progress")
def get_progress(progress: ProgressDep) -> ProgressOut:
    """How far a backup file that is being held against the workshop has come."""
    return ProgressOut(done=progress.done, total=progress.total)


class CopiesOut(ReportModel):
    """The last full copy, what is set for every day, and why the last daily one failed; null: none."""

    last: LastCopy | None
    daily: DailyCopy | None
    fault: Text | None


def _copies_out(request: Request, database: DatabaseDep) -> CopiesOut:
    copies: DailyCopies = request.app.state.daily_copies
    return CopiesOut(last=last_copy(database.path), daily=daily_copy(database.path), fault=copies.fault)


@router.get("/copies")
def get_copies(request: Request, database: DatabaseDep) -> CopiesOut:
    """When the last full copy was made, and where; and the daily copies."""
    return _copies_out(request, database)


@router.put("/daily-copy")
def put_daily_copy(body: DailyCopy, request: Request, database: DatabaseDep) -> CopiesOut:
    """Make a full copy every day; the first is made within a minute where there is none of today."""
    set_daily_copy(database.path, body)
    return _copies_out(request, database)


@router.delete("/daily-copy")
def delete_daily_copy(request: Request, database: DatabaseDep) -> CopiesOut:
    """No daily copies any more; those that were made stay."""
    set_daily_copy(database.path, None)
    return _copies_out(request, database)


@router.post("/preview", openapi_extra=_ZIP)
def post_preview(task: TaskDep, database: DatabaseDep, progress: ProgressDep) -> ImportOut:
    """What a backup file would change; nothing is stored."""
    with progress.shown():
        return preview_backup(database, task, progress.tell)


@router.post("", openapi_extra=_ZIP)
def post_backup(task: TaskDep, database: DatabaseDep, progress: ProgressDep) -> ImportOut:
    """Import a backup file: all of it, or nothing."""
    with progress.shown():
        return import_backup(database, task, progress.tell)
