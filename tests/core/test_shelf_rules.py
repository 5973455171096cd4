"""Inspections and their verdicts, when to look again, and whose a found jar may be."""

import unittest
from datetime import date

from hypothesis import given
from hypothesis import strategies as st

from niddy.core.errors import Refused
from niddy.core.shelf import KeptBody, Outcome, Skin, Smell, Suspect, after_months, inspect, match, next_interval_months


def look(
    layer: float, skin: Skin = Skin.NONE, body: KeptBody = KeptBody.AS_FILLED, smell: Smell = Smell.OIL
) -> Outcome:
    return inspect(layer, 100, skin, body, smell, label_readable=True).outcome


class Verdicts(unittest.TestCase):
    def test_the_layer_over_the_height(self) -> None:
        for layer, outcome in (
            (0, Outcome.GOOD),
            (0.5, Outcome.STIR_BACK),
            (5, Outcome.STIR_BACK),
            (5.1, Outcome.REGRIND),
            (15, Outcome.REGRIND),
            (15.1, Outcome.REGRIND_PRONE),
            (60, Outcome.REGRIND_PRONE),
        ):
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


LOOKS = st.tuples(
    st.floats(0, 200),
    st.floats(1, 200),
    st.sampled_from(Skin),
    st.sampled_from(KeptBody),
    st.sampled_from(Smell),
    st.booleans(),
).filter(lambda seen: seen[0] <= seen[1])
WORSE = [Outcome.GOOD, Outcome.STIR_BACK, Outcome.REGRIND, Outcome.REGRIND_PRONE]


class AnyInspection(unittest.TestCase):
    @given(LOOKS)
    def test_says_what_to_do_and_why(self, seen: tuple[float, float, Skin, KeptBody, Smell, bool]) -> None:
        layer, height, skin, body, smell, readable = seen
        told = inspect(layer, height, skin, body, smell, label_readable=readable)
        self.assertTrue(told.title and told.why)
        self.assertEqual(bool(told.steps), told.outcome is not Outcome.GOOD)
        self.assertEqual(told.unknown_hazard, not readable)
        if not readable and told.outcome is not Outcome.DISCARD:
            # Nobody opens what nobody can name: one verdict, and what it would come to once it is matched.
            self.assertIs(told.outcome, Outcome.MATCH_FIRST)
            named = inspect(layer, height, skin, body, smell, label_readable=True)
            if named.outcome is not Outcome.GOOD:
                self.assertIn(named.title[1:], told.why)
        if skin is Skin.SKIN and readable and told.outcome in (Outcome.REGRIND, Outcome.REGRIND_PRONE):
            self.assertIn("skin", told.title)
        self.assertAlmostEqual(told.layer_fraction, layer / height)
        # Only bleeding marks a recipe, and a paint that is thrown away has not "separated".
        self.assertEqual(
            told.prone, inspect(layer, height, skin, body, smell, label_readable=True).outcome is Outcome.REGRIND_PRONE
        )
        if told.outcome is Outcome.DISCARD:
            self.assertFalse(told.separated)

    @given(st.floats(0, 100), st.floats(0, 100))
    def test_more_oil_on_top_is_never_better(self, one: float, other: float) -> None:
        less, more = sorted((one, other))
        self.assertLessEqual(WORSE.index(look(less)), WORSE.index(look(more)))


class LookingAgain(unittest.TestCase):
    @given(st.lists(st.booleans(), max_size=30))
    def test_between_half_a_month_and_a_year_and_sooner_after_separation(self, history: list[bool]) -> None:
        months = next_interval_months(history)
        self.assertTrue(0.5 <= months <= 12)
        self.assertLessEqual(next_interval_months([*history, True]), months)
        self.assertGreaterEqual(next_interval_months([*history, False]), min(12, months))

    @given(st.dates(date(2000, 1, 1), date(2100, 1, 1)), st.sampled_from([0.5, 0.75, 1.0, 1.5, 3.0, 6.0, 12.0]))
    def test_a_later_day_and_about_so_many_months(self, day: date, months: float) -> None:
        later = after_months(day, months)
        self.assertAlmostEqual((later - day).days, months * 30.4, delta=5)

    def test_one_three_six_twelve_and_halved_after_separation(self) -> None:
        good, bad = False, True
        for history, months in (
            ([], 1),
            ([good], 3),
            ([good, good], 6),
            ([good] * 3, 12),
            ([good] * 9, 12),
            ([good] * 3 + [bad], 6),
            ([good, good, bad], 3),
            ([bad], 0.5),
            ([bad, bad], 0.5),
            ([good, good, bad, good], 6),
        ):
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

    @given(
        st.one_of(st.none(), st.floats(0.9, 4)),
        st.lists(st.tuples(st.floats(0, 100), st.one_of(st.none(), st.floats(0.9, 4))), max_size=20),
    )
    def test_any_suspects_share_out_certainty(
        self, density: float | None, seen: list[tuple[float, float | None]]
    ) -> None:
        told = match(density, [Suspect(n + 1, off, weight) for n, (off, weight) in enumerate(seen)])
        self.assertAlmostEqual(sum(one.likely for one in told), 1)
        self.assertTrue(all(-1e-12 <= one.likely <= 1 for one in told))
        ranked = [one.likely for one in told[:-1]]
        self.assertEqual(ranked, sorted(ranked, reverse=True))
        self.assertIsNone(told[-1].number)
        self.assertLessEqual(len(told), 6)

    def test_ten_off_in_a_photographs_colour_it_is_as_likely_another(self) -> None:
        # A photograph's colour is sure to 4 dE00, and 2.5 of those are where "none of them" draws level.
        self.assertAlmostEqual(match(None, [Suspect(1, 10.0, None)])[0].likely, 0.5)
        self.assertGreater(match(None, [Suspect(1, 9.0, None)])[0].likely, 0.6)
        self.assertLess(match(None, [Suspect(1, 11.0, None)])[0].likely, 0.4)

    def test_without_a_weight_two_alike_stay_alike_and_nothing_near_is_none(self) -> None:
        told = match(None, [Suspect(1, 2.0, 1.5), Suspect(2, 2.0, 2.5)])
        self.assertAlmostEqual(told[0].likely, told[1].likely)
        far = match(1.5, [Suspect(1, 40.0, 1.5)])
        self.assertGreater(far[-1].likely, 0.99)
        self.assertEqual(match(1.5, [])[0].likely, 1)
