"""Next checks for a calendar: a file, and a feed."""

from typing import Annotated, Any

from fastapi import APIRouter, Path, Request, Response

from pronostico.analysis.report_model import ReportModel
from pronostico.api.deps import DatabaseDep, NowDep, SessionDep, TimelinesDep, TodayDep, WriteSessionDep
from pronostico.api.who_asks import network_of
from pronostico.services.workshop import check_calendar
from pronostico.store.workshop import calendar_token

router = APIRouter(tags=["calendar"])
_ICS: dict[int | str, dict[str, Any]] = {200: {"content": {"text/calendar": {"schema": {"type": "string"}}}}}
Token = Annotated[str, Path(min_length=8, max_length=80, pattern=r"^[A-Za-z0-9_-]+$")]


class FeedOut(ReportModel):
    """The path of the feed; null where there is none. `links`: where other devices reach it, whole."""

    path: str | None
    links: list[str]


def _feed(request: Request, token: str | None) -> FeedOut:
    if token is None:
        return FeedOut(path=None, links=[])
    path, network = f"/api/calendar/{token}.ics", network_of(request.scope)
    links = () if network is None else network.reachable.links
    return FeedOut(path=path, links=[link.rstrip("/") + path for link in links])


def _answer(content: bytes) -> Response:
    return Response(
        content,
        media_type="text/calendar",
        headers={
            "content-disposition": 'attachment; filename="next-checks.ics"',
            "cache-control": "no-store",
        },
    )


@router.get("/next-checks.ics", response_class=Response, responses=_ICS)
def get_next_checks(timelines: TimelinesDep, today: TodayDep, now: NowDep) -> Response:
    """The next check of every engine as a calendar file."""
    return _answer(check_calendar.next_checks(timelines.now().upcoming, today=today, now=now))


@router.get("/calendar/{token}.ics", response_class=Response, responses=_ICS)
def get_feed(
    token: Token, database: DatabaseDep, timelines: TimelinesDep, today: TodayDep, now: NowDep
) -> Response:
    """The same at an address that can be given to a calendar program, and renewed."""
    # Not one connection held while another is waited for.
    with database.reading() as session:
        check_calendar.check_token(session, token)
    return _answer(check_calendar.next_checks(timelines.now().upcoming, today=today, now=now))


@router.get("/calendar-feed")
def get_calendar_feed(request: Request, session: SessionDep) -> FeedOut:
    """Where the feed is."""
    return _feed(request, calendar_token(session))


@router.put("/calendar-feed")
def put_calendar_feed(request: Request, session: WriteSessionDep) -> FeedOut:
    """A new address for the feed; the one before leads nowhere from now on."""
    return _feed(request, check_calendar.new_token(session))


@router.delete("/calendar-feed")
def delete_calendar_feed(request: Request, session: WriteSessionDep) -> FeedOut:
    """End the feed."""
    check_calendar.end_feed(session)
    return _feed(request, None)
