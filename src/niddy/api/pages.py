"""The built front end: its files, and the page of every address that is no room's. Read before any room is."""

from __future__ import annotations

from pathlib import Path
from typing import Any

from starlette.responses import FileResponse, HTMLResponse, Response
from starlette.staticfiles import StaticFiles

from niddy.settings import ROOT

DIST = ROOT / "frontend" / "dist"

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

NOT_YET = """<!doctype html><html lang="en"><meta charset="utf-8"><meta http-equiv="refresh" content="1">
<title>Niddy</title><body style="font:1.5rem sans-serif;margin:4rem"><h1>Niddy is being set up.</h1>
<p>This page comes by itself. The first time it takes about a minute.</p></body></html>"""


class NamedByContents(StaticFiles):
    """Files that the build names after what is in them: whoever has one need not ask for it again."""

    def file_response(self, *args: Any, **kwargs: Any) -> Response:
        """A file, to be kept."""
        response = super().file_response(*args, **kwargs)
        response.headers["cache-control"] = "public, max-age=31536000, immutable"
        return response


def page_at(dist: Path, path: str) -> Response:
    """The file of that path, or the one page that all of the screens are; while it is built, that it is."""
    asked = _file(dist, path)
    if asked is None and path.startswith("assets/"):
        return Response(status_code=404)
    page = asked or dist / "index.html"
    if not page.is_file():
        return HTMLResponse(NOT_YET, 503, {"cache-control": "no-store", "retry-after": "1"})
    return FileResponse(page, headers={"cache-control": "no-cache"})


def _file(dist: Path, path: str) -> Path | None:
    """A file of the built front end, or None where that path names none."""
    if not path or "\0" in path or len(path) > 1_000:
        return None
    asked = (dist / path).resolve()
    return asked if asked.is_relative_to(dist.resolve()) and asked.is_file() else None
