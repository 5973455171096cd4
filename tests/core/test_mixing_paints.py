"""Paints in numbers from what was read of them; mixtures predicted; what painted squares teach; parts at the bench."""

import unittest

import numpy as np
from hypothesis import given
from hypothesis import strategies as st

from niddy.core import mixing
from niddy.core.colorimetry import BANDS_NM, Lab, lab_of_spectrum
from niddy.core.errors import Refused
from niddy.core.mixing import K1, Paint
from niddy.core.mixing.bench import OF_OFF, SAME, grey_of, said
from niddy.core.mixing.learning import learn
from niddy.core.mixing.paints import (
    GUESS_OFF,
    READER_OFF,
    InNumbers,
    Known,
    KnownBy,
    Missing,
    Reading,
    Shine,
    in_numbers,
    seen_by,
    white_in_numbers,
)
from niddy.core.mixing.predicting import HAND_OFF, Palette, expected_off, palette, weights_of
from niddy.core.mixing.seeing import difference, lab_of, of_spectra, srgb_of, xyz_of
from niddy.reference import observer
from tests.bench import mixing as bench

EYE = of_spectra(observer())
BANDS = len(BANDS_NM)
WHITE = Paint((0.003,) * BANDS, (1.0,) * BANDS)
SHARE = 1 / 11


def made_up(seed: int) -> Paint:
    luck = np.random.default_rng(seed)
    nm = np.array(BANDS_NM, float)
    k = 0.02 + 10 ** luck.uniform(-0.4, 0.7) * np.exp(-(((nm - luck.uniform(420, 640)) / 60) ** 2))
    return Paint(tuple(k), tuple(luck.uniform(0.2, 0.8) * (nm / 550) ** luck.uniform(-0.8, 0.2)))


def reading(parts: list[tuple[float, Paint]], shine: Shine, spectral: bool = True, off: float = READER_OFF) -> Reading:
    seen = mixing.mixed(parts, surface=shine is not Shine.OFF)
    if shine is Shine.WITHOUT:
        seen = tuple(r - K1 for r in seen)
    return Reading(lab_of_spectrum(seen, observer()), seen if spectral else None, off)


def known(paint: Paint, shine: Shine = Shine.WITH, spectral: bool = True, tint: bool = True) -> Known:
    return Known(
        "medium",
        "#808080",
        reading([(1.0, paint)], shine, spectral),
        reading([(SHARE, paint), (1 - SHARE, WHITE)], shine, spectral) if tint else None,
        reading([(1.0, WHITE)], shine, spectral),
    )


class FromReadings(unittest.TestCase):
    def test_spectra_give_back_the_paint_however_shine_is_read(self) -> None:
        for shine in Shine:
            for seed in (1, 2, 3):
                paint = made_up(seed)
                found = in_numbers(known(paint, shine), EYE, shine)
                self.assertEqual((found.how, found.missing, found.trouble), (KnownBy.SPECTRA, (), None))
                for at, wanted in zip((*found.paint.k, *found.paint.s), (*paint.k, *paint.s), strict=True):
                    self.assertAlmostEqual(at / wanted, 1, 2)

    def test_what_is_missing_is_named_and_stood_in_for(self) -> None:
        paint = made_up(1)
        by_class = {}
        for tinting in ("low", "high"):
            alone = Known(tinting, "#808080", reading([(1.0, paint)], Shine.WITH))
            found = in_numbers(alone, EYE, Shine.WITH)
            self.assertEqual((found.how, found.missing), (KnownBy.MASSTONE, (Missing.TINT,)))
            by_class[tinting] = found.paint.s[0]
        self.assertLess(by_class["low"], by_class["high"])
        nothing = in_numbers(Known("medium", "#7b3f22"), EYE, Shine.WITHOUT)
        self.assertEqual((nothing.how, nothing.missing), (KnownBy.GUESS, (Missing.MASSTONE, Missing.TINT)))
        self.assertEqual(nothing.off, GUESS_OFF)
        seen = seen_by(EYE, Shine.WITHOUT).lab(np.array([mixing.mixed([(1, nothing.paint)], surface=True)]))
        self.assertEqual(srgb_of(seen), ["#7b3f22"])
        whole = known(paint)
        no_white = Known("medium", "#808080", whole.masstone, whole.tint)
        self.assertEqual(in_numbers(no_white, EYE, Shine.WITH).missing, (Missing.WHITE,))

    def test_surer_readings_are_told_as_surer(self) -> None:
        paint = made_up(2)
        sure = [
            in_numbers(one, EYE, Shine.WITH)
            for one in (
                known(paint),
                known(paint, spectral=False),
                known(paint, tint=False),
                Known("medium", "#808080"),
            )
        ]
        self.assertEqual([one.how for one in sure], list(KnownBy))
        self.assertEqual(sorted(one.strength_sd for one in sure), [one.strength_sd for one in sure])
        self.assertEqual(sorted(one.model_off for one in sure), [one.model_off for one in sure])
        rough = known(paint, spectral=False)
        photo = Known("medium", "#808080", rough.masstone, Reading(rough.tint.lab, None, 5.0), rough.white)  # type: ignore[union-attr]
        self.assertGreater(in_numbers(photo, EYE, Shine.WITH).strength_sd, sure[1].strength_sd)

    def test_readings_that_contradict_each_other_are_named_by_their_wavelength_and_not_used(self) -> None:
        whole = known(made_up(3))
        swapped = Known("medium", "#808080", whole.tint, whole.masstone, whole.white)
        found = in_numbers(swapped, EYE, Shine.WITH)
        assert found.trouble is not None
        self.assertEqual(found.trouble.field, "tint")
        self.assertRegex(found.trouble.problem, r"no lighter \(L \d+\) than the masstone \(L \d+\)")
        self.assertEqual(found.how, KnownBy.MASSTONE)
        assert whole.tint is not None and whole.tint.spectrum is not None and whole.white is not None
        white = Known("medium", "#808080", whole.masstone, whole.white, whole.white)
        said = in_numbers(white, EYE, Shine.WITH).trouble
        assert said is not None
        self.assertIn("no darker", said.problem)
        # Lighter on the whole, and darker in one band.
        bent = Reading(whole.tint.lab, (0.05, *whole.tint.spectrum[1:]))
        said = in_numbers(Known("medium", "#808080", whole.masstone, bent, whole.white), EYE, Shine.WITH).trouble
        assert said is not None
        self.assertEqual(said.problem, "at 400 nm the tint is no lighter than the masstone")

    def test_reflectances_that_cannot_be_are_named(self) -> None:
        whole = known(made_up(3))
        assert whole.masstone is not None and whole.masstone.spectrum is not None
        for value, words in ((0.0, "a reflectance of 0 at 400 nm"), (1.2, "a reflectance of 1.2 at 400 nm")):
            odd = Reading(whole.masstone.lab, (value, *whole.masstone.spectrum[1:]))
            found = in_numbers(Known("medium", "#808080", odd, whole.tint, whole.white), EYE, Shine.WITHOUT)
            assert found.trouble is not None
            self.assertEqual((found.trouble.field, found.trouble.problem), ("masstone.spectrum", words))
            self.assertEqual(found.how, KnownBy.MASSTONE)
        dark = Reading(whole.masstone.lab, (0.03,) * BANDS)
        found = in_numbers(Known("medium", "#808080", dark, whole.tint, whole.white), EYE, Shine.WITH)
        assert found.trouble is not None
        self.assertIn("surface throws back", found.trouble.problem)
        self.assertIn("without the shine", found.trouble.accepted)
        with self.assertRaises(Refused) as refused:
            Reading(Lab(50, 0, 0), (0.5,) * 30)
        self.assertEqual(refused.exception.field, "spectrum")

    def test_a_white_scatters_with_one(self) -> None:
        white = white_in_numbers(reading([(1.0, WHITE)], Shine.WITHOUT), EYE, Shine.WITHOUT)
        self.assertEqual((set(white.paint.s), white.strength_sd), ({1.0}, 0.0))
        self.assertAlmostEqual(white.paint.k[0], 0.003, 4)


class Seen(unittest.TestCase):
    @given(st.tuples(st.floats(1, 99), st.floats(-60, 60), st.floats(-60, 60)))
    def test_lab_and_xyz_are_one_thing(self, lab: tuple[float, float, float]) -> None:
        again = lab_of(xyz_of(np.array(lab)))
        for found, wanted in zip(again, lab, strict=True):
            self.assertAlmostEqual(float(found), wanted, 6)


def all_known(count: int, spectral: bool = True) -> list[InNumbers]:
    return [in_numbers(known(made_up(seed), spectral=spectral), EYE, Shine.WITH) for seed in range(count)]


def with_white(count: int, spectral: bool = True) -> Palette:
    white = white_in_numbers(reading([(1.0, WHITE)], Shine.WITH, spectral), EYE, Shine.WITH)
    return palette([*all_known(count, spectral), white], EYE, Shine.WITH)


class Predicted(unittest.TestCase):
    def test_many_mixtures_at_once_are_those_one_by_one(self) -> None:
        by = with_white(3)
        weights = weights_of([((0, 1.0), (1, 2.0)), ((2, 1.0), (-1, 9.0)), ((1, 1.0),)], 4)
        many = by.reflectance(weights)
        paints = [Paint(tuple(k), tuple(s)) for k, s in zip(by.k, by.s, strict=True)]
        for row, seen in zip(weights, many, strict=True):
            parts = [(float(much), paint) for much, paint in zip(row, paints, strict=True) if much > 0]
            for found, wanted in zip(seen, mixing.mixed(parts, surface=True), strict=True):
                self.assertAlmostEqual(float(found), wanted, 9)

    def test_slopes_are_those_of_a_small_step(self) -> None:
        by = with_white(4)
        weights = weights_of([((0, 1.0), (1, 2.0)), ((2, 1.0), (3, 1.0), (-1, 4.0))], 5)
        strength = np.array([0.1, -0.2, 0.3, 0.0, 0.0])
        slopes = by.slopes(weights, strength)
        for place in range(4):
            step = strength.copy()
            step[place] += 1e-5
            moved = (by.lab(weights, step) - by.lab(weights, strength)) / 1e-5
            np.testing.assert_allclose(slopes[:, :, place], moved, atol=2e-3)

    def test_how_far_off_a_mixture_may_be(self) -> None:
        sure, rough = with_white(3), with_white(3, spectral=False)
        weights = weights_of([((0, 1.0),), ((0, 1.0), (1, 1.0)), ((0, 1.0), (-1, 10.0))], 4)
        of_sure = expected_off(sure, weights, sure.lab(weights))
        of_rough = expected_off(rough, weights, rough.lab(weights))
        self.assertAlmostEqual(float(of_sure[0]), READER_OFF)
        self.assertTrue(np.all(of_sure[1:] >= HAND_OFF))
        self.assertTrue(np.all(of_rough[1:] > of_sure[1:]))
        taught = palette(all_known(3, spectral=False), EYE, Shine.WITH, [(0.0, 0.02)] * 3)
        again = expected_off(taught, weights[1:2, :3], taught.lab(weights[1:2, :3]))
        self.assertLess(float(again[0]), float(of_rough[1]))


class Believed(unittest.TestCase):
    """How far off a square is said to be holds in worlds the formula does not know."""

    def test_nine_in_ten_squares_lie_within_what_is_said(self) -> None:
        for name, make, read in (
            ("figures", bench.made_up, bench.READ[1]),
            ("masstone", bench.made_up, bench.READ[2]),
            ("masstone of strong organics", bench.strong_organic, bench.READ[2]),
        ):
            with self.subTest(name):
                held = []
                for seed in range(3):
                    luck = np.random.default_rng(4700 + seed)
                    off, said = bench.pairs_off([make(luck) for _ in range(7)], EYE, luck, read)
                    held += list(off <= said)
                self.assertGreater(np.mean(held), 0.82)


class Taught(unittest.TestCase):
    def setUp(self) -> None:
        self.by = with_white(4, spectral=False)
        pairs = [((n, 1.0), (m, 1.0)) for n in range(4) for m in range(n)]
        tints = [((n, 1.0), (-1, parts)) for n in range(4) for parts in (2.0, 6.0)]
        self.weights = weights_of([*pairs, *tints, ((0, 1.0),)], 5)
        self.true = np.array([0.4, -0.3, 0.2, -0.5, 0.0])
        luck = np.random.default_rng(5)
        self.read = self.by.lab(self.weights, self.true) + luck.normal(0, 0.4, (len(self.weights), 3))
        self.off = np.full(len(self.weights), READER_OFF)

    def test_hidden_strengths_are_found_and_the_white_is_held(self) -> None:
        found = learn(self.by, self.weights, self.read, self.off)
        for at, wanted, sd in zip(found.strength, self.true, found.sd, strict=True):
            self.assertLess(abs(at - wanted), max(0.12, 3 * sd))
        self.assertEqual((found.strength[4], found.sd[4]), (0.0, 0.0))
        self.assertLess(found.after, 0.5 * found.before)
        assert found.held_out is not None
        self.assertLess(found.held_out, 0.7 * found.before)
        self.assertEqual(found.squares, (5, 5, 5, 5, 8))

    def test_what_no_square_tells_stays_as_it_was_thought(self) -> None:
        only = self.weights[:, 3] == 0
        found = learn(self.by, self.weights[only], self.read[only], self.off[only])
        self.assertEqual((found.strength[3], found.sd[3], found.squares[3]), (0.0, float(self.by.strength_sd[3]), 0))
        few = learn(self.by, self.weights[:2], self.read[:2], self.off[:2])
        self.assertIsNone(few.held_out)
        self.assertIsNone(learn(self.by, self.weights, self.read, self.off, hold_out=False).held_out)
        rough = learn(self.by, self.weights, self.read, np.full(len(self.off), 20.0))
        self.assertLess(abs(rough.strength[3]), abs(self.true[3]), "rough readings move a strength less")

    def test_one_wild_square_does_not_carry_the_rest(self) -> None:
        wild = self.read.copy()
        wild[0] += (40, -30, 30)
        found = learn(self.by, self.weights, wild, self.off)
        self.assertLess(max(abs(at - true) for at, true in zip(found.strength, self.true, strict=True)), 0.3)


class AtTheBench(unittest.TestCase):
    def setUp(self) -> None:
        self.by = with_white(3)

    def test_parts_are_whole_few_and_look_the_same(self) -> None:
        for shares in (((0, 0.34), (1, 0.33), (3, 0.33)), ((0, 0.006), (3, 0.994)), ((2, 1.0),)):
            exact = self.by.lab(weights_of([shares], 4))
            found = said(self.by, shares, exact[0])
            self.assertLessEqual(found.de00, max(SAME, OF_OFF * found.off))
            self.assertAlmostEqual(sum(part.share for part in found.parts), 1)
            self.assertTrue(all(part.parts >= 1 for part in found.parts))
        self.assertEqual([part.parts for part in found.parts], [1])
        even = said(self.by, ((0, 0.3334), (1, 0.3333), (3, 0.3333)), exact[0])
        self.assertEqual([part.parts for part in even.parts], [1, 1, 1])

    def test_parts_by_volume_weigh_what_each_paint_weighs(self) -> None:
        shares, density = ((0, 0.5), (3, 0.5)), (1.2, 1.7, 1.7, 3.6)
        exact = self.by.lab(weights_of([shares], 4))[0]
        by_volume = said(self.by, shares, exact, density)
        light, heavy = by_volume.parts
        self.assertAlmostEqual(light.parts / heavy.parts, 3.6 / 1.2, delta=0.3)
        self.assertAlmostEqual(light.share, light.parts * 1.2 / (light.parts * 1.2 + heavy.parts * 3.6))
        self.assertLessEqual(by_volume.de00, max(SAME, OF_OFF * by_volume.off))
        alike = said(self.by, shares, exact, (1.7,) * 4)
        self.assertEqual(alike, said(self.by, shares, exact))

    def test_what_more_of_each_does_is_said(self) -> None:
        found = said(self.by, ((0, 0.3), (3, 0.7)), np.array([50.0, 0, 0]))
        self.assertIn("darker", found.parts[0].does)
        self.assertIn("lighter", found.parts[1].does)
        self.assertEqual(said(self.by, ((0, 1.0),), np.array([50.0, 0, 0])).parts[0].does, "")

    def test_a_grey_from_two_is_the_most_neutral_of_all_shares(self) -> None:
        shares = grey_of(self.by, 0, 2)
        self.assertAlmostEqual(sum(share for _, share in shares), 1)
        tried = np.linspace(0.001, 0.999, 600)
        weights = np.zeros((len(tried), 4))
        weights[:, 0], weights[:, 2] = tried, 1 - tried
        chroma = np.hypot(*self.by.lab(weights)[:, 1:].T).min()
        found = self.by.lab(weights_of([shares], 4))[0]
        self.assertLessEqual(float(np.hypot(found[1], found[2])), chroma + 0.02)

    def test_how_far_from_what_is_wanted(self) -> None:
        wanted = np.array([50.0, 10, 10])
        found = said(self.by, ((0, 0.5), (3, 0.5)), wanted)
        self.assertAlmostEqual(found.de00, float(difference(np.array(found.lab), wanted)))
        self.assertGreaterEqual(found.off, HAND_OFF)
