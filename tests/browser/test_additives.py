"""Additives on screen: a ladder from design to recipe, body by intent, a gel, an additive at the slab, use-by."""

import re
from uuid import uuid4

from playwright.sync_api import expect
from sqlalchemy import text

from tests.browser.support import BrowserTest
from tests.support import now_iso


class Additives(BrowserTest):
    def test_a_ladder_from_design_to_recipe(self) -> None:
        page = self.page
        page.goto("/recipes/1")
        page.get_by_role("link", name="Ladder", exact=True).click()
        expect(page.get_by_label("Ratio at every dose")).not_to_have_value("60")
        page.get_by_label("Name").fill("Sienna, three rungs")
        page.get_by_label("Doses, with none as the first").fill("2")
        expect(page.get_by_role("alert").filter(has_text="3 to 12").first).to_be_visible()
        page.get_by_label("Doses, with none as the first").fill("3")
        page.get_by_label("Paste each").fill("2")
        expect(page.get_by_text("2 g is too little to weigh and check")).to_be_visible()
        page.get_by_label("Paste each").fill("8")
        expect(page.get_by_role("row", name=re.compile("R2"))).to_be_visible()
        self.assert_accessible(page, "a ladder being designed")
        self.assert_fits(page, "a ladder being designed")
        page.get_by_role("button", name="Begin the ladder").click()

        line = page.locator("[data-part=next]")
        for n in range(3):
            expect(line).to_contain_text(f"Weigh out R{n}")
            page.get_by_role("button", name="Weighed out").click()
            expect(line).to_contain_text(f"Mix R{n}")
            page.get_by_role("button", name="Mixed and dabbed").click()
        for n in range(3):
            expect(line).to_contain_text(f"Read the spread of R{n}")
            page.get_by_label("Across, 1").fill(str(45 - n))
            if n == 0:
                page.get_by_label("Across, 1").press("Enter")
                expect(page.get_by_text("One of two diameters is missing")).to_be_visible()
            page.get_by_label("Across, 2").fill(str(45.4 - n))
            page.get_by_label("Across, 2").press("Enter")
        for n in range(3):
            expect(line).to_contain_text(f"Read the string of R{n}")
            page.get_by_label("Longest thread").fill(str(15 - n))
            page.get_by_label("Longest thread").press("Enter")
        expect(line).to_contain_text("Wait for the halos")

        ladder = int(page.url.rsplit("/", 1)[1])
        with self.database.session() as session:
            # A day goes by.
            earlier = "update act set made_at = made_at - interval '22 hours' from job where job.id = job_id"
            session.execute(text(f"{earlier} and room = 'additives' and number = :ladder"), {"ladder": ladder})
        for n, halo in enumerate((5.0, 3.5, 2.0)):
            told = {"id": str(uuid4()), "rung": n, "kind": "bleed", "length_mm": halo}
            self.ok(self.client.post(f"/api/additives/ladders/{ladder}/acts", json={**told, "made_at": now_iso()}))
        page.reload()
        expect(line).to_contain_text("is the least that meets every target")
        expect(page.get_by_role("img", name=re.compile("^halo of 3 rungs"))).to_be_visible()
        self.assert_accessible(page, "a ladder read")
        page.get_by_role("button", name="Make it a new version").click()
        expect(page.get_by_role("heading", level=1)).to_contain_text("version 3")
        expect(page.get_by_text(re.compile("aluminium stearate, by ladder"))).to_be_visible()
        expect(page.get_by_role("link", name=f"ladder {ladder}")).to_be_visible()

    def test_body_by_intent_goes_to_the_plan(self) -> None:
        page = self.page
        page.goto("/additives/body")
        page.get_by_role("button", name="stands like butter").click()
        page.get_by_role("button", name="for years").click()
        modern = page.get_by_role("region", name=re.compile("Stearate"))
        expect(modern).to_contain_text("aluminium stearate")
        expect(modern).to_contain_text("Known here")
        page.get_by_role("button", name="strings like honey").click()
        expect(page.get_by_role("region", name=re.compile("Pigment and oil"))).to_contain_text("stand")
        page.get_by_role("button", name="breaks short").click()
        self.assert_accessible(page, "body by intent")
        self.assert_fits(page, "body by intent")
        modern.get_by_role("button", name=re.compile("Plan it")).click()
        expect(page.get_by_label("Additives to weigh")).to_contain_text("Hydrogenated castor oil")
        expect(page.get_by_text("The label says what else is in it.")).to_be_visible()
        page.get_by_label("Dose").first.fill("4.5")
        expect(page.get_by_text(re.compile("4.5 % is above the ceiling"))).to_be_visible()
        page.get_by_label(re.compile("^A trial")).check()
        expect(page.get_by_text("Above its ceiling: a trial.")).to_be_visible()

    def test_a_gel_is_made_and_weighed_in_at_the_slab(self) -> None:
        page = self.page
        page.goto("/additives/gel")
        expect(page.get_by_label("Steps at the pot")).to_contain_text("never left alone")
        page.get_by_role("button", name="Step 1 done").click()
        page.get_by_role("button", name="Keep the gel").click()
        expect(page.get_by_text("All three weights are needed")).to_be_visible()
        page.get_by_label("Additive in").fill("8")
        page.get_by_label("Oil in").fill("32")
        page.get_by_label("Gel out").fill("55")
        page.get_by_label("Code on the jar").fill("G-20")
        expect(page.get_by_role("status").filter(has_text="20.0 %")).to_be_visible()
        page.get_by_role("button", name="Keep the gel").click()
        expect(page.get_by_text("More than the 40.0 g weighed in")).to_be_visible()
        self.assert_accessible(page, "a gel being made")
        page.get_by_label("Gel out").fill("38")
        page.get_by_role("button", name="Keep the gel").click()
        expect(page.get_by_role("heading", level=1)).to_contain_text("Aluminium stearate gel, 20 %")
        lot = int(page.url.rsplit("/", 1)[1])

        number = self.take_to_slab(additives=[{"lot_id": lot, "dose_pct": 1.5}])
        self.act(number, "ready")
        self.act(number, "powder", source="library-bone-black", measure={"unit": "g", "amount": 100})
        page.goto(f"/slab/{number}")
        advice = page.locator("[data-part=advice]")
        expect(advice).to_contain_text("Weigh in Aluminium stearate gel, 20 %")
        expect(advice).to_contain_text("of it is oil and comes off the pours")
        page.get_by_role("button", name=re.compile("^In, ")).click()
        expect(advice).to_contain_text("Pour first")
        page.keyboard.press("a")
        page.get_by_label("Another additive, not in the plan").select_option("library-clove-oil")
        expect(page.get_by_role("heading", name="Clove oil in")).to_be_visible()
        page.get_by_role("button", name="grams", exact=True).click()
        page.get_by_label("How much").fill("20")
        page.get_by_role("button", name="Record").click()
        expect(page.get_by_text(re.compile("above the ceiling of clove oil"))).to_be_visible()
        page.get_by_label("How much").fill("0.5")
        page.get_by_role("button", name="Record").click()
        expect(page.get_by_role("group", name="In the paste now")).to_contain_text("not in the plan")
        self.assert_accessible(page, "a slab with additives")

    def test_yolk_past_its_day_is_thrown_away(self) -> None:
        page = self.page
        page.goto("/")
        page.get_by_role("link", name=re.compile("past its use-by: throw it away")).click()
        alert = page.get_by_role("alert").filter(has_text="Past its use-by")
        expect(alert).to_be_visible()
        expect(page.get_by_text("Holds besides pigment and oil: egg yolk")).to_be_visible()
        page.get_by_label("Why it is thrown away").fill("")
        page.get_by_role("button", name="It is thrown away").click()
        expect(page.get_by_text("Needed: why it is thrown away.")).to_be_visible()
        page.get_by_label("Why it is thrown away").fill("smells")
        page.get_by_role("button", name="It is thrown away").click()
        expect(page.get_by_text(re.compile("Thrown away .*: smells"))).to_be_visible()
        page.goto("/")
        expect(page.get_by_role("heading", name="On the bench")).to_be_visible()
        expect(page.get_by_role("link", name=re.compile("past its use-by"))).to_have_count(0)
