"""The chart: its squares and their order, its sheet of paper, and a photographed sheet in numbers."""

import unittest

import numpy as np
from hypothesis import given
from hypothesis import strategies as st

from niddy.core.colorimetry import lab_of_srgb
from niddy.core.errors import Refused
from niddy.core.mixing.chart import MOST_PAINTS, WHITE, Layout, Lower, placed, squares, thin_films
from niddy.core.mixing.judged import MOVED_OFF, SAME_OFF, STEP, Looks, judged
from niddy.core.mixing.photographed import Patches, from_sheet, linear_of
from niddy.core.mixing.sheet import PAPERS_MM, Box, Sheet, mark_text, sheet


class Squares(unittest.TestCase):
    def test_pairs_above_the_line_paints_on_it_and_what_was_chosen_below(self) -> None:
        layout = Layout(3, 2.0, 1.0, Lower.WITH_WHITE, 1.5, (4.0,))
        every = {square.code: square.parts for square in squares(layout)}
        self.assertEqual(every["A1"], ((0, 1.0),))
        self.assertEqual(every["C1"], ((0, 2.0), (2, 1.0)))
        self.assertEqual(every["A3"], ((2, 2.0), (0, 1.0), (WHITE, 4.5)))
        self.assertEqual(every["B4"], ((1, 1.0), (WHITE, 4.0)))
        self.assertEqual(list(every), ["A1", "B1", "C1", "A2", "B2", "C2", "A3", "B3", "C3", "A4", "B4", "C4"])
        other = {square.code: square.parts for square in squares(Layout(3, 2.0, 1.0, Lower.OTHER_WAY))}
        self.assertEqual(other["A3"], ((2, 2.0), (0, 1.0)))
        self.assertNotIn("A2", {square.code for square in squares(Layout(3))})

    @given(st.integers(1, MOST_PAINTS), st.sampled_from(Lower), st.integers(0, 6))
    def test_so_many_squares(self, paints: int, lower: Lower, rows: int) -> None:
        layout = Layout(paints, lower=lower, white_rows=(1.0,) * rows)
        pairs = paints * (paints - 1) // 2
        every = squares(layout)
        self.assertEqual(len(every), paints + pairs * (1 if lower is Lower.EMPTY else 2) + paints * rows)
        self.assertEqual(len({square.code for square in every}), len(every))
        self.assertEqual([(s.row, s.column) for s in every], sorted((s.row, s.column) for s in every))
        self.assertEqual(layout.wants_white, bool(rows) or lower is Lower.WITH_WHITE)

    def test_thin_films_stand_in_a_column_of_their_own_on_the_sheet(self) -> None:
        plain, layout = Layout(3, white_rows=(4.0,)), Layout(3, white_rows=(4.0,), thin=True)
        self.assertEqual((thin_films(plain), thin_films(layout)), ((), ("D1", "D2", "D3")))
        self.assertEqual(squares(plain), squares(layout), "they are no squares to predict")
        for paper, (wide, _) in PAPERS_MM.items():
            of = sheet(layout, paper)
            last = of.at(2, 3)
            self.assertLessEqual(last.x + last.w, wide - 10.0 + 1e-6)
            self.assertGreater(last.x, of.at(2, 2).x + of.side)

    def test_layouts_that_cannot_be_are_refused(self) -> None:
        for field, asked in (
            ("paints", {"paints": 0}),
            ("paints", {"paints": 25}),
            ("row_parts", {"paints": 2, "row_parts": 0.0}),
            ("white_rows", {"paints": 2, "white_rows": (1.0,) * 7}),
            ("white_rows.1", {"paints": 2, "white_rows": (1, 0)}),
        ):
            with self.subTest(field), self.assertRaises(Refused) as refused:
                Layout(**asked)  # type: ignore[arg-type]
            self.assertEqual(refused.exception.field, field)

    def test_samples_find_their_squares_by_code_or_by_order(self) -> None:
        layout = Layout(2)
        self.assertEqual([s.code for s in placed(["b2", " A1 "], layout)], ["B2", "A1"])
        self.assertEqual([s.code for s in placed(["1", "2", "3"], layout)], ["A1", "B1", "B2"])
        for codes, words in (
            (["1", "2"], "2 readings without the squares' codes, for 3 squares"),
            (["A1", "A1"], "A1 is in it twice"),
            (["A1", "Q9"], "'Q9' is not a square"),
        ):
            with self.assertRaises(Refused) as refused:
                placed(codes, layout)
            self.assertIn(words, refused.exception.problem)


def apart(one: Box, other: Box) -> bool:
    """Whether two places do not touch."""
    return (
        one.x + one.w <= other.x or other.x + other.w <= one.x or one.y + one.h <= other.y or other.y + other.h <= one.y
    )


class JudgedByEye(unittest.TestCase):
    GREY, RED = (50.0, 0.0, 0.0), (40.0, 30.0, 40.0)

    def test_each_word_moves_the_colour_its_own_way(self) -> None:
        self.assertEqual(judged(self.RED, []), (self.RED, SAME_OFF))
        (lightness, a, b), off = judged(self.GREY, [Looks.LIGHTER, Looks.BLUER])
        self.assertEqual((lightness, a, b, off), (50.0 + STEP, 0.0, -STEP, MOVED_OFF))
        self.assertEqual(judged(self.GREY, [Looks.STRONGER])[0], self.GREY, "a grey has no hue to be stronger in")
        (_, a, b), _ = judged(self.RED, [Looks.DULLER])
        self.assertAlmostEqual(a, 30.0 * 43 / 50)
        self.assertAlmostEqual(b, 40.0 * 43 / 50)
        self.assertEqual(judged((3.0, 2.0, 2.0), [Looks.DARKER, Looks.DULLER])[0], (0.0, 0.0, 0.0))

    def test_opposites_are_refused(self) -> None:
        for looks in ([Looks.LIGHTER, Looks.DARKER], [Looks.DULLER, Looks.REDDER, Looks.STRONGER]):
            with self.assertRaises(Refused) as refused:
                judged(self.RED, looks)
            self.assertEqual((refused.exception.field, refused.exception.accepted), ("looks", "one of the two"))


class OnPaper(unittest.TestCase):
    @given(st.integers(1, MOST_PAINTS), st.integers(0, 6), st.sampled_from(sorted(PAPERS_MM)))
    def test_everything_lies_on_the_sheet_and_on_nothing_else(self, paints: int, rows: int, paper: str) -> None:
        layout = Layout(paints, lower=Lower.OTHER_WAY, white_rows=(1.0,) * rows)
        of = sheet(layout, paper)
        boxes = [*of.marks, of.card, *(of.square(square) for square in squares(layout))]
        for box in boxes:
            self.assertTrue(box.x >= 8 and box.x + box.w <= of.width - 8, (box, of.width))
            self.assertTrue(box.y >= 8 and box.y + box.h <= of.height - 8, (box, of.height))
        for box in (*of.marks, of.card):
            for other in boxes:
                self.assertTrue(other is box or apart(box, other), (box, other))
        self.assertGreaterEqual(of.side, 5.3, "a square that a reader still finds room on")

    def test_marks_say_the_chart_the_paper_and_the_corner(self) -> None:
        self.assertEqual(mark_text(12, "a4", 0), "NIDDY CHART 12 A4 1")


LAYOUT = Layout(4, lower=Lower.OTHER_WAY)
OF: Sheet = sheet(LAYOUT, "a4")
COLOURS = ["#7b3f22", "#1d545c", "#d8a020", "#30307a"] * 4


def patches(boxes: list[Box], linear: np.ndarray, sd: float = 1.0) -> Patches:
    """Patches of a picture whose light falls off to the right and is warm."""
    at = np.array([box.centre for box in boxes])
    light = (0.95 - 0.002 * at[:, :1]) * np.array([1.0, 0.9, 0.75])
    seen = np.clip(linear * light, 0, 1)
    codes = 255 * np.where(seen > 0.0031308, 1.055 * np.maximum(seen, 1e-9) ** (1 / 2.4) - 0.055, 12.92 * seen)
    return Patches(at, codes, np.full(codes.shape, sd))


def taken(
    card: float | np.ndarray = 0.18, paper: float = 0.82, bright: float = 1.0
) -> tuple[Patches, Patches, Patches]:
    gaps = [OF.at(row, column) for row in range(5) for column in range(5)]
    painted = linear_of(np.array([[int(c[n : n + 2], 16) for n in (1, 3, 5)] for c in COLOURS], float))
    squares_at = [OF.square(square) for square in squares(LAYOUT)]
    return (
        patches([OF.card], bright * np.full((1, 3), card)),
        patches(gaps, bright * np.full((25, 3), paper)),
        patches(squares_at, bright * painted),
    )


class Photographed(unittest.TestCase):
    def test_uneven_and_warm_light_is_taken_out(self) -> None:
        for square, colour in zip(from_sheet(*taken()), COLOURS, strict=True):
            wanted = lab_of_srgb(colour)
            for found, at in zip(
                (square.lab.L, square.lab.a, square.lab.b), (wanted.L, wanted.a, wanted.b), strict=True
            ):
                self.assertAlmostEqual(found, at, delta=0.6)
            self.assertGreater(square.off, 4)
            self.assertFalse(square.empty)

    def test_a_square_that_looks_like_paper_is_unpainted(self) -> None:
        card, paper, painted = taken()
        as_paper = patches([OF.at(0, 0)], np.full((1, 3), 0.82))
        painted.rgb[2] = as_paper.rgb[0]
        self.assertEqual([n for n, square in enumerate(from_sheet(card, paper, painted)) if square.empty], [2])

    def test_pictures_that_say_nothing_are_named(self) -> None:
        red = np.array([[0.4, 0.05, 0.05]])
        for field, words, asked in (
            ("card", "no grey card lies on its place", taken(card=0.82)),
            ("card", "clipped", taken(card=1.6)),
            ("card", "too dark", taken(bright=0.01)),
            ("card", "coloured", taken(card=red)),
            ("picture", "most squares are clipped", taken(card=0.02, bright=30.0)),
        ):
            with self.subTest(words), self.assertRaises(Refused) as refused:
                from_sheet(*asked)
            self.assertEqual(refused.exception.field, field)
            self.assertIn(words, refused.exception.problem)

    def test_paper_that_is_burnt_out_says_nothing_of_the_light(self) -> None:
        found = from_sheet(*taken(paper=1.5))
        self.assertAlmostEqual(found[0].lab.L, lab_of_srgb(COLOURS[0]).L, delta=6)

    def test_a_restless_patch_is_less_sure(self) -> None:
        card, paper, painted = taken()
        painted.sd[3] = 30.0
        found = from_sheet(card, paper, painted)
        self.assertGreater(found[3].off, found[4].off + 1)
