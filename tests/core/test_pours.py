"""The ladder of pours."""

import itertools
import unittest

from hypothesis import given
from hypothesis import strategies as st

from niddy.core import pours
from niddy.core.demand import LotRecords, Observation, learn
from niddy.core.errors import Refused


class WorkedFigures(unittest.TestCase):
    def ladder(self, demand_median: float, sd_ln: float) -> list[float]:
        steps = pours.ladder(100, demand_median, sd_ln, 2.5, 0.930, 0.86)
        return [pour.cumulative_g for pour in steps.pours]

    def test_bone_black_after_two_rub_outs(self) -> None:
        tested = LotRecords("A", (Observation(52, 0.05), Observation(55, 0.05)))
        known = learn(42, 68, (tested,)).lots["A"]
        for got, wanted in zip(
            self.ladder(known.estimate.median, known.sd_ln), (65.543, 67.121, 68.239, 69.377, 71.057), strict=True
        ):
            self.assertAlmostEqual(got, wanted, delta=0.001)

    def test_bone_black_from_the_library_alone(self) -> None:
        unseen = learn(42, 68).unseen_lot
        for got, wanted in zip(
            self.ladder(unseen.estimate.median, unseen.sd_ln), (56.231, 62.990, 68.197, 73.881, 83.016), strict=True
        ):
            self.assertAlmostEqual(got, wanted, delta=0.001)


class Merging(unittest.TestCase):
    def test_steps_nobody_can_pour_are_merged_into_the_next(self) -> None:
        steps = pours.ladder(1.0, 53.477, 0.0346, 2.5, 0.930, 0.86).pours
        self.assertEqual([pour.quantile for pour in steps], [0.1, 0.9])
        self.assertAlmostEqual(sum(pour.step_g for pour in steps), steps[-1].cumulative_g)

    def test_a_drop_larger_than_the_smallest_step_merges_more(self) -> None:
        fine = pours.ladder(10, 53, 0.1, 2.5, 0.93, 0.86)
        coarse = pours.ladder(10, 53, 0.1, 2.5, 0.93, 0.86, smallest_step_g=0.6)
        self.assertLess(len(coarse.pours), len(fine.pours))
        self.assertTrue(all(pour.step_g >= 0.6 for pour in coarse.pours))

    def test_a_demand_known_exactly_is_one_pour(self) -> None:
        steps = pours.ladder(100, 53, 0.0, 2.5, 0.93, 0.86)
        self.assertEqual(len(steps.pours), 1)
        self.assertAlmostEqual(steps.pours[0].cumulative_g, steps.expected_g)

    @given(st.floats(0.5, 500), st.floats(10, 100), st.floats(0, 0.3), st.floats(0.6, 1.0))
    def test_rungs_only_rise_and_sum_up(self, pigment: float, demand: float, sd: float, reduced: float) -> None:
        steps = pours.ladder(pigment, demand, sd, 2.5, 0.93, reduced).pours
        for lower, higher in itertools.pairwise(steps):
            self.assertLess(lower.cumulative_g, higher.cumulative_g)
        if steps:
            self.assertAlmostEqual(sum(pour.step_g for pour in steps), steps[-1].cumulative_g, 6)

    def test_an_unmulled_paste_reads_too_stiff_by_less_and_less(self) -> None:
        self.assertAlmostEqual(pours.reading_excess(0, 8), 0.10)
        self.assertAlmostEqual(pours.reading_excess(8, 8), 0.0367879, 6)


class Refusals(unittest.TestCase):
    def test_each_names_its_field(self) -> None:
        good = (100.0, 53.0, 0.1, 2.5, 0.93, 0.86)
        fields = ("pigment_g", "demand.median", "demand.sd_ln", "pigment_density_g_per_ml", "oil_density_g_per_ml")
        for n, field in enumerate((*fields, "reduced_pvc")):
            for bad in (-1.0, float("nan"), float("inf")):
                with self.subTest(field=field, bad=bad), self.assertRaises(Refused) as caught:
                    pours.ladder(*good[:n], bad, *good[n + 1 :])
                self.assertEqual(caught.exception.field, field)
