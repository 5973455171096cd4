"""The ladder: weighings, fit, the least dose with its band, and when none does."""

import math
import random
import unittest
from collections.abc import Callable

from hypothesis import given
from hypothesis import strategies as st

from niddy.core.additives import DoseBasis
from niddy.core.errors import Refused
from niddy.core.ladder import Ingredient, Measured, Mother, RungRead, Target, design, even_doses, fit, usual_top_pct

MOTHER = Mother(100, 60, 5)
STEARATE = Ingredient("Stearate", 3, DoseBasis.OIL, 4, 0.10)


class OnPaper(unittest.TestCase):
    @given(st.floats(3, 20), st.floats(0.1, 4), st.floats(0.2, 1), st.sampled_from(DoseBasis), st.integers(3, 8))
    def test_every_rung_holds_the_same_oil_and_its_own_dose(
        self, paste_g: float, top: float, strength: float, basis: DoseBasis, rungs: int
    ) -> None:
        one = Ingredient("Some", top, basis, 5, strength)
        made = design(Mother(100, 60, paste_g), [one], even_doses(rungs, top))
        oils = []
        for rung in made.rungs:
            (weighing,) = rung.additives
            oil = paste_g * 60 / 160 + weighing.weigh_g - weighing.additive_g + rung.oil_g
            whole = paste_g + weighing.weigh_g + rung.oil_g
            oils.append(oil)
            base = {DoseBasis.OIL: oil, DoseBasis.PIGMENT: paste_g * 100 / 160, DoseBasis.TOTAL: whole}[basis]
            self.assertAlmostEqual(weighing.additive_g, weighing.dose_pct / 100 * base, 8)
            self.assertAlmostEqual(rung.whole_g, whole, 8)
        self.assertAlmostEqual(min(oils), max(oils), 8)
        self.assertAlmostEqual(made.rungs[-1].oil_g, 0, 8)

    def test_two_additives_rise_together(self) -> None:
        castor = Ingredient("Castor", 1, DoseBasis.TOTAL, 2)
        made = design(MOTHER, [STEARATE, castor], even_doses(4, 3))
        self.assertEqual(
            [[round(w.dose_pct, 4) for w in rung.additives] for rung in made.rungs],
            [[0, 0], [1, 0.3333], [2, 0.6667], [3, 1]],
        )
        self.assertAlmostEqual(made.mother_paste_g, 4 * 5 * 1.1)

    def test_refused(self) -> None:
        for ask, field in (
            (lambda: design(Mother(100, 60, 2.9), [STEARATE], even_doses(4, 3)), "paste_per_rung_g"),
            (lambda: design(MOTHER, [STEARATE], [0, 1, 1]), "doses.2"),
            (lambda: design(MOTHER, [STEARATE], [0, 3]), "doses"),
            (lambda: design(MOTHER, [STEARATE], [0, 2, 5], trial=False), "additives.0.top_dose_pct"),
            (lambda: design(MOTHER, [Ingredient("x", 3, DoseBasis.OIL, 4, 0)], [0, 1, 2]), "additives.0.gel_strength"),
            (
                lambda: design(MOTHER, [Ingredient("x", 3, DoseBasis.OIL, 4, 0.02)], [0, 1, 3]),
                "additives.0.gel_strength",
            ),
            (lambda: even_doses(2, 3), "rungs"),
            (lambda: fit([RungRead(0, 40), RungRead(1, 60)], []), "readings"),
            (lambda: fit([RungRead(d, 40 + d) for d in (0, 1, 1)], []), "readings.2.dose_pct"),
            (
                lambda: fit([RungRead(d, 40 + d) for d in (0, 1, 2)], [Target(Measured.BLEED, at_most=1)]),
                "targets.0.what",
            ),
            (lambda: fit([RungRead(d, 0) for d in (0, 1, 2)], []), "readings.0.yield_pa"),
            (lambda: fit([RungRead(d, 40 + d) for d in (0, 1, 2)], [Target(Measured.YIELD)]), "targets.0"),
            (
                lambda: fit([RungRead(d, 40 + d) for d in (0, 1, 2)], [Target(Measured.YIELD, 50, 40)]),
                "targets.0.at_most",
            ),
        ):
            self.names(field, ask)

    def names(self, field: str, ask: Callable[[], object]) -> None:
        with self.subTest(field), self.assertRaises(Refused) as caught:
            ask()
        self.assertEqual(caught.exception.field, field)


def read(seed: int, noise: float = 0.08) -> list[RungRead]:
    """A made-up ladder: yield 40 Pa x exp(0.5 dose), string 30 mm x exp(-0.4 dose), bleed 4 - dose mm."""
    luck = random.Random(seed)
    return [
        RungRead(
            dose,
            40 * math.exp(0.5 * dose + luck.gauss(0, noise)),
            30 * math.exp(-0.4 * dose + luck.gauss(0, noise)),
            4 - dose + luck.gauss(0, noise),
        )
        for dose in even_doses(6, 3)
    ]


class Top(unittest.TestCase):
    def test_a_first_ladder_reaches_above_the_usual_dose_and_never_above_the_ceiling(self) -> None:
        self.assertEqual(usual_top_pct(2.0, 4.0), 3.0)
        self.assertEqual(usual_top_pct(2.0, 2.5), 2.5)


class Read(unittest.TestCase):
    def test_without_noise_it_finds_the_very_dose(self) -> None:
        told = fit(read(1, 0.0), [Target(Measured.BLEED, at_most=2.5), Target(Measured.YIELD, at_least=50)])
        assert told.answer is not None and told.answer.dose_pct is not None
        self.assertAlmostEqual(told.answer.dose_pct, 1.5)
        slopes = {line.what: line.slope for line in told.lines}
        self.assertAlmostEqual(slopes[Measured.YIELD], 0.5)
        self.assertAlmostEqual(slopes[Measured.STRING], -0.4)

    def test_a_known_dose_lies_in_its_band_in_most_of_a_hundred_runs(self) -> None:
        for target, true in (
            (Target(Measured.BLEED, at_most=2.5), 1.5),
            (Target(Measured.STRING, at_most=30 * math.exp(-0.6)), 1.5),
            (Target(Measured.YIELD, at_least=40 * math.exp(1.0)), 2.0),
        ):
            inside = 0
            for seed in range(100):
                answer = fit(read(seed), [target]).answer
                assert answer is not None
                if answer.low_pct is not None and answer.high_pct is not None:
                    inside += answer.low_pct <= true <= answer.high_pct
                    self.assertLess(answer.high_pct - answer.low_pct, 1.5)
            self.assertGreaterEqual(inside, 85, target.what)

    def test_a_response_that_levels_off_is_dosed_within_half_as_much_again(self) -> None:
        within, wide = 0, 0
        for seed in range(40):
            luck = random.Random(seed)
            levels = luck.uniform(0.15, 0.4) * 3
            whole = 1 - math.exp(-3 / levels)
            doses = even_doses(6, 3)
            rise = [1.2 * (1 - math.exp(-dose / levels)) / whole for dose in doses]
            read_ = [RungRead(d, 40 * math.exp(r + luck.gauss(0, 0.08))) for d, r in zip(doses, rise, strict=True)]
            true = -levels * math.log(1 - 0.6 * whole)
            answer = fit(read_, [Target(Measured.YIELD, at_least=40 * math.exp(0.72))]).answer
            assert answer is not None and answer.dose_pct is not None
            assert answer.low_pct is not None and answer.high_pct is not None and answer.median_pct is not None
            self.assertIn("level off", answer.says)
            self.assertTrue(answer.low_pct <= answer.dose_pct <= answer.high_pct, answer)
            self.assertEqual("narrows" in answer.says, answer.dose_pct > 1.35 * answer.median_pct)
            within += 0.97 * true <= answer.dose_pct <= 1.5 * true
            wide += "narrows" in answer.says
        self.assertGreaterEqual(within, 28)
        self.assertTrue(0 < wide < 20, wide)

    def test_a_straight_line_stays_one(self) -> None:
        asked = [Target(Measured.BLEED, at_most=2.5)]
        bent = sum("level off" in (fit(read(seed), asked).answer or self.fail()).says for seed in range(100))
        self.assertLess(bent, 15)

    def test_none_does_and_says_which_two_quarrel(self) -> None:
        told = fit(read(1, 0.01), [Target(Measured.BLEED, at_most=2.0), Target(Measured.STRING, at_least=20)])
        assert told.answer is not None
        self.assertIsNone(told.answer.dose_pct)
        self.assertRegex(told.answer.says, "None does: bleed needs 2.* but string allows at most 1")

    def test_none_does_within_the_rungs(self) -> None:
        told = fit(read(1, 0.01), [Target(Measured.BLEED, at_most=0.5)])
        assert told.answer is not None
        self.assertIsNone(told.answer.dose_pct)
        self.assertIn("not reached up to 3 %", told.answer.says)

    def test_nothing_is_needed_where_the_paste_is_good_as_it_is(self) -> None:
        told = fit(read(1, 0.01), [Target(Measured.BLEED, at_most=6)])
        assert told.answer is not None
        self.assertEqual(told.answer.dose_pct, 0.0)

    def test_what_is_not_checked_yet_is_named(self) -> None:
        half = [RungRead(d, 40 + d, bleed_mm=1.0 if d == 0 else None) for d in (0, 1, 2)]
        self.assertEqual(fit(half, []).missing, ("bleed: 2 more doses to check",))

    def test_the_band_is_wider_away_from_the_rungs(self) -> None:
        (line,) = [one for one in fit(read(3), []).lines if one.what is Measured.BLEED]
        widths = [point.high - point.low for point in line.band]
        self.assertLess(widths[12], widths[0])
        self.assertLess(widths[12], widths[-1])
