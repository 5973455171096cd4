"""The unhappy path on screen: a server that is away, odd input, narrow windows; nothing typed is lost."""

import re
from typing import ClassVar

from playwright.sync_api import Route, expect

from tests.browser.support import BrowserTest


class ServerAway(BrowserTest):
    def cut(self, pattern: str) -> None:
        self.page.route(pattern, lambda route: route.abort())

    def mend(self, pattern: str) -> None:
        self.page.unroute(pattern)

    def test_the_plan_keeps_its_last_figures_and_asks_again(self) -> None:
        page = self.page
        page.goto("/plan?kept=1")
        expect(page.get_by_role("heading", level=1)).to_contain_text("Viridian")
        before = self.figure(page, "Weigh out")
        self.cut("**/api/plan")
        page.get_by_role("button", name="One 40 ml tube more").click()
        expect(page.get_by_role("alert").filter(has_text="does not answer")).to_be_visible()
        self.assertEqual(self.figure(page, "Weigh out"), before)
        self.mend("**/api/plan")
        page.get_by_role("button", name="Ask again").click()
        expect(page.get_by_role("alert").filter(has_text="does not answer")).to_have_count(0)
        self.assertGreater(self.figure(page, "Weigh out"), before)

    def test_a_note_on_a_batch_page_stays_typed(self) -> None:
        page = self.page
        page.goto("/batches/24")
        page.get_by_label("Add a note").fill("Kept through the storm")
        self.cut("**/acts")
        page.get_by_role("button", name="Add the note").click()
        expect(page.get_by_role("alert")).to_contain_text("what you typed is kept")
        expect(page.get_by_label("Add a note")).to_have_value("Kept through the storm")
        self.mend("**/acts")
        page.get_by_role("button", name="Add the note").click()
        expect(page.get_by_text("note: Kept through the storm")).to_be_visible()

    def test_a_device_with_a_wrong_clock_that_was_told_nothing_yet_records_the_servers_time(self) -> None:
        page = self.page
        held: list[Route] = []
        page.route("**/api/home", lambda route: route.continue_() if held else held.append(route))
        page.goto("/shelf/1")
        expect(page.get_by_role("heading", level=1)).to_contain_text("Ultramarine blue")
        self.assertEqual(len(held), 1)
        page.get_by_role("button", name="Move it").click()
        page.get_by_label("Where it stands now").fill("drawer 3")
        page.get_by_role("button", name="Move", exact=True).click()
        expect(page.get_by_role("region", name="What happened to it")).to_contain_text("18 Jun 2026")
        expect(page.get_by_role("alert")).to_have_count(0)
        held[0].continue_()
        self.mend("**/api/home")

    def test_a_rub_out_step_whose_answer_was_lost_counts_once(self) -> None:
        page = self.page
        page.goto("/rub-out")
        page.get_by_role("link", name=re.compile("Cerulean blue.*go on")).click()
        steps = page.locator("[data-part=step]")
        expect(steps).to_have_count(2)
        lost: list[bool] = []

        def swallow(route: Route) -> None:
            if not lost:
                lost.append(True)
                route.fetch()
                route.abort()
            else:
                route.continue_()

        page.route("**/steps", swallow)
        page.get_by_role("button", name="1 drop").click()
        expect(page.get_by_role("alert")).to_contain_text("does not answer")
        page.get_by_role("button", name="1 drop").click()
        expect(steps).to_have_count(3)
        page.reload()
        expect(steps).to_have_count(3)

    def test_taking_a_plan_to_the_slab_twice_makes_one_batch(self) -> None:
        page = self.page
        page.goto("/plan?kept=1")
        expect(page.get_by_role("heading", level=1)).to_contain_text("Viridian")
        count = len(self.ok(self.client.get("/api/batches"))["batches"])
        page.route("**/take-to-slab", lambda route: (route.fetch(), route.abort()))
        page.get_by_role("button", name="Take it to the slab").click()
        expect(page.get_by_role("alert")).to_contain_text("Try again")
        page.unroute("**/take-to-slab")
        page.get_by_role("button", name="Take it to the slab").click()
        expect(page).to_have_url(re.compile(r"/slab/\d+$"))
        self.assertEqual(len(self.ok(self.client.get("/api/batches"))["batches"]), count + 1)


class OddInput(BrowserTest):
    def test_a_plan_says_what_would_be_accepted(self) -> None:
        page = self.page
        page.goto("/plan?kept=1")
        expect(page.get_by_role("heading", level=1)).to_contain_text("Viridian")
        page.get_by_role("button", name="Pigment on hand").click()
        field = page.get_by_label("Pigment in all")
        for typed, words in {
            "-5": "Try at least 0.001",
            "1000000": "Try at most 20000",
            "some": "Not a number",
        }.items():
            field.fill(typed)
            expect(page.get_by_role("alert").first).to_contain_text(words)
            expect(field).to_have_value(typed)
            expect(field).to_have_attribute("aria-invalid", "true")
        field.fill("80")
        expect(page.get_by_role("button", name=re.compile(r"^Weigh out: 80\.0 g"))).to_be_visible()
        page.get_by_role("button", name="Tubes wanted").click()
        page.get_by_role("button", name="One 40 ml tube less").click()
        page.get_by_role("button", name="One 40 ml tube less").click()
        expect(page.get_by_role("alert").first).to_contain_text("No tube at all")
        expect(page.get_by_role("button", name="Take it to the slab")).to_be_disabled()

    def test_a_workshop_setting_is_refused_at_its_field(self) -> None:
        page = self.page
        page.goto("/workshop")
        page.get_by_label("Usual target, reduced PVC").fill("2")
        page.get_by_role("button", name="Keep the settings").click()
        expect(page.get_by_role("alert")).to_contain_text("Try at most 1.15")
        page.get_by_label("Usual target, reduced PVC").fill("0.88")
        page.get_by_label("Currency, three letters").fill("eu")
        page.get_by_role("button", name="Keep the settings").click()
        expect(page.get_by_role("alert")).to_be_visible()
        page.get_by_label("Currency, three letters").fill("GBP")
        page.get_by_role("button", name="Keep the settings").click()
        expect(page.get_by_role("status")).to_contain_text("Settings are kept")

    def test_the_shelf_by_keyboard(self) -> None:
        page = self.page
        page.goto("/stock")
        expect(page.get_by_role("heading", name="Pigments")).to_be_visible()
        for _ in range(2):
            page.keyboard.press("j")
        expect(page.get_by_role("link", name=re.compile("Burnt sienna.*BS-1"))).to_be_focused()
        page.keyboard.press("k")
        page.keyboard.press("Enter")
        expect(page.get_by_role("heading", level=1)).to_contain_text("Bone black")
        page.keyboard.press("c")
        page.get_by_label("Hazards of this lot").fill("dragons")
        page.get_by_role("button", name="Keep", exact=True).click()
        expect(page.get_by_role("alert")).to_contain_text("'dragons' is unknown")
        page.get_by_label("Hazards of this lot").fill("lead, silica")
        page.get_by_role("button", name="Keep", exact=True).click()
        expect(page.get_by_text("Hazards noted: lead, silica")).to_be_visible()


class Narrow(BrowserTest):
    size: ClassVar[dict[str, int]] = {"width": 390, "height": 844}

    def test_no_screen_has_to_be_scrolled_sideways_on_a_phone(self) -> None:
        for path in (
            "/",
            "/slab/32",
            "/plan?kept=1",
            "/stock",
            "/stock/1",
            "/rub-out/10",
            "/batches/24",
            "/pigments/bone-black",
        ):
            with self.subTest(path):
                self.page.goto(path)
                expect(self.page.get_by_role("heading", level=1)).to_be_visible()
                self.assert_fits(self.page, path)
