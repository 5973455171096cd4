"""Colour on real screens: two readings, a printed chart, painted, photographed and read back; a mixture found."""

import re
from pathlib import Path
from tempfile import TemporaryDirectory
from typing import Any

from playwright.sync_api import Page, expect

from niddy.core.mixing.chart import Layout, Lower
from tests.browser.support import BrowserTest, Walk
from tests.painted import photograph


class FromTwoReadings(BrowserTest):
    with_demo = False

    def add(self, page: Page, name: str) -> None:
        page.goto("/mixing")
        page.get_by_role("button", name="Add a paint").click()
        page.get_by_label("Name of a bought paint").fill(name)
        page.get_by_role("button", name="Add it").click()
        expect(page.get_by_role("heading", name=name, level=1)).to_be_visible()

    def read(self, page: Page, lab: tuple[float, float, float]) -> None:
        for axis, value in zip("Lab", lab, strict=True):
            page.get_by_label(axis, exact=True).fill(str(value))
        page.get_by_role("button", name="Keep it").click()

    def chart(self, number: int) -> Any:
        return self.ok(self.client.get(f"/api/mixing/charts/{number}"))

    def test_two_readings_a_paint_make_a_chart_that_is_painted_and_read_back(self) -> None:
        page = self.page
        self.add(page, "Titanium white")
        page.get_by_role("button", name="Read the masstone").click()
        self.read(page, (97, 0, 1))
        expect(page.get_by_role("button", name="Read the masstone again")).to_be_visible()
        page.goto("/mixing")
        page.get_by_label(re.compile("^White")).select_option(label="Titanium white")
        expect(page.get_by_text("Tints read from now on are of it")).to_be_visible()
        for name, masstone, tint in (("Red", (38, 45, 30), (70, 30, 14)), ("Blue", (28, 8, -42), (68, -6, -30))):
            self.add(page, name)
            expect(page.get_by_role("status").filter(has_text="read masstone and tint")).to_be_visible()
            page.get_by_role("button", name="Read the masstone").click()
            self.read(page, (150, 0, 0))
            expect(page.get_by_role("alert")).to_contain_text("from 0 to 100")
            self.read(page, masstone)
            # The tint comes next by itself.
            expect(page.get_by_label("White to one of paint")).to_have_value("10")
            self.read(page, tint)
            expect(page.get_by_text("masstone and tint, three figures each")).to_be_visible()

        page.goto("/mixing")
        page.get_by_role("link", name="New chart").click()
        page.get_by_role("button", name=re.compile("^Red")).click()
        page.get_by_role("button", name=re.compile("^Blue")).click()
        expect(page.get_by_text("10 squares")).to_be_visible()
        page.get_by_label("A thin column").check()
        page.get_by_role("button", name="Predict it").click()
        expect(page.get_by_role("heading", name="Red, Blue")).to_be_visible()
        number = int(page.url.rsplit("/", 1)[1])
        page.get_by_role("button", name=re.compile("^B1: predicted")).click()
        square = page.get_by_role("region", name="Square B1")
        expect(square).to_contain_text("1 Red + 1 Blue")
        expect(square).to_contain_text("may be off by")
        square.get_by_role("button", name="redder").click()
        square.get_by_role("button", name="greener").click()
        square.get_by_role("button", name="Keep: redder, greener").click()
        expect(square.get_by_role("alert")).to_contain_text("one of the two")
        square.get_by_role("button", name="greener", exact=True).click()
        square.get_by_role("button", name="Keep: redder", exact=True).click()
        expect(square).to_contain_text("painted, by eye")
        page.keyboard.press("Escape")
        expect(square).to_have_count(0)
        page.get_by_role("button", name="C1: thin film of Red").click()
        page.get_by_role("region", name="Thin film C1").get_by_role("button", name="nearly all").click()
        expect(page.get_by_text("1 thin to judge")).to_be_visible()
        expect(page.get_by_role("button", name="C1: thin film of Red")).to_contain_text("hides nearly all")

        sheet = page.get_by_role("link", name="Print the sheet").get_attribute("href")
        assert sheet is not None
        pdf = self.client.get(sheet).content
        layout = Layout(2, 1.0, 1.0, Lower.WITH_WHITE, 1.0, (1.0, 4.0, 10.0), thin=True)
        painted = {cell["code"]: cell["srgb"] for cell in self.chart(number)["cells"]}
        del painted["A5"]
        painted["B1"] = "#3a2f55"
        with TemporaryDirectory() as folder:
            picture, bare = Path(folder) / "sheet.jpg", Path(folder) / "bare.jpg"
            picture.write_bytes(photograph(pdf, layout, painted))
            bare.write_bytes(photograph(pdf, layout, painted, card=None))
            page.get_by_role("button", name="Read it back").click()
            page.locator("input[type=file]").set_input_files(bare)
            expect(page.get_by_role("alert")).to_contain_text("No grey card lies on its place")
            page.locator("input[type=file]").set_input_files(picture)
            expect(page.get_by_text("9 squares read")).to_be_visible()
            expect(page.get_by_text("4 of 4 corner codes found.")).to_be_visible()
            expect(page.get_by_text("1 square looks unpainted")).to_be_visible()
            # A corner moved by hand is looked from anew.
            corner = page.get_by_role("button", name=re.compile("Corner top left"))
            corner.focus()
            corner.press("ArrowRight")
            page.get_by_role("button", name="Look again").click()
            expect(page.get_by_text("Corners as you set them.")).to_be_visible()
            page.get_by_role("button", name="Keep 9 squares").click()
        expect(page.get_by_role("heading", name="How right it is")).to_be_visible()
        expect(page.get_by_text("9 of 10 squares read")).to_be_visible()
        accuracy = self.chart(number)["accuracy"]
        self.assertEqual(accuracy["squares"], 9)
        self.assertLess(accuracy["after"], 3)

        page.get_by_role("button", name="Read it back").click()
        page.get_by_role("button", name="Reader, square by square").click()
        page.get_by_role("button", name="Read A5").click()
        expect(page.get_by_text("Every square is read.")).to_be_visible()
        page.get_by_role("region", name="Read it back").get_by_role("button", name="Close").click()
        page.get_by_role("button", name="take back").click()
        expect(page.get_by_text("9 of 10 squares read")).to_be_visible()


class Found(BrowserTest):
    def test_a_mixture_is_found_for_a_colour_a_tube_and_a_grey(self) -> None:
        page = self.page
        page.goto("/mixing")
        page.get_by_role("link", name="Find a mixture").click()
        mixtures = page.get_by_role("region", name="Mixtures").get_by_role("list").first.get_by_role("listitem")
        expect(mixtures.first).to_contain_text("close to it")
        expect(mixtures.first).to_contain_text("g")
        page.get_by_label("The colour as #rrggbb").fill("#notone")
        expect(page.get_by_role("alert")).to_contain_text("a colour such as #7b3f22")
        page.get_by_label("The colour as #rrggbb").fill("#8a7f70")
        expect(page.get_by_role("alert")).to_have_count(0)
        page.get_by_role("button", name="1", exact=True).click()
        expect(page.get_by_role("region", name="Mixtures")).to_contain_text("the white")
        page.get_by_role("button", name="A tube or jar").click()
        page.get_by_label("Name, code or place on the shelf").fill("6-1")
        page.get_by_role("button", name=re.compile("Chromium oxide green")).first.click()
        expect(page.get_by_role("region", name="Mixtures")).to_contain_text("the wanted colour itself is a guess")
        page.get_by_role("button", name="A grey from two").click()
        page.get_by_label("One paint").select_option(label="Burnt umber, batch 2")
        page.get_by_label(re.compile("^and")).select_option(label="Ultramarine blue, batch 1")
        expect(page.get_by_role("region", name="Mixtures").get_by_role("listitem").first).to_contain_text("Burnt umber")

    def test_the_shelf_the_recipe_and_the_cake_lead_here_and_the_screens_are_fit_for_everybody(self) -> None:
        page = self.page
        item = self.ok(self.client.get("/api/shelf", params={"words": "5-1"}))["items"][0]
        page.goto(f"/shelf/{item['id']}")
        page.get_by_role("link", name="Mix to match it").click()
        expect(page.get_by_role("region", name="Mixtures").get_by_role("listitem").first).to_be_visible()
        page.goto("/recipes/1")
        expect(page.get_by_role("heading", name="Colour, as read")).to_be_visible()
        page.get_by_role("link", name=re.compile("^batch 30")).first.click()
        expect(page.get_by_role("heading", name="Burnt sienna", level=1)).to_be_visible()
        for path in ("/mixing", "/mixing/find", "/mixing/charts/1", "/mixing/charts/new", "/mixing/paints/1"):
            page.goto(path)
            expect(page.get_by_role("heading", level=1)).to_be_visible()
            self.assert_accessible(page, path)
            self.assert_fits(page, path)


class OnAPhone(BrowserTest):
    size = {"width": 390, "height": 844}

    def test_a_square_is_read_by_the_thumb(self) -> None:
        page = self.page
        page.goto("/mixing/charts/2")
        page.get_by_role("button", name=re.compile("^A1: predicted")).click()
        square = page.get_by_role("region", name="Square A1")
        expect(square).to_be_in_viewport()
        square.get_by_role("button", name="Read this square").click()
        square.get_by_role("button", name="Stand-in reader").click()
        square.get_by_role("button", name="Read it", exact=True).click()
        expect(square.get_by_role("img", name=re.compile("spectrum"))).to_be_visible()
        square.get_by_role("button", name="Keep it").click()
        expect(page.get_by_text("1 of 30 squares read")).to_be_visible()
        for path in ("/mixing", "/mixing/find", "/mixing/charts/2", "/mixing/charts/new", "/mixing/paints/1"):
            page.goto(path)
            expect(page.get_by_role("heading", level=1)).to_be_visible()
            self.assert_fits(page, path)


class ByEye(Walk):
    """A chart of four paints by eye."""

    def test_a_chart_of_four_paints_that_nobody_read(self) -> None:
        page = self.page
        page.goto("/")
        self.tap(re.compile("^A colour chart"), "link")
        self.tap("New chart", "link")
        for n, name in enumerate(("Yellow ochre", "Ultramarine blue", "Red ochre", "Bone black")):
            self.chosen("by its pigment", name)
            expect(page.get_by_role("heading", name=re.compile(f"{n + 1} of up to"))).to_be_visible()
        self.tap("A usual titanium white")
        expect(page.get_by_text("Your white is not read")).to_be_visible()
        self.assert_fits(page, "a chart by eye at 390")
        self.assert_accessible(page, "a chart by eye at 390")
        self.tap("Predict it")
        expect(page.get_by_role("heading", level=1)).to_contain_text("Yellow ochre")
        self.assert_fits(page, "the chart by eye at 390")
        self.within(30, "a chart of four paints by eye, predicted")
