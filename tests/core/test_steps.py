"""Steps of guided work: windows, and which step is next."""

import unittest

from niddy.core import gels, rubout
from niddy.core.errors import Refused
from niddy.core.steps import Step, Window, next_step
from niddy.reference import library


class Windows(unittest.TestCase):
    def test_the_ends_belong_to_a_window_and_an_open_end_is_open(self) -> None:
        closed, below = Window("temperature", "C", 80, 110), Window("temperature", "C", None, 40)
        self.assertEqual(
            [closed.holds(value) for value in (79.9, 80, 95, 110, 110.1)], [False, True, True, True, False]
        )
        self.assertEqual([below.holds(value) for value in (-5, 40, 40.5)], [True, True, False])

    def test_upside_down_is_refused(self) -> None:
        with self.assertRaises(Refused):
            Window("pH", "", 8, 7)


class Next(unittest.TestCase):
    def test_the_first_that_is_not_done_whatever_was_done_out_of_order(self) -> None:
        steps = tuple(Step(key, key) for key in ("oil", "additive", "hold"))
        self.assertEqual(
            [
                step and step.key
                for step in (
                    next_step(steps, []),
                    next_step(steps, {"oil"}),
                    next_step(steps, {"hold", "oil"}),
                    next_step(steps, {"oil", "additive", "hold"}),
                )
            ],
            ["oil", "additive", "additive", None],
        )


class Guided(unittest.TestCase):
    def test_every_guided_craft_names_its_steps_apart_and_says_what_to_do(self) -> None:
        crafts = [rubout.PHASES, *(gels.plan(library().additives[key], 50).steps for key in gels.HEATING)]
        for craft in crafts:
            with self.subTest(craft[0].key):
                self.assertEqual(len({step.key for step in craft}), len(craft))
                self.assertTrue(all(step.says for step in craft))

    def test_a_gel_is_held_within_its_window_and_says_when_it_is_done(self) -> None:
        hold = gels.plan(library().additives["aluminium-stearate"], 50).steps[2]
        assert hold.window is not None
        self.assertEqual((hold.window.low, hold.window.high, hold.minutes), (80, 110, 20))
        self.assertIn("clear and thickening", hold.done_when)
