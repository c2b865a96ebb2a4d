"""The built pages: one index for every address that is not the API's, and its assets."""

from collections.abc import Callable
from pathlib import Path

from fastapi import FastAPI, Request
from fastapi.responses import FileResponse, Response
from fastapi.staticfiles import StaticFiles
from starlette.exceptions import HTTPException

from pronostico.api.errors import problem_response

# What makes the pages installable; asked for anew each time, since the one that runs comes from it.
_INSTALLABLE = {"sw.js": "text/javascript", "manifest.webmanifest": "application/manifest+json"}


def _serve_file(app: FastAPI, path: Path, media_type: str) -> None:
    @app.get(f"/{path.name}", include_in_schema=False)
    def get_file() -> FileResponse:
        return FileResponse(path, media_type=media_type, headers={"Cache-Control": "no-cache"})


def _not_found(static: Path) -> Callable[[Request, Exception], Response]:
    index = static / "index.html"

    def answer(request: Request, error: Exception) -> Response:
        wants_page = request.method in ("GET", "HEAD") and not request.url.path.startswith(
            ("/api", "/assets", "/icons")
        )
        if wants_page and index.is_file():
            # The page knows its own addresses; a reload of any of them starts it there.
            return FileResponse(index, headers={"Cache-Control": "no-cache"})
        detail = str(error.detail) if isinstance(error, HTTPException) else "Not Found"
        return problem_response(404, "not-there", "Not found", detail)

    return answer


def install_pages(app: FastAPI, static: Path, authority: Path | None = None) -> None:
    """Serve the built pages.

    Args:
        authority: the certificate that devices can be told to trust; it is no secret.
    """
    if authority is not None:

        @app.get("/authority.crt", include_in_schema=False)
        def get_authority() -> FileResponse:
            return FileResponse(authority, media_type="application/x-x509-ca-cert", filename="pronostico.crt")

    for folder in ("assets", "icons"):
        if (static / folder).is_dir():
            app.mount(f"/{folder}", StaticFiles(directory=static / folder), name=folder)
    for name, media_type in _INSTALLABLE.items():
        if (static / name).is_file():
            _serve_file(app, static / name, media_type)
    app.add_exception_handler(404, _not_found(static))
