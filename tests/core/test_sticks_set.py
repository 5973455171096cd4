"""Sets of sticks: schools, limits and what lifts them, the order of casting, what a base teaches."""

import math
import random
import unittest
from dataclasses import replace

from hypothesis import assume, given
from hypothesis import strategies as st

from niddy.core.errors import Refused
from niddy.core.estimate import Z90
from niddy.core.sticks import (
    OFFSET_SD,
    READING_SD,
    ColourWish,
    DentRead,
    Dries,
    Limit,
    Loading,
    Mould,
    OilKind,
    Powder,
    StickOil,
    base_of,
    casting_order,
    dries_or_crayon,
    learn_offset,
    ln_dent,
    plan_colour,
    powder_of,
)
from niddy.core.sticks.sets import by_weight, reduced_of_weight
from niddy.reference import library
from tests.core.test_plan import dry
from tests.core.test_sticks import BASE, OIL, bases, powders

WAXES = tuple(library().waxes.values())
ONE = (Mould(18, 1),)
BLACK = ((dry("bone-black"), 1.0),)


def colour(lines: tuple = BLACK, dent: float | None = 30, offset: float = 0.0, sd: float = 0.0, **what):  # type: ignore[no-untyped-def, type-arg]
    wish = ColourWish("A colour", lines, ONE, dent_dmm=dent, **what)
    return plan_colour(wish, BASE, OIL, offset, sd, WAXES)


class Schools(unittest.TestCase):
    @given(powders, bases, st.floats(0.05, 0.9), st.floats(0.05, 0.9))
    def test_a_share_by_weight_is_that_share(self, powder: Powder, base, oil_share: float, share: float) -> None:  # type: ignore[no-untyped-def]
        reduced = reduced_of_weight(powder, base, OIL, oil_share, share)
        pvc = reduced * powder.cpvc
        grams = pvc * powder.density_g_per_ml
        medium = (1 - pvc) / (oil_share / OIL.density_g_per_ml + (1 - oil_share) / base.density_g_per_ml)
        self.assertAlmostEqual(grams / (grams + medium), share, 9)

    @given(powders, bases, st.floats(5, 120), st.floats(0.1, 0.7), st.floats(-0.5, 0.5))
    def test_by_weight_a_dent_in_reach_is_met(
        self,
        powder: Powder,
        base,
        dent: float,
        share: float,
        offset: float,  # type: ignore[no-untyped-def]
    ) -> None:
        x, reduced = by_weight(powder, base, OIL, share, dent_dmm=dent, oil_fraction=None, offset_ln=offset)
        assume(0 < x < 1 and reduced < 0.99)
        self.assertAlmostEqual(math.exp(ln_dent(base, x, powder.cpvc, reduced, offset)), dent, delta=1e-4 * dent)

    def test_both_are_shown_on_one_scale(self) -> None:
        made = colour()
        by_volume, by_weight_ = made.schools
        self.assertIs(by_volume.school, Loading.VOLUME)
        assert by_volume.dent_dmm is not None
        self.assertAlmostEqual(by_volume.dent_dmm, 30, 6)
        self.assertAlmostEqual(by_weight_.pigment_fraction or 0, 0.6, 9)
        # Sixty parts in a hundred of a light black are more than the medium wets.
        self.assertLess(by_weight_.dent_dmm or 0, by_volume.dent_dmm)
        self.assertEqual(colour(lines=(), dent=48).schools, ())

    def test_too_much_by_weight_is_refused_with_what_would_do(self) -> None:
        with self.assertRaises(Refused) as refused:
            colour(school=Loading.WEIGHT, share=0.9)
        self.assertEqual(refused.exception.field, "share")
        self.assertIn("less than", refused.exception.accepted)
        with self.assertRaises(Refused):
            colour(share=1.05)
        with self.assertRaises(Refused):
            colour(dent=None)
        with self.assertRaises(Refused):
            colour(oil_fraction=0.5)

    def test_a_blend_is_weighed_by_its_parts(self) -> None:
        made = colour(((dry("bone-black"), 1.0), (dry("titanium-white-rutile"), 3.0)))
        self.assertAlmostEqual(made.lines[1].grams, 3 * made.lines[0].grams)
        self.assertAlmostEqual(sum(line.grams for line in made.lines), made.stick.pigment_g)
        self.assertIsNone(powder_of(()))


class Limits(unittest.TestCase):
    def test_the_change_named_lifts_what_limits(self) -> None:
        lifted = set()
        for dent in (8.0, 9.0, 10.0, 12.0):
            made = colour(dent=dent)
            self.assertIn(made.stick.limited_by, (Limit.BASE_TOO_SOFT, Limit.WOULD_NOT_DRY))
            lifting = made.lifting
            assert lifting is not None
            assert lifting.parts_in_100 is not None, lifting.says
            wax = library().waxes[lifting.wax_key]
            share = lifting.parts_in_100 / 100
            parts = [replace(part, share=part.share * (1 - share)) for part in BASE.parts]
            parts.append(
                replace(
                    parts[0],
                    share=share,
                    penetration_dmm=wax.penetration_dmm,
                    melting_c=wax.melting_c,
                    density_g_per_ml=wax.density_g_per_ml,
                )
            )
            again = plan_colour(ColourWish("", BLACK, ONE, dent_dmm=dent), base_of(parts), OIL, 0.0, 0.0, WAXES)
            self.assertIsNone(again.stick.limited_by, lifting.says)
            lifted.add(made.stick.limited_by)
        self.assertEqual(len(lifted), 2)

    def test_where_no_wax_lifts_it_that_is_said(self) -> None:
        for dent, pigment in ((2.0, "More pigment"), (250.0, "Less pigment")):
            made = colour(dent=dent)
            assert made.lifting is not None
            self.assertIsNone(made.lifting.parts_in_100)
            self.assertIn("No one wax", made.lifting.says)
            self.assertIn(pigment, made.lifting.says)

    def test_what_never_dries_is_a_crayon_or_refused(self) -> None:
        made = plan_colour(ColourWish("", BLACK, ONE, dent_dmm=30), BASE, StickOil(0.93, OilKind.NON), 0, 0, WAXES)
        self.assertIs(made.stick.dries, Dries.NOT)
        self.assertIn("drying oil", made.lifting.says if made.lifting else "")
        dries_or_crayon(made, crayon=True)
        with self.assertRaises(Refused) as refused:
            dries_or_crayon(made, crayon=False)
        self.assertEqual(refused.exception.field, "crayon")
        with self.assertRaises(Refused) as refused:
            dries_or_crayon(colour(dent=4.0), crayon=True)
        self.assertEqual(refused.exception.field, "dent_dmm")

    def test_by_weight_what_cannot_be_reached_is_limited_too(self) -> None:
        made = colour(dent=2.0, school=Loading.WEIGHT, share=0.3)
        self.assertIs(made.stick.limited_by, Limit.BASE_TOO_SOFT)


class Order(unittest.TestCase):
    def test_blending_first_light_before_dark_what_hurts_last(self) -> None:
        set_ = [
            colour(((dry("lead-antimonate-yellow"), 1.0),)),
            colour(BLACK),
            colour(((dry("titanium-white-rutile"), 1.0),)),
            colour((), dent=48),
        ]
        self.assertEqual(casting_order(set_), (3, 2, 1, 0))

    def test_coarse_and_heavy_sinks_further(self) -> None:
        fine, coarse = colour(((dry("titanium-white-rutile"), 1.0),)), colour(((dry("smalt"), 1.0),))
        self.assertGreater(coarse.sinks_mm, 10 * fine.sinks_mm)
        thick = plan_colour(
            ColourWish("", ((dry("smalt"), 1.0),), (Mould(60, 1),), dent_dmm=30), BASE, OIL, 0, 0, WAXES
        )
        self.assertGreater(thick.cooling_min, coarse.cooling_min)
        self.assertGreater(thick.sinks_mm, coarse.sinks_mm)

    def test_the_band_is_as_wide_as_what_is_not_known(self) -> None:
        sure, unsure = colour(lines=(), dent=48, sd=0.05), colour(lines=(), dent=48, sd=0.35)
        self.assertAlmostEqual(math.log(unsure.dent_high_dmm / unsure.dent_low_dmm), 2 * Z90 * 0.35)
        self.assertAlmostEqual(math.log(sure.dent_high_dmm / sure.dent_low_dmm), 2 * Z90 * 0.05)
        self.assertGreater(colour(sd=0.05).dent_high_dmm / 30, sure.dent_high_dmm / 48, "its oil absorption besides")


class Learning(unittest.TestCase):
    def test_bands_after_three_needle_readings_hold_nine_in_ten(self) -> None:
        chance, held, of = random.Random(17), 0, 4000
        for _ in range(of):
            truth = chance.gauss(0, OFFSET_SD)
            sd = READING_SD["needle"]
            learned = learn_offset([DentRead(truth + chance.gauss(0, sd), sd) for _ in range(3)])
            held += abs(truth - learned.offset_ln) <= Z90 * learned.sd_ln
        self.assertTrue(0.88 <= held / of <= 0.92, held / of)

    def test_a_base_that_dents_more_is_given_less_oil(self) -> None:
        self.assertLess(colour(offset=0.3).stick.oil_fraction, colour(offset=0.0).stick.oil_fraction)
        self.assertAlmostEqual(colour(offset=0.3).stick.penetration_dmm, 30)
