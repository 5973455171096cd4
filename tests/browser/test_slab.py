"""The session at the slab on real screens: stages, muller, balance, queue, two windows, by eye, pictures."""

import io
import re
import tempfile
from typing import Any

from PIL import Image
from playwright.sync_api import Page, Route, expect

from niddy.operations.browser import launch_kept
from tests.browser.support import BrowserTest, playwright
from tests.support import StandIn

OIL = "library-linseed-refined"
POWDER = "library-bone-black"


class SlabTest(BrowserTest):
    def batch(self, *, wet: bool = True, oil_g: float = 60.0, **plan: Any) -> int:
        """A batch of 100 g bone black, folded in until it is wet."""
        number = self.take_to_slab(**plan)
        self.ok(self.act(number, "ready"))
        self.ok(self.act(number, "powder", source=POWDER, measure={"amount": 100}))
        if wet:
            self.ok(self.act(number, "oil", source=OIL, measure={"amount": oil_g}))
            self.ok(self.act(number, "look", stage="wet_curds"))
        return number

    def open(self, number: int, page: Page | None = None) -> Page:
        page = page or self.page
        page.goto(f"/slab/{number}")
        expect(page.get_by_role("list", name="Stages of the session")).to_be_visible()
        expect(self.saved(page)).to_be_visible()
        return page

    def saved(self, page: Page) -> Any:
        return page.get_by_role("status").filter(has_text="every act saved")

    def state(self, number: int) -> dict[str, Any]:
        found: dict[str, Any] = self.ok(self.client.get(f"/api/slab/{number}"))
        return found


class Stages(SlabTest):
    def test_they_follow_the_acts_and_one_may_go_back(self) -> None:
        number = self.take_to_slab()
        page = self.open(number)
        here = page.locator("[aria-current=step]")
        expect(here).to_have_text("Ready")
        expect(page.get_by_role("region", name="Check the kit.")).to_contain_text("Follow the safety data sheet")
        expect(page.get_by_role("region", name="One load")).to_have_count(0)
        page.get_by_role("button", name="I have everything ready").click()
        expect(here).to_have_text("Powder")
        page.get_by_role("button", name="Weighed in 100.0 g").click()
        expect(here).to_have_text("Fold in")
        page.get_by_role("button", name=re.compile("^Poured")).click()
        expect(page.get_by_text("Fold in until no dust is left, then look.")).to_be_visible()
        expect(page.get_by_role("timer")).to_have_count(0)
        page.get_by_role("button", name="Look", exact=True).click()
        page.get_by_role("button", name=re.compile("^wet curds")).click()
        expect(here).to_have_text("Wet")
        expect(page.get_by_role("timer")).to_be_visible()
        expect(page.get_by_text("Mask on")).to_have_count(0)
        page.get_by_role("button", name="Go back to: Powder").click()
        expect(here).to_have_text("Powder")
        expect(page.get_by_text("You went back to this")).to_be_visible()
        self.assert_accessible(page, "slab, wet")


class Muller(SlabTest):
    def test_hands_free_start_and_pause_loads_gauge_and_gathering(self) -> None:
        kept = self.ok(self.client.get("/api/workshop"))
        bench = {"slab_id": kept["slabs"][1]["id"], "muller_id": kept["mullers"][0]["id"]}
        number = self.batch(target_fineness_um=20.0, working="loads", **bench)
        loads = len(self.state(number)["mulling"]["loads"])
        self.assertGreater(loads, 1)
        page = self.open(number)
        plan = page.get_by_role("img", name=re.compile("^Plan of the slab"))
        page.keyboard.press("Space")
        expect(plan).to_have_attribute("aria-label", re.compile("load 1: running"))
        expect(page.locator("[data-part=advice]")).to_contain_text("Mull on.")
        expect(page.get_by_role("timer")).not_to_have_text("0:00")
        page.keyboard.press("Space")
        expect(plan).to_have_attribute("aria-label", re.compile("load 1: waiting"))
        page.keyboard.press("c")
        expect(page.locator("li[data-kind=scrape]")).to_have_count(1)
        page.get_by_role("button", name="Gauge").click()
        expect(page.get_by_text("a load ends at 20 µm or less")).to_be_visible()
        page.get_by_label("Gauge reads").fill("18")
        page.keyboard.press("Enter")
        expect(plan).to_have_attribute("aria-label", re.compile("load 1: done"))
        # Ended at once, nobody calls it done: it waits.
        page.keyboard.press("m")
        expect(plan).to_have_attribute("aria-label", re.compile("load 2: running"))
        page.get_by_role("group", name="At the muller").get_by_role("button", name="Load done").click()
        expect(plan).to_have_attribute("aria-label", re.compile("load 2: waiting"))
        for n in range(2, loads + 1):
            page.keyboard.press("m")
            expect(plan).to_have_attribute("aria-label", re.compile(f"load {n}: running"))
            page.get_by_role("button", name="Gauge").click()
            page.get_by_label("Gauge reads").fill("18")
            page.keyboard.press("Enter")
            expect(plan).to_have_attribute("aria-label", re.compile(f"load {n}: done"))
        expect(plan).not_to_have_attribute("aria-label", re.compile("to come|waiting|running"))
        page.keyboard.press("g")
        expect(page.locator("li[data-kind=gather]")).to_have_count(1)
        expect(page.locator("[aria-current=step]")).to_have_text("Judge")

    def test_keys_of_the_screen_are_listed(self) -> None:
        page = self.open(self.batch())
        page.keyboard.press("?")
        keys = page.get_by_role("dialog")
        expect(keys).to_contain_text("start or pause the muller")
        expect(keys).to_contain_text("space")

    def test_a_scrape_is_asked_for_when_it_is_due(self) -> None:
        kept = self.ok(self.client.get("/api/workshop"))["settings"]
        self.ok(self.client.put("/api/workshop/settings", json={**kept, "scrape_interval_min": 0.03}))
        page = self.open(self.batch())
        page.keyboard.press("Space")
        due = page.get_by_text("Scrape slab and muller together.")
        expect(due).to_be_visible()
        page.keyboard.press("c")
        expect(due).to_have_count(0, timeout=1_500)


class Looks(SlabTest):
    def test_what_is_seen_is_drawn_and_matched_with_what_was_expected(self) -> None:
        page = self.open(self.batch(oil_g=68))
        for body in ("runs", "runs"):
            page.keyboard.press("l")
            page.get_by_role("button", name=re.compile("^even paste")).click()
            page.get_by_role("button", name="long", exact=True).click()
            page.get_by_role("button", name="glossy", exact=True).click()
            page.get_by_role("button", name=re.compile(f"^{body}")).click()
            expect(page.get_by_role("region", name="Look")).to_have_count(0)
            expect(page.locator("li[data-kind=look]").first).to_contain_text("long string, glossy")
        expect(page.locator("li[data-kind=look]").first).to_contain_text("was expected")
        expect(page.get_by_text("Something does not fit")).to_be_visible()
        box = page.get_by_role("region", name="What does not fit")
        box.get_by_role("button", name="It does look like that").click()
        expect(page.get_by_text("Too soft: choose a way back.")).to_be_visible()
        expect(page.locator("[data-way=add_oil]")).to_have_count(0)


class ByEye(SlabTest):
    def test_taps_get_their_grams_from_the_bottle(self) -> None:
        page = self.open(self.batch(wet=False))
        page.keyboard.press("e")
        entry = page.get_by_role("region", name="By eye")
        tap = entry.get_by_role("button", name="Poured some")
        entry.get_by_label("The bottle before").fill("412")
        entry.get_by_role("button", name="Record").click()
        for n in range(3):
            tap.click()
            expect(page.locator("li[data-kind=by_eye]")).to_have_count(n + 1)
        entry.get_by_label("Or the bottle now").fill("500")
        entry.get_by_role("button", name="Record").click()
        expect(entry.get_by_role("alert")).to_contain_text("Heavier than before")
        entry.get_by_label("Or the bottle now").fill("346")
        entry.get_by_role("button", name="Record").click()
        expect(page.locator("li[data-kind=by_eye]").first).to_contain_text("+22.0 g")
        expect(page.locator("li[data-kind=by_eye]").first).to_contain_text("±9.0 g")


class Pictures(SlabTest):
    def picture(self, width: int, height: int) -> dict[str, Any]:
        out = io.BytesIO()
        Image.new("L", (width, height), 90).save(out, "PNG")
        return {"name": "paste.png", "mimeType": "image/png", "buffer": out.getvalue()}

    def test_one_is_taken_shown_a_broken_one_refused_and_a_huge_one_made_smaller(self) -> None:
        number = self.batch()
        page = self.open(number)
        camera = page.get_by_label("A picture of the paste")
        camera.set_input_files(self.picture(2400, 1800))  # type: ignore[arg-type]
        shown = page.locator("li[data-kind=photo] img")
        expect(shown).to_have_count(1)
        self.assertTrue(shown.evaluate("async (img) => { await img.decode(); return img.naturalWidth === 1600 }"))
        broken = {"name": "broken.jpg", "mimeType": "image/jpeg", "buffer": b"\xff\xd8\xff\xe0 cut short"}
        camera.set_input_files(broken)  # type: ignore[arg-type]
        expect(page.get_by_role("alert").first).to_contain_text("Try a JPEG picture of up to 110 megapixels")
        camera.set_input_files(self.picture(10_000, 6_000))  # type: ignore[arg-type]
        # More than any server takes: the page makes it smaller before it is kept and sent.
        expect(shown).to_have_count(2)
        page.goto(f"/batches/{number}")
        expect(page.locator("li[data-kind=photo] img")).to_have_count(2)


class Balance(SlabTest):
    def setUp(self) -> None:
        super().setUp()
        self.balance = StandIn()
        self.addCleanup(self.balance.stop)
        kept = self.ok(self.client.get("/api/workshop"))["settings"]
        self.ok(self.client.put("/api/workshop/settings", json=self.balance.settings(kept)))

    def pouring(self) -> tuple[int, Page]:
        number = self.batch(wet=False)
        self.balance.set(put_g=120.5)
        page = self.open(number)
        expect(page.get_by_role("status", name="Balance")).to_contain_text("120.50")
        page.keyboard.press("p")
        expect(page.get_by_role("status", name="Weight")).to_have_text("0.00")
        return number, page

    def test_an_addition_is_weighed_by_difference_with_enter(self) -> None:
        number, page = self.pouring()
        self.balance.set(put_g=42.25)
        expect(page.get_by_role("status", name="Weight")).to_have_text("42.25")
        page.keyboard.press("Enter")
        expect(page.locator("li[data-kind=oil]")).to_contain_text("balance 120.5 to 162.75 g")
        self.assertAlmostEqual(self.state(number)["oil"]["in_g"], 42.25)
        expect(page.get_by_role("group", name="Balance")).to_have_count(0)
        # The bottle itself stands on the pan: what it lost went in.
        page.keyboard.press("p")
        expect(page.get_by_role("status", name="Weight")).to_have_text("0.00")
        self.balance.set(put_g=-8)
        expect(page.get_by_role("status", name="Weight")).to_have_text("-8.00")
        page.get_by_role("button", name="Take the reading").click()
        expect(page.locator("li[data-kind=oil]")).to_have_count(2)
        self.assertAlmostEqual(self.state(number)["oil"]["in_g"], 50.25)

    def test_it_is_taken_only_at_rest(self) -> None:
        number, page = self.pouring()
        self.balance.set(noise_g=0.2)
        expect(page.get_by_role("group", name="Balance")).to_contain_text("settling")
        page.keyboard.press("Enter")
        expect(page.get_by_role("button", name="Takes it when it rests")).to_be_visible()
        self.balance.set(put_g=5)
        self.balance.set(noise_g=0.0)
        expect(page.locator("li[data-kind=oil]")).to_have_count(1)
        self.assertAlmostEqual(self.state(number)["oil"]["in_g"], 5, delta=0.6)

    def test_tare_a_stuck_tare_a_jump_overload_and_a_lost_cable_are_said(self) -> None:
        _, page = self.pouring()
        balance = page.get_by_role("group", name="Balance")
        page.get_by_role("button", name=re.compile("^Tare")).click()
        expect(balance).to_contain_text("since 0.00 g")
        self.balance.set(tare_stuck=True, put_g=3)
        expect(page.get_by_role("status", name="Weight")).to_have_text("3.00")
        page.get_by_role("button", name=re.compile("^Tare")).click()
        expect(balance.get_by_role("alert")).to_contain_text("The tare did not take")
        self.balance.set(tare_stuck=False)
        page.get_by_role("button", name=re.compile("^Tare")).click()
        expect(balance.get_by_role("alert")).to_have_count(0)
        # Only once it rests at zero: weight laid on while it tares is tared away.
        expect(page.get_by_role("status", name="Weight")).to_have_text("0.00")
        self.balance.set(put_g=200)
        expect(balance.get_by_role("alert")).to_contain_text("Jumped by")
        expect(page.get_by_role("status", name="Weight")).to_have_text("200.00")
        page.get_by_role("button", name="Start from here").click()
        expect(page.get_by_role("status", name="Weight")).to_have_text("0.00")
        self.balance.set(put_g=900)
        expect(balance.get_by_role("alert")).to_contain_text("Overloaded")
        expect(page.get_by_role("button", name="Take the reading")).to_be_disabled()
        self.balance.set(put_g=-900)
        expect(balance.get_by_role("alert")).to_contain_text("Jumped by")
        # Nothing said before hides that there is no balance any more.
        self.balance.set(cable=False)
        expect(balance.get_by_role("alert")).to_contain_text("cable")
        # Without it everything can still be typed.
        page.get_by_label("Or typed").fill("4")
        page.keyboard.press("Enter")
        expect(page.locator("li[data-kind=oil]")).to_have_count(1)

    def test_it_is_set_up_and_looked_at_in_the_workshop(self) -> None:
        page = self.page
        page.goto("/workshop")
        page.get_by_role("button", name="Look at its weight").click()
        self.balance.set(put_g=33)
        expect(page.get_by_role("status", name="Balance")).to_contain_text("33.00 g, steady")
        page.get_by_label("Pattern of its lines").fill("(")
        page.get_by_role("button", name="Keep these settings").click()
        expect(page.get_by_role("alert")).to_contain_text("Try a regular expression")
        self.assert_accessible(page, "workshop")


class TwoDevices(SlabTest):
    def test_the_muller_runs_on_both_and_only_one_start_counts(self) -> None:
        number = self.batch()
        other = self.window()
        for page in (self.page, other):
            self.open(number, page)
        self.page.keyboard.press("Space")
        expect(other.locator("[data-part=advice]")).to_contain_text("Mull on.", timeout=2_000)
        # A start that crossed on the way: told, and nothing lost.
        self.refused(self.act(number, "mull"), "kind")
        other.keyboard.press("Space")
        expect(self.page.locator("li[data-kind=pause]")).to_have_count(1, timeout=2_000)


class Queue(SlabTest):
    def test_a_server_that_was_not_ready_is_followed_again(self) -> None:
        number = self.batch()
        refused: list[str] = []

        def starting(route: Route) -> None:
            if len(refused) < 2:
                refused.append(route.request.url)
                route.fulfill(status=503, json={"title": "Niddy is still being set up"})
            else:
                route.continue_()

        self.page.route("**/follow", starting)
        self.open(number)
        self.assertEqual(len(refused), 2, "every act is saved all the same")

    def test_acts_and_pictures_survive_a_closed_browser_and_arrive_once(self) -> None:
        number = self.batch()
        away = {"on": True}

        def cut(route: Route) -> None:
            if away["on"]:
                route.abort()
            else:
                route.continue_()

        with tempfile.TemporaryDirectory() as profile:

            def opened() -> Any:
                context = launch_kept(playwright(), profile, self.base)
                context.route(re.compile(r"/api/slab/\d+/(acts|photos)"), cut)
                return context

            context = opened()
            page = self.open(number, context.pages[0])
            page.keyboard.press("Space")
            expect(page.get_by_role("status").filter(has_text="1 act waits for the server")).to_be_visible()
            away_box = page.get_by_role("region", name="The server is away")
            expect(away_box).to_contain_text("muller started")
            page.keyboard.press("p")
            page.get_by_label("How much").fill("2.5")
            page.keyboard.press("Enter")
            out = io.BytesIO()
            Image.new("RGB", (300, 200), "#802020").save(out, "JPEG")
            page.get_by_label("A picture of the paste").set_input_files(
                {"name": "a.jpg", "mimeType": "image/jpeg", "buffer": out.getvalue()}
            )
            waits = page.get_by_role("list", name="Acts that wait")
            expect(waits.get_by_role("listitem")).to_have_count(3)
            expect(waits).to_contain_text("poured, 2.5 g")
            expect(page.get_by_role("timer")).not_to_have_text("0:00")
            self.assertEqual(len(self.state(number)["timeline"]), 4)
            context.close()

            context = opened()
            page = context.pages[0]
            page.goto(f"/slab/{number}")
            expect(page.get_by_role("status").filter(has_text="3 acts wait for the server")).to_be_visible()
            away["on"] = False
            expect(self.saved(page)).to_be_visible()
            kinds = [entry["kind"] for entry in self.state(number)["timeline"]]
            self.assertEqual(kinds[4:], ["mull", "oil", "photo"])
            context.close()

    def test_they_are_sent_from_any_screen_and_what_is_refused_late_is_told(self) -> None:
        number = self.batch()
        page = self.open(number)
        page.route(re.compile("/acts"), lambda route: route.abort())
        page.keyboard.press("Space")
        expect(page.get_by_role("status").filter(has_text="1 act waits")).to_be_visible()
        self.ok(self.act(number, "mull"))
        page.get_by_role("link", name="Workshop").click()
        page.unroute(re.compile("/acts"))
        page.wait_for_function(
            """() => new Promise((done) => {
                const opening = indexedDB.open('niddy')
                opening.onsuccess = () => {
                    const count = opening.result.transaction('waiting').objectStore('waiting').count()
                    count.onsuccess = () => { done(count.result === 0); opening.result.close() }
                }
            })"""
        )
        self.open(number)
        told = page.get_by_role("alert", name="Not taken")
        expect(told).to_contain_text("Not taken: muller started.")
        expect(told).to_contain_text("The muller runs already")
        page.goto("/")
        expect(told).to_contain_text("Not taken: muller started.")
        told.get_by_role("button", name="Give it up").click()
        told.get_by_role("button", name="Give it up for good").click()
        expect(told).to_contain_text("a few words why")
        told.get_by_label("Why is it given up?").fill("the tablet had it running")
        told.get_by_role("button", name="Give it up for good").click()
        expect(told).to_have_count(0)
        self.open(number)
        expect(page.get_by_text("given up: muller started. the tablet had it running")).to_be_visible()


class Phone(SlabTest):
    size = {"width": 390, "height": 844}

    def test_everything_is_there_at_390(self) -> None:
        page = self.open(self.batch())
        self.assert_fits(page, "slab at 390")
        for name in ("Start the muller", "Mull", "Pour", "Look", "Undo", "More"):
            button = page.locator("[data-part=acts]").get_by_role("button", name=name, exact=True)
            box = button.bounding_box()
            assert box is not None
            self.assertGreaterEqual(box["height"], 72, name)
        for key, region in (("l", "Look"), ("e", "By eye")):
            page.keyboard.press(key)
            expect(page.get_by_role("region", name=region)).to_be_visible()
            self.assert_fits(page, region)
            page.keyboard.press("Escape")
        self.assert_accessible(page, "slab at 390")


class Tablet(SlabTest):
    size = {"width": 820, "height": 1180}

    def test_what_to_do_and_the_muller_are_seen_without_scrolling(self) -> None:
        page = self.open(self.batch())
        self.assert_fits(page, "slab at 820")
        for part in (page.locator("[data-part=advice]"), page.get_by_role("timer")):
            box = part.bounding_box()
            assert box is not None
            self.assertLess(box["y"] + box["height"], 1180)


class ThePage(SlabTest):
    def test_the_session_is_told_and_taken_away_as_files(self) -> None:
        page = self.page
        page.goto("/batches/24")
        expect(page.get_by_role("img", name=re.compile(r"\d+ spells at the muller"))).to_be_visible()
        for name, start in (("Export as JSON", "{"), ("as CSV", "seq,made_at,kind")):
            with page.expect_download() as download:
                page.get_by_role("link", name=name).click()
            self.assertTrue(download.value.path().read_text().startswith(start))
        self.assert_accessible(page, "batch page")
