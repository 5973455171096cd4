"""Entries that are asked about as they are made: what is asked, and the slips that may be behind an amount."""

import unittest
from uuid import UUID

from hypothesis import given
from hypothesis import strategies as st

from niddy.core import slab
from niddy.core.measures import GRAMS_PER_OUNCE, Unit
from niddy.core.slab import Kind
from niddy.core.slab.asking import (
    FAR_SHORT,
    MANY_TIMES,
    NEAR_EXPECTED,
    TARE_G,
    Entry,
    question_of,
    short_of,
    slips_of,
    units_of_liquid,
    units_of_powder,
)
from tests.core.test_slab import FACTS, Log, started

ID = UUID(int=7)
POWDER = units_of_powder(0.4)


def entry(amount: float, told_g: float, unit: Unit = Unit.GRAM, kind: Kind = Kind.POWDER, **what: float) -> Entry:
    units = POWDER if kind is Kind.POWDER else units_of_liquid(0.93, None)
    planned = what.pop("planned_g", told_g)
    return Entry(ID, kind, "lot-1", "Bone black", unit, amount, amount * units[unit], units, told_g, planned, **what)


def asked(one: Entry, log: Log | None = None) -> str:
    question = question_of(one, slab.know((log or started()).paste, FACTS))
    return question.says if question is not None else ""


class Slips(unittest.TestCase):
    def first(self, one: Entry) -> tuple[str, Unit, float]:
        likely = slips_of(one, [one.told_g])[0]
        return likely.says, likely.unit, likely.amount

    def test_where_nothing_is_expected_any_more_nothing_is_a_slip(self) -> None:
        for planned in (0.0, -1.0):
            self.assertEqual(slips_of(entry(40.0, 0.0, planned_g=planned), [0.0, planned]), ())

    def test_a_figure_too_many_is_ten_times(self) -> None:
        self.assertEqual(self.first(entry(400.0, 40.0)), ("40 g, ten times less?", Unit.GRAM, 40.0))
        self.assertEqual(self.first(entry(4.0, 40.0))[2], 40.0)

    def test_ounces_for_grams_and_millilitres_for_grams(self) -> None:
        self.assertEqual(self.first(entry(2.0, 2 * GRAMS_PER_OUNCE))[1], Unit.OUNCE)
        self.assertEqual(self.first(entry(20.0, 20 * 0.4))[1], Unit.MILLILITRE)

    def test_drops_are_whole_and_three_at_least(self) -> None:
        oil = entry(12.0, 12 * units_of_liquid(0.93, None)[Unit.DROP], kind=Kind.OIL)
        self.assertIn(Unit.DROP, [one.unit for one in slips_of(oil, [oil.told_g])])
        for amount in (2.0, 11.5):
            odd = entry(amount, amount * units_of_liquid(0.93, None)[Unit.DROP], kind=Kind.OIL)
            self.assertNotIn(Unit.DROP, [one.unit for one in slips_of(odd, [odd.told_g])])

    def test_a_dish_that_was_weighed_too_weighs_what_a_dish_weighs(self) -> None:
        for dish, named in ((TARE_G[0] - 1, False), (20.0, True), (TARE_G[1] + 1, False)):
            found = [one for one in slips_of(entry(40.0 + dish, 40.0), [40.0]) if one.tare]
            self.assertEqual(bool(found), named, dish)
        self.assertEqual([one for one in slips_of(entry(10.0, 0.004), [0.004]) if one.tare], [])

    @given(st.floats(0.01, 2_000), st.floats(0.01, 2_000), st.sampled_from(list(POWDER)))
    def test_a_slip_that_is_named_brings_it_near_and_can_be_entered(
        self, amount: float, told: float, unit: Unit
    ) -> None:
        one = entry(amount, told, unit)
        for likely in slips_of(one, [told]):
            self.assertGreaterEqual(likely.amount, 0.001)
            if not likely.tare:
                self.assertLessEqual(abs(likely.amount * POWDER[likely.unit] / told - 1), NEAR_EXPECTED + 1e-9)


class Questions(unittest.TestCase):
    def test_what_was_told_and_nearly_that_is_not_asked_about(self) -> None:
        for grams in (40.0, 38.0, 43.0, 30.0):
            self.assertEqual(asked(entry(grams, 40.0)), "", grams)

    def test_powder_of_many_times_the_plan_is(self) -> None:
        self.assertIn("the plan has 40 g", asked(entry(40 * MANY_TIMES + 1, 40.0)))

    def test_several_goes_count_together(self) -> None:
        self.assertEqual(asked(entry(47.0, 45.0, planned_g=100.0, there_g=55.0)), "")
        self.assertIn("is in", asked(entry(100.0, 45.0, planned_g=60.0, there_g=100.0)))

    def test_oil_that_no_powder_takes_is_asked_about_and_the_ladder_s_is_not(self) -> None:
        flood = started(400)
        self.assertIn("no powder like this takes so much", asked(entry(400.0, 40.0, kind=Kind.OIL), flood))
        self.assertEqual(asked(entry(40.0, 40.0, kind=Kind.OIL), started(40)), "")

    def test_far_too_little_powder_is_asked_about_once_oil_is_poured(self) -> None:
        for share, named in ((FAR_SHORT - 0.1, True), (FAR_SHORT + 0.1, False)):
            there = 100 * share
            question = short_of([entry(there, 100.0, planned_g=100.0, there_g=there)])
            self.assertEqual(question is not None, named)

    def test_of_one_go_the_slip_is_named_and_of_several_none(self) -> None:
        one, several = entry(10.0, 100.0, there_g=10.0), entry(5.0, 100.0, there_g=10.0)
        found = short_of([one])
        assert found is not None
        self.assertEqual(found.slips[0].amount, 100.0)
        found = short_of([several])
        assert found is not None
        self.assertEqual(found.slips, ())
