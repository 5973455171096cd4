"""A maker opens a new tin: three rub-outs that move the plan's first pour; the pigment page; the shelf."""

import re
import tempfile
from pathlib import Path

from playwright.sync_api import expect

from tests.browser.support import BrowserTest


class RubOut(BrowserTest):
    def first_pour(self) -> float:
        self.page.goto("/plan")
        self.choose("Pigment", "Viridian", "lot VI-2")
        self.choose("Oil", "Linseed oil, cold-pressed")
        expect(self.page.get_by_role("heading", level=1)).to_contain_text("Viridian")
        return self.figure(self.page, "Pour first")

    def rub_out(self, grams: str, drops: int) -> None:
        page = self.page
        expect(page.get_by_role("heading", name="Begin a test")).to_be_visible()
        page.get_by_role("button", name="Begin").click()
        expect(page.get_by_text("Powder on the glass")).to_be_visible()
        expect(page.get_by_label("Cautions")).to_contain_text(re.compile("stable chromium oxide", re.IGNORECASE))
        page.keyboard.press("p")
        page.get_by_label("How much").fill(grams)
        page.keyboard.press("Enter")
        steps = page.locator("[data-part=step]")
        expect(steps).to_have_count(1)
        for n in range(drops):
            page.get_by_role("button", name=re.compile("^1 drop")).click()
            expect(steps).to_have_count(n + 2)
        page.get_by_role("button", name=re.compile("^End point")).click()

    def test_three_repeats_move_the_first_pour(self) -> None:
        page = self.page
        before = self.first_pour()
        expect(page.get_by_text("library range 50 to 85, approximate").first).to_be_visible()
        page.goto("/rub-out")
        self.choose("Lot", "Viridian", "lot VI-2")
        self.rub_out("3.55", 1)
        expect(page.get_by_text("One test says little of the hand: make a second.")).to_be_visible()
        page.get_by_role("link", name="Make another test").click()
        self.rub_out("4.10", 1)
        expect(page.get_by_text(re.compile("differ by 14% of their mean: make a third"))).to_be_visible()
        page.get_by_role("link", name="Make another test").click()
        self.rub_out("3.85", 0)
        expect(page.get_by_text("Tests of this lot so far")).to_contain_text("77.0")
        self.assert_accessible(page, "a finished rub-out")
        after = self.first_pour()
        expect(page.get_by_text("3 rub-outs of this lot").first).to_be_visible()
        self.assertGreater(after, before * 1.1)

    def test_a_step_is_taken_back_and_a_test_given_up(self) -> None:
        page = self.page
        page.goto("/rub-out")
        page.get_by_role("link", name=re.compile("Cerulean blue.*go on")).click()
        expect(page.locator("[data-part=phase]")).to_contain_text("Crumbs")
        page.keyboard.press("5")
        expect(page.locator("[data-part=step]")).to_have_count(3)
        page.keyboard.press("x")
        expect(page.locator("[data-part=step]").first.locator(".line-through").first).to_be_visible()
        page.get_by_role("button", name="Give the test up").click()
        page.get_by_role("button", name="Give it up").click()
        expect(page.get_by_role("alert")).to_contain_text("Needed: why the test is given up")
        page.get_by_label("Why is this test given up?").fill("Wrong bottle.")
        page.get_by_role("button", name="Give it up").click()
        expect(page.get_by_text("It is kept, and teaches nothing.")).to_be_visible()

    def test_the_outlier_is_asked_about_and_set_aside(self) -> None:
        page = self.page
        page.goto("/pigments/bone-black")
        asked = page.locator("li", has_text="Same powder?").last
        expect(asked).to_contain_text("Far off the others: held back.")
        expect(asked).to_contain_text("counts for 0 % of its lot")
        scale = page.get_by_role("img", name=re.compile("^Oil absorption"))
        held = scale.get_attribute("aria-label")
        asked.get_by_role("button", name="It is right: let it count").click()
        expect(page.get_by_text("held back")).to_have_count(0)
        before = scale.get_attribute("aria-label")
        self.assertNotEqual(before, held)
        asked = page.locator("li", has=page.get_by_role("button", name="set aside")).last
        asked.get_by_role("button", name="set aside").click()
        page.get_by_role("button", name="Set aside", exact=True).click()
        expect(page.get_by_role("alert")).to_contain_text("Needed: why")
        page.get_by_label("Why it should not count").fill("A walnut shell was in it.")
        page.get_by_role("button", name="Set aside", exact=True).click()
        expect(page.get_by_text("Set aside: A walnut shell was in it.")).to_be_visible()
        expect(page.get_by_text("counts for nothing")).to_be_visible()
        self.assertNotEqual(scale.get_attribute("aria-label"), before)
        self.assert_accessible(page, "pigment page")
        self.assert_fits(page, "pigment page")

    def test_an_entered_range(self) -> None:
        page = self.page
        page.goto("/pigments/smalt")
        page.get_by_role("button", name="Enter a range").click()
        page.get_by_label("From", exact=True).fill("30")
        page.get_by_label("To", exact=True).fill("25")
        page.get_by_role("button", name="Begin from this").click()
        expect(page.get_by_role("alert")).to_contain_text("Try more than")
        page.get_by_label("To", exact=True).fill("36")
        page.get_by_role("button", name="Begin from this").click()
        expect(page.get_by_role("heading", name=re.compile("What oil it takes"))).to_contain_text("entered 30 to 36")
        page.get_by_role("button", name="Back to the library's").click()
        expect(page.get_by_role("heading", name=re.compile("What oil it takes"))).to_contain_text(
            "library range 18 to 30"
        )


class Shelf(BrowserTest):
    def test_a_file_is_previewed_put_right_and_brought_in(self) -> None:
        page = self.page
        page.goto("/stock")
        page.get_by_role("button", name="CSV in").click()
        header = "kind,material,code,received_on,received\n"
        with tempfile.TemporaryDirectory() as folder:
            file = Path(folder) / "shelf.csv"
            file.write_text(header + "pigment,viridian,X-1,2026-05-01,250\npigment,viridian,X-2,2026-05-01,lots\n")
            page.locator("input[type=file]").set_input_files(file)
            expect(page.get_by_text("1 row is refused")).to_be_visible()
            expect(page.get_by_role("row", name=re.compile("X-2"))).to_contain_text("'lots' is not a number")
            expect(page.get_by_role("button", name="Bring in 1 lot")).to_be_disabled()
            file.write_text(header + "pigment,viridian,X-1,2026-05-01,250\npigment,viridian,X-2,2026-05-01,90\n")
            page.locator("input[type=file]").set_input_files(file)
            page.get_by_role("button", name="Bring in 2 lots").click()
            expect(page.get_by_text("Brought in.")).to_be_visible()
        page.get_by_label("Search the stock").fill("X-2")
        expect(page.get_by_role("link", name=re.compile("lot X-2"))).to_be_visible()

    def test_a_pigment_of_ones_own_and_a_spoon_weighed_once(self) -> None:
        page = self.page
        page.goto("/stock")
        page.get_by_role("button", name="Receive").click()
        page.get_by_role("button", name="Not in the library?").click()
        page.get_by_label("Name of your own pigment").fill("Estuary mud")
        for label, value in {"Oil absorption from": "28", "to": "40", "Density": "2.6", "Loose density": "0.6"}.items():
            page.get_by_label(label, exact=True).fill(value)
        page.get_by_label("Your code for it").fill("EM-1")
        page.get_by_label("Net weight").fill("120")
        page.get_by_role("button", name="Put it in stock").click()
        page.get_by_role("link", name=re.compile("Estuary mud")).click()
        page.get_by_label("They weigh").fill("3.4")
        page.get_by_role("button", name="Learn it").click()
        expect(page.get_by_text("0.68")).to_be_visible()
        self.assert_accessible(page, "lot")

    def test_sorting_and_filtering_stay_in_the_address(self) -> None:
        page = self.page
        page.goto("/stock")
        page.get_by_label("Show").select_option("tube")
        expect(page.get_by_role("link", name=re.compile("40 ml tube"))).to_be_visible()
        expect(page.get_by_role("link", name=re.compile("Viridian"))).to_have_count(0)
        page.get_by_label("Sorted").select_option("on_hand")
        expect(page).to_have_url(re.compile("kind=tube.*sort=on_hand"))
        page.reload()
        expect(page.get_by_role("listitem").first).to_contain_text("40 ml tube")
        self.assert_fits(page, "stock")

    def test_drops_show_their_grams_before_they_are_recorded(self) -> None:
        page = self.page
        page.goto("/slab/32")
        expect(page.locator("[data-part=advice]")).to_be_visible()
        page.keyboard.press("p")
        page.get_by_role("button", name="drops").click()
        page.get_by_label("How much").fill("10")
        expect(page.get_by_role("status").filter(has_text="=")).to_contain_text("0.21 g")
        expect(page.get_by_role("status").filter(has_text="=")).to_contain_text("measured here")
