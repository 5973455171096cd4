"""Colours for drawing, and estimates: small rules many screens lean on."""

import math
import unittest

from hypothesis import given
from hypothesis import strategies as st

from niddy.core.colour import hex_to_linear, linear_to_hex, masstone_of, undertone_of
from niddy.core.estimate import Z90, Basis, Estimate, normal_quantile, total, weakest
from niddy.reference import library

HEXES = st.integers(0, 0xFFFFFF).map(lambda value: f"#{value:06x}")


def light(colour: str) -> float:
    r, g, b = hex_to_linear(colour)
    return 0.2126 * r + 0.7152 * g + 0.0722 * b


class Colours(unittest.TestCase):
    @given(HEXES)
    def test_out_and_back(self, colour: str) -> None:
        self.assertEqual(linear_to_hex(hex_to_linear(colour)), colour)

    def test_known_points_of_srgb(self) -> None:
        self.assertEqual(hex_to_linear("#ffffff"), (1.0, 1.0, 1.0))
        self.assertAlmostEqual(hex_to_linear("#bcbcbc")[0], 0.5029, 4)

    def test_a_pigment_alone_keeps_its_colour_nearly(self) -> None:
        for pigment in library().pigments.values():
            alone = hex_to_linear(masstone_of([(3.0, pigment.tinting, pigment.masstone_srgb)]))
            for got, wanted in zip(alone, hex_to_linear(pigment.masstone_srgb), strict=True):
                self.assertAlmostEqual(got, max(wanted, 0.004), delta=0.003, msg=pigment.key)

    def test_a_blend_lies_between_and_black_pulls_hard(self) -> None:
        black, white = ("high", "#1d1c1c"), ("low", "#f5f5f2")
        shades = [light(masstone_of([(n, *black), (10 - n, *white)])) for n in range(1, 10)]
        self.assertEqual(shades, sorted(shades, reverse=True))
        self.assertLess(shades[0], 0.2)

    def test_an_undertone_is_lighter(self) -> None:
        for pigment in library().pigments.values():
            if light(pigment.masstone_srgb) < 0.7:
                self.assertGreater(
                    light(undertone_of(pigment.masstone_srgb)), light(pigment.masstone_srgb), pigment.key
                )


class Estimates(unittest.TestCase):
    def test_the_band_is_the_central_ninety_percent(self) -> None:
        made = Estimate.lognormal(50, 0.1, Basis.LEARNED)
        self.assertAlmostEqual(math.log(made.high / made.low), 2 * Z90 * 0.1)
        self.assertAlmostEqual(normal_quantile(0.95), Z90, 6)

    def test_independent_spreads_add_in_quadrature(self) -> None:
        parts = [Estimate.plus_minus(30, 0.1, Basis.MEASURED), Estimate.plus_minus(40, 0.1, Basis.LIBRARY)]
        whole = total(parts)
        self.assertAlmostEqual(whole.median, 70)
        self.assertAlmostEqual(whole.half_width, 5)
        self.assertIs(whole.basis, Basis.LIBRARY)
        self.assertEqual(total([]).median, 0)

    def test_the_weakest_basis_wins(self) -> None:
        self.assertIs(weakest(Basis.MEASURED, Basis.LEARNED), Basis.LEARNED)
        self.assertIs(weakest(Basis.ASSUMED, Basis.LIBRARY, Basis.ENTERED), Basis.ASSUMED)
