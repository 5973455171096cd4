"""The day: cleaning between jobs, the order with the least of it, and a maker's eye."""

import random
import unittest
from itertools import permutations

from hypothesis import given, settings
from hypothesis import strategies as st

from niddy.core.day import EXACT_UP_TO, USUAL, Job, best_order, cleaning_min, cost_of, end_min
from niddy.core.errors import Refused
from niddy.core.eye import EYE_SD, Judgement, eye_of, middle_of
from niddy.core.wetting import Body, body_at

WORKED = (
    Job("a", 60, 35, 3, "linseed"), Job("b", 45, 92, 0, "walnut"), Job("c", 50, 60, 1, "linseed"),
    Job("d", 55, 80, 1, "linseed", hazard=True),
)  # fmt: skip
OILS = ("linseed", "walnut", "poppy")


def made_up(seed: int, count: int) -> list[Job]:
    """A seeded day."""
    chance = random.Random(seed)
    return [
        Job(f"j{n}", chance.choice((20.0, 45.0, 90.0)), chance.choice((25.0, 40.0, 55.0, 70.0, 92.0)),
            chance.randrange(4), chance.choice(OILS), chance.random() < 0.2)
        for n in range(count)
    ]  # fmt: skip


def brute(jobs: list[Job]) -> tuple[float, tuple[str, ...]]:
    """The least cleaning over all orders with the hazardous last, and of the best the nearest to the given one."""
    least, best = float("inf"), ()
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
            found = ordering._total(costs, ordering._searched(jobs, costs, plain))
            self.assertLessEqual(found, 1.02 * ordering._total(costs, ordering._exact(costs, plain)) + 1e-9, seed)

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
            ("jobs.1.key", [WORKED[0], WORKED[0]]), ("jobs.0.lightness", [Job("a", 1, 101, 0, "")]),
            ("jobs.0.minutes", [Job("a", 1_441, 50, 0, "")]), ("jobs.0.staining", [Job("a", 1, 50, 4, "")]),
            ("jobs", made_up(1, 201)),
        ):  # fmt: skip
            with self.assertRaises(Refused) as caught:
                best_order(jobs)
            self.assertEqual(caught.exception.field, field)


class OfTheEye(unittest.TestCase):
    def test_worked_figures(self) -> None:
        said = ((0.86, Body.STIFF), (0.80, Body.TUBE), (0.72, Body.SOFT))
        eye = eye_of([Judgement(true, body) for true, body in said])
        self.assertAlmostEqual(eye.bias, 0.03491, 5)
        self.assertAlmostEqual(eye.sd, 0.05069, 5)

    def test_before_any_judgement_it_is_any_eye(self) -> None:
        eye = eye_of([])
        self.assertEqual((eye.bias, eye.sd), (0.0, EYE_SD))

    def test_many_judgements_find_the_bias(self) -> None:
        chance = random.Random(4)
        judged = []
        for _ in range(4_000):
            true = chance.uniform(0.62, 1.0)
            judged.append(Judgement(true, body_at(true + 0.04)))
        self.assertAlmostEqual(eye_of(judged).bias, 0.04, delta=0.006)

    def test_middles_lie_in_their_body(self) -> None:
        for body in Body:
            self.assertIs(body_at(middle_of(body)), body)

    def test_a_truth_off_the_scale_is_named(self) -> None:
        with self.assertRaises(Refused) as caught:
            eye_of([Judgement(0.8, Body.TUBE), Judgement(2.0, Body.TUBE)])
        self.assertEqual(caught.exception.field, "judgements.1.true_reduced_pvc")
