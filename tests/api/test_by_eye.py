"""Those who work by eye over HTTP: how a studio measures, a powder nobody listed, what is told, a jar half known."""

from typing import Any
from uuid import uuid4

from tests.support import ServerTest, now_iso

OIL = "library-linseed-refined"


class Measured(ServerTest):
    def settings(self, **change: Any) -> Any:
        kept = self.ok(self.client.get("/api/workshop"))["settings"]
        return self.client.put("/api/workshop/settings", json=kept | change)

    def test_a_studio_says_how_it_measures(self) -> None:
        kept = self.ok(self.client.get("/api/workshop"))["settings"]
        self.addCleanup(self.settings, **kept)
        said = self.ok(self.settings(measuring="spoons", small="ml", tool="jar"))["settings"]
        self.assertEqual((said["measuring"], said["small"], said["tool"]), ("spoons", "ml", "jar"))
        for field, wrong in (("measuring", "cups"), ("small", "sips"), ("tool", "hammer"), ("spoon_set", "soup")):
            self.refused(self.settings(**{field: wrong}), field)
        number = self.take_to_slab(pigment_g=6)
        view = self.ok(self.client.get(f"/api/slab/{number}"))
        self.assertEqual((view["habit"]["how"], view["tool"]), ("spoons", "jar"))
        self.assertTrue(view["oil"]["planned_told"]["words"].endswith(" ml"))
        by_plan = self.ok(self.client.get(f"/api/slab/{self.take_to_slab(measuring='scale')}"))
        self.assertIsNone(by_plan["oil"]["planned_told"])

    def test_what_it_should_be_is_asked_first(self) -> None:
        bodies = self.ok(self.client.get("/api/plan/bodies"))
        self.assertGreater(len(bodies["bodies"]), 3)
        for choice in bodies["bodies"]:
            self.assertTrue(choice["says"])
        stiffness = [one["reduced_pvc"] for one in bodies["bodies"]]
        self.assertEqual(len(set(stiffness)), len(stiffness))
        planned = {one["purpose"] for one in bodies["purposes"]}
        asked = {
            "lines": [{"pigment_key": "bone-black", "parts": 1}],
            "oil": {"oil_key": "linseed-refined"},
            "reduced_pvc": 0.86,
            "pigment_g": 20,
        }
        for purpose in planned:
            self.ok(self.client.post("/api/plan", json=asked | {"purpose": purpose}))
        self.refused(self.client.post("/api/plan", json=asked | {"purpose": "wallpaper"}), "purpose")

    def test_a_powder_nobody_listed(self) -> None:
        kinds = self.ok(self.client.get("/api/materials/kinds"))
        own: dict[str, Any] = {}
        for kind in kinds:
            values = kind["values"]
            self.assertLess(values["oil_absorption_low"], values["oil_absorption_high"])
            self.assertEqual([one["key"] for one in kind["hazards"]], list(values["hazards"]))
            own = {"name": f"Field {values['kind']}", "kind": values["kind"], "hazards": list(values["hazards"])}
            kept = self.ok(self.client.post("/api/materials/own/of-kind", json=own))
            self.assertEqual(kept["oil_absorption_high"], values["oil_absorption_high"])
            plan = {
                "lines": [{"pigment_key": kept["key"], "parts": 1}],
                "oil": {"oil_key": "linseed-refined"},
                "reduced_pvc": 0.86,
                "pigment_g": 10,
            }
            self.ok(self.client.post("/api/plan", json=plan))
        for field, wrong in (("kind", "dust"), ("name", ""), ("hazards", ["boredom"]), ("masstone_srgb", "brown")):
            answer = self.client.post("/api/materials/own/of-kind", json=own | {"name": "Another", field: wrong})
            self.refused(answer, f"{field}.0" if field == "hazards" else field)

    def test_taps_are_told_afterwards_and_told_again(self) -> None:
        number = self.take_to_slab(measuring="eye", pigment_g=6)
        view = self.ok(self.client.get(f"/api/slab/{number}"))
        if view["must_be_ready"]:
            self.ok(self.act(number, "ready"))
        self.ok(self.act(number, "powder", source="library-bone-black", measure={"amount": 6}))
        self.refused(self.act(number, "came_out", measure={"amount": 3}), "kind")
        for _ in range(3):
            view = self.ok(self.act(number, "by_eye", source=OIL))
        self.assertTrue(view["can_tell"])
        self.assertFalse(view["ratio"] and view["ratio"]["value"])
        view = self.ok(self.act(number, "came_out", measure={"unit": "drop", "amount": 60}))
        ratio = view["ratio"]["value"]
        self.assertAlmostEqual(ratio, 100 * view["oil"]["in_g"] / 6)
        self.assertIn("how much oil came out", view["timeline"][-1]["text"])
        self.assertEqual(len(view["cleaning"]), len({one["key"] for one in view["cleaning"]}))
        taps = [one["id"] for one in view["timeline"] if one["kind"] == "by_eye"]
        for tap in taps:
            view = self.ok(self.act(number, "strike", strikes=tap))
        self.assertEqual(view["oil"]["in_g"], 0)


class Half(ServerTest):
    with_demo = True

    def test_a_jar_half_known_keeps_what_is_known(self) -> None:
        body = {
            "id": str(uuid4()),
            "srgb": "#7a4a2b",
            "lab": [38.0, 14.0, 22.0],
            "name": "sienna, dark",
            "dated": "guessed",
            "on": "2019-05-01",
            "from_whom": "a neighbour",
            "volume_ml": 60.0,
        }
        found = self.ok(self.client.post("/api/shelf/found", json=body))
        line = found["line"]
        self.assertEqual(line["name"], "sienna, dark?", "its name is not sure")
        self.assertEqual(self.ok(self.client.post("/api/shelf/found", json=body))["line"]["id"], line["id"])
        for field, wrong in (("lab", [38.0, 14.0]), ("dated", "probably"), ("on", "2031-01-01"), ("volume_ml", 0)):
            answer = self.client.post("/api/shelf/found", json=body | {"id": str(uuid4()), field: wrong})
            self.refused(answer, field)
        self.assertTrue(found["likely"])
        act = {"id": str(uuid4()), "kind": "of_no_batch", "made_at": now_iso()}
        settled = self.ok(self.client.post(f"/api/shelf/{line['id']}/acts", json=act))
        self.assertEqual(settled["likely"], [])
        self.assertTrue(settled["line"]["unknown_hazard"], "of no batch says nothing of what is in it")

    def test_labels_for_what_is_at_hand(self) -> None:
        for paper in ("a4", "letter"):
            sizes = self.ok(self.client.get("/api/tubes/labels/sizes", params={"paper": paper}))
            self.assertGreater(len(sizes), 2)
            wide, high = (210, 297) if paper == "a4" else (215.9, 279.4)
            for size in sizes:
                across = 2 * size["margin_x_mm"] + size["columns"] * size["width_mm"]
                down = 2 * size["margin_y_mm"] + size["rows"] * size["height_mm"]
                self.assertLessEqual(across + (size["columns"] - 1) * size["gap_x_mm"], wide + 0.01, size)
                self.assertLessEqual(down + (size["rows"] - 1) * size["gap_y_mm"], high + 0.01, size)
