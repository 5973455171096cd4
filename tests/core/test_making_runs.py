"""Processes and their runs on paper: what is refused, what is weighed, what a run may come to; pH kept inside."""

import math
import random
import unittest
from dataclasses import replace

from hypothesis import given
from hypothesis import strategies as st

from niddy.core.errors import Refused
from niddy.core.estimate import Basis
from niddy.core.making import (
    Does,
    Ingredient,
    OwnYield,
    PhReading,
    Process,
    ProcessStep,
    StepKind,
    Template,
    Through,
    asks_for,
    check,
    lake,
    parts_of,
    plan_run,
    share_inside,
    template,
    told_of,
)
from niddy.core.measures import Unit
from niddy.core.steps import Window
from niddy.core.telling import Habit

WINDOW = Window("pH", "", 6.5, 8.5)
WASH = ProcessStep("wash", StepKind.WASH, "Wash it", wash_ml=200.0, washes=4)
CARBONATE = Process(
    "Basic copper carbonate",
    (
        Ingredient("copper", "Copper sulfate", 50.0, Does.SALT, "CuSO4.5H2O", 1.0, 10.0),
        Ingredient("soda", "Soda", 25.0, Does.PRECIPITANT, "Na2CO3", 1.0, 20.0),
    ),
    (ProcessStep("ph", StepKind.ACIDITY, "Keep it in", ingredient="soda", ph=WINDOW), WASH),
    ("Cu2(OH)2CO3", "Na2SO4", "CO2", "H2O"),
    "Cu2(OH)2CO3",
)


class Case(unittest.TestCase):
    def refused(self, field: str, does: object, *what: object, **named: object) -> Refused:
        with self.assertRaises(Refused) as caught:
            does(*what, **named)  # type: ignore[operator]
        self.assertEqual(caught.exception.field, field)
        return caught.exception


class Processes(Case):
    def test_templates_are_processes_once_they_have_a_name(self) -> None:
        for which in Template:
            made = replace(template(which), name="Mine")
            if which is Template.BLANK:
                self.refused("ingredients", check, made)
            elif which is Template.PRECIPITATION:
                self.refused("ingredients.0.name", check, made)
            else:
                check(made)
                self.assertTrue(any(step.kind is StepKind.WASH for step in made.steps))
        self.assertEqual(template(Template.LAKE_ALUM).hazards, ("foams",))

    def test_what_is_no_process_is_named(self) -> None:
        check(CARBONATE)
        salt, soda = CARBONATE.ingredients
        for field, what in (
            ("name", {"name": " "}),
            ("ingredients.1.name", {"ingredients": (salt, salt)}),
            ("ingredients.0.parts_g", {"ingredients": (replace(salt, parts_g=0.0), soda)}),
            ("ingredients.0.purity", {"ingredients": (replace(salt, purity=0.0), soda)}),
            ("products", {"ingredients": (salt, replace(soda, formula="Na2CO"))}),
            ("ingredients.1.formula", {"ingredients": (salt, replace(soda, formula="Na2((CO3"))}),
            ("ingredients.1.solution_pct", {"ingredients": (salt, replace(soda, solution_pct=99.0))}),
            ("wanted", {"wanted": "CO2"}),
            ("wanted", {"wanted": "CuO"}),
            ("products", {"products": ("Cu2(OH)2CO3", "CO2", "H2O")}),
            ("steps.0.ingredient", {"steps": (replace(CARBONATE.steps[0], ingredient="x"),)}),
            ("steps.0.wash_ml", {"steps": (replace(WASH, wash_ml=0.0),)}),
            ("steps.0.washes", {"steps": (replace(WASH, washes=0),)}),
            ("steps.0.says", {"steps": (replace(WASH, says=""),)}),
            ("steps.0.ph_high", {"steps": (replace(CARBONATE.steps[0], ph=Window("pH", "", 6, 15)),)}),
            ("steps.0.to_formula", {"steps": (ProcessStep("h", StepKind.HEAT, "Heat", from_formula="FeO(OH)"),)}),
        ):
            with self.subTest(field):
                self.refused(field, check, replace(CARBONATE, **what))  # type: ignore[arg-type]

    def test_a_step_says_what_is_measured_and_what_good_looks_like(self) -> None:
        step = CARBONATE.steps[0].step()
        self.assertEqual((step.measured, step.window), ("pH", WINDOW))
        self.assertTrue(step.done_when)


class Runs(Case):
    def test_at_its_own_scale(self) -> None:
        made = plan_run(CARBONATE)
        assert made.theory_g is not None and made.expected_g is not None and made.left_fraction is not None
        self.assertAlmostEqual(made.theory_g, 22.139, 3)
        self.assertEqual((made.limiting, made.expected_g.basis), ("CuSO4.5H2O", Basis.ASSUMED))
        self.assertAlmostEqual(made.weigh[0].solution_g, 500.0)
        self.assertAlmostEqual(made.weigh[1].water_g, 100.0)
        self.assertAlmostEqual(made.liquid_ml, 550.0)
        self.assertAlmostEqual(made.vessel_ml, 3 * 550.0)
        self.assertAlmostEqual(made.gas_l, 24.06 * 50 / 249.684855 / 2, 3)
        self.assertAlmostEqual(made.wash_ml, 800.0)
        self.assertAlmostEqual(made.waste_ml, 1_350.0)
        self.assertEqual(made.waste_holds, ("copper",))
        self.assertTrue(0 < made.left_fraction < 0.01)

    def test_forward_from_what_is_on_hand_the_least_decides(self) -> None:
        made = plan_run(CARBONATE, on_hand={"copper": 100.0, "soda": 30.0})
        self.assertAlmostEqual(made.factor, 1.2)
        self.assertAlmostEqual(made.weigh[0].g, 60.0)
        self.refused("on_hand.lime", plan_run, CARBONATE, on_hand={"lime": 3.0})
        self.refused("on_hand.soda", plan_run, CARBONATE, on_hand={"soda": 0.0})

    @given(st.floats(0.5, 2_000), st.floats(0.3, 1.0))
    def test_back_from_what_is_wanted_and_forward_again(self, wanted: float, own: float) -> None:
        back = plan_run(CARBONATE, OwnYield((own, own)), wanted_g=wanted)
        assert back.expected_g is not None
        self.assertAlmostEqual(back.expected_g.median / wanted, 1, 9)
        there = plan_run(CARBONATE, OwnYield((own, own)), on_hand={"copper": back.weigh[0].g})
        self.assertAlmostEqual(there.factor / back.factor, 1, 9)
        self.assertAlmostEqual(
            there.left_fraction or 0, plan_run(CARBONATE, OwnYield((own, own))).left_fraction or 1, 9
        )

    def test_own_runs_make_the_yield_and_narrow_it(self) -> None:
        few, many = OwnYield((0.8,)).of(True), OwnYield((0.8, 0.82, 0.79, 0.81)).of(True)
        assert few is not None and many is not None
        self.assertIs(many.basis, Basis.LEARNED)
        # Half a run at 0.85 beside the four: (0.425 + 3.22) / 4.5.
        self.assertAlmostEqual(many.median, 0.81)
        self.assertLess(many.half_width, few.half_width)
        self.assertIsNone(OwnYield().of(False))

    def test_the_next_yield_is_in_its_band_after_two_runs(self) -> None:
        luck, of = random.Random(38), 600
        for runs in (1, 2, 4):
            held = 0
            for _ in range(of):
                true, apart = luck.gauss(0.82, 0.06), 0.07 * math.exp(luck.gauss(0, 0.4))
                seen = [luck.gauss(true, apart) for _ in range(runs + 1)]
                found = OwnYield(tuple(seen[:-1])).of(True)
                assert found is not None
                held += found.low <= seen[-1] <= found.high
            self.assertTrue(0.84 <= held / of <= 0.97, (runs, held / of))

    def test_a_lake_has_no_equation_and_waits_for_its_first_run(self) -> None:
        alum = replace(template(Template.LAKE_ALUM), name="Lake")
        made = plan_run(alum, on_hand={"alum": 40.0})
        self.assertEqual((made.theory_g, made.expected_g, made.equation), (None, None, ""))
        self.assertAlmostEqual(made.gas_l, 2 * lake(20).co2_l, 2)
        self.refused("wanted_g", plan_run, alum, wanted_g=10.0)
        again = plan_run(alum, OwnYield((0.1, 0.12)), wanted_g=11.0)
        self.assertAlmostEqual(again.factor, 11.0 / (76.7 * 0.11))


class WithoutAScale(Case):
    """Spoons, drops, some of this and some of that; filtered, and what no step asks for."""

    SPOON = replace(template(Template.LAKE_SPOON), name="By the spoon")

    def test_of_some_nobody_tells_what_comes_of_it(self) -> None:
        check(self.SPOON)
        made = plan_run(self.SPOON, OwnYield((0.4, 0.5)))
        self.assertEqual([(one.words, one.some) for one in made.weigh][:2], [("some", True), ("some", True)])
        self.assertEqual(made.weigh[2].words, "1 level tablespoon")
        self.assertAlmostEqual(made.weigh[2].g, 15.0)
        self.assertEqual((made.theory_g, made.expected_g), (None, None))
        self.assertIn("its yield", self.SPOON.cannot)
        refused = self.refused("wanted_g", plan_run, self.SPOON, wanted_g=20.0)
        self.assertEqual(refused.accepted, "a run as it is written")
        self.refused("on_hand.dye", plan_run, self.SPOON, on_hand={"dye": 20.0})
        twice = plan_run(self.SPOON, on_hand={"chalk": 30.0})
        self.assertEqual(twice.weigh[2].words, "2 level tablespoons")

    def test_an_equation_with_some_of_a_reagent_has_no_theory(self) -> None:
        copper, soda = CARBONATE.ingredients
        some = replace(CARBONATE, ingredients=(copper, replace(soda, parts_g=0.0, unit=Unit.EYE)))
        check(some)
        made = plan_run(some)
        self.assertEqual((made.theory_g, made.gas_l), (None, 0.0))
        self.assertTrue(some.cannot)
        self.assertFalse(CARBONATE.cannot)

    def test_a_spoon_of_chalk_and_no_alum_is_a_process_of_three_steps(self) -> None:
        chalk = self.SPOON.ingredients[2]
        three = Process(
            "Three steps",
            (chalk,),
            (
                ProcessStep("add", StepKind.ADD, "Chalk into the dye", ingredient="chalk"),
                ProcessStep("filter", StepKind.FILTER, "Filter it", through=Through.PAPER),
                ProcessStep("dry", StepKind.DRY, "Dry it"),
            ),
        )
        check(three)
        self.assertEqual(three.unasked, ())
        self.assertEqual(replace(three, steps=three.steps[1:]).unasked, ("Chalk, fine",))
        self.assertIn("filter", [step.kind for step in three.steps])

    def test_what_is_washed_on_a_filter_holds_less_and_is_cleaner(self) -> None:
        settled = plan_run(CARBONATE).left_fraction
        kept = None
        for through, least in ((Through.CLOTH, 0.2), (Through.PAPER, 0.2), (Through.SUCTION, 0.02)):
            step = ProcessStep("filter", StepKind.FILTER, "Filter it", through=through)
            left = plan_run(replace(CARBONATE, steps=(step, *CARBONATE.steps))).left_fraction
            assert left is not None and settled is not None
            self.assertTrue(least * settled < left < settled, through)
            self.assertTrue(kept is None or left < kept)
            kept = left

    @given(st.floats(0.3, 400.0), st.sampled_from([Unit.DROP, Unit.TEASPOON, Unit.US_TABLESPOON, Unit.CUP]))
    def test_what_is_told_of_an_ingredient_a_hand_can_measure(self, grams: float, unit: Unit) -> None:
        one = Ingredient("x", "X", grams, Does.OTHER, unit=unit, amount=1.0)
        told = told_of(one, grams, Habit())
        assert told is not None
        for part in told.parts or (told,):
            most = {Unit.DROP: 15, Unit.MILLILITRE: 400}.get(part.unit, 6)
            self.assertLessEqual(part.amount, most, told.words)
        self.assertAlmostEqual(told.grams, grams, delta=max(0.7, 0.13 * grams))
        self.assertIsNone(told_of(one, 0.0, Habit()))

    def test_amounts_in_spoons_ml_and_drops_are_assumed_and_others_refused(self) -> None:
        for unit, amount, grams in (
            (Unit.TEASPOON, 2.0, 10.0),
            (Unit.US_CUP, 1.0, 236.588),
            (Unit.MILLILITRE, 30.0, 30.0),
            (Unit.DROP, 10.0, 0.23),
        ):
            self.assertAlmostEqual(parts_of(unit, amount), grams)
        self.refused("unit", parts_of, Unit.WEIGH_BACK, 1.0)


class Acidity(Case):
    def test_the_share_of_the_time_inside(self) -> None:
        for readings, share in (
            (((0, 5.5), (10, 7.5)), 0.5),
            (((0, 7.0), (10, 8.0)), 1.0),
            (((0, 4.0), (10, 5.0)), 0.0),
            (((0, 5.5), (10, 7.5), (30, 7.5)), 25 / 30),
            (((0, 9.5), (10, 5.5)), 0.5),
            (((0, 7.0),), 1.0),
        ):
            found = share_inside([PhReading(*one) for one in readings], WINDOW)
            self.assertAlmostEqual(found or 0.0, share, msg=str(readings))
        self.assertIsNone(share_inside([], WINDOW))
        self.refused("readings.1.minutes", share_inside, [PhReading(5, 7), PhReading(4, 7)], WINDOW)
        self.refused("readings.0.ph", share_inside, [PhReading(5, 15)], WINDOW)

    def test_a_reading_says_what_to_add(self) -> None:
        self.assertIn("Inside", asks_for(7.0, WINDOW, "Soda"))
        self.assertIn("A spoon more of the soda", asks_for(4.0, WINDOW, "Soda"))
        self.assertIn("few drops more", asks_for(6.2, WINDOW, "Soda"))
        self.assertIn("no more", asks_for(9.0, WINDOW, "Soda"))
        self.assertIn("few drops more of the alum", asks_for(9.0, WINDOW, "Alum", precipitant_is_base=False))
