"""Tubes, labels, cost and the shelf over HTTP: what is asked twice counts once, bad input is named whole."""

import base64
import io
import json
from typing import Any
from uuid import uuid4

import httpx
import pypdf
import zxingcpp
from PIL import Image

from tests.support import TODAY, ServerTest, now_iso

WAITS = 30


class Demo(ServerTest):
    with_demo = True

    def get(self, path: str, **query: Any) -> Any:
        return self.ok(self.client.get(path, params=query))

    def post(self, path: str, **body: Any) -> httpx.Response:
        return self.client.post(path, json=body)

    def kind(self, name: str = "40 ml tube") -> int:
        kinds = self.get(f"/api/tubes/{WAITS}")["kinds"]
        return int(next(one["tube_type_id"] for one in kinds if one["name"] == name))

    def item(self, code: str) -> int:
        return int(self.get(f"/api/shelf/code/{code}")["id"])


class Filling(Demo):
    def fill(self, **what: Any) -> httpx.Response:
        body = {"id": str(uuid4()), "tube_type_id": self.kind(), "reason": "for a trial", **what}
        return self.client.post(f"/api/tubes/{WAITS}/fill", json=body)

    def test_a_filling_run(self) -> None:
        run = self.get(f"/api/tubes/{WAITS}")
        self.assertTrue(run["needs_reason"])
        self.assertEqual([one["suggested"] for one in run["kinds"]], [0, 1, 0, 0])
        self.assertAlmostEqual(run["left_ml"], run["to_fill_ml"])
        middle = run["kinds"][1]
        self.assertAlmostEqual(middle["target_fill_g"], 40 * run["density_g_per_ml"] * 0.98, 6)
        self.assertAlmostEqual(middle["target_gross_g"], middle["target_fill_g"] + middle["tare_g"], 6)

        for field, what in (
            ("reason", {"reason": " "}),
            ("tube_type_id", {"tube_type_id": None}),
            ("tube_type_id", {"tube_type_id": 999}),
            ("gross_g", {"gross_g": 5.0}),
            ("gross_g", {"gross_g": -5.0}),
            ("volume_ml", {"volume_ml": 90.0}),
            ("volume_ml", {"part": True}),
            ("tare_g", {"tube_type_id": None, "jar": "jam jar", "gross_g": 80.0}),
            ("top_up_id", {"top_up_id": 1}),
            ("cover", {"cover": "cling"}),
        ):
            with self.subTest(field, what=what):
                self.refused(self.fill(**what), field)
        self.assertEqual(self.get(f"/api/tubes/{WAITS}")["items"], [])

        body = {
            "id": str(uuid4()),
            "tube_type_id": self.kind(),
            "gross_g": middle["target_gross_g"],
            "reason": "a trial",
        }
        done = self.ok(self.client.post(f"/api/tubes/{WAITS}/fill", json=body))
        self.assertEqual((done["weighed"]["fill"], done["weighed"]["says"]), ("full", "Full to its mark."))
        self.assertAlmostEqual(done["weighed"]["of_target"], 1.0)
        again = self.ok(self.client.post(f"/api/tubes/{WAITS}/fill", json=body))
        self.assertEqual(again["item_id"], done["item_id"])
        filling = again["filling"]
        self.assertEqual(len(filling["items"]), 1)
        self.assertEqual(filling["kinds"][1]["empties"], run["kinds"][1]["empties"] - 1)
        self.assertAlmostEqual(filling["left_ml"], run["left_ml"] - done["weighed"]["volume_ml"])
        self.refused(self.fill(volume_ml=39.0), "volume_ml")
        jar = self.ok(self.fill(tube_type_id=None, jar="jam jar", volume_ml=1.5, cover="film", place="Sill"))
        kept = self.get(f"/api/shelf/{jar['item_id']}")
        self.assertEqual((kept["line"]["kind"], kept["cover"], kept["line"]["place"]), ("jar", "film", "Sill"))

    def test_the_types_and_their_empties(self) -> None:
        told = {one["name"]: one for one in self.get("/api/tubes/empties")}
        self.assertEqual(told["40 ml tube"]["empties"], self.lot_count("40 ml tube"))
        self.assertIsNone(told["60 ml tube"]["empties"])
        self.assertEqual((told["20 ml tube"]["diameter_mm"], told["20 ml tube"]["folds"]), (20.0, 3))

    def lot_count(self, name: str) -> int:
        lots = self.get("/api/materials/lots", words=name)
        rows = lots["lots"] if isinstance(lots, dict) else lots
        return int(sum(one["on_hand"] for one in rows if one["kind"] == "tube"))

    def test_no_batch_and_a_batch_not_finished(self) -> None:
        self.refused(self.client.get("/api/tubes/9999"), "path", 404)
        open_batch = self.get("/api/batches", status="open")["batches"][0]["number"]
        self.refused(self.client.get(f"/api/tubes/{open_batch}"), "number")


class NobodyCounts(Demo):
    def test_empties_that_nobody_counts_are_there(self) -> None:
        """The book of a studio that keeps no empties must not stop it from filling."""
        number = self.take_to_slab(pigment_g=60)
        oil = {"source": "library-linseed-refined", "measure": {"amount": 40}}
        self.ok(self.act(number, "powder", source="library-bone-black", measure={"amount": 60}))
        self.ok(self.act(number, "oil", **oil))
        self.ok(self.act(number, "finish", verdict="right", leftover_ml=65, tubes=[]))
        with self.database.session() as session:
            from niddy.db.materials import Lot

            for lot in session.query(Lot).filter(Lot.kind == "tube"):
                lot.material_key = f"gone {lot.id}"
        run = self.get(f"/api/tubes/{number}")
        self.assertEqual([one["empties"] for one in run["kinds"]], [None] * 4)
        self.assertEqual(sum(one["suggested"] * one["usable_ml"] for one in run["kinds"]), 60)


class Labels(Demo):
    def test_pdf_preview_and_stream_agree(self) -> None:
        items = [self.item(code) for code in ("3-1", "1-1", "F-1")]
        sheet = {"items": items, "columns": 2, "rows": 4, "start_at": 7, "pictograms": True}
        pdf = self.client.post("/api/tubes/labels.pdf", json=sheet)
        self.assertEqual((pdf.status_code, pdf.headers["content-type"]), (200, "application/pdf"))
        read = pypdf.PdfReader(io.BytesIO(pdf.content))
        self.assertEqual(len(read.pages), 2)
        self.assertIn("Lead-tin yellow", read.pages[0].extract_text())
        self.assertIn("Unknown paint", " ".join(read.pages[1].extract_text().split()))
        preview = self.ok(self.client.post("/api/tubes/labels/preview", json=sheet))
        self.assertEqual(preview["pages"], 2)
        page = Image.open(io.BytesIO(base64.b64decode(preview["png"]))).resize((2000, 2829))
        self.assertEqual(
            {code.text for code in zxingcpp.read_barcodes(page)}, {f"{self.base}/batches/{n}" for n in (1, 3)}
        )
        alone = Image.open(io.BytesIO(base64.b64decode(preview["label_png"])))
        self.assertEqual([code.text for code in zxingcpp.read_barcodes(alone)], [f"{self.base}/batches/3"])
        lines = [json.loads(line) for line in self.post("/api/tubes/labels/stream", **sheet).text.splitlines()]
        self.assertEqual((lines[-1]["done"], lines[-1]["of"]), (3, 3))
        streamed = pypdf.PdfReader(io.BytesIO(base64.b64decode(lines[-1]["pdf"])))
        self.assertEqual([p.extract_text() for p in streamed.pages], [p.extract_text() for p in read.pages])

    def test_three_hundred_labels_say_how_far_they_are(self) -> None:
        items = [one["id"] for one in self.get("/api/shelf", limit=50)["items"]] * 6
        lines = [json.loads(line) for line in self.post("/api/tubes/labels/stream", items=items).text.splitlines()]
        self.assertEqual([line["done"] for line in lines], [*range(10, 301, 10), 300])
        self.assertTrue(all(line["of"] == 300 for line in lines))

    def test_one_a_page_and_another_name(self) -> None:
        what = {"items": [self.item("3-1")], "width_mm": 80.0, "height_mm": 40.0, "name": "Pale yellow for the sky"}
        read = pypdf.PdfReader(io.BytesIO(self.client.post("/api/tubes/labels.pdf", json=what).content))
        self.assertAlmostEqual(float(read.pages[0].mediabox.width), 80 / 25.4 * 72, 1)
        self.assertIn("Pale yellow for the sky", read.pages[0].extract_text().replace("\n", " "))
        seen = self.ok(self.client.post("/api/tubes/labels/preview", json=what))
        self.assertEqual((seen["width_mm"], seen["height_mm"]), (what["width_mm"], what["height_mm"]))
        self.assertEqual(seen["lines"][0], what["name"])

    def test_what_does_not_fit_is_named(self) -> None:
        one = [self.item("3-1")]
        for field, what in (
            ("items", {"items": []}),
            ("columns", {"items": one, "columns": 0}),
            ("columns", {"items": one, "columns": 9}),
            ("rows", {"items": one, "rows": 39}),
            ("paper", {"items": one, "paper": "napkin"}),
            ("start_at", {"items": one, "columns": 2, "rows": 2, "start_at": 5}),
            ("start_at", {"items": one, "start_at": 0}),
            ("margin_x_mm", {"items": one, "margin_x_mm": -1.0}),
            ("height_mm", {"items": one, "width_mm": 60.0, "height_mm": 5.0}),
        ):
            for path in ("labels.pdf", "labels/preview", "labels/stream"):
                with self.subTest(field, path=path, what=what):
                    self.refused(self.post(f"/api/tubes/{path}", **what), field)
        self.refused(self.post("/api/tubes/labels.pdf", items=[99_999]), "path", 404)


class OnTheNetwork(Demo):
    host = "studio.example"

    def test_labels_carry_the_address_that_phones_reach(self) -> None:
        what = {"items": [self.item("3-1")], "width_mm": 80.0, "height_mm": 40.0}
        preview = self.ok(self.client.post("/api/tubes/labels/preview", json=what))
        code = zxingcpp.read_barcodes(Image.open(io.BytesIO(base64.b64decode(preview["png"]))))[0]
        here = self.base.replace("127.0.0.1", "studio.example")
        self.assertEqual(code.text, f"{here}/batches/3")
        seen = self.client.get("/api/health", headers={"host": here.removeprefix("http://")})
        self.assertEqual(seen.status_code, 200)
        self.assertEqual(self.client.get("/api/health", headers={"host": "other.example"}).status_code, 400)


class Shelf(Demo):
    def act(self, item: int, kind: str, **what: Any) -> httpx.Response:  # type: ignore[override]
        body = {"id": str(uuid4()), "kind": kind, "made_at": now_iso(), **what}
        return self.client.post(f"/api/shelf/{item}/acts", json=body)

    def look(self, item: int, **what: Any) -> httpx.Response:
        seen = {"layer_mm": 0, "fill_height_mm": 80, **what}
        body = {"id": str(uuid4()), "made_on": TODAY.isoformat(), **seen}
        return self.client.post(f"/api/shelf/{item}/inspections", json=body)

    def test_orders_filters_and_parts(self) -> None:
        whole = self.get("/api/shelf")
        self.assertEqual(whole["total"], len(whole["items"]))
        filled = [one["filled_on"] for one in whole["items"]]
        self.assertEqual(filled, sorted(filled))
        self.assertEqual([one["filled_on"] for one in self.get("/api/shelf", sort="newest")["items"]], filled[::-1])
        for sort in ("name", "place"):
            keys = [one[sort] for one in self.get("/api/shelf", sort=sort)["items"]]
            self.assertEqual(len(set(keys)), sum(a != b for a, b in zip(keys, [None, *keys], strict=False)), sort)
        due = [one["next_inspection_on"] for one in self.get("/api/shelf", sort="due")["items"]]
        self.assertEqual(due, sorted(due))
        colours = [one["masstone_srgb"] for one in self.get("/api/shelf", sort="colour")["items"]]
        # Every colour stands together, greys first.
        self.assertEqual(len(set(colours)), sum(a != b for a, b in zip(colours, [None, *colours], strict=False)))
        self.assertLess(colours.index("#1f1d1c"), colours.index("#24308a"))
        parts = [self.get("/api/shelf", offset=n, limit=20)["items"] for n in (0, 20, 40)]
        self.assertEqual([one["id"] for part in parts for one in part], [one["id"] for one in whole["items"]][:60])
        drawer = self.get("/api/shelf", place="Drawer 1")
        self.assertEqual({one["place"] for one in drawer["items"]}, {"Drawer 1"})
        self.assertIn("Locked box", whole["places"])
        self.assertEqual(whole["places"], sorted(whole["places"]))
        jars = self.get("/api/shelf", kind="jar")
        self.assertEqual({one["kind"] for one in jars["items"]}, {"jar"})
        self.assertEqual(self.get("/api/shelf", batch=3)["total"], 3)
        self.assertEqual(self.get("/api/shelf", words="LEAD yellow")["total"], 3)
        self.assertEqual(self.get("/api/shelf", words="100%")["total"], 0)
        self.assertGreater(self.get("/api/shelf", gone=True)["total"], whole["total"])
        self.assertTrue(all(one["due"] for one in self.get("/api/shelf", only_due=True)["items"]))
        self.assertEqual(self.get("/api/shelf", only_due=True)["total"], whole["due"])
        for query in ({"sort": "mood"}, {"limit": 0}, {"limit": 9_999}, {"kind": "bucket"}, {"offset": -1}):
            self.refused(self.client.get("/api/shelf", params=query), next(iter(query)))  # type: ignore[arg-type]

    def test_a_life_on_the_shelf(self) -> None:
        item = self.item("27-1")
        path = f"/api/shelf/{item}"
        self.assertIsNone(self.get(path)["inspected"])
        seen = self.ok(self.look(item, layer_mm=3.0))
        self.assertEqual(seen["line"]["last_outcome"], "stir_back")
        self.assertIn("27-1", [one["code"] for one in self.get("/api/shelf", at_risk=True)["items"]])
        self.ok(self.act(item, "stir_back"))
        self.ok(self.act(item, "move", place="Window"))
        self.refused(self.act(item, "move", place=" "), "place")
        self.refused(self.act(item, "note"), "text")
        self.refused(self.act(item, "leave"), "how")
        self.refused(self.act(item, "leave", how="reground"), "how")
        self.refused(self.act(item, "leave", how="discarded"), "text")
        self.refused(self.act(item, "back"), "kind")
        self.ok(self.act(item, "leave", how="sold", text="the ferry school"))
        self.assertNotIn(item, [one["id"] for one in self.get("/api/shelf")["items"]])
        self.refused(self.look(item), "id")
        self.refused(self.act(item, "move", place="Drawer 1"), "kind")
        back = self.ok(self.act(item, "back"))
        self.assertEqual((back["line"]["status"], back["line"]["place"]), ("kept", "Window"))
        kinds = [event["kind"] for event in back["events"]]
        self.assertEqual(kinds, ["put", "inspected", "stir_back", "move", "leave", "back"])

    def test_an_act_sent_twice_counts_once_and_changed_is_a_conflict(self) -> None:
        item = self.item("25-1")
        body = {"id": str(uuid4()), "kind": "note", "made_at": now_iso(), "text": "cap cracked"}
        path = f"/api/shelf/{item}/acts"
        first = self.ok(self.client.post(path, json=body))
        self.assertEqual(self.ok(self.client.post(path, json=body))["events"], first["events"])
        look = {"id": str(uuid4()), "made_on": TODAY.isoformat(), "layer_mm": 1, "fill_height_mm": 80}
        seen = self.ok(self.client.post(f"/api/shelf/{item}/inspections", json=look))
        self.assertEqual(self.ok(self.client.post(f"/api/shelf/{item}/inspections", json=look)), seen)
        self.refused(self.client.post(f"/api/shelf/{item}/inspections", json=look | {"layer_mm": 9}), "id", 409)

    def test_ground_again_once(self) -> None:
        item, body = self.item("4-1"), {"request_id": str(uuid4())}
        made = self.ok(self.client.post(f"/api/shelf/{item}/regrind", json=body))
        self.assertEqual(self.ok(self.client.post(f"/api/shelf/{item}/regrind", json=body)), made)
        slab = self.get(f"/api/slab/{made['number']}")
        self.assertEqual(slab["status"], "open")
        self.assertEqual(self.get(f"/api/shelf/{item}")["line"]["status"], "reground")
        self.refused(self.client.post(f"/api/shelf/{item}/regrind", json={"request_id": str(uuid4())}), "id")

    def test_a_found_jar_is_matched_and_settled(self) -> None:
        body = {"id": str(uuid4()), "srgb": "#1f2f8f", "volume_ml": 50.0, "gross_g": 180.0, "tare_g": 97.0}
        for field, what in (
            ("srgb", {"srgb": "blue"}),
            ("tare_g", {"tare_g": None}),
            ("gross_g", {"gross_g": 90.0}),
            ("gross_g", {"gross_g": 9_000.0}),
            ("volume_ml", {"volume_ml": 0.0}),
        ):
            with self.subTest(field, what=what):
                self.refused(self.client.post("/api/shelf/found", json=body | {"id": str(uuid4())} | what), field)
        found = self.ok(self.client.post("/api/shelf/found", json=body))
        self.assertTrue(found["line"]["unknown_hazard"])
        self.assertAlmostEqual(sum(one["likely"] for one in found["likely"]), 1.0)
        self.assertEqual(found["likely"][0]["number"], 1)
        item = found["line"]["id"]
        self.refused(self.client.post(f"/api/shelf/{item}/regrind", json={"request_id": str(uuid4())}), "id")
        self.refused(self.client.post(f"/api/shelf/{item}/settle", json={"batch_number": 9_999}), "path", 404)
        settled = self.ok(self.client.post(f"/api/shelf/{item}/settle", json={"batch_number": 1}))
        self.assertEqual((settled["line"]["name"], settled["line"]["unknown_hazard"]), ("Ultramarine blue", False))
        self.refused(self.client.post(f"/api/shelf/{item}/settle", json={"batch_number": 2}), "batch_number")

    def test_codes_and_the_list_on_paper(self) -> None:
        self.assertEqual(self.item("3-1"), self.item("3"))
        self.refused(self.client.get("/api/shelf/code/none-1"), "path", 404)
        self.refused(self.client.get("/api/shelf/99999"), "path", 404)
        for paper, wide in (("a4", 595), ("letter", 612)):
            pdf = self.client.get("/api/shelf/list.pdf", params={"paper": paper, "sort": "place"})
            read = pypdf.PdfReader(io.BytesIO(pdf.content))
            self.assertEqual(round(float(read.pages[0].mediabox.width)), wide)
            text = "\n".join(page.extract_text() for page in read.pages)
            for code in ("3-1", "F-1", "Locked box"):
                self.assertIn(code, text)
        self.refused(self.client.get("/api/shelf/list.pdf", params={"paper": "napkin"}), "paper")
        part = self.client.get("/api/shelf/list.pdf", params={"place": "Locked box", "words": "cobalt blue"})
        text = pypdf.PdfReader(io.BytesIO(part.content)).pages[0].extract_text()
        self.assertIn("asked for: cobalt blue, Locked box", text)
        self.assertIn("5-1", text)
        self.assertNotIn("3-1", text)

    def test_a_batch_sheet(self) -> None:
        pdf = self.client.get("/api/batches/24/sheet.pdf")
        text = "\n".join(page.extract_text() for page in pypdf.PdfReader(io.BytesIO(pdf.content)).pages)
        for part in ("Bone black", "Linseed oil"):
            self.assertIn(part, text)
        self.refused(self.client.get("/api/batches/9999/sheet.pdf"), "path", 404)


class Cost(Demo):
    def test_money_goes_as_text_and_odd_prices_are_named(self) -> None:
        told = self.ok(self.post("/api/tubes/cost", batch_number=24, hours="2", wage_per_hour="18.00"))
        self.assertIsInstance(told["cost"]["total"], str)
        self.assertEqual(told["cost"]["lines"][-1]["cost"], "36.00")
        self.assertEqual(told["currency"], "EUR")
        for field, what in (
            ("wage_per_hour", {"wage_per_hour": "-1"}),
            ("hours", {"hours": "much"}),
            ("times", {"times": 0.0}),
            ("times", {"times": 1e9}),
            ("bought_per_tube", {"bought_per_tube": "1e30"}),
        ):
            with self.subTest(field, what=what):
                self.refused(self.post("/api/tubes/cost", batch_number=24, **what), field)
        self.refused(self.post("/api/tubes/cost"), "batch_number")
        self.refused(self.post("/api/tubes/cost", batch_number=9_999), "path", 404)
