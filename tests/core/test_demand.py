"""Oil demand, learned: worked figures and what must hold for any records."""

import math
import unittest

from hypothesis import given
from hypothesis import strategies as st

from niddy.core.demand import Demand, LotRecords, Observation, Share, blend_sd_ln, learn, spooned
from niddy.core.errors import Refused
from niddy.core.estimate import Basis, Estimate

RECORDS = st.lists(st.builds(Observation, st.floats(30, 90), st.sampled_from((0.05, 0.1, 0.12))), max_size=8)


class WorkedFigures(unittest.TestCase):
    def test_one_lot_tested_twice_and_one_not_at_all(self) -> None:
        tested = LotRecords("A", (Observation(52, 0.05), Observation(55, 0.05)))
        answer = learn(42, 68, (tested, LotRecords("B", ())))
        a, b = answer.lots["A"], answer.lots["B"]
        for got, wanted in zip(
            (a.estimate.median, a.estimate.low, a.estimate.high), (53.477, 50.520, 56.608), strict=True
        ):
            self.assertAlmostEqual(got, wanted, 3)
        self.assertAlmostEqual(a.sd_ln, 0.0346, 4)
        for got, wanted in zip(
            (b.estimate.median, b.estimate.low, b.estimate.high), (53.469, 44.640, 64.045), strict=True
        ):
            self.assertAlmostEqual(got, wanted, 3)
        self.assertAlmostEqual(b.sd_ln, 0.1097, 4)
        self.assertIs(a.estimate.basis, Basis.LEARNED)

    def test_nothing_at_all(self) -> None:
        unseen = learn(42, 68).unseen_lot
        self.assertAlmostEqual(unseen.estimate.median, 53.442, 3)
        self.assertAlmostEqual(unseen.estimate.low, 40.613, delta=0.001)
        self.assertAlmostEqual(unseen.estimate.high, 70.323, 3)
        self.assertAlmostEqual(unseen.sd_ln, 0.1669, 4)
        self.assertIs(unseen.estimate.basis, Basis.LIBRARY)


class Properties(unittest.TestCase):
    @given(RECORDS, RECORDS)
    def test_more_records_never_widen_the_band(self, before: list[Observation], more: list[Observation]) -> None:
        few = learn(42, 68, (LotRecords("A", tuple(before)),)).lots["A"]
        many = learn(42, 68, (LotRecords("A", (*before, *more)),)).lots["A"]
        self.assertLessEqual(many.sd_ln, few.sd_ln + 1e-12)

    @given(RECORDS)
    def test_the_order_of_records_does_not_matter(self, records: list[Observation]) -> None:
        there = learn(42, 68, (LotRecords("A", tuple(records)), LotRecords("B", ())))
        back = learn(42, 68, (LotRecords("B", ()), LotRecords("A", tuple(reversed(records)))))
        for key in "AB":
            self.assertAlmostEqual(there.lots[key].estimate.median, back.lots[key].estimate.median, 9)

    def test_a_blend_of_one_is_as_sure_as_its_pigment(self) -> None:
        self.assertAlmostEqual(blend_sd_ln([Share(1.0, 52, 0.1)]), 0.1)
        self.assertAlmostEqual(blend_sd_ln([Share(0.5, 50, 0.1)] * 2), 0.1 / math.sqrt(2))

    def test_two_lots_of_one_pigment_share_its_part(self) -> None:
        unseen = learn(42, 68).unseen_lot
        part = Share(0.5, unseen.estimate.median, unseen.sd_ln, "bone-black", unseen.shared_sd_ln)
        self.assertAlmostEqual(blend_sd_ln([part, part]), 0.157, 3)


class Refusals(unittest.TestCase):
    def test_each_names_its_field(self) -> None:
        cases = {
            "range_high": lambda: learn(60, 50),
            "range_low": lambda: learn(-1, 50),
            "lots.1.key": lambda: learn(40, 60, (LotRecords("A", ()), LotRecords("A", ()))),
            "lots.0.observations.0.sd": lambda: learn(40, 60, (LotRecords("A", (Observation(50, 0),)),)),
        }
        for field, call in cases.items():
            with self.subTest(field), self.assertRaises(Refused) as caught:
                call()
            self.assertEqual(caught.exception.field, field)


class TheSameSpoon(unittest.TestCase):
    """What is unknown of a lot, a spoon and a drop is one number as long as they are the same."""

    def first_pour(self, batches: int) -> float:
        """The first pour against what is needed in the middle, at most one in ten too far."""
        known = Demand(Estimate.lognormal(40.0, 0.12, Basis.LIBRARY), 0.12)
        measuring = math.hypot(0.18, 0.16)
        found = spooned(known, measuring, [Observation(46.0, 0.05)] * batches)
        sd = found.sd_ln if found is not None else math.hypot(0.12, measuring)
        return math.exp(-1.2816 * sd)

    def test_the_first_pour_comes_near_from_the_second_batch_on(self) -> None:
        for batches, share in ((0, 0.71), (1, 0.88), (2, 0.90)):
            self.assertAlmostEqual(self.first_pour(batches), share, delta=0.01)

    def test_what_was_counted_outweighs_the_library_soon(self) -> None:
        known = Demand(Estimate.lognormal(40.0, 0.12, Basis.LIBRARY), 0.12)
        for batches, low in ((1, 45.2), (4, 45.7)):
            found = spooned(known, 0.24, [Observation(46.0, 0.05)] * batches)
            assert found is not None
            self.assertTrue(low < found.oil_absorption_g_per_100g < 46.0)
            self.assertEqual(found.batches, batches)
