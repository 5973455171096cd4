"""A foreign page in the maker's own browser: it may look, it may send, and nothing of it may be taken."""

from __future__ import annotations

import http.server
import threading
from functools import partial
from typing import Any

import httpx

from niddy.operations.browser import launch
from niddy.operations.instance import Instance

_FORMS = (
    ("post", "/api/materials/import?write=true", "text/plain", "kind,material,code,received,received_on\npigment,"),
    ("post", "/api/rubout/tests/1/end", "application/x-www-form-urlencoded", ""),
    ("post", "/api/rubout/tests/10/abort", "text/plain", '{"reason": "x"}'),
    ("post", "/api/slab/32/acts", "text/plain", '{"kind": "note"}'),
    ("post", "/api/balance/tare", "text/plain", ""),
)
_FETCHES = (
    (
        "POST",
        "/api/materials/import?write=true",
        "text/plain",
        "kind,material,code,received,received_on\npigment,bone-black,FOREIGN,100,2026-01-02\n",
    ),
    (
        "POST",
        "/api/slab/32/photos/00000000-0000-4000-8000-000000000001?made_at=2026-06-18T10:00:00Z",
        "text/plain",
        "x",
    ),
    ("POST", "/api/rubout/tests/10/end", "text/plain", ""),
    ("POST", "/api/recipes/1/retire", "text/plain", ""),
    ("DELETE", "/api/plan/saved/1", "text/plain", ""),
    ("PUT", "/api/workshop/settings", "application/json", "{}"),
)


class _Quiet(http.server.BaseHTTPRequestHandler):
    def __init__(self, base: str, *rest: Any) -> None:
        self.base = base
        super().__init__(*rest)

    def do_GET(self) -> None:
        forms = "".join(
            f'<form id="f{n}" method="{method}" enctype="{kind}" action="{self.base}{path}" target="frame">'
            f'<textarea name="{body.split(chr(61))[0]}">{body}</textarea></form>'
            for n, (method, path, kind, body) in enumerate(_FORMS)
        )
        page = f"<!doctype html><iframe name=frame src='{self.base}/'></iframe>{forms}".encode()
        self.send_response(200)
        self.send_header("content-type", "text/html")
        self.end_headers()
        self.wfile.write(page)

    def log_message(self, *_: object) -> None:
        """Nothing to say."""


def foreign_page(instance: Instance) -> tuple[int, list[str]]:
    """Open a page of another origin and let it do what a page can; how often it tried, and what it managed."""
    from playwright.sync_api import sync_playwright

    before = _state(instance)
    server = http.server.ThreadingHTTPServer(("127.0.0.1", 0), partial(_Quiet, instance.base))
    threading.Thread(target=server.serve_forever, daemon=True).start()
    harm: list[str] = []
    try:
        with sync_playwright() as started:
            browser = launch(started)
            page = browser.new_page()
            page.goto(f"http://localhost:{server.server_address[1]}/")
            for method, path, kind, body in _FETCHES:
                for mode in ("no-cors", "cors"):
                    if mode == "no-cors" and method != "POST":
                        continue
                    page.evaluate(
                        """([url, method, mode, kind, body]) => fetch(url, {method, mode, credentials: 'include',
                           headers: {'content-type': kind}, body}).then(() => 'sent', () => 'stopped')""",
                        [instance.base + path, method, mode, kind, body],
                    )
            for n in range(len(_FORMS)):
                page.evaluate(f"document.getElementById('f{n}').submit()")
                page.wait_for_timeout(150)
            if any(frame.url.startswith(instance.base) and frame.query_selector("main") for frame in page.frames[1:]):
                harm.append("it was framed")
            browser.close()
    finally:
        server.shutdown()
        server.server_close()
    if _state(instance) != before:
        harm.append("something was changed")
    return len(_FETCHES) * 2 + len(_FORMS) + 1, harm


def _state(instance: Instance) -> list[Any]:
    paths = ("materials/lots", "rubout/tests/10", "slab/32", "plan/saved", "recipes", "workshop")
    answers = [httpx.get(f"{instance.base}/api/{path}", timeout=30).json() for path in paths]
    answers[2].pop("now", None)
    answers[2].pop("mulling", None)
    return answers
