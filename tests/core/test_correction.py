"""Corrections land on the target, and cost what they say."""

import unittest

from hypothesis import given
from hypothesis import strategies as st

from niddy.core.correction import Direction, correct
from niddy.core.errors import Refused


class WorkedFigures(unittest.TestCase):
    def test_too_loose(self) -> None:
        answer = correct(80, 60, 68.6, 2.5, 0.930, 52)
        self.assertIs(answer.direction, Direction.ADD_PIGMENT)
        self.assertAlmostEqual(answer.pigment_to_add_g, 7.4636, 4)
        self.assertAlmostEqual(answer.oil_to_draw_g, 60 - 0.686 * 80, 9)
        self.assertTrue(answer.reachable)

    def test_near_enough_is_left_alone(self) -> None:
        answer = correct(100, 68.9, 68.6, 2.5, 0.930, 52)
        self.assertIs(answer.direction, Direction.NONE)
        self.assertEqual(answer.volume_before_ml, answer.volume_after_ml)

    def test_too_little_powder_says_how_far_it_reaches(self) -> None:
        answer = correct(80, 60, 68.6, 2.5, 0.930, 52, pigment_on_hand_g=3)
        self.assertFalse(answer.reachable)
        self.assertAlmostEqual(answer.pigment_to_add_g, 7.4636, 4)
        self.assertAlmostEqual(answer.volume_after_ml - answer.volume_before_ml, 3 / 2.5)
        self.assertTrue(answer.reduced_pvc_now < answer.reduced_pvc_after < 0.8431)


class Properties(unittest.TestCase):
    @given(st.floats(5, 500), st.floats(0, 500), st.floats(15, 120), st.floats(1.4, 7))
    def test_a_correction_lands_on_the_target(self, pigment: float, oil: float, target: float, density: float) -> None:
        answer = correct(pigment, oil, target, density, 0.93, 40)
        pigment_after, oil_after = pigment + answer.pigment_to_add_g, oil + answer.oil_to_add_g
        ratio = 100 * oil_after / pigment_after
        self.assertLessEqual(abs(ratio / target - 1), 0.005 + 1e-9)
        if answer.direction is Direction.ADD_PIGMENT:
            self.assertAlmostEqual(100 * (oil - answer.oil_to_draw_g) / pigment, target, 6)

    @given(st.floats(5, 500), st.floats(0, 500), st.floats(15, 120))
    def test_volumes_add_up(self, pigment: float, oil: float, target: float) -> None:
        answer = correct(pigment, oil, target, 2.5, 0.93, 40)
        added = answer.pigment_to_add_g / 2.5 + answer.oil_to_add_g / 0.93
        self.assertAlmostEqual(answer.volume_after_ml, answer.volume_before_ml + added, 6)


class Refusals(unittest.TestCase):
    def test_each_names_its_field(self) -> None:
        good = (80.0, 60.0, 68.6, 2.5, 0.93, 52.0, 5.0)
        fields = ("pigment_g", "oil_g", "target_oil_g_per_100g", "pigment_density_g_per_ml", "oil_density_g_per_ml")
        for n, field in enumerate((*fields, "oil_absorption_g_per_100g", "pigment_on_hand_g")):
            with self.subTest(field), self.assertRaises(Refused) as caught:
                correct(*good[:n], -1.0, *good[n + 1 :])
            self.assertEqual(caught.exception.field, field)
