"""A run at the bench, in the core: what it asks for, lots in place of ingredients, powders, the light test."""

import unittest
from dataclasses import replace
from datetime import UTC, datetime, timedelta
from typing import Any

from hypothesis import given
from hypothesis import strategies as st

from niddy.core.errors import Refused
from niddy.core.making import (
    Does,
    Fading,
    Ingredient,
    LightTest,
    LightVerdict,
    Process,
    ProcessStep,
    RawLot,
    Run,
    RunLogged,
    StepKind,
    Tap,
    advise,
    check,
    completes,
    density_by_displacement,
    fading_of,
    grams_per_gram,
    hand_minutes,
    is_dry,
    particle_of,
    plan_run,
    run_after,
    run_of,
    sieve,
    strength_percent,
    suggested,
)
from niddy.core.making.light import FadeRead, next_look
from niddy.core.making.sieving import Fraction
from niddy.core.materials import Particle
from niddy.core.steps import Window
from tests.core.making_acts import logged

BEGUN = datetime(2026, 3, 2, 9, tzinfo=UTC)
PROCESS = Process(
    "Green",
    (
        Ingredient("salt", "Blue salt", 50.0, Does.SALT, "CuSO4.5H2O", 1.0, 10.0),
        Ingredient("soda", "Soda", 25.0, Does.PRECIPITANT, "Na2CO3", 1.0, 10.0),
    ),
    (
        ProcessStep("dissolve", StepKind.DISSOLVE, "Dissolve"),
        ProcessStep("ph", StepKind.ACIDITY, "pH", ingredient="soda", ph=Window("pH", "", 6.5, 8.5)),
        ProcessStep("hold", StepKind.HOLD, "Hold", minutes=60.0),
        ProcessStep("wash", StepKind.WASH, "Wash", wash_ml=200.0, washes=2),
        ProcessStep("sieve", StepKind.SIEVE, "Sieve"),
    ),
    ("Cu2(OH)2CO3", "Na2SO4", "CO2", "H2O"),
    "Cu2(OH)2CO3",
)
PLAN = plan_run(PROCESS).weigh


class Bench:
    """A log of a run on a clock in minutes."""

    def __init__(self) -> None:
        self.acts: list[RunLogged] = []
        self.now = BEGUN

    def act(self, kind: str, after_min: float = 1.0, **what: object) -> Run:
        self.now += timedelta(minutes=after_min)
        one = logged(len(self.acts) + 1, kind, self.now, **what)
        before = run_of(self.acts)
        after = run_of([*self.acts, one])
        step = next((s for s in PROCESS.steps if s.key == one.facts.step), None) or self.step(before)
        if completes(PROCESS, PLAN, before, after, one.act, step):
            assert step is not None
            one = logged(one.seq, kind, self.now, completes=True, **{**what, "step": step.key})
        self.acts.append(one)
        return run_of(self.acts)

    def step(self, run: Run) -> ProcessStep | None:
        return next((s for s in PROCESS.steps if s.key not in run.past), None)


class Guided(unittest.TestCase):
    def test_every_step_says_what_to_do_and_the_last_act_of_one_ends_it(self) -> None:
        bench = Bench()
        seen: list[tuple[Tap, str]] = []

        def says() -> Tap:
            now = advise(PROCESS, PLAN, run_of(bench.acts), 200.0, bench.now)
            seen.append((now.tap, now.says))
            return now.tap

        self.assertIs(says(), Tap.READY)
        bench.act("ready")
        self.assertIs(says(), Tap.WEIGH_IN)
        bench.act("added", ingredient="salt", g=49.9)
        self.assertEqual(advise(PROCESS, PLAN, run_of(bench.acts), 200.0, bench.now).ingredient, "soda")
        run = bench.act("added", ingredient="soda", g=10.0)
        self.assertNotIn("dissolve", run.done)
        self.assertAlmostEqual(advise(PROCESS, PLAN, run, 200.0, bench.now).grams or 0, 15.0)
        run = bench.act("added", ingredient="soda", g=15.0)
        self.assertIn("dissolve", run.done)
        self.assertIs(says(), Tap.PH)
        bench.act("ph", ph=5.1)
        low = advise(PROCESS, PLAN, run_of(bench.acts), 200.0, bench.now)
        self.assertIn("spoon more of the soda", low.how)
        bench.act("ph", ph=7.0)
        self.assertIs(says(), Tap.DONE)
        bench.act("done", step="ph")
        self.assertIs(says(), Tap.HOLD)
        bench.act("hold", step="hold")
        waiting = advise(PROCESS, PLAN, run_of(bench.acts), 200.0, bench.now + timedelta(minutes=20))
        self.assertEqual((waiting.waiting, waiting.ready_at), (True, bench.now + timedelta(minutes=60)))
        over = advise(PROCESS, PLAN, run_of(bench.acts), 200.0, bench.now + timedelta(minutes=61))
        self.assertIn("time is up", over.says)
        bench.act("done", 61, step="hold")
        self.assertEqual((says(), seen[-1][1]), (Tap.WASH, "Wash 1 of 2"))
        bench.act("washed", ml=200.0)
        self.assertNotIn("wash", run_of(bench.acts).done)
        self.assertIn("wash", bench.act("washed", ml=200.0).done)
        self.assertIs(says(), Tap.SIEVE)
        bench.act("sieved", fractions=(Fraction(125.0, 1.0),), pan_g=15.0)
        self.assertIs(says(), Tap.FINISH)

    def test_a_hold_that_rested_asks_to_go_on(self) -> None:
        bench = Bench()
        for kind, what in (
            ("ready", {}),
            ("done", {"step": "dissolve"}),
            ("done", {"step": "ph"}),
            ("added", {"ingredient": "salt", "g": 50.0}),
            ("hold", {"step": "hold"}),
            ("rest", {"step": "hold"}),
        ):
            bench.act(kind, 5.0, **what)
        self.assertIs(advise(PROCESS, PLAN, run_of(bench.acts), None, bench.now).tap, Tap.HOLD)

    def test_work_is_what_lies_close_together(self) -> None:
        acts = [logged(n + 1, "ph", BEGUN + timedelta(minutes=at), ph=7.0) for n, at in enumerate((0, 10, 25, 900))]
        self.assertAlmostEqual(hand_minutes(acts), 5 + 10 + 15 + 5)
        self.assertEqual(hand_minutes([]), 0.0)


class Lots(unittest.TestCase):
    def test_another_hydrate_or_purity_weighs_otherwise(self) -> None:
        self.assertAlmostEqual(grams_per_gram("Na2CO3", 1.0, "Na2CO3.10H2O", 1.0), 286.14 / 105.99, 3)
        self.assertAlmostEqual(grams_per_gram("Na2CO3", 0.99, "Na2CO3", 0.9), 1.1)
        self.assertEqual(grams_per_gram("", 1.0, "", 1.0), 1.0)
        with self.assertRaises(Refused) as caught:
            grams_per_gram("Na2CO3", 1.0, "K2CO3", 1.0)
        self.assertEqual(caught.exception.field, "lot_formula")

    def test_a_plan_of_crystals_weighs_more_and_takes_less_water(self) -> None:
        dry = plan_run(PROCESS)
        wet = plan_run(PROCESS, lots={"soda": RawLot("Na2CO3.10H2O", 1.0)})
        (_, soda), (_, crystals) = dry.weigh, wet.weigh
        self.assertAlmostEqual(crystals.g, 25 * 286.142 / 105.989, 2)
        self.assertAlmostEqual(crystals.solution_g, soda.solution_g)
        self.assertEqual(wet.theory_g, dry.theory_g)
        have = plan_run(PROCESS, on_hand={"soda": crystals.g}, lots={"soda": RawLot("Na2CO3.10H2O", 1.0)})
        self.assertAlmostEqual(have.factor, 1.0)
        with self.assertRaises(Refused) as caught:
            plan_run(PROCESS, lots={"soda": RawLot("K2CO3", 1.0)})
        self.assertEqual(caught.exception.field, "lots.1")

    @given(st.floats(0.2, 1.0), st.floats(0.2, 1.0))
    def test_theory_does_not_change_with_the_lot(self, salt: float, soda: float) -> None:
        lots = {"salt": RawLot("CuSO4.5H2O", salt), "soda": RawLot("Na2CO3.H2O", soda)}
        self.assertAlmostEqual(plan_run(PROCESS, lots=lots).theory_g or 0, 22.139, 2)


class Powder(unittest.TestCase):
    def test_density_by_displacement(self) -> None:
        density, half = density_by_displacement(10.0, 62.4, 69.98, 0.93)
        self.assertAlmostEqual(density, 9.3 / 2.42, 6)
        self.assertTrue(0 < half < 0.2)
        for with_powder in (62.4, 60.0, 72.4, 73.0, 72.39):
            with self.assertRaises(Refused) as caught:
                density_by_displacement(10.0, 62.4, with_powder, 0.93)
            self.assertEqual(caught.exception.field, "with_powder_g")

    @given(st.floats(1.0, 100.0), st.floats(1.2, 10.0), st.floats(0.85, 0.98))
    def test_displacement_gives_back_the_density(self, powder: float, density: float, oil: float) -> None:
        full = 200.0
        with_powder = full + powder - powder / density * oil
        self.assertAlmostEqual(density_by_displacement(powder, full, with_powder, oil)[0], density, 5)

    def test_grain_by_the_sieve(self) -> None:
        fine = sieve([Fraction(63.0, 0.5), Fraction(38.0, 2.0), Fraction(20.0, 9.0)], 3.0)
        self.assertIs(particle_of(fine, None), Particle.FINE)
        self.assertIs(particle_of(None, 125.0), Particle.MEDIUM)
        self.assertIs(particle_of(None, 250.0), Particle.COARSE)
        self.assertIs(particle_of(None, None), Particle.MEDIUM)

    def test_strength_is_the_white_it_carries(self) -> None:
        self.assertAlmostEqual(strength_percent(12.0, 10.0), 120.0)


class InTheLight(unittest.TestCase):
    def looked(self, *looks: tuple[float, Fading]) -> LightTest:
        test = LightTest(BEGUN)
        for days, fading in looks:
            test = test.looked(FadeRead(BEGUN + timedelta(days=days), fading))
        return test

    def test_looked_at_after_a_week_a_month_and_three(self) -> None:
        for looks, days in (((), 7), (((6.5, Fading.NONE),), 28), (((29, Fading.NONE),), 84), (((3, Fading.NONE),), 7)):
            self.assertEqual(next_look(self.looked(*looks)), BEGUN + timedelta(days=days), looks)
        self.assertIsNone(next_look(self.looked((85, Fading.NONE))))

    def test_a_verdict_waits_for_time_unless_it_is_gone(self) -> None:
        for looks, verdict in (
            ((), None),
            (((7, Fading.NONE),), None),
            (((7, Fading.BARELY), (28, Fading.CLEARLY)), None),
            (((7, Fading.CLEARLY),), LightVerdict.FUGITIVE),
            (((28, Fading.GONE),), LightVerdict.FUGITIVE),
            (((84, Fading.NONE),), LightVerdict.HOLDS),
            (((84, Fading.BARELY),), LightVerdict.FADES),
            (((84, Fading.CLEARLY),), LightVerdict.FUGITIVE),
        ):
            self.assertIs(suggested(self.looked(*looks)), verdict, looks)

    def test_a_reading_is_a_grade(self) -> None:
        for off, fading in ((0.4, Fading.NONE), (1.5, Fading.BARELY), (5.0, Fading.CLEARLY), (25, Fading.GONE)):
            self.assertIs(fading_of(off), fading)


class Wanted(unittest.TestCase):
    def test_two_products_wanted_are_named(self) -> None:
        bad = replace(PROCESS, wanted="Cu2(OH)2CO3 + Na2SO4")
        for does in (lambda: check(bad), lambda: plan_run(bad)):
            with self.assertRaises(Refused) as caught:
                does()
            self.assertEqual((caught.exception.field, caught.exception.problem), ("wanted", "more than one product"))


TWICE = Process(
    "Roasted",
    (
        Ingredient("iron", "Green salt", 27.8, Does.SALT, formula="FeSO4.7H2O"),
        Ingredient("soda", "Soda", 10.6, Does.PRECIPITANT, formula="Na2CO3"),
    ),
    (
        ProcessStep("first-wash", StepKind.WASH, "Wash", wash_ml=200.0, washes=2),
        ProcessStep("first-dry", StepKind.DRY, "Dry"),
        ProcessStep("roast", StepKind.HEAT, "Roast", from_formula="FeCO3", to_formula="Fe2O3"),
        ProcessStep("last-wash", StepKind.WASH, "Wash again", wash_ml=200.0, washes=2),
        ProcessStep("last-dry", StepKind.DRY, "Dry again"),
    ),
    products=("FeCO3", "Na2SO4", "H2O"),
    wanted="FeCO3",
)


class EachStepItsOwn(unittest.TestCase):
    """What is washed, weighed and heated belongs to its step: a second one is not done because the first was."""

    def run_after(self, *acts: RunLogged) -> Run:
        run = Run(ready=True)
        for act in acts:
            run = run_after(run, act)
        return run

    def act(self, kind: str, step: str, hours: float = 0.0, **what: Any) -> RunLogged:
        self.seq = getattr(self, "seq", 0) + 1
        return logged(self.seq, kind, BEGUN + timedelta(hours=hours), step=step, **what)

    def washed(self, step: str) -> list[RunLogged]:
        return [self.act("washed", step, ml=200.0) for _ in range(2)]

    def dried(self, step: str, since: float, heavy: float, dry: float) -> list[RunLogged]:
        grams = (heavy, dry + 3, dry, dry)
        return [self.act("weighed", step, since + 26 * n, g=one) for n, one in enumerate(grams)]

    def test_a_second_wash_and_a_second_drying_are_asked_for(self) -> None:
        done = [self.act("done", key) for key in ("first-wash", "first-dry", "roast")]
        acts = [*self.washed("first-wash"), done[0], *self.dried("first-dry", 0, 40, 11.6), *done[1:]]
        run = self.run_after(*acts)
        advice = advise(TWICE, [], run, 200.0, BEGUN)
        self.assertEqual((advice.tap, advice.says), (Tap.WASH, "Wash 1 of 2"))
        step = TWICE.steps[3]
        once = self.run_after(*acts, self.act("washed", "last-wash", ml=200.0))
        self.assertFalse(completes(TWICE, [], run, once, self.washed("last-wash")[0].act, step))
        twice = self.run_after(*acts, *self.washed("last-wash"))
        self.assertTrue(completes(TWICE, [], once, twice, self.washed("last-wash")[0].act, step))
        wet = self.run_after(*acts, *self.washed("last-wash"), self.act("done", "last-wash"))
        self.assertEqual(advise(TWICE, [], wet, None, BEGUN).tap, Tap.WEIGH)
        self.assertTrue(is_dry(wet, "first-dry"))
        self.assertFalse(is_dry(wet, "last-dry"))
        one = self.act("weighed", "last-dry", 200, g=30.0)
        self.assertFalse(completes(TWICE, [], wet, run_after(wet, one), one.act, TWICE.steps[4]))
        dry = wet
        for act in self.dried("last-dry", 200, 30, 8.0):
            dry = run_after(dry, act)
        self.assertTrue(is_dry(dry, "last-dry"))

    def test_what_names_no_step_counts_as_it_did(self) -> None:
        run = self.run_after(*[self.act("washed", "", ml=200.0) for _ in range(2)])
        self.assertEqual((run.washes_of("first-wash"), run.washes_of("last-wash")), (2, 2))

    def test_theory_is_of_the_compound_that_is_weighed(self) -> None:
        self.assertEqual(TWICE.becomes(()), ("FeCO3", 1.0))
        named, factor = TWICE.becomes(("roast",))
        # 2 FeCO3 (115.854 g/mol) leave one Fe2O3 (159.687).
        self.assertAlmostEqual(factor, 159.687 / (2 * 115.854), places=4)
        self.assertNotEqual(named, "FeCO3")
        self.assertEqual(TWICE.becomes()[1], factor)
        other = replace(TWICE, steps=(replace(TWICE.steps[2], from_formula="CaCO3", to_formula="CaO"),))
        self.assertEqual(other.becomes()[1], 1.0)
