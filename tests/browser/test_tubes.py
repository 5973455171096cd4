"""From a released batch to a filled tube, its label, and an inspection with a save; a found jar; what it costs."""

import io
import re
from uuid import uuid4

import pypdf
import zxingcpp
from PIL import Image
from playwright.sync_api import expect

from niddy.exchange import printing
from tests.browser.support import BrowserTest


def codes(pdf: bytes) -> list[str]:
    """What the QR codes of the first page say, in their order down the page."""
    picture = Image.open(io.BytesIO(printing.picture(pdf, width_px=1800)))
    found = zxingcpp.read_barcodes(picture)
    return [code.text for code in sorted(found, key=lambda code: (code.position.top_left.y, code.position.top_left.x))]


class WhileItIsTyped(BrowserTest):
    """What is on the table is judged before anything is recorded."""

    def test_a_tube_being_filled(self) -> None:
        page = self.page
        page.goto("/tubes/30")
        page.get_by_role("button", name=re.compile("^40 ml tube")).click()
        filled = len(self.ok(self.client.get("/api/tubes/30"))["items"])
        says = page.get_by_role("status").filter(has_text=re.compile("mark|much|air"))
        for gross, words in (
            ("40", "g short of its mark"),
            ("80", "Tap it out"),
            ("83.4", "Full to its mark"),
            ("95", "too much"),
        ):
            page.get_by_label("Gross weight").fill(gross)
            expect(says).to_contain_text(words)
        page.get_by_label("Gross weight").fill("2")
        expect(page.get_by_text("Not above the empty tube's 9.1 g")).to_be_visible()
        self.assertEqual(len(self.ok(self.client.get("/api/tubes/30"))["items"]), filled)

    def test_a_jar_with_a_cover_and_a_tube_that_waits(self) -> None:
        page = self.page
        page.goto("/tubes/30")
        page.get_by_label("Not released yet. Why tube it now?").fill("for the practice board")
        page.get_by_role("button", name="a jar").click()
        page.get_by_label("Which jar").fill("honey jar")
        page.get_by_label("Covered with").select_option("oil")
        expect(page.get_by_text("Smooth the top.")).to_be_visible()
        # What is left goes in, unless somebody knows better.
        expect(page.get_by_label("or how much")).not_to_have_value("")
        page.get_by_label("or how much").fill("")
        page.get_by_role("button", name="Filled", exact=True).click()
        expect(page.get_by_text("Needed: how much is in it")).to_be_visible()
        page.get_by_label("or how much").fill("12.5")
        page.get_by_role("button", name="Filled", exact=True).click()
        expect(page.get_by_role("link", name=re.compile("^30-1"))).to_contain_text("12.5 ml")
        page.get_by_role("button", name=re.compile("^20 ml tube")).click()
        page.get_by_label("or how much").fill("9")
        page.get_by_label("Part-filled").check()
        page.get_by_role("button", name="Filled", exact=True).click()
        expect(page.get_by_role("link", name=re.compile("^30-2"))).to_contain_text("waits")
        page.get_by_role("link", name=re.compile("^30-1")).click()
        expect(page.get_by_text("covered with")).to_be_visible()

    def test_a_tube_that_waits_is_topped_up_by_the_next_batch(self) -> None:
        page = self.page
        part = {"id": str(uuid4()), "tube_type_id": 2, "volume_ml": 20.0, "part": True, "reason": "a trial"}
        waits = self.ok(self.client.post("/api/tubes/30/fill", json=part))["item_id"]
        page.goto("/tubes/27")
        page.get_by_role("button", name=re.compile("^60 ml tube")).click()
        expect(page.get_by_label("or top up one that waits")).to_have_count(0)
        page.get_by_role("button", name=re.compile("^40 ml tube")).click()
        page.get_by_label("or top up one that waits").select_option(index=1)
        page.get_by_label("or how much").fill("19")
        page.get_by_role("button", name="Filled", exact=True).click()
        expect(page.get_by_text(re.compile("19 ml would not fill it up"))).to_be_visible()
        page.get_by_label("or how much").fill("20.8")
        page.get_by_role("button", name="Filled", exact=True).click()
        expect(page.get_by_label("or top up one that waits")).to_have_count(0)
        page.goto(f"/shelf/{waits}")
        heading = page.get_by_role("heading", level=1)
        expect(heading.get_by_role("link", name="batch 30")).to_be_visible()
        expect(heading.get_by_role("link", name="27")).to_be_visible()
        expect(page.get_by_text("topped up with 0.8 ml of batch 27")).to_be_visible()

    def test_a_tube_type_by_its_measures_stands_among_the_empties(self) -> None:
        page = self.page
        page.goto("/workshop")
        page.get_by_role("button", name="Add a tube type").click()
        page.get_by_label("Name of the tube type").fill("Long tube")
        page.get_by_label("Diameter").fill("25")
        page.get_by_label("Length").fill("110")
        page.get_by_label("Room left at the end").fill("110")
        page.get_by_role("button", name="Keep", exact=True).click()
        expect(page.get_by_text("110 mm leaves nothing of a 110 mm tube")).to_be_visible()
        page.get_by_label("Room left at the end").fill("25")
        page.get_by_role("button", name="Keep", exact=True).click()
        expect(page.get_by_text("41.7 ml to its mark")).to_be_visible()
        page.goto("/tubes")
        empties = page.get_by_role("region", name="Empty tubes")
        expect(empties.get_by_role("listitem").filter(has_text="Long tube")).to_contain_text("not kept")
        expect(empties.get_by_role("listitem").filter(has_text="40 ml tube")).to_contain_text("9.1 g empty, 3 folds")
        self.assert_accessible(page, "the tubes room")

    def test_an_inspection_on_the_drawing(self) -> None:
        page = self.page
        before = self.ok(self.client.get("/api/shelf/1"))["events"]
        page.goto("/shelf/1")
        page.get_by_role("button", name="Inspect it").click()
        form = page.get_by_role("form", name="Inspection")
        line = form.get_by_role("slider")
        line.focus()
        for _ in range(2):
            page.keyboard.press("PageDown")
        page.keyboard.press("ArrowUp")
        expect(form.get_by_label("Oil on top")).to_have_value("9.5")
        expect(form.get_by_role("status")).to_contain_text("12% of it is oil on top")
        box = line.bounding_box()
        assert box is not None
        # The drawing is 190 high, its filling from 40 to 166: halfway is half of the 80 mm.
        page.mouse.move(box["x"] + box["width"] / 2, box["y"] + box["height"] * 50 / 190)
        page.mouse.down()
        page.mouse.move(box["x"] + box["width"] / 2, box["y"] + box["height"] * 103 / 190, steps=4)
        page.mouse.up()
        expect(form.get_by_label("Oil on top")).to_have_value("40")
        expect(form.get_by_role("status")).to_contain_text("prone to bleed")
        form.get_by_label("Oil on top").fill("")
        expect(form.get_by_text("Needed: how many mm")).to_be_visible()
        expect(form.get_by_role("button", name="Record")).to_be_disabled()
        form.get_by_label("Oil on top").fill("0")
        expect(form.get_by_role("status")).to_contain_text("Keep it")
        form.get_by_role("button", name="hard through").click()
        expect(form.get_by_role("status")).to_contain_text("Discard it")
        self.assert_accessible(page, "an inspection")
        page.get_by_role("button", name="Cancel").click()
        expect(page.get_by_role("button", name="Inspect it")).to_be_visible()
        self.assertEqual(self.ok(self.client.get("/api/shelf/1"))["events"], before)


class FromBatchToShelf(BrowserTest):
    def test_fill_label_inspect_and_save(self) -> None:
        page = self.page
        self.ok(
            self.client.post(
                "/api/checks/30/decision",
                json={
                    "id": "7d9ab3a2-0a4e-4f6e-9e55-0f2a3c1d7e10",
                    "release": "release",
                    "reason": "good enough to keep",
                },
            )
        )
        page.goto("/batches/30")
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
        expect(page.get_by_role("link", name=re.compile("^30-1"))).to_be_visible()
        self.assert_accessible(page, "a filling run")
        page.get_by_role("link", name="Labels").click()
        expect(page.get_by_alt_text(re.compile("as it prints"))).to_be_visible()
        expect(page.get_by_text("To copy by hand")).to_be_visible()
        page.get_by_role("button", name="room for a dab").click()
        page.locator("summary", has_text="A bought sheet of other measures").click()
        page.get_by_label("Columns", exact=True).fill("9")
        expect(page.get_by_text(re.compile("9 columns leave"))).to_be_visible()
        page.get_by_label("Columns", exact=True).fill("2")
        page.get_by_label(re.compile("^I have confirmed")).check()
        expect(page.get_by_alt_text(re.compile("as it prints"))).to_be_visible()
        with page.expect_download() as download:
            page.get_by_role("button", name="Make the PDF").click()
        self.assertEqual(codes(download.value.path().read_bytes()), [f"{self.base}/batches/30"])

        page.goto("/shelf")
        page.get_by_label("Scan or type a code").fill("nothing-9")
        page.keyboard.press("Enter")
        expect(page.get_by_text("Nothing here has the code nothing-9")).to_be_visible()
        page.get_by_label("Scan or type a code").fill("30-1")
        page.keyboard.press("Enter")
        expect(page.get_by_role("heading", level=1)).to_contain_text("Burnt sienna 30-1")
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
        expect(page.get_by_text(re.compile("old paint 30-1 of batch 30"))).to_be_visible()
        page.goto("/recipes/1")
        expect(page.get_by_text("Prone to bleed")).to_be_visible()

    def test_a_found_jar_gets_its_name_back(self) -> None:
        page = self.page
        page.goto("/shelf/found")
        page.get_by_role("button", name="Put it on the shelf").click()
        expect(page.get_by_role("alert").first).to_contain_text("or a size and how full it is")
        page.get_by_label("Or so much").fill("50")
        page.locator("summary", has_text="Its date, where it stands").click()
        page.get_by_label("Weighs with the jar").fill("180")
        page.get_by_role("button", name="Put it on the shelf").click()
        expect(page.get_by_text("Needed: what the empty jar weighs")).to_be_visible()
        page.get_by_label("A jar like it, empty").fill("97")
        page.get_by_label("The colour as #rrggbb").fill("#1f2f8f")
        page.get_by_role("button", name="Put it on the shelf").click()
        expect(page.get_by_text("Unknown hazard.").first).to_be_visible()
        self.assert_accessible(page, "a found jar")
        page.get_by_role("listitem").filter(has_text="batch 1").get_by_role("button", name="it is this").click()
        expect(page.get_by_role("heading", level=1)).to_contain_text("Ultramarine blue")
        page.get_by_role("button", name="Discarded").click()
        page.get_by_role("button", name="It is discarded").click()
        expect(page.get_by_text("Needed: why it is discarded.")).to_be_visible()
        page.get_by_label("Why it is discarded").fill("dried")
        page.get_by_role("button", name="It is discarded").click()
        expect(page.get_by_text("discarded: dried")).to_be_visible()
        page.get_by_role("button", name="Back on the shelf").click()
        expect(page.get_by_role("button", name="Move it")).to_be_visible()

    def test_a_bought_paint_is_on_the_shelf_by_what_its_label_says(self) -> None:
        page = self.page
        page.set_viewport_size({"width": 390, "height": 844})
        page.goto("/shelf/found")
        page.get_by_role("button", name="Paint I bought").click()
        page.get_by_label("What its label calls it").fill("Warm grey")
        page.get_by_label("What its label says of it").fill("PBr7, PW4; linseed oil")
        page.get_by_role("button", name="tube, 40 ml").click()
        page.get_by_role("button", name="half").click()
        self.assert_fits(page, "a bought paint on a phone")
        self.assert_accessible(page, "a bought paint")
        page.get_by_role("button", name="Put it on the shelf").click()
        expect(page.get_by_role("heading", level=1)).to_contain_text("Warm grey")
        expect(page.get_by_text("PBr7, PW4; linseed oil")).to_be_visible()
        expect(page.get_by_text("Unknown hazard.")).to_have_count(0)

    def test_the_shelf_on_a_phone_and_by_filter(self) -> None:
        page = self.page
        page.set_viewport_size({"width": 390, "height": 844})
        page.goto("/shelf")
        expect(page.get_by_text(re.compile("tubes and jars; "))).to_be_visible()
        self.assert_fits(page, "the shelf on a phone")
        page.goto("/tubes/3")
        expect(page.get_by_text("Lead.", exact=True)).to_be_visible()
        self.assert_fits(page, "a filling run on a phone")
        page.goto("/shelf")
        page.get_by_role("button", name="at risk").click()
        expect(page.get_by_role("link", name=re.compile("Green earth 4-1"))).to_be_visible()
        expect(page.get_by_role("link", name=re.compile("Burnt umber"))).to_have_count(0)
        page.goto("/shelf/1")
        self.assert_fits(page, "a tube on a phone")

    def test_labels_of_a_part_of_the_shelf_from_the_nth_place(self) -> None:
        page = self.page
        page.goto("/shelf")
        page.get_by_label("Search the shelf").fill("lead-tin")
        expect(page.get_by_role("heading", level=1)).to_contain_text("3 tubes and jars")
        page.get_by_role("link", name="Labels of these").click()
        expect(page.get_by_role("heading", level=1)).to_contain_text("3 labels")
        page.get_by_label("First free label of the sheet").fill("11")
        expect(page.get_by_text(re.compile("Try from 1 to 10"))).to_be_visible()
        expect(page.get_by_role("button", name="Make the PDF")).to_be_disabled()
        page.get_by_label("First free label of the sheet").fill("9")
        expect(page.get_by_alt_text("The first of 2 pages as it prints")).to_be_visible()
        expect(page.get_by_alt_text("The first label, in its true size")).to_be_visible()
        with page.expect_download() as download:
            page.get_by_role("button", name="Make the PDF").click()
        self.assertEqual(codes(download.value.path().read_bytes()), [f"{self.base}/batches/3"] * 2)
        page.get_by_role("button", name="one a page").click()
        page.get_by_label("Wide").fill("10")
        expect(page.get_by_text(re.compile("Try from 25 to 300 mm"))).to_be_visible()
        page.get_by_label("Wide").fill("45")
        page.get_by_label("High").fill("20")
        page.get_by_label("Another name").fill("A very long name for a very small label " * 5)
        expect(page.get_by_text(re.compile("is cut: too long for this label"))).to_be_visible()

    def test_the_shelf_by_place_order_and_what_is_gone(self) -> None:
        page = self.page
        page.goto("/shelf")
        rows = page.locator("main > div > ul > li")
        expect(rows.first).to_contain_text("1-1 to 1-4")
        rows.first.get_by_role("button").click()
        expect(rows.first.get_by_role("link", name=re.compile("Ultramarine blue 1-2"))).to_contain_text("inspect now")
        page.get_by_label("Place").select_option("Locked box")
        expect(page.get_by_role("heading", level=1)).to_contain_text("9 tubes and jars")
        expect(rows).to_have_count(3)
        page.get_by_label("Order").select_option("newest first")
        expect(rows.first).to_contain_text("Cobalt green")
        expect(page).to_have_url(re.compile("place=Locked.box.*sort=newest"))
        page.reload()
        expect(rows.first).to_contain_text("Cobalt green")
        page.get_by_label("Place").select_option("")
        page.get_by_role("button", name="with those gone").click()
        page.get_by_label("Search the shelf").fill("umber 2-4")
        expect(rows.first).to_contain_text("used up")
        page.get_by_label("Search the shelf").fill("nothing of the kind")
        expect(page.get_by_text("Nothing on the shelf matches that.")).to_be_visible()
        printed = page.get_by_role("link", name="Print the list").get_attribute("href") or ""
        self.assertIn("list.pdf", printed)
        self.assertEqual(self.client.get(printed).headers["content-type"], "application/pdf")

    def test_by_keyboard_alone(self) -> None:
        page = self.page
        page.goto("/shelf")
        expect(page.locator("main ul li button").first).to_be_visible()
        page.keyboard.press("?")
        expect(page.get_by_text("a jar nobody can name")).to_be_visible()
        page.keyboard.press("Escape")
        page.keyboard.press("j")
        page.keyboard.press("Enter")
        page.keyboard.press("j")
        page.keyboard.press("j")
        page.keyboard.press("k")
        expect(page.get_by_role("link", name=re.compile("Ultramarine blue 1-1"))).to_be_focused()
        page.keyboard.press("i")
        expect(page.get_by_role("button", name="to inspect")).to_have_attribute("aria-pressed", "true")
        page.keyboard.press("i")
        page.keyboard.press("o")
        page.keyboard.type("3-1")
        page.keyboard.press("Enter")
        expect(page.get_by_role("heading", level=1)).to_contain_text("Lead-tin yellow 3-1")
        page.goto("/tubes/30")
        expect(page.get_by_role("button", name=re.compile("^40 ml tube"))).to_be_visible()
        page.keyboard.press("1")
        expect(page.get_by_role("button", name=re.compile("^20 ml tube"))).to_have_attribute("aria-pressed", "true")
        page.keyboard.press("p")
        expect(page.get_by_label("Part-filled")).to_be_checked()
        page.keyboard.press("0")
        expect(page.get_by_label("Which jar")).to_be_visible()
        page.keyboard.press("g")
        expect(page.get_by_label("Gross weight")).to_be_focused()

    def test_the_shelf_by_colour_as_swatches(self) -> None:
        page = self.page
        page.goto("/shelf")
        page.get_by_label("Order").select_option("by colour")
        swatches = page.get_by_role("img", name=re.compile("^Swatch of"))
        expect(swatches.first).to_be_visible()
        names = [one.split(" of ")[1] for one in swatches.evaluate_all("all => all.map(o => o.ariaLabel)")]
        self.assertTrue(names[0].startswith("Lamp black"), names[0])
        self.assertLess(
            max(n for n, name in enumerate(names) if name.startswith("Burnt sienna")),
            min(n for n, name in enumerate(names) if name.startswith("Ultramarine blue")),
        )
        self.assert_fits(page, "swatches of the shelf")
        self.assert_accessible(page, "swatches of the shelf")
        page.get_by_role("link", name=re.compile("Lead-tin yellow 3-1")).click()
        expect(page.get_by_role("heading", level=1)).to_contain_text("Lead-tin yellow 3-1")

    def test_what_a_recipe_costs(self) -> None:
        page = self.page
        page.goto("/recipes/1")
        page.get_by_role("link", name="Cost").click()
        together = page.get_by_role("region", name=re.compile("^Burnt sienna, body colour"))
        expect(together).to_contain_text(re.compile(r"0\.03\d EUR a ml \(0\.03\d to 0\.03\d\)"))
        expect(page.get_by_role("heading", level=1)).to_contain_text("batch 30 as made")
        together.get_by_role("button", name=re.compile("^23")).click()
        expect(page.get_by_role("heading", level=1)).to_contain_text("batch 23 as made")
        page.get_by_label("A label").fill("0.5")
        expect(together).to_contain_text(re.compile(r"0\.04\d EUR a ml"))
        page.get_by_label("A label").fill("-1")
        expect(page.get_by_role("alert").first).to_contain_text("Try ")
        page.get_by_label("A label").fill("0.2")
        expect(page.get_by_role("alert")).to_have_count(0)
        self.assert_accessible(page, "what a recipe costs")

    def test_a_recipe_never_made_has_no_cost_and_says_so(self) -> None:
        asked = self.ok(self.client.get("/api/recipes/1"))["versions"][1]["asked"]
        made = self.ok(self.client.post("/api/recipes", json={"name": "Never made", "recipe": asked}))
        self.page.goto(f"/cost?recipe={made['id']}")
        expect(self.page.get_by_role("alert")).to_contain_text("No batch of Never made is finished")

    def test_cost_and_what_if(self) -> None:
        page = self.page
        dear = {
            "kind": "pigment",
            "material_key": "bone-black",
            "code": "BB-9",
            "received_on": "2026-06-01",
            "received": 500,
            "price_per_unit": "29.00",
        }
        self.ok(self.client.post("/api/materials/lots", json=dear))
        page.goto("/cost?batch=24")
        expect(page.get_by_role("row", name=re.compile("Bone black"))).to_contain_text("1.62")
        page.get_by_label("The same tube bought").fill("9.5")
        page.get_by_label("Tools cost").fill("180")
        expect(page.get_by_role("status")).to_contain_text("paid back after")
        page.get_by_label("What if: times as much").fill("3")
        expect(page.get_by_role("heading", level=1)).to_contain_text("3 times batch 24 as made")
        expect(page.get_by_role("row", name=re.compile("Bone black"))).to_contain_text("4.87")
        page.get_by_label("What if: times as much").fill("0")
        expect(page.get_by_role("alert").filter(has_text="Try at least 0.001")).to_be_visible()
        page.get_by_label("What if: times as much").fill("1")
        lot = page.get_by_label("Lot of bone black")
        lot.select_option(label="BB-9, 29.00 a kg")
        expect(page.get_by_role("row", name=re.compile("Bone black"))).to_contain_text("3.25")
        page.get_by_label("Batch; empty for the plan").fill("999")
        expect(page.get_by_text("No batch '999'")).to_be_visible()


class Lineage(BrowserTest):
    def test_from_a_lot_to_every_tube_and_back_and_on_paper(self) -> None:
        page = self.page
        page.goto("/stock")
        page.get_by_role("link", name=re.compile("Bone black.*BB-3")).click()
        page.get_by_role("link", name="Where it went").click()
        expect(page.get_by_role("heading", level=1)).to_contain_text("Where lot BB-3 went")
        lines = page.get_by_role("list", name="Lineage").get_by_role("listitem")
        expect(lines).to_have_count(6)
        expect(lines.first).to_contain_text("112.0 g of the lot")
        expect(page.get_by_text("4 tubes, jars and sticks of 1 batch and 1 pot")).to_be_visible()
        self.assert_accessible(page, "where a lot went")
        pdf = self.client.get(page.get_by_role("link", name="Print the recall list").get_attribute("href") or "")
        told = pypdf.PdfReader(io.BytesIO(pdf.content)).pages[0].extract_text()
        self.assertIn("Where lot BB-3 went", told)
        self.assertIn("24-3", told)
        lines.filter(has_text="24-3").get_by_role("link").click()
        page.get_by_role("link", name="What is behind it").click()
        expect(page.get_by_role("heading", level=1)).to_contain_text("What is behind 24-3")
        expect(page.get_by_role("list", name="Lineage")).to_contain_text("BB-3")
        page.set_viewport_size({"width": 390, "height": 844})
        self.assert_fits(page, "lineage on a phone")
        page.goto("/lineage/lots/9999")
        expect(page.get_by_role("heading", level=1)).to_contain_text("There is no lot 9999")
