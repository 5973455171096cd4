"""Making pigment on real screens: on paper, at the bench, in the trials and into stock; phone, queue, meter."""

import re
from typing import ClassVar

from playwright.sync_api import Locator, Page, expect

from tests.browser.support import BrowserTest, Walk
from tests.support import StandIn


class Rows(BrowserTest):
    """What stands on the sheet is what is kept, whatever was left out, moved or chosen anew before."""

    def says(self) -> list[str]:
        """The words of the steps on the sheet, in order."""
        steps = self.page.get_by_role("region", name="Steps").get_by_role("group")
        return [steps.nth(n).get_by_label("What to do").input_value() for n in range(steps.count())]

    def goes_in(self) -> list[str]:
        """The names of the ingredients on the sheet, in order."""
        rows = self.page.get_by_role("group", name=re.compile("^Ingredient"))
        return [rows.nth(n).get_by_label("Name").input_value() for n in range(rows.count())]

    def test_left_out_moved_and_from_another_sheet_the_sheet_is_what_is_kept(self) -> None:
        page = self.page
        page.goto("/making/new?from=precipitation")
        expect(page.get_by_role("group", name="Step 1")).to_be_visible()
        page.get_by_role("group", name="Start from").get_by_role("button", name=re.compile("lake", re.I)).first.click()
        expect(page.get_by_role("group", name="Ingredient 3")).to_be_visible()
        first = self.says()
        self.assertGreaterEqual(len(first), 7)
        self.assertEqual(len(set(first)), len(first))
        page.get_by_role("button", name="Leave out step 2").click()
        wanted = [first[0], *first[2:]]
        self.assertEqual(self.says(), wanted)
        page.get_by_role("button", name="Step 4 earlier").click()
        wanted[2], wanted[3] = wanted[3], wanted[2]
        self.assertEqual(self.says(), wanted)
        page.get_by_role("group", name="Step 3").get_by_label("How, in a few words").fill("slowly, of this one")
        page.get_by_role("button", name="Step 3 later").click()
        wanted[2], wanted[3] = wanted[3], wanted[2]
        names = self.goes_in()
        page.get_by_role("button", name="Leave out ingredient 2").click()
        self.assertEqual(self.goes_in(), [names[0], *names[2:]])
        self.assertEqual(self.says(), wanted)
        page.get_by_label("Name").first.fill("As it stands")
        page.get_by_role("button", name="Keep the process").click()
        expect(page.get_by_role("heading", level=1)).to_contain_text("As it stands")
        number = int(page.url.rsplit("/", 1)[1])
        said = self.ok(self.client.get(f"/api/making/processes/{number}"))["said"]
        self.assertEqual([one["says"] for one in said["steps"]], wanted)
        self.assertEqual([one["name"] for one in said["ingredients"]], [names[0], *names[2:]])
        self.assertEqual([n for n, one in enumerate(said["steps"]) if one["how"] == "slowly, of this one"], [3])


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
        expect(page.get_by_role("row", name=re.compile("Blue salt"))).to_contain_text("107.4")
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
        page.goto("/making/new?from=lake_alum")
        page.get_by_label("Name").first.fill("Lake nobody made yet")
        page.get_by_role("button", name="Keep the process").click()
        page.get_by_role("button", name="Back from what I want").click()
        page.get_by_label("Pigment wanted").fill("40")
        expect(page.get_by_role("alert")).to_contain_text("nobody knows yet what this process yields", ignore_case=True)
        page.goto("/making/99")
        expect(page.get_by_role("heading", level=1)).to_contain_text("There is no process 99")


class AtTheBench(BrowserTest):
    def receive(self, name: str, formula: str, code: str) -> None:
        page = self.page
        page.goto("/stock")
        page.get_by_role("button", name="Receive").click()
        expect(page.get_by_label("Came in on")).to_have_value("2026-06-18")
        page.get_by_role("group", name="Kind").get_by_role("button", name="raw").click()
        page.get_by_label("Its name").fill(name)
        page.get_by_label("Formula with its water").fill(formula)
        page.get_by_label("Your code for it").fill(code)
        page.get_by_label("Net weight").fill("500")
        page.get_by_label("What all of it cost, if you like").fill("8")
        page.get_by_role("button", name="Put it in stock").click()

    @staticmethod
    def tap(page: Page, name: str) -> None:
        page.locator("[data-part=advice]").get_by_role("button", name=re.compile(f"^{name}")).click()

    @staticmethod
    def advice(page: Page) -> Locator:
        return page.locator("[data-part=advice]")

    def test_from_an_equation_to_a_pigment_in_stock_to_a_planned_batch(self) -> None:
        page = self.page
        self.receive("Azure salt", "CuSO4,5H2O", "AZ-1")
        expect(page.get_by_role("alert")).to_contain_text("',' at place 6")
        page.get_by_label("Formula with its water").fill("CuSO4.5H2O")
        page.get_by_role("button", name="Put it in stock").click()
        expect(page.get_by_label("Raw").get_by_role("link", name=re.compile("Azure salt"))).to_be_visible()
        self.receive("Crystal soda", "Na2CO3.10H2O", "CR-1")
        expect(page.get_by_label("Raw").get_by_role("link", name=re.compile("Crystal soda"))).to_be_visible()

        page.goto("/making/new?from=precipitation")
        page.get_by_label("Name").first.fill("Harbour green")
        for n, (name, formula) in enumerate((("Azure salt", "CuSO4.5H2O"), ("Soda", "Na2CO3")), 1):
            group = page.get_by_role("group", name=f"Ingredient {n}")
            group.get_by_label("Name").fill(name)
            group.get_by_label("Formula").fill(formula)
        out = page.get_by_label("All that comes out")
        out.fill("Cu2(OH)2CO3 + Na2SO4 + CO2 + H2O")
        out.press("Tab")
        page.get_by_label("Which of it is the pigment").select_option("Cu2(OH)2CO3")
        page.get_by_role("button", name="Keep the process").click()
        expect(page.get_by_role("heading", level=1)).to_contain_text("Harbour green")
        page.get_by_label("Azure salt from").select_option(label="AZ-1, Azure salt, 500 g")
        page.get_by_label("Soda from").select_option(label="CR-1, Crystal soda, 500 g")
        expect(page.get_by_role("row", name=re.compile("Soda"))).to_contain_text("67.5")
        page.get_by_role("button", name="Begin this run").click()
        expect(page.get_by_role("heading", level=1)).to_contain_text("run")

        self.tap(page, "Ready")
        for name, grams in (("Azure salt", "50.0 g"), ("Soda", "67.5 g")):
            expect(self.advice(page)).to_contain_text(f"Weigh {name}")
            expect(self.advice(page)).to_contain_text(grams)
            self.tap(page, "Weigh it in")
            page.get_by_role("button", name="Keep it", exact=True).click()
        expect(self.advice(page)).to_contain_text("foams up")
        self.tap(page, "Done")
        self.tap(page, "Read pH")
        field = page.get_by_label("pH, by strip or meter")
        field.fill("99")
        page.get_by_role("button", name="Keep it", exact=True).click()
        expect(page.get_by_role("alert")).to_contain_text("14")
        field.fill("5,2")
        page.get_by_role("button", name="Keep it", exact=True).click()
        expect(self.advice(page)).to_contain_text("A spoon more of the soda")
        self.tap(page, "Read pH")
        page.get_by_role("group", name="By strip").get_by_role("button", name="7.5").click()
        expect(page.get_by_role("img", name=re.compile("^pH band: keep it at 6.5 to 8.5; 2 readings"))).to_be_visible()
        self.tap(page, "Done")
        for name in ("Let it ripen", "Let it settle"):
            expect(self.advice(page)).to_contain_text(name)
            self.tap(page, "Start the time")
            self.tap(page, "Done sooner")
            page.get_by_role("button", name="It is done").click()
        for n in range(1, 5):
            expect(self.advice(page)).to_contain_text(f"Wash {n} of 4")
            self.tap(page, "Washed with 200 ml")
        self.assert_accessible(page, "run at the bench")
        page.get_by_role("button", name="Balance").click()
        page.get_by_label("With its plate").fill("120")
        page.get_by_label("Plate alone").fill("60")
        page.get_by_role("button", name="Keep it", exact=True).click()
        expect(self.advice(page)).to_contain_text("2 more weighings")
        # Out of order it wants a reason.
        page.get_by_role("button", name="Sieve it: done, or left out").click()
        page.get_by_role("button", name="It is done").click()
        expect(page.get_by_role("alert")).to_contain_text("'Dry it' comes before it")
        page.get_by_role("button", name="Close").click()
        page.get_by_role("button", name="Dry it: done, or left out").click()
        page.get_by_role("button", name="It is done").click()
        self.tap(page, "Done")
        self.tap(page, "Sieve it")
        for n, (mesh, on) in enumerate((("125", "1"), ("250", "8"), ("63", "6")), 1):
            page.get_by_role("group", name=f"Sieve {n}").get_by_label("Mesh").fill(mesh)
            page.get_by_role("group", name=f"Sieve {n}").get_by_label("On it").fill(on)
        page.get_by_label("In the pan").fill("5")
        page.get_by_role("button", name="Keep it", exact=True).click()
        expect(page.get_by_role("group", name="Sieve 2").get_by_role("alert")).to_contain_text(
            "coarsest sieve is on top"
        )
        page.get_by_role("group", name="Sieve 1").get_by_label("Mesh").fill("500")
        page.get_by_role("button", name="Keep it", exact=True).click()
        expect(page.get_by_role("img", name=re.compile("^Sieve stack:"))).to_be_visible()
        self.tap(page, "All there is")
        page.get_by_label("Without its dish").fill("26")
        page.get_by_role("button", name="Keep it", exact=True).click()
        expect(page.get_by_role("alert")).to_contain_text("is it still wet, or are salts left in it?")
        page.get_by_label("Without its dish").fill("20")
        page.get_by_role("button", name="Keep it", exact=True).click()
        expect(page.get_by_role("heading", level=1)).to_contain_text("90 % of theory")

        page.get_by_role("button", name="gritty").click()
        expect(page.get_by_text("too coarse: sieve it finer")).to_be_visible()
        page.get_by_role("button", name=re.compile("^Suspect Soda, lot CR-1")).click()
        page.get_by_role("button", name="Suspect it").click()
        expect(page.get_by_text("A few words why")).to_be_visible()
        page.get_by_label("is under suspicion").fill("caked in its tin")
        page.get_by_role("button", name="Suspect it").click()
        expect(page.get_by_text("caked in its tin").first).to_be_visible()
        page.get_by_label("Where it hangs").fill("south window")
        page.get_by_role("button", name="It hangs").click()
        expect(page.get_by_text("Hung 18 Jun 2026, south window")).to_be_visible()
        page.get_by_role("button", name="Into the waste book").click()
        page.get_by_role("button", name="poured away").click()
        page.get_by_role("button", name="Keep it", exact=True).click()
        expect(page.get_by_role("alert")).to_contain_text("It may hold copper")
        page.get_by_role("button", name="kept here").click()
        page.get_by_role("button", name="Keep it", exact=True).click()
        expect(page.get_by_role("region", name="Waste", exact=True)).to_contain_text("ml kept")

        stock = page.get_by_role("region", name="Into stock")
        stock.get_by_role("button", name="Into stock").click()
        stock.get_by_label("Code on its jar").fill("HG-1")
        stock.get_by_role("button", name="Put it in stock").click()
        expect(stock.get_by_role("alert")).to_contain_text("Nobody confirmed")
        stock.get_by_label("I have read this list").check()
        stock.get_by_role("button", name="Put it in stock").click()
        expect(stock.get_by_role("link", name="First rub-out")).to_be_visible()
        self.assert_accessible(page, "run finished")
        self.assert_fits(page, "run finished")
        stock.get_by_role("link", name="Plan a batch").click()
        expect(page.get_by_role("combobox", name="Pigment")).to_have_value(re.compile("Harbour green"))
        self.choose("Oil", "Linseed oil, refined")
        expect(page.get_by_text("Pour ladder").first).to_be_visible()
        page.goto("/making/waste")
        expect(page.get_by_role("row", name=re.compile("Harbour green"))).to_contain_text("copper")
        self.assert_accessible(page, "waste book")
        page.goto("/stock")
        expect(page.get_by_role("link", name=re.compile("Crystal soda"))).to_contain_text("under suspicion")

    def test_a_reading_waits_for_the_server_and_is_sent_once(self) -> None:
        page = self.page
        page.goto("/making/runs/4")
        expect(self.advice(page)).to_contain_text("Dry about")
        page.context.set_offline(True)
        page.get_by_role("button", name="pH").first.click()
        page.get_by_label("pH, by strip or meter").fill("7.1")
        page.get_by_role("button", name="Keep it", exact=True).click()
        expect(page.get_by_text("pH 7.1").first).to_be_visible()
        page.context.set_offline(False)
        expect(page.get_by_role("region", name="Log")).to_contain_text("pH 7.1", timeout=30_000)
        seen = self.ok(self.client.get("/api/making/runs/4"))
        self.assertEqual([one["ph"] for one in seen["ph"]["readings"]].count(7.1), 1)

    def test_the_meter_stands_on_the_band(self) -> None:
        devices = StandIn()
        self.addCleanup(devices.stop)
        kept = self.ok(self.client.get("/api/workshop"))["settings"]
        self.addCleanup(lambda: self.ok(self.client.put("/api/workshop/settings", json=kept)))
        devices.sour(ph=7.7, at_once=True)
        self.ok(self.client.put("/api/workshop/settings", json=devices.settings(kept)))
        page = self.page
        page.goto("/making/runs/4")
        page.get_by_role("button", name=re.compile(r"^pH\s*7\.7$")).click()
        expect(page.get_by_label("pH, by strip or meter")).to_have_value("7.7")


class OnThePhone(BrowserTest):
    size: ClassVar[dict[str, int]] = {"width": 390, "height": 844}

    def test_one_thing_to_do_and_all_of_it_fits(self) -> None:
        page = self.page
        for path in ("/making", "/making/1", "/making/runs/4", "/making/runs/5", "/making/waste"):
            page.goto(path)
            expect(page.get_by_role("heading", level=1)).to_be_visible()
            self.assert_fits(page, path)
        page.goto("/making/runs/4")
        page.get_by_role("group", name="Acts").get_by_role("button", name="Weigh it").click()
        page.get_by_label("With its plate").fill("70")
        page.get_by_role("button", name="Keep it", exact=True).click()
        expect(page.get_by_role("alert")).to_contain_text("empty plate")


class FromNothing(Walk):
    """A lake of some dye, some alum and a spoon of chalk, by one who owns no scale."""

    def test_a_lake_by_the_spoon_becomes_a_labelled_jar_and_no_gram_is_typed(self) -> None:
        page = self.page
        self.measures_with("spoons")
        page.goto("/")
        self.tap(re.compile("^A pigment"), "link")
        self.tap(re.compile("^A lake by the spoon"), "link")
        self.typed("Name", "Weld on chalk")
        expect(page.get_by_text("Some amounts are not said")).to_be_visible()
        self.assert_fits(page, "a process by the spoon at 390")
        self.tap("Keep the process")
        self.tap("Begin this run")
        for name in (
            "Ready",
            "It is in",
            "Start the time",
            "Done sooner",
            "It is done",
            "It is in",
            "In: 1 tablespoon",
            "Done",
            "Washed with 200 ml",
            "Washed with 200 ml",
            "Done",
            "Done",
            "All there is",
        ):
            self.tap(re.compile(f"^{name}"))
        self.typed("What there is", "3")
        self.tap("Keep it")
        expect(page.get_by_role("region", name="Log")).to_contain_text("3 level tablespoons")
        expect(page.get_by_text("Some amounts are not said")).to_be_visible()
        self.tap("Into stock")
        self.tap("I have read this list", "checkbox")
        self.tap("Put it in stock")
        expect(page.get_by_role("link", name="Label for its jar")).to_be_visible()
        self.assert_fits(page, "a run by the spoon at 390")
        self.within(40, "a chalk lake to a labelled powder jar")
        run = self.ok(self.client.get("/api/making/runs/1"))
        self.assertIsNone(run["yield_now"], "of some nobody knows what it yields")
        lot = self.ok(self.client.get(f"/api/materials/lots/{run['lots_out'][0]['lot_id']}"))
        self.assertEqual(lot["lot"]["code"], "Run 1")
