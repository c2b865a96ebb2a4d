"""The application put together."""

from pathlib import Path

from fastapi import APIRouter, Depends, FastAPI
from fastapi.routing import APIRoute

from pronostico import __version__
from pronostico.api import (
    adjustments,
    assessment,
    backup,
    bin,
    blade_sets,
    calendar,
    cases,
    customers,
    cylinder_tests,
    demonstration,
    engines,
    heads,
    instruments,
    job_card,
    learned,
    listening,
    live,
    notes,
    orders,
    people,
    photographs,
    practice,
    quick_checks,
    recordings,
    shim_box,
    tables,
    verification,
    visits,
    workshop,
)
from pronostico.api.errors import Problem, install_error_handlers
from pronostico.api.language import InTheirLanguage
from pronostico.api.own_pages import OwnHostsOnly, OwnPagesOnly, expected_content
from pronostico.api.pages import install_pages
from pronostico.api.plain_bodies import PlainBodies
from pronostico.api.request_log import RequestLog
from pronostico.api.safe_headers import SafeHeaders
from pronostico.api.who_asks import Network, WhoAsks, name_who_changes
from pronostico.services.demonstration import Beside
from pronostico.services.engines.background import BackgroundAnalysis
from pronostico.services.engines.workers import Workers
from pronostico.services.exchange.daily_copies import DailyCopies
from pronostico.services.visits.recordings import DrawnSounds
from pronostico.services.workshop.forecast_reviews import compute_reviews
from pronostico.services.workshop.timelines import CachedTimelines
from pronostico.store.database import Database


def _operation_id(route: APIRoute) -> str:
    return route.name


def create_app(database: Database, static: Path, network: Network | None = None) -> FastAPI:
    """The application over an open database.

    Args:
        static: folder of the built pages; without it only the API is served.
        network: how it is served beyond this machine; None: it is not.
    """
    app = build_app(static, network)
    attach(app, database)
    return app


def attach(app: FastAPI, database: Database) -> None:
    """Let an application serve a database, in place of the one before."""
    app.state.database = database
    app.state.background = BackgroundAnalysis(database, workers=Workers(2))
    app.state.forecast_reviews = BackgroundAnalysis(database, compute=compute_reviews)
    app.state.timelines = CachedTimelines(database)
    app.state.daily_copies = DailyCopies(database.path, database.address)
    app.state.watch = live.Watch(database)
    app.state.listeners = listening.Listeners()
    app.state.backup_progress = backup.Progress()
    app.state.beside = Beside()
    app.state.drawn_sounds = DrawnSounds()


def detach(app: FastAPI) -> None:
    """End what is done in the background for the database that is served."""
    app.state.beside.close()
    app.state.daily_copies.close()
    app.state.background.close()
    app.state.forecast_reviews.close()


def build_app(static: Path, network: Network | None = None) -> FastAPI:
    """The application with its routes and pages, without a database yet."""
    app = FastAPI(
        title="Pronostico",
        version=__version__,
        openapi_url="/api/openapi.json",
        docs_url=None,
        redoc_url=None,
        generate_unique_id_function=_operation_id,
    )
    app.state.network = network
    app.state.made_up = None
    problem = {"model": Problem, "content": {"application/problem+json": {}}}
    api = APIRouter(
        prefix="/api",
        responses=dict.fromkeys((400, 404, 409, 422), problem),
        dependencies=[Depends(expected_content), Depends(name_who_changes)],
    )
    for router in (
        engines.router,
        customers.router,
        # Before the tables, whose route takes any name.
        people.router,
        live.router,
        listening.router,
        tables.router,
        heads.router,
        visits.router,
        assessment.router,
        job_card.router,
        bin.of_engine_router,
        bin.router,
        cylinder_tests.router,
        instruments.router,
        instruments.kinds_router,
        cases.router,
        notes.router,
        photographs.router,
        recordings.router,
        quick_checks.router,
        learned.router,
        blade_sets.router,
        workshop.router,
        orders.router,
        backup.router,
        calendar.router,
        demonstration.router,
        adjustments.router,
        verification.router,
        shim_box.router,
        practice.router,
    ):
        api.include_router(router)
    app.include_router(api)
    # What is asked of a request and its body means nothing where sound is streamed.
    app.include_router(listening.sound_router)
    install_error_handlers(app)
    install_pages(app, static, None if network is None else network.authority)
    app.add_middleware(PlainBodies)
    app.add_middleware(WhoAsks)
    app.add_middleware(OwnPagesOnly)
    app.add_middleware(RequestLog)
    # A page of another site cannot reach the workshop's data by giving its own name our address.
    app.add_middleware(OwnHostsOnly, network=network)
    app.add_middleware(InTheirLanguage)
    app.add_middleware(SafeHeaders)
    return app
