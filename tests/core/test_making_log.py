"""A run as its log tells it, and runs beside one another: one change at a time."""

import random
import unittest
from datetime import UTC, datetime, timedelta
from typing import Any
from uuid import UUID

from hypothesis import given
from hypothesis import strategies as st

from niddy.core.log import Status
from niddy.core.making import (
    CAUSES,
    Change,
    Does,
    Fraction,
    Ingredient,
    Process,
    ProcessStep,
    Run,
    RunFacts,
    RunLogged,
    StepKind,
    Takes,
    differences,
    drying,
    held_min,
    is_dry,
    out_of_order,
    ph_inside,
    propose,
    run_after,
    run_of,
    step_now,
    washed_to,
    yield_of,
)
from niddy.core.sludge import mass_at
from niddy.core.steps import Window
from tests.core.making_acts import MODELS, logged

BEGUN = datetime(2026, 3, 2, 9, tzinfo=UTC)
PROCESS = Process(
    "Lake",
    (Ingredient("soda", "Soda", 7.0, Does.PRECIPITANT),),
    (
        ProcessStep("add", StepKind.ADD, "Soda in", ingredient="soda"),
        ProcessStep("ph", StepKind.ACIDITY, "pH", ph=Window("pH", "", 6.5, 8.5)),
        ProcessStep("hold", StepKind.HOLD, "Hold", minutes=60.0),
        ProcessStep("dry", StepKind.DRY, "Dry"),
    ),
)


class Log:
    """A log of a run, with a clock in minutes."""

    def __init__(self) -> None:
        self.acts: list[RunLogged] = []

    def act(self, minutes: float, kind: str, **what: Any) -> UUID:
        n = len(self.acts) + 1
        self.acts.append(logged(n, kind, BEGUN + timedelta(minutes=minutes), **what))
        return self.acts[-1].id

    def now(self) -> Run:
        return run_of(self.acts)


class Runs(unittest.TestCase):
    def setUp(self) -> None:
        self.log = Log()

    def test_steps_come_in_order_are_skipped_and_done_early_with_a_reason(self) -> None:
        first = step_now(PROCESS, self.log.now())
        assert first is not None
        self.assertEqual(first.key, "add")
        self.log.act(1, "added", ingredient="soda", g=4.0, step="add")
        self.log.act(2, "added", ingredient="soda", g=3.0, step="add")
        self.log.act(3, "done", step="add")
        early = out_of_order(PROCESS, self.log.now(), "hold")
        assert early is not None
        self.assertEqual(early.key, "ph")
        self.log.act(4, "done", step="hold", why="the fire was on")
        self.log.act(5, "skip", step="ph", why="no strips")
        run = self.log.now()
        self.assertEqual(
            (run.added, run.early, run.skipped), ({"soda": 7.0}, {"hold": "the fire was on"}, {"ph": "no strips"})
        )
        last = step_now(PROCESS, run)
        assert last is not None
        self.assertEqual(last.key, "dry")
        self.assertIsNone(out_of_order(PROCESS, run, "dry"))

    def test_ph_inside_is_of_the_time_between_readings(self) -> None:
        self.assertIsNone(ph_inside(PROCESS, self.log.now()))
        for minutes, ph in ((0, 5.5), (10, 7.5), (30, 7.5)):
            self.log.act(minutes, "ph", ph=ph)
        self.assertAlmostEqual(ph_inside(PROCESS, self.log.now()) or 0, 25 / 30)

    def test_a_hold_outlives_pauses_and_is_ended_by_done(self) -> None:
        self.log.act(0, "hold", step="hold")
        self.log.act(20, "rest", step="hold")
        self.log.act(50, "hold", step="hold")
        now = BEGUN + timedelta(minutes=60)
        self.assertAlmostEqual(held_min(self.log.now(), "hold", now), 30)
        self.log.act(70, "done", step="hold")
        self.assertAlmostEqual(held_min(self.log.now(), "hold", now + timedelta(days=2)), 40)

    def test_washes_dilute_what_is_left(self) -> None:
        self.assertIsNone(washed_to(self.log.now(), 40))
        for _ in range(4):
            self.log.act(5, "washed", ml=200.0)
        self.assertAlmostEqual(washed_to(self.log.now(), 40) or 0, 0.000772, 6)

    def test_it_dries_as_a_dish_does(self) -> None:
        for hours in (0, 6, 24, 48):
            self.log.act(60 * hours, "weighed", g=mass_at(hours, 180, 112, 26))
        found = drying(self.log.now())
        assert found is not None
        self.assertTrue(found.dry_g.low < 112 < found.dry_g.high)
        self.assertFalse(is_dry(self.log.now()))
        self.log.act(60 * 200, "weighed", g=112.1)
        self.log.act(60 * 226, "weighed", g=112.0)
        self.assertTrue(is_dry(self.log.now()))
        self.log.act(60 * 230, "weighed", g=150.0)
        self.assertIsNone(drying(self.log.now()))

    def test_sieved_heated_finished_and_yield(self) -> None:
        self.log.act(1, "heated", before_g=10.0, g=7.2)
        self.log.act(2, "sieved", fractions=(Fraction(125, 2), Fraction(63, 8)), pan_g=9.0, g=20.0)
        self.log.act(3, "waste", ml=400.0)
        finish = self.log.act(4, "finish", g=18.0)
        run = self.log.now()
        assert run.sieved is not None
        self.assertEqual((run.heated, run.waste_ml, run.status), ((10.0, 7.2), 400.0, Status.FINISHED))
        self.assertAlmostEqual(run.sieved.loss_fraction or 0, 0.05)
        self.assertAlmostEqual(yield_of(18.0, 20.0, 99.0), 0.9)
        self.assertAlmostEqual(yield_of(18.0, None, 90.0), 0.2)
        self.log.act(5, "strike", strikes=finish)
        self.assertIs(self.log.now().status, Status.OPEN)

    @given(st.integers(0, 2**32))
    def test_act_by_act_it_is_what_the_whole_log_says(self, seed: int) -> None:
        chance, log, state = random.Random(seed), Log(), Run()
        for n in range(chance.randint(1, 25)):
            kind = chance.choice([kind for kind in MODELS if kind != "strike"])
            key = chance.choice(PROCESS.steps).key
            log.act(
                n,
                kind,
                step=key,
                ingredient="soda",
                g=chance.uniform(1, 90),
                ph=chance.uniform(2, 12),
                temperature_c=50.0,
                ml=chance.uniform(1, 300),
                before_g=100.0,
                why=chance.choice(("", "so")),
                fractions=(Fraction(63, 0.5),),
                pan_g=0.1,
            )
            state = run_after(state, log.acts[-1])
        self.assertEqual(log.now(), state)


def facts(number: int, **what: Any) -> RunFacts:
    given_ = {
        "yield_": 0.85,
        "ph_inside": 1.0,
        "washes": 4,
        "washed_ml": 800.0,
        "hold_min": 60.0,
        "hottest_c": None,
        "grams_in": 75.0,
        "takes": None,
        "lots": {"Soda": "S-1"},
    }
    return RunFacts(number, **{**given_, **what})


class Beside(unittest.TestCase):
    def test_runs_differ_in_what_differs_by_more_than_nobody_would_mean(self) -> None:
        one = facts(1)
        self.assertEqual(differences(one, facts(2, hold_min=62.0, washed_ml=810.0, grams_in=76.0)), ())
        other = facts(2, ph_inside=0.6, washes=2, hold_min=20.0, grams_in=150.0, lots={"Soda": "S-2"})
        self.assertEqual(
            [found.what for found in differences(one, other)],
            ["pH inside its window", "washes", "time held", "scale", "lot of soda"],
        )

    def test_exactly_one_change_is_proposed_the_likeliest_first(self) -> None:
        self.assertIsNone(propose([], 4, 60))
        self.assertIsNone(propose([facts(1)], 4, 60))
        for run, what in (
            (facts(1, ph_inside=0.5, washes=1), "pH"),
            (facts(1, takes=Takes.GRITTY, washes=2), "washes"),
            (facts(1, washes=2), "washes"),
            (facts(1, hold_min=10.0), "time held"),
        ):
            found = propose([run], 4, 60)
            assert isinstance(found, Change)
            self.assertEqual(found.what, what)
        gritty = propose([facts(1, takes=Takes.GRITTY, washes=4)], 4, None)
        assert gritty is not None
        self.assertEqual((gritty.now, gritty.to), ("4", "6"))

    def test_what_was_changed_last_is_not_changed_at_once_again(self) -> None:
        runs = [facts(1, ph_inside=0.5), facts(2, ph_inside=0.6, washes=2, changed="pH")]
        found = propose(runs, 4, 60)
        assert found is not None
        self.assertEqual(found.what, "washes")

    def test_the_best_run_is_gone_back_to(self) -> None:
        runs = [facts(1, yield_=0.9), facts(2, yield_=0.7, lots={"Soda": "S-2"})]
        found = propose(runs, 4, 60)
        assert found is not None
        self.assertEqual((found.what, found.to), ("lot of soda", "S-1"))
        self.assertIn("run 1", found.why)

    def test_causes_stand_in_their_order(self) -> None:
        self.assertIn("too coarse", CAUSES[Takes.GRITTY][0])
        self.assertIn("damp", CAUSES[Takes.SEIZES][0])
