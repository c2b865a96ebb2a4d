"""Every refusal as application/problem+json (RFC 9457): a stable type, a title, every fault with its path."""

from collections.abc import Sequence

from fastapi import FastAPI, Request
from fastapi.encoders import jsonable_encoder
from fastapi.exceptions import RequestValidationError
from fastapi.responses import JSONResponse
from pydantic import BaseModel
from sqlalchemy.exc import DataError, OperationalError
from sqlalchemy.exc import TimeoutError as WaitedTooLong
from starlette.exceptions import HTTPException
from starlette.routing import Match, Route

from pronostico.core.errors import CoreError, ImpossibleValue, KnowledgeFault, UnknownValve
from pronostico.errors import (
    AlreadyThere,
    Asked,
    CannotStart,
    NotThere,
    Question,
    Refused,
    ServiceError,
    Stale,
    UnusableDatabase,
)
from pronostico.language import Text
from pronostico.pdf import NoPdf
from pronostico.record.faults import Fault, json_path, plain_message
from pronostico.record.labels import label_of
from pronostico.services.people.signing_in import NotSignedIn
from pronostico.services.people.slowing import TooSoon


class FaultOut(BaseModel):
    """One fault of an input, or one question about it with the figure that was probably meant.

    `path` is for programs; `label` is the field's name on screen.
    """

    path: str
    message: Text
    label: Text
    suggestion: float | None = None


class Problem(BaseModel):
    """A refusal in the shape of RFC 9457; `id`: the request's, where the failure is in the log."""

    type: str
    title: Text
    status: int
    detail: Text | None = None
    faults: list[FaultOut] = []
    id: str | None = None


STATUS: dict[type[Exception], tuple[int, str, str]] = {
    CoreError: (422, "impossible-input", "This cannot be calculated"),
    ImpossibleValue: (422, "impossible-value", "A value cannot be right"),
    UnknownValve: (422, "unknown-valve", "The engine has no such valve"),
    CannotStart: (503, "cannot-start", "It did not start"),
    KnowledgeFault: (500, "knowledge-fault", "The knowledge files cannot be used"),
    ServiceError: (400, "refused", "Not possible"),
    NotThere: (404, "not-there", "Not found"),
    AlreadyThere: (409, "already-there", "Already exists"),
    UnusableDatabase: (503, "unusable-database", "The database cannot be used"),
    Stale: (409, "stale", "Somebody else has changed that"),
    Refused: (422, "faulty-input", "Please fix the errors"),
    NoPdf: (501, "no-pdf", "No PDF can be made on this machine"),
    NotSignedIn: (401, "not-signed-in", "Not signed in"),
    TooSoon: (429, "too-soon", "Too many tries"),
    Asked: (422, "asked", "Please confirm"),
}


def problem_response(
    status: int,
    kind: str,
    title: str,
    detail: str | None = None,
    faults: Sequence[Fault | Question] = (),
    *,
    id: str | None = None,
) -> JSONResponse:
    """A problem as a response."""
    problem = Problem(
        type=f"urn:pronostico:problem:{kind}",
        title=title,
        status=status,
        detail=detail,
        faults=[
            FaultOut(
                path=fault.path,
                message=fault.message,
                label=label_of(fault.path),
                suggestion=fault.suggestion if isinstance(fault, Question) else None,
            )
            for fault in faults
        ],
        id=id,
    )
    return JSONResponse(jsonable_encoder(problem), status_code=status, media_type="application/problem+json")


def _known_error(_request: Request, error: Exception) -> JSONResponse:
    status, kind, title = next(STATUS[cls] for cls in type(error).__mro__ if cls in STATUS)
    faults: Sequence[Fault | Question] = ()
    if isinstance(error, Refused | Stale):
        faults = error.faults
    elif isinstance(error, Asked):
        faults = error.questions
    if isinstance(error, UnknownValve):
        faults = [Fault("$.valve", str(error))]
    response = problem_response(status, kind, title, str(error), faults)
    if isinstance(error, TooSoon):
        response.headers["Retry-After"] = str(error.seconds)
    return response


def _invalid_request(_request: Request, error: Exception) -> JSONResponse:
    assert isinstance(error, RequestValidationError)
    faults = []
    for one in error.errors():
        place, *steps = one["loc"]
        if one["type"] == "json_invalid":
            detail = f"the body is not JSON: {one['ctx']['error']} at character {steps[0]}"
            return problem_response(400, "not-json", "The body cannot be read", detail)
        path = json_path(steps) if place == "body" else f"{place} {'.'.join(str(step) for step in steps)}"
        faults.append(Fault(path, plain_message(one)))
    return problem_response(
        422, "faulty-input", "Please fix the errors", "; ".join(fault.sentence for fault in faults), faults
    )


def _http_error(request: Request, error: Exception) -> JSONResponse:
    assert isinstance(error, HTTPException)
    response = problem_response(error.status_code, "http", str(error.detail))
    response.headers.update(error.headers or {})
    if error.status_code == 405:
        # The first route of a path answers for itself alone; the path has all their methods.
        response.headers["Allow"] = ", ".join(sorted(_methods_of_path(request)))
    return response


def _of_the_disk(_request: Request, error: Exception) -> JSONResponse:
    """What the database could not do; what nobody can do anything about is a failure of ours."""
    assert isinstance(error, OperationalError)
    reason = str(error.orig)
    if "full" in reason or "No space left" in reason:
        detail = "the disk is full: nothing of this was saved; make room, then try again"
        return problem_response(507, "disk-full", "The disk is full", detail)
    if "disk I/O" in reason:
        detail = "the disk gave an error: nothing of this was saved; check the room on it, then try again"
        return problem_response(507, "disk-error", "The disk gave an error", detail)
    if "readonly" in reason:
        detail = "the database has become read-only: nothing of this was saved; make it writable again"
        return problem_response(507, "read-only", "The database is read-only", detail)
    if "locked" in reason or "busy" in reason or "lock timeout" in reason:
        return _busy(_request, error)
    if error.connection_invalidated or "connection" in reason:
        detail = "the database server cannot be reached; what was typed is kept, try again"
        response = problem_response(503, "database-away", "The database cannot be reached", detail)
        response.headers["Retry-After"] = "5"
        return response
    raise error


def _unstorable(_request: Request, error: Exception) -> JSONResponse:
    """A PostgreSQL server keeps less than a file does: no text with the character NUL."""
    assert isinstance(error, DataError)
    fault = Fault("$", f"holds what the database cannot keep: {' '.join(str(error.orig).split())}")
    return problem_response(422, "faulty-input", "Please fix the errors", fault.sentence, [fault])


def _busy(_request: Request, _error: Exception) -> JSONResponse:
    detail = "something else is being saved; what was typed is kept, try again"
    response = problem_response(503, "busy", "Busy", detail)
    response.headers["Retry-After"] = "2"
    return response


def _methods_of_path(request: Request) -> set[str]:
    app: FastAPI = request.app
    routes = [route for route in app.routes if isinstance(route, Route)]
    matching = [route for route in routes if route.matches(request.scope)[0] != Match.NONE]
    return {method for route in matching for method in route.methods or ()}


def install_error_handlers(app: FastAPI) -> None:
    """Answer every refusal of core, services and framework as problem+json."""
    app.add_exception_handler(CoreError, _known_error)
    app.add_exception_handler(ServiceError, _known_error)
    app.add_exception_handler(RequestValidationError, _invalid_request)
    app.add_exception_handler(HTTPException, _http_error)
    app.add_exception_handler(OperationalError, _of_the_disk)
    app.add_exception_handler(DataError, _unstorable)
    app.add_exception_handler(WaitedTooLong, _busy)
