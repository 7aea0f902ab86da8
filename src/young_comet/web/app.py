"""The application put together."""

from __future__ import annotations

from collections.abc import AsyncIterator
from contextlib import asynccontextmanager
from pathlib import Path

from fastapi import FastAPI, Request
from fastapi.exceptions import RequestValidationError
from fastapi.responses import HTMLResponse, JSONResponse, Response
from fastapi.staticfiles import StaticFiles

from .. import __version__
from ..config import Config
from ..errors import (
    ConflictError,
    DocumentError,
    InUseError,
    MediaError,
    MediaTooLargeError,
    NotFoundError,
    YoungCometError,
)
from .guard import LOCAL_HOSTS, Guard
from .live import live_router
from .routes import (
    catalog,
    easings,
    edits,
    expressions,
    frames,
    looks,
    moves,
    pages,
    projects,
    renders,
    uploads,
)
from .services import Services

STATIC = Path(__file__).parent / "static"

# The one place where errors become statuses; the first class that fits counts.
STATUSES: tuple[tuple[type[YoungCometError], int], ...] = (
    (NotFoundError, 404),
    (ConflictError, 409),
    (InUseError, 409),
    (DocumentError, 422),
    (MediaTooLargeError, 413),
    (MediaError, 415),
    (YoungCometError, 500),
)


def create_app(config: Config) -> FastAPI:
    """The web application on a data folder."""

    @asynccontextmanager
    async def lifespan(app: FastAPI) -> AsyncIterator[None]:
        app.state.services = Services(config)
        app.state.services.start()
        yield
        app.state.services.stop()

    app = FastAPI(
        title="Young Comet",
        version=__version__,
        lifespan=lifespan,
        docs_url=None,
        redoc_url=None,
        openapi_url="/api/openapi.json",
    )
    modules = (
        catalog,
        easings,
        looks,
        projects,
        edits,
        expressions,
        uploads,
        frames,
        renders,
        moves,
    )
    for module in modules:
        app.include_router(module.router)
    app.include_router(pages.router)
    app.include_router(live_router)
    app.mount("/static", StaticFiles(directory=STATIC), name="static")
    app.add_exception_handler(YoungCometError, _ours)
    app.add_exception_handler(RequestValidationError, _invalid)
    hosts = LOCAL_HOSTS | {config.host} | set(config.allowed_hosts)
    app.add_middleware(Guard, hosts=frozenset(hosts))
    return app


async def _ours(request: Request, error: Exception) -> Response:
    status = next(code for kind, code in STATUSES if isinstance(error, kind))
    if not request.url.path.startswith("/api/"):
        return HTMLResponse(pages.error_page(status, str(error)), status_code=status)
    return _error(status, type(error).__name__, str(error), getattr(error, "field", ""))


async def _invalid(request: Request, error: Exception) -> Response:
    assert isinstance(error, RequestValidationError)
    first = error.errors()[0]
    field = ".".join(str(part) for part in first["loc"][1:]) or "request"
    message = f"{field}: {first['msg'][0].lower()}{first['msg'][1:]}"
    return _error(422, "DocumentError", message, field)


def _error(status: int, kind: str, message: str, field: str) -> JSONResponse:
    body = {"error": {"kind": kind, "message": message, "field": field}}
    return JSONResponse(body, status_code=status)
