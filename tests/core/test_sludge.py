"""Sludge against the worked figures, and dishes whose truth is known."""

import math
import random
import unittest

from hypothesis import given
from hypothesis import strategies as st

from niddy.core.cautions import cautions_for
from niddy.core.errors import Refused
from niddy.core.sludge import Washing, Weighing, cake, drydown, forecast, hours_to, mass_at
from niddy.reference import library


class Dishes(unittest.TestCase):
    HOURS = (0.0, 6.0, 24.0, 48.0)

    def test_the_worked_dish(self) -> None:
        for hours, grams in zip(self.HOURS, (180, 165.99, 139.02, 122.73), strict=True):
            self.assertAlmostEqual(mass_at(hours, 180, 112, 26), grams, 2)
        self.assertAlmostEqual(hours_to(0.03, 180, 112, 26), 77.40, 2)
        made = drydown([Weighing(hours, mass_at(hours, 180, 112, 26)) for hours in self.HOURS])
        self.assertAlmostEqual(made.dry_g.median, 112, delta=1.12)
        self.assertAlmostEqual(made.tau_h.median, 26, delta=0.26)
        self.assertAlmostEqual(made.hours_to_target.median, 77.40, delta=0.774)
        self.assertAlmostEqual(made.residual_now, (122.73 - 112) / 122.73, delta=0.01)
        self.assertFalse(made.constant)
        self.assertTrue(made.dry_g.low < 112 < made.dry_g.high)

    @given(st.floats(60, 400), st.floats(0.3, 0.85), st.floats(8, 120))
    def test_without_error_over_one_and_a_half_tau_they_come_back(self, start: float, f: float, tau: float) -> None:
        dry = f * start
        readings = [Weighing(tau * k / 4, mass_at(tau * k / 4, start, dry, tau)) for k in range(7)]
        self.assertAlmostEqual(drydown(readings).dry_g.median / dry, 1, delta=0.01)

    def test_bands_hold_in_made_up_dishes(self) -> None:
        chance, of = random.Random(18), 150
        dry_held = hours_held = 0
        for _ in range(of):
            tau = math.exp(chance.gauss(math.log(30), 0.9))
            start = chance.uniform(80, 400)
            f = 0.0
            while not 0.05 < f < 0.95:
                f = chance.gauss(0.55, 0.25)
            dry, readings, at = f * start, [], 0.0
            for _ in range(chance.randint(4, 7)):
                grams = mass_at(at, start, dry, tau)
                readings.append(Weighing(at, max(1.0, grams + chance.gauss(0, max(0.1, 0.003 * grams)))))
                at += chance.uniform(8, 24)
            try:
                made = drydown(readings)
            except Refused:
                continue
            dry_held += made.dry_g.low <= dry <= made.dry_g.high
            hours_held += made.hours_to_target.low <= hours_to(0.03, start, dry, tau) <= made.hours_to_target.high
        self.assertTrue(0.85 <= dry_held / of <= 0.95, dry_held / of)
        self.assertGreaterEqual(hours_held / of, 0.8)

    def test_more_weighings_narrow_the_band(self) -> None:
        readings = [Weighing(8.0 * n, mass_at(8.0 * n, 180, 112, 26)) for n in range(10)]
        widths = [drydown(readings[:n]).dry_g.half_width for n in (3, 5, 7, 10)]
        self.assertEqual(widths, sorted(widths, reverse=True))

    def test_two_weighings_a_day_apart_within_half_a_percent_are_constant(self) -> None:
        for last, constant in ((112.3, True), (113.2, False)):
            made = drydown(
                [
                    Weighing(0, 180),
                    Weighing(90, 113.0),
                    Weighing(100, 112.6 if constant else 113.9),
                    Weighing(124, last),
                ]
            )
            self.assertEqual(made.constant, constant)
        self.assertFalse(drydown([Weighing(0, 113), Weighing(10, 112.9), Weighing(23, 112.8)]).constant)

    def test_a_tare_is_taken_off(self) -> None:
        bare = drydown([Weighing(h, mass_at(h, 180, 112, 26)) for h in self.HOURS])
        on_dish = drydown([Weighing(h, 50 + mass_at(h, 180, 112, 26)) for h in self.HOURS], tare_g=50)
        self.assertAlmostEqual(on_dish.dry_g.median, bare.dry_g.median, 6)

    def test_refusals_name_the_weighing(self) -> None:
        good = [Weighing(0, 180), Weighing(6, 166), Weighing(24, 139)]
        for field, readings, tare in (
            ("readings", good[:2], 0.0),
            ("readings.1.g", [good[0], Weighing(6, 40), good[2]], 45.0),
            ("readings.2.g", [*good[:2], Weighing(24, 190)], 0.0),
            ("readings.2.hours", [*good[:2], Weighing(6, 139)], 0.0),
            ("readings.0.g", [Weighing(0, -1), *good[1:]], 0.0),
            ("tare_g", good, -1.0),
        ):
            with self.subTest(field), self.assertRaises(Refused) as refused:
                drydown(readings, tare)
            self.assertEqual(refused.exception.field, field)


class Cakes(unittest.TestCase):
    def test_the_worked_cakes(self) -> None:
        three = cake([Washing(2, 18, 26, 4.1), Washing(1, 42, 68, 2.5), Washing(1, 28, 38, 3.9)])
        for value, known in (
            (three.oil_absorption.median, 23.069),
            (three.oil_absorption.low, 2.890),
            (three.oil_absorption.high, 45.176),
        ):
            self.assertAlmostEqual(value, known, 3)
        self.assertAlmostEqual(three.density_g_per_ml, 3.4958, 4)
        self.assertFalse(three.wet_enough)
        half = cake([Washing(1, 18, 26, 4.1)], unknown_share=0.5)
        for value, known in (
            (half.oil_absorption.median, 18.127),
            (half.oil_absorption.low, 2.0),
            (half.oil_absorption.high, 45.854),
        ):
            self.assertAlmostEqual(value, known, 3)
        self.assertAlmostEqual(half.density_g_per_ml, 3.7763, 4)
        self.assertTrue(half.wet_enough)

    def test_all_of_it_unlogged(self) -> None:
        unknown = cake([], unknown_share=1.0)
        self.assertAlmostEqual(unknown.density_g_per_ml, 3.5)
        self.assertAlmostEqual(unknown.oil_absorption.median, 0.93 * math.sqrt(15 * 70) - 7)

    @given(st.lists(st.tuples(st.floats(0.1, 9), st.floats(8, 60), st.floats(1, 3)), min_size=1, max_size=8))
    def test_only_shares_count_and_the_band_holds_the_middle(self, parts: list[tuple[float, float, float]]) -> None:
        washings = [Washing(weight, low, low * wide, 3.0) for weight, low, wide in parts]
        twice = [Washing(2 * w.weight, w.oil_absorption_low, w.oil_absorption_high, 3.0) for w in washings]
        one, two = cake(washings), cake(twice)
        self.assertAlmostEqual(one.oil_absorption.median, two.oil_absorption.median, 9)
        self.assertLessEqual(one.oil_absorption.low, one.oil_absorption.median)
        self.assertLessEqual(one.oil_absorption.median, one.oil_absorption.high)
        self.assertAlmostEqual(one.density_g_per_ml, 3.0)

    def test_refusals(self) -> None:
        for field, washings, unknown in (
            ("washings", [], 0.0),
            ("washings", [Washing(0, 18, 26, 4.1)], 0.5),
            ("washings.0.oil_absorption_high", [Washing(1, 26, 18, 4.1)], 0.0),
            ("washings.0.weight", [Washing(-1, 18, 26, 4.1)], 0.0),
            ("unknown_share", [Washing(1, 18, 26, 4.1)], 1.5),
        ):
            with self.subTest(field), self.assertRaises(Refused) as refused:
                cake(washings, unknown)
            self.assertEqual(refused.exception.field, field)


class Enough(unittest.TestCase):
    def test_days_and_their_band(self) -> None:
        days = forecast([3.0, 5.0, 4.0, 4.0], 20, 60)
        self.assertAlmostEqual(days.median, 70)
        either = 1.6448536 * math.sqrt(2 / 3) / 2
        self.assertAlmostEqual(days.low, 7 * 40 / (4 + either))
        self.assertAlmostEqual(days.high, 7 * 40 / (4 - either))

    def test_the_slow_end_is_cut_and_enough_is_enough(self) -> None:
        self.assertAlmostEqual(forecast([0.0, 0.0, 0.0, 8.0], 0, 20).high, 10 * 70)
        self.assertEqual(forecast([1.0] * 4, 70, 60).median, 0)
        steady = forecast([2.0] * 6, 0, 20)
        self.assertAlmostEqual(steady.low, steady.high)

    def test_refusals(self) -> None:
        for field, weekly, have in (("weekly_g", [1.0] * 3, 0), ("weekly_g", [0.0] * 4, 0), ("have_g", [1.0] * 4, -1)):
            with self.assertRaises(Refused) as refused:
                forecast(weekly, have, 60)
            self.assertEqual(refused.exception.field, field)


class Solvents(unittest.TestCase):
    def test_every_solvent_has_its_cautions_and_oil_only_drains(self) -> None:
        solvents = library().solvents
        self.assertEqual(len(solvents), 6)
        for solvent in solvents.values():
            self.assertTrue(cautions_for([(solvent.name, solvent.hazards)]), solvent.name)
            self.assertEqual(solvent.evaporates, solvent.flash_point_c is not None)
        self.assertFalse(solvents["wash-oil"].evaporates)
