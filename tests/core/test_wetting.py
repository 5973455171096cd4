"""Wetting: worked figures, boundaries of the bodies, and the inverse over the whole library."""

import itertools
import unittest

from hypothesis import given
from hypothesis import strategies as st

from niddy.core import wetting
from niddy.core.errors import Refused
from niddy.core.materials import Oil, Pigment
from niddy.core.wetting import Body, Part
from niddy.reference import library

PIGMENTS = list(library().pigments.values())
OILS = list(library().oils.values())


class WorkedFigures(unittest.TestCase):
    def test_a_dense_pigment_in_poppy_oil(self) -> None:
        part = [Part(1, 4.9, 20)]
        ratios = {1.00: 19.871, 0.93: 22.786, 0.86: 26.176, 0.75: 32.780}
        for reduced, ratio in ratios.items():
            answer = wetting.wetting(part, 0.924, reduced=reduced)
            self.assertAlmostEqual(answer.oil_g_per_100g, ratio, 3)
        self.assertAlmostEqual(answer.oil_absorption_g_per_100g, 19.871, 3)
        self.assertAlmostEqual(answer.cpvc, 0.48691, 5)

    def test_a_light_pigment_in_the_reference_oil(self) -> None:
        part = [Part(1, 2.5, 52)]
        self.assertAlmostEqual(wetting.wetting(part, 0.930, reduced=0.86).oil_g_per_100g, 66.521, 3)
        answer = wetting.wetting(part, 0.930, ratio=70)
        self.assertAlmostEqual(answer.cpvc, 0.41704, 5)
        self.assertAlmostEqual(answer.pvc, 0.34701, 5)
        self.assertAlmostEqual(answer.reduced_pvc, 0.83209, 5)
        self.assertIs(answer.body, Body.TUBE)

    def test_a_blend_three_to_one(self) -> None:
        blend = wetting.blend([Part(3, 4.9, 20), Part(1, 2.5, 52)])
        self.assertAlmostEqual(blend.density_g_per_ml, 3.9516, 4)
        self.assertAlmostEqual(blend.oil_absorption_g_per_100g, 28.0, 9)


class Bodies(unittest.TestCase):
    def test_a_boundary_belongs_to_the_stiffer_body(self) -> None:
        at = {1.06: "crumbles", 1.05: "putty", 0.97: "putty", 0.969: "stiff", 0.90: "stiff", 0.80: "tube"}
        at |= {0.799: "soft", 0.70: "soft", 0.58: "loose", 0.579: "runs"}
        for reduced, body in at.items():
            with self.subTest(reduced):
                self.assertEqual(wetting.body_at(reduced), body)

    def test_zones_join_up_and_run_from_dry_to_wet(self) -> None:
        zones = wetting.scale_zones(52, 2.5, 0.93)
        self.assertEqual([z.body for z in zones], list(Body))
        for dry, wet in itertools.pairwise(zones):
            self.assertEqual(dry.oil_to_g_per_100g, wet.oil_from_g_per_100g)
            self.assertLess(wet.oil_from_g_per_100g, wet.oil_to_g_per_100g)


class Properties(unittest.TestCase):
    def test_ratio_and_reduced_agree_over_the_whole_library(self) -> None:
        for pigment in PIGMENTS:
            for oil in OILS:
                for reduced in (0.5, 0.58, 0.7, 0.86, 1.0, 1.15):
                    absorption = wetting.in_oil(pigment.oil_absorption_high, oil.density_g_per_ml)
                    ratio = wetting.ratio_at(reduced, absorption, pigment.density_g_per_ml, oil.density_g_per_ml)
                    back = wetting.reduced_at(ratio, absorption, pigment.density_g_per_ml, oil.density_g_per_ml)
                    self.assertAlmostEqual(back, reduced, 12, f"{pigment.key} in {oil.key}")

    @given(st.sampled_from(PIGMENTS), st.sampled_from(OILS), st.floats(0.5, 1.15))
    def test_what_a_ratio_implies_is_the_absorption_it_came_from(
        self, pigment: Pigment, oil: Oil, reduced: float
    ) -> None:
        absorption = wetting.in_oil(pigment.oil_absorption_low, oil.density_g_per_ml)
        densities = (pigment.density_g_per_ml, oil.density_g_per_ml)
        ratio = wetting.ratio_at(reduced, absorption, *densities)
        self.assertAlmostEqual(wetting.implied_oil_absorption(ratio, reduced, *densities), absorption, 9)

    @given(st.floats(5, 160), st.floats(0.85, 1.0))
    def test_carrying_across_an_oil_and_back_changes_nothing(self, absorption: float, density: float) -> None:
        back = wetting.in_reference_oil(wetting.in_oil(absorption, density), density)
        self.assertAlmostEqual(back, absorption, 9)

    def test_an_additive_takes_room_from_the_pigment(self) -> None:
        self.assertLess(wetting.pvc(60, 2.5, 0.93, 5.0), wetting.pvc(60, 2.5, 0.93))


class Refusals(unittest.TestCase):
    def refused(self, field: str, **asked: object) -> None:
        known: dict[str, object] = {"parts": [Part(1, 2.5, 52)], "oil_density": 0.93, "ratio": 60.0}
        with self.assertRaises(Refused) as caught:
            wetting.wetting(**(known | asked))  # type: ignore[arg-type]
        self.assertEqual(caught.exception.field, field)
        self.assertTrue(caught.exception.accepted)

    def test_each_names_its_field(self) -> None:
        self.refused("pigments", parts=[])
        self.refused("pigments.0.parts", parts=[Part(0, 2.5, 52)])
        self.refused("pigments.1.density_g_per_ml", parts=[Part(1, 2.5, 52), Part(1, 0, 52)])
        self.refused("pigments.0.oil_absorption_g_per_100g", parts=[Part(1, 2.5, float("nan"))])
        self.refused("oil_density_g_per_ml", oil_density=float("inf"))
        self.refused("oil_g_per_100g", reduced=0.8)
        self.refused("oil_g_per_100g", ratio=None)
        self.refused("oil_g_per_100g", ratio=-1.0)
        self.refused("reduced_pvc", ratio=None, reduced=1.2)


if __name__ == "__main__":
    unittest.main()
