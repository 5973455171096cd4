"""Paint sticks against the worked figures, and what must hold of any base."""

import math
import unittest
from collections.abc import Callable

from hypothesis import assume, given
from hypothesis import strategies as st

from niddy.core import sticks
from niddy.core.errors import Refused
from niddy.core.sticks import (
    BaseMix,
    Correcting,
    DentRead,
    Dries,
    Feel,
    Limit,
    Mould,
    OilKind,
    Part,
    Powder,
    StickOil,
    base_of,
    correct,
    learn_offset,
    settled_mm,
    stick,
)

BLACK = Powder(2.5, 52)
BASE = base_of([Part(60, 0.93, 25, 72), Part(25, 0.96, 17, 63), Part(15, 0.98, 1.5, 84)])
OIL = StickOil(0.93)
SIX = [Mould(18, 6)]

parts = st.builds(Part, st.floats(1, 100), st.floats(0.85, 1.1), st.floats(0.5, 60), st.floats(45, 110))
bases: st.SearchStrategy[BaseMix] = st.lists(parts, min_size=2, max_size=12).map(base_of)
powders = st.builds(Powder, st.floats(1.3, 7), st.floats(8, 150))


class WorkedFigures(unittest.TestCase):
    def test_six_sticks_by_their_oil(self) -> None:
        made = stick(BLACK, BASE, OIL, SIX, oil_fraction=0.6)
        for value, known, places in (
            (made.pigment_g, 83.625, 3),
            (made.oil_g, 45.554, 3),
            (made.base_g, 30.369, 3),
            (made.penetration_dmm, 48.94, 2),
            (100 * made.pigment_fraction, 52.41, 2),
            (made.pour_low_c, 67.55, 2),
            (made.pour_high_c, 77.55, 2),
            (made.melt_c, 89.0, 6),
        ):
            self.assertAlmostEqual(value, known, places)
        self.assertIs(made.feel, Feel.SOFT)
        self.assertIs(made.dries, Dries.THROUGH)
        self.assertTrue(made.water_bath)
        self.assertAlmostEqual(sum(made.base_each_g), made.base_g)

    def test_by_the_dent_wanted(self) -> None:
        made = stick(BLACK, BASE, OIL, SIX, penetration_dmm=30)
        self.assertAlmostEqual(made.oil_fraction, 0.45132, 5)
        self.assertAlmostEqual(made.oil_g, 34.345, 3)
        self.assertAlmostEqual(made.base_g, 41.755, 3)
        limited = stick(BLACK, BASE, OIL, SIX, penetration_dmm=8)
        self.assertAlmostEqual(limited.oil_fraction, 0.0497, 4)
        self.assertIs(limited.limited_by, Limit.BASE_TOO_SOFT)

    def test_a_pot_corrected(self) -> None:
        softer = correct(60, 20, 30, BLACK, BASE, OIL, 22, 35)
        self.assertIs(softer.direction, Correcting.ADD_OIL)
        self.assertAlmostEqual(softer.add_g, 11.486, 3)
        harder = correct(60, 20, 30, BLACK, BASE, OIL, 70, 35)
        self.assertIs(harder.direction, Correcting.ADD_BASE)
        self.assertAlmostEqual(harder.add_g, 106.69, 2)
        self.assertIs(correct(60, 20, 30, BLACK, BASE, OIL, 35, 35.5).direction, Correcting.NONE)

    def test_what_a_base_teaches(self) -> None:
        taught = learn_offset([DentRead(0.2, 0.12), DentRead(0.3, 0.35)])
        self.assertAlmostEqual(taught.offset_ln, 0.19048, 5)
        self.assertAlmostEqual(taught.sd_ln, 0.10798, 5)
        self.assertEqual(learn_offset([]).sd_ln, 0.35)

    def test_settling(self) -> None:
        self.assertAlmostEqual(settled_mm(4.9, 0.93, 5, 0.3, 15), 0.463, 3)
        self.assertAlmostEqual(settled_mm(4.9, 0.93, 20, 0.3, 15), 7.41, 2)


class Bases(unittest.TestCase):
    @given(powders, bases, st.floats(0.05, 0.89))
    def test_more_oil_is_never_harder_at_equal_pigment_volume(self, powder: Powder, base: BaseMix, x: float) -> None:
        one, more = (stick(powder, base, OIL, SIX, oil_fraction=share) for share in (x, x + 0.01))
        self.assertGreater(more.penetration_dmm, one.penetration_dmm)

    @given(powders, bases, st.floats(0.05, 0.9), st.floats(0.3, 0.95))
    def test_grams_sum_to_volume_and_mass(self, powder: Powder, base: BaseMix, x: float, reduced: float) -> None:
        made = stick(powder, base, OIL, SIX, oil_fraction=x, reduced_pvc=reduced)
        volume = made.pigment_g / powder.density_g_per_ml + made.oil_g / 0.93 + made.base_g / base.density_g_per_ml
        self.assertAlmostEqual(volume, made.volume_ml)
        self.assertAlmostEqual(made.pigment_g + made.oil_g + made.base_g, made.stick_density_g_per_ml * made.volume_ml)
        self.assertLessEqual(made.pour_high_c, made.melt_c)

    @given(powders, bases, st.floats(5, 90), st.floats(-0.5, 0.5))
    def test_the_oil_for_a_dent_gives_that_dent(self, powder: Powder, base: BaseMix, dent: float, off: float) -> None:
        made = stick(powder, base, OIL, SIX, penetration_dmm=dent, offset_ln=off)
        self.assertAlmostEqual(made.penetration_dmm / dent, 1)

    @given(powders, bases, st.floats(0.3, 0.7), st.floats(0.8, 1.25), st.floats(1.05, 1.6))
    def test_correct_then_predict_returns_the_target(
        self, powder: Powder, base: BaseMix, x: float, off: float, softer: float
    ) -> None:
        made = stick(powder, base, OIL, SIX, oil_fraction=x)
        observed = made.penetration_dmm * off
        target = observed * softer
        assume(0.1 <= observed <= 400 and target <= 300)
        told = correct(made.pigment_g, made.base_g, made.oil_g, powder, base, OIL, observed, target)
        oil_g = made.oil_g + told.add_g
        reads = sticks.ln_dent(base, oil_g / (oil_g + made.base_g), powder.cpvc, told.reduced_pvc_after, told.offset_ln)
        self.assertAlmostEqual(math.exp(reads) / target, 1, 6)
        self.assertGreater(told.volume_after_ml, made.volume_ml)


class Limits(unittest.TestCase):
    def test_what_would_never_dry_says_so(self) -> None:
        crayon = stick(BLACK, BASE, StickOil(0.93, OilKind.NON), SIX, oil_fraction=0.6)
        self.assertEqual((crayon.dries, crayon.limited_by), (Dries.NOT, Limit.WOULD_NOT_DRY))
        slow = stick(BLACK, BASE, StickOil(0.93, OilKind.SEMI), SIX, oil_fraction=0.4)
        self.assertEqual((slow.dries, slow.limited_by), (Dries.SLOWLY, None))
        self.assertIs(stick(BLACK, BASE, OIL, SIX, oil_fraction=0.95).limited_by, Limit.BASE_TOO_HARD)

    def test_a_blending_stick_has_no_pigment(self) -> None:
        made = stick(None, BASE, OIL, SIX, oil_fraction=0.5)
        self.assertEqual((made.cpvc, made.pvc, made.pigment_g), (None, 0.0, 0.0))
        self.assertGreater(made.penetration_dmm, stick(BLACK, BASE, OIL, SIX, oil_fraction=0.5).penetration_dmm)

    def test_refusals_name_their_field(self) -> None:
        cases: dict[str, Callable[[], object]] = {
            "base": lambda: base_of([Part(0, 0.9, 20, 60)]),
            "base.0.penetration_dmm": lambda: base_of([Part(1, 0.9, -2, 60)]),
            "oil_fraction": lambda: stick(BLACK, BASE, OIL, SIX),
            "moulds": lambda: stick(BLACK, BASE, OIL, [Mould(18, 0)], oil_fraction=0.5),
            "reduced_pvc": lambda: stick(BLACK, BASE, OIL, SIX, oil_fraction=0.5, reduced_pvc=1.05),
            "target_dmm": lambda: correct(60, 20, 30, BLACK, BASE, OIL, 70, 0.2),
            "pigment": lambda: correct(60, 20, 30, None, BASE, OIL, 22, 35),
            "base_g": lambda: correct(60, 0, 0, BLACK, BASE, OIL, 22, 35),
        }
        for field, work in cases.items():
            with self.subTest(field), self.assertRaises(Refused) as caught:
                work()
            self.assertEqual(caught.exception.field, field)

    def test_a_dent_is_carried_to_25_degrees(self) -> None:
        self.assertAlmostEqual(sticks.at_25_c(30, 25), 30)
        self.assertLess(sticks.at_25_c(30, 30), 30)
