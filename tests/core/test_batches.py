"""What was planned against what happened: the reasons a batch page gives."""

import unittest
from dataclasses import replace

from niddy.core import plan, slab
from niddy.core.batches import Difference, compare
from niddy.core.slab import Paste, Status, Verdict
from tests.core.test_plan import WISH

PLAN = plan.compute(WISH)
PLANNED_G, PLANNED_OIL_G = PLAN.pigment_mass.value, PLAN.oil_mass.value


def paste(pigment_g: float = PLANNED_G, oil_g: float = PLANNED_OIL_G, **more: object) -> Paste:
    known = Paste({"lot-1": pigment_g}, {"library-linseed-refined": oil_g}, poured_g=oil_g, status=Status.FINISHED)
    return replace(known, **more)  # type: ignore[arg-type]


def rows(what: Paste, filled_ml: float = 0.0, leftover_ml: float = 0.0) -> dict[str, Difference]:
    found = compare(PLAN, what, slab.know(what, PLAN.facts).reading, filled_ml, leftover_ml)
    return {row.label: row for row in found}


class Reasons(unittest.TestCase):
    def test_as_planned_gives_no_reason(self) -> None:
        self.assertEqual({row.reason for row in rows(paste(verdict=Verdict.RIGHT)).values()}, {""})

    def test_nothing_on_the_slab_gives_no_rows(self) -> None:
        self.assertEqual(rows(Paste()), {})

    def test_powder_added_to_take_up_oil(self) -> None:
        told = rows(paste(PLANNED_G * 1.2, PLANNED_OIL_G * 1.2, corrective=("pigment",)))
        self.assertEqual(told["Pigment"].reason, "Powder was added to take up oil.")
        self.assertIn("More powder went in than planned", told["Oil"].reason)
        self.assertEqual(told["Paint made"].reason, "Follows from the pigment and oil above.")

    def test_weighed_in_differently(self) -> None:
        self.assertEqual(rows(paste(PLANNED_G * 1.1))["Pigment"].reason, "More was weighed in.")
        self.assertEqual(rows(paste(PLANNED_G * 0.9))["Pigment"].reason, "Less was weighed in.")

    def test_samples_and_drawn_oil_are_named(self) -> None:
        told = rows(paste(PLANNED_G * 0.95, PLANNED_OIL_G * 0.9, sampled_g=8.25, drawn_g=3.0))
        self.assertIn("8.2 g of paste went into samples", told["Pigment"].reason)
        self.assertIn("3.0 g were drawn out again", told["Oil"].reason)

    def test_oil_inside_and_outside_the_range_of_the_plan(self) -> None:
        assert PLAN.oil_mass.high is not None
        inside = rows(paste(oil_g=PLANNED_OIL_G * 1.05))["Oil"].reason
        outside = rows(paste(oil_g=PLAN.oil_mass.high * 1.1))["Oil"].reason
        self.assertTrue(inside.startswith("The plan's range was"), inside)
        self.assertTrue(outside.startswith("Outside the plan's range of"), outside)

    def test_the_ratio_says_which_way(self) -> None:
        self.assertIn("less oil", rows(paste(oil_g=PLANNED_OIL_G * 0.9))["Ratio"].reason)
        self.assertIn("more oil", rows(paste(oil_g=PLANNED_OIL_G * 1.1))["Ratio"].reason)

    def test_verdict_and_a_new_target(self) -> None:
        self.assertIn("stiffer", rows(paste(verdict=Verdict.STIFF))["Reduced PVC"].reason)
        self.assertIn("softer", rows(paste(verdict=Verdict.SOFT))["Reduced PVC"].reason)
        loose = rows(paste(oil_g=PLANNED_OIL_G * 1.3, verdict=Verdict.RIGHT))["Reduced PVC"].reason
        self.assertIn("true oil absorption differs", loose)
        chosen = rows(paste(target_reduced_pvc=0.75))["Reduced PVC"].reason
        self.assertIn("new target of 0.75 at the slab (soft)", chosen)

    def test_what_was_lost_is_the_paint_not_filled(self) -> None:
        made = slab.know(paste(), PLAN.facts).reading
        assert made is not None
        row = rows(paste(), filled_ml=120.0, leftover_ml=2.0)["Filled and kept"]
        self.assertEqual((row.planned, row.happened), (120.0, 122.0))
        self.assertIn(f"{made.volume_ml - 122:.1f} ml of the {made.volume_ml:.1f} ml made", row.reason)
