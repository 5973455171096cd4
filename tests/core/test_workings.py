"""A plan's workings: whatever a figure says it was got by, its inputs lead to it again."""

import unittest
from dataclasses import replace

from niddy.core import plan
from niddy.core.figure import Figure
from niddy.core.plan import Line, Tubes, Wish
from niddy.core.plan.workings import SPIRIT_G_PER_ML
from niddy.reference import library
from tests.core.test_plan import OIL, WISH, dry


def taken(figure: Figure) -> dict[str, float]:
    """The inputs of a figure's working, by what they are called."""
    assert figure.working is not None
    return {one.name: one.value for one in figure.working.inputs}


class LeadsToIt(unittest.TestCase):
    """Each formula worked by hand from the inputs it names."""

    def plans(self) -> list[plan.Plan]:
        wishes = [
            WISH,
            replace(WISH, tubes=None, pigment_g=37.5),
            replace(WISH, reduced_pvc=0.75, tubes=(Tubes(1, "20 ml", 20.0, 1),)),
            replace(WISH, lines=(Line(dry("bone-black", 1), 2.0), Line(dry("titanium-white-rutile", 2), 1.0))),
        ]
        return [plan.compute(wish) for wish in wishes]

    def test_the_ratio_is_that_of_the_wetting_scale(self) -> None:
        for made in self.plans():
            of = taken(made.ratio)
            absorbed = of["OA, oil absorption in this oil"]
            reduced = of["reduced PVC, the target"]
            room = 100 * of["oil density"] / of["pigment density"] * (1 / reduced - 1)
            self.assertAlmostEqual(made.ratio.value, absorbed / reduced + room, 6)

    def test_powder_and_oil_fill_what_is_wanted(self) -> None:
        for made in self.plans():
            of = taken(made.pigment_mass)
            if "paint volume" not in of:
                self.assertEqual(of["pigment"], made.pigment_mass.value)
                continue
            per_100g = 100 / of["pigment density"] + of["ratio"] / of["oil density"]
            self.assertAlmostEqual(made.pigment_mass.value, 100 * of["paint volume"] / per_100g, 6)

    def test_oil_is_powder_times_ratio(self) -> None:
        for made in self.plans():
            of = taken(made.oil_mass)
            self.assertAlmostEqual(made.oil_mass.value, of["pigment"] * of["ratio"] / 100, 6)

    def test_the_first_pour_is_less_than_most_lots_need(self) -> None:
        for made in self.plans():
            of = taken(made.first_pour)
            self.assertAlmostEqual(made.first_pour.value, of["pigment"] * of["ratio at that quantile"] / 100, 6)
            self.assertLess(made.first_pour.value, made.oil_mass.value)

    def test_paint_is_powder_and_oil_by_volume(self) -> None:
        made = plan.compute(replace(WISH, tubes=None, pigment_g=37.5))
        of = taken(made.volume)
        by_hand = of["pigment"] / of["pigment density"] + of["oil"] / of["oil density"]
        self.assertAlmostEqual(made.volume.value, by_hand, 6)

    def test_tubes_are_made_with_what_sticks_and_is_lost(self) -> None:
        made = plan.compute(WISH)
        of = taken(made.volume)
        self.assertAlmostEqual(made.volume.value, (of["tubes"] + of["hold-up on the tools"]) / (1 - of["loss"]), 6)

    def test_a_litre_of_paint_weighs_what_is_in_it(self) -> None:
        for made in self.plans():
            of = taken(made.density)
            ml = 100 / of["pigment density"] + of["ratio"] / of["oil density"]
            self.assertAlmostEqual(made.density.value, (100 + of["ratio"]) / ml, 6)

    def test_spirit_leaves_the_film_by_volume(self) -> None:
        thin = replace(OIL, nonvolatile_fraction=0.8)
        full, lean = plan.compute(WISH), plan.compute(replace(WISH, oil=thin))
        self.assertGreater(lean.film_pvc.value, full.film_pvc.value)
        of = taken(lean.film_pvc)
        oil_ml = lean.ratio.value / thin.density_g_per_ml - lean.ratio.value * 0.2 / SPIRIT_G_PER_ML
        self.assertAlmostEqual(of["oil that stays"], oil_ml, 6)
        pigment_ml = of["pigment, of 100 g"]
        self.assertAlmostEqual(lean.film_pvc.value, 100 * pigment_ml / (pigment_ml + oil_ml), 6)

    def test_every_figure_of_every_pigment_says_how_it_was_got(self) -> None:
        for key in library().pigments:
            made = plan.compute(Wish((Line(dry(key), 1.0),), OIL, 0.86, WISH.bench, WISH.loss, pigment_g=20.0))
            for name in ("ratio", "oil_mass", "first_pour", "volume", "density", "film_pvc"):
                figure = getattr(made, name)
                self.assertTrue(figure.working is not None and figure.working.formula, f"{key}: {name}")
                self.assertTrue(all(one.name for one in figure.working.inputs))
