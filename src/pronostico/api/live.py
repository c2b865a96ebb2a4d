"""What others change at an engine, told as it happens (server-sent events, HTML standard, section 9.2)."""

import asyncio
from collections.abc import AsyncIterator
from contextlib import asynccontextmanager, suppress
from datetime import UTC, datetime
from typing import Annotated

import anyio.to_thread
from fastapi import APIRouter, Query, Request
from fastapi.sse import EventSourceResponse, ServerSentEvent

from pronostico.api.deps import DatabaseDep
from pronostico.api.who_asks import still_signed_in
from pronostico.services.people.audit import NewsOut, begin_listening, news_for
from pronostico.store.database import Database

router = APIRouter(prefix="/engines/{engine_id}", tags=["live"])
_EVERY_S = 0.5
_SIGN_OF_LIFE_S = 15.0
"""A line that says nothing, so that a connection which is gone is noticed."""


class Watch:
    """Looks whether anything was committed, by whichever process, for as long as somebody listens."""

    def __init__(self, database: Database) -> None:
        self._database = database
        self._listening = 0
        self._task: asyncio.Task[None] | None = None
        self.next = asyncio.Event()
        """Set by the next commit, and another one from then on."""
        self.ended = False

    @asynccontextmanager
    async def listening(self) -> AsyncIterator[None]:
        """Within it `next` is set by commits."""
        self._listening += 1
        if self._task is None:
            self._task = asyncio.create_task(self._look())
        try:
            yield
        finally:
            self._listening -= 1
            if self._listening == 0 and self._task is not None:
                self._task.cancel()
                self._task = None

    def end(self) -> None:
        """Let everybody who listens go, since the server ends; from the loop that it runs in."""
        self.ended = True
        self.next.set()

    async def _look(self) -> None:
        # The first look counts as a commit: something may have happened before it.
        version = ""
        while True:
            now = await anyio.to_thread.run_sync(self._database.version)
            if now != version:
                version = now
                happened, self.next = self.next, asyncio.Event()
                happened.set()
            await asyncio.sleep(_EVERY_S)


def _begun(database: Database, engine_id: str) -> int:
    with database.reading() as session:
        return begin_listening(session, engine_id, now=datetime.now(UTC))


def _news(database: Database, engine_id: str, page: str, after: int) -> tuple[int, NewsOut | None]:
    with database.reading() as session:
        return news_for(session, engine_id, page, after)


@router.get("/live", response_class=EventSourceResponse)
async def get_live(
    engine_id: str,
    request: Request,
    database: DatabaseDep,
    page: Annotated[str, Query(max_length=80)] = "",
) -> AsyncIterator[ServerSentEvent]:
    """Who changes what at an engine, but for what the page itself changes; holds no connection between."""
    watch: Watch = request.app.state.watch
    async with watch.listening():
        after = await anyio.to_thread.run_sync(_begun, database, engine_id)
        while not watch.ended and await anyio.to_thread.run_sync(still_signed_in, request):
            happened = watch.next
            after, news = await anyio.to_thread.run_sync(_news, database, engine_id, page, after)
            if news is not None:
                yield ServerSentEvent(event="change", data=news.model_dump(mode="json"))
            else:
                yield ServerSentEvent(comment="")
            with suppress(TimeoutError):
                await asyncio.wait_for(happened.wait(), _SIGN_OF_LIFE_S)
