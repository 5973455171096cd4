"""From tubes to powder, from powder to tubes, loads and minutes, and the loss that is learned."""

import unittest

from hypothesis import given
from hypothesis import strategies as st

from niddy.core.errors import Refused
from niddy.core.estimate import Basis
from niddy.core.sizing import Made, TubesWanted, learn_loss, loads, size, tubes_filled


class WorkedFigures(unittest.TestCase):
    def test_three_tubes_of_bone_black(self) -> None:
        answer = size(66.521, 2.5, 0.930, [TubesWanted(40, 3)], slab_area_cm2=900, film_mm=0.3)
        self.assertAlmostEqual(answer.volume_ml, 124.742, 3)
        self.assertAlmostEqual(answer.pigment_g, 111.848, 3)
        self.assertAlmostEqual(answer.oil_g, 74.403, 3)
        self.assertAlmostEqual(answer.paint_density_g_per_ml, 1.49309, 5)
        self.assertEqual(answer.loads, 8)
        self.assertAlmostEqual(answer.load_ml or 0, 16.2)
        self.assertAlmostEqual(answer.leftover_ml, 0, 9)


class Properties(unittest.TestCase):
    @given(st.integers(1, 40), st.floats(5, 120), st.floats(15, 150), st.floats(1.2, 7))
    def test_forward_from_the_powder_gives_back_the_tubes(
        self, count: int, usable_ml: float, ratio: float, density: float
    ) -> None:
        back = size(ratio, density, 0.93, [TubesWanted(usable_ml, count)])
        forward = size(ratio, density, 0.93, pigment_g=back.pigment_g)
        self.assertAlmostEqual(forward.volume_ml, back.volume_ml, 6)
        self.assertAlmostEqual(forward.leftover_ml, usable_ml * count, 6)

    @given(st.floats(1, 2000), st.floats(15, 150))
    def test_masses_and_volume_agree_with_the_density(self, pigment_g: float, ratio: float) -> None:
        answer = size(ratio, 3.1, 0.93, pigment_g=pigment_g)
        self.assertAlmostEqual(answer.volume_ml * answer.paint_density_g_per_ml, answer.pigment_g + answer.oil_g, 6)

    def test_loads_do_not_grow_by_rounding(self) -> None:
        self.assertEqual(loads(16.2 * 8, 16.2), 8)
        self.assertEqual(loads(16.2 * 8 + 0.01, 16.2), 9)
        self.assertEqual(loads(0.1, 16.2), 1)

    @given(st.integers(1, 20), st.floats(5, 150))
    def test_what_was_sized_for_so_many_tubes_fills_them(self, count: int, usable_ml: float) -> None:
        made = size(66.5, 2.5, 0.93, tubes=[TubesWanted(usable_ml, count)]).volume_ml
        self.assertEqual(tubes_filled(made, usable_ml), count)
        self.assertEqual(tubes_filled(made * 0.98, usable_ml), count - 1)


class LearnedLoss(unittest.TestCase):
    def test_assumed_until_five_batches_say(self) -> None:
        self.assertIs(learn_loss([Made(100, 90)] * 4).basis, Basis.ASSUMED)

    def test_then_the_median_of_what_went_missing(self) -> None:
        made = [Made(100, 94), Made(100, 93), Made(200, 189), Made(50, 30), Made(100, 95)]
        learned = learn_loss(made)
        self.assertIs(learned.basis, Basis.LEARNED)
        self.assertAlmostEqual(learned.loss, 0.05)
        self.assertEqual(learned.batches, 5)

    def test_never_negative(self) -> None:
        self.assertEqual(learn_loss([Made(100, 104)] * 6).loss, 0)


class Refusals(unittest.TestCase):
    def test_each_names_its_field(self) -> None:
        tubes = [TubesWanted(40, 1)]
        cases = {
            "tubes": lambda: size(66, 2.5, 0.93),
            "tubes.0.usable_ml": lambda: size(66, 2.5, 0.93, [TubesWanted(0, 1)]),
            "pigment_g": lambda: size(66, 2.5, 0.93, pigment_g=1_000_000),
            "oil_g_per_100g": lambda: size(0, 2.5, 0.93, tubes),
            "loss": lambda: size(66, 2.5, 0.93, tubes, loss=1.0),
            "film_mm": lambda: size(66, 2.5, 0.93, tubes, slab_area_cm2=900),
            "slab_area_cm2": lambda: size(66, 2.5, 0.93, tubes, slab_area_cm2=0, film_mm=0.3),
            "pigment_density_g_per_ml": lambda: size(66, 0, 0.93, tubes),
        }
        for field, call in cases.items():
            with self.subTest(field), self.assertRaises(Refused) as caught:
                call()
            self.assertEqual(caught.exception.field, field)

    def test_no_tube_at_all_and_a_tonne_of_them(self) -> None:
        for tubes in ([TubesWanted(40, 0)], [TubesWanted(1000, 10_000)]):
            with self.assertRaises(Refused) as caught:
                size(66, 2.5, 0.93, tubes)
            self.assertEqual(caught.exception.field, "tubes")
