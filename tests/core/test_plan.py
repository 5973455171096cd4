"""A plan on paper: blends, the three starting points, starting rules, cautions, workings."""

import unittest
from dataclasses import replace

from pydantic import TypeAdapter

from niddy.core import plan, sizing, wetting
from niddy.core.cautions import (
    Caution,
    Grade,
    beware,
    cautions_for,
    dangerous,
    grade_of,
    in_paint,
    kept_apart,
    known_hazards,
)
from niddy.core.demand import learn
from niddy.core.errors import Refused
from niddy.core.estimate import Basis
from niddy.core.evidence import Eye
from niddy.core.figure import Figure
from niddy.core.materials import BinderOil, DryPigment, Particle
from niddy.core.measures import Measure, Unit
from niddy.core.plan import Bench, Line, Tooth, Tubes, Wish
from niddy.core.wetting import Body
from niddy.reference import library


def dry(key: str, lot_id: int | None = None) -> DryPigment:
    p = library().pigments[key]
    demand = learn(p.oil_absorption_low, p.oil_absorption_high).unseen_lot
    return DryPigment(
        lot_id,
        p.key,
        p.name,
        "",
        p.ci_name,
        p.density_g_per_ml,
        p.loose_density_g_per_ml,
        False,
        p.particle,
        p.tinting,
        p.masstone_srgb,
        p.hazards,
        demand.estimate.median,
        demand.sd_ln,
        demand.estimate.basis,
        "library",
        dispersing=p.dispersing,
    )


OIL = BinderOil(None, "linseed-refined", "Linseed oil, refined", "", 0.918, ("oily-rags",), 0.023, False)
BENCH = Bench(1, "Glass", 900.0, Tooth.FRESH, None, 1, "Muller", Tooth.FRESH)
LOSS = sizing.LossLearned(1.0, 0.03, Basis.ASSUMED, 0)
WISH = Wish((Line(dry("bone-black", 1), 1.0),), OIL, 0.86, BENCH, LOSS, tubes=(Tubes(1, "40 ml", 40.0, 3),))


class FromTubes(unittest.TestCase):
    def test_it_agrees_with_the_calculators(self) -> None:
        made = plan.compute(WISH)
        ratio = wetting.ratio_at(0.86, made.oil_absorption.value, 2.5, 0.918)
        sized = sizing.size(ratio, 2.5, 0.918, [sizing.TubesWanted(40, 3)], slab_area_cm2=900, film_mm=0.4)
        self.assertAlmostEqual(made.pigment_mass.value, sized.pigment_g)
        self.assertAlmostEqual(made.oil_mass.value, sized.oil_g)
        self.assertEqual(made.loads and made.loads.value, sized.loads)
        self.assertAlmostEqual(made.first_pour.value, made.rungs[0].cumulative_g)
        self.assertIs(made.body, Body.TUBE)

    def test_coarse_is_sooner_done_and_smooth_finer(self) -> None:
        coarse, usual, smooth = (plan.compute(replace(WISH, grind=grind)) for grind in plan.Grind)
        for made in (coarse, usual, smooth):
            assert made.minutes is not None and made.fineness is not None
        minutes, fineness = (
            [f.value for f in figures if f]
            for figures in zip(*((made.minutes, made.fineness) for made in (coarse, usual, smooth)), strict=True)
        )
        self.assertEqual(minutes, sorted(minutes))
        self.assertLess(minutes[0], 0.75 * minutes[2])
        self.assertAlmostEqual(fineness[0] / fineness[1], 1.7)
        self.assertAlmostEqual(fineness[2] / fineness[1], 0.6)
        # The powder disperses as fast; it is worked for longer.
        self.assertEqual(coarse.facts.tau_min, smooth.facts.tau_min)
        self.assertEqual([made.facts.dispersions for made in (coarse, usual, smooth)], [0.6, 1.0, 2.0])
        self.assertEqual(coarse.oil_mass.value, smooth.oil_mass.value)

    def test_minutes_by_loads_and_in_one_mass(self) -> None:
        for tau_min, volume_ml, times, by_loads, at_once in (
            (8.0, 40.0, 1.0, 24.0, 14.4),
            (6.0, 150.0, 1.0, 60.0, 23.9),
            (6.0, 150.0, 2.0, 120.0, 47.8),
        ):
            sized = sizing.Sizing(volume_ml, 1.0, 1.0, 1.5, 0.0, sizing.loads(volume_ml, 15.0), 15.0)
            for one_mass, minutes in ((False, by_loads), (True, at_once)):
                bench = replace(BENCH, one_mass=one_mass)
                tau = tau_min * plan.working_factor(bench, sized)
                whole = plan.loads_of(bench, sized) * plan.mull_minutes(tau, bench, times)
                self.assertAlmostEqual(whole, minutes, delta=0.1)

    def test_half_a_teaspoon_with_a_knife_is_a_matter_of_minutes_told_with_their_range(self) -> None:
        spoon = (Line(dry("bone-black", 1), spoons=Measure(Unit.HALF_TEASPOON, 1.0)),)
        knife = replace(WISH, lines=spoon, tubes=None, bench=replace(BENCH, tool=plan.Tool.KNIFE))
        made = plan.compute(knife)
        assert made.minutes and made.tidying and made.minutes.low and made.minutes.high
        self.assertTrue(3 <= made.minutes.value <= 9, made.minutes.value)
        self.assertAlmostEqual(made.minutes.low, made.minutes.value * 2 / 3)
        self.assertAlmostEqual(made.minutes.high, made.minutes.value * 4 / 3)
        self.assertEqual((made.tidying.value, made.loads and made.loads.value), (3.0, 1.0))
        known = plan.compute(replace(knife, pace=1.5))
        assert known.minutes and known.minutes.high
        self.assertAlmostEqual(known.minutes.value, 1.5 * made.minutes.value)
        self.assertLess(known.minutes.high / known.minutes.value, 1.2)

    def test_every_figure_opens_its_working(self) -> None:
        made = plan.compute(WISH)
        figures = [getattr(made, name) for name in made.__dataclass_fields__]
        figures = [f for f in figures if isinstance(f, Figure)] + [line.mass for line in made.lines]
        self.assertGreaterEqual(len(figures), 12)
        for figure in figures:
            self.assertTrue(figure.working.formula and figure.working.inputs, figure.label)
            if figure.low is not None and figure.high is not None:
                self.assertTrue(figure.low < figure.value < figure.high, figure.label)

    def test_what_leaves_the_oil_is_not_in_the_film(self) -> None:
        pigment_ml = 100 / 2.5
        for stays in (1.0, 0.5):
            oil = replace(OIL, density_g_per_ml=0.90, nonvolatile_fraction=stays)
            made = plan.compute(replace(WISH, oil=oil))
            # What leaves is spirit of 0.78 g/ml: the film has the volume of the rest.
            film_ml = pigment_ml + made.ratio.value / 0.90 - made.ratio.value * (1 - stays) / 0.78
            assert made.film_pvc is not None
            self.assertAlmostEqual(made.film_pvc.value, 100 * pigment_ml / film_ml, 6)

    def test_pigment_and_oil_only_is_just_that(self) -> None:
        for wish, only in (
            (WISH, True),
            (replace(WISH, oil=replace(OIL, hazards=("oily-rags", "solvent"))), False),
            (replace(WISH, oil=replace(OIL, hazards=("oily-rags", "driers"))), False),
        ):
            self.assertIs(plan.compute(wish).pigment_and_oil_only, only)

    def test_the_band_is_where_the_target_lies_for_the_ends_of_the_demand(self) -> None:
        made = plan.compute(WISH)
        sure = plan.compute(replace(WISH, eye=Eye(bias_sd=0.0)))
        low = wetting.ratio_at(0.86, sure.oil_absorption.low or 0, 2.5, 0.918)
        self.assertAlmostEqual(sure.scale.band_low_oil_g_per_100g, low)
        # An eye nobody knows yet spreads it further, on both sides of the same middle.
        self.assertLess(made.scale.band_low_oil_g_per_100g, low)
        self.assertAlmostEqual(made.ratio.value, sure.ratio.value)
        biased = plan.compute(replace(WISH, eye=Eye(bias=0.03)))
        self.assertGreater(biased.ratio.value, made.ratio.value)
        self.assertEqual(biased.oil_absorption.value, made.oil_absorption.value)

    def test_a_worn_slab_takes_longer(self) -> None:
        worn = plan.compute(replace(WISH, bench=replace(BENCH, slab_tooth=Tooth.WORN)))
        fresh = plan.compute(WISH)
        assert worn.minutes and fresh.minutes
        self.assertGreater(worn.minutes.value, fresh.minutes.value)

    def test_without_a_slab_there_are_no_loads(self) -> None:
        made = plan.compute(replace(WISH, bench=None))
        self.assertIsNone(made.loads)
        self.assertIsNone(made.minutes)


class Blends(unittest.TestCase):
    def test_parts_are_by_weight_and_the_slowest_governs(self) -> None:
        lines = (Line(dry("bone-black", 1), 3.0), Line(dry("prussian-blue", 2), 1.0))
        made = plan.compute(replace(WISH, lines=lines))
        self.assertAlmostEqual(made.lines[0].mass.value, 3 * made.lines[1].mass.value)
        self.assertAlmostEqual(sum(line.mass.value for line in made.lines), made.pigment_mass.value)
        self.assertAlmostEqual(made.facts.tau_min, 12.0 * made.facts.working_factor)
        self.assertEqual(made.name, "Bone black + Iron blue")

    def test_a_blend_is_surer_than_its_parts(self) -> None:
        lines = (Line(dry("bone-black", 1), 1.0), Line(dry("raw-umber", 2), 1.0))
        parts = [line.pigment.demand_sd_ln for line in lines]
        self.assertLess(plan.compute(replace(WISH, lines=lines)).facts.demand_sd_ln, max(parts))

    def test_from_spoons_the_parts_follow(self) -> None:
        lines = (
            Line(dry("bone-black", 1), spoons=Measure(Unit.TEASPOON, 4)),
            Line(dry("lead-white", 2), spoons=Measure(Unit.TEASPOON, 2)),
        )
        made = plan.compute(replace(WISH, lines=lines, tubes=None))
        self.assertAlmostEqual(made.lines[0].mass.value, 4 * 5 * 0.55)
        self.assertAlmostEqual(made.lines[1].mass.value, 2 * 5 * 1.30)
        self.assertAlmostEqual(made.lines[0].mass.low or 0, 11 * 0.65)
        self.assertEqual(made.lines[0].spoons, "4 level teaspoons")
        self.assertIsNotNone(made.pigment_mass.low)

    def test_spoons_and_grams_mix_freely(self) -> None:
        lines = (
            Line(dry("bone-black", 1), spoons=Measure(Unit.TEASPOON, 4)),
            Line(dry("lead-white", 2), spoons=Measure(Unit.GRAM, 13.0)),
        )
        made = plan.compute(replace(WISH, lines=lines, tubes=None))
        self.assertAlmostEqual(made.pigment_mass.value, 24.0)
        self.assertEqual((made.lines[1].mass.low, made.lines[1].spoons), (None, None))
        self.assertEqual(made.lines[1].mass.working.formula, "as weighed")
        self.assertAlmostEqual(made.pigment_mass.low or 0, 24.0 - 11 * 0.35)

    def test_the_same_pigment_from_two_tins_is_no_doubling(self) -> None:
        lines = (Line(dry("bone-black", 1), 1.0), Line(dry("bone-black", 2), 1.0))
        self.assertEqual(plan.compute(replace(WISH, lines=lines)).name, "Bone black")


class StartingRules(unittest.TestCase):
    def test_each_lands_where_its_rule_says(self) -> None:
        made = plan.compute(replace(WISH, last_released_ratio=64.0))
        rules = {rule.key: rule for rule in made.rules}
        self.assertAlmostEqual(rules["rub_out"].oil_g_per_100g, made.ratio.value)
        self.assertAlmostEqual(rules["equal_weights"].oil_g_per_100g, 100)
        self.assertAlmostEqual(rules["equal_volumes"].oil_g_per_100g, 91.8 / 2.5)
        self.assertAlmostEqual(wetting.pvc(rules["equal_volumes"].oil_g_per_100g, 2.5, 0.918), 0.5)
        self.assertAlmostEqual(rules["equal_spoons"].oil_g_per_100g, 91.8 / 0.55)
        self.assertIs(rules["equal_spoons"].body, Body.RUNS)
        self.assertEqual(rules["last_time"].oil_g_per_100g, 64.0)

    def test_no_last_time_without_a_batch(self) -> None:
        self.assertNotIn("last_time", {rule.key for rule in plan.compute(WISH).rules})


class Cautions(unittest.TestCase):
    def test_every_shipped_hazard_has_its_words(self) -> None:
        shelf = library()
        for group in (shelf.pigments, shelf.oils, shelf.additives, shelf.waxes):
            for material in group.values():
                self.assertLessEqual(set(material.hazards), known_hazards(), material.key)

    def test_lead_antimonate_yellow_shows_the_strictest_first(self) -> None:
        made = plan.compute(replace(WISH, lines=(Line(dry("lead-antimonate-yellow", 1), 1.0),)))
        self.assertEqual([c.key for c in made.cautions], ["lead", "antimony", "oily-rags"])
        self.assertIs(made.cautions[0].grade, Grade.DANGEROUS)
        self.assertEqual(made.cautions[0].because, ("Lead antimonate yellow",))
        self.assertIn("safety data sheet", made.caution_deference)

    def test_only_a_poison_that_stays_in_the_paint_has_tools_of_its_own(self) -> None:
        self.assertEqual(kept_apart(("silica", "cobalt", "flammable", "hot-wax", "cobalt-salt", "lead")), ("lead",))
        self.assertTrue(dangerous(("flammable",)))
        self.assertFalse(dangerous(("silica", "cobalt", "none", "nobody-knows")))
        self.assertEqual([grade_of(key) for key in ("cobalt", "cobalt-salt", "zinc")], [2, 3, 1])
        for key in known_hazards() - {"none"}:
            said = Caution(key, ()).short + Caution(key, ()).long
            if "own tools" in said.lower():
                self.assertIs(grade_of(key), Grade.DANGEROUS, key)

    def test_what_is_gone_in_the_paint_is_not_on_its_label(self) -> None:
        keys = ("resin-dust", "silica", "hot-wax", "solvent", "cobalt", "stains", "oily-rags", "nuisance-dust")
        self.assertEqual(in_paint(keys), ("cobalt", "stains"))
        self.assertEqual(beware(("cobalt", "oily-rags", "nuisance-dust")), ("Cobalt",))

    def test_a_caution_kept_long_ago_speaks_with_todays_voice(self) -> None:
        kept = {"key": "cobalt", "level": "strict", "step": "powder", "title": "Holds cobalt", "because": ["Smalt"]}
        read = TypeAdapter(Caution).validate_python(kept)
        self.assertEqual((read.title, read.grade, read.because), ("Cobalt", Grade.HARMFUL, ("Smalt",)))

    def test_one_hazard_of_two_materials_is_said_once(self) -> None:
        (caution,) = cautions_for([("A", ("silica",)), ("B", ("silica", "none")), ("A", ("silica",))])
        self.assertEqual(caution.because, ("A", "B"))

    def test_an_unknown_hazard_is_never_passed_over(self) -> None:
        with self.assertRaises(KeyError):
            cautions_for([("A", ("kryptonite",))])


class Refusals(unittest.TestCase):
    def test_each_names_its_field(self) -> None:
        black = dry("bone-black", 1)
        cases: list[tuple[str, dict[str, object]]] = [
            ("lines", {"lines": ()}),
            ("start", {"pigment_g": 100.0}),
            ("start", {"tubes": None}),
            ("lines.1.lot_id", {"lines": (Line(black, 1.0), Line(black, 1.0))}),
            ("lines.0.parts", {"lines": (Line(black, 0.0),)}),
            ("lines.0.parts", {"lines": (Line(black),)}),
            ("reduced_pvc", {"reduced_pvc": 1.3}),
            ("pigment_g", {"tubes": None, "pigment_g": float("nan")}),
            ("tubes", {"tubes": (Tubes(1, "40 ml", 40.0, 0),)}),
            (
                "lines.1.spoons",
                {"tubes": None, "lines": (Line(black, spoons=Measure(Unit.TEASPOON, 1)), Line(dry("chalk")))},
            ),
        ]
        for field, change in cases:
            with self.subTest(field=field, change=change), self.assertRaises(Refused) as caught:
                plan.compute(replace(WISH, **change))  # type: ignore[arg-type]
            self.assertEqual(caught.exception.field, field)

    def test_less_powder_than_a_drop_can_wet(self) -> None:
        with self.assertRaises(Refused):
            plan.compute(replace(WISH, tubes=None, pigment_g=0.05))


class WholeLibrary(unittest.TestCase):
    def test_every_pigment_plans_in_every_oil(self) -> None:
        for pigment in library().pigments:
            for oil in library().oils.values():
                binder = replace(OIL, key=oil.key, density_g_per_ml=oil.density_g_per_ml, hazards=oil.hazards)
                made = plan.compute(replace(WISH, lines=(Line(dry(pigment), 1.0),), oil=binder))
                self.assertGreater(made.first_pour.value, 0, pigment)
                self.assertLess(made.first_pour.value, made.oil_mass.value, pigment)
                self.assertIn(made.lines[0].pigment.particle, Particle)
