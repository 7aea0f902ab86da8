"""The application put together."""

from __future__ import annotations

from collections.abc import AsyncIterator
from contextlib import asynccontextmanager

from fastapi import FastAPI, Request
from fastapi.exceptions import RequestValidationError
from fastapi.responses import HTMLResponse, JSONResponse, Response
from fastapi.staticfiles import StaticFiles
from starlette.concurrency import run_in_threadpool
from starlette.exceptions import HTTPException

from .. import __version__
from ..config import Config
from ..errors import (
    ConflictError,
    DocumentError,
    HeldError,
    InUseError,
    MediaError,
    MediaTooLargeError,
    NotFoundError,
    StorageFullError,
    YoungCometError,
)
from ..store import DataFolder
from ..store.trouble import storage_error
from .assets import STATIC, KeptFiles, static_prefix
from .guard import LOCAL_HOSTS, Guard
from .live import live_router
from .routes import (
    catalog,
    easings,
    edits,
    expressions,
    frames,
    kit,
    looks,
    moves,
    pages,
    projects,
    renders,
    sounds,
    transitions,
    typefaces,
    uploads,
)
from .services import Services

# The one place where errors become statuses; the first class that fits counts.
STATUSES: tuple[tuple[type[YoungCometError], int], ...] = (
    (NotFoundError, 404),
    (ConflictError, 409),
    (InUseError, 409),
    (DocumentError, 422),
    (MediaTooLargeError, 413),
    (MediaError, 415),
    (StorageFullError, 507),
    (HeldError, 503),
    (YoungCometError, 500),
)


def create_app(config: Config, folder: DataFolder | None = None) -> FastAPI:
    """The web application on a data folder: the one that is given, else it opens the configured
    one. It closes the folder when it ends."""

    @asynccontextmanager
    async def lifespan(app: FastAPI) -> AsyncIterator[None]:
        app.state.services = Services(config, folder)
        app.state.services.start()
        yield
        await run_in_threadpool(app.state.services.stop)

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
        sounds,
        kit,
        projects,
        edits,
        expressions,
        uploads,
        frames,
        renders,
        moves,
        transitions,
        typefaces,
    )
    for module in modules:
        app.include_router(module.router)
    app.include_router(pages.router)
    app.include_router(live_router)
    app.mount(static_prefix(), KeptFiles(directory=STATIC), name="kept")
    app.mount("/static", StaticFiles(directory=STATIC), name="static")
    app.add_exception_handler(YoungCometError, _ours)
    app.add_exception_handler(RequestValidationError, _invalid)
    app.add_exception_handler(HTTPException, _http)
    app.add_exception_handler(Exception, _unexpected)
    hosts = LOCAL_HOSTS | {config.host} | set(config.allowed_hosts)
    app.add_middleware(Guard, hosts=frozenset(hosts))
    return app


async def _ours(request: Request, error: Exception) -> Response:
    status = next(code for kind, code in STATUSES if isinstance(error, kind))
    if not request.url.path.startswith("/api/"):
        return HTMLResponse(pages.error_page(status, str(error)), status_code=status)
    return _error(status, type(error).__name__, str(error), getattr(error, "field", ""))


async def _http(request: Request, error: Exception) -> Response:
    """Addresses and methods that there are not, in the form of all other errors."""
    assert isinstance(error, HTTPException)
    words = {
        404: f"there is nothing at {request.url.path[:200]}",
        405: f"{request.method} is not understood at {request.url.path[:200]}",
    }
    message = words.get(error.status_code, str(error.detail))
    if not request.url.path.startswith("/api/"):
        page = pages.error_page(error.status_code, message)
        return HTMLResponse(page, status_code=error.status_code)
    kind = "NotFoundError" if error.status_code == 404 else "DocumentError"
    return _error(error.status_code, kind, message, "")


async def _unexpected(request: Request, error: Exception) -> Response:
    """An error that nobody foresaw: told in the documented form, with its cause in the log."""
    if isinstance(error, OSError):
        return await _ours(request, storage_error(error))
    message = f"something unexpected went wrong ({type(error).__name__}); the log has its cause"
    if not request.url.path.startswith("/api/"):
        return HTMLResponse(pages.error_page(500, message), status_code=500)
    return _error(500, "Error", message, "")


async def _invalid(request: Request, error: Exception) -> Response:
    assert isinstance(error, RequestValidationError)
    first = error.errors()[0]
    field = ".".join(str(part) for part in first["loc"][1:]) or "request"
    message = f"{field}: {first['msg'][0].lower()}{first['msg'][1:]}"
    return _error(422, "DocumentError", message, field)


def _error(status: int, kind: str, message: str, field: str) -> JSONResponse:
    body = {"error": {"kind": kind, "message": message, "field": field}}
    return JSONResponse(body, status_code=status)
