"""Gels, ladders and intent over HTTP: a ladder from design to a recipe's next version, and odd input named whole."""

from datetime import timedelta
from typing import Any
from uuid import uuid4

import httpx

from tests.support import NOW, ServerTest


class Demo(ServerTest):
    with_demo = True

    def get(self, path: str, **query: Any) -> Any:
        return self.ok(self.client.get(path, params=query))

    def lot(self, code: str) -> dict[str, Any]:
        found = self.get("/api/materials/lots", words=code)
        rows = found["lots"] if isinstance(found, dict) else found
        return dict(next(one for one in rows if one["code"] == code))


class Gels(Demo):
    def gel(self, **what: Any) -> httpx.Response:
        body = {
            "additive_key": "aluminium-stearate",
            "oil_key": "linseed-refined",
            "additive_g": 6.0,
            "oil_g": 54.0,
            "yield_g": 58.5,
            "code": f"G-{uuid4().hex[:6]}",
            **what,
        }
        return self.client.post("/api/additives/gels", json=body)

    def test_its_strength_is_from_what_was_weighed_in(self) -> None:
        self.assertAlmostEqual(self.get("/api/additives/gels/strength", additive_g=6, oil_g=54), 0.1)
        answer = self.client.get("/api/additives/gels/strength", params={"additive_g": 6, "oil_g": 0})
        self.assertEqual((answer.status_code, answer.json()["errors"][0]["field"]), (422, "oil_g"))

    def test_a_gel_on_paper(self) -> None:
        told = self.get("/api/additives/gels/plan", additive_key="aluminium-stearate", grams=50, strength=0.1)
        self.assertAlmostEqual(told["additive_g"] / (told["additive_g"] + told["oil_g"]), 0.1)
        self.assertGreater(told["additive_g"] + told["oil_g"], 50)
        hot = [step["window"] for step in told["steps"] if step["window"]]
        self.assertTrue(hot and all(window["high"] <= 110 for window in hot))
        self.assertTrue(any("never left alone" in (step["caution"] or "") for step in told["steps"]))
        for field, query in (
            ("grams", {"grams": 1}),
            ("strength", {"grams": 50, "strength": 0.9}),
            ("additive_key", {"grams": 50, "additive_key": "egg-yolk"}),
        ):
            with self.subTest(field):
                asked = {"additive_key": "aluminium-stearate", **query}
                self.refused(self.client.get("/api/additives/gels/plan", params=asked), field)

    def test_a_gel_is_kept_as_a_lot_and_draws_on_its_own(self) -> None:
        stearate = self.lot("AS-1")
        made = self.ok(self.gel(additive_lot_id=stearate["id"]))
        self.assertEqual((made["kind"], made["on_hand"]), ("gel", 58.5))
        self.assertAlmostEqual(self.lot("AS-1")["on_hand"], stearate["on_hand"] - 6.0)
        forms = next(
            one["forms"] for one in self.get("/api/additives") if one["additive"]["key"] == "aluminium-stearate"
        )
        kept = next(form for form in forms if form["lot_id"] == made["id"])
        self.assertAlmostEqual(kept["strength"], 0.1)

    def test_what_no_pot_gives_is_refused(self) -> None:
        for field, what in (
            ("additive_key", {"additive_key": "nothing"}),
            ("additive_key", {"additive_key": "egg-yolk"}),
            ("oil_key", {"oil_key": "whale"}),
            ("yield_g", {"yield_g": 90.0}),
            ("code", {"code": " "}),
            ("code", {"code": "G-1"}),
            ("additive_g", {"additive_g": 0.0}),
            ("additive_lot_id", {"additive_lot_id": 99_999}),
            ("additive_lot_id", {"additive_lot_id": 1}),
        ):
            with self.subTest(field, what=what):
                self.refused(self.gel(**what), field)


class Ladders(Demo):
    def ladder(self, **what: Any) -> dict[str, Any]:
        return {
            "name": "Stearate in sienna",
            "recipe_id": 1,
            "oil_g_per_100g": 42.0,
            "rungs": 5,
            "additives": [{"additive_key": "aluminium-stearate", "lot_id": 26, "top_dose_pct": 2.0}],
            "targets": [{"what": "bleed_mm", "at_most": 2.0}],
            **what,
        }

    def test_from_design_to_a_recipes_next_version(self) -> None:
        design = self.ok(self.client.post("/api/additives/ladders/design", json=self.ladder()))
        self.assertEqual([rung["label"] for rung in design["rungs"]], ["R0", "R1", "R2", "R3", "R4"])
        doses = [rung["additives"][0]["dose_pct"] for rung in design["rungs"]]
        self.assertEqual(doses, [0.0, 0.5, 1.0, 1.5, 2.0])
        body = {"request_id": str(uuid4()), "ladder": self.ladder()}
        begun = self.ok(self.client.post("/api/additives/ladders", json=body))
        self.assertEqual(self.ok(self.client.post("/api/additives/ladders", json=body)), begun)
        path = f"/api/additives/ladders/{begun['id']}"

        def act(rung: int, kind: str, **what: Any) -> httpx.Response:
            body = {"id": str(uuid4()), "rung": rung, "kind": kind, **what}
            body.setdefault("made_at", (NOW - timedelta(hours=30)).isoformat())
            return self.client.post(f"{path}/acts", json=body)

        self.refused(act(9, "weighed"), "rung")
        self.refused(act(0, "bleed", length_mm=-1.0), "length_mm")
        self.refused(act(0, "spread"), "diameters_mm")
        for rung in range(5):
            self.ok(act(rung, "weighed"))
            self.ok(act(rung, "mixed"))
        read = NOW.isoformat()
        for rung, halo in enumerate((4.4, 3.6, 2.4, 1.7, 0.8)):
            page = self.ok(act(rung, "bleed", length_mm=halo, made_at=read))
        self.assertTrue(0.5 < page["fit"]["answer"]["dose_pct"] <= 2.0)
        made = self.ok(self.client.post(f"{path}/into-recipe", json={"recipe_id": 1}))
        recipe = self.get("/api/recipes/1")
        self.assertEqual(recipe["versions"][0]["version"], made["version"])
        dose = recipe["versions"][0]["asked"]["additives"][0]
        self.assertEqual((dose["additive_key"], dose["ladder_id"]), ("aluminium-stearate", begun["id"]))
        self.assertTrue(0.5 < dose["dose_pct"] <= 2.0)

    def test_targets_and_retiring(self) -> None:
        begun = self.ok(
            self.client.post(
                "/api/additives/ladders", json={"request_id": str(uuid4()), "ladder": self.ladder(name="To be retired")}
            )
        )
        path = f"/api/additives/ladders/{begun['id']}"
        kept = self.ok(self.client.put(f"{path}/targets", json={"targets": [{"what": "string_mm", "at_least": 9.0}]}))
        self.assertEqual([one["what"] for one in kept["asked"]["targets"]], ["string_mm"])
        for odd in ([{"what": "string_mm"}], [{"what": "string_mm", "at_least": 9.0, "at_most": 3.0}]):
            answer = self.client.put(f"{path}/targets", json={"targets": odd})
            self.assertEqual(answer.status_code, 422, odd)
        left = self.ok(self.client.delete(path))
        self.assertNotIn(begun["id"], [one["id"] for one in left])
        self.refused(self.client.get("/api/additives/ladders/9999"), "path", 404)

    def test_a_ladder_that_cannot_be_is_named(self) -> None:
        def part(**what: Any) -> dict[str, Any]:
            return {"additives": [{"additive_key": "aluminium-stearate", "top_dose_pct": 2.0} | what]}

        for field, what in (
            ("additives.0.top_dose_pct", part(top_dose_pct=9.0)),
            ("additives.0.additive_key", part(additive_key="nothing")),
            ("additives.0.lot_id", part(lot_id=99_999)),
            ("rungs", {"rungs": 2}),
            ("paste_per_rung_g", {"paste_per_rung_g": 1.0}),
            ("oil_g_per_100g", {"oil_g_per_100g": 0.0}),
            ("doses", {"doses": [1.0, 0.5]}),
            ("additives", {"additives": []}),
        ):
            with self.subTest(field, what=what):
                self.refused(self.client.post("/api/additives/ladders/design", json=self.ladder(**what)), field)

    def test_a_ladder_starts_at_the_ratio_of_its_recipe(self) -> None:
        start = self.get("/api/additives/ladders/start/1")
        made = [one["oil_g_per_100g"] for one in self.get("/api/recipes/1")["batches"]]
        self.assertTrue(min(made) <= start["oil_g_per_100g"] <= max(made))
        self.refused(self.client.get("/api/additives/ladders/start/999"), "path", 404)


class Intent(Demo):
    def test_three_schools_and_what_is_missing(self) -> None:
        asked = {"stand": "stands", "brush": "shows", "thread": "short", "keep": "years"}
        schema = self.get("/api/openapi.json")["components"]["schemas"]
        for name in asked:
            asked[name] = schema[name.capitalize()]["enum"][0]
        both = {"pigment_key": "ultramarine-blue", "oil_key": "linseed-refined"}
        routes = self.ok(self.client.post("/api/additives/intent", json=asked | both))
        self.assertEqual(len(routes), 3)
        self.refused(
            self.client.post("/api/additives/intent", json=asked | {"oil_key": "linseed-refined"}), "pigment_key"
        )
        self.refused(self.client.post("/api/additives/intent", json=asked | {"pigment_key": "viridian"}), "oil_key")
        self.refused(self.client.post("/api/additives/intent", json=asked | both | {"stand": "floats"}), "stand")
