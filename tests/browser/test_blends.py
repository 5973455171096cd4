"""Blends and doses on screen: a recipe that holds with additives, oils stirred together, a plan of both."""

import re

from playwright.sync_api import expect

from tests.browser.support import BrowserTest


class Recipes(BrowserTest):
    def test_a_recipe_with_doses_and_oils_stirred_together(self) -> None:
        page = self.page
        page.goto("/recipes/new")
        page.get_by_label("Name", exact=True).fill("Sea green, long")
        page.get_by_label("Pigment 1", exact=True).select_option("viridian")
        page.get_by_role("button", name="Add a pigment").click()
        page.get_by_label("Pigment 2", exact=True).select_option("viridian")
        page.get_by_role("button", name="Keep the recipe").click()
        expect(page.get_by_text(re.compile("One pigment twice. Try each pigment once")).first).to_be_visible()
        page.get_by_label("Pigment 2", exact=True).select_option("chalk")
        page.get_by_label("Oil 1", exact=True).select_option("linseed-refined")
        page.get_by_role("button", name="Another oil it may be made in").click()
        page.get_by_label("Oil 2", exact=True).select_option("linseed-stand")
        page.get_by_label("Stirred together").check()
        page.get_by_label("Parts of oil 1").fill("4")
        # A third oil brings its own part, and takes it along when it is left out again.
        page.get_by_role("button", name="Another oil it may be made in").click()
        expect(page.get_by_label("Parts of oil 3")).to_have_value("1")
        page.get_by_role("button", name="Leave oil 3 out").click()
        expect(page.get_by_label("Parts of oil 3")).to_have_count(0)
        page.get_by_label("Stance").select_option("additives")
        page.get_by_role("button", name="Add an additive").click()
        page.get_by_label("Additive 1", exact=True).select_option("library-aluminium-stearate")
        page.get_by_label("Dose").fill("9")
        page.get_by_label("Standard batch, by number").fill("9999")
        page.get_by_role("button", name="Keep the recipe").click()
        expect(page.get_by_text(re.compile("No batch '9999'")).first).to_be_visible()
        page.get_by_label("Standard batch, by number").fill("")
        page.get_by_role("button", name="Keep the recipe").click()
        expect(page.get_by_text(re.compile("9 % is above the ceiling")).first).to_be_visible()
        page.get_by_label("Dose").fill("1.2")
        self.assert_accessible(page, "a recipe being written")
        self.assert_fits(page, "a recipe being written")
        page.get_by_role("button", name="Keep the recipe").click()
        expect(page.get_by_role("heading", level=1)).to_contain_text("Sea green, long")
        promise = page.get_by_role("region", name="The promise")
        expect(promise).to_contain_text("Viridian")
        expect(promise).to_contain_text(re.compile("1.2 % aluminium stearate", re.I))
        expect(promise).to_contain_text(re.compile("4 .*linseed oil, refined", re.I))
        recipe = int(page.url.rsplit("/", 1)[1])
        kept = self.ok(self.client.get(f"/api/recipes/{recipe}"))["versions"][0]["asked"]
        self.assertEqual((kept["oil_keys"], kept["oil_parts"]), (["linseed-refined", "linseed-stand"], [4, 1]))


class Plans(BrowserTest):
    def test_two_oils_in_one_plan(self) -> None:
        page = self.page
        page.goto("/plan?kept=1")
        expect(page.get_by_role("heading", level=1)).to_contain_text("Viridian")
        alone = self.figure(page, "Oil expected")
        page.get_by_role("button", name="Blend in another oil").click()
        self.choose("Oil 2", "stand")
        page.get_by_label("Parts").first.fill("3")
        page.get_by_label("Parts").nth(1).fill("1")
        expect(page.get_by_role("button", name=re.compile(f"^Oil expected: {alone}"))).to_have_count(0)
        page.get_by_label("Parts").nth(1).fill("-1")
        expect(page.get_by_role("alert").filter(has_text="Try at least 0.001").first).to_be_visible()
        page.get_by_role("button", name="Leave out oil 2").click()
        expect(page.get_by_label("Parts")).to_have_count(0)
        expect(page.get_by_role("button", name=re.compile(f"^Oil expected: {alone}"))).to_be_visible()
