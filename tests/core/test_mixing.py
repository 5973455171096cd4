"""Mixing in numbers: the worked figures, the way there and back, and every reading that cannot be."""

import unittest
from itertools import combinations

import numpy as np
from hypothesis import given
from hypothesis import strategies as st
from scipy.optimize import minimize

from niddy.core import colorimetry, mixing
from niddy.core.colour import hex_to_linear
from niddy.core.errors import Refused
from niddy.core.mixing import Paint
from niddy.core.mixing.finding import find
from niddy.core.mixing.seeing import difference, of_rgb, of_spectra
from niddy.core.mixing.spectra import smoothest
from niddy.reference import observer

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


class OneReadingOnly(unittest.TestCase):
    def test_alone_it_looks_as_read_and_a_stronger_class_pulls_harder(self) -> None:
        white = mixing.white_of(W)
        tints = []
        for tinting in ("low", "medium", "high"):
            paint = mixing.assumed(M, tinting)
            for found, wanted in zip(mixing.mixed([(1, paint)]), M, strict=True):
                self.assertAlmostEqual(found, wanted, 9)
            tints.append(mixing.mixed([(1, paint), (10, white)])[0])
        self.assertEqual(tints, sorted(tints, reverse=True))
        for field, asked in (("tinting", (M, "fierce")), ("masstone", ((), "low")), ("masstone.0", ((0.0,), "low"))):
            with self.assertRaises(Refused) as refused:
                mixing.assumed(*asked)
            self.assertEqual(refused.exception.field, field)


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

    def test_a_channel_that_contradicts_itself_by_no_more_than_readings_err_is_let_pass(self) -> None:
        asked = ((0.05, 0.08, 0.898), (0.45, 0.52, 0.901), W, C)
        self.assertRaises(Refused, mixing.calibrated, *asked)
        paint = mixing.calibrated(*asked, scatter=0.006)
        strict = mixing.calibrated((0.05, 0.08, 0.35), (0.45, 0.52, 0.75), W, C)
        self.assertEqual(paint.k[:2], strict.k[:2])
        self.assertTrue(0 < paint.s[2] < 20)
        with self.assertRaises(Refused) as refused:
            mixing.calibrated((0.05, 0.08, 0.35), (0.45, 0.94, 0.75), W, C, scatter=0.006)
        self.assertEqual(refused.exception.field, "tint.1")

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


def shelf(seed: int, count: int, channels: int = 3) -> list[Paint]:
    """A made-up shelf: a white, and paints of any colour."""
    luck = np.random.default_rng(seed)
    return [mixing.white_of((0.93,) * channels)] + [
        Paint(tuple(10 ** luck.uniform(-2, 1, channels)), tuple(luck.uniform(0.1, 0.9, channels))) for _ in range(count)
    ]


class Seeing(unittest.TestCase):
    def test_many_differences_at_once_are_those_of_the_package(self) -> None:
        luck = np.random.default_rng(3)
        one, other = (luck.uniform((0, -80, -80), (100, 80, 80), (400, 3)) for _ in range(2))
        one[0] = other[1] = (50, 0, 0)
        many = difference(one, other)
        for n in range(len(one)):
            single = colorimetry.difference(colorimetry.Lab(*one[n]), colorimetry.Lab(*other[n]))
            self.assertAlmostEqual(float(many[n]), single, 9)

    def test_channels_look_as_their_colours_do(self) -> None:
        for colour in ("#7b3f22", "#ffffff", "#101010", "#1d545c"):
            linear = np.array(hex_to_linear(colour))
            wanted = colorimetry.lab_of_srgb(colour)
            for found, at in zip(of_rgb().lab(linear), (wanted.L, wanted.a, wanted.b), strict=True):
                self.assertAlmostEqual(float(found), at, 3)

    def test_spectra_look_as_readings_do(self) -> None:
        band = np.linspace(0.05, 0.7, len(colorimetry.BANDS_NM))
        wanted = colorimetry.lab_of_spectrum(tuple(band), observer())
        for found, at in zip(of_spectra(observer()).lab(band), (wanted.L, wanted.a, wanted.b), strict=True):
            self.assertAlmostEqual(float(found), at, 6)


class Smoothest(unittest.TestCase):
    def test_it_looks_as_it_should_and_is_a_reflectance(self) -> None:
        eye = of_spectra(observer())
        for lab in ((50, 0, 0), (98, 0, 0), (4, 1, -1), (40, 55, 40), (80, 5, 90), (35, 15, -60), (60, -50, 20)):
            with self.subTest(lab):
                found = smoothest(colorimetry.Lab(*lab), eye)
                self.assertTrue(all(0 < r < 1 for r in found))
                for at, wanted in zip(eye.lab(np.array(found)), lab, strict=True):
                    self.assertAlmostEqual(float(at), wanted, 4)
        grey = smoothest(colorimetry.Lab(50, 0, 0), eye)
        self.assertLess(max(grey) - min(grey), 1e-6)

    def test_a_colour_no_surface_has_is_refused(self) -> None:
        with self.assertRaises(Refused) as refused:
            smoothest(colorimetry.Lab(90, 120, -120), of_spectra(observer()), "tint")
        self.assertEqual(refused.exception.field, "tint")


class Finding(unittest.TestCase):
    def test_a_mixture_that_was_made_is_found_again(self) -> None:
        for surface in (False, True):
            paints = shelf(5, 6)
            made = mixing.mixed([(0.5, paints[0]), (0.3, paints[2]), (0.2, paints[5])], surface=surface)
            found = find(of_rgb().lab(np.array(made)), paints, of_rgb(), always=0, surface=surface)
            self.assertLess(found[0].de00, 0.5)
            self.assertEqual(len({frozenset(n for n, _ in one.parts) for one in found}), len(found))
            for one in found:
                self.assertAlmostEqual(sum(share for _, share in one.parts), 1)
                self.assertLessEqual(len(one.parts), 4)
                again = mixing.mixed([(share, paints[n]) for n, share in one.parts], surface=surface)
                seen = difference(of_rgb().lab(np.array(again)), of_rgb().lab(np.array(made)))
                self.assertAlmostEqual(float(seen), one.de00, 1)

    def test_on_small_shelves_it_is_as_near_as_a_search_of_every_choice(self) -> None:
        for seed in (1, 2, 3):
            paints = shelf(seed, 3)
            luck = np.random.default_rng(seed)
            wanted = luck.uniform((30, -30, -30), (80, 30, 30))
            nearest = min(found.de00 for found in find(wanted, paints, of_rgb(), always=0))
            self.assertLess(nearest, self.nearest_of_all(wanted, paints, luck) + 0.02)

    def nearest_of_all(self, wanted: np.ndarray, paints: list[Paint], luck: np.random.Generator) -> float:
        best = float("inf")
        for some in combinations(range(1, len(paints)), 3):
            mine = [paints[n] for n in (*some, 0)]

            def far(logs: np.ndarray, mine: list[Paint] = mine) -> float:
                shares = np.exp(logs - logs.max())
                seen = mixing.mixed([(float(share), paint) for share, paint in zip(shares, mine, strict=True)])
                return float(difference(of_rgb().lab(np.array(seen)), wanted))

            for _ in range(4):
                best = min(best, minimize(far, 2 * luck.normal(size=4), method="Nelder-Mead").fun)
        return best

    def test_what_cannot_be_chosen_from_is_refused(self) -> None:
        for field, paints, most in (("paints", [], 3), ("most", shelf(1, 2), 0), ("most", shelf(1, 2), 4)):
            with self.assertRaises(Refused) as refused:
                find((50, 0, 0), paints, of_rgb(), most=most)
            self.assertEqual(refused.exception.field, field)

    def test_one_paint_alone_is_offered_where_nothing_else_is_there(self) -> None:
        paints = shelf(7, 1)
        seen = of_rgb().lab(np.array(mixing.mixed([(1, paints[1])])))
        found = find(seen, paints[1:], of_rgb())
        self.assertEqual([one.parts for one in found], [((0, 1.0),)])
        self.assertLess(found[0].de00, 1e-6)
