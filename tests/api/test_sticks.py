"""Sticks over HTTP: bad input named beside its field with nothing lost, a pot to its end, pictures, two followers."""

import io
from typing import Any
from uuid import uuid4

import httpx
from PIL import Image

from tests.support import ServerTest, now_iso

OIL = "library-linseed-refined"
BLACK = "library-bone-black"


class Sticks(ServerTest):
    base: int
    mould: int

    @classmethod
    def setUpClass(cls) -> None:
        super().setUpClass()
        parts = [{"wax_key": "beeswax", "share": 80}, {"wax_key": "carnauba", "share": 20}]
        made = cls.client.post("/api/sticks/bases", json={"name": "Plain", "parts": parts}).json()
        cls.base = made["shown"]["base_id"]
        cls.mould = cls.client.post("/api/sticks/moulds", json={"name": "Stick", "water_g": 18}).json()[0]["id"]

    def asked(self, **change: Any) -> dict[str, Any]:
        colour = {
            "pigments": [{"pigment_key": "bone-black"}],
            "moulds": [{"mould_id": self.mould, "count": 2}],
            "dent_dmm": 30,
            **change.pop("colour", {}),
        }
        return {"base_id": self.base, "oil_key": "linseed-refined", "way": "dry", "colours": [colour], **change}

    def begin(self) -> int:
        body = {"request_id": str(uuid4()), "set": self.asked()}
        return int(self.ok(self.client.post("/api/sticks/pots", json=body))["numbers"][0])

    def pot_act(self, number: int, kind: str, **what: Any) -> httpx.Response:
        body = {"id": str(uuid4()), "kind": kind, "made_at": now_iso(), **what}
        return self.client.post(f"/api/sticks/{number}/acts", json=body)


class BadInput(Sticks):
    def test_a_set(self) -> None:
        self.ok(self.client.post("/api/sticks/plan", json=self.asked()))
        self.ok(self.client.post("/api/sticks/plan", json=self.asked(pot_ml=60)))
        cases: list[tuple[str, dict[str, Any]]] = [
            ("oil_key", {"oil_key": None}),
            ("oil_key", {"oil_key": "butter"}),
            ("colours", {"colours": []}),
            ("base_id", {"base_id": 999}),
            ("block_lot_id", {"block_lot_id": 999}),
            ("way", {"way": "sideways"}),
            ("pot_ml", {"pot_ml": 30}),
            ("pot_ml", {"pot_ml": -1}),
            ("colours.0.dent_dmm", {"colour": {"dent_dmm": -5}}),
            ("colours.0.dent_dmm", {"colour": {"dent_dmm": 500}}),
            ("colours.0.share", {"colour": {"share": 1.1}}),
            ("colours.0.share", {"colour": {"school": "weight", "share": 0.95}}),
            ("colours.0.moulds", {"colour": {"moulds": []}}),
            ("colours.0.moulds.0.count", {"colour": {"moulds": [{"mould_id": self.mould, "count": 0}]}}),
            ("colours.0.moulds.0.mould_id", {"colour": {"moulds": [{"mould_id": 77, "count": 1}]}}),
            ("colours.0.pigments.0.pigment_key", {"colour": {"pigments": [{"pigment_key": "butter"}]}}),
            ("colours.0.recipe_id", {"colour": {"recipe_id": 4711}}),
            ("colours.0.oil_fraction", {"colour": {"dent_dmm": None, "oil_fraction": 1.5}}),
        ]
        for field, change in cases:
            with self.subTest(field=field, change=change):
                answer = self.client.post("/api/sticks/plan", json=self.asked(**change))
                self.refused(answer, field, 404 if answer.status_code == 404 else 422)

    def test_a_base(self) -> None:
        def parts(*shares: tuple[str, Any]) -> list[dict[str, Any]]:
            return [{"wax_key": key, "share": share} for key, share in shares]

        for field, body in (
            ("name", {"name": "", "parts": parts(("beeswax", 1))}),
            ("name", {"name": "Plain", "parts": parts(("beeswax", 1))}),
            ("parts", {"name": "N", "parts": []}),
            ("parts", {"name": "N", "parts": parts(("beeswax", 0))}),
            ("parts.0.wax_key", {"name": "N", "parts": parts(("linseed-refined", 1))}),
            ("parts.1.wax_key", {"name": "N", "parts": parts(("beeswax", 1), ("beeswax", 1))}),
            ("parts.0.share", {"name": "N", "parts": parts(("beeswax", -1))}),
            ("parts", {"name": "N", "parts": parts(*[("beeswax", 1)] * 13)}),
        ):
            with self.subTest(field=field, body=body):
                self.refused(self.client.post("/api/sticks/bases", json=body), field)
        for of in ([], ["1"], [str(self.base)] * 7, ["one", "two"], [str(self.base), "9999"]):
            answer = self.client.get("/api/sticks/bases/beside", params={"of": of})
            self.assertIn(answer.status_code, (404, 422), of)
            self.assertTrue(answer.json()["errors"][0]["accepted"])

    def test_a_wax_of_ones_own(self) -> None:
        wax = {
            "name": "Spruce wax",
            "density_g_per_ml": 0.95,
            "melting_low_c": 60,
            "melting_high_c": 70,
            "penetration_dmm": 12,
        }
        kept = self.ok(self.client.post("/api/materials/own/waxes", json=wax))
        self.assertIn("hot-wax", kept["hazards"])
        self.assertIn(kept["key"], [one["key"] for one in self.ok(self.client.get("/api/sticks/waxes"))])
        self.refused(self.client.post("/api/materials/own/waxes", json=wax), "name")
        for field, value in (("melting_high_c", 50), ("penetration_dmm", 0), ("density_g_per_ml", 0)):
            self.refused(self.client.post("/api/materials/own/waxes", json={**wax, "name": "W", field: value}), field)
        lot = {"kind": "wax", "material_key": kept["key"], "code": "SW-1", "received_on": "2026-06-01", "received": 200}
        self.assertEqual(self.ok(self.client.post("/api/materials/lots", json=lot))["name"], "Spruce wax")
        self.refused(self.client.post("/api/materials/lots", json={**lot, "code": "X", "kind": "base"}), "kind")
        no_wax = {**lot, "code": "X", "material_key": "linseed-refined"}
        self.refused(self.client.post("/api/materials/lots", json=no_wax), "material_key")

    def test_at_the_pot(self) -> None:
        number = self.begin()
        self.ok(self.pot_act(number, "oil", source=OIL, measure={"amount": 20}))
        for field, kind, what in (
            ("temperature_c", "temperature", {"temperature_c": 900}),
            ("temperature_c", "temperature", {}),
            ("dent_dmm", "drop", {"by": "needle", "dent_dmm": -3}),
            ("dent_dmm", "drop", {"by": "needle"}),
            ("feel", "drop", {"by": "feel", "feel": "crumbles"}),
            ("measure.amount", "oil", {"source": OIL, "measure": {"amount": -1}}),
            ("source", "base", {"source": OIL, "measure": {"amount": 1}}),
            ("count", "out", {"count": -1}),
            ("flaw", "flaw", {"flaw": "ugly"}),
            ("item_id", "paste", {"item_id": 99_999, "volume_ml": 3}),
            ("made_at", "note", {"text": "late", "made_at": "9999-01-01T00:00:00Z"}),
            ("kind", "explode", {}),
        ):
            with self.subTest(field=field, kind=kind):
                answer = self.pot_act(number, kind, **what)
                self.refused(answer, field, 404 if answer.status_code == 404 else 422)
        seen = self.ok(self.client.get(f"/api/sticks/{number}"))
        self.assertEqual((len(seen["timeline"]), seen["total_g"]), (1, 20.0))
        self.refused(self.client.get("/api/sticks/9999"), "path", 404)


class ToTheEnd(Sticks):
    def test_a_pot_with_a_picture_to_labels(self) -> None:
        number = self.begin()
        seen = self.ok(self.pot_act(number, "ready"))
        for _ in range(12):
            advice = seen["advice"]
            what: dict[str, Any] = {}
            match advice["act"]:
                case "base" | "oil" | "pigment":
                    what = {"source": advice["source"], "measure": {"amount": round(advice["grams"], 2)}}
                case "drop":
                    what = {"by": "feel", "feel": "soft"}
                case "pour":
                    break
            seen = self.ok(self.pot_act(number, advice["act"], **what))
        self.assertEqual(seen["advice"]["act"], "pour")
        picture = io.BytesIO()
        Image.new("RGB", (64, 48), "#332211").save(picture, "PNG")
        photo = str(uuid4())
        for _ in range(2):
            sent = self.client.post(
                f"/api/sticks/{number}/photos/{photo}",
                params={"made_at": now_iso()[:19] + "Z"},
                content=picture.getvalue(),
                headers={"content-type": "image/png"},
            )
            self.ok(sent)
        kept = self.client.get(f"/api/sticks/{number}/photos/{photo}.jpg")
        self.assertEqual(Image.open(io.BytesIO(kept.content)).size, (64, 48))
        broken = self.client.post(
            f"/api/sticks/{number}/photos/{uuid4()}",
            params={"made_at": now_iso()[:19] + "Z"},
            content=b"no picture",
            headers={"content-type": "image/jpeg"},
        )
        self.refused(broken, "picture")
        self.ok(self.pot_act(number, "pour"))
        self.ok(self.pot_act(number, "out", count=2, grams=44.0))
        seen = self.ok(self.pot_act(number, "finish", place="box"))
        self.assertEqual([item["weight_g"] for item in seen["items"]], [22.0, 22.0])
        items = [item["id"] for item in seen["items"]]
        preview = self.ok(self.client.post("/api/tubes/labels/preview", json={"items": items}))
        self.assertTrue(preview)
        room = self.ok(self.client.get("/api/sticks"))
        self.assertIn(number, [pot["number"] for pot in room["pots"]])
        self.assertEqual([zone["feel"] for zone in room["scale"]], ["hard", "firm", "soft", "buttery", "too_soft"])
        recipe = self.ok(self.client.post(f"/api/sticks/{number}/recipe", json={"name": "Soft black"}))
        page = self.ok(self.client.get(f"/api/sticks/recipes/{recipe['id']}"))
        self.assertEqual(page["line"]["name"], "Soft black")
        self.refused(self.client.get("/api/sticks/recipes/999"), "path", 404)
        looked = {"id": str(uuid4()), "made_on": now_iso()[:10], "skin": "skin"}
        found = self.ok(self.client.post(f"/api/shelf/{items[0]}/stick-inspections", json=looked))
        self.assertEqual(found["line"]["last_outcome"], "peel")
        self.refused(
            self.client.post(f"/api/shelf/{items[0]}/stick-inspections", json={**looked, "skin": "bark"}), "skin"
        )
