"""The workshop as a whole: its timelines, and what it sets for itself."""

from fastapi import APIRouter, Depends, Response
from pydantic import BaseModel

from pronostico.analysis.workshop_settings import WorkshopSettings
from pronostico.api.deps import (
    BackgroundDep,
    ForecastReviewsDep,
    SessionDep,
    TimelinesDep,
    TodayDep,
    WriteSessionDep,
)
from pronostico.api.language import kept_document
from pronostico.api.models import AnalysisProgressOut, ForecastReviewPageOut, WorkshopOut
from pronostico.api.who_asks import owners_only
from pronostico.services.settings import put_workshop_settings, workshop_settings
from pronostico.services.workshop.forecast_reviews import review_of_workshop, stale
from pronostico.services.workshop.timelines import TimelineOut
from pronostico.services.workshop.week import WeekOut, week_of

router = APIRouter(tags=["workshop"])


class SettingsIn(WorkshopSettings):
    """What the workshop sets for itself; and `was`: what the page showed before."""

    was: WorkshopSettings | None = None


@router.get("/week")
def get_week(session: SessionDep, timelines: TimelinesDep, today: TodayDep) -> WeekOut:
    """Which checks fall due, what was promised, and whose meter wants to be read."""
    return week_of(session, timelines.now().upcoming, today)


class _Timelines(BaseModel):
    timelines: list[TimelineOut]


@router.get("/workshop", response_model=WorkshopOut)
def get_workshop(timelines: TimelinesDep, background: BackgroundDep, today: TodayDep) -> Response:
    """Every engine a timeline along time, from what is kept; what is not current is computed meanwhile."""
    workshop = timelines.now()
    if workshop.stale:
        background.ask(workshop.stale)
    progress = background.progress
    rest = WorkshopOut.model_construct(
        today=today,
        timelines=[],
        calculating=None if progress is None else AnalysisProgressOut.model_validate(progress),
        failed=sorted(background.failed),
    )
    # The timelines are kept as the text that they leave as.
    head = rest.model_dump_json(exclude={"timelines"}).removesuffix("}")
    lanes = kept_document(f'{{"timelines":{workshop.document}}}', _Timelines).removeprefix("{")
    return Response(f"{head},{lanes}", media_type="application/json")


@router.get("/forecast-review")
def get_forecast_review(session: SessionDep, reviews: ForecastReviewsDep) -> ForecastReviewPageOut:
    """How the workshop's own forecasts did; what was not looked back on yet is computed meanwhile."""
    missing = stale(session)
    if missing:
        reviews.ask(missing)
    progress = reviews.progress
    return ForecastReviewPageOut(
        review=review_of_workshop(session),
        calculating=None if progress is None else AnalysisProgressOut.model_validate(progress),
        failed=sorted(reviews.failed),
    )


@router.get("/workshop-settings")
def get_workshop_settings(session: SessionDep) -> WorkshopSettings:
    """The workshop's rate and times."""
    return workshop_settings(session)


@router.put("/workshop-settings", dependencies=[Depends(owners_only)])
def put_settings(body: SettingsIn, session: WriteSessionDep) -> WorkshopSettings:
    """Set them anew; what somebody else set meanwhile stays, or is told."""
    settings = WorkshopSettings(**body.model_dump(exclude={"was"}))
    return put_workshop_settings(session, settings, shown=body.was)
