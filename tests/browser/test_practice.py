"""The practice slab on real screens: two taps from an empty studio, poured by hand, judged, scored; nothing kept."""

import re
from typing import Any

from playwright.sync_api import Page, expect

from niddy.core.wetting import Body
from tests.browser.support import BrowserTest


class PracticeTest(BrowserTest):
    with_demo = False

    def pour(self, page: Page, ms: int) -> None:
        """Hold the practice bottle tilted, let it settle, take the reading."""
        page.get_by_role("group", name="Acts").get_by_role("button", name="Pour").click()
        bottle = page.get_by_role("button", name="Hold to pour")
        box = bottle.bounding_box()
        assert box is not None
        page.mouse.move(box["x"] + 30, box["y"] + 30)
        page.mouse.down()
        page.wait_for_timeout(ms)
        page.mouse.up()
        page.get_by_role("button", name="Take the reading").click()
        expect(bottle).to_have_count(0)

    def seen(self, number: int) -> Any:
        return self.ok(self.client.get(f"/api/practice/{number}"))


class FromAnEmptyStudio(PracticeTest):
    def test_two_taps_lead_to_a_paste_and_a_score(self) -> None:
        page = self.page
        page.goto("/")
        page.get_by_role("link", name=re.compile("^Just practise")).click()
        page.get_by_role("button", name="Begin: it loosens by itself").click()
        expect(page.get_by_role("heading", name=re.compile("It loosens by itself"), level=1)).to_be_visible()
        number = int(page.url.rsplit("/", 1)[1])
        knife = page.get_by_role("region", name=re.compile("Practice"))
        expect(knife).to_contain_text("no stock, no record")
        expect(page.get_by_text("Your call.")).to_be_visible()
        expect(page.get_by_role("heading", name="Pour ladder")).to_have_count(0)

        before = self.seen(number)["oil"]["in_g"]
        self.pour(page, 400)
        poured = self.seen(number)["oil"]["in_g"] - before
        self.assertGreater(poured, 0.3)
        self.assertLess(poured, 2.5)

        dry = knife.get_by_role("img").get_attribute("aria-label")
        page.get_by_role("group", name="Acts").get_by_role("button", name="Mull").click()
        page.get_by_role("button", name="To the end of its minutes").click()
        expect(page.get_by_text("its minutes are up")).to_be_visible()
        self.assertNotEqual(knife.get_by_role("img").get_attribute("aria-label"), dry, "it loosens while one mulls")
        expect(knife).not_to_contain_text("Grit grinds")
        page.get_by_role("group", name="Acts").get_by_role("button", name="Load done").click()
        page.get_by_role("button", name="Show Niddy's advice").click()
        expect(page.get_by_text("Your call.")).to_have_count(0)
        expect(page.get_by_role("heading", name="Pour ladder")).to_be_visible()
        page.get_by_role("group", name="Acts").get_by_role("button", name="Look").click()
        page.get_by_role("button", name=re.compile("even paste")).click()
        expect(page.get_by_text("Grit under the knife")).to_have_count(0)
        page.get_by_role("button", name=re.compile("^soft")).click()
        self.more(page, "It is right: finish")
        score = page.get_by_role("region").filter(has=page.get_by_role("table"))
        expect(score.get_by_role("row", name=re.compile("Ended as"))).to_be_visible()
        expect(score).to_contain_text("You had Niddy beside you.")
        self.assert_accessible(page, "a practice over")
        score.get_by_role("button", name="The same paste, without advice").click()
        expect(page.get_by_text("Your call.")).to_be_visible()
        again = int(page.url.rsplit("/", 1)[1])
        self.assertEqual(self.seen(again)["practice"]["seed"], self.seen(number)["practice"]["seed"])

        self.more(page, "Throw this practice away")
        expect(page).to_have_url(re.compile("/practice$"))
        expect(page.get_by_role("img", name=re.compile("Your tries: "))).to_be_visible()
        home = self.ok(self.client.get("/api/home"))
        self.assertEqual((home["counts"]["slab"], home["on_bench"], home["empty"]), (0, [], True))
        self.assertEqual(self.ok(self.client.get("/api/materials/lots")), [])

    def test_a_practice_left_half_way_goes_on(self) -> None:
        page = self.page
        page.goto("/practice")
        page.get_by_label("Who practises").fill("Ro")
        page.get_by_role("button", name="Begin: the heavy powder").click()
        expect(page).to_have_url(re.compile(r"/practice/\d+$"))
        here = page.url
        page.goto("/practice")
        page.get_by_role("listitem").filter(has_text="The heavy powder").get_by_role("link").click()
        expect(page).to_have_url(here)
        page.goto("/practice")
        page.get_by_role("button", name="Throw away").click()
        expect(page.get_by_role("button", name="Begin: The heavy powder")).to_be_visible()
        page.goto("/practice/999")
        expect(page.get_by_role("heading", level=1)).to_contain_text("no such practice")

    def test_pastes_are_named_and_the_slab_may_use_the_eye(self) -> None:
        page = self.page
        page.goto("/practice")
        page.get_by_role("button", name="Begin: Name the body").click()
        expect(page.get_by_role("heading", name="Name the body")).to_be_visible()
        bodies = page.get_by_role("group", name="Body")
        for place in range(1, 9):
            expect(page.get_by_text(re.compile(rf"^{place}\s*of 40"))).to_be_visible()
            bodies.get_by_role("button", name=re.compile(str(Body.TUBE))).click()
            expect(page.get_by_role("status").filter(has_text="It was")).to_contain_text(f"{place}:")
        page.keyboard.press("4")
        expect(page.get_by_text(re.compile(r"^10\s*of 40"))).to_be_visible()
        page.get_by_role("button", name="Let the slab use it").click()
        expect(page.get_by_role("button", name=re.compile("The slab uses it"))).to_be_visible()
        page.get_by_role("link", name="Every paste you named").click()
        expect(page.get_by_role("img", name=re.compile("9 pastes named"))).to_be_visible()
        self.assert_accessible(page, "the eye")
        page.get_by_role("button", name=re.compile("The slab uses it")).click()
        expect(page.get_by_role("button", name="Let the slab use it")).to_be_visible()


class OnAPhone(PracticeTest):
    size = {"width": 390, "height": 844}

    def test_the_practice_slab_fits_a_phone(self) -> None:
        page = self.page
        page.goto("/practice")
        self.assert_fits(page, "practice at 390")
        self.assert_accessible(page, "practice at 390")
        page.get_by_role("button", name="Begin: First pour").first.click()
        self.pour(page, 300)
        self.assert_fits(page, "the practice slab at 390")
        page.get_by_role("group", name="Acts").get_by_role("button", name="Look").click()
        page.get_by_role("button", name=re.compile("crumbs|wet curds")).first.click()
        expect(page.get_by_text(re.compile("^looked"))).to_have_count(1)
