"""The practice slab's rules: hidden lots, what is seen, a learner who follows the advice, the score."""

import math
import random
import unittest
from dataclasses import replace
from datetime import timedelta
from uuid import UUID

from hypothesis import given, settings
from hypothesis import strategies as st

from niddy.core import practice, slab
from niddy.core.errors import Refused
from niddy.core.estimate import Basis, Estimate
from niddy.core.evidence import Eye, practised
from niddy.core.materials import Dispersing
from niddy.core.practice import ABOUT, BEGUN_AT, PASTES, Begun, Came, Exercise
from niddy.core.practice.exercises import powders
from niddy.core.slab import Event, Kind, Stage
from niddy.core.wetting import Body, body_at, in_reference_oil
from niddy.reference import library

PIGMENTS = list(library().pigments.values())
OIL = library().oils["linseed-refined"]
WITH_PASTE = [one.exercise for one in ABOUT if one.exercise is not Exercise.JUDGING]


def begin(exercise: Exercise, seed: int) -> Begun:
    return practice.begin(exercise, seed, PIGMENTS, OIL)


class Exercises(unittest.TestCase):
    def test_there_are_nine_and_each_has_powders_of_its_own_kind(self) -> None:
        self.assertEqual([one.exercise for one in ABOUT], list(Exercise))
        self.assertEqual(len(ABOUT), 9)
        for exercise in WITH_PASTE:
            self.assertGreaterEqual(len(powders(exercise, PIGMENTS)), 4, exercise)
        self.assertTrue(all(p.dispersing is not Dispersing.EASY for p in powders(Exercise.THIRSTY, PIGMENTS)))
        self.assertTrue(all(p.density_g_per_ml >= 5 for p in powders(Exercise.HEAVY, PIGMENTS)))

    def test_three_loads_are_three_and_the_others_one(self) -> None:
        for exercise in WITH_PASTE:
            for seed in range(6):
                loads = begin(exercise, seed).plan.loads
                assert loads is not None
                self.assertEqual(loads.value, 3 if exercise is Exercise.LOADS else 1, (exercise, seed))

    def test_what_was_done_before_leaves_the_paste_where_the_exercise_begins(self) -> None:
        for exercise, stands in ((Exercise.LOOSENING, 0.855), (Exercise.OVERSHOT, 0.715)):
            begun = begin(exercise, 5)
            *_, last = practice.walk(practice.opening(begun, BEGUN_AT), begun.hidden)
            real = practice.reduced(last.pigment_g, last.oil_g, begun.plan.facts, begun.hidden)
            self.assertAlmostEqual(real, stands, 2)
            left = practice.unmulled(last.paste, begun.hidden, BEGUN_AT)
            self.assertAlmostEqual(left, 0.10 if exercise is Exercise.LOOSENING else 0.10 * math.exp(-3), 3)

    def test_a_seed_that_is_none_and_an_exercise_without_paste_are_refused(self) -> None:
        for seed in (-1, 1_000_000):
            with self.assertRaises(Refused):
                begin(Exercise.FIRST, seed)
            with self.assertRaises(Refused):
                practice.pastes(seed)
        with self.assertRaises(Refused) as refused:
            begin(Exercise.JUDGING, 1)
        self.assertEqual(refused.exception.field, "exercise")

    @settings(max_examples=30, deadline=None)
    @given(st.sampled_from(WITH_PASTE), st.integers(0, 999_999))
    def test_the_same_seed_repeats_and_the_lot_lies_within_the_range_of_its_powder(
        self, exercise: Exercise, seed: int
    ) -> None:
        begun = begin(exercise, seed)
        self.assertEqual(begun, begin(exercise, seed))
        powder = library().pigments[begun.plan.lines[0].pigment.key]
        truth = in_reference_oil(begun.hidden.oil_absorption_g_per_100g, OIL.density_g_per_ml)
        slack = 1.15 if exercise is Exercise.NEW_LOT else 1.0001
        self.assertLessEqual(powder.oil_absorption_low / slack, truth)
        self.assertLessEqual(truth, powder.oil_absorption_high * slack)


class Shown(unittest.TestCase):
    @settings(max_examples=200, deadline=None)
    @given(st.floats(0.5, 1.4), st.floats(0.001, 0.1))
    def test_wetter_is_softer_shinier_and_longer_and_no_word_names_a_body(self, reduced: float, more: float) -> None:
        dry, wet = practice.seen_at(reduced + more), practice.seen_at(reduced)
        self.assertLessEqual(wet.stands, dry.stands)
        self.assertLessEqual(wet.crumbs, dry.crumbs)
        self.assertLessEqual(dry.string_mm, wet.string_mm)
        self.assertLessEqual(dry.shine, wet.shine)
        words = " ".join(wet.says).lower()
        for body in (Body.PUTTY, Body.STIFF, Body.TUBE, Body.SOFT, Body.LOOSE):
            self.assertNotIn(body, words)

    def test_stages_follow_oil_then_mulling(self) -> None:
        self.assertEqual(practice.stage_at(3.0, 1.0), Stage.DRY_ISLANDS)
        self.assertEqual(practice.stage_at(1.1, 1.0), Stage.CRUMBS)
        self.assertEqual(practice.stage_at(1.2, 0.1), Stage.CRUMBS)
        self.assertEqual(practice.stage_at(0.95, 1.0), Stage.WET_CURDS)
        self.assertEqual(practice.stage_at(0.95, 0.6), Stage.COARSE_PASTE)
        self.assertEqual(practice.stage_at(0.95, 0.2), Stage.EVEN_PASTE)

    def test_fresh_oil_makes_no_paste_look_stiffer_and_shines_until_it_is_worked_in(self) -> None:
        begun = begin(Exercise.LOOSENING, 5)
        *_, last = practice.walk(practice.opening(begun, BEGUN_AT), begun.hidden)
        worked = replace(last, paste=slab.after(last.paste, Event(UUID(int=9), 90, Kind.MULL, BEGUN_AT)))
        later = BEGUN_AT + timedelta(minutes=20)
        before = practice.looks_like(worked, begun.plan.facts, begun.hidden, later)
        oil = Event(UUID(int=10), 91, Kind.OIL, later, begun.plan.oil.source, Estimate.exact(1.0, Basis.MEASURED))
        poured = replace(worked, paste=slab.after(worked.paste, oil), oil_g=worked.oil_g + 1.0)
        fresh = practice.looks_like(poured, begun.plan.facts, begun.hidden, later)
        assert before is not None and fresh is not None
        self.assertLess(fresh.reduced, before.reduced)
        self.assertAlmostEqual(fresh.loosens, before.loosens, 6)
        self.assertGreater(fresh.slippery, 0.025)
        seen = practice.seen_at(fresh.reduced, fresh.undispersed, fresh.slippery)
        self.assertTrue(any("slides" in line for line in seen.says))
        self.assertGreater(seen.shine, practice.seen_at(fresh.reduced, fresh.undispersed).shine)

    def test_what_is_named_wrongly_is_answered_at_once_and_what_fits_is_not(self) -> None:
        begun = begin(Exercise.OVERSHOT, 5)
        *_, last = practice.walk(practice.opening(begun, BEGUN_AT), begun.hidden)
        seen = practice.looks_like(last, begun.plan.facts, begun.hidden, BEGUN_AT)
        assert seen is not None
        for body in Body:
            look = Event(UUID(int=8), 80, Kind.LOOK, BEGUN_AT, stage=Stage.EVEN_PASTE, body=body)
            said = practice.answered(replace(last, event=look), begun)
            if body is body_at(seen.reduced):
                self.assertEqual(said, "")
            elif body in (Body.CRUMBLES, Body.STIFF, Body.RUNS):
                self.assertTrue(said.startswith(f"You said {body}; it reads {body_at(seen.reduced)}: "), said)

    def test_forty_pastes_are_spread_over_the_scale_and_repeat(self) -> None:
        pastes = practice.pastes(3)
        self.assertEqual(len(pastes), PASTES)
        self.assertEqual(pastes, practice.pastes(3))
        self.assertNotEqual(pastes, practice.pastes(4))
        self.assertEqual({body_at(one) for one in pastes}, set(Body))


class Learners(unittest.TestCase):
    def test_who_follows_the_advice_goes_over_in_at_most_one_of_ten(self) -> None:
        all_over, tries = 0, 12
        for exercise in WITH_PASTE:
            right = 0
            for seed in range(100, 100 + tries):
                begun = begin(exercise, seed)
                events = practice.follow(begun, random.Random(seed), 0.04)
                self.assertIs(events[-1].kind, Kind.FINISH, (exercise, seed))
                came = practice.came_of(events, begun, BEGUN_AT)
                all_over += came.overshoot_g > 0.05
                right += came.right
            self.assertGreaterEqual(right, 0.6 * tries, exercise)
        self.assertLessEqual(all_over, 0.1 * tries * len(WITH_PASTE))

    def test_without_an_eye_that_errs_the_ladder_ends_right_and_repeats(self) -> None:
        for exercise in WITH_PASTE:
            begun = begin(exercise, 42)
            events = practice.follow(begun)
            self.assertEqual(events, practice.follow(begun))
            came = practice.came_of(events, begun, BEGUN_AT)
            self.assertTrue(came.right, exercise)
            self.assertGreater(came.minutes, 5)


class Scores(unittest.TestCase):
    def came(self, begun: Begun, *grams: float, mulled_min: float = 0.0) -> Came:
        """What comes of pouring so much oil, pour by pour, of mulling it so long, and of calling it done."""
        events, at = list(practice.opening(begun, BEGUN_AT)), BEGUN_AT
        blank = next(event for event in events if event.kind is Kind.POWDER)
        assert blank.mass is not None
        for gram in grams:
            at += timedelta(minutes=2)
            mass = replace(blank.mass, median=gram, low=gram, high=gram)
            events.append(
                replace(
                    blank,
                    kind=Kind.OIL,
                    source=begun.plan.oil.source,
                    mass=mass,
                    made_at=at,
                    seq=len(events) + 1,
                    id=UUID(int=10_000 + len(events)),
                )
            )
        if mulled_min:
            for kind in (Kind.MULL, Kind.PAUSE):
                events.append(Event(UUID(int=20_000 + len(events)), len(events) + 1, kind, at))
                at += timedelta(minutes=mulled_min)
        return practice.came_of(events, begun, BEGUN_AT)

    def test_putty_is_never_right_however_soft_it_will_be(self) -> None:
        begun = begin(Exercise.FIRST, 8)
        stiff = practice.needed_g(begun.plan.pigment_mass.value, 0.895, begun.plan.facts, begun.hidden)
        unmulled, mulled = self.came(begun, stiff), self.came(begun, stiff, mulled_min=60)
        self.assertEqual((unmulled.body, unmulled.right), (Body.TUBE, False))
        self.assertEqual((mulled.body, mulled.right), (Body.TUBE, True))

    def test_overshoot_is_what_was_ever_beyond_the_wet_edge_of_the_body_wanted(self) -> None:
        begun = begin(Exercise.FIRST, 8)
        powder = begun.plan.pigment_mass.value
        edge = practice.needed_g(powder, 0.80, begun.plan.facts, begun.hidden)
        middle = practice.needed_g(powder, 0.86, begun.plan.facts, begun.hidden)
        just = self.came(begun, middle, mulled_min=60)
        self.assertTrue(just.right)
        self.assertAlmostEqual(just.oil_error_pct, 0, 6)
        self.assertEqual((just.overshoot_g, just.overshoot_tubes), (0.0, 0.0))
        over = self.came(begun, edge - 1.0, 3.0)
        self.assertAlmostEqual(over.overshoot_g, 2.0, 6)
        self.assertFalse(over.right)
        self.assertAlmostEqual(over.largest_pour_g, edge - 1.0)
        ratio = 100 * middle / powder
        tubes = (100 * 2.0 / ratio / begun.plan.facts.pigment_density_g_per_ml + 2.0) / 33
        self.assertAlmostEqual(over.overshoot_tubes, tubes, 6)

    def test_the_lesson_fits_what_went_wrong(self) -> None:
        loosening = begin(Exercise.LOOSENING, 8)
        poured = self.came(loosening, 4.0)
        self.assertEqual(poured.unmulled_pours, 1)
        ladder = practice.came_of(practice.follow(loosening), loosening, BEGUN_AT)
        self.assertIn("still loosening", practice.lesson(Exercise.LOOSENING, poured, ladder, loosening))
        first = begin(Exercise.FIRST, 8)
        ladder = practice.came_of(practice.follow(first), first, BEGUN_AT)
        self.assertIn("largest pour", practice.lesson(Exercise.FIRST, self.came(first, 60.0), ladder, first))
        self.assertIn("more oil", practice.lesson(Exercise.FIRST, self.came(first, 1.0), ladder, first))
        right = self.came(first, practice.needed_g(first.plan.pigment_mass.value, 0.86, first.plan.facts, first.hidden))
        self.assertIn("not mulled out", practice.lesson(Exercise.FIRST, right, ladder, first))
        self.assertIn("Right on it", practice.lesson(Exercise.FIRST, ladder, ladder, first))

    def test_a_score_is_told_line_by_line_beside_the_ladder(self) -> None:
        begun = begin(Exercise.FIRST, 8)
        needed = practice.needed_g(begun.plan.pigment_mass.value, 0.86, begun.plan.facts, begun.hidden)
        ladder = practice.came_of(practice.follow(begun), begun, BEGUN_AT)

        def told(exercise: Exercise, mine: Came) -> dict[str, practice.Compared]:
            score = practice.Score(mine, ladder, "", 40.0, 1.2, 0.9)
            return {row.name: row for row in practice.compared(exercise, score)}

        well, over = (
            told(Exercise.FIRST, self.came(begun, needed, mulled_min=60)),
            told(Exercise.FIRST, self.came(begun, 2 * needed)),
        )
        self.assertTrue(all(row.as_good is not False for row in well.values()))
        self.assertEqual([over[name].as_good for name in ("Ended as", "Went over by")], [False, False])
        self.assertIn(f"needed {needed:.1f} g", well["Oil at the end, from the middle"].how)
        self.assertIn(f"{2 * needed:.1f} g was in", over["Oil at the end, from the middle"].how)
        self.assertTrue(all(row.how for row in well.values()))
        self.assertNotIn("Loads apart", well)
        self.assertEqual(told(Exercise.LOADS, ladder)["Loads apart"].unit, "of a body")
        dear = told(Exercise.OVERSHOT, replace(ladder, spent=ladder.spent + 1))
        self.assertIs(dear["Spent"].as_good, False)
        self.assertIn("20 % more", practice.lot_says(Exercise.SPOONS, practice.Score(ladder, ladder, "", 40, 1.2, 0.9)))

    def test_bodies_named_at_even_paste_are_judged_against_what_the_paste_looked_like(self) -> None:
        begun = begin(Exercise.THIRSTY, 8)
        events = practice.follow(begun)
        found = practice.judgements(events, begun)
        self.assertEqual(len(found), sum(e.kind is Kind.LOOK and e.stage is Stage.EVEN_PASTE for e in events))
        self.assertTrue(all(body_at(one.true_reduced_pvc) is one.said_body for one in found), "an eye that never errs")


class PractisedEye(unittest.TestCase):
    def test_an_eye_that_taught_nothing_leaves_nothing_beyond_the_correction(self) -> None:
        eye = practised(Eye(), 0.05, 0.01, 0.045)
        self.assertAlmostEqual(eye.bias, 0.0)
        self.assertAlmostEqual(eye.bias_sd, 0.01)
        self.assertEqual((eye.look_bias, eye.look_sd, eye.demand_shift_ln), (0.05, 0.045, 0.0))
        self.assertIn("too stiff", eye.says)
        self.assertEqual(Eye().says, "")

    def test_what_batches_taught_and_practice_said_meet_in_between(self) -> None:
        taught = Eye(0.02, 0.015, -0.0004)
        eye = practised(taught, 0.05, 0.015, 0.05)
        self.assertLess(eye.bias, 0)
        self.assertGreater(eye.bias + 0.05, 0.02)
        self.assertLess(eye.bias_sd, 0.015)
        self.assertLess(eye.demand_shift_ln, 0, "what was taken for thirst was partly the eye")


if __name__ == "__main__":
    unittest.main()
