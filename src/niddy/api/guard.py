"""What stands before every room: only this site's own pages may change anything, and what every answer carries."""

from __future__ import annotations

import logging
import re
from urllib.parse import urlsplit

from starlette.datastructures import Headers, MutableHeaders
from starlette.types import ASGIApp, Message, Receive, Scope, Send

from niddy.api.problems import FieldProblem, problem

log = logging.getLogger("niddy")

READING = frozenset({"GET", "HEAD", "OPTIONS"})
CONTENT = (
    (re.compile(r"/api/materials/import"), ("text/csv",)),
    (
        re.compile(r"/api/(?:slab|shelf)/\d+/photos/[^/]+|/api/checks/photograph"),
        ("image/jpeg", "image/png", "image/webp"),
    ),
)
"""Bodies that are no JSON, and what they must say they are: what a foreign page's form can send is none of these."""

SAFE_HEADERS = {
    "content-security-policy": "; ".join(
        (
            "default-src 'self'",
            "script-src 'self'",
            # Vue and the API's page set styles on elements; no style sheet comes from elsewhere.
            "style-src 'self' 'unsafe-inline'",
            "img-src 'self' data: blob:",
            "font-src 'self' data:",
            "object-src 'none'",
            "base-uri 'none'",
            "form-action 'self'",
            "frame-ancestors 'none'",
        )
    ),
    "x-content-type-options": "nosniff",
    "x-frame-options": "DENY",
    "referrer-policy": "same-origin",
    "cross-origin-opener-policy": "same-origin",
    "cross-origin-resource-policy": "same-origin",
}


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
            refusal = problem(500, "unforeseen", "Something went wrong here; nothing was written")
            await refusal(scope, receive, with_headers)


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
            refusal = problem(403, "foreign", "Another site may not change anything here")
            await refusal(scope, receive, send)
            return
        wanted = next((kinds for path, kinds in CONTENT if path.fullmatch(scope["path"])), None)
        said = headers.get("content-type", "").split(";")[0].strip().lower()
        if wanted is not None and said not in wanted:
            entry = FieldProblem(
                field="content-type", problem=f"'{said}' is not what comes here", accepted=" or ".join(wanted)
            )
            await problem(415, "content-type", "Another kind of body is wanted", [entry])(scope, receive, send)
            return
        await self.app(scope, receive, send)


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
