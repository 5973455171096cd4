"""Making pigment on real screens: from an equation to what to weigh, back from what is wanted, a new version."""

import re

from playwright.sync_api import expect

from tests.browser.support import BrowserTest


class OnPaper(BrowserTest):
    def test_from_an_equation_to_what_to_weigh_and_a_second_version(self) -> None:
        page = self.page
        page.goto("/making")
        self.assert_accessible(page, "making")
        page.get_by_role("link", name=re.compile("^A precipitation")).click()
        first, second = (page.get_by_role("group", name=f"Ingredient {n}") for n in (1, 2))
        first.get_by_label("Name").fill("Blue salt")
        first.get_by_label("Formula").fill("CuSO4,5H2O")
        expect(first.get_by_role("alert")).to_contain_text("',' at place 6")
        first.get_by_label("Formula").fill("CuSO4.5H2O")
        second.get_by_label("Name").fill("Soda")
        second.get_by_label("Formula").fill("Na2CO3")
        out = page.get_by_label("All that comes out")
        out.fill("Cu2(OH)2CO3 + Na2SO4")
        out.press("Tab")
        page.get_by_label("Which of it is the pigment").select_option("Cu2(OH)2CO3")
        expect(page.get_by_text("does not balance").first).to_be_visible()
        out.fill("Cu2(OH)2CO3 + Na2SO4 + CO2 + H2O")
        out.press("Tab")
        beside = page.get_by_role("region", name="What it comes to")
        expect(beside.get_by_label("Equation")).to_contain_text("2 CuSO")
        expect(beside).to_contain_text("22.1")
        self.assert_accessible(page, "process being written")
        page.get_by_role("button", name="Keep the process").click()
        expect(page.get_by_role("alert").first).to_contain_text("1 to 80")
        page.get_by_label("Name").first.fill("Test green")
        page.get_by_role("button", name="Keep the process").click()
        expect(page.get_by_role("heading", level=1)).to_contain_text("Test green")

        page.get_by_role("button", name="Back from what I want").click()
        page.get_by_label("Pigment wanted").fill("40")
        expect(page.get_by_role("row", name=re.compile("Blue salt"))).to_contain_text("106.3")
        page.get_by_role("button", name="From what I have").click()
        page.get_by_label("I have Soda").fill("10")
        expect(page.get_by_role("row", name=re.compile("Blue salt"))).to_contain_text("20.0")
        self.assert_accessible(page, "process")
        self.assert_fits(page, "process")

        page.get_by_role("link", name="New version").click()
        wash = page.get_by_role("group", name="Step 6")
        wash.get_by_label("Washes").fill("6")
        page.get_by_role("button", name="Keep this version").click()
        expect(page.get_by_role("alert").first).to_contain_text("why this version differs")
        page.get_by_label("Why this version differs").fill("cleaner")
        page.get_by_role("button", name="Keep this version").click()
        expect(page.get_by_role("heading", level=1)).to_contain_text("version 2")
        expect(page.get_by_role("region", name="Steps")).to_contain_text("6 times 200 ml")
        page.get_by_role("link", name=re.compile("^version 1")).click()
        expect(page.get_by_role("region", name="Steps")).to_contain_text("4 times 200 ml")

    def test_a_lake_says_what_is_not_known_yet(self) -> None:
        page = self.page
        page.goto("/making/2")
        page.get_by_role("button", name="Back from what I want").click()
        page.get_by_label("Pigment wanted").fill("40")
        expect(page.get_by_role("alert")).to_contain_text("nobody knows yet what this process yields", ignore_case=True)
        page.goto("/making/99")
        expect(page.get_by_role("heading", level=1)).to_contain_text("There is no process 99")
