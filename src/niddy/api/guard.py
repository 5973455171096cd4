"""What stands before every room: only this site's own pages may change anything, and what every answer carries."""

from __future__ import annotations

import asyncio
import contextlib
import logging
import threading
from collections.abc import Callable
from datetime import datetime
from urllib.parse import urlsplit

from starlette.concurrency import run_in_threadpool
from starlette.datastructures import Headers, MutableHeaders
from starlette.requests import cookie_parser
from starlette.types import ASGIApp, Message, Receive, Scope, Send

from niddy.api import policy
from niddy.api.pages import SAFE_HEADERS
from niddy.api.problems import AWAY_ERRORS, FieldProblem, away, problem
from niddy.core.makers import READING, Reach, Who, refusal
from niddy.db import Database
from niddy.db.engine import AT_WORK
from niddy.studio import makers

log = logging.getLogger("niddy")


class SafeHeaders:
    """ASGI middleware, the outermost: its headers are on every answer, so on that of an unforeseen error."""

    def __init__(self, app: ASGIApp) -> None:
        self.app = app

    async def __call__(self, scope: Scope, receive: Receive, send: Send) -> None:
        if scope["type"] != "http":
            await self.app(scope, receive, send)
            return
        started = False

        async def with_headers(message: Message) -> None:
            nonlocal started
            if message["type"] == "http.response.start":
                started = True
                headers = MutableHeaders(scope=message)
                for name, value in SAFE_HEADERS.items():
                    headers.setdefault(name, value)
            await send(message)

        try:
            await self.app(scope, receive, with_headers)
        except Exception as error:
            log.error("unforeseen error at %s %s", scope["method"], scope["path"], exc_info=error)
            if started:
                raise
            refused = problem(
                500,
                "unforeseen",
                "Something went wrong here. It may be recorded or not; the same sent again counts once",
            )
            await refused(scope, receive, with_headers)


class Leaving:
    """ASGI middleware: once it is asked to, lets what is being answered end, and puts off whatever else comes."""

    def __init__(self) -> None:
        self.begun = False
        self._changed = threading.Condition()
        self._answering = 0

    def begin(self) -> None:
        """From now on nothing new is begun."""
        self.begun = True

    def wait(self, at_most_s: float) -> bool:
        """Wait until nothing is being answered any more; whether it came to that in time."""
        with self._changed:
            return self._changed.wait_for(lambda: self._answering == 0, at_most_s)

    def around(self, app: ASGIApp) -> ASGIApp:
        """An application with this before it."""

        async def answered(scope: Scope, receive: Receive, send: Send) -> None:
            stands = policy.of(scope)
            if scope["type"] != "http" or (stands is not None and stands.lasts and not self.begun):
                # A stream has no end of its own: its window opens it again, wherever that is.
                await app(scope, receive, send)
                return
            if self.begun:
                refused = problem(503, "ending", "Niddy is ending here; nothing is lost, and this is tried again")
                refused.headers["retry-after"] = "2"
                refused.headers["connection"] = "close"
                await refused(scope, receive, send)
                return
            self._count(1)
            try:
                await app(scope, receive, send)
            finally:
                self._count(-1)

        return answered

    def _count(self, change: int) -> None:
        with self._changed:
            self._answering += change
            self._changed.notify_all()


class SameOrigin:
    """ASGI middleware: a browser may change something only from this site's own pages, with the content type meant.

    What is no browser sends neither `Sec-Fetch-Site` nor `Origin` and may.
    """

    def __init__(self, app: ASGIApp) -> None:
        self.app = app

    async def __call__(self, scope: Scope, receive: Receive, send: Send) -> None:
        if scope["type"] != "http" or scope["method"] in READING:
            await self.app(scope, receive, send)
            return
        headers = Headers(scope=scope)
        if not _own(headers):
            refused = problem(403, "foreign", "Another site may not change anything here")
            await refused(scope, receive, send)
            return
        stands = policy.of(scope)
        wanted = stands.body.kinds if stands is not None else ()
        said = headers.get("content-type", "").split(";")[0].strip().lower()
        if wanted and said not in wanted:
            entry = FieldProblem(
                field="content-type", problem=f"'{said}' is not what comes here", accepted=" or ".join(wanted)
            )
            await problem(415, "content-type", "Another kind of body is wanted", [entry])(scope, receive, send)
            return
        await self.app(scope, receive, send)


COOKIE = "niddy_session"
MOST_PROVING = 6
"""So many at one time show a password, PIN or code."""

LOOK_AGAIN_S = 20.0
"""So often an open stream looks whether its device is still signed in."""


class SignedIn:
    """ASGI middleware: on a network nobody asks or changes anything who is not signed in and may.

    Who it is stands in `scope["state"]["who"]`, and what is written meanwhile carries them.
    """

    def __init__(self, app: ASGIApp, database: Database, clock: Callable[[], datetime]) -> None:
        self.app, self._database, self._clock = app, database, clock
        self._proving = 0

    async def __call__(self, scope: Scope, receive: Receive, send: Send) -> None:
        if scope["type"] != "http":
            await self.app(scope, receive, send)
            return
        stands, path = policy.of(scope), scope["path"]
        if stands is None and not path.startswith("/api"):
            await self.app(scope, receive, send)
            return
        if stands is not None and stands.few:
            await self._one_of_few(scope, receive, send)
        else:
            await self._asked(scope, receive, send)

    async def _one_of_few(self, scope: Scope, receive: Receive, send: Send) -> None:
        """One of those who show a secret; whoever comes beside too many of them is told to wait, at no cost."""
        if self._proving >= MOST_PROVING:
            entry = FieldProblem(
                field="name", problem="many are signing in just now", accepted="the same again in a moment"
            )
            refused = problem(429, "too-often", "Too many at once", [entry])
            refused.headers["retry-after"] = "2"
            await refused(scope, receive, send)
            return
        self._proving += 1
        try:
            await self._asked(scope, receive, send)
        finally:
            self._proving -= 1

    async def _asked(self, scope: Scope, receive: Receive, send: Send) -> None:
        stands, path = policy.of(scope), scope["path"]
        token = cookie_parser(Headers(scope=scope).get("cookie", "")).get(COOKIE, "")
        try:
            who = await run_in_threadpool(self._who, token) if token else None
        except AWAY_ERRORS as error:
            await away(scope["method"], path, error)(scope, receive, send)
            return
        if who is None:
            if stands is not None and stands.reach is Reach.ANYBODY:
                await self.app(scope, receive, send)
            else:
                await problem(401, "sign-in", "Sign in first; nothing is lost")(scope, receive, send)
            return
        refused = refusal(who, stands.reach) if stands is not None else ""
        if refused:
            entry = FieldProblem(field="", problem=refused, accepted="what your role allows")
            await problem(403, "role", refused, [entry])(scope, receive, send)
            return
        scope.setdefault("state", {})["who"] = who
        at_work = AT_WORK.set(who.maker_id)
        try:
            if stands is not None and stands.lasts:
                await self._while_signed_in(token, scope, receive, send)
            elif stands is not None and stands.noted:
                await self._noting(who, stands.noted, scope, receive, send)
            else:
                await self.app(scope, receive, send)
        finally:
            AT_WORK.reset(at_work)

    def _who(self, token: str) -> Who | None:
        with self._database.session() as session:
            return makers.who(session, self._clock(), token)

    async def _while_signed_in(self, token: str, scope: Scope, receive: Receive, send: Send) -> None:
        """A stream that ends with the sign-in of its device."""

        async def watch() -> None:
            while await run_in_threadpool(self._who, token) is not None:
                await asyncio.sleep(LOOK_AGAIN_S)
            stream.cancel()

        stream = asyncio.ensure_future(self.app(scope, receive, send))
        watching = asyncio.ensure_future(watch())
        try:
            with contextlib.suppress(asyncio.CancelledError):
                await stream
        finally:
            watching.cancel()
            stream.cancel()

    async def _noting(self, who: Who, what: str, scope: Scope, receive: Receive, send: Send) -> None:
        """Answer, and keep that a change without a log of its own was made, before it is told that it was."""

        async def noted(message: Message) -> None:
            if message["type"] == "http.response.start" and message["status"] < 300:
                try:
                    await run_in_threadpool(self._note, who, what, scope["path"])
                except AWAY_ERRORS:
                    # The change itself is made: who made it is lost, and the answer stands.
                    log.warning("nobody is noted for %s %s", scope["method"], scope["path"])
            await send(message)

        await self.app(scope, receive, noted)

    def _note(self, who: Who, what: str, path: str) -> None:
        with self._database.session() as session:
            makers.note_change(session, self._clock(), who.maker_id, what, path)


def _own(headers: Headers) -> bool:
    site = headers.get("sec-fetch-site")
    if site is not None and site not in ("same-origin", "none"):
        return False
    origin = headers.get("origin")
    if origin is None:
        return True
    try:
        return urlsplit(origin).netloc.lower() == headers.get("host", "").lower() != ""
    except ValueError:
        return False
