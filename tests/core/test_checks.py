"""Checks, colour, control, verdict, rebuild, and why two batches differ."""

import math
import random
import unittest
from datetime import UTC, datetime, timedelta

from hypothesis import given
from hypothesis import strategies as st
from scipy.special import stdtrit
from scipy.stats import linregress

from niddy.core import checks, colorimetry
from niddy.core.charts import Alarm
from niddy.core.checks import CheckKind, Component, Slope, air, due, implied_ratio, slope, spread
from niddy.core.colorimetry import Lab, Patch, difference, from_photograph, lab_of_spectrum, lab_of_srgb
from niddy.core.control import Rule, control
from niddy.core.errors import Refused
from niddy.core.estimate import Basis
from niddy.core.explain import BatchInputs, explain
from niddy.core.rebuild import Wets, rebuild
from niddy.core.verdicts import Found, Release, Wanted, judge
from niddy.core.wetting import reduced_at
from niddy.reference import observer

SERIES = [44.1, 45.0, 43.6, 44.8, 45.9, 44.4, 43.9, 45.2, 44.6, 44.9]


class WorkedFigures(unittest.TestCase):
    def test_spread(self) -> None:
        self.assertAlmostEqual(spread([46]).yield_stress_pa, 75.26, 2)
        self.assertAlmostEqual(spread([30]).yield_stress_pa, 637.9, 1)
        self.assertEqual(spread([44, 48]).diameter_mm, 46)

    def test_rebuild(self) -> None:
        again = rebuild(66.0, Wets(52, 2.5, 0.930), Wets(57.626, 2.5, 0.924))
        self.assertAlmostEqual(again.reduced_pvc, 0.8643, 4)
        self.assertAlmostEqual(again.oil_g_per_100g, 72.471, 3)

    def test_control(self) -> None:
        told = control(SERIES)
        for got, wanted, places in (
            (told.mean, 44.64, 2),
            (told.moving_range_mean, 0.9778, 4),
            (told.sigma, 0.8668, 4),
            (told.lower, 42.040, 3),
            (told.moving_range_upper, 3.1944, 4),
        ):
            self.assertAlmostEqual(got, wanted, places)
        self.assertAlmostEqual(told.upper, 47.2405, 4)
        self.assertEqual((told.signals, told.cpk), ((), None))

    def test_tint_strength(self) -> None:
        self.assertAlmostEqual(colorimetry.tint_strength_percent((0.5, 0.32, 0.6), (0.6, 0.35, 0.7)), 83.54, 2)

    def test_air_and_the_ratio_a_density_implies(self) -> None:
        parts = [Component(100, 2.5), Component(66.521, 0.93)]
        whole = 166.521 / (40 + 66.521 / 0.93)
        told = air(20 + 0.97 * whole * 5, 20, 5, parts)
        self.assertAlmostEqual(told.air_fraction, 0.03)
        self.assertAlmostEqual(told.theoretical_g_per_ml, whole)
        self.assertAlmostEqual(implied_ratio(whole, 2.5, 0.93) or 0, 66.521, 6)
        self.assertIsNone(implied_ratio(0.9, 2.5, 0.93))
        self.assertIn("wrong", checks.air_says(-0.03))
        self.assertIn("tap", checks.air_says(0.06))


class Ciede2000(unittest.TestCase):
    """Pairs published by Sharma, Wu and Dalal (2005)."""

    PAIRS = (
        (50.0, 2.6772, -79.7751, 50.0, 0.0, -82.7485, 2.0425),
        (50.0, 3.1571, -77.2803, 50.0, 0.0, -82.7485, 2.8615),
        (50.0, 2.8361, -74.0200, 50.0, 0.0, -82.7485, 3.4412),
        (50.0, -1.3802, -84.2814, 50.0, 0.0, -82.7485, 1.0000),
        (50.0, -1.1848, -84.8006, 50.0, 0.0, -82.7485, 1.0000),
        (50.0, -0.9009, -85.5211, 50.0, 0.0, -82.7485, 1.0000),
        (50.0, 0.0, 0.0, 50.0, -1.0, 2.0, 2.3669),
        (50.0, -1.0, 2.0, 50.0, 0.0, 0.0, 2.3669),
        (50.0, 2.4900, -0.0010, 50.0, -2.4900, 0.0009, 7.1792),
        (50.0, 2.4900, -0.0010, 50.0, -2.4900, 0.0010, 7.1792),
        (50.0, 2.4900, -0.0010, 50.0, -2.4900, 0.0011, 7.2195),
        (50.0, 2.4900, -0.0010, 50.0, -2.4900, 0.0012, 7.2195),
        (50.0, -0.0010, 2.4900, 50.0, 0.0009, -2.4900, 4.8045),
        (50.0, -0.0010, 2.4900, 50.0, 0.0010, -2.4900, 4.8045),
        (50.0, -0.0010, 2.4900, 50.0, 0.0011, -2.4900, 4.7461),
        (50.0, 2.5, 0.0, 50.0, 0.0, -2.5, 4.3065),
        (50.0, 2.5, 0.0, 73.0, 25.0, -18.0, 27.1492),
        (50.0, 2.5, 0.0, 61.0, -5.0, 29.0, 22.8977),
        (50.0, 2.5, 0.0, 56.0, -27.0, -3.0, 31.9030),
        (50.0, 2.5, 0.0, 58.0, 24.0, 15.0, 19.4535),
        (50.0, 2.5, 0.0, 50.0, 3.1736, 0.5854, 1.0000),
        (50.0, 2.5, 0.0, 50.0, 3.2972, 0.0, 1.0000),
        (50.0, 2.5, 0.0, 50.0, 1.8634, 0.5757, 1.0000),
        (50.0, 2.5, 0.0, 50.0, 3.2592, 0.3350, 1.0000),
        (60.2574, -34.0099, 36.2677, 60.4626, -34.1751, 39.4387, 1.2644),
        (63.0109, -31.0961, -5.8663, 62.8187, -29.7946, -4.0864, 1.2630),
        (61.2901, 3.7196, -5.3901, 61.4292, 2.2480, -4.9620, 1.8731),
        (35.0831, -44.1164, 3.7933, 35.0232, -40.0716, 1.5901, 1.8645),
        (22.7233, 20.0904, -46.6940, 23.0331, 14.9730, -42.5619, 2.0373),
        (36.4612, 47.8580, 18.3852, 36.2715, 50.5065, 21.2231, 1.4146),
        (90.8027, -2.0831, 1.4410, 91.1528, -1.6435, 0.0447, 1.4441),
        (90.9257, -0.5406, -0.9208, 88.6381, -0.8985, -0.7239, 1.5381),
        (6.7747, -0.2908, -2.4247, 5.8714, -0.0985, -2.2286, 0.6377),
        (2.0776, 0.0795, -1.1350, 0.9033, -0.0636, -0.5514, 0.9082),
    )

    def test_every_published_pair(self) -> None:
        for *numbers, wanted in self.PAIRS:
            one, other = Lab(*numbers[:3]), Lab(*numbers[3:])
            self.assertAlmostEqual(difference(one, other), wanted, 4, numbers)
            self.assertAlmostEqual(difference(other, one), wanted, 4, numbers)


class Colour(unittest.TestCase):
    def test_a_grey_spectrum_is_neutral_and_white_is_white(self) -> None:
        for level in (0.05, 0.18, 0.5, 1.0):
            lab = lab_of_spectrum((level,) * 31, observer())
            self.assertAlmostEqual(lab.a, 0, 9)
            self.assertAlmostEqual(lab.b, 0, 9)
        self.assertAlmostEqual(lab_of_spectrum((1.0,) * 31, observer()).L, 100)

    def test_a_stand_in_spectrum_looks_like_its_colour(self) -> None:
        for colour in ("#8a4b1f", "#1d5a8c", "#c9b23a", "#1f1d1c", "#f2f0ea"):
            seen = lab_of_spectrum(colorimetry.spectrum_of(colour), observer())
            self.assertLess(difference(seen, lab_of_srgb(colour)), 12, colour)

    def test_a_photograph_in_warm_light_gives_the_paint_back(self) -> None:
        warm = (1.15, 1.0, 0.8)
        paint = "#7b3f22"

        def seen(colour: str) -> tuple[float, float, float]:
            linear = colorimetry.hex_to_linear(colour)
            coded = colorimetry.linear_to_hex(tuple(c * w for c, w in zip(linear, warm, strict=True)))
            r, g, b = (float(int(coded[n : n + 2], 16)) for n in (1, 3, 5))
            return r, g, b

        grey = colorimetry.linear_to_hex((0.18, 0.18, 0.18))
        calm = (1.0, 1.0, 1.0)
        told = from_photograph(Patch(seen(grey), calm), Patch(seen(paint), calm))
        self.assertLess(difference(told.lab, lab_of_srgb(paint)), 2)
        restless = from_photograph(Patch(seen(grey), (12, 12, 12)), Patch(seen(paint), (20, 20, 20)))
        self.assertGreater(restless.uncertainty, told.uncertainty)

    def test_a_card_that_cannot_balance_is_named(self) -> None:
        calm = (1.0, 1.0, 1.0)
        paint = Patch((120.0, 60.0, 30.0), calm)
        for card, field, problem in (
            ((255.0, 250.0, 240.0), "card", "clipped"),
            ((3.0, 3.0, 3.0), "card", "dark"),
            ((200.0, 60.0, 40.0), "card", "coloured"),
        ):
            with self.assertRaises(Refused) as caught:
                from_photograph(Patch(card, calm), paint)
            self.assertEqual(caught.exception.field, field)
            self.assertIn(problem, caught.exception.problem)

    def test_outside_the_solid_and_missing_bands_are_refused(self) -> None:
        for numbers in ((101, 0, 0), (50, 200, 0), (50, 0, math.nan)):
            with self.assertRaises(Refused):
                Lab(*numbers)
        with self.assertRaises(Refused) as caught:
            lab_of_spectrum((0.5,) * 30, observer())
        self.assertIn("31 bands", caught.exception.accepted)
        with self.assertRaises(Refused):
            lab_of_srgb("red")


class Nelson(unittest.TestCase):
    """Each rule with a series that fires and one that just does not. Limits frozen on a calm beginning."""

    CALM = (10.0, 11.0, 9.0, 10.0, 11.0, 9.0, 10.0, 11.0, 9.0, 10.0)

    def fired(self, tail: list[float]) -> set[Rule]:
        calm = list(self.CALM)
        told = control([*calm, *tail], frozen_on=list(range(len(calm))))
        self.sigma = told.sigma
        return {signal.rule for signal in told.signals if signal.at == len(calm) + len(tail) - 1}

    def test_beyond_three_sigma(self) -> None:
        sigma = control(list(self.CALM)).sigma
        mean = 10.0
        self.assertIn(Rule.BEYOND_3_SIGMA, self.fired([mean + 3.01 * sigma]))
        self.assertNotIn(Rule.BEYOND_3_SIGMA, self.fired([mean + 2.99 * sigma]))

    def test_nine_on_one_side(self) -> None:
        self.assertIn(Rule.NINE_ONE_SIDE, self.fired([10.1, 10.3] * 4 + [10.1]))
        self.assertNotIn(Rule.NINE_ONE_SIDE, self.fired([10.1, 10.3] * 4))
        self.assertNotIn(Rule.NINE_ONE_SIDE, self.fired([10.1] * 4 + [9.9] + [10.1] * 4))

    def test_six_trending(self) -> None:
        self.assertIn(Rule.SIX_TRENDING, self.fired([9.5, 9.7, 9.9, 10.1, 10.3, 10.5]))
        self.assertNotIn(Rule.SIX_TRENDING, self.fired([10.5, 9.7, 9.9, 10.1, 10.3, 10.5]))

    def test_two_of_three_beyond_two_sigma(self) -> None:
        sigma = control(list(self.CALM)).sigma
        out = 10 + 2.1 * sigma
        self.assertIn(Rule.TWO_OF_THREE_BEYOND_2_SIGMA, self.fired([out, 10, out]))
        self.assertNotIn(Rule.TWO_OF_THREE_BEYOND_2_SIGMA, self.fired([out, 10, 20 - out]))
        self.assertNotIn(Rule.TWO_OF_THREE_BEYOND_2_SIGMA, self.fired([out, 10, 10, out]))

    def test_four_of_five_beyond_one_sigma(self) -> None:
        sigma = control(list(self.CALM)).sigma
        out = 10 + 1.1 * sigma
        self.assertIn(Rule.FOUR_OF_FIVE_BEYOND_1_SIGMA, self.fired([out, out, 10, out, out]))
        self.assertNotIn(Rule.FOUR_OF_FIVE_BEYOND_1_SIGMA, self.fired([out, 10, 10, out, out]))

    def test_cpk_and_what_cannot_be(self) -> None:
        self.assertAlmostEqual(control(SERIES, 42, 48).cpk or 0, (44.64 - 42) / (3 * 0.86682), 3)
        for values, what in (([1.0], {}), ([1.0, 2.0], {"tolerance_low": 3, "tolerance_high": 2})):
            with self.assertRaises(Refused):
                control(values, **what)  # type: ignore[arg-type]
        with self.assertRaises(Refused):
            control([1.0, 2.0], frozen_on=[0, 9])

    @given(st.lists(st.floats(1, 100), min_size=2, max_size=30), st.floats(-50, 50))
    def test_a_shift_of_everything_shifts_only_the_limits(self, values: list[float], by: float) -> None:
        one, other = control(values), control([v + by for v in values])
        self.assertAlmostEqual(other.upper - one.upper, by, 6)
        self.assertAlmostEqual(other.sigma, one.sigma, 6)


class Slopes(unittest.TestCase):
    def test_assumed_until_four_different_batches_then_learned(self) -> None:
        def diameter(reduced: float) -> float:
            return 45 * math.exp(-2.6 * (reduced - 0.86))

        three = [(r, diameter(r)) for r in (0.82, 0.86, 0.90)]
        self.assertIs(slope(three).basis, Basis.ASSUMED)
        self.assertIs(slope(three * 3).basis, Basis.ASSUMED)
        learned = slope([*three, (0.88, diameter(0.88) * 1.01), (0.84, diameter(0.84))])
        self.assertIs(learned.basis, Basis.LEARNED)
        self.assertAlmostEqual(learned.per_reduced, -2.6, 1)
        change = checks.reduced_change(50, 45, learned)
        self.assertAlmostEqual(50 * math.exp(learned.per_reduced * change), 45)

    def test_its_band_is_that_of_the_standard_error(self) -> None:
        luck = random.Random(11)
        points = [(0.80 + 0.02 * n, 45 * math.exp(-2.6 * 0.02 * n + luck.gauss(0, 0.02))) for n in range(5)]
        by_book = linregress([reduced for reduced, _ in points], [math.log(d) for _, d in points])
        self.assertAlmostEqual(slope(points).half_width, float(stdtrit(3, 0.95)) * float(by_book.stderr), 4)

    def test_noise_alone_teaches_nothing(self) -> None:
        luck = random.Random(4)
        points = [(0.86 + 0.001 * n, 45 * math.exp(luck.gauss(0, 0.1))) for n in range(8)]
        self.assertIs(slope(points).basis, Basis.ASSUMED)


class Refusals(unittest.TestCase):
    def test_each_names_its_field(self) -> None:
        parts = [Component(100, 2.5)]
        for call, field in (
            (lambda: spread([5.0]), "diameters_mm.0"),
            (lambda: spread([40, 160], plate_mm=150), "diameters_mm.1"),
            (lambda: spread([]), "diameters_mm"),
            (lambda: air(10, 12, 5, parts), "gross_g"),
            (lambda: air(20, 10, 5, []), "components"),
            (lambda: rebuild(66, Wets(52, 2.5, 0.93), Wets(-1, 2.5, 0.93)), "new.oil_absorption_g_per_100g"),
        ):
            with self.subTest(field), self.assertRaises(Refused) as caught:
                call()
            self.assertEqual(caught.exception.field, field)


class Verdicts(unittest.TestCase):
    WANTED = (Wanted(CheckKind.SPREAD, 45, 42, 48), Wanted(CheckKind.BLEED, 1, None, 4))

    def judged(self, spread_mm: float | None, bleed_mm: float | None, *alarms: Alarm) -> Release:
        found = [Found(CheckKind.SPREAD, spread_mm, alarms=alarms), Found(CheckKind.BLEED, bleed_mm)]
        told = judge(list(self.WANTED), found)
        self.assertTrue(told.reason.endswith("."))
        return told.release

    def test_each(self) -> None:
        self.assertIs(self.judged(45, 1), Release.RELEASE)
        self.assertIs(self.judged(45, 1, Alarm.DRIFT), Release.WATCH)
        self.assertIs(self.judged(49, 1), Release.ADJUST)
        self.assertIs(self.judged(45, 5), Release.HOLD)
        self.assertIs(self.judged(49, 5), Release.HOLD)
        self.assertIs(self.judged(45, None), Release.WAIT)
        self.assertIs(self.judged(49, None), Release.ADJUST)

    def test_what_oil_or_powder_can_mend_is_adjusted_and_all_else_held(self) -> None:
        mendable = {CheckKind.SPREAD, CheckKind.STRING, CheckKind.DENSITY}
        for kind in (*mendable, CheckKind.BLEED, CheckKind.FINENESS, CheckKind.DRYING):
            verdict = judge([Wanted(kind, 15, 10, 20)], [Found(kind, 25)])
            self.assertIs(verdict.release, Release.ADJUST if kind in mendable else Release.HOLD, kind)

    def test_drawn_choices(self) -> None:
        wanted = [Wanted(CheckKind.BRUSH_MARK, choice="keeps")]
        self.assertIs(judge(wanted, [Found(CheckKind.BRUSH_MARK, None, "keeps")]).release, Release.RELEASE)
        self.assertIs(judge(wanted, [Found(CheckKind.BRUSH_MARK, None, "levels")]).release, Release.HOLD)


class Explanations(unittest.TestCase):
    WETS = Wets(52, 2.5, 0.93)
    BY = Slope(-2.15, 1.0, Basis.ASSUMED, 0)

    def test_the_shares_and_the_rest_add_up(self) -> None:
        before = BatchInputs(66.5, self.WETS, 16)
        after = BatchInputs(68.0, Wets(55 * 0.92 / 0.93, 2.5, 0.92), 10)
        told = explain(before, 45, after, 47, self.BY)
        self.assertEqual([s.what for s in told.shares], ["ratio", "lot", "oil", "additive", "minutes a load"])
        self.assertAlmostEqual(sum(s.ln_d for s in told.shares) + told.unexplained_ln_d, math.log(47 / 45))

    def test_a_change_of_ratio_alone_is_the_ratios(self) -> None:
        before, after = BatchInputs(66.5, self.WETS), BatchInputs(70.0, self.WETS)
        change = reduced_at(70, 52, 2.5, 0.93) - reduced_at(66.5, 52, 2.5, 0.93)
        told = explain(before, 45, after, 45 * math.exp(-2.15 * change), self.BY)
        self.assertAlmostEqual(told.unexplained_mm, 0, 9)
        self.assertGreater(told.shares[0].mm, 0)
        self.assertEqual([s.ln_d for s in told.shares[1:4]], [0, 0, 0])

    def test_what_an_additive_stiffened_spreads_less(self) -> None:
        # Stress goes with D^-5 at one volume: half as much again of it takes the fifth root off the diameter.
        plain, stiffened = BatchInputs(66.5, self.WETS), BatchInputs(66.5, self.WETS, additive_ln_stress=math.log(1.5))
        told = explain(plain, 45, stiffened, 45 * 1.5 ** (-1 / 5), self.BY)
        self.assertAlmostEqual(told.shares[3].mm, 45 * (1.5 ** (-1 / 5) - 1), 0)
        self.assertLess(told.shares[3].ln_d, 0)
        self.assertAlmostEqual(told.unexplained_ln_d, 0, 9)


class WhatIsDue(unittest.TestCase):
    AT = datetime(2026, 6, 18, 10, tzinfo=UTC)

    def test_bleed_a_day_on_and_finger_tests_on_a_log_schedule(self) -> None:
        wanted = [CheckKind.SPREAD, CheckKind.BLEED, CheckKind.DRYING]
        first = due(self.AT, wanted, {}, dried=False)
        self.assertEqual(
            [(one.kind, one.at - self.AT) for one in first],
            [
                (CheckKind.SPREAD, timedelta(0)),
                (CheckKind.BLEED, timedelta(days=1)),
                (CheckKind.DRYING, timedelta(days=1)),
            ],
        )
        later = due(self.AT, wanted, {CheckKind.SPREAD: 2, CheckKind.BLEED: 1, CheckKind.DRYING: 3}, dried=False)
        self.assertEqual([(one.kind, one.at - self.AT) for one in later], [(CheckKind.DRYING, timedelta(days=7))])
        self.assertEqual(due(self.AT, [CheckKind.DRYING], {CheckKind.DRYING: 3}, dried=True), ())
        self.assertEqual(due(self.AT, [CheckKind.DRYING], {CheckKind.DRYING: 5}, dried=False), ())
