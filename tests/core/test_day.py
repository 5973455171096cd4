"""The day: cleaning between jobs, the order with the least of it, errands, and the figure."""

import math
import random
import unittest
from datetime import UTC, datetime, timedelta
from itertools import permutations

import numpy as np
from hypothesis import given, settings
from hypothesis import strategies as st

from niddy.core.day import (
    EXACT_UP_TO,
    USUAL,
    Break,
    Cleaned,
    Errand,
    Hours,
    Job,
    Pace,
    as_chosen,
    as_errands,
    best_order,
    check_hours,
    cleaning_figure,
    cleaning_min,
    cost_of,
    end_min,
    fill_min,
    first_free,
    left_min,
    pace_of,
    share_out,
    timetable,
)
from niddy.core.due import Due
from niddy.core.errors import Refused
from niddy.core.estimate import Basis

AT = datetime(2026, 6, 18, 10, tzinfo=UTC)
WORKED = (
    Job("a", 60, 35, 3, "linseed"),
    Job("b", 45, 92, 0, "walnut"),
    Job("c", 50, 60, 1, "linseed"),
    Job("d", 55, 80, 1, "linseed", hazard=True),
)
OILS = ("linseed", "walnut", "poppy")


def made_up(seed: int, count: int) -> list[Job]:
    """A seeded day."""
    chance = random.Random(seed)
    return [
        Job(
            f"j{n}",
            chance.choice((20.0, 45.0, 90.0)),
            chance.choice((25.0, 40.0, 55.0, 70.0, 92.0)),
            chance.randrange(4),
            chance.choice(OILS),
            chance.random() < 0.2,
        )
        for n in range(count)
    ]


def brute(jobs: list[Job]) -> tuple[float, tuple[str, ...]]:
    """The least cleaning over all orders with the hazardous last, and of the best the nearest to the given one."""
    least = float("inf")
    best: tuple[str, ...] = ()
    given = [*(job for job in jobs if not job.hazard), *(job for job in jobs if job.hazard)]
    for order in permutations(given):
        hazards = [job.hazard for job in order]
        if hazards != sorted(hazards):
            continue
        total = sum(cost_of(order))
        if total < least - 1e-9:
            least, best = total, tuple(job.key for job in order)
    return least, best


class Day(unittest.TestCase):
    def test_worked_figures(self) -> None:
        found = best_order(WORKED)
        self.assertAlmostEqual(found.total_cleaning_min, 59.1, 6)
        self.assertAlmostEqual(found.as_given_cleaning_min, 74.7, 6)
        self.assertEqual(found.order[-1], "d")
        self.assertAlmostEqual(found.total_min, 59.1 + 210)
        self.assertAlmostEqual(sum(found.cleaning_min), found.total_cleaning_min)
        self.assertEqual(found.cleaning_min[-1], 30.0)
        a, b, c, d = WORKED
        self.assertAlmostEqual(cleaning_min(a, b), 4 + 12 * 0.57 * 2.5 + 6)
        self.assertAlmostEqual(cleaning_min(b, c), 10.0)
        self.assertEqual((end_min(c), end_min(d)), (10.0, 30.0))

    def test_none_one_and_all_alike(self) -> None:
        empty = best_order([])
        self.assertEqual((empty.order, empty.cleaning_min, empty.total_min), ((), (), 0.0))
        self.assertEqual(best_order(WORKED[:1]).cleaning_min, (10.0,))
        alike = [Job(str(n), 10, 50, 1, "linseed") for n in range(EXACT_UP_TO)]
        self.assertEqual(best_order(alike).order, tuple(str(n) for n in range(EXACT_UP_TO)))
        poison = [Job(str(n), 10, 30 + n, 1, "linseed", hazard=True) for n in range(4)]
        self.assertEqual(best_order(poison).order, ("3", "2", "1", "0"))

    def test_exact_against_all_orders_of_small_days(self) -> None:
        for seed in range(60):
            jobs = made_up(seed, 2 + seed % 6)
            least, best = brute(jobs)
            found = best_order(jobs)
            self.assertAlmostEqual(found.total_cleaning_min, least, 6)
            self.assertEqual(found.order, best, seed)

    def test_twelve_are_exact_and_no_swap_betters_them(self) -> None:
        jobs = made_up(7, EXACT_UP_TO)
        found = best_order(jobs)
        by_key = {job.key: job for job in jobs}
        order = [by_key[key] for key in found.order]
        for i in range(len(order)):
            for j in range(i):
                other = order.copy()
                other[i], other[j] = other[j], other[i]
                hazards = [job.hazard for job in other]
                if hazards == sorted(hazards):
                    self.assertGreaterEqual(sum(cost_of(other)), found.total_cleaning_min - 1e-9)

    def test_the_search_finds_what_is_exact(self) -> None:
        from niddy.core.day import ordering

        for seed in range(12):
            jobs = sorted(made_up(seed, EXACT_UP_TO), key=lambda job: job.hazard)
            costs = ordering._costs(jobs, USUAL)
            plain = sum(not job.hazard for job in jobs)
            begins = np.zeros(len(jobs))
            found = ordering._total(costs, ordering._searched(jobs, costs, plain, begins), begins)
            exact = ordering._total(costs, ordering._exact(costs, plain, begins), begins)
            self.assertLessEqual(found, 1.02 * exact + 1e-9, seed)

    def test_what_is_on_the_slab_already_is_cleaned_off_first(self) -> None:
        on_slab = Job("s", 0, 20, 3, "poppy")
        for seed in range(30):
            jobs = made_up(seed, 2 + seed % 5)
            given = sorted(jobs, key=lambda job: job.hazard)
            least = min(
                sum(cost_of([on_slab, *order]))
                for order in permutations(given)
                if [job.hazard for job in order] == sorted(job.hazard for job in order)
            )
            found = best_order(jobs, after=on_slab)
            self.assertAlmostEqual(found.total_cleaning_min, least, 6)
            self.assertEqual(len(found.cleaning_min), len(jobs) + 1)
        self.assertEqual(best_order([], after=on_slab).cleaning_min, (10.0,))

    @settings(max_examples=25)
    @given(st.integers(0, 10_000), st.integers(1, 60))
    def test_never_worse_than_given_and_every_job_once(self, seed: int, count: int) -> None:
        jobs = made_up(seed, count)
        found = best_order(jobs)
        self.assertEqual(sorted(found.order), sorted(job.key for job in jobs))
        self.assertLessEqual(found.total_cleaning_min, found.as_given_cleaning_min + 1e-9)
        by_key = {job.key: job for job in jobs}
        hazards = [by_key[key].hazard for key in found.order]
        self.assertEqual(hazards, sorted(hazards))

    def test_what_is_refused_is_named(self) -> None:
        for field, jobs in (
            ("jobs.1.key", [WORKED[0], WORKED[0]]),
            ("jobs.0.lightness", [Job("a", 1, 101, 0, "")]),
            ("jobs.0.minutes", [Job("a", 1_441, 50, 0, "")]),
            ("jobs.0.staining", [Job("a", 1, 50, 4, "")]),
            ("jobs", made_up(1, 201)),
        ):
            with self.assertRaises(Refused) as caught:
                best_order(jobs)
            self.assertEqual(caught.exception.field, field)


class Clock(unittest.TestCase):
    HOURS = Hours(540, 1_020, (Break(750, 780),))

    def test_jobs_wait_for_a_break_to_pass_and_errands_fill_the_gap(self) -> None:
        a, b = Job("a", 120, 60, 1, "linseed"), Job("b", 100, 50, 1, "linseed")
        table = timetable([a, b], [Errand("look", 20), Errand("long", 40)], self.HOURS)
        at = {slot.key: (slot.start_min, slot.end_min) for slot in table.slots}
        self.assertEqual(at["a"], (540, 660))
        self.assertEqual(at["b"], (780, 880), "a hundred minutes are not free before half past twelve")
        self.assertEqual((at["look"], at["long"]), ((664, 684), (684, 724)))
        self.assertEqual(table.left_over, ())
        self.assertEqual(table.cleaning_min, 4 + 10)
        self.assertEqual(table.ends_min, 890)

    def test_what_waits_for_a_moment_comes_before_the_next_job(self) -> None:
        jobs = [Job("a", 60, 60, 1, "linseed"), Job("b", 60, 50, 1, "linseed")]
        table = timetable(jobs, [Errand("at ten", 10, 595), Errand("any", 10)], self.HOURS)
        self.assertEqual([slot.key for slot in table.slots], ["a", "at ten", "b", "any"])
        self.assertEqual(next(slot.start_min for slot in table.slots if slot.key == "at ten"), 600)

    def test_what_no_longer_fits_is_left_over_and_the_rest_moves_up(self) -> None:
        jobs = [
            Job(key, minutes, 60 - n, 1, "o")
            for n, (key, minutes) in enumerate((("a", 200.0), ("b", 200.0), ("c", 100.0), ("d", 20.0)))
        ]
        table = timetable(jobs, [Errand("late", 5, 1_030)], self.HOURS)
        self.assertEqual(set(table.left_over), {"c", "late"})
        self.assertEqual([slot.key for slot in table.slots], ["a", "b", "d"])
        self.assertEqual(timetable([Job("x", 300, 50, 0, "o")], [], self.HOURS).left_over, ("x",))

    def test_the_day_begins_now_where_it_has_begun(self) -> None:
        self.assertEqual(timetable([Job("a", 30, 50, 0, "o")], [], self.HOURS, now_min=700).slots[0].start_min, 700)
        late = timetable([Job("a", 30, 50, 0, "o")], [], self.HOURS, now_min=1_100)
        self.assertEqual((late.slots, late.left_over), ((), ("a",)))

    def test_hours_that_are_no_day_are_refused_at_their_field(self) -> None:
        for field, hours in (
            ("end_min", Hours(600, 600, ())),
            ("end_min", Hours(900, 540, ())),
            ("start_min", Hours(-1, 600, ())),
            ("breaks.0.to_min", Hours(540, 1_020, (Break(700, 700),))),
            ("breaks.0.from_min", Hours(540, 1_020, (Break(500, 560),))),
            ("breaks.1.from_min", Hours(540, 1_020, (Break(700, 760), Break(730, 790)))),
            ("breaks", Hours(540, 1_020, tuple(Break(560 + n, 561 + n) for n in range(0, 18, 2)))),
        ):
            with self.assertRaises(Refused, msg=field) as caught:
                check_hours(hours)
            self.assertEqual(caught.exception.field, field)

    @settings(max_examples=60)
    @given(st.integers(0, 10_000), st.integers(0, 14), st.integers(0, 8))
    def test_nothing_overlaps_a_break_or_another_and_everything_is_somewhere(
        self, seed: int, count: int, short: int
    ) -> None:
        chance = random.Random(seed)
        jobs = made_up(seed, count)
        errands = [
            Errand(f"e{n}", chance.choice((3.0, 12.0, 45.0)), chance.choice((0.0, 600.0, 900.0, 1_100.0)))
            for n in range(short)
        ]
        table = timetable(jobs, errands, self.HOURS)
        keys = [*(slot.key for slot in table.slots), *table.left_over]
        self.assertEqual(sorted(keys), sorted([*(job.key for job in jobs), *(errand.key for errand in errands)]))
        minutes = {job.key: job.minutes for job in jobs} | {errand.key: errand.minutes for errand in errands}
        before = 0.0
        for slot in table.slots:
            self.assertGreaterEqual(slot.start_min, before - 1e-9)
            self.assertAlmostEqual(slot.end_min - slot.start_min, minutes[slot.key])
            self.assertTrue(slot.end_min <= 750 or slot.start_min >= 780)
            self.assertLessEqual(slot.end_min, 1_020)
            before = slot.end_min
        for errand in errands:
            found = next((slot for slot in table.slots if slot.key == errand.key), None)
            self.assertTrue(found is None or found.start_min >= errand.from_min)

    def test_the_first_free_moment(self) -> None:
        self.assertEqual(first_free(0, 30, self.HOURS), 540)
        self.assertEqual(first_free(740, 30, self.HOURS), 780)
        self.assertEqual(first_free(720, 30, self.HOURS), 720)
        self.assertIsNone(first_free(1_000, 30, self.HOURS))


class Slabs(unittest.TestCase):
    def test_two_slabs_share_the_work_so_that_the_longer_day_is_shortest(self) -> None:
        for seed in range(12):
            jobs = [job for job in made_up(seed, 6) if not job.hazard]
            least = min(
                max(
                    best_order([job for n, job in enumerate(jobs) if bool(chosen >> n & 1) is side]).total_min
                    for side in (True, False)
                )
                for chosen in range(1 << len(jobs))
            )
            found = share_out(jobs, 2)
            self.assertAlmostEqual(max(order.total_min for order in found), least, 6, str(seed))
            self.assertEqual(sorted(key for order in found for key in order.order), sorted(job.key for job in jobs))

    def test_hazardous_jobs_have_a_slab_to_themselves(self) -> None:
        plain, hazardous = share_out(WORKED, 2)
        self.assertEqual((set(plain.order), hazardous.order), ({"a", "b", "c"}, ("d",)))
        three = share_out(WORKED, 3)
        self.assertEqual(three[-1].order, ("d",))
        self.assertEqual(share_out(WORKED, 1)[0], best_order(WORKED))
        with self.assertRaises(Refused):
            share_out(WORKED, 0)

    def test_many_jobs_are_shared_nearly_evenly(self) -> None:
        jobs = [job for job in made_up(3, 40) if not job.hazard]
        longest = [order.total_min for order in share_out(jobs, 3)]
        self.assertLess(max(longest) - min(longest), 60)


class CleaningLearned(unittest.TestCase):
    def test_nothing_noted_is_as_assumed_and_much_noted_is_what_was_noted(self) -> None:
        self.assertEqual(pace_of([]), USUAL)
        pace = pace_of([Cleaned(20, 10, 1)] * 60)
        self.assertAlmostEqual(pace.of(1), 2.0, delta=0.1)
        self.assertAlmostEqual(pace.of(3), 2.0 ** (60 / 64), delta=1e-6)
        self.assertEqual(pace.cleanings, 60)

    def test_a_class_of_staining_goes_its_own_way_as_far_as_it_says_so(self) -> None:
        noted = [Cleaned(10, 10, 0)] * 20 + [Cleaned(30, 10, 3)] * 20
        pace = pace_of(noted)
        self.assertLess(pace.of(0), pace.of(1))
        self.assertLess(pace.of(1), pace.of(3))
        studio = 20 * math.log(3) / 44
        self.assertAlmostEqual(math.log(pace.of(3)), studio + 20 * (math.log(3) - studio) / 24)
        self.assertLessEqual(pace_of([Cleaned(100_000, 1, 2)] * 500).of(2), 10.0)

    def test_the_order_reckons_with_it(self) -> None:
        slow = Pace((1.0, 1.0, 1.0, 3.0), 9)
        a, b, *_ = WORKED
        self.assertAlmostEqual(cleaning_min(a, b, slow), 3 * cleaning_min(a, b))
        self.assertAlmostEqual(best_order([a], slow).total_cleaning_min, 30.0)


class CleaningTold(unittest.TestCase):
    def test_the_figure_is_the_sum_with_every_wipe_and_its_basis(self) -> None:
        names = {job.key: job.key.upper() for job in WORKED}
        found = cleaning_figure([WORKED[:2], WORKED[2:]], names)
        wipes = [given.value for given in found.working.inputs]
        self.assertEqual(wipes, [*cost_of(WORKED[:2]), *cost_of(WORKED[2:])])
        self.assertAlmostEqual(found.value, math.fsum(float(wipe) for wipe in wipes))
        self.assertEqual((found.unit, found.basis), ("min", Basis.ASSUMED))
        self.assertEqual(found.working.inputs[-1].name, "at the end, after D")
        learned = cleaning_figure([WORKED[:1]], names, Pace((1.0, 1.0, 1.0, 3.0), 9))
        self.assertIs(learned.basis, Basis.LEARNED)
        self.assertIn(3.0, [given.value for given in learned.working.inputs], "the pace is among the inputs")

    def test_what_was_put_on_since_comes_behind_the_chosen_order(self) -> None:
        self.assertEqual(as_chosen(["a", "b", "c"], None), ["a", "b", "c"])
        self.assertEqual(as_chosen(["a", "b", "c", "d"], ["c", "gone", "a"]), ["c", "a", "b", "d"])


class Errands(unittest.TestCase):
    def due(self, room: str, n: int) -> Due:
        return Due(room, str(n), "Use by", f"tube {n}", "says", AT + timedelta(hours=n), f"/{room}/{n}")

    def test_many_of_a_kind_are_one_from_when_the_first_can_be_done(self) -> None:
        found = as_errands([self.due("shelf", n) for n in (3, 1, 2)])
        self.assertEqual(len(found), 1)
        self.assertEqual(
            (found[0].name, found[0].at, found[0].takes_min), ("3 tubes and jars", AT + timedelta(hours=1), 6.0)
        )
        self.assertEqual(found[0].page, "/shelf?show=due&sort=due")

    def test_two_and_rooms_without_a_list_stay_single(self) -> None:
        found = as_errands([self.due("shelf", 1), self.due("shelf", 2), *(self.due("sludge", n) for n in range(3))])
        self.assertEqual([one.takes_min for one in found], [2.0, 2.0, 5.0, 5.0, 5.0])
        self.assertEqual([one.name for one in found][:2], ["tube 1", "tube 2"])

    def test_what_is_left_of_a_job(self) -> None:
        for ran, left in ((0, 60), (25, 35), (55, 10), (300, 10), (601, 60), (-5, 60)):
            self.assertEqual(left_min(60, ran), left, ran)

    def test_filling_takes_longer_by_each_tube(self) -> None:
        self.assertEqual(fill_min(5), 7.5)
        self.assertEqual(fill_min(120), 12.0)
