"""The application: routes, guards, the front end's files."""

from collections.abc import AsyncIterator
from contextlib import asynccontextmanager
from pathlib import Path

from fastapi import FastAPI
from fastapi.routing import APIRoute
from starlette.exceptions import HTTPException
from starlette.middleware.gzip import GZipMiddleware
from starlette.middleware.trustedhost import TrustedHostMiddleware
from starlette.responses import FileResponse, Response
from starlette.staticfiles import StaticFiles

from adhaero import __version__
from adhaero.api import breaking, comparing, curing, making, method, plan, shop, timetable
from adhaero.api.context import Context
from adhaero.api.guard import Guard
from adhaero.api.problems import Problem, add_problem_handlers
from adhaero.bench.pulling import recover_pulls
from adhaero.bench.rigs import RigHub
from adhaero.store.file import ShopFile

WEB = Path(__file__).resolve().parent.parent / "web"
LOCAL_HOSTS = ("127.0.0.1", "localhost")


def create_app(file: ShopFile, hosts: tuple[str, ...] = LOCAL_HOSTS) -> FastAPI:
    """Return the application on a shop file.

    Parameters
    ----------
    file : the shop file. hosts : the names that a browser may know this machine by.
    """
    hub = RigHub(file)

    @asynccontextmanager
    async def lifespan(_: FastAPI) -> AsyncIterator[None]:
        recover_pulls(file)
        yield
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
    app.state.context = Context(file, hub)
    for station in (plan, making, curing, timetable, breaking, comparing, shop, method):
        app.include_router(station.router)
    add_problem_handlers(app)
    _serve_front_end(app)
    app.add_middleware(GZipMiddleware, minimum_size=2000, compresslevel=1)
    app.add_middleware(Guard)
    app.add_middleware(TrustedHostMiddleware, allowed_hosts=list(hosts))
    return app


def _operation_id(route: APIRoute) -> str:
    return route.name


def _serve_front_end(app: FastAPI) -> None:
    """Serve the built files, and the page itself for every address of the interface."""
    assets = WEB / "assets"
    if assets.is_dir():
        app.mount("/assets", StaticFiles(directory=assets), name="assets")

    @app.get("/{path:path}", include_in_schema=False)
    def page(path: str) -> Response:
        if path.startswith(("api/", "assets/")) or "." in path.rpartition("/")[2]:
            raise HTTPException(404, "There is nothing here.")
        index = WEB / "index.html"
        if not index.is_file():
            return Response("The front end is not built. Run: make build", 503, media_type="text/plain")
        return FileResponse(index, headers={"Cache-Control": "no-cache"})
