"""The application: routers, refusals, and the built front end."""

from __future__ import annotations

from collections.abc import AsyncIterator
from contextlib import asynccontextmanager
from functools import cache
from pathlib import Path

from fastapi import APIRouter, Depends, FastAPI, Request
from fastapi.responses import JSONResponse, Response
from starlette.exceptions import HTTPException
from starlette.middleware.trustedhost import TrustedHostMiddleware
from starlette.routing import BaseRoute

from niddy import __version__, registry
from niddy.api import balance, guard, ph_meter, policy, problems, thermometer
from niddy.api.follow import Followers
from niddy.api.pages import DIST, NamedByContents, page_at
from niddy.api.workshop import Backups
from niddy.db import Database
from niddy.settings import Settings


async def _as_decided(request: Request) -> None:
    """Hold an endpoint back that is not the one decided about. Raises HTTPException."""
    if not policy.of_one_mind(request.scope):
        raise HTTPException(404, "No such address")


@cache
def _rooms() -> list[BaseRoute]:
    """The addresses of every room: the same for every app of a process, so made once."""
    rooms = APIRouter(dependencies=[Depends(_as_decided)])
    for room in registry.web_rooms():
        rooms.include_router(room.router)
    for route in rooms.routes:
        # What an address takes and gives is built when one is first looked for; who asks first need not wait for it.
        route.matches({"type": "http", "method": "GET", "path": "/"})
    return rooms.routes


@cache
def addresses() -> policy.Addresses:
    """The addresses of every room with what stands on each. Raises TypeError where nothing stands on one."""
    return policy.Addresses(_rooms())


def _odd_path() -> JSONResponse:
    entry = problems.FieldProblem(field="path", problem="control characters", accepted="an address of this site")
    return problems.problem(400, "path", "No such address", [entry])


def create_app(
    settings: Settings,
    database: Database,
    dist: Path = DIST,
    backups: Backups | None = None,
    description: Path | None = None,
) -> FastAPI:
    """The web application over one database; `backups` where somebody backs it up by themselves.

    `description` is the API's own, where the build that belongs to this program has written it.
    """

    @asynccontextmanager
    async def lifespan(app: FastAPI) -> AsyncIterator[None]:
        app.state.followers.start()
        yield
        await app.state.followers.stop()

    app = FastAPI(
        title="Niddy",
        version=__version__,
        summary="A working instrument for makers of artists' oil colour",
        docs_url=None,
        redoc_url=None,
        openapi_url="/api/openapi.json",
        lifespan=lifespan,
        routes=_rooms(),
    )
    app.state.settings, app.state.database, app.state.backups = settings, database, backups
    app.state.followers = Followers(database.url)
    app.state.balance = balance.BalanceHub()
    app.state.thermometer = thermometer.THERMOMETER.hub()
    app.state.ph_meter = ph_meter.PH_METER.hub()
    problems.install(app)
    app.add_middleware(problems.BodyLimit)
    app.add_middleware(TrustedHostMiddleware, allowed_hosts=settings.hosts)
    if settings.address is not None:
        app.add_middleware(guard.SignedIn, database=database, clock=settings.now)
    app.add_middleware(guard.SameOrigin)
    app.state.leaving = leaving = guard.Leaving()
    app.add_middleware(leaving.around)
    app.add_middleware(policy.Found, addresses=addresses(), refuse=_odd_path)
    app.add_middleware(guard.SafeHeaders)
    problems.describe(app, description)
    _serve_front_end(app, dist)
    return app


def _serve_front_end(app: FastAPI, dist: Path) -> None:
    if (dist / "assets").is_dir():
        app.mount("/assets", NamedByContents(directory=dist / "assets"), name="assets")

    @app.api_route("/{path:path}", methods=["GET", "HEAD"], include_in_schema=False)
    async def page(path: str) -> Response:
        if path.startswith("api/") or path == "api":
            raise HTTPException(404, "No such address")
        return page_at(dist, path)
