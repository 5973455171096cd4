"""Every way of measuring becomes grams with a spread."""

import unittest

from niddy.core.errors import Refused
from niddy.core.estimate import Basis, Estimate
from niddy.core.measures import (
    SPOON_ML,
    UNITS,
    Family,
    Holds,
    Measure,
    Unit,
    UnitKnown,
    amount_words,
    offered,
    own_unit,
    spoons_of,
    to_grams,
)


class WorkedFigures(unittest.TestCase):
    def assert_estimate(self, got: Estimate, median: float, low: float, high: float, basis: Basis) -> None:
        for value, wanted in ((got.median, median), (got.low, low), (got.high, high)):
            self.assertAlmostEqual(value, wanted, 6)
        self.assertIs(got.basis, basis)

    def test_two_level_teaspoons(self) -> None:
        spoons = Measure(Unit.TEASPOON, 2)
        self.assert_estimate(to_grams(spoons, loose_density=0.55), 5.5, 3.575, 7.425, Basis.LIBRARY)
        weighed = to_grams(spoons, loose_density=0.55, loose_density_measured=True)
        self.assert_estimate(weighed, 5.5, 5.06, 5.94, Basis.MEASURED)

    def test_drops_are_assumed_until_weighed(self) -> None:
        self.assert_estimate(to_grams(Measure(Unit.DROP, 10)), 0.23, 0.161, 0.299, Basis.ASSUMED)
        weighed = to_grams(Measure(Unit.DROP, 10), drop_g=0.021, drop_measured=True)
        self.assertAlmostEqual(weighed.median, 0.21)
        self.assertLess(weighed.half_width, 0.069)
        self.assertIs(weighed.basis, Basis.MEASURED)

    def test_grams_millilitres_and_weigh_back_are_exact(self) -> None:
        self.assert_estimate(to_grams(Measure(Unit.GRAM, 12.5)), 12.5, 12.5, 12.5, Basis.MEASURED)
        self.assertAlmostEqual(to_grams(Measure(Unit.MILLILITRE, 10), density=0.93).median, 9.3)
        self.assertAlmostEqual(to_grams(Measure(Unit.OUNCE, 2)).median, 56.699046, 6)
        back = to_grams(Measure(Unit.WEIGH_BACK, before_g=120.4, after_g=101.2))
        self.assertAlmostEqual(back.median, 19.2)

    def test_spoons_of_both_sets(self) -> None:
        sizes = {Unit.TABLESPOON: 15, Unit.QUARTER_TEASPOON: 1.25, Unit.US_TEASPOON: 4.929, Unit.US_TABLESPOON: 14.787}
        for unit, ml in sizes.items():
            self.assertAlmostEqual(SPOON_ML[unit], ml)
        self.assertAlmostEqual(to_grams(Measure(Unit.US_HALF_TEASPOON, 2), density=1.0).median, 4.929)


class Refusals(unittest.TestCase):
    def test_each_names_its_field(self) -> None:
        cases = [
            ("amount", Measure(Unit.GRAM, 0)),
            ("amount", Measure(Unit.GRAM, -3)),
            ("amount", Measure(Unit.GRAM, float("nan"))),
            ("amount", Measure(Unit.GRAM, 1_000_000)),
            ("amount", Measure(Unit.DROP)),
            ("density_g_per_ml", Measure(Unit.MILLILITRE, 3)),
            ("after_g", Measure(Unit.WEIGH_BACK, before_g=100, after_g=100)),
            ("after_g", Measure(Unit.WEIGH_BACK, before_g=100, after_g=130)),
            ("before_g", Measure(Unit.WEIGH_BACK, after_g=130)),
        ]
        for field, measure in cases:
            with self.subTest(measure), self.assertRaises(Refused) as caught:
                to_grams(measure)
            self.assertEqual(caught.exception.field, field)

    def test_a_spoonful_of_lead_by_the_hundredweight(self) -> None:
        with self.assertRaises(Refused):
            to_grams(Measure(Unit.TABLESPOON, 5_000), loose_density=1.5)

    def test_powder_is_not_dripped(self) -> None:
        with self.assertRaises(Refused) as caught:
            to_grams(Measure(Unit.DROP, 3), loose_density=0.5)
        self.assertEqual(caught.exception.field, "unit")


class TheTable(unittest.TestCase):
    def test_every_unit_stands_in_it_once_with_its_words(self) -> None:
        self.assertEqual(set(UNITS), set(Unit))
        for known in UNITS.values():
            self.assertTrue(known.one and known.many and known.button, known.unit)
            self.assertEqual(known.ml is not None, known.family is Family.SPOON, known.unit)

    def test_a_studio_is_offered_its_own_set_and_no_other(self) -> None:
        for us in (False, True):
            shown = [known.unit for known in offered(us=us, ounces=us)]
            self.assertEqual([unit for unit in shown if unit in SPOON_ML], list(spoons_of(us)))
            self.assertEqual(Unit.OUNCE in shown, us)
            sizes = [SPOON_ML[unit] for unit in spoons_of(us)]
            self.assertEqual(sizes, sorted(sizes, reverse=True))

    def test_an_amount_is_said_as_one_says_it(self) -> None:
        for amount, unit, liquid, fill, says in (
            (1, Unit.TEASPOON, False, "level", "1 level teaspoon"),
            (2, Unit.TABLESPOON, False, "heaped", "2 heaped tablespoons"),
            (2, Unit.QUARTER_CUP, True, "level", "2 quarter cups"),
            (3, Unit.US_TEASPOON, False, "level", "3 level US teaspoons"),
            (1, Unit.DROP, True, "level", "1 drop"),
            (2.5, Unit.MILLILITRE, True, "level", "2.5 ml"),
        ):
            self.assertEqual(amount_words(amount, unit, liquid=liquid, fill=fill), says)

    def test_spoons_that_are_not_owned_are_not_offered(self) -> None:
        without = {one.unit for one in offered(us=False, ounces=False, missing=[Unit.TABLESPOON])}
        self.assertNotIn(Unit.TABLESPOON, without)
        self.assertIn(Unit.TEASPOON, without)


class OfOnesOwn(unittest.TestCase):
    """Straws, scoops and caps, by any way to say what they hold."""

    def own(self, holds: Holds, amount: float | None = None, name: str = "scoop", **more: bool) -> UnitKnown:
        return own_unit(Unit.OWN_1, name, **{"powder": True, "liquid": True, **more}, holds=holds, amount=amount)

    def test_what_it_holds_by_each_way_to_say_it(self) -> None:
        for holds, amount, ml, spread in (
            (Holds.ML, 12.0, 12.0, 0.05),
            (Holds.SPOONS, 2.5, 12.5, 0.12),
            (Holds.DROPS, 40.0, 40 * 0.023 / 0.93, 0.30),
            (Holds.WEIGHED, 11.0, 11.0, 0.04),
            (Holds.UNKNOWN, None, 10.0, 1.0),
        ):
            known = self.own(holds, amount)
            self.assertAlmostEqual(known.ml or 0.0, ml)
            self.assertEqual(known.spread, spread)

    def test_grams_are_as_uncertain_as_the_measure_and_what_is_in_it(self) -> None:
        two = Measure(Unit.OWN_1, 2, own=self.own(Holds.ML, 12.0))
        oil = to_grams(two, density=0.93, by_marks=True)
        self.assertAlmostEqual(oil.median, 22.32)
        self.assertAlmostEqual(oil.high, 22.32 * 1.05)
        powder = to_grams(two, loose_density=0.5, loose_density_measured=True)
        self.assertAlmostEqual(powder.median, 12.0)
        self.assertGreater(powder.high, 12.0 * 1.08)
        self.assertLess(powder.high, 12.0 * 1.12)
        self.assertEqual(amount_words(2, two.known), "2 scoops")
        self.assertEqual(amount_words(1, self.own(Holds.ML, 1.0, "matchbox")), "1 matchbox")
        self.assertEqual(self.own(Holds.ML, 1.0, "matchbox").many, "matchboxes")

    def test_what_is_no_measure_is_refused_with_what_would_be_one(self) -> None:
        for holds, amount, accepted in (
            (Holds.ML, 0.0, "0.05 to 1000 ml"),
            (Holds.ML, 5000.0, "0.05 to 1000 ml"),
            (Holds.SPOONS, None, "0.01 to 200 spoons"),
        ):
            with self.assertRaises(Refused) as refused:
                self.own(holds, amount)
            self.assertEqual((refused.exception.field, refused.exception.accepted), ("amount", accepted))
        with self.assertRaisesRegex(Refused, "measures nothing"):
            self.own(Holds.ML, 5.0, powder=False, liquid=False)
        straw = Measure(Unit.OWN_1, 1, own=self.own(Holds.ML, 1.5, "straw", powder=False))
        with self.assertRaisesRegex(Refused, "a straw is not for powder"):
            to_grams(straw, loose_density=0.5)
        with self.assertRaisesRegex(Refused, "no such measure"):
            to_grams(Measure(Unit.OWN_2, 1), density=0.9)
