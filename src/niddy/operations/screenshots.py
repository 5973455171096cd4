"""./niddy screenshots: one picture of each main view, from the demo data with the clock frozen."""

from __future__ import annotations

import socket
import threading
import time
import urllib.request
from collections.abc import Callable
from dataclasses import dataclass
from datetime import date, datetime
from pathlib import Path
from typing import TYPE_CHECKING

import uvicorn
from fastapi import FastAPI
from pydantic import SecretStr
from sqlalchemy import text

from niddy import demo
from niddy.api.app import create_app
from niddy.core.makers import MakerRole
from niddy.db import Database, migrations
from niddy.operations.browser import launch
from niddy.operations.ports import free_port
from niddy.operations.throwaway import throwaway
from niddy.settings import ROOT, Settings
from niddy.studio import makers, workshop
from niddy.studio.makers import NewMaker

if TYPE_CHECKING:
    from playwright.sync_api import Page

TODAY = date(2026, 6, 18)
FOLDER = ROOT / "docs" / "screenshots"
LAPTOP, PHONE = (1280, 800), (390, 844)


@dataclass(frozen=True)
class View:
    """One picture: its name, address, what must be there, the steps before it is taken, its size, and whether one
    signs in for it.
    """

    name: str
    path: str
    awaited: str
    steps: Callable[[Page], None] | None = None
    size: tuple[int, int] = LAPTOP
    on_network: bool = False


def _in_spoons(page: Page) -> None:
    with page.expect_response("**/api/plan"):
        page.get_by_role("button", name="Spoons, drops").click()
    with page.expect_response("**/api/plan"):
        page.get_by_label("Worked with").select_option("knife")
    page.evaluate("scrollTo(0, 0)")


def _a_set(page: Page) -> None:
    for n, (name, lot) in enumerate((("Bone black", "BB-3"), ("Viridian", "VI-2"))):
        if n:
            page.get_by_role("button", name="Add a colour").click()
        page.get_by_role("button", name="Give it a pigment").click()
        picker = page.get_by_role("combobox", name="Pigment", exact=True)
        picker.fill(name)
        page.get_by_role("option").filter(has_text=lot).click()
        page.wait_for_timeout(600)
    page.evaluate("scrollTo(0, 0)")


MAKERS = (("Ada Marsh", MakerRole.OWNER), ("Bo", MakerRole.MAKER), ("Lu", MakerRole.LOOKER))
PASSWORD = "umber and linseed"  # noqa: S105


def _sign_in(page: Page) -> None:
    page.get_by_label("Name").fill(MAKERS[0][0])
    page.get_by_label("Password").fill(PASSWORD)
    page.get_by_role("button", name="Sign in").click()
    page.wait_for_selector("text=Who works here")


def _with_makers(database: Database, now: datetime) -> None:
    """Three made-up makers, and who of them did what of the demo's day."""
    made = [
        makers.add(database, now, NewMaker(name=name, role=role, password=SecretStr(PASSWORD))) for name, role in MAKERS
    ]
    with database.session() as session:
        session.execute(text("update act set maker_id = :ada where job_id % 2 = 0"), {"ada": made[0]})
        session.execute(text("update act set maker_id = :bo where job_id % 2 = 1"), {"bo": made[1]})


def _on_the_table(page: Page) -> None:
    page.get_by_label("Gross weight").fill("79.8")
    page.wait_for_selector("text=Tap it out")


VIEWS = (
    View("home", "/", "article"),
    View("rub-out", "/rub-out/10", "[data-part=phase]"),
    View("plan", "/plan?kept=1", "text=Pour ladder"),
    View("slab", "/slab/32", "[data-part=advice]"),
    View("plan-spoons", "/plan?kept=1", "text=Pour ladder", _in_spoons),
    View("slab-phone", "/slab/32", "[data-part=advice]", size=PHONE),
    View("ladder", "/additives/ladders/1", "text=Lines through the readings"),
    View("tubes", "/tubes/30", "text=Filling and sealing", _on_the_table),
    View("labels", "/labels?items=1,2,3", "text=To copy by hand"),
    View("sticks-set", "/sticks/plan?base=1", "text=Cast in this order", _a_set),
    View("sticks-pot", "/sticks/9", "[data-part=advice]"),
    View("sludge-can", "/sludge/cans/1", "text=Ledger"),
    View("making", "/making/1", "text=A run on paper"),
    View("making-run", "/making/runs/4", "[data-part=advice]"),
    View("day", "/day/2026-06-18", "text=on the slab now"),
    View("practice", "/practice/4", "[data-part=advice]"),
    View("chart", "/mixing/charts/1", "text=How right it is"),
    View("find", "/mixing/find", "text=close to"),
    View("makers", "/makers", "text=Who did what", on_network=True),
)


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
        demo.load(database, settings.now())
        server, base = _serve(create_app(settings, database), "/api/health")
        with sync_playwright() as playwright:
            browser = launch(playwright)
            for view in VIEWS:
                width, height = view.size
                context = browser.new_context(
                    viewport={"width": width, "height": height}, reduced_motion="reduce", timezone_id="UTC"
                )
                page = context.new_page()
                if view.on_network:
                    _with_makers(database, settings.now())
                    port = free_port()
                    on_network = Settings.model_validate(
                        {"today": TODAY, "port": port, "address": f"http://127.0.0.1:{port}"}
                    )
                    server.should_exit = True
                    server, base = _serve(create_app(on_network, database), "/api/health", port)
                page.goto(base + view.path)
                if view.on_network:
                    _sign_in(page)
                page.wait_for_selector(view.awaited)
                if view.steps:
                    view.steps(page)
                page.evaluate("document.fonts.ready")
                page.wait_for_timeout(500)
                file = FOLDER / f"{view.name}.png"
                page.screenshot(path=str(file))
                context.close()
                print(file.relative_to(ROOT))
            browser.close()
        _forget_others({view.name for view in VIEWS})
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


def _serve(app: FastAPI, health: str, port: int = 0) -> tuple[uvicorn.Server, str]:
    port = port or free_port()
    server = uvicorn.Server(uvicorn.Config(app, host="127.0.0.1", port=port, log_level="critical"))
    threading.Thread(target=server.run, daemon=True).start()
    base = f"http://127.0.0.1:{port}"
    for _ in range(200):
        try:
            with socket.create_connection(("127.0.0.1", port), 0.2), urllib.request.urlopen(base + health):  # noqa: S310
                return server, base
        except OSError:
            time.sleep(0.05)
    raise RuntimeError("the server for the screenshots does not answer")
