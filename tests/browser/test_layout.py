"""Every screen: accessible, and at three sizes nothing cut, nothing over another, nothing sideways."""

from pathlib import Path

from playwright.sync_api import expect

from tests.browser.support import PHONE, BrowserTest

SIZES = ({"width": 1280, "height": 800}, {"width": 768, "height": 1024}, PHONE)
PROBE = Path(__file__).with_name("layout.js").read_text()
SCREENS = {
    "/": "On the bench",
    "/day": "Today, Thursday 18 June",
    "/day/2026-06-19": "Friday 19 June",
    "/practice": "Practice slab",
    "/practice/4": "First pour",
    "/practice/eye": "Your eye",
    "/stock": "Stock",
    "/stock/1": "Bone black",
    "/rub-out": "Rub-out",
    "/rub-out/10": "cerulean blue",
    "/pigments/yellow-ochre": "Yellow ochre",
    "/plan?kept=2": "titanate buff",
    "/slab/32": "Quinacridone magenta",
    "/batches": "Batches",
    "/batches/26": "Caput mortuum",
    "/batches/30": "urnt sienna",
    "/workshop": "Workshop",
    "/additives": "Additives",
    "/additives/body": "Body by intent",
    "/additives/gel": "Make a gel",
    "/additives/ladders/new": "A new ladder",
    "/additives/ladders/1": "least stearate",
    "/additives/ladders/2": "castor wax",
    "/tubes": "Tubes",
    "/tubes/30": "Fill burnt sienna",
    "/labels?items=1,2": "Labels",
    "/cost?batch=24": "What it costs",
    "/shelf": "Shelf",
    "/shelf/1": "Ultramarine blue",
    "/shelf/found": "know what is in it",
    "/checks": "Checks that wait",
    "/checks/26": "Caput mortuum",
    "/recipes": "Recipes",
    "/recipes/new": "A new recipe",
    "/recipes/1": "Burnt sienna, body colour",
    "/recipes/1/consistency": "Burnt sienna",
    "/recipes/1/again": "Burnt sienna",
    "/compare": "Compare two batches",
    "/sticks": "Sticks",
    "/sticks/plan?base=1": "A stick",
    "/sticks/9": "Quinacridone magenta",
    "/sticks/bases/1": "Estuary base",
    "/sticks/bases/beside": "Bases side by side",
    "/sticks/recipes/1": "Shore blue",
    "/sludge": "Sludge",
    "/sludge/cans/1": "Window can",
    "/sludge/dishes/1": "Sludge of Window can",
    "/making": "Making pigment",
    "/making/1": "Estuary green",
    "/making/new": "New process",
    "/making/waste": "Waste book",
    "/making/runs/4": "Estuary green",
    "/mixing": "Colour",
    "/mixing/find": "Find a mixture",
    "/mixing/charts/new": "New chart",
    "/mixing/charts/1": "Six colours",
    "/mixing/paints/1": "Burnt sienna",
    "/lineage/lots/1": "BB-3",
    "/package": "The whole studio",
}


class Layout(BrowserTest):
    def test_what_stands_wrong_is_noticed(self) -> None:
        self.page.goto("/stock")
        expect(self.page.get_by_role("heading", level=1)).to_contain_text("Stock")
        self.page.evaluate(
            """() => document.querySelector("main").insertAdjacentHTML("afterbegin",
            `<p style="height: 12px">lies below</p><p style="margin-top: -14px">lies above</p>
            <p style="width: 40px; overflow: hidden; white-space: nowrap">longer than its frame</p>
            <p style="width: 3000px; text-align: right">reaches far out</p>`)"""
        )
        wrong = " ".join(self.page.evaluate(PROBE))
        for words in ('lies above" and "lies below', 'cut: "longer than its frame', 'past the edge: "reaches far out'):
            self.assertIn(words, wrong)

    def test_nothing_is_cut_overlapped_or_sideways_at_three_sizes(self) -> None:
        for path, heading in SCREENS.items():
            self.page.goto(path)
            title = self.page.get_by_role("heading", level=1)
            expect(title).to_contain_text(heading)
            self.page.wait_for_timeout(350)
            self.assert_accessible(self.page, path)
            for size in SIZES:
                with self.subTest(path, width=size["width"]):
                    self.page.set_viewport_size(size)  # type: ignore[arg-type]
                    self.page.wait_for_timeout(60)
                    wrong = self.page.evaluate(PROBE)
                    self.assertEqual("; ".join(wrong), "")
                    self.assert_fits(self.page, path)
