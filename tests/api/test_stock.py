"""The shelf over HTTP: the file that comes in line by line, or not at all."""

import json
import tracemalloc
from typing import Any

import httpx

from tests.support import ServerTest

HEADER = "kind,material,code,received_on,received\n"

CSV = {"content-type": "text/csv"}


class Import(ServerTest):
    def bring(self, content: str | bytes, *, write: bool) -> list[dict[str, Any]]:
        answer = self.client.post("/api/materials/import", params={"write": write}, content=content, headers=CSV)
        self.assertEqual(answer.status_code, 200, answer.text)
        return [json.loads(line) for line in answer.text.splitlines()]

    def count(self) -> int:
        return len(self.ok(self.client.get("/api/materials/lots")))

    def test_a_preview_keeps_nothing_and_a_refused_cell_keeps_all_out(self) -> None:
        good = HEADER + "pigment,viridian,P-1,2026-05-01,250\noil,walnut-refined,P-2,2026-05-01,500\n"
        told = self.bring(good, write=False)
        self.assertEqual(told[-1], {"done": {"receive": 2, "change": 0, "nothing": 0, "refused": 0}, "written": False})
        self.assertEqual(self.count(), 0)
        told = self.bring(good + "pigment,viridian,P-3,2026-05-01,-5\n", write=True)
        self.assertFalse(told[-1]["written"])
        (refused,) = [line["row"] for line in told if line.get("row", {}).get("refused")]
        self.assertEqual((refused["line"], refused["refused"][0]["column"]), (4, "received"))
        self.assertEqual(self.count(), 0)
        self.assertTrue(self.bring(good, write=True)[-1]["written"])
        self.assertEqual(self.count(), 2)
        text = self.client.get("/api/materials/export.csv").text
        self.assertIn("P-1", text)
        self.assertEqual(len(self.ok(self.client.get("/api/materials/export.json"))), 2)
        for lot in self.ok(self.client.get("/api/materials/lots")):
            self.ok(self.client.post(f"/api/materials/lots/{lot['id']}/weigh-in", json={"reading": 0}))

    def test_no_such_file(self) -> None:
        self.assertIn("no column", self.bring("a|b|c\n1|2|3\n", write=True)[-1]["refused"]["problem"])
        self.assertIn("not a text file", self.bring(b"\x00\x01\x02", write=True)[-1]["refused"]["problem"])

        def endless() -> Any:
            for _ in range(220):
                yield b"x" * 1_000_000

        try:
            answer = self.client.post("/api/materials/import", content=endless(), headers=CSV)
        except httpx.WriteError:
            return  # The server answered and hung up before the rest was sent.
        self.refused(answer, "file")

    def test_eight_thousand_rows_in_bounded_memory(self) -> None:
        text = HEADER + "".join(f"pigment,viridian,N-{n},2026-05-01,{100 + n % 50}\n" for n in range(8_000))
        tracemalloc.start()
        told = self.bring(text, write=False)
        peak = tracemalloc.get_traced_memory()[1]
        tracemalloc.stop()
        self.assertEqual(told[-1]["done"]["receive"], 8_000)
        self.assertEqual([line["progress"] for line in told if "progress" in line][-1], 8_000)
        # The test itself holds the whole answer, several times the file; the server only a chunk of it.
        self.assertLess(peak, 60 * len(text))

    def test_own_pigments_and_measures(self) -> None:
        body = {
            "name": "Cliff red",
            "density_g_per_ml": 3.4,
            "oil_absorption_low": 25,
            "oil_absorption_high": 38,
            "loose_density_g_per_ml": 0.8,
            "hazards": ["silica"],
        }
        made = self.ok(self.client.post("/api/materials/own/pigments", json=body))
        self.assertEqual(made["key"], "own-cliff-red")
        self.refused(self.client.post("/api/materials/own/pigments", json=body), "name")
        self.assertIn(made["key"], self.ok(self.client.get("/api/materials/library"))["own"])
        new = {
            "kind": "pigment",
            "material_key": made["key"],
            "code": "CR",
            "received_on": "2026-05-01",
            "received": 90,
        }
        lot = self.ok(self.client.post("/api/materials/lots", json=new))
        path = f"/api/materials/lots/{lot['id']}"
        spoon = {"unit": "teaspoon", "spoons": 2, "grams": 9.0}
        self.assertAlmostEqual(
            self.ok(self.client.post(f"{path}/weigh-spoon", json=spoon))["loose_density"]["value"], 0.9
        )
        self.refused(self.client.post(f"{path}/weigh-drops", json={"drops": 30, "grams": 0.7}), "drops")
        self.refused(self.client.post(f"{path}/weigh-spoon", json=spoon | {"grams": -1}), "grams")
        self.refused(self.client.put(path, json={"code": "CR", "density_g_per_ml": 0}), "density_g_per_ml")
        self.assertEqual(self.ok(self.client.put(path, json={"code": "CR-2", "note": "north end"}))["code"], "CR-2")
        page = self.ok(self.client.get(f"/api/rubout/pigments/{made['key']}"))
        self.assertEqual((page["prior_low"], page["prior_basis"]), (25, "library"))
