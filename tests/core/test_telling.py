"""Amounts told in spoons, drops and marks; plans of those who have no scale."""

import unittest
from dataclasses import replace

from hypothesis import given
from hypothesis import strategies as st

from niddy.core import plan, telling
from niddy.core.measures import SPOON_ML, Holds, Measure, Unit, own_unit, to_grams
from niddy.core.plan import Line, Tool, Tubes
from niddy.core.telling import Habit, Measuring, Small
from tests.core.test_plan import BENCH, WISH, dry

SPOONS = Habit(Measuring.SPOONS)
SYRINGE = Habit(Measuring.SPOONS, small=Small.ML)
amounts = st.floats(0.01, 900)


class Told(unittest.TestCase):
    def test_powder_in_the_largest_spoon_that_comes_out_whole(self) -> None:
        for grams, says in (
            (2.75, "1 level teaspoon"),
            (5.4, "2 level teaspoons"),
            (0.1, "1 level eighth teaspoon"),
            (3.4, "1 level teaspoon and 1 quarter teaspoon"),
            (33, "4 level tablespoons"),
            (35, "1 level quarter cup"),
            (220, "6 level quarter cups and 1 tablespoon"),
            (1.4, "1 level half teaspoon"),
            (8.25, "1 level tablespoon"),
        ):
            told = telling.powder(grams, 0.55, SPOONS)
            assert told is not None
            self.assertEqual(told.words, says)
        self.assertIsNone(telling.powder(5, 0.55, Habit()))

    def test_oil_in_drops_then_in_spoons(self) -> None:
        told = [telling.oil(grams, 0.93, SPOONS) for grams in (0.01, 0.05, 0.5, 4.65, 14)]
        self.assertEqual(
            [one.words if one else None for one in told], [None, "2 drops", "15 drops", "1 teaspoon", "1 tablespoon"]
        )
        us = telling.oil(4.929 * 0.93, 0.93, Habit(Measuring.SPOONS, us_spoons=True))
        self.assertEqual(us.unit if us else None, Unit.US_TEASPOON)

    def test_oil_by_the_marks_of_a_syringe(self) -> None:
        told = telling.oil(2.0, 0.93, SYRINGE)
        assert told is not None
        self.assertEqual((told.words, told.unit), ("2.1 ml", Unit.MILLILITRE))
        self.assertIsNone(telling.oil(0.05, 0.93, SYRINGE))

    @given(amounts, st.sampled_from([SPOONS, SYRINGE]))
    def test_oil_told_is_never_more_than_asked_by_more_than_a_hand_errs(self, grams: float, habit: Habit) -> None:
        told = telling.oil(grams, 0.93, habit)
        if told is None:
            self.assertLess(grams, 0.1)
        else:
            self.assertLessEqual(told.grams, grams + 0.3 * habit.smallest_oil_g + 0.02 * grams)
            parts = [to_grams(Measure(part.unit, part.amount), density=0.93) for part in told.parts or (told,)]
            self.assertAlmostEqual(told.grams, sum(part.median for part in parts))
            self.assertGreater(told.grams, 0.88 * grams - 0.25, "the next rung takes up what is short")

    @given(amounts, st.floats(0.15, 1.5), st.booleans(), st.booleans())
    def test_nobody_loses_count(self, grams: float, density: float, up: bool, us: bool) -> None:
        habit = Habit(Measuring.SPOONS, us_spoons=us)
        for told in (telling.powder(grams, density, habit, up=up), telling.oil(grams, density, habit)):
            if told is None:
                continue
            parts = told.parts or (told,)
            counts = [part.amount for part in parts if part.unit is not Unit.DROP]
            drops = [part.amount for part in parts if part.unit is Unit.DROP]
            largest = parts[0].unit in (Unit.CUP, Unit.US_CUP)
            self.assertLessEqual(len(parts), 2)
            self.assertTrue(all(count <= 6 for count in counts) or largest, told.words)
            self.assertTrue(all(count <= (10 if counts else 15) for count in drops), told.words)
            if len(counts) == 2:
                sizes = [SPOON_ML[part.unit] for part in parts]
                self.assertGreater(sizes[0], sizes[1], "the larger first")
                self.assertLessEqual(counts[1], 3 if sizes[0] > 50 and sizes[1] > 14 else 1, told.words)

    def test_amounts_are_told_in_measures_of_ones_own_and_never_in_spoons_that_are_missing(self) -> None:
        straw = own_unit(Unit.OWN_1, "straw", powder=False, liquid=True, holds=Holds.ML, amount=1.5)
        cap = own_unit(Unit.OWN_2, "cap", powder=True, liquid=True, holds=Holds.UNKNOWN)
        habit = Habit(Measuring.SPOONS, missing=(Unit.TABLESPOON, Unit.QUARTER_TEASPOON), own=(straw, cap))
        oil = telling.oil(4.2, 0.93, habit)
        assert oil is not None
        self.assertEqual((oil.words, oil.unit), ("3 straws", Unit.OWN_1))
        for grams in range(1, 60):
            powder = telling.powder(float(grams), 0.55, habit)
            assert powder is not None
            units = {part.unit for part in powder.parts or (powder,)}
            self.assertFalse(units & {Unit.TABLESPOON, Unit.QUARTER_TEASPOON, Unit.OWN_1, Unit.OWN_2}, powder.words)

    @given(amounts, st.floats(0.15, 1.5), st.sampled_from([0.0, 5.0, 80.0]))
    def test_to_the_eye_there_are_no_numbers_and_how_much_it_would_be_is_said_beside(
        self, grams: float, density: float, there_g: float
    ) -> None:
        eye = Habit(Measuring.EYE)
        for told, plain in (
            (telling.powder(grams, density, eye, there_g=there_g), telling.powder(grams, density, SPOONS)),
            (telling.oil(grams, 0.93, eye, there_g=there_g), telling.oil(grams, 0.93, SPOONS)),
        ):
            if told is None or plain is None:
                self.assertEqual(told, plain)
                continue
            self.assertNotRegex(told.words, r"\d")
            self.assertEqual((told.figures, told.grams), (plain.words, plain.grams))

    def test_the_more_there_is_the_less_it_is_to_the_eye(self) -> None:
        eye = Habit(Measuring.EYE)
        said = [telling.oil(2.0, 0.93, eye, there_g=there_g) for there_g in (0.0, 2.0, 4.0, 10.0, 30.0, 200.0)]
        self.assertEqual(
            [one.words if one else None for one in said],
            [
                "enough to fill the hollow",
                "as much again",
                "half as much again",
                "a little",
                "a thread",
                "a drop or two, then look",
            ],
        )
        made = plan.compute(replace(WISH, habit=eye, tubes=None, pigment_g=20.0))
        self.assertNotRegex(" ".join(rung.told.words for rung in made.rungs if rung.told), r"\d")
        assert made.oil_told is not None and made.lines[0].told is not None
        self.assertNotRegex(made.oil_told.words + made.lines[0].told.words, r"\d")

    def test_what_is_expected_is_told_nearest_and_a_pour_below(self) -> None:
        pour = telling.oil(62.4, 0.925, SPOONS)
        expected = telling.oil(62.4, 0.925, SPOONS, telling.Rounding.NEAREST)
        assert pour is not None and expected is not None
        self.assertLessEqual(pour.grams, 62.4 * 1.02)
        self.assertAlmostEqual(expected.grams, 62.4, delta=0.06 * 62.4)

    @given(amounts, st.floats(0.15, 1.5))
    def test_what_was_told_is_told_so_again(self, grams: float, density: float) -> None:
        for up in (False, True):
            told = telling.powder(grams, density, SPOONS, up=up)
            assert told is not None
            again = telling.powder(told.grams, density, SPOONS)
            assert again is not None
            self.assertAlmostEqual(again.grams, told.grams)

    @given(amounts, st.floats(0.15, 1.5))
    def test_powder_wanted_for_tubes_is_never_short_and_else_nearest(self, grams: float, density: float) -> None:
        up, near = (telling.powder(grams, density, SPOONS, up=way) for way in (True, False))
        assert up is not None and near is not None
        self.assertGreaterEqual(up.grams, 0.98 * grams)
        self.assertLessEqual(abs(near.grams - grams), max(abs(up.grams - grams), 0.06 * grams) + 1e-9)

    @given(st.lists(amounts, min_size=1, max_size=6).map(sorted), st.sampled_from([SPOONS, SYRINGE]))
    def test_rungs_are_what_can_be_poured_and_rise(self, wanted: list[float], habit: Habit) -> None:
        rungs = telling.pourable([(0.5, grams) for grams in wanted], 0.05, 0.93, habit)
        poured = 0.0
        for rung in rungs:
            told = telling.oil(rung.step_g, 0.93, habit)
            assert told is not None
            self.assertAlmostEqual(told.grams, rung.step_g, delta=0.1 * rung.step_g + 1e-9)
            self.assertAlmostEqual(rung.cumulative_g, poured + rung.step_g)
            poured = rung.cumulative_g


class Spooned(unittest.TestCase):
    def test_powder_is_planned_in_whole_spoons_and_the_first_pour_in_drops_or_spoons(self) -> None:
        made = plan.compute(replace(WISH, habit=SPOONS, tubes=(Tubes(1, "40 ml", 40.0, 1),)))
        line = made.lines[0]
        assert line.told is not None
        self.assertEqual(line.told.amount, int(line.told.amount))
        self.assertGreater(line.mass.high or 0, line.mass.value)
        self.assertTrue(all(rung.told is not None for rung in made.rungs))
        self.assertEqual(made.facts.habit, SPOONS)
        self.assertEqual(made.tubes[0].count, 1)
        by_scale = plan.compute(replace(WISH, tubes=(Tubes(1, "40 ml", 40.0, 1),)))
        ratio = line.mass.value / by_scale.lines[0].mass.value
        self.assertGreaterEqual(ratio, 0.98, "the tubes that are wanted are filled")
        self.assertLessEqual(ratio, 1.13)
        self.assertLess(made.leftover.value, 5)
        self.assertEqual(made.leftover.label, "Left over")

    def test_parts_by_spoons_are_not_parts_by_weight(self) -> None:
        lines = (Line(dry("bone-black", 1), 1.0), Line(dry("titanium-white-rutile", 2), 1.0))
        made = plan.compute(replace(WISH, lines=lines, parts_by_spoons=True))
        loose = [line.pigment.loose_density_g_per_ml for line in lines]
        self.assertAlmostEqual(made.lines[0].share, loose[0] / sum(loose))

    def test_a_plan_in_two_spoons_holds_the_powder_of_both(self) -> None:
        for grams in (2.2, 3.4, 7.0, 11.0, 35.0, 71.0):
            made = plan.compute(replace(WISH, habit=SPOONS, tubes=None, pigment_g=grams))
            (line,) = made.lines
            told = line.told
            assert told is not None
            self.assertAlmostEqual(line.mass.value, grams, delta=0.13 * grams)
            self.assertAlmostEqual(told.grams, line.mass.value)
            self.assertAlmostEqual(sum(part.grams for part in told.parts or (told,)), told.grams)
            self.assertEqual(line.spoons, told.words)

    def test_a_maker_by_eye_is_told_spoons_too(self) -> None:
        made = plan.compute(replace(WISH, habit=Habit(Measuring.EYE)))
        self.assertIsNotNone(made.lines[0].told)


class Tools(unittest.TestCase):
    def minutes(self, grams: float, tool: Tool = Tool.MULLER) -> tuple[float, float, float]:
        made = plan.compute(replace(WISH, tubes=None, pigment_g=grams, bench=replace(BENCH, tool=tool)))
        assert made.minutes and made.tidying and made.fineness
        return made.minutes.value, made.tidying.value, made.fineness.value

    def test_a_little_takes_minutes_and_a_knife_takes_longer_and_stays_coarser(self) -> None:
        little, tidying, fineness = self.minutes(3)
        self.assertLess(little, 6)
        much, _, _ = self.minutes(100)
        self.assertGreater(much, 8 * little)
        knife, by_knife, coarser = self.minutes(3, Tool.KNIFE)
        self.assertGreater(knife, little)
        self.assertEqual((tidying, by_knife), (12, 3))
        self.assertEqual(coarser, 2 * fineness)

    def test_the_slab_judges_by_the_tools_own_time(self) -> None:
        knife = plan.compute(replace(WISH, bench=replace(BENCH, tool=Tool.KNIFE)))
        self.assertTrue(knife.facts.one_mass)
        by_muller = plan.compute(WISH).facts.tau_min
        self.assertAlmostEqual(knife.facts.tau_min, 1.5 * (knife.volume.value / 10) ** 0.6 * by_muller)

    def test_a_studio_that_takes_twice_as_long_is_told_so(self) -> None:
        slow, usual = plan.compute(replace(WISH, pace=2.0)), plan.compute(WISH)
        assert slow.minutes and usual.minutes
        self.assertAlmostEqual(slow.minutes.value, 2 * usual.minutes.value)
