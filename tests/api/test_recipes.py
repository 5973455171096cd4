"""Recipes, checks and rub-outs over HTTP: versions, decisions, set-asides; odd input named whole."""

from typing import Any
from uuid import uuid4

import httpx

from tests.support import ServerTest, now_iso


class Demo(ServerTest):
    with_demo = True

    def get(self, path: str, **query: Any) -> Any:
        return self.ok(self.client.get(path, params=query))


RECIPE = {
    "pigments": [{"pigment_key": "viridian", "parts": 3}, {"pigment_key": "chalk", "parts": 1}],
    "oil_keys": ["walnut-refined", "linseed-refined"],
    "reduced_pvc": 0.84,
    "checks": [{"kind": "spread", "target": 40, "low": 36, "high": 44}],
}


class Recipes(Demo):
    def new(self, **change: Any) -> httpx.Response:
        return self.client.post("/api/recipes", json={"name": f"Green {uuid4()}", "recipe": RECIPE | change})

    def test_versions_are_kept_and_say_why(self) -> None:
        made = self.ok(self.new())
        path = f"/api/recipes/{made['id']}"
        changed = self.ok(
            self.client.post(f"{path}/versions", json={"recipe": RECIPE | {"reduced_pvc": 0.8}, "why": "too stiff"})
        )
        newest, first = changed["versions"]
        self.assertEqual((newest["version"], newest["why"]), (2, "too stiff"))
        self.assertEqual(first["asked"]["reduced_pvc"], 0.84)
        self.refused(self.client.post(f"{path}/versions", json={"recipe": RECIPE, "why": " "}), "why")
        self.assertNotIn(made["id"], [one["id"] for one in self.ok(self.client.delete(path))])
        self.refused(self.client.get("/api/recipes/9999"), "path", 404)

    def test_a_recipe_that_cannot_be_is_named(self) -> None:
        twice = [{"pigment_key": "viridian"}] * 2
        for field, what in (
            ("recipe.pigments", {"pigments": []}),
            ("pigments", {"pigments": twice}),
            ("pigments.0.pigment_key", {"pigments": [{"pigment_key": "nothing"}]}),
            ("recipe.pigments.0.parts", {"pigments": [{"pigment_key": "viridian", "parts": 0}]}),
            ("recipe.oil_keys", {"oil_keys": []}),
            ("oil_keys", {"oil_keys": ["linseed-refined"] * 2}),
            ("oil_keys.1", {"oil_keys": ["linseed-refined", "whale"]}),
            ("oil_parts", {"oil_parts": [1]}),
            ("recipe.reduced_pvc", {"reduced_pvc": 2}),
            ("standard_batch", {"standard_batch": 9_999}),
            ("recipe.checks.0.kind", {"checks": [{"kind": "mood"}]}),
            ("checks.1.kind", {"checks": [{"kind": "string", "target": 9}] * 2}),
            ("checks.0.high", {"checks": [{"kind": "spread", "low": 50, "high": 40}]}),
            ("checks.0.target", {"checks": [{"kind": "spread", "target": 60, "low": 30, "high": 40}]}),
            ("checks.0.choice", {"checks": [{"kind": "string", "choice": "long"}]}),
            ("additives", {"additives": [{"additive_key": "aluminium-stearate", "dose_pct": 1}]}),
        ):
            with self.subTest(field, what=what):
                self.refused(self.new(**what), field)

    def test_doses_stand_only_with_the_stance_and_below_the_ceiling(self) -> None:
        dose = {"additive_key": "aluminium-stearate", "dose_pct": 1.0}
        made = self.ok(self.new(stance="additives", additives=[dose]))
        kept = self.get(f"/api/recipes/{made['id']}")["versions"][0]["asked"]["additives"]
        self.assertEqual([one["dose_pct"] for one in kept], [1.0])
        much = self.new(stance="additives", additives=[dose | {"dose_pct": 20.0}])
        self.assertEqual(much.status_code, 422, much.text)

    def test_limits_frozen_by_a_range_of_batches(self) -> None:
        numbers = [one["number"] for one in self.get("/api/recipes/1")["batches"]]
        frozen = self.client.put("/api/recipes/1/frozen", json={"batches": numbers[-8:]})
        self.ok(frozen)
        told = self.get("/api/recipes/1/consistency/spread")
        self.assertEqual(sorted(told["frozen_on"]), sorted(numbers[-8:]))
        self.ok(self.client.put("/api/recipes/1/frozen", json={"batches": []}))
        free = self.get("/api/recipes/1/consistency/spread")
        self.assertEqual(free["frozen_on"], [])
        self.assertNotEqual(free["control"], told["control"])
        self.refused(self.client.put("/api/recipes/1/frozen", json={"batches": [9_999]}), "batches")
        self.refused(self.client.get("/api/recipes/1/consistency/mood"), "kind")

    def test_the_same_again_asks_for_as_many_lots_as_pigments(self) -> None:
        again = self.ok(self.client.post("/api/recipes/1/again", json={"pigment_g": 80}))
        self.assertEqual((again["plan"]["pigment_g"], again["plan"]["recipe_id"]), (80, 1))
        self.assertTrue(again["low"] < again["oil_g_per_100g"] < again["high"])
        answer = self.client.post("/api/recipes/1/again", json={"pigment_lots": [1, 2, 3], "pigment_g": 80})
        self.assertEqual(answer.status_code, 422, answer.text)
        answer = self.client.post("/api/recipes/1/again", json={"version": 99, "pigment_g": 80})
        self.assertIn(answer.status_code, (404, 422), answer.text)


class Checks(Demo):
    def reading(self, number: int = 30, **what: Any) -> httpx.Response:
        body = {"id": str(uuid4()), "made_at": now_iso(), **what}
        return self.client.post(f"/api/checks/{number}", json=body)

    def test_each_kind_asks_for_what_belongs_to_it(self) -> None:
        for field, what in (
            ("diameters_mm", {"kind": "spread"}),
            ("diameters_mm", {"kind": "spread", "diameters_mm": [45.0]}),
            ("length_mm", {"kind": "string"}),
            ("length_mm", {"kind": "bleed", "length_mm": -2.0}),
            ("fineness_um", {"kind": "fineness"}),
            ("choice", {"kind": "smear", "choice": "sparkling"}),
            ("srgb", {"kind": "masstone", "srgb": "brownish"}),
            ("kind", {"kind": "mood"}),
            ("made_at", {"kind": "string", "length_mm": 9.0, "made_at": "2031-01-01T00:00:00Z"}),
        ):
            with self.subTest(field, what=what):
                answer = self.reading(**what)
                self.assertEqual(answer.status_code, 422, answer.text)
                fields = [one["field"] for one in answer.json()["errors"]]
                self.assertTrue(any(one.startswith((field, "lab", "kind")) for one in fields), fields)

    def test_a_reading_is_set_aside_with_a_reason_and_counts_again(self) -> None:
        page = self.ok(self.reading(kind="string", length_mm=31.0))
        reading = next(one for one in page["readings"] if one["kind"] == "string" and one["value"] == 31.0)
        path = f"/api/checks/30/readings/{reading['id']}"
        aside = self.ok(self.client.put(path, json={"reason": "a hair in it"}))
        self.assertEqual(
            [one["set_aside"] for one in aside["readings"] if one["id"] == reading["id"]], ["a hair in it"]
        )
        back = self.ok(self.client.put(path, json={"reason": None}))
        self.assertEqual([one["set_aside"] for one in back["readings"] if one["id"] == reading["id"]], [None])
        missing = self.client.put(f"/api/checks/30/readings/{uuid4()}", json={"reason": "x"})
        self.assertEqual(missing.status_code, 404, missing.text)

    def test_a_decision_against_the_advice_needs_a_reason(self) -> None:
        body = {"id": str(uuid4()), "release": "release"}
        self.refused(self.client.post("/api/checks/30/decision", json=body), "reason")
        self.refused(self.client.post("/api/checks/30/decision", json=body | {"release": "wait"}), "release")
        kept = self.ok(self.client.post("/api/checks/30/decision", json=body | {"reason": "for my own use"}))
        self.assertEqual(kept["number"], 30)
        again = self.ok(self.client.post("/api/checks/30/decision", json=body | {"reason": "for my own use"}))
        self.assertEqual(again["number"], 30)
        self.refused(self.client.post("/api/checks/30/decision", json=body | {"reason": "other"}), "id", 409)

    def test_what_is_due_goes_into_a_calendar(self) -> None:
        self.ok(self.reading(kind="drying", choice="tacky"))
        due = self.get("/api/checks/due")
        halos = [one for one in self.get("/api/additives/ladders") if one["waits"]]
        calendar = self.client.get("/api/day/calendar.ics")
        self.assertEqual(calendar.headers["content-type"].split(";")[0], "text/calendar")
        text = calendar.text.replace("\r\n ", "")
        for one in due:
            self.assertIn(f"{one['name']}\\, batch {one['number']}", text)
        for what in ("Look at: ", "Use by: "):
            self.assertIn(f"SUMMARY:{what}", text)
        self.assertGreater(calendar.text.count("BEGIN:VEVENT"), len(due) + len(halos))

    def test_two_batches_side_by_side(self) -> None:
        told = self.get("/api/checks/compare", one=11, other=30)
        self.assertEqual([told[side]["number"] for side in ("one", "other")], [11, 30])
        answer = self.client.get("/api/checks/compare", params={"one": 11, "other": 9_999})
        self.assertEqual(answer.status_code, 404, answer.text)


class RubOuts(Demo):
    def begin(self, **what: Any) -> httpx.Response:
        body = {"request_id": str(uuid4()), "lot_id": 1, "oil": {"oil_key": "linseed-refined"}, **what}
        return self.client.post("/api/rubout", json=body)

    def test_a_test_drop_by_drop(self) -> None:
        body = {"request_id": str(uuid4()), "lot_id": 1, "oil": {"oil_key": "linseed-refined"}, "pigment_g": 5.0}
        begun = self.ok(self.client.post("/api/rubout", json=body))
        self.assertEqual(self.ok(self.client.post("/api/rubout", json=body))["id"], begun["id"])
        path = f"/api/rubout/tests/{begun['id']}"
        self.refused(self.client.post(f"{path}/end"), "steps")
        step = {"id": str(uuid4()), "measure": {"amount": 2.0}}
        self.ok(self.client.post(f"{path}/steps", json=step))
        once = self.ok(self.client.post(f"{path}/steps", json=step))
        self.assertAlmostEqual(once["oil_g"], 2.0)
        self.ok(self.client.post(f"{path}/steps", json={"id": str(uuid4()), "measure": {"amount": 1.0}}))
        undone = self.ok(self.client.post(f"{path}/undo", json={"id": str(uuid4())}))
        self.assertAlmostEqual(undone["oil_g"], 2.0)
        self.ok(self.client.post(f"{path}/steps", json={"id": str(uuid4()), "measure": {"amount": 0.9}}))
        done = self.ok(self.client.post(f"{path}/end"))
        self.assertEqual(done["status"], "finished")
        late = self.client.post(f"{path}/steps", json={"id": str(uuid4()), "measure": {"amount": 1.0}})
        self.assertEqual(late.status_code, 422, late.text)

    def test_odd_input_is_named(self) -> None:
        for field, what in (
            ("lot_id", {"lot_id": 99_999}),
            ("pigment_g", {"pigment_g": 0.0}),
            ("pigment_g", {"pigment_g": 5_000.0}),
            ("temperature_c", {"temperature_c": 400.0}),
            ("oil", {"oil": {}}),
        ):
            with self.subTest(field, what=what):
                self.refused(self.begin(**what), field)
        begun = self.ok(self.begin())
        path = f"/api/rubout/tests/{begun['id']}"
        for measure in ({"amount": -1.0}, {"unit": "weigh_back", "before_g": 5.0, "after_g": 6.0}):
            answer = self.client.post(f"{path}/steps", json={"id": str(uuid4()), "measure": measure})
            self.assertEqual(answer.status_code, 422, answer.text)
        self.refused(self.client.post(f"{path}/abort", json={"reason": " "}), "reason")
        self.assertEqual(self.ok(self.client.post(f"{path}/abort", json={"reason": "spilt"}))["status"], "abandoned")

    def test_a_range_of_ones_own_and_back_to_the_library(self) -> None:
        path = "/api/rubout/pigments/bone-black/prior"
        kept = self.ok(self.client.put(path, json={"low": 50.0, "high": 60.0, "source": "my notebook"}))
        self.assertEqual((kept["prior_low"], kept["prior_high"]), (50.0, 60.0))
        self.assertIn("my notebook", kept["prior_says"])
        self.assertEqual(self.client.put(path, json={"low": 60.0, "high": 50.0}).status_code, 422)
        back = self.ok(self.client.delete(path))
        self.assertEqual((back["prior_low"], back["prior_basis"]), (42.0, "library"))
        self.assertEqual(self.client.get("/api/rubout/pigments/nothing").status_code, 404)
