"""The real screens in a real browser, on a real server with the demo studio."""

from __future__ import annotations

import atexit
import random
import re
from contextlib import closing
from functools import cache
from socket import socket
from typing import Any, ClassVar, Literal

from axe_playwright_python.sync_playwright import Axe
from playwright.sync_api import Browser, BrowserContext, ConsoleMessage, Page, Playwright, expect, sync_playwright

from niddy.operations.browser import launch
from niddy.operations.frontend import OPENAPI
from tests.support import ServerTest

expect.set_options(timeout=20_000)


AXE = {"resultTypes": ["violations"], "preload": False}
"""Every rule; what passes is not described, and style sheets, which none of the rules in use reads, are not fetched."""


@cache
def playwright() -> Playwright:
    """What drives the browsers of this test process."""
    started = sync_playwright().start()
    atexit.register(started.stop)
    return started


ELSEWHERE = "studio.test"
"""A name under which the browser finds a test's server: plain http off loopback, as in a studio's own network."""


@cache
def browser() -> Browser:
    """The browser of this test process."""
    made = launch(playwright(), f"--host-resolver-rules=MAP {ELSEWHERE} 127.0.0.1", "--process-per-site")
    atexit.register(made.close)
    return made


@cache
def port() -> int:
    """Where the servers of this test process listen, one after the other.

    Below the ports that outgoing connections are given, so that none of them is sitting there for the next.
    """
    for candidate in random.SystemRandom().sample(range(20_000, 30_000), 50):
        with closing(socket()) as probe:
            if probe.connect_ex(("127.0.0.1", candidate)):
                return candidate
    raise OSError("no port is free")


@cache
def kept() -> tuple[BrowserContext, Page]:
    """The context that tests use one after the other, and a page of it that keeps its renderer alive.

    A browser's new context fetches and compiles every script anew, which is most of what a short test takes.
    """
    context = browser().new_context(
        base_url=f"http://127.0.0.1:{port()}", reduced_motion="reduce", service_workers="block"
    )
    return context, context.new_page()


class BrowserTest(ServerTest):
    """One browser a process and one context, emptied before each test; an error on a page fails the test."""

    with_demo = True
    description = OPENAPI
    size: ClassVar[dict[str, int]] = {"width": 1280, "height": 800}

    @classmethod
    def port(cls) -> int:
        """The same for every class, so that the browser knows its scripts again."""
        return port()

    def setUp(self) -> None:
        self.errors: list[str] = []
        self.page = self.window() if self.host else self._kept_window()

    def _kept_window(self) -> Page:
        context, anchor = kept()
        anchor.goto("/api/health")
        told = context.new_cdp_session(anchor)
        told.send("Storage.clearDataForOrigin", {"origin": self.base, "storageTypes": "all"})
        told.detach()
        context.clear_cookies()
        page = self._heard_from(context.new_page())
        page.set_viewport_size(self.size)  # type: ignore[arg-type]
        self.addCleanup(self._leave)
        return page

    def _leave(self) -> None:
        context, anchor = kept()
        context.set_offline(False)
        for page in context.pages:
            if page != anchor:
                page.close()

    def window(self, base: str = "", service_workers: Literal["allow", "block"] = "block") -> Page:
        """A new window in a context of its own."""
        context = browser().new_context(
            viewport=self.size,
            base_url=base or self.base,
            reduced_motion="reduce",
            service_workers=service_workers,  # type: ignore[arg-type]
            ignore_https_errors=True,
        )
        self.addCleanup(context.close)
        if self.host and self.signs_in:
            signed = self.client.cookies["niddy_session"]
            context.add_cookies([{"name": "niddy_session", "value": signed, "url": base or self.base}])
        return self._heard_from(context.new_page())

    def _heard_from(self, page: Page) -> Page:
        page.set_default_timeout(20_000)
        page.on("pageerror", lambda error: self.errors.append(str(error)))
        page.on("console", self._heard)
        return page

    def _heard(self, message: ConsoleMessage) -> None:
        if "Content Security Policy" in message.text:
            self.errors.append(message.text)

    def tearDown(self) -> None:
        self.assertEqual(self.errors, [])

    def choose(self, label: str, name: str, detail: str = "") -> None:
        """Choose a material by typing into a picker; `detail` tells a lot from the library's entry of that name."""
        picker = self.page.get_by_role("combobox", name=label, exact=True)
        picker.fill(name)
        self.page.get_by_role("option", name=re.compile(f"{re.escape(name)}.*{detail}", re.I | re.S)).first.click()
        # The picker takes the focus back some frames later, which would close the next one's list under the pointer.
        expect(picker).to_have_attribute("aria-expanded", "false")
        self.page.evaluate(
            "async () => { for (let n = 0; n < 6; n++) await new Promise((then) => requestAnimationFrame(then)) }"
        )

    def more(self, page: Page, name: str) -> None:
        """Choose one of the acts that are folded away at the slab."""
        page.get_by_role("button", name="More", exact=True).click()
        page.get_by_role("menuitem", name=name).click()

    def figure(self, page: Page, label: str) -> float:
        """The value of a figure as a screen reader hears it."""
        said = page.get_by_role("button", name=re.compile(f"^{label}: ")).first.get_attribute("aria-label") or ""
        return float(re.sub(r"\s", "", said.split(": ")[1].split(" ")[0]))

    def assert_accessible(self, page: Page, where: str) -> None:
        """axe finds nothing serious."""
        found: list[dict[str, Any]] = Axe().run(page, options=AXE).response["violations"]
        serious = [f"{v['id']}: {v['nodes'][0]['html'][:160]}" for v in found if v["impact"] in ("serious", "critical")]
        self.assertEqual(serious, [], where)

    def assert_fits(self, page: Page, where: str) -> None:
        """Nothing has to be scrolled sideways."""
        over = page.evaluate("document.documentElement.scrollWidth - document.documentElement.clientWidth")
        self.assertLessEqual(over, 0, where)


PHONE = {"width": 390, "height": 844}


class Walk(BrowserTest):
    """From an empty studio on a phone, to what a maker came for; taps are counted, and a word typed is one."""

    with_demo = False
    size = PHONE

    def setUp(self) -> None:
        super().setUp()
        self.taps = 0
        kept = self.ok(self.client.get("/api/workshop"))["settings"]
        self.addCleanup(lambda: self.ok(self.client.put("/api/workshop/settings", json=kept)))
        self.kept = kept

    def measures_with(self, measuring: str) -> None:
        """What the studio measures with."""
        self.ok(self.client.put("/api/workshop/settings", json={**self.kept, "measuring": measuring}))

    def tap(self, name: str | re.Pattern[str], role: Any = "button", within: str = "") -> None:
        """One tap on the first of a name, in a region where one is named."""
        self.taps += 1
        place: Any = self.page.get_by_role("region", name=within) if within else self.page
        place.get_by_role(role, name=name).first.click()

    def typed(self, label: str, words: str) -> None:
        """A field filled."""
        self.taps += 1
        self.page.get_by_label(label, exact=True).first.fill(words)

    def chosen(self, label: str, name: str) -> None:
        """A material chosen from a picker: two taps."""
        self.tap(label, "combobox")
        self.tap(re.compile(f"^{re.escape(name)}"), "option")

    def to_plan(self) -> None:
        """From home to a plan: by the first question while the studio is empty, by the line of stations after."""
        expect(self.page.get_by_role("heading", level=1)).to_be_visible()
        asked = self.page.get_by_role("link", name=re.compile("^Tube paint"))
        self.tap(re.compile("^Tube paint") if asked.count() else "Plan", "link")

    def within(self, most: int, what: str) -> None:
        """So many taps at the most."""
        print(f"taps: {what}: {self.taps}")
        self.assertLessEqual(self.taps, most, what)
