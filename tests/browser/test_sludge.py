"""Sludge on real screens: from a washing on the phone to a labelled tube; questions, the queue, the clean-up."""

import re
from datetime import timedelta
from typing import Any
from uuid import uuid4

from playwright.sync_api import Locator, Page, expect

from niddy.core.sludge import mass_at
from tests.browser.support import BrowserTest
from tests.support import NOW

PHONE, LAPTOP = {"width": 390, "height": 844}, {"width": 1280, "height": 800}


class SludgeTest(BrowserTest):
    def can(self, name: str, **what: Any) -> int:
        asked = {"request_id": str(uuid4()), "name": name, "solvent_key": "white-spirit", "solvent_ml": 500.0, **what}
        number: int = self.ok(self.client.post("/api/sludge/cans", json=asked))["number"]
        return number

    def act(self, path: str, hours_ago: float = 0.0, **what: Any) -> Any:
        at = (NOW - timedelta(hours=hours_ago)).isoformat()
        return self.ok(self.client.post(f"/api/sludge/{path}/acts", json={"id": str(uuid4()), "made_at": at, **what}))

    def dish(self, can: int, *keys: str) -> int:
        """A dish of what was washed into a can, four times weighed till it is all but dry."""
        paints = [{"source": f"library-{key}", "much": "palette"} for key in keys]
        self.act(f"cans/{can}", 120, kind="washing", paints=paints)
        asked = {"request_id": str(uuid4()), "can_number": can, "method": "evaporate", "tare_g": 100.0}
        number: int = self.ok(self.client.post("/api/sludge/dishes", json=asked))["number"]
        self.weighed(number)
        return number

    def weighed(self, dish: int) -> None:
        for hours in (0, 8, 26, 50):
            grams = round(100 + mass_at(hours, 180, 112, 18), 2)
            self.act(f"dishes/{dish}", 100 - hours, kind="weigh", g=grams)


class FromTheCan(SludgeTest):
    size = PHONE

    def test_from_a_washing_on_the_phone_to_a_labelled_tube(self) -> None:
        page = self.page
        page.goto("/sludge")
        page.get_by_role("button", name="New can").click()
        page.get_by_role("button", name="Begin the can").click()
        expect(page.get_by_role("alert")).to_contain_text("1 to 80")
        page.get_by_label("Name").fill("Phone can")
        page.get_by_label("Poured in now").fill("400")
        page.get_by_role("button", name="Begin the can").click()
        expect(page.get_by_role("heading", level=1)).to_contain_text("Phone can")

        page.get_by_role("button", name="a brushful").click()
        expect(page.get_by_role("alert")).to_contain_text("Tap what was on the brush first")
        burnt = page.get_by_role("group", name="Paints").get_by_role("button", name=re.compile("Burnt sienna"))
        box = burnt.bounding_box()
        assert box is not None
        self.assertGreaterEqual(box["height"], 72)
        burnt.click()
        page.get_by_role("button", name="a palette's worth").click()
        expect(page.get_by_role("status").filter(has_text="Kept:")).to_contain_text("Burnt sienna")
        page.get_by_role("button", name="Another tube or jar").click()
        page.get_by_label("Another tube or jar: its code").fill("2-1")
        page.get_by_role("button", name=re.compile("Burnt umber 2-1")).click()
        page.get_by_role("button", name="a brushful").click()
        expect(page.get_by_role("region", name="What is in its sludge")).to_contain_text("Burnt umber")
        self.assert_fits(page, "can at 390")
        self.assert_accessible(page, "can at 390")

        page.get_by_role("button", name="Pour off").click()
        page.get_by_label("How much").fill("900")
        page.get_by_role("button", name="Keep it", exact=True).click()
        expect(page.get_by_role("alert")).to_contain_text("900 ml is more than was logged")
        page.get_by_label("How much").fill("250")
        page.get_by_role("button", name="Keep it", exact=True).click()
        expect(page.get_by_role("region", name="Its solvent")).to_contain_text("250")
        page.get_by_role("button", name="Top up").click()
        page.get_by_role("combobox", name="Solvent").select_option("turpentine")
        page.get_by_label("How much").fill("50")
        page.get_by_role("button", name="Keep it", exact=True).click()
        expect(page.get_by_role("alert")).to_contain_text("white spirit is in this can", ignore_case=True)
        page.get_by_role("button", name="Close").click()

        page.get_by_role("button", name="Sludge into a dish").click()
        page.get_by_label("Empty dish").fill("100")
        page.get_by_role("button", name="Into the dish").click()
        expect(page.get_by_role("heading", level=1)).to_contain_text("Sludge of Phone can")
        dish = int(page.url.rsplit("/", 1)[1])
        expect(page.locator("[data-part=advice]")).to_contain_text("Nobody knows yet how wet it is")
        self.weighed(dish)
        expect(page.locator("[data-part=advice]")).to_contain_text("Tube it now and it will shrink")
        expect(page.get_by_role("img", name=re.compile("4 weighings; dry enough about"))).to_be_visible()
        self.tap(page, "Weigh it")
        page.get_by_label("Dish and sludge").fill("290")
        page.get_by_role("button", name="Keep it", exact=True).click()
        expect(page.get_by_role("alert")).to_contain_text("was something added?")
        page.get_by_label("Dish and sludge").fill("212,2")
        page.get_by_role("button", name="Keep it", exact=True).click()
        self.tap(page, "Strain it")
        page.get_by_role("button", name="fine sieve, 150").click()
        page.get_by_role("button", name="Keep it", exact=True).click()
        self.tap(page, "Into stock")
        self.assert_accessible(page, "into stock at 390")
        page.get_by_label("Code on its jar").fill("PC-1")
        page.get_by_role("region", name="Into stock as a pigment").get_by_role("button", name="Into stock").click()
        page.get_by_role("link", name="Lot PC-1 in stock").click()
        expect(page.get_by_role("heading", level=1)).to_contain_text("Cake of Phone can")

        page.set_viewport_size(LAPTOP)
        page.get_by_role("link", name="What is in it, and its colour").click()
        expect(page.get_by_role("list", name="Ways")).to_be_visible()
        page.get_by_role("button", name="a cool grey").click()
        self.assert_accessible(page, "cake")
        page.get_by_role("link", name="Plan a batch of it").click()
        self.choose("Oil", "Linseed oil, refined")
        expect(page.get_by_role("heading", level=1)).to_contain_text("Cake of Phone can")
        page.get_by_role("button", name="Take it to the slab").click()
        expect(page).to_have_url(re.compile(r"/slab/\d+$"))
        page.get_by_role("button", name="I have everything ready").click()
        page.get_by_role("button", name=re.compile("^Weighed in")).click()
        page.locator("[data-part=advice]").get_by_role("button", name=re.compile("Poured")).click()
        page.keyboard.press("l")
        page.get_by_role("button", name=re.compile("^even paste")).click()
        page.get_by_role("button", name=re.compile("^tube")).click()
        page.get_by_role("button", name="Finish", exact=True).click()
        page.get_by_role("button", name=re.compile("^right")).click()
        page.get_by_role("button", name="I fill it later").click()
        page.get_by_role("button", name="Finish the batch").click()
        expect(page).to_have_url(re.compile(r"/batches/\d+\?made=1$"))
        number = re.findall(r"\d+", page.url)[-2]

        cleaning = page.get_by_role("region", name="Clean up")
        cleaning.get_by_role("button", name="into Phone can").click()
        expect(cleaning.get_by_role("status")).to_contain_text("Kept in Phone can")
        page.get_by_role("link", name="Fill tubes").click()
        page.get_by_role("button", name="Filled", exact=True).click()
        expect(page.get_by_text(f"{number}-1").first).to_be_visible()
        page.goto(f"/batches/{number}")
        page.get_by_role("link", name=re.compile("^Label")).click()
        expect(page.get_by_role("img", name="The first label, in its true size")).to_be_visible()

    def test_an_old_jar_becomes_a_powder_without_a_gram(self) -> None:
        page, taps = self.page, 0

        def tap(name: str | re.Pattern[str], within: Page | Locator = page) -> None:
            nonlocal taps
            taps += 1
            within.get_by_role("button", name=name, exact=isinstance(name, str)).click()

        def typed(label: str, words: str) -> None:
            nonlocal taps
            taps += 1
            page.get_by_label(label, exact=True).fill(words)

        kept = self.ok(self.client.get("/api/workshop"))["settings"]
        self.addCleanup(lambda: self.ok(self.client.put("/api/workshop/settings", json=kept)))
        self.ok(self.client.put("/api/workshop/settings", json={**kept, "measuring": "spoons"}))
        page.goto("/sludge")
        tap("New can")
        tap("An old one, sludge in it")
        typed("Name", "Jar from the shed")
        tap("Begin the can")
        expect(page.get_by_role("alert").first).to_contain_text("Needed: what the can or jar holds")
        taps -= 1
        tap("jam jar, 370 ml")
        tap("half", page.get_by_role("group", name="How full it is"))
        tap("a quarter", page.get_by_role("group", name="Sludge at the bottom"))
        self.assert_fits(page, "an old jar at 390")
        self.assert_accessible(page, "an old jar at 390")
        tap("Begin the can")
        expect(page.get_by_role("region", name="Ledger")).to_contain_text("about 46 ml of old sludge in it")
        tap("Sludge into a dish")
        tap("Into the dish")
        tap("Judge it", page.locator("[data-part=advice]"))
        tap("a little")
        tap("stays dry")
        tap("Keep it")
        expect(page.locator("[data-part=advice]")).to_contain_text("both are needed")
        taps -= 4
        tap("Judge it", page.locator("[data-part=advice]"))
        tap("nothing")
        tap("stays dry")
        tap("Keep it")
        expect(page.locator("[data-part=advice]")).to_contain_text("Dry enough to tube")
        tap("Strain it")
        tap("Keep it")
        tap("Into stock", page.locator("[data-part=advice]"))
        entry = page.get_by_role("region", name="Into stock as a pigment")
        tap("tablespoons", entry)
        typed("How much, as it is", "2")
        tap("Into stock", entry)
        expect(page.get_by_role("alert")).to_contain_text("Should this become paint at all?")
        self.assert_accessible(page, "into stock by spoons at 390")
        tap(re.compile("^Yes, for my own use"))
        expect(page.get_by_role("link", name=re.compile("^Lot Cake .* in stock"))).to_be_visible()
        print(f"taps from an old jar to a powder in stock: {taps}")
        self.assertLessEqual(taps, 21)
        page.get_by_role("link", name="Plan a batch of it").click()
        expect(page.get_by_role("combobox", name="Pigment", exact=True)).to_have_value(re.compile("Cake of Jar"))

    def tap(self, page: Page, name: str) -> None:
        page.locator("[data-part=advice]").get_by_role("button", name=name).click()


class Asked(SludgeTest):
    def test_lead_is_asked_about_and_no_is_an_answer(self) -> None:
        page = self.page
        dish = self.dish(self.can("Lead can"), "lead-tin-yellow", "red-ochre")
        self.act(f"dishes/{dish}", kind="weigh", g=212.1)
        page.goto(f"/sludge/dishes/{dish}")
        page.get_by_role("group", name="Acts").get_by_role("button", name="Into stock").click()
        into = page.get_by_role("region", name="Into stock as a pigment")
        into.get_by_role("button", name="Into stock").click()
        expect(into.get_by_role("alert")).to_contain_text("Should this become paint at all?")
        expect(into.get_by_role("alert")).to_contain_text(re.compile("lead", re.I))
        self.assert_accessible(page, "the question")
        into.get_by_role("button", name="No: keep it for licensed disposal").click()
        expect(page.locator("[data-part=advice]")).to_contain_text("Kept for licensed disposal")
        page.get_by_role("button", name=re.compile("undo|Take out")).first.click()
        expect(page.locator("[data-part=advice]")).to_contain_text("Dry enough to tube")

    def test_a_washing_waits_for_the_server_and_is_sent_once(self) -> None:
        page, can = self.page, self.can("Slow can")
        page.goto(f"/sludge/cans/{can}")
        expect(page.get_by_role("group", name="Paints")).to_be_visible()
        page.route(re.compile("/acts$"), lambda route: route.abort())
        page.get_by_role("button", name=re.compile("Cobalt green")).click()
        page.get_by_role("button", name="a little").click()
        expect(page.get_by_text(re.compile("a washing, 1 paint"))).to_be_visible()
        page.unroute(re.compile("/acts$"))
        expect(page.get_by_role("region", name="Ledger")).to_contain_text("washed: Cobalt green", timeout=30_000)
        self.assertEqual(self.ok(self.client.get(f"/api/sludge/cans/{can}"))["washings"], 1)

    def test_two_windows_see_one_can(self) -> None:
        can = self.can("Shared can")
        other = self.window()
        for page in (self.page, other):
            page.goto(f"/sludge/cans/{can}")
            expect(page.get_by_role("region", name="Ledger")).to_contain_text("500 ml white spirit in")
        self.page.get_by_role("button", name="Not sure what").click()
        self.page.get_by_role("button", name="a brushful").click()
        expect(other.get_by_role("region", name="Ledger")).to_contain_text("not sure what")
        expect(other.get_by_role("region", name="What is in its sludge")).to_contain_text("nobody knows what")

    def test_an_oil_of_ones_own_is_made_where_it_is_wanted(self) -> None:
        page = self.page
        page.goto("/plan")
        self.choose("Pigment", "Raw umber")
        picker = page.get_by_role("combobox", name="Oil", exact=True)
        picker.fill("Slow jelly")
        page.get_by_role("option", name=re.compile("^Add ")).click()
        own = page.get_by_role("group", name="An oil that is not listed")
        own.get_by_role("button", name="Keep it", exact=True).click()
        expect(own.get_by_role("alert").first).to_be_visible()
        own.get_by_label("What stays when it is dry").fill("70")
        own.get_by_label("Touch-dry, thin, from").fill("2")
        own.get_by_label("to", exact=True).fill("5")
        own.get_by_role("button", name="Keep it", exact=True).click()
        expect(own).to_have_count(0)
        expect(page.get_by_role("heading", level=1)).to_contain_text("Raw umber")
        expect(picker).to_have_value(re.compile("Slow jelly"))

    def test_the_room_and_its_screens_are_accessible(self) -> None:
        for path, heading in (
            ("/sludge", "Sludge"),
            ("/sludge/cans/1", "Window can"),
            ("/sludge/dishes/2", "Sludge of Window can"),
            ("/lineage/items/69", "What is behind 31-1"),
        ):
            self.page.goto(path)
            expect(self.page.get_by_role("heading", level=1)).to_contain_text(heading)
            self.assert_accessible(self.page, path)
            self.assert_fits(self.page, path)
        for path in ("cans", "dishes", "cakes"):
            self.page.goto(f"/sludge/{path}/999")
            expect(self.page.get_by_role("heading", level=1)).to_contain_text("There is no")
        self.page.get_by_role("button", name=re.compile("^Menu")).click()
        self.page.get_by_role("navigation", name="Menu").get_by_role("link", name="Sticks").click()
        expect(self.page.get_by_role("heading", level=1)).to_contain_text("Sticks")
