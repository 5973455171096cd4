"""A session at the slab through kills of the application and of PostgreSQL, with the browser's own queue."""

import random
import unittest
from typing import Any
from uuid import uuid4

import httpx
from playwright.sync_api import Page, expect, sync_playwright

from niddy.operations.browser import launch
from niddy.operations.instance import Instance, wait_for
from tests.attack.attacking import PLAN, strike
from tests.support import now_iso

ACTS = 36
KILLS = {5: "app", 11: "database", 16: "both", 22: "database", 27: "app", 33: "database"}


class Faults(unittest.TestCase):
    def setUp(self) -> None:
        self.luck = random.Random(20260618)
        self.instance = Instance(NIDDY_TODAY="2026-06-18")
        self.addCleanup(self.instance.destroy)
        self.instance.start("--no-demo")
        opened = httpx.post(
            f"{self.instance.base}/api/plan/take-to-slab", json={"request_id": str(uuid4()), "plan": PLAN}, timeout=60
        )
        self.number = opened.json()["number"]
        for kind, what in (
            ("ready", {}),
            ("powder", {"source": "library-bone-black", "measure": {"amount": 100.0}}),
            ("look", {"stage": "wet_curds"}),
        ):
            body = {"id": str(uuid4()), "kind": kind, "made_at": now_iso(), **what}
            httpx.post(f"{self.instance.base}/api/slab/{self.number}/acts", json=body, timeout=30).raise_for_status()

    def log(self) -> list[dict[str, Any]]:
        answer = httpx.get(
            f"{self.instance.base}/api/batches/{self.number}/log", params={"before": 2_000_000}, timeout=60
        )
        return list(answer.json()["entries"])

    def pour(self, page: Page, grams: float) -> None:
        page.keyboard.press("p")
        field = page.get_by_label("How much")
        field.fill(str(grams))
        page.keyboard.press("Enter")
        expect(field).to_have_count(0)

    def note(self, page: Page, text: str) -> None:
        page.keyboard.press("n")
        field = page.get_by_role("textbox", name="Note")
        field.fill(text)
        page.get_by_role("button", name="Record", exact=True).click()
        expect(field).to_have_count(0)
        page.evaluate("document.activeElement.blur()")

    def test_every_act_made_in_the_browser_is_there_once_and_in_order(self) -> None:
        with sync_playwright() as playwright:
            browser = launch(playwright)
            page = browser.new_page()
            page.set_default_timeout(60_000)
            expect.set_options(timeout=60_000)
            page.goto(f"{self.instance.base}/slab/{self.number}")
            saved = page.get_by_role("status").filter(has_text="every act saved")
            expect(saved).to_be_visible()
            wanted: list[str] = []
            down = 0
            for n in range(ACTS):
                if n in KILLS:
                    strike(self.instance, KILLS[n])
                    down = 2
                if self.luck.random() < 0.5:
                    self.pour(page, 0.25)
                    wanted.append("oil")
                else:
                    self.note(page, f"note {n}")
                    wanted.append(f"note: note {n}")
                down -= 1
                if down == 0 and self.instance.process is None:
                    self.instance.begin("--no-demo")
                if n == 17:
                    # Reloaded with acts in the queue: they were on disk.
                    wait_for(self.instance.base)
                    page.reload()
                    expect(page.get_by_role("group", name="Acts")).to_be_visible()
            if self.instance.process is None:
                self.instance.begin("--no-demo")
            wait_for(self.instance.base)
            expect(saved).to_be_visible(timeout=150_000)
            expect(page.get_by_role("alert", name="Not taken")).to_have_count(0)
            browser.close()
        told = self.log()[3:]
        self.assertEqual([e["text"] if e["kind"] == "note" else e["kind"] for e in told], wanted)
        self.assertEqual([e["seq"] for e in told], list(range(4, ACTS + 4)))
        seen = httpx.get(f"{self.instance.base}/api/slab/{self.number}", timeout=60).json()
        self.assertAlmostEqual(seen["oil"]["in_g"], 0.25 * wanted.count("oil"))
