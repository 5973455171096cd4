"""The balance's lines: read by a pattern, and what is wrong said by name."""

import unittest

from niddy.core.balance import PLAIN_PATTERN, BalanceReading, BalanceState, Scales, tare_says
from niddy.core.errors import Refused
from niddy.devices.patterns import compiled


def plain() -> Scales:
    return Scales(compiled(PLAIN_PATTERN))


class PlainProtocol(unittest.TestCase):
    def test_steady_moving_and_full(self) -> None:
        scales = plain()
        self.assertEqual(scales.read("weight=12.34 g; steady\r\n"), BalanceReading(BalanceState.STEADY, 12.34))
        self.assertEqual(scales.read("weight=-0.02 g; moving").state, BalanceState.MOVING)
        over = scales.read("weight=over; full")
        self.assertEqual((over.state, over.weight_g), (BalanceState.OVERLOAD, None))

    def test_units_become_grams_and_a_strange_one_is_named(self) -> None:
        for line, grams in (("weight=0.5 kg; steady", 500), ("weight=250 mg; steady", 0.25)):
            self.assertAlmostEqual(plain().read(line).weight_g or 0, grams)
        self.assertAlmostEqual(plain().read("weight=1 oz; steady").weight_g or 0, 28.349523125)
        strange = plain().read("weight=1.2 lb; steady")
        self.assertEqual((strange.state, strange.weight_g), (BalanceState.WRONG_UNIT, None))
        self.assertIn("'lb'", strange.says)

    def test_garbage_is_never_guessed_at(self) -> None:
        for line in ("#?~!", "", "weight= g; steady", "12.34", "x" * 5_000, "weight=99999999 g; steady"):
            read = plain().read(line)
            self.assertEqual((read.state, read.weight_g), (BalanceState.GARBAGE, None), line[:30])

    def test_a_jump_is_said_and_a_pour_is_not(self) -> None:
        scales = plain()
        scales.read("weight=10.00 g; steady")
        self.assertIsNone(scales.read("weight=24.00 g; steady").jumped_g)
        jump = scales.read("weight=130.00 g; steady")
        self.assertAlmostEqual(jump.jumped_g or 0, 106)
        self.assertIn("+106.0 g", jump.says)
        self.assertIsNone(scales.read("weight=130.00 g; steady").jumped_g)


class OtherPatterns(unittest.TestCase):
    def test_a_balance_that_does_not_say_steady_is_judged_by_its_readings(self) -> None:
        scales = Scales(compiled(r"^\s*(?P<weight>-?\d+\.\d+)"), "g")
        states = [scales.read(f"  {weight}").state for weight in (1.0, 5.0, 5.01, 5.0, 5.01, 5.0)]
        self.assertEqual(states[:4], [BalanceState.MOVING] * 4)
        self.assertEqual(states[4:], [BalanceState.STEADY] * 2)

    def test_the_unit_of_the_settings_stands_in_for_a_missing_one(self) -> None:
        scales = Scales(compiled(r"(?P<weight>\d+(?:,\d+)?)"), "kg")
        self.assertAlmostEqual(scales.read("0,012").weight_g or 0, 12)

    def test_a_pattern_that_cannot_be_is_refused(self) -> None:
        for pattern in ("(", r"\d+", "(?P<weight>x)" * 100):
            with self.subTest(pattern[:10]), self.assertRaises(Refused) as caught:
                compiled(pattern)
            self.assertEqual(caught.exception.field, "balance_pattern")


class Tare(unittest.TestCase):
    def test_it_took_only_at_rest_at_zero(self) -> None:
        self.assertEqual(tare_says(BalanceReading(BalanceState.STEADY, 0.01)), "")
        self.assertIn("31.20 g", tare_says(BalanceReading(BalanceState.STEADY, 31.2)))
        self.assertIn("rest", tare_says(BalanceReading(BalanceState.MOVING, 0.0)))
        self.assertIn("cable", tare_says(plain().gone("look at its cable")))
