"""Keys listed, what is not there is said; home, the line of stations, terms; stock, workshop and lists at work."""

import io
import re
from typing import ClassVar

from PIL import Image
from playwright.sync_api import expect

from tests.browser.support import PHONE, BrowserTest


class Screens(BrowserTest):
    def test_keys_show_under_the_question_mark(self) -> None:
        self.page.goto("/slab/32")
        expect(self.page.locator("[data-part=advice]")).to_be_visible()
        self.page.keyboard.press("?")
        dialog = self.page.get_by_role("dialog")
        expect(dialog).to_contain_text("undo the last act")
        expect(dialog).to_contain_text("go to Plan")
        self.page.keyboard.press("Escape")
        expect(dialog).to_have_count(0)
        self.page.keyboard.press("9")
        expect(self.page).to_have_url(re.compile("/batches$"))

    def test_what_is_not_there_is_said(self) -> None:
        for path, words in {
            "/slab/999": "no batch 999",
            "/batches/999": "no batch 999",
            "/stock/999": "no lot 999",
        }.items():
            self.page.goto(path)
            expect(self.page.get_by_role("heading", level=1)).to_contain_text(words)
        self.page.goto("/nowhere")
        expect(self.page.get_by_role("heading", level=1)).to_contain_text("Nothing stands")

    def test_the_api_page_shows_the_calculators(self) -> None:
        self.page.goto("/api-page.html")
        self.page.locator("#operations-tag-calculators").click()
        expect(self.page.get_by_text("/api/calc/wetting")).to_be_visible()


class Calm(BrowserTest):
    size: ClassVar[dict[str, int]] = PHONE

    def test_home_is_three_things_on_at_most_two_screens(self) -> None:
        page = self.page
        page.goto("/")
        today = page.get_by_role("list", name="Today")
        expect(today.get_by_role("listitem").first).to_be_visible()
        self.assertLessEqual(today.get_by_role("listitem").count(), 5)
        attention = page.get_by_role("region", name="Needs attention").get_by_role("link")
        self.assertTrue(1 <= attention.count() <= 3)
        pages = {link.get_attribute("href") for link in attention.all()}
        self.assertTrue(pages.isdisjoint({link.get_attribute("href") for link in today.get_by_role("link").all()}))
        self.assertLessEqual(page.evaluate("document.documentElement.scrollHeight"), 2 * PHONE["height"])
        page.get_by_role("link", name=re.compile("^All of the day")).click()
        expect(page.get_by_role("heading", level=1)).to_contain_text("Today, Thursday 18 June")
        expect(page.get_by_role("region", name="Done today")).to_be_visible()

    def test_a_craft_has_its_own_stations_and_all_else_is_behind_the_menu(self) -> None:
        page = self.page
        page.goto("/sludge")
        work = page.get_by_role("navigation", name="The work")
        expect(work.get_by_role("link", name="Rub-out")).to_have_count(0)
        work.get_by_role("link", name="Cakes").click()
        expect(page).to_have_url(re.compile("/sludge#cakes$"))
        expect(page.get_by_role("heading", name="Cakes in stock")).to_be_in_viewport()
        work.get_by_role("button", name=re.compile("^Menu")).click()
        page.get_by_role("navigation", name="Menu").get_by_role("link", name="Workshop").click()
        expect(page.get_by_role("heading", level=1)).to_contain_text("Workshop")
        expect(work.get_by_role("link", name="Rub-out")).to_be_visible()

    def test_a_word_of_the_craft_is_explained_where_it_stands(self) -> None:
        page = self.page
        page.goto("/rub-out")
        page.get_by_role("button", name=re.compile("^oil absorption$", re.IGNORECASE)).click()
        note = page.get_by_role("note")
        expect(note).to_contain_text("Grams of oil that turn 100 g of powder into putty")
        expect(note.locator("svg path").first).to_be_visible()
        self.assert_fits(page, "a term")
        page.keyboard.press("Escape")
        expect(note).to_have_count(0)

    def test_a_caution_is_long_the_first_time_and_short_with_more_behind_a_touch_after(self) -> None:
        page = self.page
        page.goto("/sticks/9")
        cautions = page.get_by_role("region", name="Cautions")
        cautions.scroll_into_view_if_needed()
        expect(cautions).to_contain_text("lid at hand to smother")
        expect(cautions).to_contain_text("safety data sheet")
        page.reload()
        cautions.scroll_into_view_if_needed()
        expect(cautions).to_contain_text("Hot wax: water bath, thermometer, stay with it.")
        expect(cautions).not_to_contain_text("lid at hand to smother")
        cautions.get_by_role("button", name=re.compile("^Hot wax")).click()
        expect(cautions).to_contain_text("lid at hand to smother")
        expect(cautions).to_contain_text("safety data sheet")


class FirstDay(BrowserTest):
    with_demo = False

    def test_an_empty_studio_asks_what_one_makes_and_measures_with(self) -> None:
        page = self.page
        kept = self.ok(self.client.get("/api/workshop"))["settings"]
        self.addCleanup(lambda: self.ok(self.client.put("/api/workshop/settings", json=kept)))
        page.goto("/")
        expect(page.get_by_role("heading", level=1)).to_have_text("What will you make?")
        self.assert_accessible(page, "an empty studio")
        page.get_by_role("button", name="By eye").click()
        expect(page.get_by_role("button", name="By eye")).to_have_attribute("aria-pressed", "true")
        self.assertEqual(self.ok(self.client.get("/api/workshop"))["settings"]["measuring"], "eye")
        for name, heading in (
            ("Tube paint", "Plan a batch"),
            ("Paint sticks", "Sticks"),
            ("Colour from sludge", "Sludge"),
            ("A pigment", "Making pigment"),
            ("A colour chart", "Colour"),
            ("Just practise", "Practice slab"),
        ):
            page.goto("/")
            page.get_by_role("link", name=re.compile(f"^{name}")).click()
            expect(page.get_by_role("heading", level=1)).to_contain_text(heading)


class Phone(BrowserTest):
    size: ClassVar[dict[str, int]] = {"width": 390, "height": 844}

    def test_the_slab_works_on_a_phone(self) -> None:
        page = self.page
        page.goto("/slab/32")
        expect(page.locator("[data-part=advice]")).to_be_visible()
        self.assert_fits(page, "slab")
        for button in page.get_by_role("group", name="Acts").get_by_role("button").all():
            box = button.bounding_box()
            assert box is not None
            self.assertGreaterEqual(box["height"], 72)
        page.get_by_role("group", name="Acts").get_by_role("button", name="Look").click()
        self.assert_fits(page, "look")
        page.get_by_role("button", name=re.compile("^coarse paste")).click()
        expect(page.get_by_role("img", name="The paste: coarse paste")).to_be_visible()
        self.assert_accessible(page, "slab on a phone")

    def test_what_a_scale_says_can_be_read_on_a_phone(self) -> None:
        page = self.page
        number = self.take_to_slab()
        for kind, what in (
            ("ready", {}),
            ("powder", {"source": "library-bone-black", "measure": {"amount": 30.0}}),
            ("oil", {"source": "library-linseed-refined", "measure": {"amount": 15.0}}),
            ("finish", {"verdict": "stiff"}),
        ):
            self.ok(self.act(number, kind, **what))
        page.goto(f"/batches/{number}")
        # Its zone is too narrow there for a name.
        expect(page.locator("[data-part=pointer]")).to_contain_text("now, putty")
        written = "svg:has([data-part=pointer]) text"
        sizes = page.eval_on_selector_all(written, "found => found.map(t => parseFloat(getComputedStyle(t).fontSize))")
        self.assertGreaterEqual(min(sizes), 10)
        page.set_viewport_size({"width": 1280, "height": 800})
        expect(page.locator("[data-part=pointer]")).to_have_text("now")


class StockAndWorkshop(BrowserTest):
    def test_a_tin_is_received_used_and_weighed_in(self) -> None:
        page = self.page
        page.goto("/stock")
        page.get_by_role("button", name="Receive").click()
        self.choose("Pigment", "Green earth")
        page.get_by_label("Your code for it").fill("BB-3")
        page.get_by_label("Net weight").fill("250")
        page.get_by_role("button", name="Put it in stock").click()
        expect(page.get_by_role("alert")).to_contain_text("in use already")
        page.get_by_label("Your code for it").fill("GE-1")
        page.get_by_role("button", name="Put it in stock").click()
        expect(page.get_by_role("alert")).to_have_count(0)
        page.get_by_label("Search the stock").fill("green earth")
        page.get_by_role("link", name=re.compile("GE-1")).click()
        page.get_by_label("Net weight now").fill("20")
        page.get_by_role("button", name="Record").click()
        expect(page.get_by_text("weighed in again: 20.0 g")).to_be_visible()
        page.goto("/")
        expect(page.get_by_role("link", name=re.compile("^Running low: "))).to_be_visible()

        page.goto("/plan")
        self.choose("Pigment", "Green earth", "lot GE-1")
        self.choose("Oil", "Poppy")
        expect(page.get_by_text("Not enough:")).to_contain_text("Not enough:")

    def test_a_slab_of_ones_own_changes_the_loads(self) -> None:
        page = self.page
        page.goto("/workshop")
        page.get_by_role("button", name="Add a slab").click()
        page.get_by_label("Name of the slab").fill("Window pane")
        page.get_by_label("Area").fill("0")
        page.get_by_role("button", name="Keep", exact=True).click()
        expect(page.get_by_role("alert")).to_contain_text("Try at least 1")
        page.get_by_label("Area").fill("300")
        page.get_by_role("button", name="Keep", exact=True).click()
        expect(page.get_by_role("status")).to_contain_text("Window pane is kept")
        page.goto("/plan?kept=2")
        before = self.figure(page, "Loads")
        page.get_by_role("combobox", name="Slab", exact=True).select_option(label="Window pane")
        expect(page.get_by_role("button", name=re.compile(f"^Loads: {before:.0f}[^0-9]"))).to_have_count(0)
        self.assertGreater(self.figure(page, "Loads"), before)

    def test_masses_in_ounces(self) -> None:
        page = self.page
        page.goto("/workshop")
        page.get_by_label("Masses shown in").select_option("oz")
        page.get_by_role("button", name="Keep the settings").click()
        expect(page.get_by_role("status")).to_contain_text("Settings are kept")
        page.goto("/plan?kept=1")
        expect(page.get_by_role("button", name=re.compile(r"^Weigh out: 2\.\d{3} oz"))).to_be_visible()
        page.goto("/slab/32")
        expect(page.locator("[data-part=advice]")).to_be_visible()
        page.keyboard.press("p")
        page.get_by_role("button", name="ounces").click()
        page.get_by_label("How much").fill("0.1")
        page.keyboard.press("Enter")
        expect(page.locator("li[data-kind=oil]").first).to_contain_text("+0.100 oz")
        events = self.ok(self.client.get("/api/slab/32"))["timeline"]
        self.assertAlmostEqual(events[-1]["grams"], 2.8349523125)
        settings = self.ok(self.client.get("/api/workshop"))["settings"] | {"mass_unit": "g"}
        self.ok(self.client.put("/api/workshop/settings", json=settings))

    def test_a_mark_is_given_and_stands_on_labels_until_it_is_taken_off(self) -> None:
        page = self.page
        page.goto("/workshop")
        given = page.get_by_label("A picture for the mark")
        given.set_input_files({"name": "mark.png", "mimeType": "image/png", "buffer": b"no picture"})
        expect(page.get_by_role("alert")).to_contain_text("Not a picture that can be read")
        drawn = io.BytesIO()
        Image.new("RGB", (300, 300), "#7a1f2b").save(drawn, "PNG")
        given.set_input_files({"name": "mark.png", "mimeType": "image/png", "buffer": drawn.getvalue()})
        mark = page.get_by_role("img", name="The studio’s mark")
        expect(mark).to_be_visible()
        expect(page.get_by_role("alert")).to_have_count(0)
        page.goto("/labels?items=1")
        page.get_by_role("button", name=re.compile("^jar lid")).click()
        expect(page.get_by_role("img", name="The first label, in its true size")).to_be_visible()
        page.goto("/workshop")
        page.get_by_role("button", name="Take it off").click()
        expect(mark).to_have_count(0)

    def test_batches_are_filtered_noted_and_taken_up_again(self) -> None:
        page = self.page
        page.goto("/batches")
        page.get_by_label("Came out").select_option("soft")
        expect(page.get_by_role("row")).to_have_count(2)
        expect(page).to_have_url(re.compile("state=soft"))
        page.get_by_role("button", name="Clear").click()
        expect(page.get_by_role("row")).to_have_count(33)
        page.get_by_label("Pigment").select_option("viridian")
        expect(page.get_by_text("No batch matches all of that.")).to_be_visible()
        page.goto("/batches/29")
        page.get_by_label("Add a note").fill("Lovely in the shade.")
        page.get_by_role("button", name="Add the note").click()
        expect(page.get_by_text("note: Lovely in the shade.")).to_be_visible()
        page.get_by_role("button", name="Take it up again").click()
        expect(page).to_have_url(re.compile("/slab/29$"))
        # Once it is open again, any act of the whole log can be struck out from its page.
        page.get_by_role("link", name="Batch page").click()
        page.get_by_role("button", name="Strike out: looked: crumbs").click()
        page.get_by_role("button", name="Keep it").click()
        page.get_by_role("button", name="Strike out: looked: crumbs").click()
        page.get_by_role("button", name="Yes, strike out: looked: crumbs").click()
        expect(page.get_by_text("undone: looked: crumbs")).to_be_visible()
        page.get_by_role("link", name="Go to the slab").click()
        expect(page.locator("[data-part=advice]")).to_be_visible()
        self.more(page, "Give this batch up")
        page.get_by_role("button", name="Give it up").click()
        expect(page.get_by_role("alert")).to_contain_text("Needed: why it is given up")
        page.get_by_label("Why is this batch given up?").fill("Fell on the floor.")
        page.get_by_role("button", name="Give it up").click()
        expect(page.get_by_text("given up: Fell on the floor.")).to_be_visible()
