"""The record over HTTP: found, read, continued, exported, printed; colours from files and photographs."""

import csv
import io
import json
from typing import Any

import numpy as np
import pypdf
from PIL import Image

from tests.support import ServerTest


class Demo(ServerTest):
    with_demo = True

    def get(self, path: str, **query: Any) -> Any:
        return self.ok(self.client.get(path, params=query))

    def numbers(self, **query: Any) -> list[int]:
        return [one["number"] for one in self.get("/api/batches", limit=200, **query)["batches"]]


class Search(Demo):
    def test_everything_given_must_hold(self) -> None:
        everything = self.numbers()
        self.assertEqual(len(everything), len(set(everything)))
        started = [one["started_at"] for one in self.get("/api/batches", limit=200)["batches"]]
        self.assertEqual(started, sorted(started, reverse=True))
        self.assertEqual(self.numbers(status="open"), [32])
        # Numbers follow the days.
        self.assertEqual(everything, sorted(everything, reverse=True))
        sienna = self.numbers(pigment="burnt-sienna")
        self.assertEqual(sorted(sienna), [10, 11, 12, 13, 14, 15, 17, 18, 19, 20, 21, 22, 23, 25, 27, 30])
        self.assertEqual(self.numbers(words="SIENNA"), sienna)
        self.assertEqual(self.numbers(words="17"), [17])
        soft = self.numbers(verdict="soft")
        self.assertTrue(soft and set(soft) < set(everything))
        self.assertEqual(self.numbers(verdict="soft", pigment="burnt-sienna"), [n for n in soft if n in sienna])
        lot = self.get("/api/batches/30")["view"]["pigments"][0]["source"]
        self.assertIn(30, self.numbers(lot=int(lot.removeprefix("lot-"))))
        early, late = self.numbers(until="2025-12-31"), self.numbers(since="2026-01-01")
        self.assertEqual(sorted(early + late), sorted(everything))
        self.assertEqual(self.numbers(words="nothing of the kind"), [])

    def test_parts_of_the_list(self) -> None:
        whole = self.numbers()
        parts = [
            one["number"] for n in range(0, 40, 8) for one in self.get("/api/batches", offset=n, limit=8)["batches"]
        ]
        self.assertEqual(parts, whole)
        for query in ({"limit": 0}, {"limit": 201}, {"offset": -1}, {"status": "lost"}, {"verdict": "nice"}):
            self.refused(self.client.get("/api/batches", params=query), next(iter(query)))  # type: ignore[arg-type]
        self.refused(self.client.get("/api/batches", params={"since": "1066-10-14"}), "since")


class Reading(Demo):
    def test_the_log_is_continued_backwards(self) -> None:
        page = self.get("/api/batches/24")
        whole = self.get("/api/batches/24/log", before=100_000)["entries"]
        seqs = [one["seq"] for one in whole]
        self.assertEqual(seqs, sorted(seqs))
        early = self.get("/api/batches/24/log", before=seqs[2])["entries"]
        self.assertEqual([one["seq"] for one in early], seqs[:2])
        self.assertEqual(self.get("/api/batches/24/log", before=1)["entries"], [])
        self.refused(self.client.get("/api/batches/24/log", params={"before": 0}), "before")
        self.assertEqual(page["view"]["number"], 24)

    def test_the_story_adds_up_to_the_paste(self) -> None:
        points = self.get("/api/batches/24/story")["points"]
        paste = self.get("/api/batches/24")["view"]
        self.assertAlmostEqual(points[-1]["oil_g"], paste["oil"]["in_g"])
        self.assertEqual([one["at"] for one in points], sorted(one["at"] for one in points))
        oil = [one["oil_g"] for one in points]
        self.assertEqual(oil, sorted(oil))
        self.refused(self.client.get("/api/batches/9999/story"), "path", 404)

    def test_exports_read_back(self) -> None:
        rows = list(csv.DictReader(io.StringIO(self.client.get("/api/batches/24/export.csv").text)))
        entries = self.get("/api/batches/24/log", before=100_000)["entries"]
        self.assertEqual(len(rows), len(entries))
        told = json.loads(self.client.get("/api/batches/24/export.json").text)
        self.assertIn("Bone black", json.dumps(told))
        for kind in ("csv", "json"):
            answer = self.client.get(f"/api/batches/24/export.{kind}")
            self.assertIn(f"niddy-batch-24.{kind}", answer.headers["content-disposition"])
            self.refused(self.client.get(f"/api/batches/9999/export.{kind}"), "path", 404)

    def test_the_sheet_tells_the_log_in_words(self) -> None:
        pdf = self.client.get("/api/batches/24/sheet.pdf", params={"paper": "letter"})
        read = pypdf.PdfReader(io.BytesIO(pdf.content))
        self.assertEqual(round(float(read.pages[0].mediabox.width)), 612)
        text = "\n".join(page.extract_text() for page in read.pages)
        for part in ("batch 24,", "planned", "happened", "Follow the safety data sheet"):
            self.assertIn(part, text)
        self.refused(self.client.get("/api/batches/24/sheet.pdf", params={"paper": "vellum"}), "paper")

    def test_what_is_left_is_thrown_away_once_and_with_a_reason(self) -> None:
        self.refused(self.client.post("/api/batches/28/discard", json={"why": " "}), "why")
        thrown = self.ok(self.client.post("/api/batches/28/discard", json={"why": "past its day"}))
        self.assertIn("past its day", json.dumps(thrown))
        self.refused(self.client.post("/api/batches/9999/discard", json={"why": "x"}), "path", 404)
        self.refused(self.client.post("/api/batches/32/discard", json={"why": "x"}), "number")


class Colours(Demo):
    def photograph(self, card: tuple[int, int, int], paint: tuple[int, int, int], **places: Any) -> Any:
        bits = np.zeros((200, 300, 3), dtype=np.uint8)
        bits[:, :150], bits[:, 150:] = card, paint
        out = io.BytesIO()
        Image.fromarray(bits).save(out, "PNG")
        query = {"card_x": 0.25, "card_y": 0.5, "paint_x": 0.75, "paint_y": 0.5, **places}
        return self.client.post(
            "/api/checks/photograph", params=query, content=out.getvalue(), headers={"content-type": "image/png"}
        )

    def test_a_card_takes_the_light_out_of_a_photograph(self) -> None:
        day = self.ok(self.photograph((118, 118, 118), (120, 40, 30)))
        # The same card and paint under a dimmer lamp: what is told of the paint stays nearly the same.
        dim = self.ok(self.photograph((95, 95, 95), (96, 31, 23)))
        for axis in ("L", "a", "b"):
            self.assertAlmostEqual(day["lab"][axis], dim["lab"][axis], delta=3)
        self.assertEqual(self.photograph((118, 118, 118), (120, 40, 30), paint_x=3).status_code, 422)
        odd = self.client.post(
            "/api/checks/photograph",
            params={"card_x": 0, "card_y": 0, "paint_x": 0, "paint_y": 0},
            content=b"no picture",
            headers={"content-type": "image/jpeg"},
        )
        self.assertEqual(odd.status_code, 422, odd.text)

    def test_a_reading_file(self) -> None:
        text = "SAMPLE_NAME,LAB_L,LAB_A,LAB_B\nmasstone,31.2,22.5,18.1\nundertone,58.0,30.1,31.4\n"
        read = self.ok(self.client.post("/api/checks/reading-file", content=text.encode()))
        self.assertEqual([one["name"] for one in read], ["masstone", "undertone"])
        for odd in (b"", b"\xff\xfe\x00", b"a,b\n1,2\n"):
            answer = self.client.post("/api/checks/reading-file", content=odd)
            self.assertEqual(answer.status_code, 422, answer.text)

    def test_the_stand_in_reads_colours_only(self) -> None:
        told = self.ok(self.client.post("/api/checks/30/stand-in-reading", params={"kind": "masstone"}))
        self.assertEqual(len(told["spectrum"]), 31)
        self.assertTrue(all(0 <= band <= 1 for band in told["spectrum"]))
        self.refused(self.client.post("/api/checks/30/stand-in-reading", params={"kind": "spread"}), "kind")
