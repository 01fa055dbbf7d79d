"""The application: routes, guards, the front end's files."""

import asyncio
import logging
from collections.abc import AsyncIterator
from contextlib import asynccontextmanager
from pathlib import Path
from typing import Any

from fastapi import FastAPI
from fastapi.routing import APIRoute
from starlette.exceptions import HTTPException
from starlette.middleware.gzip import GZipMiddleware
from starlette.responses import FileResponse, Response
from starlette.staticfiles import StaticFiles

from adhaero import __version__
from adhaero.api import (
    breaking,
    bringing,
    compare,
    cure,
    glue,
    library,
    method,
    network,
    over,
    plan,
    saw,
    shop,
    timetable,
)
from adhaero.api.context import Context
from adhaero.api.door import Door
from adhaero.api.examples import show_examples
from adhaero.api.guard import Guard
from adhaero.api.problems import Problem, add_problem_handlers, describe_problems
from adhaero.bench.breaking.live_rigs import RigHub
from adhaero.bench.breaking.pulls import recover_pulls
from adhaero.core.errors import AdhaeroError
from adhaero.store.copies import keep_daily_copy
from adhaero.store.file import ShopFile

log = logging.getLogger(__name__)

WEB = Path(__file__).resolve().parent.parent / "web"
_ROOMS = (over, shop, plan, saw, glue, cure, breaking, compare, library, bringing, timetable, network, method)
ROUTERS = tuple(one.router for one in _ROOMS)
_KEEP_EACH_S = 3600.0
_METHODS = ("GET", "HEAD", "POST", "PUT", "PATCH", "DELETE", "OPTIONS")


def create_app(file: ShopFile, door: Door | None = None) -> FastAPI:
    """Return the application on a shop file.

    Parameters
    ----------
    file : the shop file. door : who may come in; only this computer where none is given.
    """
    door = door or Door()
    hub = RigHub(file)

    @asynccontextmanager
    async def lifespan(_: FastAPI) -> AsyncIterator[None]:
        try:
            recover_pulls(file)
        except AdhaeroError:
            log.exception("pulls that ran when the program stopped")
        days = asyncio.create_task(_keep_days(file))
        yield
        days.cancel()
        await asyncio.to_thread(_keep_day, file)
        app.state.context.demo.close()
        hub.close()

    app = FastAPI(
        title="Adhaero",
        version=__version__,
        lifespan=lifespan,
        docs_url=None,
        redoc_url=None,
        openapi_url="/api/openapi.json",
        responses={"default": {"model": Problem, "description": "A problem (RFC 9457)"}},
        generate_unique_id_function=_operation_id,
    )
    app.state.context = Context(file, hub, door)
    for router in ROUTERS:
        app.include_router(router)
    add_problem_handlers(app)
    _serve_front_end(app)
    app.add_middleware(GZipMiddleware, minimum_size=2000, compresslevel=1)
    app.add_middleware(Guard, door=door)
    _describe(app)
    return app


def _describe(app: FastAPI) -> None:
    """Say in the OpenAPI document what it cannot know by itself."""
    original = app.openapi

    def openapi() -> dict[str, Any]:
        if app.openapi_schema is None:
            document = original()
            describe_problems(document)
            show_examples(document)
        return original()

    app.openapi = openapi  # type: ignore[method-assign]


async def _keep_days(file: ShopFile) -> None:
    """Keep a copy of every day on which the shop is used, made again each hour and at the end."""
    while True:
        await asyncio.to_thread(_keep_day, file)
        await asyncio.sleep(_KEEP_EACH_S)


def _keep_day(file: ShopFile) -> None:
    """Keep a copy for today; one that fails is told in the log and never stops the rest."""
    try:
        keep_daily_copy(file)
    except Exception:
        log.exception("the daily copy")


def _operation_id(route: APIRoute) -> str:
    return route.name


def _serve_front_end(app: FastAPI) -> None:
    """Serve the built files, and the page itself for every address of the interface."""
    assets = WEB / "assets"
    if assets.is_dir():
        app.mount("/assets", StaticFiles(directory=assets), name="assets")

    @app.get("/api/docs", include_in_schema=False)
    def docs() -> Response:
        return _send_page("docs.html")

    @app.api_route("/api/{path:path}", methods=list(_METHODS), include_in_schema=False)
    def nothing(path: str) -> Response:
        allowed = _find_methods(f"/api/{path}")
        if allowed:
            raise HTTPException(405, f"Only {', '.join(allowed)} can be done here.", {"Allow": ", ".join(allowed)})
        raise HTTPException(404, "There is nothing here.")

    @app.get("/{path:path}", include_in_schema=False)
    def page(path: str) -> Response:
        if path.startswith("assets/") or "." in path.rpartition("/")[2]:
            raise HTTPException(404, "There is nothing here.")
        return _send_page("index.html")


def _send_page(name: str) -> Response:
    page = WEB / name
    if not page.is_file():
        return Response("The front end is not built. Run: make build", 503, media_type="text/plain")
    return FileResponse(page, headers={"Cache-Control": "no-cache"})


def _find_methods(path: str) -> list[str]:
    """Return what can be done at an address besides what was asked."""
    routes = (route for router in ROUTERS for route in router.routes if isinstance(route, APIRoute))
    return sorted({method for route in routes if route.path_regex.match(path) for method in route.methods or ()})
