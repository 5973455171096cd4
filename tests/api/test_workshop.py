"""The workshop over HTTP: slabs, mullers, tube types by their measures, settings."""

import io
from typing import Any

import httpx
from PIL import Image

from tests.support import ServerTest


class Workshop(ServerTest):
    def tube(self, **what: Any) -> httpx.Response:
        return self.client.post("/api/workshop/tube-types", json={"name": "30 ml tube", **what})

    def of(self, workshop: dict[str, Any], name: str) -> dict[str, Any]:
        return dict(next(one for one in workshop["tube_types"] if one["name"] == name))

    def test_a_tube_takes_what_its_measures_say(self) -> None:
        measures = {"diameter_mm": 25.0, "length_mm": 110.0, "headspace_mm": 25.0, "tare_g": 8.8, "folds": 3}
        kept = self.of(self.ok(self.tube(name="By measure", **measures)), "By measure")
        self.assertAlmostEqual(kept["usable_ml"], 41.724, 3)
        entered = self.of(self.ok(self.tube(name="As entered", usable_ml=30.0)), "As entered")
        self.assertEqual((entered["usable_ml"], entered["diameter_mm"]), (30.0, None))
        path = f"/api/workshop/tube-types/{kept['id']}"
        longer = self.ok(self.client.put(path, json={"name": "By measure", **measures, "headspace_mm": 20.0}))
        self.assertGreater(self.of(longer, "By measure")["usable_ml"], 41.8)
        for field, what in (
            ("headspace_mm", {**measures, "headspace_mm": 110.0}),
            ("headspace_mm", {**measures, "headspace_mm": 400.0}),
            ("headspace_mm", {"diameter_mm": 25.0, "length_mm": 110.0}),
            ("diameter_mm", {}),
            ("diameter_mm", {**measures, "diameter_mm": 900.0}),
            ("tare_g", {**measures, "tare_g": 0.0}),
            ("folds", {**measures, "folds": 9}),
            ("usable_ml", {"usable_ml": -4.0}),
            ("name", {"name": " ", "usable_ml": 5.0}),
            ("name", {"name": "By measure", "usable_ml": 5.0}),
        ):
            with self.subTest(field, what=what):
                self.refused(self.tube(**what), field)
        left = self.ok(self.client.delete(path))["tube_types"]
        self.assertNotIn(kept["id"], [one["id"] for one in left])
        self.refused(self.client.put("/api/workshop/tube-types/9999", json={"name": "X", **measures}), "path", 404)

    def test_measures_of_ones_own_stand_among_the_units(self) -> None:
        straw = {"name": "Straw", "powder": False, "liquid": True, "holds": "drops", "amount": 60.0}
        kept = self.ok(self.client.post("/api/workshop/measures", json=straw))
        (mine,) = kept["own_measures"]
        self.assertAlmostEqual(mine["ml"], 60 * 0.023 / 0.93, 3)
        unit = next(one for one in kept["units"] if one["unit"] == mine["unit"])
        self.assertEqual((unit["one"], unit["many"], unit["powder"], unit["family"]), ("Straw", "Straws", False, "own"))
        path = f"/api/workshop/measures/{mine['id']}"
        changed = self.ok(self.client.put(path, json={**straw, "holds": "spoons", "amount": 1.0, "spoon": "teaspoon"}))
        self.assertAlmostEqual(changed["own_measures"][0]["ml"], 5.0)
        for field, what in (
            ("amount", {"holds": "ml", "amount": None}),
            ("amount", {"holds": "ml", "amount": 5000.0}),
            ("amount", {"amount": 0}),
            ("powder", {"liquid": False}),
            ("name", {"name": "x" * 300}),
            ("name", {"name": " "}),
            ("spoon", {"holds": "spoons", "spoon": "ml"}),
        ):
            with self.subTest(field, what=what):
                self.refused(self.client.put(path, json={**straw, **what}), field)
        measured = {"amount": 2.0, "unit": mine["unit"], "density_g_per_ml": 0.9, "holds_ml": 5.0, "holds_spread": 0.1}
        answer = self.ok(self.client.post("/api/calc/measure", json=measured))["mass_g"]
        self.assertAlmostEqual(answer["median"], 9.0)
        self.refused(self.client.post("/api/calc/measure", json={**measured, "holds_ml": None}), "unit")
        self.assertEqual(self.ok(self.client.delete(path))["own_measures"], [])
        self.refused(self.client.delete(path), "path", 404)

    def test_slabs_and_mullers(self) -> None:
        slab = self.ok(
            self.client.post("/api/workshop/slabs", json={"name": "Slate", "area_cm2": 600.0, "tooth": "fair"})
        )["slabs"][-1]
        path = f"/api/workshop/slabs/{slab['id']}"
        changed = self.ok(
            self.client.put(path, json={"name": "Slate", "area_cm2": 640.0, "tooth": "worn", "film_mm": 0.2})
        )
        self.assertEqual(changed["slabs"][-1], {**slab, "area_cm2": 640.0, "tooth": "worn", "film_mm": 0.2})
        self.refused(self.client.put(path, json={"name": "Slate", "area_cm2": -1, "tooth": "fair"}), "area_cm2")
        self.refused(
            self.client.put(path, json={"name": "Slate", "area_cm2": 640, "tooth": "fair", "film_mm": 50}), "film_mm"
        )
        muller = {"name": "Oak handle", "face_mm": 60.0, "tooth": "fresh"}
        kept = self.ok(self.client.post("/api/workshop/mullers", json=muller))["mullers"][-1]
        self.refused(self.client.post("/api/workshop/mullers", json=muller), "name")
        self.refused(
            self.client.put(f"/api/workshop/mullers/{kept['id']}", json=muller | {"face_mm": 5_000}), "face_mm"
        )
        self.refused(self.client.put("/api/workshop/mullers/9999", json=muller), "path", 404)
        self.refused(self.client.delete("/api/workshop/spoons/1"), "kind")

    def test_a_default_that_is_retired_is_no_default(self) -> None:
        kept = self.ok(self.client.get("/api/workshop"))
        slab = self.ok(
            self.client.post("/api/workshop/slabs", json={"name": "Tile", "area_cm2": 300.0, "tooth": "fair"})
        )["slabs"][-1]
        chosen = self.ok(
            self.client.put("/api/workshop/settings", json={**kept["settings"], "default_slab_id": slab["id"]})
        )
        self.assertEqual(chosen["settings"]["default_slab_id"], slab["id"])
        left = self.ok(self.client.delete(f"/api/workshop/slabs/{slab['id']}"))
        self.assertIsNone(left["settings"]["default_slab_id"])
        for field, value in (("currency", "eur"), ("mass_unit", "stone"), ("default_reduced_pvc", 0.2)):
            self.refused(self.client.put("/api/workshop/settings", json={**kept["settings"], field: value}), field)

    def test_a_mark_is_given_looked_at_and_taken_off(self) -> None:
        self.refused(self.client.get("/api/workshop/mark.png"), "path", 404)
        out = io.BytesIO()
        Image.new("RGB", (500, 300), (90, 30, 30)).save(out, "JPEG")
        sent = {"content": out.getvalue(), "headers": {"content-type": "image/jpeg"}}
        self.assertTrue(self.ok(self.client.put("/api/workshop/mark", **sent))["has_mark"])
        shown = self.client.get("/api/workshop/mark.png")
        self.assertEqual((shown.headers["content-type"], shown.content[:4]), ("image/png", b"\x89PNG"))
        broken = self.client.put("/api/workshop/mark", **sent | {"content": out.getvalue()[:400]})
        self.refused(broken, "picture")
        self.assertTrue(self.ok(self.client.get("/api/workshop"))["has_mark"], "the old one stays")
        self.assertFalse(self.ok(self.client.delete("/api/workshop/mark"))["has_mark"])
