"""The Colour room over HTTP: sheets printed and read back from a picture or a file, and every odd body named."""

import io
from typing import Any
from uuid import uuid4

import pypdfium2
from PIL import Image

from niddy.core.colorimetry import Lab, difference, lab_of_srgb
from niddy.core.mixing.chart import Layout, Lower
from niddy.exchange import colour_reading
from niddy.exchange.colour_reading import Reading
from tests.painted import photograph
from tests.support import ServerTest, now_iso

JPEG, TEXT = {"content-type": "image/jpeg"}, {"content-type": "text/plain"}
LAYOUT = Layout(5, 3.0, 1.0, Lower.OTHER_WAY, 1.0, (4.0,))
"""The demo's second chart, painted by nobody yet."""


class Mixing(ServerTest):
    with_demo = True

    def act(self, number: int, kind: str, **what: Any) -> Any:
        body = {"id": str(uuid4()), "made_at": now_iso(), "kind": kind, **what}
        return self.client.post(f"/api/mixing/charts/{number}/acts", json=body)

    def sheet(self, paper: str = "a4") -> bytes:
        return self.client.get("/api/mixing/charts/2/sheet.pdf", params={"paper": paper}).content

    def predicted(self) -> dict[str, str]:
        return {cell["code"]: cell["srgb"] for cell in self.ok(self.client.get("/api/mixing/charts/2"))["cells"]}

    def taken(self, picture: bytes, **query: Any) -> Any:
        return self.client.post("/api/mixing/charts/2/photograph", params=query, content=picture, headers=JPEG)


class Sheets(Mixing):
    def test_a_sheet_is_two_pages_and_says_which_paint_is_which(self) -> None:
        for paper in ("a4", "letter"):
            answer = self.client.get("/api/mixing/charts/2/sheet.pdf", params={"paper": paper})
            self.assertEqual(answer.headers["content-type"], "application/pdf")
            document = pypdfium2.PdfDocument(answer.content)
            self.assertEqual(len(document), 2)
            words = document[1].get_textpage().get_text_range()
            for said in (
                "Lead-tin yellow, batch 3",
                "3 of the row's paint to 1 of the column's",
                "4 of white",
                "White (W): Titanium white, bought tube",
            ):
                self.assertIn(said, words)
            self.assertIn("grey card here", document[0].get_textpage().get_text_range())
            self.assertNotIn("Density assumed", words)
        self.refused(self.client.get("/api/mixing/charts/2/sheet.pdf", params={"paper": "a3"}), "paper")

    def test_a_sheet_by_volume_says_whose_density_is_assumed(self) -> None:
        here = self.ok(self.client.get("/api/mixing"))["here"]
        paints = [one["first"]["id"] for one in here if one["first"]["batch_number"] in (3, 5)]
        asked = {"id": str(uuid4()), "paint_ids": paints, "white_rows": [4.0], "by": "volume"}
        number = self.ok(self.client.post("/api/mixing/charts", json=asked))["number"]
        document = pypdfium2.PdfDocument(self.client.get(f"/api/mixing/charts/{number}/sheet.pdf").content)
        words = document[1].get_textpage().get_text_range()
        self.assertIn("Density assumed: Titanium white, bought tube.", words)

    def test_a_photographed_sheet_is_read_square_by_square(self) -> None:
        for paper in ("a4", "letter"):
            colours = self.predicted()
            del colours["C2"]
            found = self.ok(self.taken(photograph(self.sheet(paper), LAYOUT, colours, paper=paper)))
            self.assertEqual((found["seen"], found["paper"]), ([0, 1, 2, 3], paper))
            self.assertEqual([one["code"] for one in found["squares"] if one["empty"]], ["C2"])
            for one in found["squares"]:
                if one["code"] in colours:
                    off = difference(Lab(**one["lab"]), lab_of_srgb(colours[one["code"]]))
                    self.assertLess(off, 2.5, one["code"])
                    self.assertGreaterEqual(one["off"], 4)
                    self.assertTrue(0 < one["x"] < 1 and 0 < one["y"] < 1)

    def test_a_picture_is_as_large_as_phones_take_it(self) -> None:
        out = io.BytesIO()
        picture = photograph(self.sheet(), LAYOUT, self.predicted(), px_per_mm=6)
        Image.open(io.BytesIO(picture)).save(out, "PNG", compress_level=1)
        self.assertGreater(len(out.getvalue()), 1_200_000)
        png = {"content-type": "image/png"}
        answer = self.client.post("/api/mixing/charts/2/photograph", content=out.getvalue(), headers=png)
        self.assertEqual(len(self.ok(answer)["squares"]), 30)

    def test_covered_corners_are_done_without_or_set_by_hand(self) -> None:
        colours = self.predicted()
        part = photograph(self.sheet(), LAYOUT, colours, covered=(2,))
        found = self.ok(self.taken(part))
        self.assertEqual(found["seen"], [0, 1, 3])
        whole = self.ok(self.taken(photograph(self.sheet(), LAYOUT, colours)))
        for one, other in zip(found["corners"], whole["corners"], strict=True):
            self.assertAlmostEqual(one["x"], other["x"], delta=0.006)
            self.assertAlmostEqual(one["y"], other["y"], delta=0.006)
        bare = photograph(self.sheet(), LAYOUT, colours, covered=(0, 1, 2, 3))
        self.assertIn("no corner code is seen", self.refused(self.taken(bare), "corners")["problem"])
        two_left = photograph(self.sheet(), LAYOUT, colours, covered=(0, 2))
        self.assertIn("only 2 of its 4", self.refused(self.taken(two_left), "corners")["problem"])
        by_hand = ";".join(f"{at['x']:.4f},{at['y']:.4f}" for at in whole["corners"])
        set_by_hand = self.ok(self.taken(bare, corners=by_hand))
        self.assertEqual(set_by_hand["seen"], [])
        for one, other in zip(set_by_hand["squares"], whole["squares"], strict=True):
            self.assertLess(difference(Lab(**one["lab"]), Lab(**other["lab"])), 1.5, one["code"])

    def test_pictures_that_cannot_be_read_are_named(self) -> None:
        colours = self.predicted()
        whole = photograph(self.sheet(), LAYOUT, colours)
        for field, words, answer in (
            ("card", "no grey card lies on", self.taken(photograph(self.sheet(), LAYOUT, colours, card=None))),
            ("card", "clipped", self.taken(photograph(self.sheet(), LAYOUT, colours, card="#ffffff", exposure=2.5))),
            ("card", "coloured", self.taken(photograph(self.sheet(), LAYOUT, colours, card="#c02020"))),
            ("picture", "not a picture", self.taken(b"not a picture")),
            ("corners", "not four places", self.taken(whole, corners="0.1,0.1")),
            ("corners", "outside the picture", self.taken(whole, corners="0.1,0.1;1.9,0.1;0.9,0.9;0.1,0.9")),
            ("corners", "lie on a line", self.taken(whole, corners="0.1,0.1;0.2,0.2;0.3,0.3;0.4,0.4")),
            ("card_reflectance", "outside", self.taken(whole, card_reflectance=2)),
        ):
            with self.subTest(words):
                self.assertIn(words, self.refused(answer, field)["problem"])
        other = self.client.get("/api/mixing/charts/1/sheet.pdf").content
        foreign = photograph(other, Layout(6, lower=Lower.WITH_WHITE, white_rows=(1.0, 4.0, 10.0)), {})
        self.assertIn("the sheet of chart 1", self.refused(self.taken(foreign), "picture")["problem"])
        self.refused(self.client.post("/api/mixing/charts/2/photograph", content=whole), "content-type", 415)
        self.assertEqual(
            self.client.post("/api/mixing/charts/99/photograph", content=whole, headers=JPEG).status_code, 404
        )


class Files(Mixing):
    def file(self, text: str, **query: Any) -> Any:
        return self.client.post("/api/mixing/charts/2/file", params=query, content=text.encode(), headers=TEXT)

    def test_squares_go_out_and_come_in_by_their_codes(self) -> None:
        out = self.client.get("/api/mixing/charts/1/squares.txt")
        self.assertTrue(out.text.startswith("CGATS.17"))
        samples = colour_reading.read(out.content)
        self.assertEqual((len(samples), samples[0].name), (54, "A1"))
        again = [Reading(one.name, None, one.lab) for one in samples if one.name in ("A1", "B2", "E5")]
        found = self.ok(self.file(colour_reading.write(again, 'half a "chart"')))
        self.assertEqual([one["code"] for one in found["squares"]], ["A1", "B2", "E5"])
        self.assertAlmostEqual(found["squares"][1]["lab"]["L"], again[1].lab.L, 3)  # type: ignore[union-attr]

    def test_spectra_go_out_and_come_in_again(self) -> None:
        spectra = colour_reading.read(self.client.get("/api/mixing/readings.txt").content)
        self.assertTrue(all(one.spectrum is not None for one in spectra))
        names = {one.name for one in spectra}
        self.assertTrue(
            {"Cobalt blue, masstone", "Cobalt blue, tint", "Titanium white, bought tube, masstone"} <= names
        )
        every = colour_reading.read(self.client.get("/api/mixing/readings.txt", params={"spectra": False}).content)
        self.assertGreater(len(every), len(spectra))
        kept = self.ok(self.client.get("/api/mixing/paints/1"))
        self.assertEqual(kept["curves"]["nm"][0], 400)
        chart = [Reading(code, one.spectrum, one.lab) for code, one in zip(("A1", "B1"), spectra, strict=False)]
        found = self.ok(self.file(colour_reading.write(chart, "two")))["squares"]
        self.assertEqual(len(found[0]["spectrum"]), 31)
        answer = self.ok(
            self.act(
                2, "painted", how="file", squares=[{"code": one["code"], "spectrum": one["spectrum"]} for one in found]
            )
        )
        self.assertEqual(answer["accuracy"]["squares"], 2)
        self.assertEqual(answer["done"][0]["says"], "2 squares from a file")

    def test_squares_that_were_read_go_out_as_they_were_read(self) -> None:
        spectra = {code: [round(0.2 + by * n, 4) for n in range(31)] for code, by in (("A1", 0.01), ("B1", 0.02))}
        squares = [{"code": code, "spectrum": spectrum} for code, spectrum in reversed(spectra.items())]
        self.ok(self.act(2, "painted", how="file", squares=squares))
        found = colour_reading.read(self.client.get("/api/mixing/charts/2/squares.txt").content)
        self.assertEqual([(one.name, list(one.spectrum or ())) for one in found], list(spectra.items()))
        # A table has one kind of column: with one square by figures alone, all go out by figures.
        by_eye = {"code": "C1", "lab": {"L": 61.0, "a": 3.0, "b": -8.0}}
        self.ok(self.act(2, "painted", how="typed", squares=[by_eye]))
        found = colour_reading.read(self.client.get("/api/mixing/charts/2/squares.txt").content)
        self.assertEqual([(one.name, one.spectrum) for one in found], [("A1", None), ("B1", None), ("C1", None)])
        self.assertEqual(found[2].lab, Lab(61, 3, -8))

    def test_files_that_cannot_be_are_named(self) -> None:
        for field, words, text in (
            ("file", "without the squares' codes", "L,a,b\n50,0,0\n"),
            ("file", "is not a square of this chart", "name,L,a,b\nA1,50,0,0\nZ99,50,0,0\n"),
            ("file", "twice", "name,L,a,b\nA1,50,0,0\nA1,50,0,0\n"),
            ("file", "no sample", ""),
            ("file", "bands in steps of 20 nm", "name,400,420\nA1,0.5,0.5\n"),
        ):
            with self.subTest(words):
                self.assertIn(words, self.refused(self.file(text), field)["problem"])
        unscaled = "name," + ",".join(str(nm) for nm in range(400, 701, 10)) + "\nA1" + ",0.9" * 31 + "\n"
        self.refused(self.file(unscaled), "scale")
        self.assertEqual(len(self.ok(self.file(unscaled, scale="fraction"))["squares"]), 1)


class ToBe(Mixing):
    def preview(self, **what: Any) -> Any:
        return self.client.post("/api/mixing/charts/preview", json={"paints": 5, **what})

    def test_a_sheet_says_its_squares_before_it_is_made(self) -> None:
        asked = {"lower": LAYOUT.lower, "row_parts": 3.0, "white_rows": [4.0]}
        small = self.ok(self.preview(**asked))
        self.assertEqual(small["squares"], len(self.ok(self.client.get("/api/mixing/charts/2"))["cells"]))
        large = self.ok(self.preview(**asked, paints=24))
        self.assertGreater(large["squares"], small["squares"])
        self.assertLess(large["side_mm"], small["side_mm"])

    def test_what_cannot_be_a_sheet_is_named(self) -> None:
        for field, what in (
            ("paints", {"paints": 25}),
            ("row_parts", {"row_parts": 0}),
            ("white_rows.0", {"white_rows": [-1]}),
            ("by", {"by": "eye"}),
            ("lower", {"lower": "upper"}),
        ):
            with self.subTest(field):
                self.refused(self.preview(**what), field)


class Kept(Mixing):
    def chart(self) -> Any:
        return self.ok(self.client.get("/api/mixing/charts/1"))

    def test_a_chart_that_was_seen_is_seen_anew_once_anything_of_it_changes(self) -> None:
        seen = self.chart()
        self.assertEqual(self.chart(), seen)
        blue = next(paint for paint in seen["paints"] if paint["batch_number"] == 5)
        body = {"name": "Cobalt, deep", "tinting": "high", "swatch_srgb": "#1b4ca8", "retired": False}
        self.ok(self.client.put(f"/api/mixing/paints/{blue['id']}", json=body))
        self.assertIn("Cobalt, deep", [paint["name"] for paint in self.chart()["paints"]])
        page = self.ok(self.client.get(f"/api/mixing/paints/{blue['id']}"))
        tint = next(one for one in page["readings"] if one["kind"] == "tint")
        path = f"/api/mixing/paints/{blue['id']}/readings/{tint['id']}"
        before = self.chart()["cells"]
        self.ok(self.client.put(path, json={"reason": "wrong white"}))
        self.assertNotEqual(self.chart()["cells"], before)
        self.ok(self.client.put(path, json={"reason": None}))
        self.assertEqual(self.chart()["cells"], before)
        room = self.ok(self.client.get("/api/mixing"))
        self.ok(self.client.put("/api/mixing/sight", json={"white_id": room["white_id"], "shine": "with"}))
        self.assertNotEqual(self.chart()["cells"], before)
        self.ok(self.client.put("/api/mixing/sight", json={"white_id": room["white_id"], "shine": "without"}))
        items = self.ok(self.client.get("/api/shelf", params={"batch": 24}))["items"]
        for item in items:
            leave = {"id": str(uuid4()), "kind": "leave", "made_at": now_iso(), "how": "used_up"}
            self.ok(self.client.post(f"/api/shelf/{item['id']}/acts", json=leave))
        self.assertFalse(next(paint for paint in self.chart()["paints"] if paint["batch_number"] == 24)["here"])
        self.assertEqual(self.client.get("/api/mixing/charts/99").status_code, 404)

    def test_stand_in_readings_are_of_what_is_asked(self) -> None:
        read = self.ok(self.client.post("/api/mixing/charts/1/stand-in-reading", params={"square": "f6"}))
        self.assertLess(sum(read["spectrum"]) / 31, 0.1, "bone black is dark")
        self.refused(self.client.post("/api/mixing/charts/1/stand-in-reading", params={"square": "Z9"}), "square")
        tint = self.ok(self.client.post("/api/mixing/paints/29/stand-in-reading", params={"kind": "tint"}))
        alone = self.ok(self.client.post("/api/mixing/paints/29/stand-in-reading", params={"kind": "masstone"}))
        self.assertGreater(sum(tint["spectrum"]), sum(alone["spectrum"]))

    def test_a_recipe_tells_its_colour_and_a_picture_of_no_chart_is_none(self) -> None:
        colour = self.ok(self.client.get("/api/mixing/recipes/1"))
        self.assertEqual(colour["paints"][0]["batch_number"], 30)
        self.assertEqual(self.client.get("/api/mixing/recipes/99").status_code, 404)
        found = self.ok(self.client.post("/api/mixing/find", json={"colour": {"srgb": "#6c7f5a"}}))
        self.assertEqual(len(found["mixtures"]), 5)
        self.assertLess(found["mixtures"][0]["de00"], 1)
        image = io.BytesIO(photograph(self.sheet(), LAYOUT, {})).getvalue()
        self.assertEqual(
            self.client.post("/api/mixing/charts/99/photograph", content=image, headers=JPEG).status_code, 404
        )
