"""Section 11: doses on their own basis, from dry and from gels."""

import unittest

from hypothesis import given
from hypothesis import strategies as st

from niddy.core.additives import DoseBasis, dose
from niddy.core.errors import Refused

GRAMS = st.floats(1, 500)


class WorkedFigures(unittest.TestCase):
    def test_stearate_from_a_ten_per_cent_gel(self) -> None:
        told = dose(1.5, DoseBasis.OIL, 112, 74.4, 0.10)
        for got, wanted in (
            (told.additive_g, 1.116), (told.gel_g, 11.16), (told.oil_in_gel_g, 10.044), (told.oil_to_pour_g, 64.356),
        ):  # fmt: skip
            self.assertAlmostEqual(got or 0, wanted, 9)

    def test_two_per_cent_of_the_total(self) -> None:
        told = dose(2, DoseBasis.TOTAL, 100, 40)
        self.assertAlmostEqual(told.additive_g, 2.8571, 4)
        self.assertEqual((told.gel_g, told.oil_to_pour_g), (None, 40))

    def test_of_the_pigment(self) -> None:
        self.assertAlmostEqual(dose(3, DoseBasis.PIGMENT, 80, 40).additive_g, 2.4)


class Properties(unittest.TestCase):
    @given(st.floats(0, 5), st.sampled_from(DoseBasis), GRAMS, GRAMS, st.floats(0.6, 1))
    def test_the_oil_of_gel_and_pours_is_the_batchs_oil(
        self, pct: float, basis: DoseBasis, pigment_g: float, oil_g: float, strength: float
    ) -> None:
        try:
            told = dose(pct, basis, pigment_g, oil_g, strength)
        except Refused as refusal:
            self.assertEqual(refusal.field, "gel_strength")
            return
        self.assertAlmostEqual((told.oil_in_gel_g or 0) + told.oil_to_pour_g, oil_g, 6)
        self.assertAlmostEqual((told.gel_g or 0) * strength, told.additive_g, 6)

    @given(st.sampled_from(DoseBasis), GRAMS, GRAMS)
    def test_a_dose_of_nothing_changes_nothing(self, basis: DoseBasis, pigment_g: float, oil_g: float) -> None:
        told = dose(0, basis, pigment_g, oil_g, 0.1)
        self.assertEqual((told.additive_g, told.gel_g, told.oil_to_pour_g), (0, 0, oil_g))


class Refusals(unittest.TestCase):
    def test_each_names_its_field(self) -> None:
        for pct, basis, oil_g, strength, field in (
            (-1, DoseBasis.OIL, 40, None, "dose_pct"),
            (100, DoseBasis.TOTAL, 40, None, "dose_pct"),
            (1, DoseBasis.OIL, 0, None, "oil_g"),
            (1, DoseBasis.OIL, 40, 0, "gel_strength"),
            (1, DoseBasis.OIL, 40, 1.2, "gel_strength"),
            (9, DoseBasis.OIL, 40, 0.05, "gel_strength"),
        ):
            with self.subTest(field, pct=pct), self.assertRaises(Refused) as caught:
                dose(pct, basis, 100, oil_g, strength)
            self.assertEqual(caught.exception.field, field)
