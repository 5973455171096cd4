"""Section 14: inspections and their verdicts, when to look again, and whose a found jar may be."""

import unittest
from datetime import date

from niddy.core.errors import Refused
from niddy.core.shelf import (
    KeptBody,
    Outcome,
    Skin,
    Smell,
    Suspect,
    after_months,
    inspect,
    match,
    next_interval_months,
)


def look(
    layer: float, skin: Skin = Skin.NONE, body: KeptBody = KeptBody.AS_FILLED, smell: Smell = Smell.OIL
) -> Outcome:
    return inspect(layer, 100, skin, body, smell, label_readable=True).outcome


class Verdicts(unittest.TestCase):
    def test_the_layer_over_the_height(self) -> None:
        for layer, outcome in (
            (0, Outcome.GOOD), (0.5, Outcome.STIR_BACK), (5, Outcome.STIR_BACK), (5.1, Outcome.REGRIND),
            (15, Outcome.REGRIND), (15.1, Outcome.REGRIND_PRONE), (60, Outcome.REGRIND_PRONE),
        ):  # fmt: skip
            self.assertIs(look(layer), outcome, layer)
        self.assertTrue(inspect(20, 100, Skin.NONE, KeptBody.AS_FILLED, Smell.OIL, label_readable=True).prone)

    def test_skin_hard_through_spoiled_and_grainy(self) -> None:
        self.assertIs(look(0, Skin.SKIN), Outcome.LIFT_SKIN)
        self.assertIs(look(30, Skin.THROUGH), Outcome.DISCARD)
        self.assertIs(look(0, smell=Smell.SPOILED), Outcome.DISCARD)
        self.assertIs(look(0, body=KeptBody.GRAINY), Outcome.REGRIND)
        self.assertIs(look(10, Skin.SKIN), Outcome.REGRIND)

    def test_an_unreadable_label_is_an_unknown_hazard(self) -> None:
        told = inspect(0, 80, Skin.NONE, KeptBody.AS_FILLED, Smell.OIL, label_readable=False)
        self.assertTrue(told.unknown_hazard)
        self.assertIn("unknown hazard", told.why)

    def test_a_layer_higher_than_the_filling_is_refused(self) -> None:
        with self.assertRaises(Refused) as caught:
            inspect(81, 80, Skin.NONE, KeptBody.AS_FILLED, Smell.OIL, label_readable=True)
        self.assertEqual(caught.exception.field, "layer_mm")


class LookingAgain(unittest.TestCase):
    def test_one_three_six_twelve_and_halved_after_separation(self) -> None:
        good, bad = False, True
        for history, months in (
            ([], 1), ([good], 3), ([good, good], 6), ([good] * 3, 12), ([good] * 9, 12), ([good] * 3 + [bad], 6),
            ([good, good, bad], 3), ([bad], 0.5), ([bad, bad], 0.5), ([good, good, bad, good], 6),
        ):  # fmt: skip
            self.assertEqual(next_interval_months(history), months, history)

    def test_months_end_on_days_that_are(self) -> None:
        self.assertEqual(after_months(date(2026, 1, 31), 1), date(2026, 2, 28))
        self.assertEqual(after_months(date(2026, 11, 30), 3), date(2027, 2, 28))
        self.assertEqual(after_months(date(2026, 6, 18), 0.5), date(2026, 7, 3))


class Found(unittest.TestCase):
    def test_colour_and_weight_tell_and_the_shares_add_up(self) -> None:
        told = match(1.66, [Suspect(1, 1.0, 1.66), Suspect(2, 1.0, 2.10), Suspect(3, 30.0, 1.66)])
        self.assertEqual(told[0].number, 1)
        self.assertGreater(told[0].likely, 0.9)
        self.assertAlmostEqual(sum(one.likely for one in told), 1)
        self.assertIsNone(told[-1].number)

    def test_without_a_weight_two_alike_stay_alike_and_nothing_near_is_none(self) -> None:
        told = match(None, [Suspect(1, 2.0, 1.5), Suspect(2, 2.0, 2.5)])
        self.assertAlmostEqual(told[0].likely, told[1].likely)
        far = match(1.5, [Suspect(1, 40.0, 1.5)])
        self.assertGreater(far[-1].likely, 0.99)
        self.assertEqual(match(1.5, [])[0].likely, 1)
