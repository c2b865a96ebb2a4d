"""What routes are given: the session of the request, to read or to write with, and the clock."""

from collections.abc import Iterator
from datetime import UTC, date, datetime
from pathlib import Path
from typing import Annotated

from fastapi import Depends, HTTPException, Request
from sqlalchemy.orm import Session

from pronostico.limits import MEGABYTE, SHEET_BYTES
from pronostico.services.engines.background import BackgroundAnalysis
from pronostico.services.workshop.timelines import CachedTimelines
from pronostico.settings import Folders, folders_of
from pronostico.store.database import Database


def _reading(request: Request) -> Iterator[Session]:
    database: Database = request.app.state.database
    with database.reading() as session:
        yield session


def _writing(request: Request) -> Iterator[Session]:
    database: Database = request.app.state.database
    with database.writing() as session:
        yield session


# What does not wait is a coroutine: anything else is handed to a thread and back.
async def _database(request: Request) -> Database:
    database: Database = request.app.state.database
    return database


async def _background(request: Request) -> BackgroundAnalysis:
    background: BackgroundAnalysis = request.app.state.background
    return background


async def _forecast_reviews(request: Request) -> BackgroundAnalysis:
    reviews: BackgroundAnalysis = request.app.state.forecast_reviews
    return reviews


async def _timelines(request: Request) -> CachedTimelines:
    timelines: CachedTimelines = request.app.state.timelines
    return timelines


async def _folders(request: Request) -> Folders:
    database: Database = request.app.state.database
    return folders_of(database.path)


async def _photographs(request: Request) -> Path:
    return (await _folders(request)).photographs


async def _raw_body(request: Request) -> bytes:
    """The body, as long as it is not larger than any that a route takes as it came.

    Raises:
        HTTPException: 413, before all of it was read.
    """
    parts: list[bytes] = []
    size = 0
    async for part in request.stream():
        size += len(part)
        if size > SHEET_BYTES:
            raise HTTPException(413, f"the body is larger than {SHEET_BYTES // MEGABYTE} MB")
        parts.append(part)
    return b"".join(parts)


async def _now() -> datetime:
    return datetime.now(UTC)


async def _today() -> date:
    # The technician's own calendar day, not Greenwich's.
    return datetime.now().astimezone().date()


SessionDep = Annotated[Session, Depends(_reading)]
DatabaseDep = Annotated[Database, Depends(_database)]
TimelinesDep = Annotated[CachedTimelines, Depends(_timelines)]
BackgroundDep = Annotated[BackgroundAnalysis, Depends(_background)]
ForecastReviewsDep = Annotated[BackgroundAnalysis, Depends(_forecast_reviews)]
WriteSessionDep = Annotated[Session, Depends(_writing)]
FoldersDep = Annotated[Folders, Depends(_folders)]
PhotographsDep = Annotated[Path, Depends(_photographs)]
RawBody = Annotated[bytes, Depends(_raw_body)]
NowDep = Annotated[datetime, Depends(_now)]
TodayDep = Annotated[date, Depends(_today)]
