"""./niddy screenshots: one picture of each main view, from the demo data with the clock frozen."""

from __future__ import annotations

import socket
import threading
import time
import urllib.request
from datetime import date
from pathlib import Path

import uvicorn

from niddy import demo
from niddy.api import create_app
from niddy.db import Database, migrations
from niddy.operations.browser import launch
from niddy.operations.cluster import free_port, throwaway
from niddy.settings import ROOT, Settings
from niddy.studio import workshop

TODAY = date(2026, 6, 18)
FOLDER = ROOT / "docs" / "screenshots"
LAPTOP, PHONE = (1280, 800), (390, 844)

VIEWS: tuple[tuple[str, str, str, tuple[int, int]], ...] = (
    ("home", "/", "article", LAPTOP),
    ("stock", "/stock", "h2 >> text=Oils", LAPTOP),
    ("rub-out", "/rub-out/10", "[data-part=phase]", LAPTOP),
    ("pigment", "/pigments/bone-black", "h2 >> text=Records", LAPTOP),
    ("plan", "/plan?kept=1", "text=Pour ladder", LAPTOP),
    ("slab", "/slab/4", "[data-part=advice]", LAPTOP),
    ("slab-phone", "/slab/4", "[data-part=advice]", PHONE),
    ("batches", "/batches", "table", LAPTOP),
    ("batch", "/batches/2", "text=Timeline", LAPTOP),
    ("workshop", "/workshop", "text=Tube types", LAPTOP),
)
"""Name, address, what must be there before the picture is taken, size."""


def take() -> int:
    """Take every picture; the exit code."""
    from playwright.sync_api import sync_playwright

    FOLDER.mkdir(parents=True, exist_ok=True)
    cluster = throwaway()
    try:
        url = cluster.ensure()
        migrations.upgrade(url)
        settings = Settings(today=TODAY)
        database = Database(url)
        with database.session() as session:
            workshop.furnish(session)
            demo.load(session, settings.now())
        server, base = _serve(settings, database)
        with sync_playwright() as playwright:
            browser = launch(playwright)
            for name, path, awaited, (width, height) in VIEWS:
                context = browser.new_context(
                    viewport={"width": width, "height": height}, reduced_motion="reduce", timezone_id="UTC"
                )
                page = context.new_page()
                page.goto(base + path)
                page.wait_for_selector(awaited)
                page.evaluate("document.fonts.ready")
                page.wait_for_timeout(500)
                file = FOLDER / f"{name}.png"
                page.screenshot(path=str(file))
                context.close()
                print(file.relative_to(ROOT))
            browser.close()
        _forget_others({name for name, *_ in VIEWS})
        server.should_exit = True
        time.sleep(0.5)
        database.dispose()
    finally:
        cluster.destroy()
    return 0


def _forget_others(names: set[str]) -> None:
    for file in FOLDER.glob("*.png"):
        if file.stem not in names:
            Path(file).unlink()


def _serve(settings: Settings, database: Database) -> tuple[uvicorn.Server, str]:
    port = free_port()
    config = uvicorn.Config(create_app(settings, database), host="127.0.0.1", port=port, log_level="critical")
    server = uvicorn.Server(config)
    threading.Thread(target=server.run, daemon=True).start()
    base = f"http://127.0.0.1:{port}"
    for _ in range(200):
        try:
            with socket.create_connection(("127.0.0.1", port), 0.2), urllib.request.urlopen(f"{base}/api/health"):
                return server, base
        except OSError:
            time.sleep(0.05)
    raise RuntimeError("the server for the screenshots does not answer")
