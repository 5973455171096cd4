"""Sticks on real screens: from a new base to a labelled set with one correction; phone, queue, two windows."""

import re
from datetime import datetime, timedelta
from typing import Any
from uuid import uuid4

from playwright.sync_api import Page, expect

from tests.browser.support import BrowserTest, Walk
from tests.support import StandIn

ACTS = re.compile("/acts$")


class FromNothing(BrowserTest):
    with_demo = False

    def test_from_a_new_base_to_a_labelled_set_with_one_correction(self) -> None:
        page = self.page
        page.goto("/sticks/plan")
        page.get_by_role("link", name="Make a base").click()
        page.get_by_label("Share").nth(1).fill("")
        page.get_by_label("Share").nth(0).fill("0")
        expect(page.get_by_text("Its shares sum to nothing")).to_be_visible()
        page.get_by_label("Share").nth(0).fill("70")
        page.get_by_label("Share").nth(1).fill("30")
        expect(page.get_by_text("Melt to")).to_be_visible()
        page.get_by_role("button", name="Keep the base").click()
        expect(page.get_by_role("alert")).to_contain_text("1 to 80")
        page.get_by_label("Name").fill("Two waxes")
        page.get_by_role("button", name="Keep the base").click()
        expect(page.get_by_role("heading", level=1)).to_contain_text("Two waxes")
        self.assert_accessible(page, "base")

        page.goto("/sticks/bases/new")
        page.get_by_role("button", name="bought ready-made").click()
        page.get_by_role("button", name="Keep the base").click()
        expect(page.get_by_role("alert")).to_contain_text("1 to 80")
        page.get_by_label("Name").fill("Waxes of a friend")
        page.get_by_role("button", name="Keep the base").click()
        expect(page.get_by_role("heading", level=1)).to_contain_text("Waxes of a friend")

        page.goto("/sticks")
        page.get_by_role("button", name="Add a mould").click()
        page.get_by_label("What you call it").fill("Lip tube")
        page.get_by_label("Water it takes to the brim").fill("18")
        page.get_by_role("button", name="Keep the mould").click()
        expect(page.get_by_text("Lip tube")).to_be_visible()
        self.assert_accessible(page, "sticks")

        page.get_by_role("link", name="Plan a stick or a set").click()
        page.get_by_role("button", name="Give it a pigment").click()
        self.choose("Pigment", "Bone black")
        page.get_by_role("button", name="soft", exact=True).click()
        page.get_by_role("button", name="Add a blending stick").click()
        page.get_by_role("button", name="dry, into the pot").click()
        expect(page.get_by_role("table")).to_contain_text("one melt of base, then split by weight")
        rows = page.get_by_role("rowheader")
        expect(rows.first).to_have_text("Blending stick")
        self.assert_accessible(page, "plan of a set")
        self.assert_fits(page, "plan of a set")
        page.get_by_role("button", name="Take it to the pot").click()

        expect(page.get_by_role("heading", level=1)).to_contain_text("Blending stick")
        page.get_by_role("navigation", name="The set, in casting order").get_by_role("link", name="Bone black").click()
        expect(page.get_by_role("heading", level=1)).to_contain_text("Bone black")
        advice = page.locator("[data-part=advice]")
        self.tap(page, "All at hand")
        expect(advice).to_contain_text("Beeswax into the pot")
        self.tap(page, re.compile("g is in"))
        expect(advice).to_contain_text("Carnauba wax into the pot")
        self.tap(page, re.compile("g is in"))
        expect(advice).to_contain_text("Melt it until it is clear")
        page.get_by_role("button", name="Thermometer", exact=True).click()
        page.get_by_label("Temperature").fill("128")
        page.get_by_role("button", name="Keep it").click()
        expect(page.get_by_role("alert").first).to_contain_text("off the heat now")
        page.get_by_role("button", name="Undo").click()
        expect(page.get_by_text("off the heat now")).to_have_count(0)
        self.tap(page, "It is clear")
        self.tap(page, re.compile("g is in"))
        expect(advice).to_contain_text("Mask on")
        self.tap(page, re.compile("g is in"))
        self.tap(page, "Stirred")
        self.tap(page, "Read the drop")
        page.get_by_label("or by the needle").fill("18")
        page.get_by_role("button", name="Keep the reading").click()
        expect(advice).to_contain_text("The drop is harder than wanted")
        expect(advice).to_contain_text("sticks more")
        self.tap(page, re.compile("g is in"))
        self.tap(page, "Stirred")
        self.tap(page, "Read the drop")
        page.get_by_label("or by the needle").fill("34")
        page.get_by_role("button", name="Keep the reading").click()
        expect(advice).to_contain_text(re.compile(r"Pour at \d+ to \d+ °C"))
        self.assert_accessible(page, "pot")
        self.tap(page, "Poured")
        page.get_by_role("region", name="Poured").get_by_role("button", name="Poured").click()
        self.tap(page, "They are out")
        page.get_by_label("Together").fill("23")
        page.get_by_role("button", name="Keep it").click()
        self.tap(page, "Onto the shelf")
        page.get_by_label("Box or shelf").fill("stick box")
        page.get_by_role("region", name="Where do they go?").get_by_role("button", name="Onto the shelf").click()
        expect(page.get_by_text("Try one: draw, press, wash.")).to_be_visible()
        page.get_by_role("link", name="Print labels").click()
        expect(page.get_by_text("1 label, ")).to_be_visible()
        expect(page.get_by_role("img", name="The first label, in its true size")).to_be_visible()

    def tap(self, page: Page, name: str | re.Pattern[str]) -> None:
        """The large button of what is to be done now."""
        page.locator("[data-part=advice]").get_by_role("button", name=name).click()


class BySpoon(Walk):
    """One stick of a base of two waxes, by one who owns neither scale nor mould."""

    def test_one_stick_of_a_base_of_two_parts_and_no_gram_is_typed(self) -> None:
        page = self.page
        self.measures_with("spoons")
        page.goto("/")
        self.tap(re.compile("^Paint sticks"), "link")
        self.tap("Begin with two waxes", "link")
        self.typed("Name", "Two waxes")
        self.tap("Keep the base")
        self.tap("Plan sticks of it", "link")
        self.tap(re.compile("thumb"))
        self.tap("Give it a pigment")
        self.chosen("Pigment", "Yellow ochre")
        expect(page.get_by_text("Base in level spoons of it grated")).to_be_visible()
        self.assert_fits(page, "a stick by the spoon at 390")
        self.tap("Take it to the pot")
        advice = page.locator("[data-part=advice]")
        for name in ("All at hand", ".* in$", ".* in$", "It is clear", "It is in", "Stirred", "Read the drop"):
            expect(advice).not_to_contain_text(re.compile(r"\d g is in"))
            self.tap(re.compile(f"^{name}"))
        self.tap(re.compile("^soft"))
        self.assert_fits(page, "the pot by the spoon at 390")
        self.tap("Poured")
        self.tap("Poured", within="Poured")
        self.tap("They are out")
        self.tap("Keep it")
        self.tap("Onto the shelf")
        self.tap("Onto the shelf", within="Where do they go?")
        self.tap("Print labels", "link")
        expect(page.get_by_text("1 label, ")).to_be_visible()
        self.within(30, "one stick of a two-part base")


class PotTest(BrowserTest):
    def pot(self) -> int:
        """A pot of the demo's first base, nothing in it yet."""
        mould = self.ok(self.client.get("/api/sticks"))["moulds"][0]["id"]
        colour = {
            "pigments": [{"pigment_key": "bone-black"}],
            "moulds": [{"mould_id": mould, "count": 1}],
            "dent_dmm": 30,
        }
        body = {"base_id": 1, "oil_key": "linseed-refined", "way": "dry", "colours": [colour]}
        sent = {"request_id": str(uuid4()), "set": body}
        return int(self.ok(self.client.post("/api/sticks/pots", json=sent))["numbers"][0])

    def state(self, number: int) -> dict[str, Any]:
        found: dict[str, Any] = self.ok(self.client.get(f"/api/sticks/{number}"))
        return found

    def saved(self, page: Page) -> Any:
        return page.get_by_role("status").filter(has_text="every act saved")


class AtThePot(PotTest):
    def test_acts_wait_for_the_server_and_are_sent_once(self) -> None:
        number = self.pot()
        page = self.page
        page.goto(f"/sticks/{number}")
        expect(self.saved(page)).to_be_visible()
        page.route(ACTS, lambda route: route.abort())
        page.get_by_role("button", name="All at hand").click()
        expect(page.locator("[data-part=offline]")).to_contain_text("Mind the heat")
        expect(page.locator("[data-part=offline]")).to_contain_text("kit checked")
        page.reload()
        expect(page.get_by_role("status").filter(has_text="1 act waits for the server")).to_be_visible()
        self.assertEqual(self.state(number)["timeline"], [])
        page.unroute(ACTS)
        expect(self.saved(page)).to_be_visible()
        self.assertEqual([line["kind"] for line in self.state(number)["timeline"]], ["ready"])

    def test_two_windows_see_one_pot(self) -> None:
        number = self.pot()
        page, other = self.page, self.window()
        for window in (page, other):
            window.goto(f"/sticks/{number}")
            expect(self.saved(window)).to_be_visible()
        page.get_by_role("button", name="All at hand").click()
        expect(other.locator("[data-part=advice]")).to_contain_text("into the pot")
        expect(other.get_by_role("list", name="Log")).to_contain_text("kit checked")

    def test_what_a_refusal_says_stands_beside_its_field(self) -> None:
        number = self.pot()
        page = self.page
        page.goto(f"/sticks/{number}")
        page.get_by_role("button", name="Into the pot").click()
        page.get_by_label("How much").fill("0")
        page.get_by_role("button", name="It is in", exact=True).click()
        expect(page.get_by_role("region", name="Into the pot").get_by_role("alert")).to_contain_text("Try ")
        expect(page.get_by_label("How much")).to_have_value("0")
        page.keyboard.press("Escape")
        expect(page.get_by_role("region", name="Into the pot")).to_have_count(0)

    def test_the_thermometer_stands_on_the_strip(self) -> None:
        devices = StandIn()
        self.addCleanup(devices.stop)
        kept = self.ok(self.client.get("/api/workshop"))["settings"]
        self.addCleanup(lambda: self.ok(self.client.put("/api/workshop/settings", json=kept)))
        devices.warm(at_once_c=77.0)
        warm = {"thermometer_port": f"socket://127.0.0.1:{devices.warm_port}"}
        self.ok(self.client.put("/api/workshop/settings", json={**kept, **warm}))
        number = self.pot()
        page = self.page
        page.goto(f"/sticks/{number}")
        expect(page.get_by_role("img", name=re.compile("^Thermometer: .*now 77$"))).to_be_visible()
        page.get_by_role("button", name=re.compile("^Thermometer 77")).click()
        expect(page.get_by_role("list", name="Log")).to_contain_text("77 °C")

    def test_a_pot_left_alone_on_the_heat_is_an_alarm_on_every_screen(self) -> None:
        number = self.pot()
        page = self.page
        at = datetime.fromisoformat(self.ok(self.client.get("/api/home"))["now"]) - timedelta(minutes=20)
        act = {"id": str(uuid4()), "kind": "temperature", "temperature_c": 84.0, "made_at": at.isoformat()}
        self.ok(self.client.post(f"/api/sticks/{number}/acts", json={**act, "waited": True}))
        page.goto("/stock")
        alarm = page.locator("[data-part=left-alone]")
        expect(alarm).to_contain_text(f"pot {number}: nothing done for 20 minutes")
        expect(alarm).to_contain_text("never water")
        alarm.get_by_role("link", name="To the pot").click()
        expect(page.locator("main").get_by_role("alert")).to_contain_text("Nothing was done here for 20 minutes")
        page.get_by_role("button", name="Heat is off").click()
        expect(page.get_by_role("list", name="Log")).to_contain_text("heat off")
        expect(page.locator("main").get_by_role("alert")).to_have_count(0)
        page.goto("/stock")
        expect(page.get_by_role("heading", level=1)).to_be_visible()
        expect(alarm).to_have_count(0)

    def test_trials_come_to_a_verdict(self) -> None:
        page = self.page
        page.goto("/sticks/8")
        self.assert_accessible(page, "trials")
        page.get_by_role("button", name="Drawn with, dry").click()
        page.get_by_role("group", name="The line").get_by_role("button", name="breaks up").click()
        page.get_by_role("group", name="The glide").get_by_role("button", name="drags").click()
        page.get_by_role("button", name="Keep what was seen").click()
        expect(page.get_by_role("heading", name="They came out too hard.")).to_be_visible()
        expect(page.get_by_text(re.compile(r"Next time [\d.]+ g more oil for 100 g of pot"))).to_be_visible()
        page.get_by_role("button", name="Hard through: yes, today").click()
        expect(page.get_by_role("button", name="Hard through: yes, today")).to_have_count(0)
        page.get_by_role("button", name="Make a recipe of it").click()
        page.get_by_label("What the recipe is called").fill("Buff, soft")
        page.get_by_role("button", name="Keep the recipe").click()
        expect(page.get_by_role("heading", level=1)).to_contain_text("Buff, soft")
        page.get_by_role("link", name="Same again").click()
        expect(page.get_by_role("heading", level=2, name=re.compile("Buff, soft"))).to_be_visible()

    def test_bases_side_by_side_and_a_stick_inspected(self) -> None:
        page = self.page
        page.goto("/sticks")
        for name in ("Estuary base", "Meadow base"):
            page.get_by_label(f"Compare {name}").check()
        page.get_by_role("button", name="Compare 2").click()
        expect(page.get_by_role("columnheader", name=re.compile("^Estuary base"))).to_be_visible()
        expect(page.get_by_role("row", name=re.compile("^As readings say"))).to_contain_text("readings")
        self.assert_accessible(page, "bases side by side")
        item = self.state(6)["items"][0]["id"]
        page.goto(f"/shelf/{item}")
        page.get_by_role("button", name="Inspect it").click()
        page.get_by_role("button", name="a skin", exact=True).click()
        page.get_by_role("button", name="Record").click()
        expect(page.locator("[data-part=verdict]")).to_contain_text("Peel the skin at the tip")
        page.get_by_role("button", name="Skin peeled").click()
        expect(page.get_by_text("skin peeled")).to_be_visible()
        page.get_by_role("link", name="What is behind it").click()
        expect(page.get_by_text("Pyrrole red").first).to_be_visible()


class OnAPhone(PotTest):
    size = {"width": 390, "height": 844}

    def test_the_next_act_is_under_the_thumb(self) -> None:
        page = self.page
        number = self.pot()
        page.goto(f"/sticks/{number}")
        button = page.get_by_role("group", name="Acts").get_by_role("button", name="All at hand")
        box = button.bounding_box()
        assert box is not None
        self.assertGreater(box["y"], 844 - 220, "under the thumb")
        self.assertGreaterEqual(box["height"], 72)
        button.click()
        self.assert_fits(page, "pot at 390")
        page.get_by_role("button", name=re.compile("g is in")).click()
        expect(page.get_by_role("list", name="Log")).to_contain_text("in: Beeswax")
