"""From a released batch to a filled tube, its label, and an inspection with a save; a found jar; what it costs."""

import re

from playwright.sync_api import expect

from tests.browser.support import BrowserTest


class FromBatchToShelf(BrowserTest):
    def test_fill_label_inspect_and_save(self) -> None:
        page = self.page
        self.ok(
            self.client.post(
                "/api/checks/20/decision",
                json={
                    "id": "7d9ab3a2-0a4e-4f6e-9e55-0f2a3c1d7e10",
                    "release": "release",
                    "reason": "good enough to keep",
                },
            )
        )
        page.goto("/batches/20")
        page.get_by_role("link", name="Fill tubes").click()
        expect(page.get_by_role("button", name=re.compile("40 ml tube, fill 1"))).to_have_attribute(
            "aria-pressed", "true"
        )
        page.get_by_label("Gross weight").fill("5")
        page.get_by_role("button", name="Filled", exact=True).click()
        expect(page.get_by_text("Not above the empty tube's 9.1 g")).to_be_visible()
        page.get_by_label("Gross weight").fill("77.5")
        page.get_by_label("Place on the shelf").fill("Drawer 9")
        page.get_by_label("Gross weight").press("Enter")
        expect(page.get_by_role("status").filter(has_text="Tap it out")).to_be_visible()
        expect(page.get_by_role("link", name=re.compile("^20-1"))).to_be_visible()
        self.assert_accessible(page, "a filling run")
        page.get_by_role("link", name="Labels").click()
        expect(page.get_by_alt_text(re.compile("as it prints"))).to_be_visible()
        page.get_by_label("Columns", exact=True).fill("9")
        expect(page.get_by_text(re.compile("9 columns leave"))).to_be_visible()
        page.get_by_label("Columns", exact=True).fill("2")
        page.get_by_label(re.compile("^I have confirmed")).check()
        expect(page.get_by_alt_text(re.compile("as it prints"))).to_be_visible()
        with page.expect_download() as download:
            page.get_by_role("button", name="Make the PDF").click()
        self.assertEqual(download.value.path().read_bytes()[:5], b"%PDF-")

        page.goto("/shelf")
        page.get_by_label("Scan or type a code").fill("nothing-9")
        page.keyboard.press("Enter")
        expect(page.get_by_text("Nothing here has the code nothing-9")).to_be_visible()
        page.get_by_label("Scan or type a code").fill("20-1")
        page.keyboard.press("Enter")
        expect(page.get_by_role("heading", level=1)).to_contain_text("Burnt sienna 20-1")
        page.keyboard.press("i")
        page.get_by_label("Oil on top").fill("90")
        page.get_by_role("button", name="Record").click()
        expect(page.get_by_text("More than the filling's 80 mm")).to_be_visible()
        page.get_by_label("Oil on top").fill("3")
        page.get_by_role("button", name="Record").click()
        expect(page.locator("[data-part=verdict]")).to_contain_text("Stir the oil back")
        page.get_by_role("button", name="Stirred back").click()
        expect(page.get_by_role("list").filter(has_text="oil stirred back")).to_be_visible()
        page.get_by_role("button", name="Inspect it").click()
        page.get_by_label("Oil on top").fill("20")
        page.get_by_role("button", name="Record").click()
        expect(page.locator("[data-part=verdict]")).to_contain_text("Grind it again")
        self.assert_accessible(page, "a tube to be saved")
        page.get_by_role("button", name="Back on the slab").click()
        expect(page).to_have_url(re.compile(r"/slab/\d+$"))
        expect(page.get_by_text(re.compile("old paint 20-1 of batch 20"))).to_be_visible()
        page.goto("/recipes/1")
        expect(page.get_by_text("Prone to bleed")).to_be_visible()

    def test_a_found_jar_gets_its_name_back(self) -> None:
        page = self.page
        page.goto("/shelf/found")
        page.get_by_label("How much is in it").fill("50")
        page.get_by_label("Weighs with the jar").fill("180")
        page.get_by_role("button", name="Put it on the shelf").click()
        expect(page.get_by_text("Missing. Accepted: what the empty jar weighs")).to_be_visible()
        page.get_by_label("A jar like it, empty").fill("97")
        page.get_by_label("The colour as #rrggbb").fill("#1f2f8f")
        page.get_by_role("button", name="Put it on the shelf").click()
        expect(page.get_by_text("Unknown hazard.").first).to_be_visible()
        self.assert_accessible(page, "a found jar")
        page.get_by_role("listitem").filter(has_text="batch 22").get_by_role("button", name="it is this").click()
        expect(page.get_by_role("heading", level=1)).to_contain_text("Ultramarine blue")
        page.get_by_role("button", name="Discarded").click()
        page.get_by_role("button", name="It is discarded").click()
        expect(page.get_by_text("Empty. Accepted: why it is discarded.")).to_be_visible()
        page.get_by_label("Why it is discarded").fill("dried")
        page.get_by_role("button", name="It is discarded").click()
        expect(page.get_by_text("discarded: dried")).to_be_visible()
        page.get_by_role("button", name="Back on the shelf").click()
        expect(page.get_by_role("button", name="Move it")).to_be_visible()

    def test_the_shelf_on_a_phone_and_by_filter(self) -> None:
        page = self.page
        page.set_viewport_size({"width": 390, "height": 844})
        page.goto("/shelf")
        expect(page.get_by_text(re.compile("tubes and jars; "))).to_be_visible()
        self.assert_fits(page, "the shelf on a phone")
        page.get_by_role("button", name="at risk").click()
        expect(page.get_by_role("link", name=re.compile("Green earth 25-1"))).to_be_visible()
        expect(page.get_by_role("link", name=re.compile("Burnt umber"))).to_have_count(0)
        page.goto("/shelf/1")
        self.assert_fits(page, "a tube on a phone")

    def test_cost_and_what_if(self) -> None:
        page = self.page
        page.goto("/cost?batch=1")
        expect(page.get_by_role("row", name=re.compile("Bone black"))).to_contain_text("1.62")
        page.get_by_label("The same tube bought").fill("9.5")
        page.get_by_label("Tools cost").fill("180")
        expect(page.get_by_role("status")).to_contain_text("paid back after")
        page.get_by_label("Batch; empty for the plan").fill("999")
        expect(page.get_by_text("No batch '999'")).to_be_visible()
