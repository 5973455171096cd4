"""How dry a dish is by smell, paper and knife: what each sign says, and when it may be tubed."""

from __future__ import annotations

import unittest
from datetime import UTC, datetime
from itertools import product

from niddy.core.estimate import Basis, Estimate
from niddy.core.sludge import TUBING_RESIDUAL, dish_forecast, dish_of, dry_enough, liquid_now
from niddy.core.sludge.dish import Method
from niddy.core.sludge.signs import Judged, PaperSign, SolventSmell, liquid_by_signs
from tests.core.test_sludge_can import Log

AT = datetime(2026, 6, 18, 10, tzinfo=UTC)


def liquid(
    smell: SolventSmell, paper: PaperSign, *, crumbles: bool = False, weighed: Estimate | None = None
) -> Estimate:
    return liquid_by_signs(Judged(AT, smell, paper, crumbles), weighed)


class BySigns(unittest.TestCase):
    def test_every_wetter_sign_means_more_liquid(self) -> None:
        for paper in PaperSign:
            middles = [
                liquid(smell, paper).median for smell in (SolventSmell.NONE, SolventSmell.FAINT, SolventSmell.SOLVENT)
            ]
            self.assertEqual(middles, sorted(middles))
        for smell in SolventSmell:
            middles = [liquid(smell, paper).median for paper in (PaperSign.DRY, PaperSign.PRINT, PaperSign.WET)]
            self.assertEqual(middles, sorted(middles))
            self.assertLess(liquid(smell, PaperSign.DRY, crumbles=True).median, liquid(smell, PaperSign.DRY).median)

    def test_no_smell_and_dry_paper_are_both_needed(self) -> None:
        for smell, paper in product(SolventSmell, PaperSign):
            may = Judged(AT, smell, paper).may_be_tubed
            self.assertEqual(may, (smell, paper) == (SolventSmell.NONE, PaperSign.DRY), (smell, paper))
        # Crumbling too, nine in ten of such dishes hold no more than may be tubed.
        self.assertLess(liquid(SolventSmell.NONE, PaperSign.DRY, crumbles=True).high or 1, TUBING_RESIDUAL)
        self.assertGreater(liquid(SolventSmell.SOLVENT, PaperSign.WET).low or 0, TUBING_RESIDUAL)

    def test_a_nose_hardly_moves_a_measured_share_and_narrows_an_assumed_one(self) -> None:
        measured = Estimate(0.15, 0.13, 0.17, Basis.MEASURED)
        self.assertAlmostEqual(liquid(SolventSmell.NONE, PaperSign.DRY, weighed=measured).median, 0.14, delta=0.02)
        assumed = Estimate(0.33, 0.10, 0.60, Basis.ASSUMED)
        told = liquid(SolventSmell.FAINT, PaperSign.PRINT, weighed=assumed)
        self.assertLess((told.high or 0) / (told.low or 1), 6)
        self.assertEqual(told.basis, Basis.ASSUMED)


class ADish(unittest.TestCase):
    def judged(self, log: Log, hours: float, smell: str = "none", paper: str = "dry") -> None:
        log.dish(hours, "judged", smell=smell, paper=paper, crumbles=False)

    def test_one_that_was_never_weighed_is_dry_once_both_signs_say_so(self) -> None:
        log = Log()
        self.judged(log, 10, "faint", "dry")
        self.assertFalse(dry_enough(dish_of(log.acts), None))
        self.judged(log, 30)
        dish = dish_of(log.acts)
        self.assertTrue(dry_enough(dish, None))
        self.assertLess((liquid_now(dish, None) or Estimate.exact(1, Basis.ASSUMED)).median, TUBING_RESIDUAL)

    def test_more_sludge_or_a_squeeze_takes_the_judgement_back(self) -> None:
        for kind in ("added", "squeezed"):
            log = Log()
            self.judged(log, 10)
            log.dish(11, kind, g=120.0)
            self.assertIsNone(dish_of(log.acts).judged, kind)

    def test_a_balance_that_speaks_clearly_against_it_is_believed(self) -> None:
        log = Log()
        for hours, grams in ((0, 200.0), (10, 170.0), (20, 150.0), (30, 138.0)):
            log.dish(hours, "weigh", g=grams)
        self.judged(log, 31)
        dish = dish_of(log.acts)
        self.assertFalse(dry_enough(dish, dish_forecast(dish, Method.EVAPORATE)))

    def test_a_late_phone_does_not_overrule_a_later_nose(self) -> None:
        log = Log()
        self.judged(log, 20)
        self.judged(log, 10, "solvent", "wet")
        self.assertTrue(dish_of(log.acts).judged_dry)


if __name__ == "__main__":
    unittest.main()
