"""A maker's whole way: plan, slab, finish, batch page; with a reload half-way and with a server that is away."""

import re

from playwright.sync_api import Route, expect

from tests.browser.support import BrowserTest


class WholeWay(BrowserTest):
    def plan(self) -> None:
        self.page.goto("/plan")
        self.choose("Pigment", "Raw umber")
        self.choose("Oil", "Walnut oil, refined")
        expect(self.page.get_by_role("heading", level=1)).to_contain_text("Raw umber")

    def test_nothing_of_a_dangerous_powder_before_the_maker_is_ready(self) -> None:
        number = self.take_to_slab(lines=[{"pigment_key": "cadmium-yellow", "parts": 1}])
        page = self.page
        page.goto(f"/slab/{number}")
        page.get_by_role("button", name="More", exact=True).click()
        expect(page.get_by_role("menuitem", name="Powder in")).to_be_disabled()
        page.keyboard.press("Escape")
        page.get_by_role("button", name=re.compile("^Mask, gloves")).click()
        expect(page.get_by_role("button", name=re.compile("^Weighed in"))).to_be_visible()
        page.get_by_role("button", name="More", exact=True).click()
        expect(page.get_by_role("menuitem", name="Powder in")).to_be_enabled()

    def test_from_powder_to_tube(self) -> None:
        page = self.page
        self.plan()
        expect(page.get_by_label("In short, take care")).to_contain_text("manganese")
        before = self.figure(page, "Weigh out")
        page.get_by_role("button", name="One 40 ml tube more").click()
        expect(page.get_by_role("button", name=re.compile(f"^Weigh out: {before}"))).to_have_count(0)
        self.assertGreater(self.figure(page, "Weigh out"), before)

        page.get_by_role("button", name=re.compile("^Pour first")).click()
        expect(page.get_by_text("How pour first was got")).to_be_visible()
        expect(page.get_by_text("10 % quantile of the demand")).to_be_visible()
        page.keyboard.press("Escape")

        wanted = self.figure(page, "Weigh out")
        slider = page.get_by_role("slider", name="Target body")
        slider.focus()
        expect(slider).to_have_attribute("aria-valuenow", "0.86")
        for _ in range(8):
            slider.press("ArrowLeft")
        expect(slider).to_have_attribute("aria-valuenow", "0.94")
        expect(slider).to_have_attribute("aria-valuetext", re.compile("^stiff"))
        for _ in range(8):
            slider.press("ArrowRight")
        expect(slider).to_have_attribute("aria-valuetext", re.compile("^tube"))

        expect(page.get_by_role("button", name=re.compile(f"^Weigh out: {wanted} g"))).to_be_visible()
        page.get_by_role("button", name="Take it to the slab").click()
        expect(page).to_have_url(re.compile(r"/slab/\d+$"))

        page.get_by_role("button", name="I have everything ready").click()
        page.get_by_role("button", name=f"Weighed in {wanted:.1f} g").click()
        expect(page.get_by_text("Mask on")).to_be_visible()

        first = page.locator("[data-part=advice] button")
        expect(first).to_contain_text("Poured")
        first.click()
        expect(page.locator("li[data-kind=oil]")).to_have_count(1)
        expect(page.get_by_role("img", name=re.compile("^Pour ladder"))).to_have_attribute(
            "aria-label", re.compile("1: poured ")
        )

        page.reload()
        expect(page.locator("li[data-kind=oil]")).to_have_count(1)
        expect(page.locator("li[data-kind=powder]")).to_have_count(1)

        page.keyboard.press("p")
        page.get_by_label("How much").fill("1,5")
        page.keyboard.press("Enter")
        expect(page.locator("li[data-kind=oil]")).to_have_count(2)
        expect(page.locator("li[data-kind=oil]").first).to_contain_text("+1.5 g")
        page.keyboard.press("x")
        expect(page.get_by_role("status").filter(has_text="Undone")).to_be_visible()
        page.get_by_role("button", name="Put it back").click()
        expect(page.get_by_role("button", name="Put it back")).to_have_count(0)
        expect(page.locator("li[data-kind=oil]")).to_have_count(2)

        page.keyboard.press("l")
        page.get_by_role("button", name=re.compile("^wet curds")).click()
        expect(page.get_by_text("Mask on")).to_have_count(0)
        expect(page.get_by_role("img", name="The paste: wet curds, no dust left")).to_be_visible()
        page.keyboard.press("l")
        page.get_by_role("button", name=re.compile("^even paste")).click()
        page.get_by_role("button", name=re.compile("^tube")).click()
        expect(page.get_by_text("Stop: it is right.")).to_be_visible()
        expect(page.get_by_role("img", name=re.compile("^Pour ladder"))).not_to_have_attribute(
            "aria-label", re.compile("pour |next")
        )

        page.get_by_role("button", name="Finish", exact=True).click()
        page.get_by_role("button", name=re.compile("^right")).click()
        more = page.get_by_role("button", name="One 40 ml tube more")
        for _ in range(9):
            more.click()
        page.get_by_role("button", name="Finish the batch").click()
        expect(page.get_by_role("alert")).to_contain_text("is more than the")
        for _ in range(9):
            page.get_by_role("button", name="One 40 ml tube less").click()
        page.get_by_role("button", name="Finish the batch").click()

        expect(page).to_have_url(re.compile(r"/batches/\d+\?made=1$"))
        expect(page.get_by_role("region", name="Label it").get_by_role("listitem")).to_have_count(3)
        expect(page.get_by_role("img", name=re.compile("^Tube rack: 3 x 40 ml tube"))).to_be_visible()
        row = page.get_by_role("row", name=re.compile("^Pigment"))
        expect(row).to_contain_text(f"{wanted:.1f}")
        page.goto("/batches?words=umber")
        expect(page.get_by_role("link", name=re.compile("Raw umber"))).to_have_count(1)

    def test_refusals_stand_beside_their_field_and_nothing_is_lost(self) -> None:
        page = self.page
        page.goto("/slab/32")
        self.more(page, "Sample taken out")
        amount = page.get_by_label("How much")
        amount.fill("9000")
        amount.press("Enter")
        expect(page.get_by_role("alert")).to_contain_text("More than is on the slab. Try up to")
        expect(amount).to_have_value("9000")
        amount.fill("a bit")
        expect(page.get_by_role("alert")).to_contain_text("Not a number")
        page.keyboard.press("Escape")
        page.keyboard.press("p")
        page.get_by_role("button", name="weigh back").click()
        page.get_by_label("Before").fill("100")
        page.get_by_label("After").fill("120")
        page.get_by_role("button", name="Record").click()
        expect(page.get_by_role("alert")).to_contain_text("heavier after than before")

    def test_an_act_made_while_the_server_is_away_waits_and_arrives_once(self) -> None:
        page = self.page
        page.goto("/slab/32")
        expect(page.locator("[data-part=advice]")).to_be_visible()
        away = True
        seen: list[str] = []

        def acts(route: Route) -> None:
            seen.append(route.request.post_data or "")
            # The first time the server hears it but its answer is lost.
            if len(seen) == 1:
                route.fetch()
            if away:
                route.abort()
            else:
                route.continue_()

        page.route("**/acts", acts)
        page.keyboard.press("n")
        page.get_by_label("Note").fill("written in the dark")
        page.get_by_role("button", name="Record").click()
        expect(page.get_by_role("status").first).to_contain_text("1 act waits for the server")
        away = False
        expect(page.get_by_role("status").first).to_contain_text("every act saved")
        self.assertEqual(len(set(seen)), 1)
        timeline = self.ok(self.client.get("/api/slab/32"))["timeline"]
        self.assertEqual(sum("written in the dark" in entry["text"] for entry in timeline), 1)


class Overshoot(BrowserTest):
    def overshot(self) -> int:
        """A batch with far too much oil, seen as loose."""
        number = self.take_to_slab(tubes=[{"tube_type_id": 1, "count": 3}], pigment_g=None)
        planned = self.ok(self.client.get(f"/api/slab/{number}"))["pigments"][0]["planned_g"]
        self.ok(self.act(number, "powder", source="library-bone-black", measure={"amount": planned}))
        self.ok(self.act(number, "oil", source="library-linseed-refined", measure={"amount": planned * 0.85}))
        self.ok(self.act(number, "look", stage="even_paste", body="loose"))
        self.page.goto(f"/slab/{number}")
        expect(self.page.get_by_text("Too soft: choose a way back.")).to_be_visible()
        return number

    def take(self, way: str) -> None:
        self.page.locator(f"[data-way={way}]").get_by_role("button", name="Do this").click()

    def test_adding_pigment(self) -> None:
        number = self.overshot()
        card = self.page.locator("[data-way=add_pigment]")
        expect(card).to_contain_text("bone black")
        expect(card).to_contain_text("+")
        self.take("add_pigment")
        self.page.get_by_role("button", name=re.compile("^Weighed in")).click()
        expect(self.page.locator("li[data-kind=powder]")).to_have_count(2)
        expect(self.page.get_by_text("Too soft: choose")).to_have_count(0)
        state = self.ok(self.client.get(f"/api/slab/{number}"))
        self.assertAlmostEqual(state["ratio"]["value"], state["scale"]["target_oil_g_per_100g"], delta=0.4)

    def test_drawing_oil_out(self) -> None:
        number = self.overshot()
        self.take("draw_oil")
        self.page.get_by_role("button", name=re.compile("^Drew out")).click()
        expect(self.page.locator("li[data-kind=draw_oil]")).to_have_count(1)
        state = self.ok(self.client.get(f"/api/slab/{number}"))
        self.assertAlmostEqual(state["ratio"]["value"], state["scale"]["target_oil_g_per_100g"], delta=0.4)

    def test_leaving_it(self) -> None:
        number = self.overshot()
        self.take("leave")
        expect(self.page.get_by_text("Too soft: choose")).to_have_count(0)
        state = self.ok(self.client.get(f"/api/slab/{number}"))
        self.assertLess(state["target_reduced_pvc"], 0.80)
        self.assertAlmostEqual(state["ratio"]["value"], state["scale"]["target_oil_g_per_100g"], delta=0.5)


class Blends(BrowserTest):
    def test_a_blend_from_spoons(self) -> None:
        page = self.page
        page.goto("/plan")
        self.choose("Pigment", "Bone black", "lot BB-3")
        self.choose("Oil", "Linseed oil, cold-pressed")
        page.get_by_role("button", name="Blend in another pigment").click()
        self.choose("Pigment 2", "Titanium white")
        page.get_by_role("button", name="Spoons, mixed").click()
        page.get_by_label("Pigment 1, level").fill("4")
        page.get_by_label("Pigment 2, level").fill("3")
        expect(page.get_by_role("button", name=re.compile("^Weigh out titanium"))).to_contain_text("11.3")
        white = page.get_by_role("button", name=re.compile("^Weigh out titanium"))
        expect(white).to_contain_text("7.3 to 15.2")
        # The demo's bone black had a level spoon weighed: 0.52 g/ml, and a narrower band.
        expect(page.get_by_role("button", name=re.compile("^Weigh out bone"))).to_contain_text("9.6 to 11.2")
        # Measures mix freely: one powder by spoon, the other weighed.
        page.get_by_label("Which spoon").nth(1).select_option("g")
        expect(white).not_to_contain_text("to")
        expect(white).to_contain_text("3.0")
        page.get_by_label("Which spoon").nth(1).select_option("teaspoon")
        page.get_by_label("Pigment 2, level").fill("-3")
        expect(page.get_by_role("alert").first).to_contain_text("Try at least 0.001")
        page.get_by_label("Pigment 2, level").fill("3")
        page.get_by_role("button", name="Take it to the slab").click()
        page.get_by_role("button", name="I have everything ready").click()
        expect(page.get_by_text("Weigh in Bone black")).to_be_visible()
        page.get_by_role("button", name=re.compile("^Weighed in")).click()
        expect(page.get_by_text("Weigh in Titanium white (rutile)")).to_be_visible()

    def test_a_plan_is_kept_opened_and_forgotten(self) -> None:
        page = self.page
        page.goto("/plan?kept=1")
        expect(page.get_by_role("heading", level=1)).to_contain_text("Viridian")
        page.get_by_role("button", name="Keep", exact=True).click()
        page.get_by_label("Keep this plan as").fill("Green for the hills")
        page.locator("form").get_by_role("button", name="Keep").click()
        page.get_by_text("Kept plans (3)").click()
        page.get_by_role("button", name="Forget the plan Green for the hills").click()
        expect(page.get_by_text("Kept plans (2)")).to_be_visible()

    def test_the_printed_sheet_is_clean(self) -> None:
        page = self.page
        page.goto("/plan?kept=1")
        expect(page.get_by_role("heading", level=1)).to_contain_text("Viridian")
        page.emulate_media(media="print")
        sheet = page.get_by_role("article", name="Plan for printing")
        expect(sheet).to_be_visible()
        expect(sheet).to_contain_text("Pour first")
        expect(sheet).to_contain_text("Follow the safety data sheet")
        expect(page.get_by_role("button", name="Take it to the slab")).to_be_hidden()


class PutBack(BrowserTest):
    def test_what_was_struck_by_mistake_comes_back_to_its_own_tin_in_its_own_measure(self) -> None:
        """Two tins of one pigment: names cannot tell them apart, their lots can."""
        tins = []
        for code in ("T-1", "T-2"):
            new = {"kind": "pigment", "material_key": "viridian", "code": code, "received_on": "2026-06-01"}
            tins.append(self.ok(self.client.post("/api/materials/lots", json=new | {"received": 100}))["id"])
        number = self.take_to_slab(lines=[{"lot_id": tin, "parts": 1} for tin in tins])
        spoons = {"unit": "teaspoon", "amount": 3}
        self.ok(self.act(number, "ready"))
        self.ok(self.act(number, "powder", source=f"lot-{tins[1]}", measure=spoons))
        page = self.page
        page.goto(f"/slab/{number}")
        page.get_by_role("button", name=re.compile("^Strike out: Viridian in")).click()
        page.get_by_role("button", name="Put it back").click()
        expect(page.get_by_role("button", name="Put it back")).to_have_count(0)
        expect(page.locator("li[data-kind=powder]")).to_have_count(1)
        expect(page.locator("li[data-kind=powder]").first).to_contain_text("3 level teaspoons")
        state = self.ok(self.client.get(f"/api/slab/{number}"))
        self.assertEqual([p["in_g"] for p in state["pigments"]], [0, 3 * 5 * 0.45])


class TwoWindows(BrowserTest):
    def test_two_windows_on_one_batch_agree(self) -> None:
        other = self.window()
        for page in (self.page, other):
            page.goto("/slab/32")
            expect(page.locator("[data-part=advice]")).to_be_visible()
            expect(page.get_by_role("status").first).to_contain_text("every act saved")
        notes = other.locator("li[data-kind=note]")
        before = notes.count()
        self.page.keyboard.press("n")
        self.page.get_by_label("Note").fill("from the tablet")
        self.page.get_by_role("button", name="Record").click()
        expect(notes).to_have_count(before + 1, timeout=1_000)
        other.keyboard.press("x")
        expect(self.page.locator("li[data-kind=strike]")).to_have_count(1, timeout=1_000)
