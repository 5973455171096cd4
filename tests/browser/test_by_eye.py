"""Those who work without a scale, on a phone: spoons and drops, the eye alone, a slip of the thumb."""

import io
import re

from PIL import Image
from playwright.sync_api import expect

from tests.browser.support import PHONE, BrowserTest, Walk
from tests.browser.test_slab import POWDER, SlabTest


class FromNothing(Walk):
    """From an empty studio to a labelled jar, or to the palette: by spoons, and by the eye alone."""

    def test_a_spoon_maker_with_safflower_oil_and_a_knife(self) -> None:
        page = self.page
        page.goto("/")
        self.to_plan()
        self.chosen("Pigment", "Yellow ochre")
        self.chosen("Oil", "Safflower oil, refined")
        self.tap("Spoons, drops")
        page.get_by_label("Worked with").select_option("knife")
        self.taps += 2
        self.assert_fits(page, "plan at 390")
        self.tap("Take it to the slab")
        self.tap(re.compile("everything ready"))
        self.tap(re.compile("^In: 2 teaspoons"))
        self.tap(re.compile("^Poured .*(spoon|drop)"))
        # Still crumbs: the next pour is told beside.
        self.tap(re.compile("^Pour( p)?$"))
        self.tap("Record")
        self.tap("Look")
        self.tap(re.compile("^wet curds"))
        self.tap("Start the knife")
        expect(page.locator("[data-part=advice]")).to_contain_text("Work on.")
        self.tap("Look")
        self.tap(re.compile("^even paste"))
        # Right, and no grit: it may be finished though the minutes run.
        self.tap("no grit")
        self.tap(re.compile("^tube"))
        self.tap("Finish")
        expect(page.get_by_role("button", name=re.compile("^right"))).to_have_attribute("aria-pressed", "true")
        expect(page.get_by_role("button", name="A jar, all of it")).to_have_attribute("aria-pressed", "true")
        self.tap("Finish the batch")
        expect(page.get_by_role("region", name="Label it")).to_contain_text("Yellow ochre, in safflower oil")
        self.tap("Label the jar", "link")
        expect(page.get_by_text("1 label, ")).to_be_visible()
        expect(page.get_by_role("img", name="The first label, in its true size")).to_be_visible()
        self.assert_fits(page, "labels at 390")
        self.within(25, "a jar of tube paint, half teaspoon, knife, three looks")

    def test_by_the_eye_alone_with_one_correction_no_number_is_read(self) -> None:
        page = self.page
        self.measures_with("eye")
        page.goto("/")
        self.to_plan()
        self.chosen("Pigment", "Yellow ochre")
        self.chosen("Oil", "Linseed oil, refined")
        self.tap("Take it to the slab")
        self.tap(re.compile("everything ready"))
        advice = page.locator("[data-part=advice]")
        expect(advice).to_contain_text("as much as you want to grind")
        self.tap("It is in")
        expect(advice).to_contain_text("enough to fill the hollow")
        expect(advice.locator("p").first).not_to_contain_text(re.compile(r"\d"))
        self.tap("Poured some")
        self.tap("Look")
        self.tap(re.compile("^even paste"))
        self.tap("no grit")
        self.tap(re.compile("^putty"))
        expect(advice).to_contain_text("A little more oil")
        self.tap("Poured some")
        self.tap("Look")
        self.tap(re.compile("^even paste"))
        self.tap(re.compile("^tube"))
        self.assert_fits(page, "the slab by eye at 390")
        self.tap("Finish")
        self.tap("A jar, all of it")
        self.tap("Finish the batch")
        self.tap("Label the jar", "link")
        expect(page.get_by_text("1 label, ")).to_be_visible()
        self.within(26, "the same by eye, one correction")

    def test_paint_used_at_once_is_closed_and_waits_nowhere(self) -> None:
        page = self.page
        self.measures_with("eye")
        page.goto("/")
        self.to_plan()
        self.chosen("Pigment", "Raw umber")
        self.chosen("Oil", "Linseed oil, refined")
        self.tap("Take it to the slab")
        self.tap(re.compile("everything ready"))
        self.tap("It is in")
        self.tap("Poured some")
        self.tap("Look")
        self.tap(re.compile("^even paste"))
        self.tap(re.compile("^tube"))
        self.tap("Finish")
        self.tap("On the palette now")
        self.tap("Finish the batch")
        page.get_by_role("link", name="Niddy").first.click()
        expect(page.get_by_role("main")).not_to_contain_text("fill")
        self.within(15, "paint used at once")


class FoundJar(Walk):
    def test_a_found_jar_is_on_the_shelf_in_three_taps(self) -> None:
        self.page.goto("/shelf/found")
        self.tap("jam jar, 370 ml")
        self.tap("half")
        self.tap("Put it on the shelf")
        heading = self.page.get_by_role("heading", level=1)
        expect(heading).to_contain_text("Unknown paint")
        expect(heading).to_contain_text("185.0 ml")
        self.within(3, "a found jar")


class OvershotByEye(SlabTest):
    size = PHONE

    def test_the_eye_alone_says_it_is_too_soft_and_what_brings_it_back(self) -> None:
        number = self.take_to_slab(measuring="eye")
        page = self.open(number)
        page.get_by_role("button", name="I have everything ready").click()
        page.get_by_role("button", name="It is in").click()
        expect(page.locator("[data-part=advice]")).to_contain_text("Pour")
        for _ in range(3):
            page.get_by_role("button", name="Some oil").click()
            entry = page.get_by_role("region", name="By eye")
            entry.get_by_role("button", name="Poured some").click()
            entry.get_by_role("button", name="Close").click()
        page.get_by_role("button", name="Look", exact=True).first.click()
        page.get_by_role("button", name=re.compile("^even paste")).click()
        page.get_by_role("button", name=re.compile("^loose")).click()
        expect(page.locator("[data-part=advice]")).to_contain_text("Too soft: choose a way back.")
        way = page.locator("[data-way=add_pigment]")
        expect(way).to_be_visible()
        way.get_by_role("button").click()
        expect(page.locator("[data-part=advice]")).to_contain_text("Add Bone black")
        page.get_by_role("button", name="It is in").click()
        page.get_by_role("button", name="Look").first.click()
        page.get_by_role("button", name=re.compile("^even paste")).click()
        page.get_by_role("button", name=re.compile("^tube")).click()
        expect(page.locator("[data-part=advice]")).to_contain_text("Stop: it is right.")
        self.assertIsNone(self.state(number)["ratio"])
        # Guessed afterwards, the log turns into figures.
        self.more(page, "How much oil came out")
        page.get_by_role("button", name="tablespoons").click()
        page.get_by_label("How much").fill("4")
        page.get_by_role("button", name="Record").click()
        expect(page.get_by_text("guessed how much oil came out")).to_have_count(1)
        self.assertAlmostEqual(self.state(number)["oil"]["in_g"], 60 * 0.925, delta=1)


class Slips(SlabTest):
    size = PHONE

    def test_a_wrong_tap_is_undone_by_one_and_an_earlier_act_only_after_a_question(self) -> None:
        number = self.batch()
        page = self.open(number)
        page.get_by_role("button", name="Undo").click()
        expect(page.get_by_role("status").filter(has_text="Undone: looked")).to_be_visible()
        page.get_by_role("button", name="Put it back").click()
        expect(page.get_by_role("button", name="Put it back")).to_have_count(0)
        page.locator("summary", has_text="Log").click()
        page.get_by_role("button", name=re.compile("^Strike out: .* poured")).click()
        page.get_by_role("button", name="Keep it").click()
        self.assertEqual(self.state(number)["oil"]["in_g"], 60)
        # What opens, opens where the eye is, and closes by Escape and by its button.
        page.get_by_role("button", name=re.compile("^Look")).last.click()
        box = page.get_by_role("region", name="Look").bounding_box()
        assert box is not None
        self.assertTrue(-1 <= box["y"] < 400)
        page.keyboard.press("Escape")
        page.get_by_role("button", name="Pour", exact=True).click()
        page.get_by_label("How much").press("Escape")
        expect(page.get_by_label("How much")).to_have_count(0)

    def test_the_gauge_entry_lets_go_by_escape_and_by_its_button(self) -> None:
        number = self.batch()
        self.ok(self.act(number, "mull"))
        page = self.open(number)
        for leave in (lambda: page.keyboard.press("Escape"), lambda: page.get_by_role("button", name="Cancel").click()):
            page.get_by_role("button", name="Gauge").click()
            expect(page.get_by_label("Gauge reads")).to_be_focused()
            leave()
            expect(page.get_by_label("Gauge reads")).to_have_count(0)


class Words(SlabTest):
    def test_what_is_done_never_stands_beside_minutes_to_go(self) -> None:
        number = self.batch(target_fineness_um=20.0)
        for _ in self.state(number)["mulling"]["loads"]:
            self.ok(self.act(number, "mull"))
            self.ok(self.act(number, "fineness", fineness_um=15.0))
        page = self.open(number)
        expect(page.get_by_text("all worked out").first).to_be_visible()
        expect(page.get_by_text("to go of")).to_have_count(0)

    def test_an_amount_is_entered_by_the_picture_of_a_spoon(self) -> None:
        number = self.take_to_slab()
        self.ok(self.act(number, "ready"))
        page = self.open(number)
        page.keyboard.press("d")
        page.get_by_role("button", name="teaspoons", exact=True).click()
        page.get_by_role("button", name="heaped").click()
        page.get_by_label("How much").fill("2")
        page.get_by_role("button", name="Record").click()
        expect(page.locator("li[data-kind=powder]").first).to_contain_text("2 heaped teaspoons")
        powder = next(p for p in self.state(number)["pigments"] if p["source"] == POWDER)
        self.assertGreater(powder["in_g"], 0)


class HalfKnown(BrowserTest):
    size = PHONE

    def test_a_jar_keeps_what_could_be_read_of_it_and_no_figure_is_made_of_a_picked_colour(self) -> None:
        page = self.page
        page.goto("/shelf/found")
        self.assert_fits(page, "a found jar at 390")
        page.get_by_label("Name, as far as it can be read").fill("ultram")
        page.locator("summary", has_text="Its date, where it stands").click()
        page.get_by_label("Who it may be from").fill("the evening class")
        page.get_by_label("The date is when it was").select_option("bought")
        page.get_by_label("The very day, if known").fill("2019-05-01")
        page.get_by_label("Or so much").fill("50")
        page.get_by_label("The colour as #rrggbb").fill("#1f2f8f")
        page.get_by_role("button", name="Put it on the shelf").click()
        expect(page.get_by_role("heading", level=1)).to_contain_text("ultram?")
        expect(page.get_by_text("bought 2019-05-01; may be from the evening class")).to_be_visible()
        likely = page.get_by_role("region", name=re.compile("^Whose it may be"))
        expect(likely).to_contain_text("A colour picked on a screen says too little for figures")
        expect(likely).not_to_contain_text("%")
        picture = io.BytesIO()
        Image.new("RGB", (300, 200), "#1f2f8f").save(picture, "JPEG")
        page.get_by_label("Take a picture").set_input_files(
            {"name": "jar.jpg", "mimeType": "image/jpeg", "buffer": picture.getvalue()}
        )
        expect(page.get_by_role("img", name="picture")).to_be_visible()
        likely.get_by_role("button", name="none of these").click()
        expect(likely).to_have_count(0)
        expect(page.get_by_text("of none of the batches here")).to_be_visible()
        self.assert_fits(page, "a half-known jar at 390")
        self.assert_accessible(page, "a half-known jar")

    def test_a_reading_does_tell_how_likely(self) -> None:
        page = self.page
        page.goto("/shelf/found")
        page.get_by_label("Or so much").fill("50")
        page.locator("summary", has_text="Its date, where it stands").click()
        for axis, value in (("L", "24"), ("a", "25"), ("b", "-55")):
            page.get_by_label(axis, exact=True).fill(value)
        page.get_by_role("button", name="Put it on the shelf").click()
        expect(page.get_by_role("region", name=re.compile("^Whose it may be"))).to_contain_text("%")


class NotListed(BrowserTest):
    def test_a_powder_is_made_on_the_spot_by_its_kind_and_planned_at_once(self) -> None:
        page = self.page
        page.goto("/plan")
        field = page.get_by_role("combobox", name="Pigment", exact=True)
        field.click()
        field.fill("river clay")
        page.get_by_role("option", name=re.compile("^Add river clay")).click()
        form = page.get_by_role("group", name="A powder that is not listed")
        form.get_by_role("button", name="Use it").click()
        expect(form.get_by_role("alert")).to_contain_text("Choose what kind it is.")
        form.get_by_role("button", name="earth", exact=True).click()
        expect(form.get_by_label("Silica dust")).to_be_checked()
        form.get_by_role("button", name="Use it").click()
        self.choose("Oil", "Safflower oil")
        expect(page.get_by_role("heading", level=1)).to_contain_text("river clay")
        expect(page.get_by_role("button", name=re.compile("^Weigh out: "))).to_be_visible()
        expect(page.get_by_text("a little gritty")).to_be_visible()
