"""What stands at an instance's address from its first second: the page at once, the rooms when they are read."""

from __future__ import annotations

import asyncio
from collections.abc import Callable
from contextlib import AbstractAsyncContextManager
from pathlib import Path
from typing import TYPE_CHECKING, Any

from starlette.datastructures import MutableHeaders
from starlette.middleware.trustedhost import TrustedHostMiddleware
from starlette.responses import JSONResponse
from starlette.types import ASGIApp, Message, Receive, Scope, Send

from niddy.api.pages import DIST, SAFE_HEADERS, page_at

if TYPE_CHECKING:
    from fastapi import FastAPI

PATIENCE_S = 120.0
"""So long a request of the rooms waits for them; a page that asked for one longer asks again."""


class Door:
    """An ASGI application before the application: pages it gives itself, all else waits until it is opened.

    `hosts` are the names it answers to. It is opened once, from another thread than the one it serves in.
    """

    def __init__(self, hosts: list[str], dist: Path = DIST) -> None:
        self._dist = dist
        self._pages: ASGIApp = TrustedHostMiddleware(self._page, allowed_hosts=hosts)
        self._inside: ASGIApp | None = None
        self._lives: AbstractAsyncContextManager[Any] | None = None
        self._loop: asyncio.AbstractEventLoop | None = None
        self._opened = asyncio.Event()
        self.end: Callable[[], None] = lambda: None
        """Ends the server it stands in, and returns when that has ended."""
        self.stands: Callable[[], bool] = lambda: True
        """Whether that server still serves."""

    def open_to(self, app: FastAPI) -> None:
        """Let every request through to the application from now on."""
        assert self._loop is not None
        asyncio.run_coroutine_threadsafe(self._let_in(app), self._loop).result()

    async def _let_in(self, app: FastAPI) -> None:
        lives = app.router.lifespan_context(app)
        await lives.__aenter__()
        self._inside, self._lives = app, lives
        self._opened.set()

    async def __call__(self, scope: Scope, receive: Receive, send: Send) -> None:
        if scope["type"] == "lifespan":
            await self._live(receive, send)
            return
        if self._inside is None and scope["type"] == "http":
            if scope["method"] in ("GET", "HEAD") and not _of_a_room(scope["path"]):
                await self._pages(scope, receive, send)
                return
            try:
                await asyncio.wait_for(self._opened.wait(), PATIENCE_S)
            except TimeoutError:
                await JSONResponse({"title": "Niddy is still being set up"}, 503, {"retry-after": "2"})(
                    scope, receive, send
                )
                return
        assert self._inside is not None
        await self._inside(scope, receive, send)

    async def _live(self, receive: Receive, send: Send) -> None:
        await receive()
        self._loop = asyncio.get_running_loop()
        await send({"type": "lifespan.startup.complete"})
        await receive()
        if self._lives is not None:
            await self._lives.__aexit__(None, None, None)
        await send({"type": "lifespan.shutdown.complete"})

    async def _page(self, scope: Scope, receive: Receive, send: Send) -> None:
        async def with_headers(message: Message) -> None:
            if message["type"] == "http.response.start":
                headers = MutableHeaders(scope=message)
                for name, value in SAFE_HEADERS.items():
                    headers.setdefault(name, value)
            await send(message)

        await page_at(self._dist, scope["path"].lstrip("/"))(scope, receive, with_headers)


def _of_a_room(path: str) -> bool:
    return path == "/api" or path.startswith("/api/")
