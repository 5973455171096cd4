"""Mixing in numbers: the worked figures, the way there and back, and every reading that cannot be."""

import unittest

from hypothesis import given
from hypothesis import strategies as st

from niddy.core import mixing
from niddy.core.errors import Refused
from niddy.core.mixing import Paint

M, T, W, C = (0.05, 0.08, 0.35), (0.45, 0.52, 0.75), (0.93, 0.93, 0.90), 1 / 11
CHANNEL = st.floats(0.02, 50)


class Worked(unittest.TestCase):
    def test_two_constants_of_a_paint(self) -> None:
        paint = mixing.calibrated(M, T, W, C)
        for found, wanted in zip(paint.s, (0.38380, 0.43189, 0.64266), strict=True):
            self.assertAlmostEqual(found, wanted, 5)
        for found, wanted in zip(paint.k, (3.46377, 2.28472, 0.38789), strict=True):
            self.assertAlmostEqual(found, wanted, 5)

    def test_half_and_half_with_white(self) -> None:
        half = mixing.mixed([(1, mixing.calibrated(M, T, W, C)), (1, mixing.white_of(W))])
        for found, wanted in zip(half, (0.14568, 0.20021, 0.50712), strict=True):
            self.assertAlmostEqual(found, wanted, 5)

    def test_the_surface_takes_what_it_throws_back(self) -> None:
        self.assertAlmostEqual(mixing.outside(0.0), 0.04)
        self.assertAlmostEqual(mixing.outside(1.0), 1.0)
        self.assertAlmostEqual(mixing.inside(0.04), 0.0)
        # 0.04 + 0.96 x 0.4 x 0.5 / (1 - 0.3)
        self.assertAlmostEqual(mixing.outside(0.5), 0.314286, 6)


class ThereAndBack(unittest.TestCase):
    @given(st.tuples(CHANNEL, CHANNEL), st.tuples(CHANNEL, CHANNEL), st.floats(0.02, 0.6), st.booleans())
    def test_what_calibrated_paints_mix_to_calibrates_to_the_same(
        self, k: tuple[float, ...], s: tuple[float, ...], share: float, surface: bool
    ) -> None:
        white = mixing.white_of((0.94, 0.9), surface=surface)
        paint = Paint(tuple(10 * k * s for k, s in zip(k, s, strict=True)), s)
        masstone = mixing.mixed([(1, paint)], surface=surface)
        tint = mixing.mixed([(share, paint), (1 - share, white)], surface=surface)
        again = mixing.calibrated(masstone, tint, (0.94, 0.9), share, surface=surface)
        for found, wanted in zip((*again.k, *again.s), (*paint.k, *paint.s), strict=True):
            self.assertAlmostEqual(found / wanted, 1, 3)

    @given(st.floats(0.001, 1))
    def test_reflectance_and_its_ratio_are_one_thing(self, reflectance: float) -> None:
        self.assertAlmostEqual(mixing.reflectance_of(mixing.k_over_s(reflectance)), reflectance, 9)
        self.assertAlmostEqual(mixing.inside(mixing.outside(reflectance)), reflectance, 9)

    @given(st.floats(0.0, 1.0))
    def test_a_mixture_lies_between_its_paints(self, share: float) -> None:
        paint, white = mixing.calibrated(M, T, W, C), mixing.white_of(W)
        found = mixing.mixed([(share, paint), (1.001 - share, white)])
        for at, dark, light in zip(found, M, W, strict=True):
            self.assertTrue(dark - 1e-9 <= at <= light + 1e-9)


class CannotBe(unittest.TestCase):
    def test_each_reading_that_cannot_be_is_named(self) -> None:
        for field, words, asked in (
            ("tint.0", "no lighter", (T, M, W, C)),
            ("tint.1", "no darker", (M, (0.45, 0.95, 0.75), W, C)),
            ("masstone.2", "reflectance of 0", ((0.05, 0.08, 0.0), T, W, C)),
            ("white.1", "reflectance of 1.2", (M, T, (0.93, 1.2, 0.9), C)),
            ("white", "no reading", (M, T, (), C)),
            ("tint", "2 bands against 3", (M, T[:2], W, C)),
            ("tint_share", "0", (M, T, W, 0.0)),
            ("tint_share", "1", (M, T, W, 1.0)),
        ):
            with self.subTest(field, words=words), self.assertRaises(Refused) as refused:
                mixing.calibrated(*asked)
            self.assertEqual(refused.exception.field, field)
            self.assertIn(words, refused.exception.problem)
        with self.assertRaises(Refused) as refused:
            mixing.calibrated((0.03, 0.08, 0.35), T, W, C, surface=True)
        self.assertIn("surface", refused.exception.problem)

    def test_mixtures_that_cannot_be(self) -> None:
        one = Paint((1.0, 2.0), (1.0, 1.0))
        for field, parts in (
            ("parts", []),
            ("parts", [(0.0, one)]),
            ("parts.0.share", [(-1.0, one)]),
            ("parts.1.k", [(1.0, one), (1.0, Paint((1.0,), (1.0,)))]),
        ):
            with self.subTest(field), self.assertRaises(Refused) as refused:
                mixing.mixed(parts)
            self.assertEqual(refused.exception.field, field)
        for k, s, field in (((1.0,), (0.0,), "s.0"), ((-1.0,), (1.0,), "k.0"), ((1.0,), (1.0, 1.0), "k")):
            with self.subTest(field), self.assertRaises(Refused) as refused:
                Paint(k, s)
            self.assertEqual(refused.exception.field, field)
